"""Slots that are open at a side: channels with a floor between two facing walls, and notches with a round end."""

import math

import numpy as np

from canonis.core.features.graph import covers, extent, facing
from canonis.core.features.model import Piece
from canonis.core.features.registry import Claims, finds, form
from canonis.core.solid import Face, Solid, unit_vector
from canonis.core.tolerances import NOISE, opposed, parallel, same, square

__all__ = ["find_channels", "floor_walls"]

form("slot", "SX", walled=True, opens=True, plain=True)


def floor_walls(solid: Solid, floor: Face) -> list[tuple[Face, Face, float]]:
    """Pairs of facing flat walls that rise from a flat floor, directly or over a fillet, with their distance, mm."""
    walls: list[Face] = []
    for e, other in solid.neighbours[floor.index]:
        face, edge = solid.faces[other], solid.edges[e]
        if face.kind == "plane" and edge.dihedral == "concave" and edge.kind == "line":
            walls.append(face)
        elif face.kind == "cylinder" and face.inner and edge.dihedral == "smooth" and face.sweep < math.pi:
            walls += [
                w
                for e2, k in solid.neighbours[other]
                if k != floor.index and solid.edges[e2].dihedral == "smooth"
                for w in (solid.faces[k],)
                if w.kind == "plane"
            ]
    walls = [w for k, w in enumerate(walls) if w not in walls[:k] and square(w.axis, floor.axis)]
    out = []
    for k, a in enumerate(walls):
        for b in walls[k + 1 :]:
            gap = facing(a, b)
            if gap is not None:
                out.append((a, b, gap))
    return out


def _material_behind(solid: Solid, wall: Face) -> float:
    """Distance from a wall through the material to the nearest parallel face that looks the other way, mm."""
    gaps = [
        wall.offset + f.offset
        for f in solid.faces
        if f.kind == "plane"
        and opposed(f.axis, wall.axis)
        and wall.offset + f.offset > NOISE
        and covers(solid, wall, f, 0.3)
    ]
    return min(gaps, default=math.inf)


def find_channels(solid: Solid, taken: set[int], blends: set[int]) -> list[Piece]:
    """Open slots; `taken` are the faces of holes, closed slots, pockets and keyways. No floor is a chamfer."""
    out: list[Piece] = []
    used = set(taken)
    for floor in solid.faces:
        if floor.kind != "plane" or floor.index in used or floor.index in blends:
            continue
        pairs = [p for p in floor_walls(solid, floor) if not {p[0].index, p[1].index} & used]
        if len(pairs) != 1:
            continue
        a, b, width = pairs[0]
        run = unit_vector(np.cross(floor.axis, a.axis))
        tops = [extent(solid, [w.index], floor.axis)[1] for w in (a, b)]
        low, high = extent(solid, [floor.index], run)
        depth = min(tops) - floor.offset
        # Between thin walls, or walls far apart, lies the inside of a bracket, not a slot.
        thin = min(_material_behind(solid, w) for w in (a, b))
        if thin < 0.35 * width or width > 0.6 * solid.diagonal:
            continue
        top = floor.offset + depth
        middle = a.offset + width / 2
        place = a.axis * middle + run * (low + high) / 2 + floor.axis * top
        data = {"width_mm": width, "depth_mm": depth, "length_mm": high - low, "through": False, "open": True}
        sure = "certain" if same(tops[0], tops[1]) else "likely"
        faces = (a.index, b.index, floor.index)
        out.append(Piece("slot", data, floor.axis, place, faces, faces, sure))
        used |= {a.index, b.index, floor.index}
    return out + _notches(solid, used)


def _notches(solid: Solid, used: set[int]) -> list[Piece]:
    """Notches with a half-round end: one half turn tangent to two facing walls, no second end."""
    out: list[Piece] = []
    for end in solid.faces:
        if end.kind != "cylinder" or not end.inner or abs(end.sweep - math.pi) > 0.02 or end.index in used:
            continue
        walls = [
            solid.faces[k]
            for e, k in solid.neighbours[end.index]
            if solid.edges[e].dihedral == "smooth" and solid.faces[k].kind == "plane" and k not in used
        ]
        if len(walls) != 2 or facing(walls[0], walls[1]) is None:
            continue
        a, b = walls
        run = unit_vector(np.cross(end.axis, a.axis))
        centre = end.origin - end.axis * float(end.origin @ end.axis)
        low, high = extent(solid, [a.index, b.index, end.index], run)
        at = float(centre @ run)
        out_way = run if high - at > at - low else -run
        reach = max(high - at, at - low)
        floors = [
            solid.faces[k]
            for e, k in solid.neighbours[end.index]
            if solid.edges[e].dihedral == "concave"
            and solid.faces[k].kind == "plane"
            and parallel(solid.faces[k].axis, end.axis)
        ]
        lo, hi = extent(solid, [a.index, b.index], end.axis)
        axis = floors[0].axis if floors else end.axis
        level = hi if float(axis @ end.axis) > 0 else lo
        data = {
            "width_mm": 2 * end.radius,
            "length_mm": reach + end.radius,
            "centre_from_edge_mm": reach,
            "through": not floors,
            "depth_mm": hi - lo if floors else None,
            "open": True,
        }
        faces = (end.index, a.index, b.index, *(f.index for f in floors))
        # The way out of the notch is its direction along the part; its axis the way a cutter comes.
        out.append(Piece("slot", data | {"toward": out_way}, axis, centre + end.axis * level, faces, faces))
        used |= set(faces)
    return out


@finds(90)
def _channels(c: Claims) -> list[Piece]:
    return find_channels(c.solid, c.holes | c.slots | c.taken, c.blends)
