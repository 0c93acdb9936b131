"""How near a size of the part is to what a line says: exact, rounded, inside limits, a slip of the trade, or just near."""

import re
from dataclasses import dataclass
from fractions import Fraction

import numpy as np
from numpy.typing import NDArray

from canonis.core.callout import Part
from canonis.core.proof.match.prices import PRICES
from canonis.core.quantity import Unit
from canonis.core.slips import swapped_digits
from canonis.core.tolerances import NOISE

__all__ = ["EXACT", "LIMITS", "NEAR", "ROUNDED", "SLIP", "Nearness", "Wanted", "wanted"]

Floats = NDArray[np.float64]
#: How a size stands to a line, the best first.
EXACT, ROUNDED, LIMITS, SLIP, NEAR = range(5)
#: Values nearer than this are equal for whoever reads a print, mm and degrees.
SAME_VALUE = 5e-3
SAME_ANGLE = 2e-2


@dataclass(frozen=True)
class Nearness:
    """How a size stands to a line, what that costs, and the slip that would explain it."""

    state: int
    price: float
    slip: str = ""


@dataclass(frozen=True)
class Wanted:
    """A size of a line: target and limits in mm (or degrees), what its writing may hide, and what a slip would have made
    of it: sizes the model would have, with price and words."""

    target: float
    lower: float | None
    upper: float | None
    rounding: float
    angle: bool
    slips: tuple[tuple[float, float, str], ...]

    @property
    def same(self) -> float:
        """What counts as equal."""
        return SAME_ANGLE if self.angle else SAME_VALUE

    def of(self, size: float) -> Nearness:
        """How one size stands to the line."""
        gap = abs(size - self.target)
        if gap <= self.same:
            return Nearness(EXACT, 0.0)
        if gap <= self.rounding:
            return Nearness(ROUNDED, PRICES.rounded, "rounded")
        if self.inside(size):
            return Nearness(LIMITS, PRICES.off_target, "inside its limits, off the target")
        fit = [s for s in self.slips if abs(s[0] - size) <= max(2e-3, 2e-4 * abs(size))]
        if fit:
            _, price, words = min(fit, key=lambda s: s[1])
            return Nearness(SLIP, price, words)
        ratio = abs(float(np.log(max(size, 1e-6) / max(self.target, 1e-6))))
        return Nearness(NEAR, PRICES.near + PRICES.near_far * min(1.0, 2 * ratio) - 1.5 * (ratio < 0.06))

    def inside(self, size: float) -> bool:
        """Whether a size lies inside the limits of the line, where it has some."""
        if self.lower is None and self.upper is None:
            return False
        return (self.lower is None or size >= self.lower - NOISE) and (self.upper is None or size <= self.upper + NOISE)

    def many(self, sizes: Floats) -> tuple[NDArray[np.int64], Floats]:
        """The same for many sizes at once: states and prices."""
        gap = np.abs(sizes - self.target)
        with np.errstate(divide="ignore"):
            ratio = np.abs(np.log(np.maximum(sizes, 1e-6) / max(self.target, 1e-6)))
        state = np.full(len(sizes), NEAR, dtype=np.int64)
        price = PRICES.near + PRICES.near_far * np.minimum(1.0, 2 * ratio) - 1.5 * (ratio < 0.06)
        for value, cost, _ in self.slips:
            hit = (np.abs(sizes - value) <= np.maximum(2e-3, 2e-4 * np.abs(sizes))) & (price > cost)
            state[hit], price[hit] = SLIP, cost
        if self.lower is not None or self.upper is not None:
            hit = np.ones(len(sizes), dtype=bool)
            if self.lower is not None:
                hit &= sizes >= self.lower - NOISE
            if self.upper is not None:
                hit &= sizes <= self.upper + NOISE
            state[hit], price[hit] = LIMITS, PRICES.off_target
        hit = gap <= self.rounding
        state[hit], price[hit] = ROUNDED, PRICES.rounded
        hit = gap <= self.same
        state[hit], price[hit] = EXACT, 0.0
        return state, price


def wanted(part: Part, unit: Unit) -> Wanted | None:
    """What a part of a characteristic asks of the model; None when it gives no size."""
    if part.nominal is None or part.plain:
        return None
    target = float(part.target if part.target is not None else part.nominal)
    scale = 1.0 if part.angle else 25.4 if (part.unit or unit) is Unit.INCH else 1.0
    rounding = 0.0
    if part.decimals is not None and part.decimals >= 2:
        rounding = 0.51 * 10.0**-part.decimals * scale
    lower = None if part.lower is None else float(part.lower)
    upper = None if part.upper is None else float(part.upper)
    slips = _angle_slips(target) if part.angle else _length_slips(target, part.typed, scale)
    return Wanted(target, lower, upper, rounding, part.angle, tuple(slips))


def _angle_slips(target: float) -> list[tuple[float, float, str]]:
    out = [
        (90 - target, 4.0, "the complementary angle (S08)"),
        (180 - target, 4.5, "the supplementary angle (S08)"),
        (2 * target, 4.5, "twice the angle"),
        (target / 2, 4.5, "half the angle"),
    ]
    return [s for s in out if 0 < s[0] < 180]


def _length_slips(target: float, typed: str, scale: float) -> list[tuple[float, float, str]]:
    inch = scale != 1.0
    out = [
        (2 * target, 4.5, "twice the size: a half written for the whole, or a radius for a diameter (S05)"),
        (target / 2, 4.5, "half the size: a whole written for its half, or a diameter for a radius (S05)"),
        (10 * target, 4.5, "a factor of ten (S07)"),
        (target / 10, 4.5, "a factor of ten (S07)"),
        (25.4 * target, 4.5, "inches and millimetres mixed (S06)"),
        (target / 25.4, 4.5, "inches and millimetres mixed (S06)"),
    ]
    digits = re.sub(r"[^0-9.]", "", (typed or "").split("±")[0].split("+")[0])
    if digits and "/" not in typed and " " not in typed.strip() and digits.count(".") <= 1:
        for text in swapped_digits(digits):
            out.append((float(text) * scale, 4.0, "two digits swapped (S01)"))
        for text, apart in _misread(digits):
            out.append((float(text) * scale, 4.0 if apart == 1 else 5.0, "one digit misread (S01)"))
    if inch:
        for part in (8, 16, 32, 64):
            price = 4.0 if part == 16 else 4.5
            step = float(Fraction(254, 10) / part)
            out += [
                (target + step, price, f"off by 1/{part} in (S09)"),
                (target - step, price, f"off by 1/{part} in (S09)"),
            ]
    else:
        out += [(target + 1, 4.2, "off by one (S01)"), (target - 1, 4.2, "off by one (S01)")]
    return [s for s in out if s[0] > 0]


def _misread(digits: str) -> list[tuple[str, int]]:
    out = []
    for k, c in enumerate(digits):
        if c.isdigit():
            for other in "0123456789":
                if other != c:
                    text = digits[:k] + other + digits[k + 1 :]
                    if text.strip("0."):
                        out.append((text, abs(int(other) - int(c))))
    return out
