"""Faces that a turn about an axis carries onto one another: the teeth of a wheel, the lobes of a socket."""

import math
from weakref import WeakKeyDictionary

import numpy as np

from canonis.core.solid import Face, Solid, Vec
from canonis.core.tolerances import FINE, SAME, parallel, same, same_way

__all__ = ["carried", "orbit", "turned_points"]

#: Middles and areas of the faces of a solid: n×3 mm, n mm².
_tables: WeakKeyDictionary[Solid, tuple[Vec, Vec]] = WeakKeyDictionary()


def turned_points(points: Vec, base: Vec, axis: Vec, turn: float) -> Vec:
    """Points (n×3 or 3, mm) turned by `turn` radians about the unit vector `axis` through `base`."""
    arm = points - base
    along = np.multiply.outer(arm @ axis, axis)
    out: Vec = base + along + (arm - along) * math.cos(turn) + np.cross(axis, arm) * math.sin(turn)
    return out


def carried(solid: Solid, face: Face, base: Vec, axis: Vec, turn: float) -> int | None:
    """The face onto which a turn carries a face: of its kind, size and way; None where there is none."""
    if solid not in _tables:
        _tables[solid] = (np.array([f.centre for f in solid.faces]), np.array([f.area for f in solid.faces]))
    centres, areas = _tables[solid]
    spot = turned_points(face.centre, base, axis, turn)
    near = np.nonzero((np.abs(centres - spot).max(axis=1) < SAME) & (np.abs(areas - face.area) < FINE * face.area))[0]
    way = turned_points(face.axis, np.zeros(3), axis, turn)
    for k in near:
        other = solid.faces[int(k)]
        aligned = same_way(other.axis, way, SAME) if face.kind == "plane" else parallel(other.axis, way, SAME)
        if (
            other.kind == face.kind
            and other.inner is face.inner
            and same(other.radius, face.radius)
            and same(other.minor, face.minor)
            and (aligned or face.kind in ("free", "sphere"))
        ):
            return int(k)
    return None


def orbit(solid: Solid, face: Face, base: Vec, axis: Vec, n: int) -> list[int] | None:
    """The `n` faces onto which the turns by n-ths of a whole one carry a face, itself first; None where any is missing."""
    out = [face.index]
    for k in range(1, n):
        there = carried(solid, face, base, axis, math.tau * k / n)
        if there is None or there in out:
            return None
        out.append(there)
    return out
