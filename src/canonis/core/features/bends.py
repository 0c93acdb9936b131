"""Bends of sheet parts: an inner and an outer partial cylinder about one axis, flat sheet on both sides."""

import math

from canonis.core.features.model import Piece
from canonis.core.features.registry import Claims, finds, form
from canonis.core.features.stacks import axis_groups
from canonis.core.solid import Face, Solid
from canonis.core.tolerances import SAME, opposed, same

__all__ = ["find_bends"]

form("bend", "E", patterned=False)


def _sheets(solid: Solid, face: Face) -> list[Face]:
    return [
        solid.faces[k]
        for e, k in solid.neighbours[face.index]
        if solid.edges[e].dihedral == "smooth" and solid.faces[k].kind == "plane"
    ]


def find_bends(solid: Solid, taken: set[int]) -> list[Piece]:
    """Every bend with its inner radius, angle and the sheet's thickness."""
    out: list[Piece] = []
    partial = [
        f
        for f in solid.faces
        if f.kind == "cylinder"
        and f.sweep < 1.5 * math.pi
        and f.index not in taken
        and len(_sheets(solid, f)) >= 2
        # The corner of a tray has the floor at its end; a bend ends in the open.
        and not any(solid.edges[e].dihedral == "concave" for e, _ in solid.neighbours[f.index])
    ]
    for base, axis, faces in axis_groups(partial):
        outers = [f for f in faces if not f.inner]
        for inner in (f for f in faces if f.inner):
            for outer in outers:
                t = outer.radius - inner.radius
                if t < SAME or not same(outer.sweep, inner.sweep) or t > 0.2 * solid.diagonal:
                    continue
                # The two sheets that leave the bend are as thick as the bend: each inner plane has an outer one behind it.
                flat = [
                    (a, b)
                    for a in _sheets(solid, inner)
                    for b in _sheets(solid, outer)
                    if opposed(a.axis, b.axis) and abs(a.offset + b.offset - t) < 10 * SAME
                ]
                if len(flat) < 2:
                    continue
                data = {"inner_radius_mm": inner.radius, "angle_deg": math.degrees(inner.sweep), "thickness_mm": t}
                faces_of = (inner.index, outer.index)
                place = base + axis * float(inner.centre @ axis)
                out.append(Piece("bend", data, axis, place, faces_of, faces_of))
                outers = [o for o in outers if o is not outer]
                break
    return out


@finds(60)
def _bends(c: Claims) -> list[Piece]:
    return find_bends(c.solid, c.taken | c.holes | c.slots)
