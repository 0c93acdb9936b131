"""The written form of a length or an angle on a sheet, and reading it back.

Metric sheets: leading zero, no trailing zeros (ISO 129-1). Inch sheets: no leading zero and fixed
places (ASME Y14.5). Angles carry the degree sign.
"""

import math
from decimal import ROUND_HALF_UP, Decimal
from fractions import Fraction

from canonis.core.quantity.units import Unit, from_mm

__all__ = [
    "exact_text",
    "fraction_of",
    "half_last_place",
    "nearest_fraction",
    "places",
    "write_angle",
    "write_length",
    "write_mass",
]

#: Written decimals by unit: a thousandth of a millimetre, a tenth of a thou.
_MOST = {Unit.MM: 3, Unit.INCH: 4}
_LEAST = {Unit.MM: 0, Unit.INCH: 3}


def _round(value: float, digits: int) -> Decimal:
    # A value read from geometry carries noise near 1e-9; strip it before rounding half up.
    return Decimal(repr(round(value, 9))).quantize(Decimal(1).scaleb(-digits), ROUND_HALF_UP)


def places(mm: float, unit: Unit) -> int:
    """The fewest decimals that state `mm` to the style's resolution (0.001 mm or 0.0001 in)."""
    value = from_mm(mm, unit)
    for digits in range(_LEAST[unit], _MOST[unit]):
        if abs(float(_round(value, digits)) - value) < 0.05 * 10 ** -_MOST[unit]:
            return digits
    return _MOST[unit]


def write_length(mm: float, unit: Unit, decimals: int | None = None) -> str:
    """The length `mm` (millimetres) written on a sheet whose unit is `unit`."""
    digits = places(mm, unit) if decimals is None else decimals
    text = f"{_round(from_mm(mm, unit), digits):f}"
    negative, text = text.startswith("-"), text.lstrip("-")
    if unit is Unit.INCH and text.startswith("0."):
        text = text[1:]
    if unit is Unit.MM and decimals is None and "." in text:
        text = text.rstrip("0").rstrip(".")
    zero = not text.strip("0.")
    if zero and unit is Unit.MM:
        text = "0"
    return ("-" if negative and not zero else "") + text


def write_angle(degrees: float) -> str:
    """An angle in decimal degrees, e.g. ``37.5°``."""
    text = f"{_round(degrees, 2):f}".rstrip("0").rstrip(".")
    return f"{text}°"


def write_mass(grams: float | None, unit: Unit) -> str:
    """A mass for the title block: kg or g on metric sheets, lb on inch sheets."""
    if grams is None:
        return "–"
    if unit is Unit.INCH:
        return f"{grams / 453.59237:.3f} lb"
    return f"{grams / 1000:.3f} kg" if grams >= 1000 else f"{grams:.1f} g"


def half_last_place(text: str) -> float:
    """Half a unit of the last written place of a plain number, in the number's own unit.

    >>> half_last_place("12.50")
    0.005
    """
    text = text.strip().rstrip("°")
    if "/" in text:
        return 0.5e-4
    decimals = len(text.split(".")[1]) if "." in text else 0
    return 0.5 * math.pow(10.0, -decimals)


def nearest_fraction(mm: float, unit: Unit, finest: int = 64) -> dict[str, object]:
    """The nearest fraction of an inch to a length: its text, and what is left (mm). On a metric job too, for the
    inch print beside it."""
    inches = mm / 25.4
    steps = round(abs(inches) * finest)
    whole, rest = divmod(steps, finest)
    part = Fraction(rest, finest)
    text = " ".join(t for t in (str(whole) if whole or not rest else "", str(part) if rest else "") if t)
    sign = "-" if inches < 0 and steps else ""
    off = abs(inches) - steps / finest
    return {"text": f"{sign}{text} in", "exact": abs(off) * 25.4 < 1e-6, "off_mm": off * 25.4}


def fraction_of(text: str) -> Fraction:
    """The exact value of a decimal, fraction or mixed number such as ``2 11/16`` or ``.265``."""
    text = text.strip().replace(",", ".")
    sign = -1 if text.startswith("-") else 1
    text = text.lstrip("+-")
    total = Fraction(0)
    for piece in text.replace("-", " ").split():
        total += Fraction(piece if not piece.startswith(".") else "0" + piece)
    return sign * total


def exact_text(value: Fraction, decimals: int | None = None) -> str:
    """An exact number: as a decimal where it ends within six places, with at least `decimals`; else as a fraction.

    >>> exact_text(Fraction(5, 2)), exact_text(Fraction(5, 2), 3), exact_text(Fraction(1, 3))
    ('2.5', '2.500', '1/3')
    """
    sign, size = ("-" if value < 0 else ""), abs(value)
    for places in range(max(0, decimals or 0), 7):
        scaled = size * 10**places
        if scaled.denominator == 1:
            whole, rest = divmod(scaled.numerator, 10**places)
            return f"{sign}{whole}.{rest:0{places}d}" if places else f"{sign}{whole}"
    whole, left = divmod(size, 1)
    if left.denominator > 1000:
        return f"{sign}{float(size):.7g}"
    return f"{sign}{f'{whole} ' if whole else ''}{left.numerator}/{left.denominator}"
