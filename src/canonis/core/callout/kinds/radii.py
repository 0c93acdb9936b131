"""Radii: `4× R6`, `SR8`, `FULL R`, and the default of all rounds, `ROUNDS AND FILLETS R2 UON`."""

from typing import Any

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech
from canonis.core.callout.values import Item, Numbers

__all__ = ["GRAMMAR", "ITEMS", "OFFERS", "RADIUS", "ROUND", "Radii"]

ITEMS = ("radius", "default_round")
GRAMMAR = r"""
radius: R value FILLET? | value R FILLET? | FULL_R
      | FILLET R? value
      | value FILLET
default_round: ROUNDS R? value

R.2: /radius|rad\b|R(?=[\s\d.]|$)/i
FILLET.3: /(?:internal\s+|external\s+)?(?:fillets?|rounds?\b|blends?|corners?)/i
FULL_R.4: /full\s*(?:R\b|rad(?:ius)?)/i
ROUNDS.4: /rounds\s+and\s+fillets|fillets\s+and\s+rounds|(?:all|unspecified)\s+(?:rounds|radii|fillets)|rounds|fillets/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {
    "R": (("R", "radius"),),
    "FULL_R": (("FULL R", "full radius"),),
    "ROUNDS": (("ROUNDS AND FILLETS R", "all rounds"),),
}


class Radii(Numbers):
    """Reads radii."""

    def radius(self, items: list[Any]) -> Item:
        values = self._values(items)
        return Item("radius", (("radius", values[0]),) if values else (("full-radius", None),))

    def default_round(self, items: list[Any]) -> Item:
        return Item("round", (("radius", self._first(items)),))


def _write(c: Callout, pen: Pen) -> list[str]:
    return [f"{'S' if c.part('sphere') else ''}R{pen.value(c.part('radius'))}" if c.part("radius") else "FULL R"]


def _say(c: Callout, speech: Speech) -> str:
    if not c.part("radius"):
        return "full radius"
    ball = "spherical " if c.part("sphere") else ""
    return f"{speech.lead}{ball}radi{'i' if c.count > 1 else 'us'} {speech.size(c.main)}"


RADIUS = enter(
    Kind(
        "radius",
        frozenset({"radius", "full-radius", "sphere"}),
        _write,
        _say,
        needs=(("radius", "full-radius"),),
        apart=(("radius", "full-radius"),),
        together=(("sphere", "radius"),),
        flags=frozenset({"full-radius", "sphere"}),
        carried_by=("diameter", "round"),
    )
)
ROUND = enter(
    Kind(
        "round",
        frozenset({"radius"}),
        lambda c, pen: [f"ROUNDS AND FILLETS R{pen.value(c.part('radius'))}"],
        lambda c, speech: f"all rounds and fillets R{speech.size(c.main)} unless noted",
        needs=(("radius",),),
        says_general=True,
        carried_by=("radius",),
    )
)
