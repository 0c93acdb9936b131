"""How sizes are written: in which unit, hole notes in which notation, on a list or on a sheet."""

import re
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from typing import Literal

from canonis.core.callout.deviations import deviations
from canonis.core.callout.part import Part
from canonis.core.quantity import MICROINCH, MM_PER_INCH, Unit, exact_text

__all__ = ["Notation", "Pen"]

#: How hole notes are written: ⌀ ⌴ ⌵ ↧, or DIA CBORE CSK DEEP (a house rule).
Notation = Literal["symbols", "words"]
#: Denominators that the grammar reads as fractions of an inch.
_POWERS = (2, 4, 8, 16, 32, 64, 128)


@dataclass(frozen=True)
class Pen:
    """Writes sizes so that they read back.

    `sheet` writes as a drawing does: fits with their deviations, inches without a leading zero (ASME Y14.5, 1.6.2).
    """

    unit: Unit = Unit.MM
    notation: Notation = "symbols"
    sheet: bool = False

    def across(self, part: Part | None) -> str:
        """A diameter."""
        return f"⌀{self.value(part)}" if self.notation == "symbols" else f"{self.value(part)} DIA"

    def deep(self, part: Part | None) -> str:
        """A depth."""
        return f"↧{self.value(part)}" if self.notation == "symbols" else f"{self.value(part)} DEEP"

    def value(self, part: Part | None) -> str:
        """A size with its own tolerance, limits or fit, and its unit where it is not the pen's; empty for none."""
        if part is None or part.nominal is None:
            return ""
        unit = part.unit or self.unit
        mark = f" {unit}" if part.unit is not None and not part.angle and not part.plain else ""
        if part.limits and part.lower is not None and part.upper is not None:
            return f"{self._plain(part, part.lower, unit)}/{self._plain(part, part.upper, unit)}{mark}"
        text = self._plain(part, part.nominal, unit)
        if part.fit:
            beside = f" {deviations(part, self.unit)}" if self.sheet else ""
            return f"{text} {part.fit}{beside}{mark}"
        if part.tolerance != "own":
            return text + mark
        if part.lower is None or part.upper is None:
            return f"{text}{mark} {'MAX' if part.lower is None else 'MIN'}"
        high, low = part.upper - part.nominal, part.nominal - part.lower
        if part.angle:
            return f"{text} ±{_degrees(high)}"
        plus, minus = (self._plain(part, x, unit, 0) for x in (high, low))
        if unit is Unit.INCH and high != low:
            # Both to the same places (ASME Y14.5); a bare 0 would be read with a fraction after it.
            places = max(len(t.partition(".")[2]) for t in (plus, minus))
            plus, minus = (self._plain(part, x, unit, places) for x in (high, low))
        return f"{text} ±{plus}{mark}" if high == low else f"{text} +{plus} -{minus}{mark}"

    def fine(self, part: Part | None) -> str:
        """A height of a surface texture: micrometres, on an inch sheet microinches; its unit where it is not the pen's."""
        if part is None or part.nominal is None:
            return ""
        inch = (part.unit or self.unit) is Unit.INCH
        mark = "" if part.unit is None else " µin" if inch else " µm"
        return exact_text(part.nominal / MICROINCH if inch else part.nominal) + mark

    def _plain(self, part: Part, value: Fraction, unit: Unit, decimals: int | None = None) -> str:
        """An exact number that the grammar reads: decimal where it ends, else a fraction of a power of two."""
        if part.plain:
            return exact_text(value)
        if part.angle:
            return _degrees(value)
        exact = value / MM_PER_INCH if unit is Unit.INCH else value
        return self._dressed(_number(exact, part.decimals if decimals is None else decimals))

    def _dressed(self, text: str) -> str:
        return re.sub(r"^0(?=\.\d)", "", text) if self.sheet and self.unit is Unit.INCH else text


# A sheet writes the same few numbers again and again, and exact arithmetic is slow.
@lru_cache(maxsize=20_000)
def _number(exact: Fraction, places: int | None) -> str:
    sign, exact = ("-" if exact < 0 else ""), abs(exact)
    whole, left = divmod(exact, 1)
    if places is None and left and left.denominator in _POWERS:
        return f"{sign}{f'{whole} ' if whole else ''}{left.numerator}/{left.denominator}"
    for digits in range(places or 0, 16):
        scaled = exact * 10**digits
        if scaled.denominator == 1:
            head, tail = divmod(scaled.numerator, 10**digits)
            return sign + (f"{head}.{tail:0{digits}d}" if digits else str(head))
    return f"{sign}{float(exact):.9f}"


def _degrees(value: Fraction) -> str:
    for digits in range(7):
        scaled = value * 10**digits
        if scaled.denominator == 1:
            head, tail = divmod(scaled.numerator, 10**digits)
            return f"{head}.{tail:0{digits}d}°" if digits else f"{head}°"
    whole, rest = divmod(value, 1)
    minutes, seconds = divmod(rest * 60, 1)
    return f"{whole}°{minutes}'" + (f'{exact_text(seconds * 60)}"' if seconds else "")
