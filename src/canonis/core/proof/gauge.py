"""Holes measured afresh by rays: bore, ends and every seat, without looking at the recogniser's work."""

from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from canonis.core.solid.model import Solid, Vec
from canonis.core.solid.probe import Rays, edge_points, fit_cylinder

__all__ = ["GaugedHole", "GaugedSeat", "gauge_hole"]


@dataclass(frozen=True)
class GaugedSeat:
    """A seat as the rays met it: cylinder (diameter, depth) or cone (diameter, included angle, radial leg)."""

    kind: str
    diameter: float
    depth: float
    angle: float
    leg: float


@dataclass(frozen=True, eq=False)
class GaugedHole:
    """A hole as measured; `depth` runs from the opening to the end of the full diameter."""

    axis_point: Vec
    axis: Vec
    diameter: float
    through: bool
    depth: float | None
    near: tuple[GaugedSeat, ...]
    far: tuple[GaugedSeat, ...]
    #: Where the axis leaves the material at the start.
    opening: Vec
    #: Included angle of the drill point, degrees (180 for a flat floor); None when through.
    point: float | None = None


#: Where across a bore its floor is met, as shares of the radius.
_SHARES = (0.5, 0.7, 0.9)
#: Seats, grooves and crossings that a bore is followed through.
_MOST_STEPS = 8


class _Bore:
    def __init__(self, solid: Solid, face: int) -> None:
        self.solid = solid
        self.point, self.axis, self.radius, self.length = fit_cylinder(solid, face)
        # All along the axis, where the bore may go on behind what crosses it; beside it, as far as seats reach.
        self.rays = Rays(solid, self.point, np.abs(self.axis) * solid.diagonal + self.length + 6 * self.radius + 1)
        self.reach = 2 * solid.diagonal
        u = np.cross(self.axis, np.eye(3)[int(np.argmin(np.abs(self.axis)))])
        self.u = u / np.linalg.norm(u)
        self.w = np.cross(self.axis, self.u)
        # Opposite pairs: their mean is the level at the axis where a mouth opens to a sloped face.
        self.azimuths = [0.35 + k * np.pi / 2 for k in range(4)]

    def spoke(self, angle: float) -> Vec:
        return np.asarray(self.u * np.cos(angle) + self.w * np.sin(angle))

    def walls(self, z: float) -> list[float]:
        """Radius of the wall to each side where there is one, at `z` from the middle; none where it is open to two."""
        met = [self.rays.hits(self.point + self.axis * z, self.spoke(a), self.reach) for a in self.azimuths]
        found = [hits[0] for hits in met if hits]
        # A wall that another cut opens on one side is still a wall.
        return found if len(found) >= len(self.azimuths) - 1 else []

    def wall(self, z: float) -> float | None:
        """Radius of the wall around the axis at `z` from the middle; None where it is open to two sides."""
        found = self.walls(z)
        return float(np.median(found)) if found else None

    def round_at(self, z: float, radius: float) -> bool:
        """Whether a wall of this radius at `z` is round: between the usual rays it stands no farther off. The walls of a
        square pocket are met at one distance by four rays at right angles."""
        met = [self.rays.hits(self.point + self.axis * z, self.spoke(a + np.pi / 8), self.reach) for a in self.azimuths]
        found = [hits[0] for hits in met if hits]
        return 2 * sum(abs(w - radius) < 1e-3 * max(1.0, radius) for w in found) >= len(found)

    def follows(self, z: float, radius: float, off: float) -> bool:
        """Whether the wall at `z` has this radius; the seats of neighbours may have cut it away to two sides."""
        return 2 * sum(abs(w - radius) < off for w in self.walls(z)) >= len(self.azimuths)


def _closed_in(bore: _Bore, z: float) -> bool:
    """Whether the bore's own wall surrounds the axis at `z`, not that of a wider space it opens into."""
    met = 0
    for k in range(8):
        hits = bore.rays.hits(bore.point + bore.axis * z, bore.spoke(0.35 + k * np.pi / 4), bore.reach)
        met += bool(hits) and hits[0] < bore.radius * 1.001
    return met >= 5


