"""Ribs and webs, and walls of one thickness."""

import math
from dataclasses import dataclass

import numpy as np

from canonis.core.features.graph import covers, extent
from canonis.core.features.model import Piece
from canonis.core.features.registry import Claims, finds, form
from canonis.core.features.stacks import axis_groups, size_key, upward
from canonis.core.solid import Face, Solid, Vec
from canonis.core.tolerances import SAME, opposed, parallel, same_way

__all__ = ["find_ribs", "find_walls", "wall_pairs"]

form("rib", "R", walled=True, plain=True)
form("wall", "W", alone=True, plain=True)


@dataclass(frozen=True, eq=False)
class WallPair:
    """Two parallel planes that look away from each other with material between them."""

    a: Face
    b: Face
    thickness: float


def _line_key(axis: Vec) -> tuple[int, ...]:
    return tuple(int(x) for x in np.floor(upward(axis) * 1e5 + 0.3217))


def wall_pairs(solid: Solid, limit: float) -> list[WallPair]:
    """Back-to-back flat faces thinner than `limit` (mm), each with its nearest partner, thinnest first."""
    families: dict[tuple[int, ...], list[Face]] = {}
    for f in solid.faces:
        if f.kind == "plane":
            families.setdefault(_line_key(f.axis), []).append(f)
    out: list[WallPair] = []
    for faces in families.values():
        axis = faces[0].axis
        up = sorted((f for f in faces if float(f.axis @ axis) > 0), key=lambda f: f.offset)
        down = sorted((f for f in faces if float(f.axis @ axis) < 0), key=lambda f: -f.offset)
        levels = np.array([-f.offset for f in down])
        for a in up:
            first = int(np.searchsorted(levels, a.offset - limit))
            last = int(np.searchsorted(levels, a.offset - 1e-6))
            # The nearest partner first; a face far down the list seldom covers this one.
            for b in [down[j] for j in range(last - 1, first - 1, -1)][:24]:
                if covers(solid, a, b):
                    out.append(WallPair(a, b, a.offset + b.offset))
                    break
    return sorted(out, key=lambda p: (p.thickness, p.a.index))


def _feet(solid: Solid, face: Face) -> tuple[list[Vec], float]:
    """Outward normals of the flat faces that `face` stands on, and the length of the concave edges there, mm."""
    out: list[Vec] = []
    length = 0.0
    for e, k in solid.neighbours[face.index]:
        other, edge = solid.faces[k], solid.edges[e]
        if edge.kind != "line":
            continue
        if edge.dihedral == "concave" and other.kind == "plane":
            out.append(other.axis)
            length += edge.length
        elif edge.dihedral == "smooth" and other.kind == "cylinder" and other.inner and other.sweep < math.pi:
            out += [
                solid.faces[j].axis
                for e2, j in solid.neighbours[k]
                if j != face.index and solid.edges[e2].dihedral == "smooth" and solid.faces[j].kind == "plane"
            ]
            length += edge.length
    return out, length


def find_ribs(solid: Solid, taken: set[int]) -> list[Piece]:
    """Thin material that stands on other faces with both its sides: ribs, and webs between two walls."""
    out: list[Piece] = []
    used = set(taken)
    for pair in wall_pairs(solid, 0.25 * solid.diagonal):
        a, b = pair.a, pair.b
        if {a.index, b.index} & used:
            continue
        (feet_a, foot_a), (feet_b, foot_b) = _feet(solid, a), _feet(solid, b)
        if not feet_a or not feet_b:
            continue
        shared = [n for n in feet_a if any(same_way(n, m) for m in feet_b)]
        if not shared or min(foot_a, foot_b) < 1.5 * pair.thickness:
            continue
        spans = []
        for n in shared:
            low, high = extent(solid, [a.index], n)
            spans.append(high - low)
        if pair.thickness > 0.6 * max(spans):
            continue
        tops = [
            k
            for e, k in solid.neighbours[a.index]
            if solid.edges[e].dihedral == "convex"
            and solid.faces[k].kind == "plane"
            and k not in used
            and any(j == b.index for _, j in solid.neighbours[k])
        ]
        # A rib ties its base to a wall or stands free on it; a web joins two walls that face each other.
        web = any(opposed(n, m) for n in shared for m in shared)
        data = {"thickness_mm": pair.thickness, "height_mm": spans[0], "web": web}
        place = a.axis * (a.offset - pair.thickness / 2) + a.centre - a.axis * float(a.centre @ a.axis)
        faces = tuple(dict.fromkeys((a.index, b.index, *tops)))
        out.append(Piece("rib", data, shared[0], place, faces, faces, "certain" if tops or web else "likely"))
        used |= set(faces)
    return out


def find_walls(solid: Solid) -> list[Piece]:
    """Walls of one thickness: two or more pairs of planes, or a tube's inner and outer cylinder. They own no faces."""
    out: list[Piece] = []
    groups: dict[int, list[WallPair]] = {}
    shortest = float(min(solid.size))
    for pair in wall_pairs(solid, min(0.15 * solid.diagonal, 0.5 * shortest + SAME)):
        groups.setdefault(size_key(pair.thickness), []).append(pair)
    for pairs in groups.values():
        directions: list[Vec] = []
        for p in pairs:
            if not any(parallel(p.a.axis, d) for d in directions):
                directions.append(p.a.axis)
        # A wall is thin beside its own extent; a stub as thick as it is wide is none.
        broad = [p for p in pairs if min(p.a.area, p.b.area) > 9 * p.thickness**2]
        if len(broad) < 2 or len(directions) < 2:
            continue
        faces = tuple(sorted({f for p in pairs for f in (p.a.index, p.b.index)}))
        first = pairs[0]
        out.append(
            Piece(
                "wall",
                {
                    "thickness_mm": first.thickness,
                    "walls": len(pairs),
                    "shell": len(directions) >= 3 and len(pairs) >= 4,
                },
                first.a.axis,
                first.a.origin,
                faces,
                (),
                "likely",
            )
        )
    return out + _tubes(solid)


def _tubes(solid: Solid) -> list[Piece]:
    out: list[Piece] = []
    for base, axis, faces in axis_groups([f for f in solid.faces if f.kind == "cylinder" and f.sweep > 1.9 * math.pi]):
        outer = [f for f in faces if not f.inner]
        for f in [f for f in faces if f.inner]:
            low, high = extent(solid, [f.index], axis)
            for o in outer:
                a, b = extent(solid, [o.index], axis)
                lap, t = min(high, b) - max(low, a), o.radius - f.radius
                if SAME < t < 0.35 * o.radius and lap > 3 * t and lap > 0.5 * (high - low):
                    out.append(
                        Piece(
                            "wall",
                            {"thickness_mm": t, "walls": 1, "shell": False, "round": True},
                            axis,
                            base + axis * max(low, a),
                            (f.index, o.index),
                            (),
                            "likely",
                        )
                    )
                    break
    return out


@finds(100)
def _ribs(c: Claims) -> list[Piece]:
    return c.ribs


@finds(150)
def _walls(c: Claims) -> list[Piece]:
    return find_walls(c.solid)
