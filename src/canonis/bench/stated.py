"""What defines a part, as its maker gave it, looked for on its sheet: each size is to be stated as such, not left to a sum;
and how round the stated values are."""

import json
from collections.abc import Iterable, Sequence
from fractions import Fraction
from pathlib import Path

from canonis.core.callout import Callout, Part
from canonis.core.quantity import Unit, to_mm

__all__ = ["Defining", "defining_sizes", "is_rough", "is_stated", "lengths_of"]

#: What defines a part: what it is of, its kind, its value in mm, degrees or counts (a designation for a thread).
Defining = tuple[str, str, float | str]

#: Sheets state lengths to two places at least.
_CLOSE = 0.0051
_ROUND = ("diameter", "major", "minor", "across-corners")


def defining_sizes(folder: Path) -> dict[str, list[Defining]]:
    """What a folder of parts says of them in its `params.json`, by the name of the file; nothing where there is none."""
    file = folder / "params.json"
    if not file.exists():
        return {}
    return {name: [(w, k, v) for w, k, v in told["params"]] for name, told in json.loads(file.read_bytes()).items()}


def is_stated(readings: Sequence[Callout], sought: Defining) -> bool:
    """Whether one of the statements says this size as what it is. A radius may be said as its diameter, and a length by a
    note (a depth, a width); a diameter never by lengths."""
    _, kind, value = sought
    if isinstance(value, str):
        return any(p.designation and p.designation.split("×")[0].startswith(value) for r in readings for p in r.parts)
    if kind == "count":
        return any(
            value in (r.count, r.size("teeth"), r.size("members"), r.size("rows"), r.size("columns")) for r in readings
        )
    return any(_is_it(part, kind, value) for r in readings for part in r.parts)


def _is_it(part: Part, kind: str, value: float) -> bool:
    if part.nominal is None or part.plain or part.angle != (kind == "angle"):
        return False
    size = float(part.nominal)
    across = part.name.endswith(_ROUND)
    if kind == "diameter":
        return (across and _meets(size, value)) or (part.name.endswith("radius") and _meets(2 * size, value))
    if kind == "radius":
        return (part.name.endswith("radius") and _meets(size, value)) or (across and _meets(size, 2 * value))
    if kind == "pitch-circle":
        return part.name == "pitch-circle" and _meets(size, value)
    return _meets(size, value) and (kind == "angle" or not across)


def _meets(size: float, value: float) -> bool:
    return abs(size - value) <= _CLOSE


def is_rough(part: Part, unit: Unit) -> bool:
    """Whether nobody would have chosen a length: it needs more than two places, in inches three, and is no 64th."""
    if part.nominal is None or part.angle or part.plain or part.table:
        return False
    size = part.nominal / to_mm(Fraction(1), unit)
    places = 2 if unit is Unit.MM else 3
    whole = (size * 10**places, size * 64) if unit is not Unit.MM else (size * 10**places,)
    return not any(w.denominator == 1 for w in whole)


def lengths_of(readings: Iterable[Callout]) -> list[Part]:
    """The lengths that statements say, without what they look up and what stands in parentheses."""
    return [p for r in readings if not r.reference for p in r.parts if isinstance(p.nominal, Fraction) and not p.angle]
