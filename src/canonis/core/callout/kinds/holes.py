"""Hole notes: `4× ⌀6.6 THRU ⌴⌀11 ↧6.5`, holes for screws, tap drills."""

from collections.abc import Callable
from fractions import Fraction
from typing import Any

from lark import Token

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.kinds.ends import BOTTOMS, END_FLAGS, ENDS, say_end, write_end
from canonis.core.callout.kinds.seats import SEAT_FLAGS, SEATED, SEATS, Seats, check_seats, say_seats, write_seats
from canonis.core.callout.pen import Pen
from canonis.core.callout.screws import cap_seat, clearance, flat_seat
from canonis.core.callout.speech import Speech
from canonis.core.callout.threads import read_thread
from canonis.core.callout.values import Angle, Item, Misread, Value
from canonis.core.faults import BadInput
from canonis.core.quantity import Unit

__all__ = ["GRAMMAR", "HOLE", "ITEMS", "OFFERS", "Holes", "asked", "tabled"]

ITEMS = ("hole", "screw_hole")
GRAMMAR = r"""
hole: diam end bottom? seat*
    | diam seat+
    | diam HOLE end? bottom? seat*
    | drilled end? bottom? seat*
    | (DRILL | REAM | BORE) THRU DIA? value -> drilled_through
    | cut_seat+ (diam | drilled) end? bottom?   -> seat_first
drilled: (DRILL | REAM | BORE) DIA? value DIA?
       | value (DRILL | REAM | BORE)
       | diam (DRILL | REAM | BORE)
screw_hole: CLEARANCE screw SCREW_WORD? FIT_WORD? end?     -> clearance_hole
          | (thread_name | SCREW_SIZE) CLEARANCE FIT_WORD? end? -> clearance_after
          | CAP_SCREW screw FIT_WORD? end?     -> cap_hole
          | FLAT_SCREW screw FIT_WORD? end?    -> flat_hole
          | TAP_DRILL thread_name end? seat*   -> tap_drill
screw: thread_name | value | SCREW_SIZE

HOLE.4: /holes?/i
DRILL.4: /drill(?:ed)?/i
REAM.4: /ream(?:ed)?/i
BORE.3: /bored?\b/i
CLEARANCE.5: /clearance(?:\s+holes?)?(?:\s+for)?|clear\b/i
CAP_SCREW.6: /(?:socket\s+)?cap\s+screws?/i
FLAT_SCREW.6: /(?:csk|flat\s+head|countersunk)\s+screws?/i
TAP_DRILL.6: /tap\s*drill(?:\s+for)?|drill\s+for\s+tap/i
FIT_WORD.4: /close|normal|medium|loose|free/i
SCREW_SIZE.6: /(?:#|no\.?\s*)\d+(?![\d-])/i
SCREW_WORD.4: /screws?|bolts?/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {
    "HOLE": (("HOLE", "hole"),), "DRILL": (("DRILL", "drill"),), "REAM": (("REAM", "reamed hole"),),
    "CLEARANCE": (("CLEARANCE", "hole for a screw"),), "CAP_SCREW": (("CAP SCREW", "hole and counterbore"),),
    "FLAT_SCREW": (("FLAT HEAD SCREW", "hole and countersink"),), "TAP_DRILL": (("TAP DRILL", "drill for a thread"),),
    "FIT_WORD": (("CLOSE", "close fit"), ("NORMAL", "normal fit"), ("LOOSE", "loose fit")),
}  # fmt: skip


def tabled(mm: Fraction, typed: str) -> Value:
    """A size that was looked up, mm."""
    return Value(mm, typed, None, unit=Unit.MM, table=True)


def asked(table: Callable[..., Any], *arguments: Any) -> Any:
    """A look-up whose refusal becomes the line's error."""
    try:
        return table(*arguments)
    except BadInput as fault:
        raise Misread(str(fault)) from None


