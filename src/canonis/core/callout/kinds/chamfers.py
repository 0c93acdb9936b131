"""Chamfers: `2 × 45°`, `3 × 2 CHAMFER`, and the default of all edges, `BREAK EDGES 0.3`."""

from fractions import Fraction
from typing import Any

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech
from canonis.core.callout.values import Angle, Item, Numbers

__all__ = ["CHAMFER", "GRAMMAR", "ITEMS", "OFFERS", "Chamfers"]

ITEMS = ("chamfer", "rim", "default_edge")
GRAMMAR = r"""
default_edge: EDGES value
            | CHAMFERS value (TIMES angle_value)?
            | CHAMFERS value TIMES value
chamfer: CHAMFER value TIMES angle_value
       | CHAMFER value TIMES value
       | CHAMFER value
       | value CHAMFER
       | angle_value CHAMFER        -> chamfer_after_angle
       | angle_value TIMES value    -> chamfer_from_angle
rim: RIM value TIMES angle_value

EDGES.4: /break\s+(?:all\s+)?(?:sharp\s+)?edges|(?:all\s+)?edges/i
CHAMFERS.4: /(?:all|unspecified)\s+chamfers/i
CHAMFER.4: /chamfer|cham\b|chf\b/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {
    "CHAMFER": (("CHAMFER", "chamfer"),),
    "EDGES": (("BREAK EDGES", "all edges"),),
}


class Chamfers(Numbers):
    """Reads chamfers by leg and angle or by two legs."""

    def default_edge(self, items: list[Any]) -> Item:
        leg, second = [*self._values(items), Angle(Fraction(45), "45°", 0)][:2]
        name = "angle" if isinstance(second, Angle) else "leg-b"
        return Item("chamfer", (("leg", leg), (name, second), ("unless-noted", None)), angle_said=True)

    def chamfer(self, items: list[Any]) -> Item:
        values = self._values(items)
        if len(values) == 1:
            return Item("chamfer", (("leg", values[0]), ("angle", Angle(Fraction(45), "45°", 0))))
        second = "angle" if isinstance(values[1], Angle) else "leg-b"
        return Item("chamfer", (("leg", values[0]), (second, values[1])), angle_said=second == "angle")

    def chamfer_from_angle(self, items: list[Any]) -> Item:
        angle, leg = self._values(items)
        return Item("chamfer", (("leg", leg), ("angle", angle)), angle_said=True)

    def chamfer_after_angle(self, items: list[Any]) -> Item:
        return Item("chamfer", (("angle", items[0]),), angle_first=True)

    def rim(self, items: list[Any]) -> Item:
        leg, angle = self._values(items)
        return Item("chamfer", (("leg", leg), ("angle", angle)))


def _write(c: Callout, pen: Pen) -> list[str]:
    leg, other = pen.value(c.part("leg")), pen.value(c.part("angle") or c.part("leg-b"))
    along = f" FOR {pen.value(c.part('length'))}" if c.part("length") else ""
    if c.general:
        return [f"ALL CHAMFERS {leg} × {other}{along}"]
    return [f"{leg} × {other}" + ("" if c.part("angle") else " CHAMFER") + along]


def _say(c: Callout, speech: Speech) -> str:
    leg, by = speech.size(c.part("leg")), speech.size(c.part("angle") or c.part("leg-b"))
    if c.general:
        return f"all edges broken {leg} by {by} unless noted"
    text = f"{speech.lead}chamfer{speech.s} {leg} by {by}"
    return text + (f", {speech.size(c.part('length'))} along the edge" if c.part("length") else "")


CHAMFER = enter(
    Kind(
        "chamfer",
        frozenset({"leg", "leg-b", "angle", "length"}),
        _write,
        _say,
        needs=(("leg",), ("angle", "leg-b")),
        apart=(("angle", "leg-b"),),
        same=frozenset({"angle", "leg-b"}),
        says_general=True,
    )
)
