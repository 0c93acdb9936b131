"""Length units and their exact conversion."""

from enum import StrEnum
from fractions import Fraction

__all__ = ["MICROINCH", "MM_PER_INCH", "Unit", "from_mm", "to_mm"]

#: 1 in = 25.4 mm exactly (international inch, 1959).
MM_PER_INCH = Fraction(254, 10)
#: A microinch in micrometres.
MICROINCH = MM_PER_INCH / 1000
#: 1 lb = 453.59237 g exactly.
GRAMS_PER_POUND = Fraction(45359237, 100000)


class Unit(StrEnum):
    """A length unit a job or a sheet can be written in."""

    MM = "mm"
    INCH = "in"


def to_mm(value: Fraction, unit: Unit) -> Fraction:
    """Exact millimetres of a length given in `unit`."""
    return value * MM_PER_INCH if unit is Unit.INCH else value


def from_mm(value: float, unit: Unit) -> float:
    """A length in millimetres expressed in `unit`."""
    return value / float(MM_PER_INCH) if unit is Unit.INCH else value
