"""Naming the likely slip behind numbers that do not agree (a catalogue of what people do)."""

from collections.abc import Sequence
from fractions import Fraction
from itertools import pairwise
from typing import Any

from canonis.core.quantity.units import MM_PER_INCH, Unit
from canonis.core.source.strip import Distance
from canonis.core.source.words import exact_text

__all__ = ["likely_slip", "swapped_digits"]


def _near(a: Fraction, b: Fraction) -> bool:
    return abs(float(a - b)) < 1e-6 * max(1.0, abs(float(b)))


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


def _reasons(member: Distance, right: Fraction, unit: Unit) -> list[tuple[float, str]]:
    """(weight, reason) of the slips that turn the size a loop wants (`right`, mm) into the one that was written."""
    assert member.size is not None
    wrong, out = member.size, []
    if right <= 0:
        return []
    scale = MM_PER_INCH if unit is Unit.INCH else Fraction(1)
    if _near(wrong, right / 2):
        out.append((5.0, "a half written for the whole"))
    if _near(wrong, right * 2):
        out.append((5.0, "a whole written for its half, or a half doubled"))
    if _near(wrong, right * MM_PER_INCH) or _near(wrong * MM_PER_INCH, right):
        out.append((6.0, "inches and millimetres mixed"))
    if _near(wrong, right * 10) or _near(wrong * 10, right):
        out.append((5.5, "a factor of ten"))
    decimal = exact_text(right / scale)
    if "/" not in member.typed and any(_same_number(s, decimal) for s in swapped_digits(member.typed)):
        out.append((4.0, "two digits swapped"))
    a, b = exact_text(wrong / scale), exact_text(right / scale)
    if len(a) == len(b) and sum(x != y for x, y in zip(a, b, strict=True)) == 1:
        out.append((3.0, "one digit misread"))
    ratio = abs(wrong - right) / scale
    if "/" in member.typed and ratio.denominator in (1, 2, 4, 8, 16, 32, 64) and ratio <= 1:
        out.append((2.0, "a slip in the fractions"))
    return out


def _same_number(text: str, other: str) -> bool:
    try:
        return Fraction(text.replace(",", ".")) == Fraction(other)
    except (ValueError, ZeroDivisionError):
        return False


def likely_slip(
    members: Sequence[tuple[Distance, Fraction]], gap: Fraction, unit: Unit, shared: set[int], sound: set[int]
) -> dict[str, Any] | None:
    """The member of an open loop whose slip explains the gap best; None when none stands out.

    `members` with the times they count in the loop, `gap` the sum of the loop in mm, `shared` the members of every
    open loop, `sound` those of loops that close (both by identity).
    """
    best: tuple[float, str, Fraction, str] | None = None
    for member, times in members:
        if member.size is None or not times:
            continue
        right = member.size - gap / times
        for weight, reason in _reasons(member, right, unit):
            score = weight + (2.0 if id(member) in shared else 0.0) - (2.5 if id(member) in sound else 0.0)
            if best is None or score > best[0] + 1e-9:
                best = (score, member.name, right, reason)
    if best is None:
        alone = [m for m, _ in members if id(m) not in sound]
        if len(alone) == 1:
            return {"member": alone[0].name, "reason": "all others are borne out by other sums", "wanted_mm": None}
        return None
    return {"member": best[1], "reason": best[3], "wanted_mm": float(best[2])}