def _opens_out(bore: _Bore, sense: float, start: float, end: float) -> bool:
    """Whether a bore ends in a wider space with a bent floor, the inside of a ball say: nothing there is as wide as it."""
    met = [bore.walls(sense * (start + (end - start) * share)) for share in (0.15, 0.4, 0.6)]
    wider = [bool(walls) and min(walls) > bore.radius * 1.01 for walls in met]
    alike = [bool(walls) and abs(float(np.median(walls)) - bore.radius) < 1e-3 * bore.radius for walls in met]
    return all(wider[:2]) and not any(alike)


def _floor_ring(bore: _Bore, sense: float) -> float | None:
    """Distance from the middle to a flat floor that is left around a narrower hole beside the axis; None where there is no
    such floor. A narrower hole on the axis is the bore itself, and this one its seat."""
    behind = bore.walls(sense * (bore.length / 2 + max(2e-3, 4e-3 * bore.radius)))
    if len(behind) < len(bore.azimuths) or max(behind) > bore.radius - 1e-3 or max(behind) - min(behind) < 1e-3:
        return None
    levels = []
    for a in bore.azimuths:
        for share in (0.25, 0.75):
            off = max(behind) + (bore.radius - max(behind)) * share
            levels += bore.rays.hits(bore.point + bore.spoke(a) * off, bore.axis * sense, bore.length)[:1]
    flat = len(levels) == 2 * len(bore.azimuths) and max(levels) - min(levels) < 1e-5
    return levels[0] if flat and abs(levels[0] - bore.length / 2) < 1e-3 else None


