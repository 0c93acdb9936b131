"""Drafts: flat and conical faces that lean by one small angle to a pull direction."""

import math

import numpy as np

from canonis.core.features.model import Piece
from canonis.core.features.registry import Claims, finds, form
from canonis.core.solid import Face, Solid, Vec
from canonis.core.tolerances import parallel, same_way

__all__ = ["find_drafts", "pull_directions"]

form("draft", "D", alone=True)

#: Leaning more than this is a slope or a taper, not a draft, degrees.
_MOST = 15.0
_LEAST = 0.15


def pull_directions(solid: Solid) -> list[Vec]:
    """Normals of the largest families of parallel planes, the largest first."""
    families: list[tuple[Vec, float]] = []
    for f in sorted((f for f in solid.faces if f.kind == "plane"), key=lambda f: -f.area):
        for k, (n, area) in enumerate(families):
            if parallel(n, f.axis):
                families[k] = (n, area + f.area)
                break
        else:
            families.append((f.axis, f.area))
    return [n for n, _ in sorted(families, key=lambda p: -p[1])[:6]]


def _lean(face: Face, pull: Vec) -> float | None:
    """Signed angle by which a face leans to the pull: positive where it can be seen from along the pull, degrees."""
    if face.kind == "plane":
        return math.degrees(math.asin(float(np.clip(face.axis @ pull, -1, 1))))
    if face.kind == "cone" and parallel(face.axis, pull):
        # The axis points to the open side; an outer cone then looks back, an inner one with it.
        sign = float(np.sign(face.axis @ pull)) * (1 if face.inner else -1)
        return sign * math.degrees(face.half_angle)
    return None


def find_drafts(solid: Solid, taken: set[int]) -> list[Piece]:
    """Sets of three or more drafted faces of one angle (or one full cone beside them). They own no faces."""
    out: list[Piece] = []
    used = set(taken)
    for pull in pull_directions(solid):
        groups: dict[int, list[tuple[Face, float]]] = {}
        for f in solid.faces:
            if f.index in used:
                continue
            lean = _lean(f, pull)
            if lean is not None and _LEAST < abs(lean) < _MOST:
                groups.setdefault(round(abs(lean) * 200), []).append((f, lean))
        for members in groups.values():
            planes = [f for f, _ in members if f.kind == "plane"]
            turns = sum(f.sweep for f, _ in members if f.kind == "cone")
            ways = [w for k, w in enumerate(f.axis for f in planes) if not any(same_way(w, p.axis) for p in planes[:k])]
            if len(ways) < 3 and not (len(ways) >= 2 and turns) and turns < 1.9 * math.pi:
                continue
            if turns >= 1.9 * math.pi and len(ways) < 2 and sum(1 for f, _ in members) < 2:
                continue
            first, lean = members[0]
            sides = {np.sign(s) for _, s in members}
            data = {"angle_deg": abs(lean), "both_ways": len(sides) > 1}
            faces = tuple(f.index for f, _ in members)
            out.append(Piece("draft", data, pull if lean > 0 else -pull, first.centre, faces, (), "likely"))
            used |= set(faces)
    return out


@finds(140)
def _drafts(c: Claims) -> list[Piece]:
    # The flanks of teeth lean on each other, not on a way out of a mould.
    flanks = {f for f in c.toothed if c.solid.faces[f].kind == "plane"}
    return find_drafts(c.solid, c.holes | c.blends | flanks)
