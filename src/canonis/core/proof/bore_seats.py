"""What a bore widens to at its ends: counterbores, countersinks, rims, grooves between them, as rays meet them."""

from itertools import pairwise

import numpy as np

from canonis.core.proof.bore_floors import circle_of, fillet_of
from canonis.core.proof.bored import Bore, GaugedSeat
from canonis.core.solid import edge_points
from canonis.core.tolerances import FINE, NOISE, SAME, parallel, same

__all__ = ["seats_of"]

#: Seats, grooves and crossings that a bore is followed through.
_MOST_STEPS = 8


def _level_at_axis(exits: list[float]) -> float:
    """The exit level at the axis from those of two opposite pairs; the median where they disagree."""
    a, b = (exits[0] + exits[2]) / 2, (exits[1] + exits[3]) / 2
    return a if same(a, b) else float(np.median(exits))


def _round_rim(bore: Bore, sense: float, radius: float, level: float, lift: float) -> tuple[float, float] | None:
    """Radius of a round that breaks the rim, and the level where it ends; None when the wall does not open so."""
    heights = [level + lift * k for k in (1, 2, 3, 4)]
    walls = [bore.wall(sense * z) for z in heights]
    opened = [w - radius for w in walls if w is not None]
    if len(opened) < 4 or opened[0] <= 0 or not all(b > a for a, b in pairwise(opened)):
        return None
    circle = circle_of(opened, heights)
    if circle is None or not max(5e-3, 1e-3 * bore.radius) < circle[0] < 4 * bore.radius:
        return None
    size, start = circle
    return size, start + size


def _exits(bore: Bore, sense: float, level: float, radius: float) -> list[float]:
    """Where rays along a bore, so far from its axis, leave the material, as distances from its middle."""
    found = []
    for a in bore.azimuths:
        start = bore.point + bore.axis * sense * level + bore.spoke(a) * radius
        hits = bore.rays.hits(start, bore.axis * sense, bore.reach)
        if hits:
            found.append(level + hits[0])
    return found


def _goes_on(bore: Bore, level: float, wall: float | None) -> bool:
    """Whether the wall that a bore has at a level runs all around it, and is not too far out to be of it."""
    return wall is not None and wall <= 6 * bore.radius and bore.round_at(level, wall)


def _cone(bore: Bore, sense: float, radius: float, slope: float, foot: float) -> tuple[GaugedSeat, float]:
    """A cone that begins at a level, and where it ends."""
    end = max(_cone_end(bore, sense, foot, radius, slope), _cone_top(bore, sense, foot, radius, slope))
    wide = radius + slope * (end - foot)
    angle = 2 * float(np.degrees(np.arctan(slope)))
    return GaugedSeat("cone", 2 * wide, end - foot, angle, wide - radius), end


def seats_of(bore: Bore, sense: float) -> tuple[float, tuple[GaugedSeat, ...]]:
    """The opening's distance from the middle, and the seats from the bore outwards."""
    seats: list[GaugedSeat] = []
    radius, level, reached = bore.radius, 0.0, 0.0
    for _ in range(_MOST_STEPS):
        # Walk out through the material just beside the wall until it ends.
        step = max(1e-4, 2e-4 * radius)
        exits = _exits(bore, sense, level, radius + step)
        if len(exits) < len(bore.azimuths):
            # A seat that is open on one side ends there.
            return max(level, reached), tuple(seats)
        level = _level_at_axis(exits)
        lift = max(2e-3, 4e-3 * radius)
        first, second = (bore.wall(sense * (level + k * lift)) for k in (1, 2))
        behind = _behind_crossing(bore, sense, radius, exits) if not seats else None
        if behind is not None:
            level = behind
            continue
        if first is None or not _even(exits, radius) or not _goes_on(bore, sense * (level + lift), first):
            # A mouth that is not flat opens into another bore or a round wall: no seat stands there.
            break
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
            if _goes_on(bore, sense * (level + lift), bore.wall(sense * (level + lift))):
                # The broken edge of a floor inside: what stands around it is a seat.
                level -= 1e-4
                continue
            seats.append(GaugedSeat("round", 2 * radius, size, 0.0, size))
            break
        slope = 0.0 if second is None else (second - first) / lift
        if abs(slope) < SAME:
            behind = _groove_end(bore, sense, radius, first, level + lift)
            if behind is not None:
                level = behind  # an inner groove: the bore goes on behind it
                continue
            top = _walk_out(bore, sense, first, level + lift, step)
            if top is None:
                break
            seats.append(GaugedSeat("counterbore", 2 * first, top - level, 0.0, 0.0))
            # The depth of a counterbore counts from the opening; settled below.
            radius, level, reached = first, level + lift, top
            continue
        between = bore.wall(sense * (level + 1.5 * lift))
        bent = between is None or second is None or abs(first - 2 * between + second) > 1e-6 * max(1.0, radius)
        if bent or first - radius > max(0.05 * radius, 4 * abs(slope) * lift):
            # Curved walls, and leaning ones far out, are those of what the bore opens into: the inside of a ball, say.
            break
        cone, end = _cone(bore, sense, radius, slope, level - step / slope if slope > 0 else level)
        seats.append(cone)
        radius, level = cone.diameter / 2, end - 1e-4
    return level, tuple(seats)


