"""Splines with straight teeth: `SPLINE 6 × 23 × 26`, teeth × root × outside diameter."""

from dataclasses import replace
from typing import Any

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech
from canonis.core.callout.values import Item, Misread, Numbers, Value

__all__ = ["GRAMMAR", "ITEMS", "OFFERS", "SPLINE", "Splines"]

ITEMS = ("spline",)
GRAMMAR = r"""
spline: SPLINE value TIMES value TIMES value
      | SPLINE value TEETH spline_size spline_size -> spline_said
      | value TEETH SPLINE spline_size spline_size -> spline_said
spline_size: ROOT DIA? value | OUTSIDE DIA? value | SLASH? DIA value | value (ROOT | DIA | INOUT) | INOUT value

SPLINE.4: /splines?/i
TEETH.4: /teeth|tooth|T\b/i
ROOT.4: /root|minor/i
OUTSIDE.4: /outside(?!\s+dia)|outer(?!\s+dia)|major/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {"SPLINE": (("SPLINE", "teeth × minor × major"),)}


class Splines(Numbers):
    """Reads splines."""

    def spline_size(self, items: list[Any]) -> tuple[str, Value]:
        kind = "minor" if self._has(items, "ROOT") else "major" if self._has(items, "OUTSIDE") else ""
        return (kind, self._first(items))

    def spline_said(self, items: list[Any]) -> Item:
        teeth = self._first(items)
        sizes = [i for i in items if isinstance(i, tuple)]
        low, high = sorted((v for _, v in sizes), key=lambda v: v.nominal)
        named: dict[str, Value] = dict(sizes)
        if ("minor" in named and named["minor"] is not low) or ("major" in named and named["major"] is not high):
            raise Misread("the root of a spline is smaller than its outside")
        return self.spline([teeth, low, high])

    def spline(self, items: list[Any]) -> Item:
        teeth, minor, major = self._values(items)
        if teeth.nominal.denominator != 1:
            raise Misread(f"“{teeth.typed}” is no number of teeth")
        return Item("spline", (("teeth", replace(teeth, plain=True)), ("minor", minor), ("major", major)))


def _write(c: Callout, pen: Pen) -> list[str]:
    teeth, minor, major = (pen.value(c.part(name)) for name in _PARTS)
    return [f"SPLINE {teeth} × {minor} × {major}"]


def _say(c: Callout, speech: Speech) -> str:
    teeth, minor, major = (speech.size(c.part(name)) for name in _PARTS)
    return f"{speech.first}spline{speech.s} with {teeth} teeth, ⌀{minor} to ⌀{major}"


_PARTS = ("teeth", "minor", "major")
SPLINE = enter(Kind("spline", frozenset(_PARTS), _write, _say, needs=tuple((p,) for p in _PARTS), one_thing=True))
