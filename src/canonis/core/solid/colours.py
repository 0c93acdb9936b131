"""Colours of single faces in a STEP file, read from its text: shops paint cast skin and machined faces apart."""

import re
from typing import Any

import numpy as np

from canonis.core.solid.model import Solid, Vec

__all__ = ["Painted", "face_colours", "painted_faces"]

#: A colour (r, g, b in 0…255) and the corners of the face that has it, in the file's unit.
Painted = tuple[tuple[int, int, int], Vec]

_ENTITY = re.compile(r"#(\d+)\s*=\s*([A-Z_0-9]+)\s*\((.*?)\)\s*;", re.S)
_NAMED = {
    "red": (255, 0, 0),
    "green": (0, 255, 0),
    "blue": (0, 0, 255),
    "yellow": (255, 255, 0),
    "magenta": (255, 0, 255),
    "cyan": (0, 255, 255),
    "black": (0, 0, 0),
    "white": (255, 255, 255),
}
_STYLES = ("STYLED_ITEM", "OVER_RIDING_STYLED_ITEM")


def _colour(args: str, name: str) -> tuple[int, int, int] | None:
    if name == "COLOUR_RGB":
        parts = [
            float(x) for x in re.findall(r"(?<![\w'])[-+]?\d*\.?\d+(?:[eE][-+]?\d+)?", re.sub(r"'[^']*'", "", args))
        ]
        return tuple(round(255 * min(1.0, max(0.0, c))) for c in parts[:3]) if len(parts) >= 3 else None  # type: ignore[return-value]
    words = re.search(r"'([^']*)'", args)
    return _NAMED.get(words.group(1).lower()) if words else None


def painted_faces(text: str) -> list[Painted]:
    """Faces with a colour of their own; empty for a file of one colour or of more than one placed part."""
    if "STYLED_ITEM" not in text or text.count("COLOUR_RGB(") + text.count("PRE_DEFINED_COLOUR(") < 2:
        return []
    table = {int(k): (name, args) for k, name, args in _ENTITY.findall(text)}

    def reach(start: int, wanted: tuple[str, ...], avoid: tuple[str, ...] = ()) -> list[int]:
        """Entities of some kinds that one refers to, directly or through others."""
        out, stack, seen = [], [start], {start}
        while stack:
            for ref in map(int, re.findall(r"#(\d+)", table[stack.pop()][1])):
                if ref in seen or ref not in table or table[ref][0] in avoid:
                    continue
                seen.add(ref)
                if table[ref][0] in wanted:
                    out.append(ref)
                elif len(seen) < 5000:
                    stack.append(ref)
        return out

    out: list[Painted] = []
    for name, args in table.values():
        if name not in _STYLES:
            continue
        refs = [int(r) for r in re.findall(r"#(\d+)", args)]
        faces = [r for r in refs if table.get(r, ("", ""))[0] == "ADVANCED_FACE"]
        styles = [r for r in refs if table.get(r, ("", ""))[0].startswith("PRESENTATION_STYLE")]
        if not faces or not styles:
            continue
        colours = [c for s in styles for c in reach(s, ("COLOUR_RGB", "DRAUGHTING_PRE_DEFINED_COLOUR"))]
        rgb = next((c for c in (_colour(table[k][1], table[k][0]) for k in colours) if c), None)
        points = [p for v in reach(faces[0], ("VERTEX_POINT",)) for p in reach(v, ("CARTESIAN_POINT",))]
        corners = [
            [float(c) for c in re.findall(r"[-+]?\d*\.?\d+(?:[eE][-+]?\d+)?", table[p][1].rsplit("(", 1)[-1])[:3]]
            for p in points
        ]
        if rgb and corners and all(len(c) == 3 for c in corners):
            out.append((rgb, np.array(corners)))
    return out


def face_colours(solid: Solid, painted: list[Painted], scale: float) -> list[dict[str, Any]]:
    """Faces of a solid by colour, those without one last (`rgb` None), the largest area first. `scale`: mm per unit."""
    if not painted:
        return []
    corners = [
        {tuple(np.round(p, 3) + 0.0) for e in f.edges for p in (solid.edges[e].start, solid.edges[e].end)}
        for f in solid.faces
    ]
    given: dict[int, tuple[int, int, int]] = {}
    for rgb, points in painted:
        mine = {tuple(np.round(p * scale, 3) + 0.0) for p in points}
        best = max(range(len(corners)), key=lambda k: len(corners[k] & mine))
        if len(corners[best] & mine) == len(mine):
            given[best] = rgb
    groups: dict[tuple[int, int, int] | None, list[int]] = {}
    for f in solid.faces:
        groups.setdefault(given.get(f.index), []).append(f.index)
    if len(groups) < 2:
        return []
    area = {c: sum(solid.faces[f].area for f in faces) for c, faces in groups.items()}
    order = sorted(groups, key=lambda c: -area[c])
    return [{"rgb": None if c is None else list(c), "faces": groups[c], "area_mm2": area[c]} for c in order]
