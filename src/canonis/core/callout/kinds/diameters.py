"""Diameters of shafts, bosses and spheres: `⌀16 h6`, `S⌀12`."""

from typing import Any

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech
from canonis.core.callout.values import Item, Numbers

__all__ = ["DIAMETER", "GRAMMAR", "ITEMS", "OFFERS", "Diameters"]

ITEMS = ("diameter", "sphere")
GRAMMAR = r"""
diameter: diam
sphere: SPHERE_DIA value -> sphere_diameter
      | SPHERE_R value   -> sphere_radius

SPHERE_DIA.6: /S⌀|SØ|S∅|S\s*dia\b|spher(?:e|ical)\s+(?:⌀|dia(?:meter)?)|sphere(?!\s+r)/i
SPHERE_R.6: /SR(?=\s*[\d.])|spher(?:e|ical)\s+r(?:adius|ad)?/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {
    "DIA": (("⌀", "diameter"),),
    "SPHERE_DIA": (("S⌀", "spherical diameter"),),
    "SPHERE_R": (("SR", "spherical radius"),),
}


class Diameters(Numbers):
    """Reads diameters, and spheres by diameter or radius."""

    def diameter(self, items: list[Any]) -> Item:
        return Item("diameter", (("diameter", items[0]),))

    def sphere_diameter(self, items: list[Any]) -> Item:
        return Item("diameter", (("diameter", self._first(items)), ("sphere", None)))

    def sphere_radius(self, items: list[Any]) -> Item:
        return Item("radius", (("radius", self._first(items)), ("sphere", None)))


def _write(c: Callout, pen: Pen) -> list[str]:
    return [f"{'S' if c.part('sphere') else ''}⌀{pen.value(c.part('diameter'))}"]


def _say(c: Callout, speech: Speech) -> str:
    return f"{speech.lead}{'spherical ' if c.part('sphere') else ''}diameter{speech.s} {speech.size(c.main)}"


DIAMETER = enter(
    Kind(
        "diameter",
        frozenset({"diameter", "sphere"}),
        _write,
        _say,
        needs=(("diameter",),),
        flags=frozenset({"sphere"}),
        carried_by=("hole", "radius"),
    )
)
