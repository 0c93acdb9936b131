"""Angles: `30°`, `30° 2 PLACES`, `30° FROM base`."""

from typing import Any

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech
from canonis.core.callout.values import Item, Numbers

__all__ = ["ANGLE", "GRAMMAR", "ITEMS", "OFFERS", "Angles"]

ITEMS = ("angle",)
GRAMMAR = r"""
angle: angle_value
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {}


class Angles(Numbers):
    """Reads angles."""

    def angle(self, items: list[Any]) -> Item:
        return Item("angle", (("angle", items[0]),))


def _write(c: Callout, pen: Pen) -> list[str]:
    return [pen.value(c.part("angle"))]


def _say(c: Callout, speech: Speech) -> str:
    return f"{speech.lead}angle{speech.s} {speech.size(c.main)}"


ANGLE = enter(Kind("angle", frozenset({"angle"}), _write, _say, needs=(("angle",),), counted_after=True))
