"""Keyways on shafts and in bores: parallel ones with straight or round ends, and segment ones."""

import math
from collections.abc import Iterator

import numpy as np

from canonis.core.features.channels import floor_walls
from canonis.core.features.graph import extent
from canonis.core.features.model import Piece, Slot
from canonis.core.features.registry import Claims, finds, form
from canonis.core.solid import Face, Solid, Vec, unit_vector
from canonis.core.tolerances import NOISE, parallel, same, square

__all__ = ["find_keyways"]

form("keyway", "K", alone=True, walled=True)


def _host(solid: Solid, faces: list[int], across: Vec) -> Face | None:
    """The round face that the walls of a keyway break into, its axis square to `across`."""
    found: dict[int, int] = {}
    for f in faces:
        for e, k in solid.neighbours[f]:
            face = solid.faces[k]
            edge = solid.edges[e]
            # A keyway's walls leave the cylinder along its own lines or cut it in curves; never tangentially.
            if face.kind == "cylinder" and edge.dihedral == "convex" and square(face.axis, across) and face.sweep > 1.5:
                found[k] = found.get(k, 0) + 1
    best = sorted(found, key=lambda k: (-found[k], -solid.faces[k].radius))
    return solid.faces[best[0]] if best else None


def _from_axis(host: Face, floor: Face) -> float:
    return abs(floor.offset - float(floor.axis @ host.origin))


def _foot(host: Face, point: Vec) -> Vec:
    return host.origin + host.axis * float((point - host.origin) @ host.axis)


def find_keyways(solid: Solid, slots: list[Slot], taken: set[int]) -> list[Piece]:
    """Every keyway; `slots` are the closed slots found, `taken` the faces of holes."""
    out: list[Piece] = []
    used = set(taken)
    for piece in _of_slots(solid, slots):
        out.append(piece)
        used |= set(piece.owns)
    out += _segments(solid, used)
    for floor in solid.faces:
        if floor.kind == "plane" and floor.index not in used:
            open_one = _along(solid, floor, used)
            if open_one is not None:
                out.append(open_one)
                used |= set(open_one.owns)
    return out


def _of_slots(solid: Solid, slots: list[Slot]) -> Iterator[Piece]:
    """Closed slots that are sunk into a shaft, square to its axis."""
    for slot in slots:
        floors = [
            solid.faces[f]
            for f in slot.faces
            if parallel(solid.faces[f].axis, slot.axis) and solid.faces[f].kind == "plane"
        ]
        walls = [
            f
            for f in slot.faces
            if f not in slot.end_faces and solid.faces[f].kind == "plane" and square(solid.faces[f].axis, slot.axis)
        ]
        host = _host(solid, list(slot.faces), slot.axis)
        if not floors or host is None or host.inner or len(walls) != 2:
            continue
        if not all(square(solid.faces[w].axis, host.axis) for w in walls):
            continue
        data = {
            "form": "parallel",
            "on": "shaft",
            "width_mm": slot.width,
            "length_mm": slot.centres + slot.width,
            "ends": "round",
            "from_axis_mm": _from_axis(host, floors[0]),
            "depth_mm": host.radius - _from_axis(host, floors[0]),
            "shaft_mm": 2 * host.radius,
        }
        place = _foot(host, (slot.ends[0] + slot.ends[1]) / 2)
        yield Piece("keyway", data, slot.axis, place, slot.faces, slot.faces)


def _along(solid: Solid, floor: Face, used: set[int]) -> Piece | None:
    """A keyway on a floor that runs along its shaft or bore, open at its ends or round; None where there is none."""
    for a, b, width in floor_walls(solid, floor):
        host = _host(solid, [a.index, b.index], floor.axis)
        if host is None or not square(a.axis, host.axis) or {a.index, b.index} & used:
            continue
        middle = float(host.origin @ a.axis) - a.offset
        if not same(middle, width / 2) or width > 1.2 * host.radius:
            continue
        from_axis = _from_axis(host, floor)
        inside = host.inner
        if inside != (from_axis > host.radius):
            continue
        run = host.axis
        ends = _round_ends(solid, floor, a, b)
        low, high = extent(solid, [floor.index, *(e.index for e in ends)], run)
        data = {
            "form": "parallel",
            "on": "bore" if inside else "shaft",
            "width_mm": width,
            "length_mm": high - low,
            "ends": "round" if ends else "straight",
            "from_axis_mm": from_axis,
            "depth_mm": abs(from_axis - host.radius),
            "shaft_mm": 2 * host.radius,
        }
        faces = (floor.index, a.index, b.index, *(e.index for e in ends), *_flat_ends(solid, floor, a, b))
        place = _foot(host, floor.axis * floor.offset + run * (low + high) / 2)
        return Piece("keyway", data, floor.axis, place, faces, faces)
    return None


def _round_ends(solid: Solid, floor: Face, a: Face, b: Face) -> list[Face]:
    out = []
    for e, k in solid.neighbours[floor.index]:
        face = solid.faces[k]
        if (
            face.kind == "cylinder"
            and face.inner
            and solid.edges[e].dihedral == "concave"
            and parallel(face.axis, floor.axis)
        ):
            out.append(face)
    return out


def _flat_ends(solid: Solid, floor: Face, a: Face, b: Face) -> list[int]:
    """Flat walls that close a keyway at an end."""
    run = unit_vector(np.cross(floor.axis, a.axis))
    return [
        k
        for e, k in solid.neighbours[floor.index]
        if solid.edges[e].dihedral == "concave"
        and solid.faces[k].kind == "plane"
        and parallel(solid.faces[k].axis, run)
    ]


def _segments(solid: Solid, used: set[int]) -> list[Piece]:
    """Segment keyways: an inner round floor whose axis crosses over the shaft, between two facing walls."""
    out: list[Piece] = []
    for floor in solid.faces:
        if floor.kind != "cylinder" or not floor.inner or floor.sweep > math.pi + 0.02 or floor.index in used:
            continue
        walls = [
            solid.faces[k]
            for e, k in solid.neighbours[floor.index]
            if solid.edges[e].dihedral == "concave"
            and solid.faces[k].kind == "plane"
            and parallel(solid.faces[k].axis, floor.axis)
        ]
        if len(walls) != 2 or float(walls[0].axis @ walls[1].axis) > 0:
            continue
        width = abs(walls[0].offset + walls[1].offset)
        host = _host(solid, [floor.index, *(w.index for w in walls)], floor.axis)
        if host is None or host.inner:
            continue
        rel = floor.origin - host.origin
        rel = rel - host.axis * float(rel @ host.axis) - floor.axis * float(rel @ floor.axis)
        lift = float(np.linalg.norm(rel))
        if lift < NOISE:
            continue
        low, high = extent(solid, [w.index for w in walls], host.axis)
        faces = (floor.index, *(w.index for w in walls))
        data = {
            "form": "segment",
            "on": "shaft",
            "width_mm": width,
            "length_mm": high - low,
            "radius_mm": floor.radius,
            "from_axis_mm": lift - floor.radius,
            "depth_mm": host.radius - lift + floor.radius,
            "shaft_mm": 2 * host.radius,
        }
        out.append(Piece("keyway", data, rel / lift, _foot(host, floor.origin), faces, faces))
        used |= set(faces)
    return out


@finds(30)
def _keyways(c: Claims) -> list[Piece]:
    return find_keyways(c.solid, list(c.found.slots), c.holes | c.taken)
