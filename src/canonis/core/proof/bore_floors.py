"""Where a bore ends: flat and pointed floors, floors with a fillet or around a post, as rays meet them."""

from itertools import pairwise

import numpy as np

from canonis.core.proof.bored import Bore, closed_in, opens_out
from canonis.core.tolerances import FITTED, NOISE, SAME, ZERO, same

__all__ = ["circle_of", "fillet_of", "floor_of"]

#: Where across a bore its floor is met, as shares of the radius.
_SHARES = (0.5, 0.7, 0.9)


def _floor_ring(bore: Bore, sense: float) -> float | None:
    """Distance from the middle to a flat floor that is left around a narrower hole beside the axis; None where there is no
    such floor. A narrower hole on the axis is the bore itself, and this one its seat."""
    behind = bore.walls(sense * (bore.length / 2 + max(2e-3, 4e-3 * bore.radius)))
    if len(behind) < len(bore.azimuths) or max(behind) > bore.radius - SAME or max(behind) - min(behind) < SAME:
        return None
    levels = []
    for a in bore.azimuths:
        for share in (0.25, 0.75):
            off = max(behind) + (bore.radius - max(behind)) * share
            levels += bore.rays.hits(bore.point + bore.spoke(a) * off, bore.axis * sense, bore.length)[:1]
    flat = len(levels) == 2 * len(bore.azimuths) and max(levels) - min(levels) < FITTED
    return levels[0] if flat and same(levels[0], bore.length / 2) else None


def _wall_end(radius: float, heights: list[float]) -> float:
    """Where the wall ends on a floor met at these heights at `_SHARES` of the radius: on a straight floor along the line
    through them, on a ball along its circle."""
    inner, between, outer = heights
    straight = outer + (outer - inner) / (_SHARES[2] - _SHARES[0]) * (1 - _SHARES[2])
    if (
        abs((between - inner) / (_SHARES[1] - _SHARES[0]) - (outer - between) / (_SHARES[2] - _SHARES[1]))
        < FITTED * radius
    ):
        return straight
    # r² + (h - h0)² is the same at all three: two differences, linear in h0 after the squares are taken apart.
    squares = [(share * radius) ** 2 + h**2 for share, h in zip(_SHARES, heights, strict=True)]
    middles = [(squares[k] - squares[0]) / (2 * (heights[k] - heights[0])) for k in (1, 2) if heights[k] != heights[0]]
    if len(middles) < 2 or abs(middles[0] - middles[1]) > 1e-4 * radius:
        return straight
    middle = middles[1]
    rest = squares[2] - 2 * heights[2] * middle + middle**2 - radius**2
    return float(middle + np.sqrt(max(rest, 0.0)) * np.sign(inner - middle))


def _filleted_floor(bore: Bore, sense: float) -> float | None:
    """Distance from the middle to the end of the full diameter over a flat floor that goes over into the wall by a fillet;
    None where the floor is another one."""
    levels = []
    for a in bore.azimuths:
        for share in (0.1, 0.3):
            start = bore.point + bore.spoke(a) * bore.radius * share
            levels += bore.rays.hits(start, bore.axis * sense, bore.length * 2 + 4 * bore.radius)[:1]
    if len(levels) < 2 * len(bore.azimuths) or max(levels) - min(levels) > NOISE or levels[0] < bore.length / 2 + SAME:
        return None
    fillet = fillet_of(bore, sense, bore.radius, bore.length / 2, levels[0])
    return None if fillet is None else fillet[0]


def fillet_of(bore: Bore, sense: float, radius: float, start: float, floor: float) -> tuple[float, float] | None:
    """The level where a wall of this radius goes over into a fillet on a floor, which it has not left before `start`, and the
    fillet's radius; None where what lies between is no fillet."""
    heights = [floor - (floor - start) * share for share in (0.1, 0.2, 0.3, 0.4)]
    walls = [bore.wall(sense * z) for z in heights]
    closed = [radius - w for w in walls if w is not None]
    if len(closed) < 4 or not all(a > b > 0 for a, b in pairwise(closed)):
        return None
    circle = circle_of(closed, heights)
    if circle is None:
        return None
    size, level = circle
    good = size > 5e-3 and abs(abs(level - floor) - size) < 1e-3 * max(1.0, size)
    return (level, size) if good else None


def circle_of(off: list[float], heights: list[float]) -> tuple[float, float] | None:
    """Radius, and level where it leaves the wall, of the circle that a wall follows which stands off by so much at four
    heights; None where it follows none.

    Off by u at height z it keeps u² − 2·r·u + (z − z0)² = 0: three samples give r and z0, the fourth must agree.
    """
    (u1, z1), (u2, z2), (u3, z3), (u4, z4) = zip(off, heights, strict=True)
    system = np.array([[2 * (u1 - u2), 2 * (z1 - z2)], [2 * (u2 - u3), 2 * (z2 - z3)]])
    if abs(float(np.linalg.det(system))) < ZERO:
        return None
    size, level = np.linalg.solve(system, [u1**2 - u2**2 + z1**2 - z2**2, u2**2 - u3**2 + z2**2 - z3**2])
    rest = max(abs(u**2 - 2 * size * u + (z - level) ** 2) for u, z in ((u1, z1), (u4, z4)))
    return (float(size), float(level)) if rest <= 1e-6 * max(1.0, size**2) else None


def floor_of(bore: Bore, sense: float) -> tuple[float, float] | None:
    """Distance from the middle to the end of the full diameter and the included angle beyond, when the end is closed.

    Another hole may have broken into the floor: where half the rays or more agree, they have met it.
    """
    ring = _floor_ring(bore, sense)
    if ring is not None:
        return ring, 180.0
    filleted = _filleted_floor(bore, sense)
    if filleted is not None:
        return filleted, 180.0
    ends = []
    for a in bore.azimuths:
        heights = []
        for share in _SHARES:
            start = bore.point + bore.spoke(a) * bore.radius * share
            hits = bore.rays.hits(start, bore.axis * sense, bore.length * 2 + 4 * bore.radius)
            if hits:
                heights.append(hits[0])
        if len(heights) == len(_SHARES):
            ends.append((_wall_end(bore.radius, heights), heights[0]))
    best: list[tuple[float, float]] = []
    for end, _ in ends:
        alike = [e for e in ends if same(e[0], end)]
        best = alike if len(alike) > len(best) else best
    agreed = len(best) * 2 >= len(bore.azimuths) and closed_in(
        bore, sense * (best[0][1] - min(0.3 * bore.radius, bore.length / 2))
    )
    # A sliver of a flat floor is one where the wall itself ends on it.
    left = bool(best) and same(best[0][0], best[0][1], NOISE) and same(best[0][0], bore.length / 2)
    if not agreed and not left:
        return None
    end, inner = (float(np.median([e[k] for e in best])) for k in (0, 1))
    if not same(end, inner, NOISE) and opens_out(bore, sense, bore.length / 2, inner):
        return None
    # From half the radius to the wall the floor rises by this much.
    rise = inner - end
    return end, 180.0 if abs(rise) < FITTED else 2 * float(np.degrees(np.arctan2(0.5 * bore.radius, rise)))
