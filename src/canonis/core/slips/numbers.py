"""What people do to a number: each slip says what would have been written for a size that was meant."""

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise

__all__ = ["NumberSlip", "number_slips", "swapped_digits"]

#: Millimetres in an inch.
_INCH = Fraction(254, 10)


@dataclass(frozen=True)
class NumberSlip:
    """A slip that turns what was meant into what was written: its kind (S… of the field guide), words and weight."""

    kind: str
    words: str
    weight: float


def swapped_digits(typed: str) -> list[str]:
    """The numbers that a swap of two neighbouring digits would turn into `typed`."""
    out = []
    places = [k for k, c in enumerate(typed) if c.isdigit()]
    for i, j in pairwise(places):
        if j - i <= 2 and typed[i] != typed[j]:
            swapped = list(typed)
            swapped[i], swapped[j] = swapped[j], swapped[i]
            out.append("".join(swapped))
    return out


def _near(a: float, b: float, room: float) -> bool:
    return abs(a - b) <= room + 1e-6 * max(1.0, abs(b))


def _same(text: str, other: str) -> bool:
    try:
        return Fraction(text.replace(",", ".")) == Fraction(other)
    except (ValueError, ZeroDivisionError):
        return False


def number_slips(
    written: float,
    meant: float,
    *,
    angle: bool = False,
    typed: str = "",
    decimal: tuple[str, str] | None = None,
    fraction: Fraction | None = None,
    room: float = 0.0,
) -> Iterator[NumberSlip]:
    """Slips that turn `meant` into `written` (mm, or degrees with `angle`), the likeliest first.

    `typed` is the text that was written, `decimal` both sizes as decimals in its unit, `fraction` how far they are apart
    there; `room` is what the written form may be off by.
    """
    found = []

    def when(fits: bool, kind: str, words: str, weight: float) -> None:
        if fits:
            found.append(NumberSlip(kind, words, weight))

    if angle:
        when(_near(written, 90 - meant, room), "S08", "the complementary angle", 5.0)
        when(_near(written, 180 - meant, room), "S08", "the supplementary angle", 4.5)
    elif meant > 0:
        inch = float(_INCH)
        mixed = _near(written, meant * inch, room) or _near(written * inch, meant, room * inch)
        when(mixed, "S06", "inches and millimetres mixed", 6.0)
        when(_near(written, meant * 10, room) or _near(written * 10, meant, room * 10), "S07", "a factor of ten", 5.5)
        when(_near(written, meant / 2, room), "S05", "a half written for the whole, or a radius for a diameter", 5.0)
        when(_near(written, meant * 2, room), "S05", "a whole written for its half, or a diameter for a radius", 5.0)
    if typed and decimal is not None:
        a, b = decimal
        when("/" not in typed and any(_same(s, b) for s in swapped_digits(typed)), "S01", "two digits swapped", 4.0)
        one = len(a) == len(b) and sum(x != y for x, y in zip(a, b, strict=True)) == 1
        when(one, "S01", "one digit misread", 3.0)
        if fraction is not None:
            small = fraction.denominator in (1, 2, 4, 8, 16, 32, 64) and fraction <= 1
            when("/" in typed and small, "S09", "a slip in the fractions", 2.0)
    yield from sorted(found, key=lambda s: -s.weight)
