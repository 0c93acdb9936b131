"""Dovetails: `DOVETAIL 20 WIDE 60° ↧8` of a slot, `DOVETAIL 20 WIDE 60° 8 HIGH` of a tongue. The width is that of the narrow end, between
sharp corners: at the mouth of a slot, at the root of a tongue."""

from typing import Any

from lark import Token

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.kinds.ends import Ends
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech
from canonis.core.callout.values import Item, Misread, Value

__all__ = ["DOVETAIL", "GRAMMAR", "ITEMS", "OFFERS", "Dovetails"]

ITEMS = ("dovetail",)
GRAMMAR = r"""
dovetail: DOVETAIL value DIMENSION_WORD? dovetail_rest*
        | value DIMENSION_WORD? DOVETAIL dovetail_rest*
dovetail_rest: TIMES? angle_value -> dovetail_angle
             | TIMES? value DIMENSION_WORD -> dovetail_height
             | TIMES? DEPTH value -> dovetail_depth
             | TIMES? value (DEEP | DEPTH) -> dovetail_depth

DOVETAIL.6: /dove-?\s?tail(?:\s+(?:slot|groove|way|tongue|tenon))?/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {
    "DOVETAIL": (("DOVETAIL", "dovetail"),),
}
#: A slot has a depth, a tongue a height.
_ENDS = ("depth", "height")


class Dovetails(Ends):
    """Reads dovetails."""

    def dovetail_angle(self, items: list[Any]) -> tuple[str, Value]:
        return ("angle", self._first(items))

    def dovetail_height(self, items: list[Any]) -> tuple[str, Value]:
        word = next(str(t) for t in items if isinstance(t, Token) and t.type == "DIMENSION_WORD")
        if word.lower() not in ("high", "height"):
            raise Misread(f"a dovetail is so many wide, and deep or high; “{word}” is none of these")
        return ("height", self._first(items))

    def dovetail_depth(self, items: list[Any]) -> tuple[str, Value]:
        return ("depth", self._first(items))

    def dovetail(self, items: list[Any]) -> Item:
        return Item("dovetail", (("width", self._first(items)), *(i for i in items if isinstance(i, tuple))))


def _write(c: Callout, pen: Pen) -> list[str]:
    text = f"DOVETAIL {pen.value(c.part('width'))} WIDE"
    text += f" × {pen.value(c.part('angle'))}" if c.part("angle") else ""
    text += f" {pen.deep(c.part('depth'))}" if c.part("depth") else ""
    return [text + (f" × {pen.value(c.part('height'))} HIGH" if c.part("height") else "")]


def _say(c: Callout, speech: Speech) -> str:
    text = f"{speech.first}dovetail{speech.s} {speech.size(c.part('width'))} wide at the narrow end"
    text += f", {speech.size(c.part('angle'))}" if c.part("angle") else ""
    text += f", {speech.size(c.part('depth'))} deep" if c.part("depth") else ""
    return text + (f", {speech.size(c.part('height'))} high" if c.part("height") else "")


DOVETAIL = enter(
    Kind(
        "dovetail",
        frozenset({"width", "angle", *_ENDS}),
        _write,
        _say,
        needs=(("width",),),
        apart=(_ENDS,),
        one_thing=True,
    )
)
