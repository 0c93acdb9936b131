"""Polygons across flats or corners: `HEX 19 AF`, `SQUARE 12 AF`, and a length counted in squares of the print."""

from fractions import Fraction
from typing import Any

from lark import Token

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech
from canonis.core.callout.values import Item, Numbers, Value

__all__ = ["GRAMMAR", "ITEMS", "OFFERS", "POLYGON", "Polygons"]

ITEMS = ("polygon",)
GRAMMAR = r"""
polygon: (POLYGON | SQUARE) value (AF | AC)?
       | (POLYGON | SQUARE) (AF | AC) value
       | (AF | AC) value
       | value (AF | AC)? POLYGON
       | value (AF | AC | SQUARE)
       | (POLYGON | SQUARE) INSCRIBED DIA? value     -> inscribed
       | (POLYGON | SQUARE) CIRCUMSCRIBED DIA? value -> circumscribed

POLYGON.5: /hexagonal|hexagon|hex\b|octagon|oct\b|pentagon|triangle/i
SQUARE.4: /□|square\b|sq\b/i
AF.4: /a\/?f\b|across\s+(?:the\s+)?flats/i
AC.4: /a\/?c\b|across\s+(?:the\s+)?corners/i
INSCRIBED.4: /inscribed(?:\s+in(?:side)?)?/i
CIRCUMSCRIBED.4: /circumscribed(?:\s+(?:about|around|on))?/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {
    "POLYGON": (("HEX", "hexagon"),),
    "SQUARE": (("□", "square"),),
    "AF": (("AF", "across flats"),),
    "AC": (("AC", "across corners"),),
}
_SIDES = {"hex": 6, "oct": 8, "pen": 5, "tri": 3, "squ": 4, "sq": 4, "□": 4}
_WRITTEN = {3: "TRIANGLE ", 4: "SQUARE ", 5: "PENTAGON ", 6: "HEX ", 8: "OCTAGON "}
_SPOKEN = {3: "triangle", 4: "square", 5: "pentagon", 6: "hexagon", 8: "octagon"}


class Polygons(Numbers):
    """Reads polygons by what is measured across them, or by the circle that they stand in or around."""

    def polygon(self, items: list[Any]) -> Item:
        sides = self._sides(items)
        name = "across-corners" if self._has(items, "AC") else "across-flats"
        parts: list[tuple[str, Any]] = [(name, self._first(items))]
        if sides:
            parts.append(("sides", Value(Fraction(sides), str(sides), 0, plain=True)))
        return Item("polygon", tuple(parts))

    def _sides(self, items: list[Any]) -> int | None:
        word = next((str(i).lower() for i in items if isinstance(i, Token) and i.type in ("POLYGON", "SQUARE")), "")
        return next((n for k, n in _SIDES.items() if word.startswith(k)), None)

    def _sided(self, items: list[Any], name: str) -> Item:
        sides = self._sides(items) or 6
        count = Value(Fraction(sides), str(sides), 0, plain=True)
        return Item("polygon", ((name, self._first(items)), ("sides", count)))

    def inscribed(self, items: list[Any]) -> Item:
        # In a circle stand the corners, about one lie the flats.
        return self._sided(items, "across-corners")

    def circumscribed(self, items: list[Any]) -> Item:
        return self._sided(items, "across-flats")


def _write(c: Callout, pen: Pen) -> list[str]:
    sides = _WRITTEN.get(int(c.size("sides") or 0), "")
    return [f"{sides}{pen.value(c.main)} {'AC' if c.part('across-corners') else 'AF'}"]


def _say(c: Callout, speech: Speech) -> str:
    name = _SPOKEN.get(int(c.size("sides") or 0), "polygon")
    across = "corners" if c.part("across-corners") else "flats"
    return f"{speech.first}{name}{speech.s}, {speech.size(c.main)} across {across}"


_ACROSS = ("across-flats", "across-corners")
POLYGON = enter(
    Kind(
        "polygon",
        frozenset({*_ACROSS, "sides"}),
        _write,
        _say,
        needs=(_ACROSS,),
        one_thing=True,
        apart=(_ACROSS,),
        same=frozenset(_ACROSS),
    )
)
