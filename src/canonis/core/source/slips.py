"""Naming the likely slip behind numbers that do not agree (a catalogue of what people do)."""

from collections.abc import Sequence
from fractions import Fraction
from typing import Any

from canonis.core.quantity import MM_PER_INCH, Unit, exact_text
from canonis.core.slips import number_slips
from canonis.core.source.strip import Distance
from canonis.core.tolerances import NOTHING

__all__ = ["likely_slip"]


def _reasons(member: Distance, right: Fraction, unit: Unit) -> list[tuple[float, str]]:
    """(weight, reason) of the slips that turn the size a loop wants (`right`, mm) into the one that was written."""
    assert member.size is not None
    if right <= 0:
        return []
    scale = MM_PER_INCH if unit is Unit.INCH else Fraction(1)
    decimal = exact_text(member.size / scale), exact_text(right / scale)
    apart = abs(member.size - right) / scale
    found = number_slips(float(member.size), float(right), typed=member.typed, decimal=decimal, fraction=apart)
    return [(s.weight, s.words) for s in found]


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
            if best is None or score > best[0] + NOTHING:
                best = (score, member.name, right, reason)
    if best is None:
        alone = [m for m, _ in members if id(m) not in sound]
        if len(alone) == 1:
            return {"member": alone[0].name, "reason": "all others are borne out by other sums", "wanted_mm": None}
        return None
    return {"member": best[1], "reason": best[3], "wanted_mm": float(best[2])}
