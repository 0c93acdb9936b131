"""What of a solid a view leaves away: strips and outlines of the view's plane, each cut off down to a depth."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from canonis.core.solid import Vec
from canonis.core.tolerances import ZERO

__all__ = ["Clip", "Patch"]

#: What stands this little above a cut still lies in it, mm.
_ON = 1e-6


@dataclass(frozen=True)
class Patch:
    """A part of the view's plane (a polygon, mm at 1:1) in which all above `depth` (along toward, mm) is cut off."""

    outline: tuple[tuple[float, float], ...]
    depth: float

    @cached_property
    def shape(self) -> shapely.Polygon:
        """The outline as a polygon."""
        return shapely.Polygon(self.outline)


@dataclass(frozen=True)
class Clip:
    """The patches of a view; where `keep` is given, nothing outside it is drawn (a partial view, a leg, a detail)."""

    patches: tuple[Patch, ...] = ()
    keep: tuple[tuple[float, float], ...] = ()

    @cached_property
    def _window(self) -> shapely.Polygon | None:
        return shapely.Polygon(self.keep) if self.keep else None

    def ceiling(self, flat: Vec) -> Vec:
        """The depth above which nothing is left at points (n×2) of the view's plane, mm; inf where nothing is cut."""
        out = np.full(len(flat), np.inf)
        if len(flat) and self.patches:
            points = shapely.points(flat)
            for patch in self.patches:
                out = np.where(shapely.intersects(patch.shape, points), np.minimum(out, patch.depth), out)
        return out

    def leaves(self, points: Vec) -> NDArray[np.bool_]:
        """Which points (n×3, in the view's axes) are still there and drawn."""
        slack = _ON * max(1.0, float(np.abs(points).max(initial=0.0)))
        out = points[:, 2] <= self.ceiling(points[:, :2]) + slack
        if self._window is not None:
            out &= shapely.intersects(self._window.buffer(slack), shapely.points(points[:, :2]))
        return np.asarray(out)

    @cached_property
    def planes(self) -> tuple[tuple[tuple[float, float, float], float], ...]:
        """Planes (normal in the view's axes, offset) at which what is left may begin or end."""
        found = [((0.0, 0.0, 1.0), p.depth) for p in self.patches]
        for outline in (*(p.outline for p in self.patches), self.keep):
            for (x0, y0), (x1, y1) in zip(outline, (*outline[1:], *outline[:1]), strict=True):
                length = float(np.hypot(x1 - x0, y1 - y0))
                if length > ZERO:
                    n = ((y1 - y0) / length, -(x1 - x0) / length, 0.0)
                    found.append((n, n[0] * x0 + n[1] * y0))
        return tuple(dict.fromkeys(found))
