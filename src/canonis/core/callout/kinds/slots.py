"""Straight slots with round ends: `SLOT 8 WIDE 14 CENTRES THRU`."""

from typing import Any

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.kinds.ends import END_FLAGS, ENDS, say_end, write_end
from canonis.core.callout.kinds.seats import Seats
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech
from canonis.core.callout.values import Item, Value

__all__ = ["GRAMMAR", "ITEMS", "OFFERS", "SLOT", "Slots"]

ITEMS = ("slot",)
GRAMMAR = r"""
slot: SLOT value DIMENSION_WORD? slot_rest*
    | value SLOT slot_rest*  -> slot_after
    | value DIMENSION_WORD SLOT slot_rest*
slot_rest: TIMES? value CENTRES  -> centres
         | TIMES? value OVERALL  -> overall
         | TIMES? value LONG     -> overall
         | TIMES value           -> overall
         | end

SLOT.4: /slot/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {"SLOT": (("SLOT", "slot"),)}


class Slots(Seats):
    """Reads slots by width and length."""

    def centres(self, items: list[Any]) -> tuple[str, Value]:
        return ("centres", self._first(items))

    def overall(self, items: list[Any]) -> tuple[str, Value]:
        return ("length", self._first(items))

    def slot_rest(self, items: list[Any]) -> Any:
        return items[0]

    def slot(self, items: list[Any]) -> Item:
        return Item("slot", (("width", self._first(items)), *self._gathered(items)))

    def slot_after(self, items: list[Any]) -> Item:
        rest = self._gathered(items)
        if any(n == "centres" for n, _ in rest):
            # 8 SLOT 14 CENTRES: its length is said, so that what stands before is the width.
            return Item("slot", (("width", self._first(items)), *rest))
        # 8 x 28 SLOT: the width stands before, as a count would.
        return Item("slot", (("length", self._first(items)), *rest), note="width before")


_LENGTHS = {"centres": ("CENTRES", "between centres"), "length": ("OVERALL", "overall")}


def _write(c: Callout, pen: Pen) -> list[str]:
    first = "SLOT" + (f" {pen.value(c.part('width'))} WIDE" if c.part("width") else "") + write_end(c, pen)
    return [first, *(f"{pen.value(c.part(name))} {word}" for name, (word, _) in _LENGTHS.items() if c.part(name))]


def _say(c: Callout, speech: Speech) -> str:
    text = f"{speech.first}slot{speech.s} {speech.size(c.part('width'))} wide"
    for name, (_, after) in _LENGTHS.items():
        if c.part(name):
            text += f", {speech.size(c.part(name))} {after}"
    end = say_end(c, speech)
    return text + (f",{end}" if end else "")


SLOT = enter(
    Kind(
        "slot",
        frozenset({"width", "centres", "length", *ENDS}),
        _write,
        _say,
        needs=(("width",),),
        apart=(ENDS,),
        flags=END_FLAGS,
        same=frozenset({"centres", "length"}),
    )
)
