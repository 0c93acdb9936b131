"""Holes for screws by size and fit: clearance, counterbore of a cap screw, countersink of a flat head.

Clearance ISO 273 and ASME B18.2.8; counterbores DIN 974-1 row 1 and ASME B18.3; countersinks ISO 15065.
Contracts differ: the sheet names the table, the user may write the sizes instead.
"""

from collections.abc import Mapping
from fractions import Fraction

from canonis.core.faults import BadInput
from canonis.core.quantity import MM_PER_INCH

__all__ = ["FITS", "cap_seat", "clearance", "flat_seat"]

FITS = ("close", "normal", "loose")
_CLEARANCE = {
    "M2": ("2.2", "2.4", "2.6"), "M2.5": ("2.7", "2.9", "3.1"), "M3": ("3.2", "3.4", "3.6"), "M4": ("4.3", "4.5", "4.8"),
    "M5": ("5.3", "5.5", "5.8"), "M6": ("6.4", "6.6", "7"), "M8": ("8.4", "9", "10"), "M10": ("10.5", "11", "12"),
    "M12": ("13", "13.5", "14.5"), "M14": ("15", "15.5", "16.5"), "M16": ("17", "17.5", "18.5"), "M20": ("21", "22", "24"),
    "M24": ("25", "26", "28"), "M30": ("31", "33", "35"),
}  # fmt: skip
_CLEARANCE_INCH = {
    "#4": (".120", ".128", ".144"), "#6": (".144", ".154", ".170"), "#8": (".170", ".180", ".194"), "#10": (".194", ".206", ".221"),
    "1/4": ("17/64", "9/32", "19/64"), "5/16": ("21/64", "11/32", "23/64"), "3/8": ("25/64", "13/32", "27/64"),
    "7/16": ("29/64", "15/32", "31/64"), "1/2": ("17/32", "9/16", "39/64"), "5/8": ("21/32", "11/16", "47/64"),
    "3/4": ("25/32", "13/16", "29/32"),
}  # fmt: skip
#: Cap screw seats: diameter and depth.
_CAP = {
    "M3": ("6.5", "3.4"),
    "M4": ("8", "4.4"),
    "M5": ("10", "5.4"),
    "M6": ("11", "6.4"),
    "M8": ("15", "8.6"),
    "M10": ("18", "10.6"),
    "M12": ("20", "12.6"),
    "M16": ("26", "16.6"),
    "M20": ("33", "20.6"),
}
_CAP_INCH = {
    "#4": ("7/32", ".112"),
    "#6": ("9/32", ".138"),
    "#8": ("5/16", ".164"),
    "#10": ("3/8", ".190"),
    "1/4": ("7/16", "1/4"),
    "5/16": ("17/32", "5/16"),
    "3/8": ("5/8", "3/8"),
    "7/16": ("23/32", "7/16"),
    "1/2": ("13/16", "1/2"),
    "5/8": ("1", "5/8"),
    "3/4": ("19/16", "3/4"),
}
#: Flat head seats, 90°: diameter.
_FLAT = {"M3": "6.3", "M4": "9.4", "M5": "10.4", "M6": "12.6", "M8": "17.3", "M10": "20"}


def _mm(size: str, value: str) -> Fraction:
    return Fraction(value) if size.startswith("M") else Fraction(value) * MM_PER_INCH


def _known(
    size: str, metric: Mapping[str, tuple[str, ...]], inch: Mapping[str, tuple[str, ...]]
) -> tuple[str, tuple[str, ...]]:
    key = " ".join(size.upper().replace(",", ".").split())
    if key.startswith("NO"):
        key = "#" + key.lstrip("NO. ")
    row = metric.get(key) or inch.get(key)
    if row is None:
        names = ", ".join((*metric, *inch))
        raise BadInput(f"screw {size} is not in this table ({names}); write the diameter")
    return key, row


def clearance(size: str, fit: str = "normal") -> Fraction:
    """Clearance hole for a screw, mm; fit close, normal or loose.

    Raises BadInput for a size that is not tabled.
    """
    key, row = _known(size, _CLEARANCE, _CLEARANCE_INCH)
    return _mm(key, row[FITS.index(fit)])


def cap_seat(size: str) -> tuple[Fraction, Fraction]:
    """Counterbore diameter and depth for a hexagon socket cap screw, mm.

    Raises BadInput for a size that is not tabled.
    """
    key, row = _known(size, _CAP, _CAP_INCH)
    return _mm(key, row[0]), _mm(key, row[1])


def flat_seat(size: str) -> Fraction:
    """Countersink diameter, 90°, for a flat head screw, mm.

    Raises BadInput for a size that is not tabled.
    """
    key, row = _known(size, {k: (v,) for k, v in _FLAT.items()}, {})
    return _mm(key, row[0])
