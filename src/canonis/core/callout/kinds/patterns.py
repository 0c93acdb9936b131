"""Patterns: `⌀20 PCD`, `PITCH 20`, `GRID 3 × 4 AT 20 × 15`."""

from typing import Any

from lark import Token

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech, number_of
from canonis.core.callout.values import Item, Misread, Numbers, Value
from canonis.core.quantity import fraction_of

__all__ = ["GRAMMAR", "ITEMS", "OFFERS", "PATTERN", "Patterns"]

ITEMS = ("pitch_circle", "pattern")
GRAMMAR = r"""
pitch_circle: diam PCD
            | PCD value
pattern: PITCH value | value PITCH
       | GRID NUMBER TIMES NUMBER (AT value TIMES value)? -> grid

PCD.3: /PCD|P\.C\.D\.?|PC\b|BC\b|pitch\s+circle/i
PITCH.3: /pitch|apart/i
GRID.4: /grid/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {
    "PITCH": (("PITCH", "pitch"),),
    "GRID": (("GRID", "columns × rows"),),
    "PCD": (("PCD", "pitch circle"),),
}


class Patterns(Numbers):
    """Reads where equal things stand."""

    def pitch_circle(self, items: list[Any]) -> Item:
        return Item("pattern", (("pitch-circle", self._first(items)),))

    def pattern(self, items: list[Any]) -> Item:
        return Item("pattern", (("pitch", self._first(items)),))

    def grid(self, items: list[Any]) -> Item:
        counts = [fraction_of(str(t)) for t in items if isinstance(t, Token) and t.type == "NUMBER"]
        if any(c.denominator != 1 or c < 1 for c in counts):
            raise Misread("a grid needs two whole numbers, such as GRID 3 x 4")
        parts: list[tuple[str, Any]] = [
            (n, Value(c, str(c), 0, plain=True)) for n, c in zip(("columns", "rows"), counts, strict=True)
        ]
        parts += zip(("pitch", "pitch-b"), self._values(items), strict=False)
        return Item("pattern", tuple(parts))


def _write(c: Callout, pen: Pen) -> list[str]:
    if c.part("columns"):
        columns, rows = (pen.value(c.part(name)) for name in ("columns", "rows"))
        at = f" AT {pen.value(c.part('pitch'))} × {pen.value(c.part('pitch-b'))}" if c.part("pitch") else ""
        return [f"GRID {columns} × {rows}{at}"]
    if c.part("pitch-circle"):
        return [f"⌀{pen.value(c.part('pitch-circle'))} PCD"]
    # On a dimension line the size comes first.
    pitch = pen.value(c.part("pitch"))
    return [f"{pitch} PITCH" if pen.sheet else f"PITCH {pitch}"]


def _say(c: Callout, speech: Speech) -> str:
    if c.part("columns"):
        text = f"grid of {speech.size(c.part('columns'))} by {speech.size(c.part('rows'))}"
        return text + (
            f" at {speech.size(c.part('pitch'))} by {speech.size(c.part('pitch-b'))}" if c.part("pitch") else ""
        )
    if c.part("pitch-circle"):
        return f"pitch circle ⌀{speech.size(c.part('pitch-circle'))}"
    return f"{f'{number_of(c.count)} at a ' if c.count > 1 else ''}pitch of {speech.size(c.part('pitch'))}"


def _check(c: Callout) -> str | None:
    if c.part("columns") and bool(c.part("pitch")) != bool(c.part("pitch-b")):
        return "a grid has a pitch along its columns and one along its rows, or neither"
    return None


PATTERN = enter(
    Kind(
        "pattern",
        frozenset({"pitch-circle", "pitch", "columns", "rows", "pitch-b"}),
        _write,
        _say,
        needs=(("pitch-circle", "pitch", "columns"),),
        apart=(("pitch-circle", "pitch"), ("pitch-circle", "columns")),
        together=(("columns", "rows"), ("rows", "columns"), ("pitch-b", "columns")),
        check=_check,
        stands_below=True,
        sheet_name="bolt-circle",
    )
)
