"""Lengths: `25`, `25 ±.1`, `96 OVERALL`, `76 CENTRES`."""

from typing import Any

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech
from canonis.core.callout.values import Item, Numbers

__all__ = ["GRAMMAR", "ITEMS", "LENGTH", "OFFERS", "Lengths"]

ITEMS = ("length",)
GRAMMAR = r"""
length: value (DIMENSION_WORD | LONG | CENTRES)?
      | CENTRES value
      | LEAD value CENTRES?
      | value OVERALL
      | (DIMENSION_WORD | LONG) value
      | OVERALL value

CENTRES.4: /(?:hole\s+)?cent(?:re|er)\s+distance|hole\s+cent(?:re|er)s|between\s+cent(?:re|er)s|cent(?:re|er)\s+to\s+cent(?:re|er)|cent(?:re|er)s|crs\b|ctrs\b|c-c|c\/c|c\s+to\s+c\b/i
// What a distance is of, in front of it.
LEAD.5: /(?:(?:the\s+)?(?:hole|bore|slot|boss|pocket|pin|stud)s?\s+)?(?:cent(?:re|er)s?|cent(?:re|er)\s*lines?|distance|position|location)(?:\s+(?:is|at|of))?(?=\s+[\d.])|(?:hole|slot|boss|pocket|pin)(?=\s+[\d.,]+\s+(?:up|down|in|from|to|above|below))|(?:hole|slot|pin|stud)s(?=\s+[\d.,]+\s+(?:crs|ctrs|c\/c|c-c|cent))/i
OVERALL.4: /overall|oa\b/i
LONG.4: /long\b|length\b/i
DIMENSION_WORD.3: /wide|width|high|height|thick(?:ness)?|thk\b|deep\s+overall/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {
    "CENTRES": (("CENTRES", "between centres"),), "OVERALL": (("OVERALL", "over all"),), "LONG": (("LONG", "length"),),
    "DIMENSION_WORD": (("WIDE", "width"), ("HIGH", "height"), ("THICK", "thickness")),
}  # fmt: skip


class Lengths(Numbers):
    """Reads lengths."""

    def length(self, items: list[Any]) -> Item:
        return Item("length", (("length", self._first(items)),))


def _write(c: Callout, pen: Pen) -> list[str]:
    return [pen.value(c.part("length"))]


def _say(c: Callout, speech: Speech) -> str:
    return f"{speech.lead}length{speech.s} {speech.size(c.main)}"


LENGTH = enter(Kind("length", frozenset({"length"}), _write, _say, needs=(("length",),)))
