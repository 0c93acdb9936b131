"""Two lines that carry the same name: whether they agree, and which slip explains it when they do not."""

import math
import re
from fractions import Fraction

from canonis.core.callout import HouseRules, Part
from canonis.core.quantity import MM_PER_INCH, Unit, exact_text
from canonis.core.slips import swapped_digits
from canonis.core.source.characteristic import Characteristic
from canonis.core.tolerances import NOISE, same

__all__ = ["compare_pair", "half_of", "last_place", "plain_name"]


def plain_name(name: str) -> str:
    """A feature's name without case, spacing and the words that only place it."""
    return re.sub(r"\s+", " ", name.lower().replace("-", " ")).strip()


def half_of(name: str) -> str | None:
    """The name of the whole that a half belongs to: “half foot width” → “foot width”; None when it is no half."""
    found = re.match(r"(?:half(?:\s+of)?|1/2)\s+(.+)$|(.+?)\s+half$", name)
    return (found.group(1) or found.group(2)) if found else None


def last_place(part: Part, rules: HouseRules) -> Fraction:
    """Half a unit of the last place a part was written to where that may hide a rounding (4 places in), mm; else 0."""
    inch = (part.unit or rules.unit) is Unit.INCH
    if part.decimals is None or part.decimals < (4 if inch else 3):
        return Fraction(0)
    return Fraction(1, 2 * 10**part.decimals) * (MM_PER_INCH if inch else 1)


def _times(high: Fraction, low: Fraction, factor: int) -> bool:
    """Whether one size is a multiple of the other, to the rounding of what was written."""
    return same(float(high / low) / factor, 1)


def _said(a: Characteristic, b: Characteristic, reason: str) -> str:
    where = [f" ({c.where})" if c.where else "" for c in (a, b)]
    return f"Lines {a.number}{where[0]} and {b.number}{where[1]}, “{b.name}”: {reason}."


def _value(part: Part, rules: HouseRules) -> str:
    assert part.nominal is not None
    if part.angle:
        return f"{exact_text(part.nominal)}°"
    scale = MM_PER_INCH if rules.unit is Unit.INCH else Fraction(1)
    return exact_text(part.nominal / scale)


def _angles(a: Characteristic, b: Characteristic, x: Fraction, y: Fraction) -> tuple[str, str] | None:
    complementary = x + y in (90, 180)
    if a.direction.lower() != b.direction.lower() and a.direction and b.direction:
        if complementary:
            return None
        reason = f"{exact_text(x)}° from {a.direction} and {exact_text(y)}° from {b.direction} do not make 90° or 180°"
        if x == y:
            reason += "; one is likely the complement of the other"
        return "angle.differs", _said(a, b, reason)
    if x == y:
        return None
    reason = f"{exact_text(x)}° and {exact_text(y)}° differ"
    if complementary:
        reason += f"; they make {exact_text(x + y)}°, so that one is likely the {'complement' if x + y == 90 else 'supplement'}"
    return "angle.differs", _said(a, b, reason)


def _slip(a: Part, b: Part) -> tuple[str, str]:
    """The rule and the reason that explain two different sizes of one thing."""
    assert a.nominal is not None and b.nominal is not None
    x, y = a.nominal, b.nominal
    low, high = min(x, y), max(x, y)
    for p, q in ((a, b), (b, a)):
        if p.lower is not None and p.upper is not None and q.nominal in (p.lower, p.upper) and p.tolerance != "general":
            return "limits.mixed", "one is a limit of the other: limits and sizes are mixed"
        if p.limits and q.limits and p.typed != q.typed:
            return "same.differs", "their limits differ"
    if abs(float(high / low) - 25.4) < 0.2:
        return "unit.factor", "the factor is 25.4: inches and millimetres are mixed"
    if _times(high, low, 10):
        return "size.factor", "the factor is ten"
    if _times(high, low, 2):
        return "half.differs", "one is half of the other: a half or a radius written for the whole, or the reverse"
    for p, q in ((a, b), (b, a)):
        scale = MM_PER_INCH if p.unit is Unit.INCH else Fraction(1)
        if p.decimals is not None and q.nominal is not None and p.nominal is not None:
            for unit in (scale, Fraction(1), MM_PER_INCH):
                if 0 < abs(p.nominal - q.nominal) <= Fraction(1, 2 * 10**p.decimals) * unit and (
                    q.decimals is None or q.decimals > p.decimals
                ):
                    return "precision.rounded", f"{p.typed} is the other one rounded; write it in full"
    if b.typed in swapped_digits(a.typed):
        return "same.differs", "two digits are swapped"
    return "same.differs", "they contradict each other"


