"""Drafts and tapers: `3° DRAFT`, `TAPER 1:10`."""

import re
from typing import Any

from lark import Token

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech
from canonis.core.callout.values import Item, Misread, Numbers, Value
from canonis.core.quantity import exact_text, fraction_of

__all__ = ["DRAFT", "GRAMMAR", "ITEMS", "OFFERS", "Drafts"]

ITEMS = ("draft",)
GRAMMAR = r"""
draft: DRAFT angle_value | angle_value DRAFT
     | TAPER angle_value | angle_value TAPER
     | TAPER RATIO      -> taper_ratio
     | RATIO_FIRST TAPER -> taper_ratio

DRAFT.4: /draft/i
TAPER.4: /taper(?:\s+of)?/i
RATIO.9: /\d+(?:[.,]\d+)?\s*(?::|in\b|to\b)\s*\d+(?:[.,]\d+)?/i
RATIO_FIRST.9: /\d+(?:[.,]\d+)?\s*(?::|in\b|to\b)\s*\d+(?:[.,]\d+)?(?=\s+taper)/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {"DRAFT": (("DRAFT", "draft angle"),), "TAPER": (("TAPER", "taper"),)}


class Drafts(Numbers):
    """Reads leaning walls by angle or by ratio."""

    def draft(self, items: list[Any]) -> Item:
        return Item("draft", (("angle", self._first(items)),), note="taper" if self._has(items, "TAPER") else "")

    def taper_ratio(self, items: list[Any]) -> Item:
        said = next(str(t) for t in items if isinstance(t, Token) and t.type.startswith("RATIO"))
        rise, run = (fraction_of(t) for t in re.split(r"\s*(?::|in|to)\s*", said, flags=re.I))
        if not run:
            raise Misread("a taper of 1:0 cannot be made")
        ratio = Value(rise / run, f"{rise}:{run}", None, plain=True)
        return Item("draft", (("ratio", ratio),), note="taper")


def _write(c: Callout, pen: Pen) -> list[str]:
    ratio = c.size("ratio")
    if ratio:
        return [f"TAPER {ratio.numerator}:{ratio.denominator}"]
    return [f"{(c.detail or 'draft').upper()} {pen.value(c.part('angle'))}"]


def _say(c: Callout, speech: Speech) -> str:
    ratio = c.size("ratio")
    if ratio:
        return f"{c.detail or 'draft'} of 1:{exact_text(1 / ratio)}"
    return f"{c.detail or 'draft'} {speech.size(c.main)}"


DRAFT = enter(
    Kind(
        "draft",
        frozenset({"angle", "ratio"}),
        _write,
        _say,
        needs=(("angle", "ratio"),),
        one_thing=True,
        carried_by=("angle",),
        apart=(("angle", "ratio"),),
    )
)
