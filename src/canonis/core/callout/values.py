"""Numbers of the shorthand as typed, and the part of the reader that makes them."""

import re
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Any

from lark import Token, Transformer

from canonis.core.quantity import Unit, fraction_of

__all__ = ["Angle", "Item", "Misread", "Numbers", "Typed", "Value", "degrees_of"]


@dataclass(frozen=True)
class Value:
    """A number as typed: exact, with its tolerance; `unit` None takes the job's.

    `plain` numbers have no unit at all; `squares` are counts of the print's grid; `table` values came from one. To `exact` ones
    no general tolerance applies; `fine` ones are micrometres, or on an inch sheet microinches.
    """

    nominal: Fraction
    typed: str
    decimals: int | None
    unit: Unit | None = None
    plus: Fraction | None = None
    minus: Fraction | None = None
    limits: tuple[Fraction, Fraction] | None = None
    fit: str | None = None
    bound: str | None = None
    counts: bool = False
    squares: bool = False
    plain: bool = False
    table: bool = False
    exact: bool = False
    fine: bool = False


@dataclass(frozen=True)
class Angle(Value):
    """A value in degrees, told apart from a length where both may stand."""


@dataclass(frozen=True)
class Item:
    """The heart of a line: its kind and its parts in order; `note` says what the kind alone does not."""

    kind: str
    parts: tuple[tuple[str, Any], ...]
    angle_first: bool = False
    #: The angle of a chamfer is written, not taken for 45°.
    angle_said: bool = False
    note: str = ""


@dataclass(frozen=True)
class Typed:
    """A part without a size that may be typed in several ways."""

    text: str


class Misread(Exception):
    """A line that parses but makes no sense; carries the message."""


def _decimals(text: str) -> int | None:
    if "/" in text:
        return None
    return len(re.split(r"[.,]", text)[1]) if re.search(r"[.,]", text) else 0


def degrees_of(text: str) -> tuple[Fraction, int | None]:
    """Exact degrees of ``37.5°``, ``30 deg`` or ``30°15'20"``, and the decimals they were typed with."""
    found = re.match(
        r"\s*(\d*[.,]?\d+)\s*(?:°|deg\w*)?\s*(?:(\d+(?:[.,]\d+)?)\s*['′])?\s*(?:(\d+(?:[.,]\d+)?)\s*[\"″])?", text, re.I
    )
    assert found is not None
    whole, minutes, seconds = found.groups()
    total = fraction_of(whole)
    if minutes:
        total += fraction_of(minutes) / 60
    if seconds:
        total += fraction_of(seconds) / 3600
    return total, None if minutes else _decimals(whole)


def _unit(token: str) -> Unit:
    return Unit.MM if token.lower() == "mm" else Unit.INCH


class Numbers(Transformer):  # type: ignore[type-arg, misc]
    """Turns the grammar's numbers into values with units, tolerances, limits and fits."""

    def number(self, items: list[Token]) -> Value:
        token = items[0]
        text = str(token)
        if token.type == "FEET":
            feet, inches = re.match(r"(\d+)\s*(?:'|′|\w+)\s*-?\s*(.*)", text, re.I | re.S).groups()  # type: ignore[union-attr]
            rest = re.sub(r"\s*(?:\"|″|inches|inch|in)\s*$", "", inches, flags=re.I)
            return Value(
                12 * int(feet) + (fraction_of(rest) if rest else Fraction(0)), text, _decimals(rest or "0"), Unit.INCH
            )
        if token.type == "SQUARES":
            count = re.match(r"[\d\s/.,]+", text).group(0).strip()  # type: ignore[union-attr]
            return Value(fraction_of(count), text, _decimals(count), squares=True)
        if token.type == "THOUSANDTHS":
            count = re.match(r"[\d.,]+", text).group(0)  # type: ignore[union-attr]
            return Value(fraction_of(count) / 1000, text, 3, Unit.INCH)
        return Value(fraction_of(text), text, _decimals(text))

    def value(self, items: list[Any]) -> Value:
        out: Value = items[0]
        for item in items[1:]:
            if isinstance(item, Token) and item.type == "UNIT":
                out = replace(out, unit=_unit(item))
            elif isinstance(item, Token) and item.type == "FIT":
                out = replace(out, fit=str(item))
            elif isinstance(item, Token):
                out = replace(out, bound=item.type.lower())
            else:
                out = replace(out, plus=item[0], minus=item[1])
        return out

    def limits(self, items: list[Any]) -> Value:
        a, b = fraction_of(str(items[0])), fraction_of(str(items[2]))
        if a == b:
            raise Misread("the two limits are equal")
        places = max((d for d in (_decimals(str(items[0])), _decimals(str(items[2]))) if d is not None), default=None)
        unit = _unit(items[3]) if len(items) > 3 else None
        return Value((a + b) / 2, f"{items[0]}/{items[2]}", places, unit, limits=(min(a, b), max(a, b)))

    def tolerance(self, items: list[Any]) -> tuple[Fraction, Fraction]:
        size = fraction_of(str(items[1]))
        return size, size

    def unequal(self, items: list[Any]) -> tuple[Fraction, Fraction]:
        plus, minus = [fraction_of(str(t)) for t in items if t.type == "NUMBER"]
        return plus, minus

    def unequal_reversed(self, items: list[Any]) -> tuple[Fraction, Fraction]:
        minus, plus = [fraction_of(str(t)) for t in items if t.type == "NUMBER"]
        return plus, minus

    def angle_tolerance(self, items: list[Any]) -> Fraction:
        token = items[-1]
        if token.type == "MINUTES":
            return fraction_of(re.sub(r"\D", "", str(token))) / 60
        return degrees_of(str(token))[0]

    def angle_value(self, items: list[Any]) -> Angle:
        size, places = degrees_of(str(items[0]))
        tolerance = items[1] if len(items) > 1 else None
        return Angle(size, str(items[0]), places, plus=tolerance, minus=tolerance)

    def _values(self, items: list[Any]) -> list[Value]:
        return [i for i in items if isinstance(i, Value)]

    def _first(self, items: list[Any]) -> Value:
        return self._values(items)[0]

    def _has(self, items: list[Any], *types: str) -> bool:
        return any(isinstance(i, Token) and i.type in types for i in items)

    def diam(self, items: list[Any]) -> Value:
        return self._first(items)
