"""Forms that repeat: `24 TEETH EQ SP`, `6 LOBES EQ SP` all around, `8 PLACES AT 7 PITCH` along a line. One member is dimensioned,
the note says the rest."""

from dataclasses import replace
from typing import Any

from lark import Token

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech
from canonis.core.callout.values import Item, Misread, Numbers, Value
from canonis.core.quantity import fraction_of

__all__ = ["GRAMMAR", "ITEMS", "OFFERS", "REPEAT", "Repeats"]

ITEMS = ("repeat",)
GRAMMAR = r"""
repeat: value (REPEATED | TEETH) | PLACES_EVENLY | PLACES_ALONG value PITCH?

REPEATED.9: /(?:teeth|lobes?)(?:\s+eq(?:ually|ual)?\.?\s*sp(?:aced|aces|acing)?\b\.?)|lobes?\b/i
// 4 PLACES before or after a size counts it; by itself it is said of what is drawn there.
PLACES_EVENLY.12: /\d+\s+places\s+eq(?:ually|ual)?\.?\s*sp(?:aced|aces|acing)?\b\.?/i
PLACES_ALONG.12: /\d+\s+places\s+at\b/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {"REPEATED": (("TEETH EQ SP", "teeth all around"),)}


class Repeats(Numbers):
    """Reads numbers of teeth and lobes."""

    def repeat(self, items: list[Any]) -> Item:
        word = next(str(t) for t in items if isinstance(t, Token))
        if "places" in word.lower():
            number = word.split()[0]
            members = Value(fraction_of(number), number, 0, plain=True)
            pitch = [("pitch", v) for v in self._values(items)]
            return Item("repeat", (("members", members), ("places", None), *pitch))
        count = self._first(items)
        if count.nominal.denominator != 1:
            raise Misread(f"“{count.typed}” is no number of teeth")
        lobes: tuple[tuple[str, None], ...] = (("lobes", None),) if word.lower().startswith("lobe") else ()
        return Item("repeat", (("members", replace(count, plain=True)), *lobes))


def _write(c: Callout, pen: Pen) -> list[str]:
    evenly = f"AT {pen.value(c.part('pitch'))} PITCH" if c.part("pitch") else "EQ SP"
    return [f"{pen.value(c.part('members'))} {_noun(c).upper()} {evenly}"]


def _say(c: Callout, speech: Speech) -> str:
    evenly = f"at a pitch of {speech.size(c.part('pitch'))}" if c.part("pitch") else "equally spaced"
    return f"{speech.size(c.part('members'))} {_noun(c)} {evenly}"


def _noun(c: Callout) -> str:
    return next((name for name in ("lobes", "places") if c.part(name)), "teeth")


REPEAT = enter(
    Kind(
        "repeat",
        frozenset({"members", "lobes", "places", "pitch"}),
        _write,
        _say,
        needs=(("members",),),
        apart=(("lobes", "places"), ("places", "equally-spaced")),
        together=(("pitch", "places"),),
        flags=frozenset({"lobes", "places"}),
        one_thing=True,
    )
)
