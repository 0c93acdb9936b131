"""Thicknesses of walls, ribs and webs: `WALL 3`."""

from typing import Any

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech
from canonis.core.callout.values import Item, Numbers

__all__ = ["GRAMMAR", "ITEMS", "OFFERS", "WALL", "Walls"]

ITEMS = ("wall",)
GRAMMAR = r"""
wall: WALL value DIMENSION_WORD? | value DIMENSION_WORD? WALL

WALL.4: /(?:walls?|ribs?|webs?)(?:\s+thickness)?/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {"WALL": (("WALL", "wall"),)}


class Walls(Numbers):
    """Reads thicknesses."""

    def wall(self, items: list[Any]) -> Item:
        return Item("wall", (("thickness", self._first(items)),))


def _write(c: Callout, pen: Pen) -> list[str]:
    return [f"WALL {pen.value(c.part('thickness'))}"]


def _say(c: Callout, speech: Speech) -> str:
    return f"{speech.lead}wall{speech.s} {speech.size(c.main)} thick"


WALL = enter(Kind("wall", frozenset({"thickness"}), _write, _say, needs=(("thickness",),), one_thing=True))
