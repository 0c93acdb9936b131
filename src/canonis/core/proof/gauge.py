"""Holes measured afresh by rays: bore, ends and every seat, without looking at the recogniser's work."""

from dataclasses import dataclass, replace

import numpy as np

from canonis.core.proof.bore_floors import floor_of
from canonis.core.proof.bore_seats import seats_of
from canonis.core.proof.bored import Bore, GaugedSeat
from canonis.core.solid import Solid, Vec, edge_points, fit_cylinder
from canonis.core.tolerances import NOTHING, parallel, same

__all__ = ["GaugedHole", "gauge_hole"]


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


def gauge_hole(solid: Solid, face: int, out: Vec, fixed: bool = False) -> GaugedHole:
    """Measure the hole whose bore wall is `face`; `out` points out of the material at its start, roughly.

    A through hole starts at the end with the larger seat, or, with `fixed`, where `out` points.
    """
    bore = Bore(solid, face)
    sense = 1.0 if float(bore.axis @ out) > 0 else -1.0
    floors = {s: floor_of(bore, s) for s in (sense, -sense)}
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


def _opened(bore: Bore, face: int, sense: float) -> tuple[float, tuple[GaugedSeat, ...]]:
    """The opening's distance from the middle where the axis meets the outside, and the seats from the bore outwards. In a
    round wall the depth of a counterbore counts from there too."""
    level, seats = seats_of(bore, sense)
    outer = face if not seats else _seat_wall(bore, sense, level, seats[-1])
    if outer is None:
        return level, seats
    radius = seats[-1].diameter / 2 if seats else bore.radius
    opening = _on_a_round(bore, outer, sense, level, radius)
    if seats and seats[-1].kind == "counterbore":
        last = replace(seats[-1], depth=seats[-1].depth + opening - level)
        seats = (*seats[:-1], last)
    return opening, seats


def _seat_wall(bore: Bore, sense: float, level: float, seat: GaugedSeat) -> int | None:
    """The wall of the outermost seat, where it is a counterbore or a cone."""
    for face in bore.solid.faces:
        if face.kind not in ("cylinder", "cone") or not parallel(face.axis, bore.axis):
            continue
        rel = np.vstack([edge_points(bore.solid, e) for e in face.edges]) - bore.point
        levels = rel @ bore.axis
        wide = float(np.linalg.norm(rel - np.outer(levels, bore.axis), axis=1).max())
        if same(wide, seat.diameter / 2) and abs(float((sense * levels).max()) - level) < 0.6 * seat.diameter / 2:
            return face.index
    return None


def _on_a_round(bore: Bore, face: int, sense: float, level: float, wide: float) -> float:
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
        if p < NOTHING or room < 0:
            continue
        meets = (-q + np.sqrt(room)) / (2 * p)
        if abs(meets - level) < 0.6 * wide:
            return float(meets)
    return level


def _between_exits(bore: Bore, along: Vec, sense: float, wide: float) -> float | None:
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
