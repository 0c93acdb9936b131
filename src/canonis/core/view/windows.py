"""A part of a projection: what of its lines and cut faces lies inside a circle or a box."""

import math
from dataclasses import dataclass, replace

import numpy as np
import shapely
from numpy.typing import NDArray

from canonis.core.solid import Vec
from canonis.core.tolerances import NOTHING
from canonis.core.view.projection import Line, Projection

__all__ = ["Frame2", "Strip", "shortened", "squeezed", "stretched", "windowed"]


@dataclass(frozen=True)
class Frame2:
    """A circle (`circle`, radius the first half size) or a box in the plane of a view, mm at 1:1."""

    circle: bool
    centre: tuple[float, float]
    half: tuple[float, float]

    def inside(self, points: Vec) -> NDArray[np.bool_]:
        """Which points (n×2) lie inside."""
        away = np.asarray(points) - np.array(self.centre)
        if self.circle:
            return np.asarray(np.hypot(away[:, 0], away[:, 1]) <= self.half[0])
        return np.asarray((np.abs(away) <= np.array(self.half)).all(axis=1))

    @property
    def shape(self) -> shapely.Geometry:
        """The region, a circle within 1e-4 of its radius."""
        (x, y), (w, h) = self.centre, self.half
        return shapely.Point(x, y).buffer(w, quad_segs=64) if self.circle else shapely.box(x - w, y - h, x + w, y + h)

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Its bounds."""
        (x, y), (w, h) = self.centre, self.half
        h = w if self.circle else h
        return (x - w, y - h, x + w, y + h)


@dataclass(frozen=True)
class Strip:
    """A stretch that a break takes out of a view: between two levels along right (0) or up (1), mm at 1:1."""

    along: int
    low: float
    high: float


@dataclass(frozen=True)
class _Outside:
    strips: tuple[Strip, ...]

    def inside(self, points: Vec) -> NDArray[np.bool_]:
        out = np.ones(len(points), dtype=bool)
        for strip in self.strips:
            out &= (points[:, strip.along] <= strip.low) | (points[:, strip.along] >= strip.high)
        return out


def shortened(whole: Projection, strips: tuple[Strip, ...]) -> Projection:
    """A projection without what lies between the breaks; what is left stays where it was."""
    kept = {
        name: tuple(part for line in getattr(whole, name) for part in _inside(line, _Outside(strips)))
        for name in ("visible", "hidden", "smooth", "thread")
    }
    far = 10 * max(map(abs, whole.box)) + 1
    gone = shapely.union_all(
        [
            shapely.box(s.low, -far, s.high, far) if s.along == 0 else shapely.box(-far, s.low, far, s.high)
            for s in strips
        ]
    )
    cut = tuple(replace(c, region=c.region.difference(gone)) for c in whole.cut)
    return Projection(kept["visible"], kept["hidden"], kept["smooth"], whole.box, cut, kept["thread"])


def squeezed(points: Vec, strips: tuple[Strip, ...], gap: float) -> Vec:
    """Where points (n×2) of the plane of a view stand once its broken stretches are closed up to `gap` mm at 1:1."""
    out = np.array(points, dtype=float)
    for s in strips:
        c = np.asarray(points)[:, s.along]
        out[:, s.along] -= np.clip((c - s.low) / (s.high - s.low), 0.0, 1.0) * (s.high - s.low - gap)
    return out


def stretched(points: Vec, strips: tuple[Strip, ...], gap: float) -> Vec:
    """The points (n×2) of the plane of a view that `squeezed` moves to the given ones."""
    out = np.array(points, dtype=float)
    for s in sorted(strips, key=lambda s: s.low):
        c = out[:, s.along]
        out[:, s.along] = c + np.clip((c - s.low) / gap, 0.0, 1.0) * (s.high - s.low - gap)
    return out


def windowed(whole: Projection, frame: Frame2) -> Projection:
    """What of a projection lies inside; its box is that of the window."""
    kept = {
        name: tuple(part for line in getattr(whole, name) for part in _inside(line, frame))
        for name in ("visible", "hidden", "smooth", "thread")
    }
    cut = tuple(replace(c, region=c.region.intersection(frame.shape)) for c in whole.cut)
    return Projection(kept["visible"], kept["hidden"], kept["smooth"], frame.box, cut, kept["thread"])


def _at(line: Line, t: Vec) -> Vec:
    if line.kind == "arc":
        return line.centre + line.radius * np.c_[np.cos(t), np.sin(t)]
    if line.kind == "ellipse":
        c, s = math.cos(line.turn), math.sin(line.turn)
        x, y = line.radius * np.cos(t), line.minor * np.sin(t)
        return line.centre + np.c_[x * c - y * s, x * s + y * c]
    k = np.clip(np.floor(t).astype(int), 0, len(line.points) - 2)
    return np.asarray(line.points[k] + (line.points[k + 1] - line.points[k]) * (t - k)[:, None])


def _inside(line: Line, frame: Frame2 | _Outside) -> list[Line]:
    lo, hi = (line.a0, line.a1) if line.kind in ("arc", "ellipse") else (0.0, len(line.points) - 1.0)
    n = max(64, 4 * len(line.points))
    t = np.linspace(lo, hi, n + 1)
    within = frame.inside(_at(line, t))
    if within.all():
        return [line]
    if not within.any():
        return []
    change = np.nonzero(within[1:] != within[:-1])[0]
    a, b = t[change], t[change + 1]
    first = within[change]
    for _ in range(50):
        m = (a + b) / 2
        same = frame.inside(_at(line, m)) == first
        a, b = np.where(same, m, a), np.where(same, b, m)
    ends = [*([lo] if within[0] else []), *((a + b) / 2).tolist(), *([hi] if within[-1] else [])]
    return [_stretch(line, p, q) for p, q in zip(ends[::2], ends[1::2], strict=True) if q - p > NOTHING]


def _stretch(line: Line, lo: float, hi: float) -> Line:
    if line.kind in ("arc", "ellipse"):
        return replace(line, a0=lo, a1=hi)
    inner = np.arange(math.floor(lo) + 1, math.ceil(hi))
    t = np.concatenate([[lo], inner[(inner > lo) & (inner < hi)], [hi]])
    return replace(line, points=_at(line, t))
