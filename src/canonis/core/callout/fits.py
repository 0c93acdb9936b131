"""Limits of size from a fit code such as H7 or g6 (ISO 286-1:2010, tables 1 to 5, sizes up to 500 mm)."""

import re
from bisect import bisect_left
from fractions import Fraction

from canonis.core.faults import BadInput

__all__ = ["FIT_PATTERN", "fit_limits"]

#: Fit codes as written: letters and grade, upper case for holes, lower case for shafts.
FIT_PATTERN = r"(?:JS|[A-HKMNPRS]|js|[a-hkmnprs])\d{1,2}"

_BOUNDS = (3, 6, 10, 18, 30, 50, 80, 120, 180, 250, 315, 400, 500)
#: Standard tolerances, µm, by grade and size range (ISO 286-1 table 1).
_GRADES: dict[int, tuple[int, ...]] = {
    4: (3, 4, 4, 5, 6, 7, 8, 10, 12, 14, 16, 18, 20),
    5: (4, 5, 6, 8, 9, 11, 13, 15, 18, 20, 23, 25, 27),
    6: (6, 8, 9, 11, 13, 16, 19, 22, 25, 29, 32, 36, 40),
    7: (10, 12, 15, 18, 21, 25, 30, 35, 40, 46, 52, 57, 63),
    8: (14, 18, 22, 27, 33, 39, 46, 54, 63, 72, 81, 89, 97),
    9: (25, 30, 36, 43, 52, 62, 74, 87, 100, 115, 130, 140, 155),
    10: (40, 48, 58, 70, 84, 100, 120, 140, 160, 185, 210, 230, 250),
    11: (60, 75, 90, 110, 130, 160, 190, 220, 250, 290, 320, 360, 400),
    12: (100, 120, 150, 180, 210, 250, 300, 350, 400, 460, 520, 570, 630),
    13: (140, 180, 220, 270, 330, 390, 460, 540, 630, 720, 810, 890, 970),
    14: (250, 300, 360, 430, 520, 620, 740, 870, 1000, 1150, 1300, 1400, 1550),
}
#: Fundamental deviations of shafts, µm, by the ranges above: upper (es) for c to g, lower (ei) for m to p.
_SHAFTS: dict[str, tuple[int, ...]] = {
    "d": (-20, -30, -40, -50, -65, -80, -100, -120, -145, -170, -190, -210, -230),
    "e": (-14, -20, -25, -32, -40, -50, -60, -72, -85, -100, -110, -125, -135),
    "f": (-6, -10, -13, -16, -20, -25, -30, -36, -43, -50, -56, -62, -68),
    "g": (-2, -4, -5, -6, -7, -9, -10, -12, -14, -15, -17, -18, -20),
    "h": (0,) * 13,
    "k": (0, 1, 1, 1, 2, 2, 2, 3, 3, 4, 4, 4, 5),
    "m": (2, 4, 6, 7, 8, 9, 11, 13, 15, 17, 20, 21, 23),
    "n": (4, 8, 10, 12, 15, 17, 20, 23, 27, 31, 34, 37, 40),
    "p": (6, 12, 15, 18, 22, 26, 32, 37, 43, 50, 56, 62, 68),
}
#: Letters whose deviations step more finely: bounds and µm.
_FINE_BOUNDS = (3, 6, 10, 18, 30, 40, 50, 65, 80, 100, 120, 140, 160, 180, 200, 225, 250, 280, 315, 355, 400, 450, 500)
_FINE: dict[str, tuple[int, ...]] = {
    "c": (-60, -70, -80, -95, -110, -120, -130, -140, -150, -170, -180, -200, -210, -230, -240, -260, -280, -300, -330,
          -360, -400, -440, -480),
    "r": (10, 15, 19, 23, 28, 34, 34, 41, 43, 51, 54, 63, 65, 68, 77, 80, 84, 94, 98, 108, 114, 126, 132),
    "s": (14, 19, 23, 28, 35, 43, 43, 53, 59, 71, 79, 92, 100, 108, 122, 130, 140, 158, 170, 190, 208, 232, 252),
}  # fmt: skip


def _deviation(letter: str, grade: int, size: Fraction) -> int:
    """The fundamental deviation of a shaft, µm."""
    if letter in _FINE:
        return _FINE[letter][bisect_left(_FINE_BOUNDS, size)]
    if letter == "k" and not 4 <= grade <= 7:
        return 0
    return _SHAFTS[letter][bisect_left(_BOUNDS, size)]


def fit_limits(code: str, nominal_mm: Fraction) -> tuple[Fraction, Fraction]:
    """Lower and upper limit of size, mm, of a nominal size with a fit code.

    Raises BadInput for a letter, grade or size that the tables do not cover.
    """
    found = re.fullmatch(r"([A-Za-z]{1,2})(\d{1,2})", code)
    letter, grade = (found.group(1), int(found.group(2))) if found else ("", 0)
    shaft = letter.lower()
    if grade not in _GRADES or (shaft not in _SHAFTS and shaft not in _FINE and shaft != "js"):
        raise BadInput(f"fit {code} is not in the tables; they hold c to h, js, k to s and grades 4 to 14")
    if not 0 < nominal_mm <= 500:
        raise BadInput(f"fit {code} is tabled up to 500 mm; write the limits themselves")
    width = _GRADES[grade][bisect_left(_BOUNDS, nominal_mm)]
    micron = Fraction(1, 1000)
    if shaft == "js":
        return nominal_mm - width * micron / 2, nominal_mm + width * micron / 2
    own = _deviation(shaft, grade, nominal_mm)
    if letter == shaft:
        low, high = (own - width, own) if shaft <= "h" else (own, own + width)
    elif shaft <= "h":
        low, high = -own, -own + width
    else:
        high = -_hole_deviation(shaft, grade, nominal_mm, own)
        low = high - width
    return nominal_mm + low * micron, nominal_mm + high * micron


def _hole_deviation(shaft: str, grade: int, size: Fraction, own: int) -> int:
    """The shaft deviation that a hole K to S mirrors, less the step Δ of fine grades (ISO 286-1, 4.3.2.5)."""
    if shaft == "n" and grade > 8:
        return 4 if size <= 3 else 0
    if shaft == "k" and grade > 8:
        return 0
    if size <= 3:
        return own
    if shaft == "m" and grade == 6 and 250 < size <= 315:
        return 9
    fine = grade <= (8 if shaft in "kmn" else 7)
    step = 0
    if fine and grade - 1 in _GRADES:
        k = bisect_left(_BOUNDS, size)
        step = _GRADES[grade][k] - _GRADES[grade - 1][k]
    return own - step