def _filleted_seat(bore: Bore, sense: float, radius: float, level: float, step: float) -> float | None:
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
            and first > low + FINE
        ):
            return first if fillet_of(bore, sense, first, level + rise * low, level) is not None else None
    return None


def _even(exits: list[float], radius: float) -> bool:
    """Whether the levels at which the material ends around a bore lie in one plane, level or tilted; where three of four are
    one the fourth side of a floor is open."""
    if sum(same(e, float(np.median(exits)), NOISE) for e in exits) == len(exits) - 1:
        return True
    turn = np.linspace(0, 2 * np.pi, len(exits), endpoint=False)
    system = np.c_[np.ones(len(exits)), np.cos(turn), np.sin(turn)]
    off = np.array(exits) - system @ np.linalg.lstsq(system, np.array(exits), rcond=None)[0]
    return bool(np.abs(off).max() < max(1e-3, 5e-3 * radius))


def _groove_end(bore: Bore, sense: float, radius: float, wide: float, level: float) -> float | None:
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


def _behind_crossing(bore: Bore, sense: float, radius: float, exits: list[float]) -> float | None:
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
    flat = max(exits) - min(exits) < SAME
    if beyond - max(exits) > (bore.length if flat else 12 * radius) and not (
        flat and _rings(bore, sense * (max(exits) + beyond) / 2, radius)
    ):
        return None
    after = bore.wall(sense * (beyond + max(2e-3, 4e-3 * radius)))
    return beyond + step if after is not None and abs(after - radius) < 1e-3 * max(1.0, radius) else None


def _rings(bore: Bore, z: float, radius: float) -> bool:
    """Whether a groove surrounds the bore at `z`: one wall all around, not much wider than the bore (a fork is open)."""
    met = bore.walls(z)
    return len(met) == len(bore.azimuths) and max(met) - min(met) < 1e-3 * max(1.0, radius) and met[0] < 2 * radius


def _walk_out(bore: Bore, sense: float, radius: float, level: float, step: float) -> float | None:
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


def _cone_end(bore: Bore, sense: float, foot: float, radius: float, slope: float) -> float:
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


def _cone_top(bore: Bore, sense: float, foot: float, radius: float, slope: float) -> float:
    """How far the edges of a conical seat reach: in a round wall it ends higher along the wall than across it."""
    tops = [foot]
    for face in bore.solid.faces:
        if face.kind != "cone" or not parallel(face.axis, bore.axis):
            continue
        rel = np.vstack([edge_points(bore.solid, e, 25) for e in face.edges]) - bore.point
        levels = rel @ bore.axis
        off = np.linalg.norm(rel - np.outer(levels, bore.axis), axis=1) - radius - slope * (sense * levels - foot)
        if float(np.abs(off).max()) < 1e-3 * max(1.0, radius):
            tops.append(float((sense * levels).max()))
    return max(tops)
