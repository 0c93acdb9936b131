"""Forms that repeat all around: `24 TEETH EQ SP`, `6 LOBES EQ SP`. One member is dimensioned, the note says the rest."""

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
repeat: value (REPEATED | TEETH)

REPEATED.9: /(?:teeth|lobes?)(?:\s+eq(?:ually|ual)?\.?\s*sp(?:aced|aces|acing)?\b\.?)|lobes?\b/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {"REPEATED": (("TEETH EQ SP", "teeth all around"),)}


class Repeats(Numbers):
    """Reads numbers of teeth and lobes."""

    def repeat(self, items: list[Any]) -> Item:
        number = self._first(items)
        if number.nominal.denominator != 1:
            raise Misread(f"“{number.typed}” is no number of teeth")
        word = next(str(t) for t in items if isinstance(t, Token))
        lobes: tuple[tuple[str, None], ...] = (("lobes", None),) if word.lower().startswith("lobe") else ()
        return Item("repeat", (("members", replace(number, plain=True)), *lobes))


def _write(c: Callout, pen: Pen) -> list[str]:
    return [f"{pen.value(c.part('members'))} {_noun(c).upper()} EQ SP"]


def _say(c: Callout, speech: Speech) -> str:
    return f"{speech.size(c.part('members'))} {_noun(c)} equally spaced"


def _noun(c: Callout) -> str:
    return "lobes" if c.part("lobes") else "teeth"


REPEAT = enter(
    Kind(
        "repeat",
        frozenset({"members", "lobes"}),
        _write,
        _say,
        needs=(("members",),),
        flags=frozenset({"lobes"}),
        one_thing=True,
    )
)
