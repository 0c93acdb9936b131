"""Forms that repeat: `24 TEETH EQ SP`, `6 LOBES EQ SP` all around, `8 PLACES AT 7 PITCH` along a line. One member is dimensioned,
the note says the rest."""

from dataclasses import replace
from typing import Any

from lark import Token

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech
from canonis.core.callout.values import Item, Misread, Numbers

__all__ = ["GRAMMAR", "ITEMS", "OFFERS", "REPEAT", "Repeats"]

ITEMS = ("repeat",)
GRAMMAR = r"""
repeat: value (REPEATED | TEETH | PLACES)

REPEATED.9: /(?:teeth|lobes?|places)(?:\s+eq(?:ually|ual)?\.?\s*sp(?:aced|aces|acing)?\b\.?)|lobes?\b/i
PLACES.8: /places(?=\s+at\b)/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {
    "REPEATED": (("TEETH EQ SP", "teeth all around"), ("PLACES EQ SP", "as one is drawn, all around")),
    "PLACES": (("PLACES AT", "as one is drawn, along a line"),),
}


class Repeats(Numbers):
    """Reads numbers of teeth and lobes."""

    def repeat(self, items: list[Any]) -> Item:
        number = self._first(items)
        if number.nominal.denominator != 1:
            raise Misread(f"“{number.typed}” is no number of teeth")
        word = next(str(t) for t in items if isinstance(t, Token))
        named = next((name for name in ("lobes", "places") if word.lower().startswith(name[:4])), None)
        flags: tuple[tuple[str, None], ...] = ((named, None),) if named else ()
        return Item("repeat", (("members", replace(number, plain=True)), *flags))


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
        apart=(("lobes", "places"),),
        together=(("pitch", "places"),),
        flags=frozenset({"lobes", "places"}),
        one_thing=True,
    )
)