def compare_pair(a: Characteristic, b: Characteristic, rules: HouseRules) -> tuple[str, str] | None:
    """Rule and message when two lines of one name disagree; None when they agree or cannot be compared."""
    flats, corners = (c.main for c in sorted((a, b), key=lambda c: c.part("across-corners") is not None))
    if a.kind == b.kind == "polygon" and (a.part("across-flats") is None) != (b.part("across-flats") is None):
        assert flats is not None and corners is not None and flats.nominal is not None and corners.nominal is not None
        sides = int(a.size("sides") or b.size("sides") or 6)
        wanted = float(flats.nominal) / math.cos(math.pi / sides)
        # Written to its last place: half a unit of the coarser value is no contradiction.
        slack = (
            0.5
            * 10.0 ** -(corners.decimals if corners.decimals is not None else 3)
            * (25.4 if rules.unit is Unit.INCH else 1.0)
        )
        if abs(float(corners.nominal) - wanted) > slack * 1.05 + NOISE:
            reason = f"{_value(flats, rules)} across flats makes {wanted / (25.4 if rules.unit is Unit.INCH else 1):.3f} across corners, not {_value(corners, rules)}"
            if corners.nominal == flats.nominal:
                reason += "; one is taken for the other"
            return "polygon.across", _said(a, b, reason)
        return None
    if {a.kind, b.kind} == {"radius", "diameter"}:
        r, d = (a, b) if a.kind == "radius" else (b, a)
        x, y = r.size("radius"), d.size("diameter")
        if x is None or y is None or x * 2 == y:
            return None
        reason = f"R{exact_text(x)} and ⌀{exact_text(y)} do not belong together"
        if x == y:
            reason += "; a diameter is likely written as a radius, or the reverse"
        return "radius.diameter", _said(a, b, reason)
    if a.kind != b.kind:
        return None
    if a.count != b.count and not (a.typical or b.typical):
        return "count.differs", _said(a, b, f"{a.count}× and {b.count}× differ; a member is missing or counted twice")
    for p in a.parts:
        q = b.part(p.name)
        if q is None or p.nominal is None or q.nominal is None or p.table or q.table:
            continue
        if p.angle:
            found = _angles(a, b, p.nominal, q.nominal)
            if found is not None:
                return found
            continue
        if p.nominal == q.nominal and (p.lower, p.upper) == (q.lower, q.upper):
            continue
        if p.nominal == q.nominal and "own" not in (p.tolerance, q.tolerance):
            continue
        if p.nominal == q.nominal:
            return "same.differs", _said(a, b, f"{p.typed} has two different tolerances")
        rule, reason = _slip(p, q)
        return rule, _said(
            a, b, f"{p.name.replace('-', ' ')} {_value(p, rules)} and {_value(q, rules)} differ; {reason}"
        )
    one, other = (
        " ".join((t.designation or "").upper().split())
        for t in (a.part("thread") or Part(name=""), b.part("thread") or Part(name=""))
    )
    if one.replace(" ", "") != other.replace(" ", ""):
        return "same.differs", _said(a, b, f"{one} and {other} differ")
    if (a.part("through") is None) != (b.part("through") is None) and a.kind == "hole":
        return "same.differs", _said(a, b, "one says THRU, the other gives a depth")
    return None
