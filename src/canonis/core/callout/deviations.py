"""The deviations that a drawing writes beside a fit, `⌀20 H7 (+0.021/0)`: written from the tables, and read against them."""

import re
from fractions import Fraction

from canonis.core.callout.part import Part
from canonis.core.quantity import MM_PER_INCH, Unit, fraction_of

__all__ = ["deviations", "without_deviations"]

_BESIDE_FIT = re.compile(
    r"(?<=[A-Za-z]\d)\s*\(([+-]?[\d.,]+)/([+-]?[\d.,]+)\)|(?<=[A-Za-z]\d\d)\s*\(([+-]?[\d.,]+)/([+-]?[\d.,]+)\)"
)


def deviations(part: Part, unit: Unit) -> str:
    """The upper and lower deviation of a part with a fit, upper first, as the sheet writes them."""
    if part.nominal is None or part.lower is None or part.upper is None:
        return ""
    values = [
        x / MM_PER_INCH if unit is Unit.INCH else x for x in (part.upper - part.nominal, part.lower - part.nominal)
    ]

    def text(x: Fraction) -> str:
        size = f"{abs(float(x)):.4f}".rstrip("0").rstrip(".") or "0"
        size = size.removeprefix("0") if unit is Unit.INCH and x else size
        return size if not x else ("+" if x > 0 else "-") + size

    return f"({text(values[0])}/{text(values[1])})"


def without_deviations(text: str) -> tuple[str, list[tuple[Fraction, Fraction]]]:
    """A line without the deviations beside its fits, and those, upper first, in the unit of the line."""
    found: list[tuple[Fraction, Fraction]] = []

    def take(match: re.Match[str]) -> str:
        upper, lower = (g for g in match.groups() if g is not None)
        found.append(
            (fraction_of(upper.replace(",", ".").lstrip("+")), fraction_of(lower.replace(",", ".").lstrip("+")))
        )
        return ""

    return _BESIDE_FIT.sub(take, text.replace("−", "-")) if "(" in text else text, found
