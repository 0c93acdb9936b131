"""Faces that no drawing dimensions: `FREE FORM BY THE MODEL`, `THREAD BY THE MODEL` (ISO 16792)."""

from typing import Any

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech
from canonis.core.callout.values import Item, Numbers

__all__ = ["FREE_FORM", "GRAMMAR", "ITEMS", "OFFERS", "FreeForms"]

ITEMS = ("free_form",)
GRAMMAR = r"""
free_form: BY_THE_MODEL

BY_THE_MODEL.9: /(?:free\s+form|threads?)\s+by\s+the\s+model/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {"BY_THE_MODEL": (("FREE FORM BY THE MODEL", "shape by the model"),)}


class FreeForms(Numbers):
    """Reads what is left to the model."""

    def free_form(self, items: list[Any]) -> Item:
        thread = str(items[0]).lower().startswith("thread")
        return Item("free-form", (("by-the-model", None),), note="thread" if thread else "")


def _write(c: Callout, _: Pen) -> list[str]:
    return [f"{(c.detail or 'free form').upper()} BY THE MODEL"]


def _say(c: Callout, _: Speech) -> str:
    return f"{c.detail or 'free form'} by the model"


FREE_FORM = enter(
    Kind(
        "free-form",
        frozenset({"by-the-model"}),
        _write,
        _say,
        needs=(("by-the-model",),),
        one_thing=True,
        flags=frozenset({"by-the-model"}),
    )
)