def _wall_end(radius: float, heights: list[float]) -> float:
    """Where the wall ends on a floor met at these heights at `_SHARES` of the radius: on a straight floor along the line
    through them, on a ball along its circle."""
    inner, between, outer = heights
    straight = outer + (outer - inner) / (_SHARES[2] - _SHARES[0]) * (1 - _SHARES[2])
    if (
        abs((between - inner) / (_SHARES[1] - _SHARES[0]) - (outer - between) / (_SHARES[2] - _SHARES[1]))
        < 1e-5 * radius
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


def _filleted_floor(bore: _Bore, sense: float) -> float | None:
    """Distance from the middle to the end of the full diameter over a flat floor that goes over into the wall by a fillet;
    None where the floor is another one."""
    levels = []
    for a in bore.azimuths:
        for share in (0.1, 0.3):
            start = bore.point + bore.spoke(a) * bore.radius * share
            levels += bore.rays.hits(start, bore.axis * sense, bore.length * 2 + 4 * bore.radius)[:1]
    if len(levels) < 2 * len(bore.azimuths) or max(levels) - min(levels) > 1e-6 or levels[0] < bore.length / 2 + 1e-3:
        return None
    fillet = _fillet(bore, sense, bore.radius, bore.length / 2, levels[0])
    return None if fillet is None else fillet[0]


def _fillet(bore: _Bore, sense: float, radius: float, start: float, floor: float) -> tuple[float, float] | None:
    """The level where a wall of this radius goes over into a fillet on a floor, which it has not left before `start`, and the
    fillet's radius; None where what lies between is no fillet."""
    heights = [floor - (floor - start) * share for share in (0.1, 0.2, 0.3, 0.4)]
    walls = [bore.wall(sense * z) for z in heights]
    closed = [radius - w for w in walls if w is not None]
    if len(closed) < 4 or not all(a > b > 0 for a, b in pairwise(closed)):
        return None
    circle = _circle(closed, heights)
    if circle is None:
        return None
    size, level = circle
    good = size > 5e-3 and abs(abs(level - floor) - size) < 1e-3 * max(1.0, size)
    return (level, size) if good else None


def _circle(off: list[float], heights: list[float]) -> tuple[float, float] | None:
    """Radius, and level where it leaves the wall, of the circle that a wall follows which stands off by so much at four
    heights; None where it follows none.

    Off by u at height z it keeps u² − 2·r·u + (z − z0)² = 0: three samples give r and z0, the fourth must agree.
    """
    (u1, z1), (u2, z2), (u3, z3), (u4, z4) = zip(off, heights, strict=True)
    system = np.array([[2 * (u1 - u2), 2 * (z1 - z2)], [2 * (u2 - u3), 2 * (z2 - z3)]])
    if abs(float(np.linalg.det(system))) < 1e-12:
        return None
    size, level = np.linalg.solve(system, [u1**2 - u2**2 + z1**2 - z2**2, u2**2 - u3**2 + z2**2 - z3**2])
    rest = max(abs(u**2 - 2 * size * u + (z - level) ** 2) for u, z in ((u1, z1), (u4, z4)))
    return (float(size), float(level)) if rest <= 1e-6 * max(1.0, size**2) else None


def _floor(bore: _Bore, sense: float) -> tuple[float, float] | None:
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
        alike = [e for e in ends if abs(e[0] - end) < 1e-3]
        best = alike if len(alike) > len(best) else best
    agreed = len(best) * 2 >= len(bore.azimuths) and _closed_in(
        bore, sense * (best[0][1] - min(0.3 * bore.radius, bore.length / 2))
    )
    # A sliver of a flat floor is one where the wall itself ends on it.
    left = bool(best) and abs(best[0][0] - best[0][1]) < 1e-6 and abs(best[0][0] - bore.length / 2) < 1e-3
    if not agreed and not left:
        return None
    end, inner = (float(np.median([e[k] for e in best])) for k in (0, 1))
    if abs(end - inner) > 1e-6 and _opens_out(bore, sense, bore.length / 2, inner):
        return None
    # From half the radius to the wall the floor rises by this much.
    rise = inner - end
    return end, 180.0 if abs(rise) < 1e-5 else 2 * float(np.degrees(np.arctan2(0.5 * bore.radius, rise)))


def _level_at_axis(exits: list[float]) -> float:
    """The exit level at the axis from those of two opposite pairs; the median where they disagree."""
    a, b = (exits[0] + exits[2]) / 2, (exits[1] + exits[3]) / 2
    return a if abs(a - b) < 1e-3 else float(np.median(exits))


def _round_rim(bore: _Bore, sense: float, radius: float, level: float, lift: float) -> tuple[float, float] | None:
    """Radius of a round that breaks the rim, and the level where it ends; None when the wall does not open so."""
    heights = [level + lift * k for k in (1, 2, 3, 4)]
    walls = [bore.wall(sense * z) for z in heights]
    opened = [w - radius for w in walls if w is not None]
    if len(opened) < 4 or opened[0] <= 0 or not all(b > a for a, b in pairwise(opened)):
        return None
    circle = _circle(opened, heights)
    if circle is None or not max(5e-3, 1e-3 * bore.radius) < circle[0] < 4 * bore.radius:
        return None
    size, start = circle
    return size, start + size


def _seats(bore: _Bore, sense: float) -> tuple[float, tuple[GaugedSeat, ...]]:
    """The opening's distance from the middle, and the seats from the bore outwards."""
    seats: list[GaugedSeat] = []
    radius, level, reached = bore.radius, 0.0, 0.0
    for _ in range(_MOST_STEPS):
        # Walk out through the material just beside the wall until it ends.
        step = max(1e-4, 2e-4 * radius)
        exits = []
        for a in bore.azimuths:
            start = bore.point + bore.axis * sense * level + bore.spoke(a) * (radius + step)
            hits = bore.rays.hits(start, bore.axis * sense, bore.reach)
            if hits:
                exits.append(level + hits[0])
        if len(exits) < len(bore.azimuths):
            # A seat that is open on one side ends there.
            return max(level, reached), tuple(seats)
        level = _level_at_axis(exits)
        lift = max(2e-3, 4e-3 * radius)
        first, second = bore.wall(sense * (level + lift)), bore.wall(sense * (level + 2 * lift))
        behind = _behind_crossing(bore, sense, radius, exits) if not seats else None
        if behind is not None:
            level = behind
            continue
        if (
            first is None
            or first > 6 * bore.radius
            or not _even(exits, radius)
            or not bore.round_at(sense * (level + lift), first)
        ):
            # A mouth that is not flat opens into another bore or a round wall: no seat stands there.
            return level, tuple(seats)
        wide = _filleted_seat(bore, sense, radius, level, step)
        if wide is not None:
            top = _walk_out(bore, sense, wide, level + 2 * (wide - radius), step)
            if top is not None:
                seats.append(GaugedSeat("counterbore", 2 * wide, top - level, 0.0, 0.0))
                radius, level = wide, top - 1e-4
                continue
        rounded = _round_rim(bore, sense, radius, level, lift)
        if rounded is not None:
            size, level = rounded
            radius += size
            wider = bore.wall(sense * (level + lift))
            if wider is not None and wider < 6 * bore.radius and bore.round_at(sense * (level + lift), wider):
                # The broken edge of a floor inside: what stands around it is a seat.
                level -= 1e-4
                continue
            seats.append(GaugedSeat("round", 2 * radius, size, 0.0, size))
            return level, tuple(seats)
        slope = 0.0 if second is None else (second - first) / lift
        if abs(slope) < 1e-3:
            behind = _groove_end(bore, sense, radius, first, level + lift)
            if behind is not None:
                # An inner groove: the bore goes on behind it.
                level = behind
                continue
            top = _walk_out(bore, sense, first, level + lift, step)
            if top is None:
                return level, tuple(seats)
            seats.append(GaugedSeat("counterbore", 2 * first, top - level, 0.0, 0.0))
            # The depth of a counterbore counts from the opening; settled below.
            radius, level, reached = first, level + lift, top
            continue
        between = bore.wall(sense * (level + 1.5 * lift))
        bent = between is None or second is None or abs(first - 2 * between + second) > 1e-6 * max(1.0, radius)
        if bent or first - radius > max(0.05 * radius, 4 * abs(slope) * lift):
            # Curved walls, and leaning ones far out, are those of what the bore opens into: the inside of a ball, say.
            return level, tuple(seats)
        foot = level - step / slope if slope > 0 else level
        end = max(_cone_end(bore, sense, foot, radius, slope), _cone_top(bore, sense, foot, radius, slope))
        wide = radius + slope * (end - foot)
        angle = 2 * float(np.degrees(np.arctan(slope)))
        seats.append(GaugedSeat("cone", 2 * wide, end - foot, angle, wide - radius))
        radius, level = wide, end - 1e-4
    return level, tuple(seats)


def _filleted_seat(bore: _Bore, sense: float, radius: float, level: float, step: float) -> float | None:
    """Radius of a counterbore whose floor at `level` goes over into its wall by a fillet; None where there is none."""
    hits = [
        bore.rays.hits(bore.point + bore.axis * sense * (level + 5e-3), bore.spoke(a), bore.reach)
        for a in bore.azimuths
    ]
    if not all(hits):
        return None
    low = float(np.median([h[0] for h in hits]))
    if low < radius + max(step, 1e-3 * radius):
        return None
    # From the floor's edge up the wall widens ever less until it stands.
    for rise in (0.05, 0.1, 0.2, 0.4, 0.8):
        first, second = (bore.wall(sense * (level + rise * low * k)) for k in (1.0, 1.15))
        if (
            first is not None
            and second is not None
            and abs(second - first) < 1e-6 * max(1.0, first)
            and first > low + 1e-4
        ):
            return first if _fillet(bore, sense, first, level + rise * low, level) is not None else None
    return None


def _even(exits: list[float], radius: float) -> bool:
    """Whether the levels at which the material ends around a bore lie in one plane, level or tilted; where three of four are
    one the fourth side of a floor is open."""
    if sum(abs(e - float(np.median(exits))) < 1e-6 for e in exits) == len(exits) - 1:
        return True
    turn = np.linspace(0, 2 * np.pi, len(exits), endpoint=False)
    system = np.c_[np.ones(len(exits)), np.cos(turn), np.sin(turn)]
    off = np.array(exits) - system @ np.linalg.lstsq(system, np.array(exits), rcond=None)[0]
    return bool(np.abs(off).max() < max(1e-3, 5e-3 * radius))


def _groove_end(bore: _Bore, sense: float, radius: float, wide: float, level: float) -> float | None:
    """Where a wider piece of wall is closed by a shoulder that leads back to the bore; None where it stays open."""
    ends = []
    for a in bore.azimuths:
        start = bore.point + bore.axis * sense * level + bore.spoke(a) * (radius + wide) / 2
        hits = bore.rays.hits(start, bore.axis * sense, bore.reach)
        if not hits:
            return None
        ends.append(level + hits[0])
    end = _level_at_axis(ends)
    after = bore.wall(sense * (end + max(2e-3, 4e-3 * radius)))
    return end if after is not None and abs(after - radius) < 1e-3 * max(1.0, radius) else None


def _behind_crossing(bore: _Bore, sense: float, radius: float, exits: list[float]) -> float | None:
    """Where the bore goes on behind another one that crosses it; None where it does not, or where what parts it is a
    gap with flat walls wider than the bore is long beside it: a fork has two holes."""
    start, step = max(exits) + 1e-3, max(1e-4, 2e-4 * radius)
    entries = []
    for a in bore.azimuths:
        origin = bore.point + bore.axis * sense * start + bore.spoke(a) * (radius + step)
        hits = bore.rays.hits(origin, bore.axis * sense, bore.reach)
        if not hits:
            return None
        entries.append(start + hits[0])
    beyond = max(entries)
    flat = max(exits) - min(exits) < 1e-3
    if beyond - max(exits) > (bore.length if flat else 12 * radius) and not (
        flat and _rings(bore, sense * (max(exits) + beyond) / 2, radius)
    ):
        return None
    after = bore.wall(sense * (beyond + max(2e-3, 4e-3 * radius)))
    return beyond + step if after is not None and abs(after - radius) < 1e-3 * max(1.0, radius) else None


def _rings(bore: _Bore, z: float, radius: float) -> bool:
    """Whether a groove surrounds the bore at `z`: one wall all around, not much wider than the bore (a fork is open)."""
    met = bore.walls(z)
    return len(met) == len(bore.azimuths) and max(met) - min(met) < 1e-3 * max(1.0, radius) and met[0] < 2 * radius


def _walk_out(bore: _Bore, sense: float, radius: float, level: float, step: float) -> float | None:
    """The level at the axis of the face that a wall of this radius ends at; None where the wall stands at less than one
    opposite pair of places."""
    exits: list[float | None] = []
    for a in bore.azimuths:
        wall = bore.rays.hits(bore.point + bore.axis * sense * level, bore.spoke(a), bore.reach)
        start = bore.point + bore.axis * sense * level + bore.spoke(a) * (radius + step)
        hits = bore.rays.hits(start, bore.axis * sense, bore.reach)
        standing = bool(wall) and abs(wall[0] - radius) < 1e-3 * max(1.0, radius)
        exits.append(level + hits[0] if hits and standing else None)
    pairs = [(a + b) / 2 for a, b in ((exits[0], exits[2]), (exits[1], exits[3])) if a is not None and b is not None]
    known = [e for e in exits if e is not None]
    return None if not pairs else _level_at_axis(known) if len(known) == len(exits) else pairs[0]


def _cone_end(bore: _Bore, sense: float, foot: float, radius: float, slope: float) -> float:
    """Where the wall stops following a cone, by halving."""

    def on_cone(z: float) -> bool:
        return bore.follows(sense * z, radius + slope * (z - foot), 1e-3 * max(1.0, radius))

    lo, hi = foot, foot + 1e-3
    while hi - foot < 4 * bore.length + 8 * radius and on_cone(hi):
        lo, hi = hi, foot + (hi - foot) * 2
    for _ in range(40):
        middle = (lo + hi) / 2
        lo, hi = (middle, hi) if on_cone(middle) else (lo, middle)
    return lo


def _cone_top(bore: _Bore, sense: float, foot: float, radius: float, slope: float) -> float:
    """How far the edges of a conical seat reach: in a round wall it ends higher along the wall than across it."""
    tops = [foot]
    for face in bore.solid.faces:
        if face.kind != "cone" or abs(float(face.axis @ bore.axis)) < 1 - 1e-6:
            continue
        rel = np.vstack([edge_points(bore.solid, e, 25) for e in face.edges]) - bore.point
        levels = rel @ bore.axis
        off = np.linalg.norm(rel - np.outer(levels, bore.axis), axis=1) - radius - slope * (sense * levels - foot)
        if float(np.abs(off).max()) < 1e-3 * max(1.0, radius):
            tops.append(float((sense * levels).max()))
    return max(tops)


def gauge_hole(solid: Solid, face: int, out: Vec, fixed: bool = False) -> GaugedHole:
    """Measure the hole whose bore wall is `face`; `out` points out of the material at its start, roughly.

    A through hole starts at the end with the larger seat, or, with `fixed`, where `out` points.
    """
    bore = _Bore(solid, face)
    sense = 1.0 if float(bore.axis @ out) > 0 else -1.0
    floors = {s: _floor(bore, s) for s in (sense, -sense)}
    if floors[sense] is not None and floors[-sense] is None:
        sense = -sense
    floor = floors[-sense]
    opening, near = _opened(bore, face, sense)
    if floor is not None:
        end, point = floor
        start = bore.point + bore.axis * sense * opening
        return GaugedHole(
            bore.point, bore.axis * sense, 2 * bore.radius, False, opening + end, _from_opening(near), (), start, point
        )
    other, far = _opened(bore, face, -sense)
    near, far = _from_opening(near), _from_opening(far)
    if not fixed and _weight(far) > _weight(near):
        near, far, sense, opening = far, near, -sense, other
    start = bore.point + bore.axis * sense * opening
    return GaugedHole(bore.point, bore.axis * sense, 2 * bore.radius, True, None, near, far, start)


def _opened(bore: _Bore, face: int, sense: float) -> tuple[float, tuple[GaugedSeat, ...]]:
    """The opening's distance from the middle where the axis meets the outside, and the seats from the bore outwards. In a
    round wall the depth of a counterbore counts from there too."""
    level, seats = _seats(bore, sense)
    outer = face if not seats else _seat_wall(bore, sense, level, seats[-1])
    if outer is None:
        return level, seats
    radius = seats[-1].diameter / 2 if seats else bore.radius
    opening = _on_a_round(bore, outer, sense, level, radius)
    if seats and seats[-1].kind == "counterbore":
        last = replace(seats[-1], depth=seats[-1].depth + opening - level)
        seats = (*seats[:-1], last)
    return opening, seats


def _seat_wall(bore: _Bore, sense: float, level: float, seat: GaugedSeat) -> int | None:
    """The wall of the outermost seat, where it is a counterbore or a cone."""
    for face in bore.solid.faces:
        if face.kind not in ("cylinder", "cone") or abs(float(face.axis @ bore.axis)) < 1 - 1e-6:
            continue
        rel = np.vstack([edge_points(bore.solid, e) for e in face.edges]) - bore.point
        levels = rel @ bore.axis
        wide = float(np.linalg.norm(rel - np.outer(levels, bore.axis), axis=1).max())
        if (
            abs(wide - seat.diameter / 2) < 1e-3
            and abs(float((sense * levels).max()) - level) < 0.6 * seat.diameter / 2
        ):
            return face.index
    return None


def _on_a_round(bore: _Bore, face: int, sense: float, level: float, wide: float) -> float:
    """Where the axis meets the round surface that a wall opens to; the level of its mouth where that is another one."""
    solid = bore.solid
    for _, other in solid.neighbours[face]:
        outside = solid.faces[other]
        if outside.kind == "cone" and not outside.inner:
            meets = _between_exits(bore, outside.axis, sense, wide)
            if meets is not None and abs(meets - level) < 0.6 * wide:
                return meets
        if outside.kind != "cylinder" or outside.inner:
            continue
        centre, axis, radius, _ = fit_cylinder(solid, other)
        way, rel = bore.axis * sense, bore.point - centre
        a, b = way - axis * float(way @ axis), rel - axis * float(rel @ axis)
        p, q, r = float(a @ a), 2 * float(a @ b), float(b @ b) - radius**2
        room = q * q - 4 * p * r
        if p < 1e-9 or room < 0:
            continue
        meets = (-q + np.sqrt(room)) / (2 * p)
        if abs(meets - level) < 0.6 * wide:
            return float(meets)
    return level


def _between_exits(bore: _Bore, along: Vec, sense: float, wide: float) -> float | None:
    """Where the axis meets a tapered wall: midway between where the bore ends above and below it along the wall, which is
    straight there."""
    way = along - bore.axis * float(along @ bore.axis)
    if float(np.linalg.norm(way)) < 0.1:
        return None
    way = way / np.linalg.norm(way)
    ends = []
    for side in (1.0, -1.0):
        start = bore.point + way * side * (wide + max(1e-4, 2e-4 * wide))
        hits = bore.rays.hits(start, bore.axis * sense, bore.reach)
        if not hits:
            return None
        ends.append(hits[0])
    return float(np.mean(ends))


def _weight(seats: tuple[GaugedSeat, ...]) -> tuple[bool, float]:
    """Rims weigh less than real seats; the larger seat wins."""
    real = [
        s for s in seats if s.kind == "counterbore" or (s.kind == "cone" and s.leg > 0.15 * (s.diameter - 2 * s.leg))
    ]
    return (bool(real), max((s.diameter for s in seats), default=0.0))


def _from_opening(seats: tuple[GaugedSeat, ...]) -> tuple[GaugedSeat, ...]:
    """Counterbore depths counted from the opening: each includes what lies outside it."""
    total = 0.0
    out = []
    for seat in reversed(seats):
        total += seat.depth
        deep = total if seat.kind == "counterbore" else seat.depth
        out.append(GaugedSeat(seat.kind, seat.diameter, deep, seat.angle, seat.leg))
    return tuple(out)
