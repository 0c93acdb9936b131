"""Curves in space as arrays: straight lines, conics by their centre and two half axes, and dense points of free curves."""

from dataclasses import dataclass, replace
from typing import Self

import numpy as np
from numpy.typing import NDArray

from canonis.core.solid import Vec
from canonis.core.tolerances import ZERO

__all__ = ["CONIC", "FREE", "LINE", "Curves", "Maker"]

LINE, CONIC, FREE = range(3)
Ints = NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class Curves:
    """Many curves at once, in any axes.

    A line is `c + a·t`, a conic `c + a·cos t + b·sin t`, a free curve runs through `points[first:first+count]` with t
    counting them from 0. `lo` and `hi` bound t. `edge` is the owning edge or −1, `faces` (n×2) the faces it stands on,
    the second −1 for an outline of one face.
    """

    kind: Ints
    c: Vec
    a: Vec
    b: Vec
    lo: Vec
    hi: Vec
    first: Ints
    count: Ints
    points: Vec
    edge: Ints
    faces: Ints

    def __len__(self) -> int:
        return len(self.kind)

    def at(self, which: Ints, t: Vec) -> Vec:
        """Points (n×3) of the curves `which` at their parameters `t`."""
        kind = self.kind[which]
        out = np.empty((len(which), 3))
        m = kind == LINE
        k = which[m]
        out[m] = self.c[k] + self.a[k] * t[m, None]
        m = kind == CONIC
        k = which[m]
        out[m] = self.c[k] + self.a[k] * np.cos(t[m, None]) + self.b[k] * np.sin(t[m, None])
        m = kind == FREE
        if m.any():
            k, s = which[m], t[m]
            low = np.clip(np.floor(s).astype(np.int64), 0, np.maximum(self.count[k] - 2, 0))
            p, q = self.points[self.first[k] + low], self.points[self.first[k] + low + 1]
            out[m] = p + (q - p) * (s - low)[:, None]
        return out

    def slope(self, which: Ints, t: Vec) -> Vec:
        """Derivatives (n×3) of the curves `which` by their parameter at `t`."""
        kind = self.kind[which]
        out = np.empty((len(which), 3))
        m = kind == LINE
        out[m] = self.a[which[m]]
        m = kind == CONIC
        k = which[m]
        out[m] = self.b[k] * np.cos(t[m, None]) - self.a[k] * np.sin(t[m, None])
        m = kind == FREE
        if m.any():
            k = which[m]
            low = np.clip(np.floor(t[m]).astype(np.int64), 0, np.maximum(self.count[k] - 2, 0))
            out[m] = self.points[self.first[k] + low + 1] - self.points[self.first[k] + low]
        return out

    def turned(self, axes: Vec) -> Self:
        """The curves in other axes: `axes` (3×3) has the new unit vectors in its rows."""
        m = axes.T
        return replace(self, c=self.c @ m, a=self.a @ m, b=self.b @ m, points=self.points @ m)

    def steps(self, which: Ints, lo: Vec, hi: Vec, chord: float, least: int = 1) -> Ints:
        """Into how many equal steps of t each stretch is cut so that chords stay within `chord` mm of the curve."""
        kind = self.kind[which]
        reach = np.sqrt((self.a[which] ** 2).sum(-1) + (self.b[which] ** 2).sum(-1))
        step = 2 * np.arccos(np.clip(1 - chord / np.maximum(reach, chord), -1, 1))
        step = np.minimum(np.maximum(step, 1e-4), 0.7)
        n = np.where(kind == CONIC, np.ceil(np.abs(hi - lo) / step), np.where(kind == FREE, np.ceil(hi - lo), 1))
        return np.maximum(n.astype(np.int64), least)

    def meets(self, normal: Vec, offset: float) -> tuple[Ints, Vec]:
        """Where the curves pass through a plane (unit normal, offset): curve and parameter of each place."""
        c, a, b = self.c @ normal - offset, self.a @ normal, self.b @ normal
        which, at = [], []
        k = np.nonzero((self.kind == LINE) & (np.abs(a) > ZERO))[0]
        t = -c[k] / a[k]
        inside = (t > self.lo[k]) & (t < self.hi[k])
        which.append(k[inside])
        at.append(t[inside])
        k = np.nonzero(self.kind == CONIC)[0]
        reach = np.hypot(a[k], b[k])
        k, reach = k[reach > ZERO], reach[reach > ZERO]
        share = -c[k] / reach
        real = np.abs(share) <= 1
        k, share = k[real], share[real]
        middle, half = np.arctan2(b[k], a[k]), np.arccos(share)
        for t in (middle - half, middle + half):
            for turn in range(-2, 3):
                s = t + 2 * np.pi * turn
                inside = (s > self.lo[k]) & (s < self.hi[k])
                which.append(k[inside])
                at.append(s[inside])
        g = self.points @ normal - offset if len(self.points) else np.zeros(0)
        step = np.nonzero((g[:-1] >= 0) != (g[1:] >= 0))[0]
        owner = np.repeat(np.nonzero(self.kind == FREE)[0], self.count[self.kind == FREE])
        if len(step):
            step = step[owner[step] == owner[step + 1]]
            k = owner[step]
            which.append(k)
            at.append(step - self.first[k] + g[step] / (g[step] - g[step + 1]))
        return np.concatenate(which), np.concatenate(at)

    @classmethod
    def none(cls) -> Self:
        """No curves at all."""
        z3, z1, i1 = np.zeros((0, 3)), np.zeros(0), np.zeros(0, dtype=np.int64)
        return cls(i1, z3, z3, z3, z1, z1, i1, i1, z3, i1, np.zeros((0, 2), dtype=np.int64))

    @classmethod
    def joined(cls, parts: list["Curves"]) -> Self:
        """Several bundles in one."""
        shift = np.cumsum([0, *(len(p.points) for p in parts)])
        return cls(
            *(
                np.concatenate(
                    [getattr(p, name) + (s if name == "first" else 0) for p, s in zip(parts, shift, strict=False)]
                )
                for name in ("kind", "c", "a", "b", "lo", "hi", "first", "count", "points", "edge", "faces")
            )
        )


