"""A bore as a catalogue of slips sees it: sizes, place and what it takes away, by closed forms."""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

__all__ = ["Bore", "BoreSeat", "taken"]

Vec = NDArray[np.float64]


@dataclass(frozen=True)
class BoreSeat:
    """A counterbore (diameter, depth) or a countersink (diameter, included angle), mm and degrees."""

    kind: str
    diameter: float
    depth: float = 0.0
    angle: float = 0.0


@dataclass(frozen=True, eq=False)
class Bore:
    """A bore from `start` against `axis` (out of the material): `depth` of the full diameter, None when through; `length`
    of the whole; `way_out` is the depth at which it would leave the part, None when it does."""

    start: Vec
    axis: Vec
    diameter: float
    depth: float | None
    length: float
    point_angle: float | None = None
    seats: tuple[BoreSeat, ...] = ()
    far_seats: tuple[BoreSeat, ...] = ()
    way_out: float | None = None


def taken(bore: Bore) -> tuple[float, Vec]:
    """Volume (mm³) and first moment (mm⁴) that a bore takes away."""
    length = bore.depth if bore.depth is not None else bore.length
    r = bore.diameter / 2
    parts: list[tuple[float, float]] = [(math.pi * r * r * length, length / 2)]
    if bore.depth is not None and bore.point_angle:
        tip = r / math.tan(math.radians(bore.point_angle / 2))
        parts.append((math.pi * r * r * tip / 3, length + tip / 4))
    for seats, near in ((bore.seats, True), (bore.far_seats, False)):
        for s in seats:
            big = s.diameter / 2
            if s.kind == "counterbore":
                v, at = math.pi * (big * big - r * r) * s.depth, s.depth / 2
            elif s.kind == "countersink":
                tall = (big - r) / math.tan(math.radians(s.angle / 2))
                v, at = math.pi * tall / 3 * (big * big + big * r + r * r) - math.pi * r * r * tall, tall / 4
            else:
                continue
            parts.append((v, at if near else length - at))
    volume = sum(v for v, _ in parts)
    return volume, sum((v * (bore.start - bore.axis * at) for v, at in parts), np.zeros(3))
