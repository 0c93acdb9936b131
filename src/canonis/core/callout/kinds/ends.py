"""How far holes and slots go, and what closes them: `THRU`, `↧12`, `118° POINT`, `FLAT BOTTOM`."""

from typing import Any

from canonis.core.callout.callout import Callout
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech
from canonis.core.callout.values import Numbers, Typed, Value

__all__ = ["ALL", "BOTTOMS", "ENDS", "END_FLAGS", "GRAMMAR", "OFFERS", "Ends", "say_end", "write_end"]

GRAMMAR = r"""
end: THRU                -> through
   | DEPTH value         -> depth
   | TIMES? value (DEEP | DEPTH)   -> depth
bottom: angle_value POINT -> point
      | FLAT_BOTTOM       -> flat_bottom

THRU.4: /thru(\s+all)?|through(\s+all)?/i
DEPTH.3: /↧|(?:to\s+)?(?:a\s+)?depth(?:\s+of)?/i
DEEP.3: /deep|dp\b/i
POINT.4: /point/i
FLAT_BOTTOM.4: /flat\s+bottom(?:ed)?|FB\b/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {
    "THRU": (("THRU", "through"),), "DEPTH": (("↧", "depth"),), "DEEP": (("DEEP", "depth before it"),),
    "POINT": (("POINT", "drill point"),), "FLAT_BOTTOM": (("FLAT BOTTOM", "flat bottom"),),
}  # fmt: skip
#: Of each of these a thing has one at most.
ENDS, BOTTOMS = ("through", "depth"), ("point-angle", "flat-bottom")
#: Those of them that have no size.
END_FLAGS = frozenset({"through", "flat-bottom"})
#: How THRU ALL is typed: through whatever lies behind as well.
ALL = "ALL"


class Ends(Numbers):
    """Reads ends."""

    def through(self, items: list[Any]) -> tuple[str, Typed | None]:
        return ("through", Typed(ALL) if "all" in str(items[0]).lower() else None)

    def depth(self, items: list[Any]) -> tuple[str, Value]:
        return ("depth", self._first(items))

    def point(self, items: list[Any]) -> tuple[str, Value]:
        return ("point-angle", self._first(items))

    def flat_bottom(self, _: list[Any]) -> tuple[str, None]:
        return ("flat-bottom", None)


def write_end(c: Callout, pen: Pen) -> str:
    """The end with a space before it; empty for none."""
    through = c.part("through")
    if through:
        text = " THRU ALL" if through.typed == ALL else " THRU"
    else:
        text = f" {pen.deep(c.part('depth'))}" if c.part("depth") else ""
    if c.part("point-angle"):
        text += f" {pen.value(c.part('point-angle'))} POINT"
    return text + (" FLAT BOTTOM" if c.part("flat-bottom") else "")


def say_end(c: Callout, speech: Speech) -> str:
    """The end in words with a space before them; empty for none."""
    text = " through" if c.part("through") else ""
    text += f" deep {speech.size(c.part('depth'))}" if c.part("depth") else ""
    if c.part("point-angle"):
        text += f", point {speech.size(c.part('point-angle'))}"
    return text + (", flat bottom" if c.part("flat-bottom") else "")
