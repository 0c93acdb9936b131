"""A modelled thread as a plain tube, so that it can be drawn by its crest and root lines (ISO 6410-1)."""

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely

from canonis.core.solid import Vec
from canonis.core.tolerances import ALIGNED, NOISE, NOTHING, runs_along

__all__ = ["Thread", "thread_zone", "tube"]

_Triple = tuple[float, float, float]
_Span = tuple[float, float]


@dataclass(frozen=True)
class Thread:
    """A thread about an axis (a point of it and a unit direction, model axes). Radii and heights along the axis in mm.

    `crest` and `root` are the heights between which the crest and the root run; `cones` the chamfers at its ends as
    (height, radius, height, radius). `faces` are its own faces; `near` those on the same axis that it runs into.
    """

    base: _Triple
    axis: _Triple
    internal: bool
    major: float
    minor: float
    crest: _Span
    root: _Span
    cones: tuple[tuple[float, float, float, float], ...]
    faces: frozenset[int]
    near: frozenset[int]
    #: Which ends lie inside the part, where the full thread stops short of a face: low, high.
    stops: tuple[bool, bool]

    @property
    def edge(self) -> float:
        """Radius at which the material of the plain twin ends, mm: the major of a shaft's, the minor of a bore's."""
        return self.minor if self.internal else self.major

    @property
    def other(self) -> float:
        """Radius of the narrow line, mm."""
        return self.major if self.internal else self.minor

    @property
    def middle(self) -> Vec:
        """The point of the axis at height zero."""
        return np.array(self.base)

    @property
    def way(self) -> Vec:
        """The direction of the axis."""
        return np.array(self.axis)

    def across(self) -> tuple[Vec, Vec]:
        """Two unit directions square to the axis and to each other."""
        u = np.cross(self.way, np.eye(3)[int(np.argmin(np.abs(self.way)))])
        u = u / float(np.linalg.norm(u))
        return u, np.cross(self.way, u)


@lru_cache(maxsize=64)
def tube(thread: Thread, sagitta: float) -> Vec:
    """Triangles (n×3×3) of the plain twin's wall, standing off it by at most `sagitta` mm."""
    r = thread.edge
    n = int(np.clip(math.ceil(math.pi / math.acos(max(0.0, 1 - sagitta / r))), 24, 720))
    u, v = thread.across()
    t = np.linspace(0, 2 * math.pi, n + 1)
    ring = np.outer(np.cos(t), u) + np.outer(np.sin(t), v)
    rows = [(thread.crest[0], r, thread.crest[1], r), *thread.cones]
    out = []
    for z0, r0, z1, r1 in rows:
        low, high = (thread.middle + thread.way * z + ring * radius for z, radius in ((z0, r0), (z1, r1)))
        out += [np.stack([low[:-1], low[1:], high[:-1]], axis=1), np.stack([high[:-1], low[1:], high[1:]], axis=1)]
    return np.concatenate(out)


def thread_zone(thread: Thread, axes: Vec, depth: float) -> shapely.Geometry | None:
    """What the plane at `depth` along the third of a view's `axes` (3×3, rows) cuts of the space between crest and root.

    In the plane of the view, mm at 1:1. None where it cuts the thread aslant.
    """
    base, way = axes @ thread.middle, axes @ thread.way
    inner, outer = thread.minor, thread.major
    if runs_along(float(way[2]), ALIGNED):
        height = (depth - float(base[2])) * math.copysign(1.0, float(way[2]))
        if not thread.crest[0] <= height <= thread.crest[1]:
            return shapely.Polygon()
        centre = shapely.Point(base[0], base[1])
        return centre.buffer(outer, quad_segs=128).difference(centre.buffer(inner, quad_segs=128))
    if abs(float(way[2])) > NOTHING:
        return None
    off = abs(float(base[2]) - depth)
    if off >= outer:
        return shapely.Polygon()
    wide, slim = math.sqrt(outer**2 - off**2), math.sqrt(max(0.0, inner**2 - off**2))
    along, aside = way[:2], np.array([-way[1], way[0]])

    def corner(z: float, x: float) -> tuple[float, float]:
        at = base[:2] + along * z + aside * x
        return (float(at[0]), float(at[1]))

    parts = []
    (a, b), cones = thread.crest, thread.cones if off < NOISE else ()
    for side in (1.0, -1.0):
        rows = [((a, slim), (b, slim), (b, wide), (a, wide))]
        rows += [((z0, slim), (z1, slim), (z1, max(r1, slim)), (z0, max(r0, slim))) for z0, r0, z1, r1 in cones]
        parts += [shapely.Polygon([corner(z, side * x) for z, x in row]) for row in rows]
    return shapely.union_all([p if p.is_valid else p.buffer(0) for p in parts])