class Holes(Seats):
    """Reads hole notes."""

    def drilled(self, items: list[Any]) -> Value:
        return self._first(items)

    def hole(self, items: list[Any]) -> Item:
        return Item("hole", (("diameter", self._first(items)), *self._gathered(items)))

    def seat_first(self, items: list[Any]) -> Item:
        # The seat stands before the hole it belongs to.
        bore = next(i for i in items if isinstance(i, Value))
        ends = [i for i in items if isinstance(i, tuple)]
        seats = self._gathered([i for i in items if isinstance(i, list)])
        return Item("hole", (("diameter", bore), *ends, *seats))

    def drilled_through(self, items: list[Any]) -> Item:
        return Item("hole", (("diameter", self._first(items)), ("through", None)))

    def screw(self, items: list[Any]) -> str:
        item = items[0]
        return item.typed if isinstance(item, Value) else str(item)

    def _fit(self, items: list[Any]) -> str:
        word = next((str(i).lower() for i in items if isinstance(i, Token) and i.type == "FIT_WORD"), "normal")
        return {"medium": "normal", "free": "loose"}.get(word, word)

    def _screw_hole(self, items: list[Any], seats: list[tuple[str, Any]], what: str) -> Item:
        size, fit = str(items[1]), self._fit(items)
        bore = tabled(asked(clearance, size, fit), f"{size} {fit}")
        ends = [i for i in items if isinstance(i, tuple)] or [("through", None)]
        return Item("hole", (("diameter", bore), *ends, *seats), note=f"{what} {size}, {fit} fit")

    def clearance_hole(self, items: list[Any]) -> Item:
        return self._screw_hole(items, [], "clearance for")

    def clearance_after(self, items: list[Any]) -> Item:
        return self._screw_hole([None, *items], [], "clearance for")

    def cap_hole(self, items: list[Any]) -> Item:
        size = str(items[1])
        diameter, depth = asked(cap_seat, size)
        seats = [("counterbore-diameter", tabled(diameter, size)), ("counterbore-depth", tabled(depth, size))]
        return self._screw_hole(items, seats, "for a cap screw")

    def flat_hole(self, items: list[Any]) -> Item:
        size = str(items[1])
        seats = [
            ("countersink-diameter", tabled(asked(flat_seat, size), size)),
            ("countersink-angle", Angle(Fraction(90), "90°", 0, table=True)),
        ]
        return self._screw_hole(items, seats, "for a flat head screw")

    def tap_drill(self, items: list[Any]) -> Item:
        thread = asked(read_thread, str(items[1]))
        if thread.drill is None:
            raise Misread(f"no tap drill is tabled for {thread.designation}; write its diameter")
        ends = self._gathered(items[2:])
        bore = ("diameter", tabled(thread.drill, thread.designation))
        return Item("hole", (bore, *ends), note=f"tap drill for {thread.designation}")


#: How the detail of a hole for a screw begins, and what is written for it.
_SCREWS = {"clearance for": "CLEARANCE", "for a cap screw": "CAP SCREW", "for a flat head screw": "FLAT HEAD SCREW"}
_TAP_DRILL = "tap drill for "


def _write(c: Callout, pen: Pen) -> list[str]:
    for start, word in _SCREWS.items():
        if c.detail.startswith(start):
            size, _, fit = c.detail[len(start) :].strip().partition(", ")
            return [f"{word} {size} {fit.split()[0].upper()}{write_end(c, pen)}"]
    end, seats = write_end(c, pen), write_seats(c, pen)
    if c.detail.startswith(_TAP_DRILL):
        return [f"TAP DRILL {c.detail[len(_TAP_DRILL) :]}{end}", *seats]
    plain = (not end and not seats) or c.part("flat-bottom") or c.part("point-angle")
    return [f"{pen.across(c.part('diameter'))}{' HOLE' if plain else ''}{end}", *seats]


def _say(c: Callout, speech: Speech) -> str:
    text = f"{speech.first}hole{speech.s} ⌀{speech.size(c.part('diameter'))}"
    return f"{text}{say_end(c, speech)}{say_seats(c, speech)}" + (f" ({c.detail})" if c.detail else "")


HOLE = enter(
    Kind(
        "hole",
        frozenset({"diameter", *ENDS, *BOTTOMS}) | SEATS,
        _write,
        _say,
        needs=(("diameter",),),
        apart=(ENDS, BOTTOMS),
        together=SEATED,
        check=check_seats,
        flags=END_FLAGS | SEAT_FLAGS,
    )
)