class Maker:
    """Puts curves together one by one."""

    def __init__(self) -> None:
        self._rows: list[tuple[int, Vec, Vec, Vec, float, float, int, int, int, int, int]] = []
        self._points: list[Vec] = []
        self._n = 0

    def line(self, p: Vec, q: Vec, edge: int = -1, faces: tuple[int, int] = (-1, -1)) -> None:
        """A straight line from `p` to `q`."""
        self._rows.append((LINE, p, q - p, np.zeros(3), 0.0, 1.0, 0, 0, edge, *faces))

    def conic(
        self, c: Vec, a: Vec, b: Vec, lo: float, hi: float, *, edge: int = -1, faces: tuple[int, int] = (-1, -1)
    ) -> None:
        """A stretch of a circle or an ellipse."""
        self._rows.append((CONIC, c, a, b, lo, hi, 0, 0, edge, *faces))

    def free(self, points: Vec, edge: int = -1, faces: tuple[int, int] = (-1, -1)) -> None:
        """A curve through dense points."""
        zero = np.zeros(3)
        self._rows.append((FREE, zero, zero, zero, 0.0, len(points) - 1.0, self._n, len(points), edge, *faces))
        self._points.append(points)
        self._n += len(points)

    def made(self) -> Curves:
        """The bundle."""
        if not self._rows:
            return Curves.none()
        kind, c, a, b, lo, hi, first, count, edge, f, g = zip(*self._rows, strict=True)
        points = np.vstack(self._points) if self._points else np.zeros((0, 3))
        return Curves(
            np.array(kind),
            np.array(c),
            np.array(a),
            np.array(b),
            np.array(lo),
            np.array(hi),
            np.array(first),
            np.array(count),
            points,
            np.array(edge),
            np.c_[f, g].astype(np.int64),
        )
