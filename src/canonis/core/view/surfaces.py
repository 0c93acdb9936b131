"""Outward normals of a solid's faces at given points, many at once, by the faces' canonical surfaces."""

from dataclasses import dataclass
from weakref import WeakKeyDictionary

import numpy as np
from numpy.typing import NDArray

from canonis.core.solid import Solid, Vec

__all__ = ["CONE", "CYLINDER", "PLANE", "SPHERE", "Surfaces", "surfaces_of"]

PLANE, CYLINDER, CONE, SPHERE, TORUS, FREE = range(6)
_CODE = {"plane": PLANE, "cylinder": CYLINDER, "cone": CONE, "sphere": SPHERE, "torus": TORUS, "free": FREE}


def _unit(v: Vec) -> Vec:
    length = np.linalg.norm(v, axis=-1, keepdims=True)
    return np.asarray(v / np.maximum(length, 1e-30))


@dataclass(frozen=True, eq=False)
class Surfaces:
    """The surfaces of all faces as arrays: kind, origin, axis, radii (mm), half angle (radians), side (−1 a bore)."""

    kind: NDArray[np.int64]
    origin: Vec
    axis: Vec
    radius: Vec
    minor: Vec
    half_angle: Vec
    side: Vec

    def is_free(self, faces: NDArray[np.int64]) -> NDArray[np.bool_]:
        """Which of the faces have no canonical surface."""
        return np.asarray(self.kind[faces] == FREE)

    def normals(self, faces: NDArray[np.int64], points: Vec) -> Vec:
        """Outward unit normals (n×3) of the canonical faces at points on them; zero for free-form faces."""
        out = np.zeros(points.shape)
        kind = self.kind[faces]
        axis, side = self.axis[faces], self.side[faces][:, None]
        rel = points - self.origin[faces]
        along = (rel * axis).sum(-1, keepdims=True)
        spoke = _unit(rel - along * axis)
        m = kind == PLANE
        out[m] = axis[m]
        m = kind == CYLINDER
        out[m] = (spoke * side)[m]
        m = kind == CONE
        if m.any():
            half = self.half_angle[faces][:, None]
            out[m] = ((np.cos(half) * spoke - np.sin(half) * axis * np.sign(along + 1e-300)) * side)[m]
        m = kind == SPHERE
        out[m] = (_unit(rel) * side)[m]
        m = kind == TORUS
        if m.any():
            out[m] = (_unit(rel - self._ring(faces, rel, spoke)) * side)[m]
        return out

    def _ring(self, faces: NDArray[np.int64], rel: Vec, spoke: Vec) -> Vec:
        """The middle of the tube at points of toruses; where the tube is thicker than the ring it may lie across the axis."""
        near = spoke * self.radius[faces][:, None]
        minor = self.minor[faces]
        off = [np.abs(np.linalg.norm(rel - c, axis=1) - minor) for c in (near, -near)]
        return np.where((off[0] <= off[1])[:, None], near, -near)

    def put_on(self, faces: NDArray[np.int64], points: Vec) -> Vec:
        """The points moved onto the canonical faces they stand near; free-form ones stay."""
        out = np.array(points, dtype=float)
        kind = self.kind[faces]
        origin, axis = self.origin[faces], self.axis[faces]
        radius, minor = self.radius[faces][:, None], self.minor[faces][:, None]
        rel = points - origin
        along = (rel * axis).sum(-1, keepdims=True)
        spoke = _unit(rel - along * axis)
        m = kind == PLANE
        out[m] = (points - along * axis)[m]
        m = kind == CYLINDER
        out[m] = (origin + along * axis + spoke * radius)[m]
        m = kind == CONE
        if m.any():
            half = self.half_angle[faces][:, None]
            # To the ruling in the plane of the point and the axis, straight across it.
            rule = np.cos(half) * axis + np.sin(half) * spoke
            out[m] = (origin + rule * (rel * rule).sum(-1, keepdims=True))[m]
        m = kind == SPHERE
        out[m] = (origin + _unit(rel) * radius)[m]
        m = kind == TORUS
        if m.any():
            tube = origin + self._ring(faces, rel, spoke)
            out[m] = (tube + _unit(points - tube) * minor)[m]
        return out


_known: WeakKeyDictionary[Solid, Surfaces] = WeakKeyDictionary()


def surfaces_of(solid: Solid) -> Surfaces:
    """The surfaces of a solid's faces, put together once."""
    if solid not in _known:
        f = solid.faces
        _known[solid] = Surfaces(
            np.array([_CODE[x.kind] for x in f]),
            np.array([x.origin for x in f]),
            np.array([x.axis for x in f]),
            np.array([x.radius for x in f]),
            np.array([x.minor for x in f]),
            np.array([x.half_angle for x in f]),
            np.array([-1.0 if x.inner else 1.0 for x in f]),
        )
    return _known[solid]
