"""What holes take away, by closed forms."""

import math

import numpy as np

from canonis.core.features.model import Hole
from canonis.core.solid.model import Vec

__all__ = ["hole_volume"]


def _cone(d: float, angle: float) -> float:
    """Volume of a drill point, mm³."""
    return math.pi * d**3 / 24 / math.tan(math.radians(angle / 2)) if angle else 0.0


def hole_volume(h: Hole) -> tuple[float, Vec]:
    """Volume (mm³) and first moment (mm⁴) that a hole takes away, by closed forms."""
    inward = -h.axis
    length = h.depth if h.depth is not None else h.length
    parts: list[tuple[float, float]] = [(math.pi / 4 * h.diameter**2 * length, length / 2)]
    if h.depth is not None and h.point_angle:
        tip = h.diameter / 2 / math.tan(math.radians(h.point_angle / 2))
        parts.append((_cone(h.diameter, h.point_angle), length + tip / 4))
    for seats, near in ((h.seats, True), (h.far_seats, False)):
        for s in seats:
            if s.kind == "counterbore":
                v, at = math.pi / 4 * (s.diameter**2 - h.diameter**2) * s.depth, s.depth / 2
            elif s.kind == "countersink":
                big, small = s.diameter / 2, h.diameter / 2
                tall = (big - small) / math.tan(math.radians(s.angle / 2))
                v = math.pi * tall / 3 * (big * big + big * small + small * small) - math.pi * small**2 * tall
                at = tall / 4
            else:
                continue
            parts.append((v, at if near else length - at))
    volume = sum(v for v, _ in parts)
    moment = sum((v * (h.start + inward * at) for v, at in parts), np.zeros(3))
    return volume, moment
