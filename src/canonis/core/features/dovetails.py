"""Dovetails: two flat walls that lean toward each other over a wider floor (a slot), or under a wider top (a tongue)."""

import math
from collections.abc import Iterator

import numpy as np

from canonis.core.features.graph import extent
from canonis.core.features.model import Piece
from canonis.core.features.registry import Claims, finds, form
from canonis.core.solid import Face, Solid, Vec, unit_vector
from canonis.core.tolerances import SAME, parallel, same

__all__ = ["find_dovetails"]

form("dovetail", "DT", walled=True, opens=True)

#: Walls lean between these to the wide face, degrees: steeper ones are drafted, flatter ones slopes.
_LEAST, _MOST = 30.0, 80.0


def find_dovetails(solid: Solid, taken: set[int]) -> Iterator[Piece]:
    """Every slot and tongue with two walls at one acute angle to a flat face between them, open at both ends or one."""
    used = set(taken)
    for wide in solid.faces:
        if wide.kind != "plane" or wide.index in used:
            continue
        for standing in (False, True):
            # The walls of a slot rise from its floor over concave edges, those of a tongue fall from its top over sharp ones.
            walls = [
                solid.faces[k]
                for e, k in solid.neighbours[wide.index]
                if solid.faces[k].kind == "plane"
                and k not in used
                and solid.edges[e].kind == "line"
                and solid.edges[e].dihedral == ("convex" if standing else "concave")
                and _LEAST <= _lean(wide, solid.faces[k]) <= _MOST
            ]
            walls = list({w.index: w for w in walls}.values())
            pair = _pair(walls, wide)
            narrow = None if pair is None else _narrow(solid, wide, pair, standing)
            if pair is None or narrow is None:
                continue
            piece = _piece(solid, wide, pair, narrow, standing)
            if piece is not None:
                used |= set(piece.faces)
                yield piece
                break


def _lean(wide: Face, wall: Face) -> float:
    """The angle between a wall and the wide face, degrees: acute where the wall leans back over it."""
    return math.degrees(math.acos(float(np.clip(-wide.axis @ wall.axis, -1, 1))))


def _pair(walls: list[Face], wide: Face) -> tuple[Face, Face] | None:
    """Two walls that lean by one angle to opposite sides of a wide face."""
    for k, a in enumerate(walls):
        for b in walls[k + 1 :]:
            flat = [w.axis - wide.axis * float(w.axis @ wide.axis) for w in (a, b)]
            if (
                same(_lean(wide, a), _lean(wide, b))
                and parallel(unit_vector(flat[0]), unit_vector(flat[1]))
                and float(flat[0] @ flat[1]) < 0
            ):
                return a, b
    return None


def _narrow(solid: Solid, wide: Face, pair: tuple[Face, Face], standing: bool) -> Face | None:
    """The face at the narrow end: the mouth of a slot, the root of a tongue."""
    for e, k in solid.neighbours[pair[0].index]:
        face, sharp = solid.faces[k], "concave" if standing else "convex"
        if (
            face.kind == "plane"
            and k != wide.index
            and solid.edges[e].dihedral == sharp
            and parallel(face.axis, wide.axis)
        ):
            return face
    return None


def _piece(solid: Solid, wide: Face, pair: tuple[Face, Face], narrow: Face, standing: bool) -> Piece | None:
    a, b = pair
    across = unit_vector(a.axis - wide.axis * float(a.axis @ wide.axis))
    run = unit_vector(np.cross(wide.axis, across))
    spots = [_at_level(w, narrow, across, run) for w in pair]
    deep = abs(float((narrow.origin - wide.origin) @ wide.axis))
    low, high = extent(solid, [wide.index], run)
    width = abs(spots[1] - spots[0])
    if deep < SAME or width < SAME:
        return None
    data = {
        "width_mm": width,
        "angle_deg": _lean(wide, a),
        "height_mm" if standing else "depth_mm": deep,
        "length_mm": high - low,
        "convex": standing,
    }
    place = across * (sum(spots) / 2) + run * (low + high) / 2 + wide.axis * float(narrow.origin @ wide.axis)
    faces = (wide.index, a.index, b.index, narrow.index)
    return Piece("dovetail", data, wide.axis, place, faces, faces[:3])


def _at_level(wall: Face, level: Face, across: Vec, run: Vec) -> float:
    """Where the plane of a wall meets that of a face square to `across` and `run`, along `across`, mm."""
    up = level.axis
    height = float(level.origin @ up)
    return (wall.offset - height * float(wall.axis @ up)) / float(wall.axis @ across)


@finds(80)
def _dovetails(c: Claims) -> Iterator[Piece]:
    return find_dovetails(c.solid, c.holes | c.slots | c.taken | c.blends)
