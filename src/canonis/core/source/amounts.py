"""Numbers with what they measure: lengths, areas, volumes, angles, masses. Exact as long as arithmetic allows."""

import math
from dataclasses import dataclass
from fractions import Fraction

from canonis.core.faults import BadInput
from canonis.core.quantity import GRAMS_PER_POUND, MM_PER_INCH, Unit, exact_text

__all__ = ["UNITS", "Amount", "as_length", "matched", "shown", "unit_amount"]

Number = Fraction | float


@dataclass(frozen=True)
class Amount:
    """A value in mm to a power times g to a power, or degrees; a plain number has neither."""

    value: Number
    power: int = 0
    mass: int = 0
    angle: bool = False

    @property
    def plain(self) -> bool:
        """Whether it measures nothing."""
        return not (self.power or self.mass or self.angle)

    @property
    def dims(self) -> tuple[int, int, bool]:
        """What it measures."""
        return self.power, self.mass, self.angle


#: Units by name: size in mm, degrees or grams, and what they measure.
UNITS: dict[str, Amount] = {
    "mm": Amount(Fraction(1), 1),
    "cm": Amount(Fraction(10), 1),
    "m": Amount(Fraction(1000), 1),
    "in": Amount(MM_PER_INCH, 1),
    "inch": Amount(MM_PER_INCH, 1),
    "inches": Amount(MM_PER_INCH, 1),
    '"': Amount(MM_PER_INCH, 1),
    "ft": Amount(12 * MM_PER_INCH, 1),
    "'": Amount(12 * MM_PER_INCH, 1),
    "thou": Amount(MM_PER_INCH / 1000, 1),
    "deg": Amount(Fraction(1), angle=True),
    "degrees": Amount(Fraction(1), angle=True),
    "rad": Amount(180 / math.pi, angle=True),
    "g": Amount(Fraction(1), mass=1),
    "kg": Amount(Fraction(1000), mass=1),
    "lb": Amount(GRAMS_PER_POUND, mass=1),
    "oz": Amount(GRAMS_PER_POUND / 16, mass=1),
}


def unit_amount(text: str) -> Amount:
    """A unit such as mm, in² or cm^3 as an amount."""
    bare = text.replace("²", "2").replace("³", "3").replace("^", "")
    power = int(bare[-1]) if bare[-1] in "23" else 1
    unit = UNITS[bare[:-1] if power > 1 else bare]
    return Amount(unit.value**power, unit.power * power, unit.mass * power, unit.angle)


def as_length(amount: Amount, unit: Unit) -> Amount:
    """A plain number taken as a length in the job's unit."""
    return Amount(amount.value * unit_amount(str(unit)).value, 1) if amount.plain else amount


def matched(a: Amount, b: Amount, unit: Unit) -> tuple[Amount, Amount]:
    """Two amounts that may be added: a plain one takes what the other measures.

    Raises BadInput when they measure different things.
    """
    if a.dims == b.dims:
        return a, b
    if a.plain or b.plain:
        plain, other = (a, b) if a.plain else (b, a)
        if other.angle or other.mass:
            made = Amount(plain.value, other.power, other.mass, other.angle)
        elif other.power > 0:
            made = Amount(plain.value * unit_amount(str(unit)).value ** other.power, other.power)
        else:
            raise BadInput("a plain number cannot be added to that")
        return (made, b) if a.plain else (a, made)
    raise BadInput(f"{_kind(a)} and {_kind(b)} cannot be added")


def _kind(a: Amount) -> str:
    if a.angle:
        return "an angle"
    if a.mass:
        return "a mass"
    return {0: "a number", 1: "a length", 2: "an area", 3: "a volume"}.get(a.power, "that")


def _number(value: Number, places: int) -> str:
    if isinstance(value, Fraction):
        text = exact_text(value)
        if "/" not in text and len(text.split(".")[-1]) <= places:
            return text
        value = float(value)
    return f"{value:.{places}f}".rstrip("0").rstrip(".") or "0"


def shown(a: Amount, unit: Unit, *, fraction: bool = True) -> str:
    """An amount in the job's unit; an inch length also as the fraction it is, if it is one to a 64th."""
    if a.angle:
        return f"{_number(a.value, 5)}°"
    if a.mass:
        if unit is Unit.INCH:
            return f"{_number(a.value / float(GRAMS_PER_POUND), 4)} lb"
        return f"{_number(a.value, 3)} g"
    if not a.power:
        return _number(a.value, 7)
    scale = unit_amount(str(unit)).value ** a.power
    value = a.value / scale
    mark = {1: "", 2: "²", 3: "³"}.get(a.power, f"^{a.power}")
    text = f"{_number(value, 6)} {unit}{mark}"
    if fraction and unit is Unit.INCH and a.power == 1 and isinstance(value, Fraction) and 1 < value.denominator <= 64:
        whole, left = divmod(abs(value), 1)
        sign = "-" if value < 0 else ""
        text += f" ({sign}{f'{whole} ' if whole else ''}{left.numerator}/{left.denominator})"
    return text
