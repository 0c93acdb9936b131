"""Grooves, undercuts, reliefs and necks: `GROOVE 3 WIDE × ⌀24`, `UNDERCUT 2 WIDE 0.5 DEEP`, `GROOVE R1.5 × ⌀24`."""

from typing import Any

from lark import Token

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.kinds.seats import Seats
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech
from canonis.core.callout.values import Item, Value

__all__ = ["GRAMMAR", "GROOVE", "ITEMS", "OFFERS", "Grooves"]

ITEMS = ("groove",)
GRAMMAR = r"""
groove: GROOVE value DIMENSION_WORD? groove_rest*
      | value DIMENSION_WORD GROOVE groove_rest*
      | value GROOVE -> groove_after
      | GROOVE R value groove_rest* -> round_groove
groove_rest: TIMES value DEEP?  -> groove_depth
           | value DEEP         -> groove_depth
           | DEPTH value        -> groove_depth
           | TIMES? DIA value   -> groove_diameter

GROOVE.4: /o-?ring\s+(?:groove|seat)s?|grooves?|undercuts?|thread\s+reliefs?|reliefs?|necks?/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {
    "GROOVE": (("GROOVE", "groove"), ("UNDERCUT", "undercut"), ("RELIEF", "relief")),
}


class Grooves(Seats):
    """Reads grooves by width or radius, and by depth or the diameter of the bottom."""

    def groove_after(self, items: list[Any]) -> Item:
        return Item("groove", (("depth", self._first(items)),), note="width before")

    def groove_depth(self, items: list[Any]) -> tuple[str, Value]:
        return ("depth", self._first(items))

    def groove_diameter(self, items: list[Any]) -> tuple[str, Value]:
        return ("diameter", self._first(items))

    def groove(self, items: list[Any]) -> Item:
        said = next(str(i) for i in items if isinstance(i, Token) and i.type == "GROOVE")
        word = " ".join(said.lower().split()).removesuffix("s")
        parts = (("width", self._first(items)), *self._gathered(items))
        return Item("groove", parts, note="" if word == "groove" else word)

    def round_groove(self, items: list[Any]) -> Item:
        return Item("groove", (("radius", self._first(items)), *self._gathered(items)))


def _write(c: Callout, pen: Pen) -> list[str]:
    width, radius, diameter, depth = (c.part(n) for n in ("width", "radius", "diameter", "depth"))
    text = (c.detail or "groove").upper()
    if width:
        # On a drawing the first size of a groove is its width, without a word.
        text += f" {pen.value(width)}" + ("" if pen.sheet else " WIDE")
    if radius:
        text += f" R{pen.value(radius)}"
    if diameter:
        text += f" × ⌀{pen.value(diameter)}"
    if depth:
        text += f" {pen.deep(depth) if pen.sheet else f'{pen.value(depth)} DEEP'}"
    return [text]


def _say(c: Callout, speech: Speech) -> str:
    text = f"{speech.first}{c.detail or 'groove'}{speech.s} "
    text += f"of radius {speech.size(c.main)}" if c.part("radius") else f"{speech.size(c.main)} wide"
    if c.part("depth"):
        text += f", {speech.size(c.part('depth'))} deep"
    return text + (f", bottom ⌀{speech.size(c.part('diameter'))}" if c.part("diameter") else "")


_ACROSS = ("width", "radius")
GROOVE = enter(
    Kind(
        "groove",
        frozenset({*_ACROSS, "diameter", "depth"}),
        _write,
        _say,
        needs=(_ACROSS,),
        one_thing=True,
        apart=(_ACROSS,),
        same=frozenset({"diameter", "depth"}),
    )
)
