"""Straight slots with round ends."""

import math

import numpy as np

from canonis.core.features.model import Slot
from canonis.core.solid import Face, Solid, Vec
from canonis.core.tolerances import SAME, parallel, same, same_way

__all__ = ["find_slots"]


def _half(face: Face) -> bool:
    return face.kind == "cylinder" and face.inner and abs(face.sweep - math.pi) < 0.02


def _floor(solid: Solid, end: Face) -> Face | None:
    """The flat floor that an end of a slot stands on, directly or over a fillet."""
    for e, other in solid.neighbours[end.index]:
        face = solid.faces[other]
        if solid.edges[e].dihedral == "concave" and face.kind == "plane":
            return face
        if solid.edges[e].dihedral == "smooth" and face.kind in ("torus", "sphere") and face.inner:
            for _, k in solid.neighbours[other]:
                if solid.faces[k].kind == "plane" and parallel(solid.faces[k].axis, end.axis):
                    return solid.faces[k]
    return None


def _mouth(solid: Solid, end: Face, out: Vec, level: float) -> float:
    """The level along `out` of the flat face that an end of a slot opens to, over the round or bevel of its rim; `level` where
    there is none."""
    for _, other in solid.neighbours[end.index]:
        rim = solid.faces[other]
        if rim.kind in ("torus", "cone") and parallel(rim.axis, out):
            for _, k in solid.neighbours[other]:
                face = solid.faces[k]
                if face.kind == "plane" and same_way(face.axis, out) and face.offset > level - SAME:
                    return face.offset
    return level


def find_slots(solid: Solid, taken: set[int]) -> list[Slot]:
    """Pairs of half-turn inner cylinders joined by two parallel walls."""
    halves = [f for f in solid.faces if _half(f) and f.index not in taken]
    used: set[int] = set()
    out: list[Slot] = []
    for i, a in enumerate(halves):
        if a.index in used:
            continue
        walls_a = {o for e, o in solid.neighbours[a.index] if solid.edges[e].dihedral == "smooth"}
        for b in halves[i + 1 :]:
            walls_b = {o for e, o in solid.neighbours[b.index] if solid.edges[e].dihedral == "smooth"}
            walls = walls_a & walls_b
            if b.index in used or len(walls) != 2 or not same(a.radius, b.radius):
                continue
            if any(solid.faces[w].kind != "plane" for w in walls):
                continue  # a slot along an arc
            gap = b.origin - a.origin
            gap = gap - a.axis * float(gap @ a.axis)
            floor = _floor(solid, a)
            lo = float(a.origin @ a.axis) + a.span[0]
            hi = float(a.origin @ a.axis) + a.span[1]
            axis, level = a.axis, hi
            if floor is not None:
                at = floor.offset * float(floor.axis @ a.axis)
                if abs(at - hi) < abs(at - lo):
                    axis, level, hi = -a.axis, lo, at
                else:
                    lo = at
            if axis is a.axis:
                level = hi = _mouth(solid, a, axis, hi)
            else:
                level = lo = -_mouth(solid, a, axis, -lo)
            ends = tuple(f.origin + a.axis * (level - float(f.origin @ a.axis)) for f in (a, b))
            faces = (a.index, b.index, *sorted(walls)) + ((floor.index,) if floor is not None else ())
            out.append(
                Slot(
                    id=f"S{len(out) + 1}",
                    width=2 * a.radius,
                    centres=float(np.linalg.norm(gap)),
                    through=floor is None,
                    depth=None if floor is None else hi - lo,
                    axis=axis,
                    ends=(ends[0], ends[1]),
                    faces=faces,
                    end_faces=(a.index, b.index),
                )
            )
            used |= {a.index, b.index}
            break
    return out
