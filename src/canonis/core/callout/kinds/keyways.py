"""Keyways: `KEYWAY 6 × 3.5 × 25`, `SEGMENT KEYWAY 5 WIDE R9.5`."""

from dataclasses import replace
from typing import Any

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.kinds.seats import Seats
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech
from canonis.core.callout.values import Item, Misread, Value

__all__ = ["GRAMMAR", "ITEMS", "KEYWAY", "OFFERS", "Keyways"]

ITEMS = ("keyway",)
GRAMMAR = r"""
keyway: (SEGMENT KEYWAY? | KEYWAY) value DIMENSION_WORD? key_rest*
      | SEGMENT KEYWAY? R value TIMES? value DIMENSION_WORD?   -> segment_radius
      | SEGMENT KEYWAY? DIA value TIMES? value DIMENSION_WORD? -> segment_diameter
key_rest: TIMES value              -> key_size
        | TIMES? value DEEP        -> key_depth
        | DEPTH value              -> key_depth
        | TIMES? value LONG        -> key_length
        | TIMES? value FROM_AXIS   -> key_from_axis
        | TIMES? DIA value         -> key_diameter
        | TIMES? R value           -> key_radius

SEGMENT.5: /segment|woodruff/i
KEYWAY.4: /keyway|key\s*seat|key\s+slot|key\b/i
FROM_AXIS.6: /from\s+(?:the\s+)?(?:axis|cent(?:re|er)(?:\s*line)?)\b/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {
    "KEYWAY": (("KEYWAY", "keyway"),),
    "SEGMENT": (("SEGMENT", "segment keyway"),),
    "FROM_AXIS": (("FROM AXIS", "from the axis"),),
}


class Keyways(Seats):
    """Reads keyways."""

    def key_size(self, items: list[Any]) -> tuple[str, Value]:
        return ("size", self._first(items))

    def key_depth(self, items: list[Any]) -> tuple[str, Value]:
        return ("depth", self._first(items))

    def key_length(self, items: list[Any]) -> tuple[str, Value]:
        return ("length", self._first(items))

    def key_from_axis(self, items: list[Any]) -> tuple[str, Value]:
        return ("from-axis", self._first(items))

    def key_diameter(self, items: list[Any]) -> tuple[str, Value]:
        wide = self._first(items)
        return ("radius", replace(wide, nominal=wide.nominal / 2, decimals=None))

    def key_radius(self, items: list[Any]) -> tuple[str, Value]:
        return ("radius", self._first(items))

    def keyway(self, items: list[Any]) -> Item:
        parts: list[tuple[str, Any]] = [("width", self._first(items))]
        order = ["depth", "length"]
        for name, value in self._gathered(items):
            if name == "size":
                if not order:
                    raise Misread("a keyway has a width, a depth and a length")
                name = order.pop(0)
            elif name in order:
                order.remove(name)
            parts.append((name, value))
        return Item("keyway", tuple(parts), note="segment" if self._has(items, "SEGMENT") else "")

    def segment_radius(self, items: list[Any]) -> Item:
        round_, wide = self._values(items)
        return Item("keyway", (("width", wide), ("radius", round_)), note="segment")

    def segment_diameter(self, items: list[Any]) -> Item:
        round_, wide = self._values(items)
        half = replace(round_, nominal=round_.nominal / 2, decimals=None)
        return Item("keyway", (("width", wide), ("radius", half)), note="segment")


_SIZES = (
    ("depth", "× {} DEEP", "{} deep"), ("length", "× {} LONG", "{} long"), ("radius", "R{}", "radius {}"),
    ("from-axis", "× {} FROM AXIS", "bottom {} from the axis"),
)  # fmt: skip


def _write(c: Callout, pen: Pen) -> list[str]:
    word = "SEGMENT KEYWAY" if c.detail == "segment" else "KEYWAY"
    rest = "".join(" " + form.format(pen.value(c.part(name))) for name, form, _ in _SIZES if c.part(name))
    return [f"{word} {pen.value(c.part('width'))}{rest}"]


def _say(c: Callout, speech: Speech) -> str:
    text = f"{speech.first}{'segment ' if c.detail == 'segment' else ''}keyway{speech.s} {speech.size(c.part('width'))} wide"
    return text + "".join(", " + form.format(speech.size(c.part(name))) for name, _, form in _SIZES if c.part(name))


KEYWAY = enter(
    Kind(
        "keyway",
        frozenset({"width", "depth", "length", "radius", "from-axis"}),
        _write,
        _say,
        needs=(("width",),),
        same=frozenset({"depth", "from-axis"}),
    )
)
