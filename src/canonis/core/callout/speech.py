"""How sizes are spoken, so that a drafter sees what was understood."""

from dataclasses import dataclass
from fractions import Fraction

from canonis.core.callout.part import Part
from canonis.core.quantity import MM_PER_INCH, Unit, exact_text

__all__ = ["Speech", "number_of", "tolerance_words"]

_NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")


def number_of(n: int) -> str:
    """A count in words, up to twelve."""
    return _NUMBERS[n] if n < len(_NUMBERS) else str(n)


@dataclass(frozen=True)
class Speech:
    """Speaks of so many things in a unit: `lead` is their number and a space where they are several, `s` the plural's ending."""

    unit: Unit
    count: int = 1

    @property
    def lead(self) -> str:
        """The number of several and a space; empty for one."""
        return f"{number_of(self.count)} " if self.count > 1 else ""

    @property
    def first(self) -> str:
        """The number, also of one, and a space."""
        return self.lead or "one "

    @property
    def s(self) -> str:
        """The ending of a plural."""
        return "s" if self.count > 1 else ""

    def size(self, part: Part | None) -> str:
        """A size with its tolerance."""
        if part is None or part.nominal is None:
            return "?"
        text = self.number(part, part.nominal)
        if part.lower is not None and part.upper is not None:
            low, high = part.nominal - part.lower, part.upper - part.nominal
            plain = part.model_copy(update={"decimals": 0})
            if part.limits:
                return f"{self.number(plain, part.lower)} to {self.number(plain, part.upper)}"
            if part.tolerance == "fit":
                return f"{text} {part.fit} ({self.number(plain, part.lower)} to {self.number(plain, part.upper)})"
            if part.tolerance == "own":
                if low == high:
                    return f"{text} ±{self.number(plain, high)}"
                return f"{text} +{self.number(plain, high)} −{self.number(plain, low)}"
            return text
        if part.tolerance == "own":
            return f"{text} at {'most' if part.upper is not None else 'least'}"
        return text

    def number(self, part: Part, value: Fraction) -> str:
        """A value of a part in the unit, or in the one that was typed, which is then named."""
        if part.plain:
            return exact_text(value)
        if part.angle:
            return f"{exact_text(value)}°"
        shown = part.unit if part.unit is not None and not part.table else self.unit
        exact = value / MM_PER_INCH if shown is Unit.INCH else value
        if shown is Unit.INCH and part.decimals is None and exact.denominator in (2, 4, 8, 16, 32, 64, 128):
            whole, left = divmod(exact, 1)
            text = f"{f'{whole} ' if whole else ''}{left.numerator}/{left.denominator}"
        else:
            text = exact_text(exact, None if part.decimals is None else min(part.decimals, 6))
        return f"{text} {shown}" if shown is not self.unit else text


def tolerance_words(part: Part | None, unit: Unit) -> str:
    """The tolerance of a size, with where it comes from: `±0.3 general`, `own`, `fit H7`; empty for none."""
    if part is None or part.tolerance is None or part.nominal is None:
        return ""
    if part.tolerance == "general" and part.upper is not None:
        plain = part.model_copy(update={"decimals": 0})
        return f"±{Speech(unit).number(plain, part.upper - part.nominal)} general"
    return f"fit {part.fit}" if part.tolerance == "fit" else "own tolerance"
