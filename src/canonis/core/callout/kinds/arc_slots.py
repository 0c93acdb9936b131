"""Slots along an arc: `ARC SLOT 8 WIDE R40 60° SWEEP START 30°`."""

from typing import Any

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.kinds.ends import END_FLAGS, ENDS, say_end, write_end
from canonis.core.callout.kinds.seats import Seats
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech
from canonis.core.callout.values import Item, Value

__all__ = ["ARC_SLOT", "GRAMMAR", "ITEMS", "OFFERS", "ArcSlots"]

ITEMS = ("arc_slot",)
GRAMMAR = r"""
arc_slot: ARC_SLOT value DIMENSION_WORD? arc_rest*
arc_rest: TIMES? R value         -> arc_radius
        | TIMES? angle_value SWEEP? -> sweep
        | START angle_value      -> start_angle
        | end

ARC_SLOT.5: /(?:arc|curved)\s+slot/i
SWEEP.4: /sweep|arc\b|included/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {
    "ARC_SLOT": (("ARC SLOT", "arc slot"),),
    "SWEEP": (("SWEEP", "sweep"),),
}


class ArcSlots(Seats):
    """Reads slots along an arc by width, radius and angles."""

    def arc_rest(self, items: list[Any]) -> Any:
        return items[0]

    def arc_radius(self, items: list[Any]) -> tuple[str, Value]:
        return ("radius", self._first(items))

    def sweep(self, items: list[Any]) -> tuple[str, Value]:
        return ("angle", self._first(items))

    def arc_slot(self, items: list[Any]) -> Item:
        return Item("arc-slot", (("width", self._first(items)), *self._gathered(items)))


_SIZES = (
    ("radius", "R{}", "on radius"),
    ("angle", "{} SWEEP", "sweeping"),
    ("start-angle", "START {}", "from"),
)


def _write(c: Callout, pen: Pen) -> list[str]:
    radius, angle, start = (pen.value(c.part(name)) for name, *_ in _SIZES)
    if pen.sheet and radius and angle:
        # As a drawing says it: how wide, then the arc of its middle line, and how far it goes down.
        turned = f"R{radius} × {angle}" + (f" START {start}" if start else "")
        return [f"ARC SLOT {pen.value(c.part('width'))} WIDE", turned + write_end(c, pen)]
    first = f"ARC SLOT {pen.value(c.part('width'))} WIDE{write_end(c, pen)}"
    rest = " ".join(form.format(pen.value(c.part(name))) for name, form, _ in _SIZES if c.part(name))
    return [first, rest] if rest else [first]


def _say(c: Callout, speech: Speech) -> str:
    text = f"{speech.first}arc slot{speech.s} {speech.size(c.part('width'))} wide"
    for name, _, before in _SIZES:
        if c.part(name):
            text += f", {before} {speech.size(c.part(name))}"
    end = say_end(c, speech)
    return text + (f",{end}" if end else "")


ARC_SLOT = enter(
    Kind(
        "arc-slot",
        frozenset({"width", "radius", "angle", "start-angle", *ENDS}),
        _write,
        _say,
        needs=(("width",),),
        apart=(ENDS,),
        flags=END_FLAGS,
        one_thing=True,
        carried_by=("slot",),
    )
)
