"""Bends of round bars and pipes: `BEND R38 TO CL`, the radius of the centre line."""

from typing import Any

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech
from canonis.core.callout.values import Item, Numbers

__all__ = ["BEND", "GRAMMAR", "ITEMS", "OFFERS", "Bends"]

ITEMS = ("bend",)
GRAMMAR = r"""
bend: BEND R? value TO_CL | CLR value | value CLR

BEND.4: /bends?(?:\s+radius)?/i
TO_CL.5: /(?:to|on)\s+(?:the\s+)?(?:CL\b|cent(?:re|er)[\s-]?lines?)/i
CLR.5: /CLR\b|cent(?:re|er)[\s-]?line\s+rad(?:ius)?\b/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {"BEND": (("BEND R TO CL", "bend to its centre line"),)}


class Bends(Numbers):
    """Reads bends."""

    def bend(self, items: list[Any]) -> Item:
        return Item("bend", (("radius", self._first(items)),))


def _write(c: Callout, pen: Pen) -> list[str]:
    return [f"BEND R{pen.value(c.part('radius'))} TO CL"]


def _say(c: Callout, speech: Speech) -> str:
    return f"{speech.lead}bend{speech.s} of R{speech.size(c.main)} to the centre line"


BEND = enter(Kind("bend", frozenset({"radius"}), _write, _say, needs=(("radius",),)))
