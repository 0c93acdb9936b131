"""Threads: `M8 ↧16 DRILL ⌀6.8 ↧20`, `M12 × 1.5 20 LONG`."""

from dataclasses import replace
from typing import Any

from lark import Token

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.kinds.ends import BOTTOMS, END_FLAGS, ENDS, say_end, write_end
from canonis.core.callout.kinds.holes import Holes, asked, tabled
from canonis.core.callout.kinds.seats import SEAT_FLAGS, SEATED, SEATS, check_seats, say_seats, write_seats
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech
from canonis.core.callout.threads import read_thread
from canonis.core.callout.values import Item, Value

__all__ = ["GRAMMAR", "ITEMS", "OFFERS", "THREAD", "Threads"]

ITEMS = ("thread",)
GRAMMAR = r"""
thread_name: METRIC_THREAD | THREAD
thread: (TAP | THREAD_WORD)? thread_name (TAP | THREAD_WORD)? end? bottom? drill? seat*
      | thread_name THREAD_WORD value          -> thread_to
      | drilled end TAP thread_name end?       -> drilled_thread
      | thread_name TIMES? value LONG          -> outside_thread
drill: DRILL? DIA value end
     | DRILL value DIA? end
     | DRILL end                               -> drill_depth

THREAD_WORD.4: /(?:full\s+)?thread(?:ed)?(?!\s+relief)/i
TAP.4: /tapped\b|tap\b/i
METRIC_THREAD.9: /M\d+([.,]\d+)?(\s*[x×]\s*(Ph\s*\d*[.,]?\d+\s*P\s*)?\d*[.,]?\d+(?!\s*(?:deep|dp|long|°|deg)))?(-\d?[gGhH]\d?([gGhH]\d?)?)?(\s*-?\s*LH)?(?![\w])/i
THREAD.9: /(#?\d+([ -]\d+\/\d+|\/\d+)?|\d*\.\d+)-\d+\s*(UN[CFJ]?|STUB\s+ACME|ACME)(-\d[A-Z])?(\s*-?\s*LH)?(?![\w])|(G|Rp|Rc)\s?\d+(\s\d+\/\d+|\/\d+)?(\s?[AB])?(?![\w\/])|\d+([ ]\d+\/\d+|\/\d+)?(-\d+(\.\d)?)?\s*(NPTF?|BSPP?T?)(?![\w])|Tr\s*\d+([.,]\d+)?\s*[x×]\s*\d+([.,]\d+)?(\s*\(?P\d+([.,]\d+)?\)?)?(-\d[eEhHcC])?(\s*-?\s*LH)?(?![\w])/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {"METRIC_THREAD": (("M", "metric thread"),)}


class Threads(Holes):
    """Reads threads, inside with their drills and outside with their lengths."""

    def thread_name(self, items: list[Any]) -> str:
        return " ".join(str(items[0]).split())

    def drill(self, items: list[Any]) -> list[tuple[str, Any]]:
        end = next(i for i in items if isinstance(i, tuple))
        return [("drill-diameter", self._first(items)), self._drill_end(end)]

    def drill_depth(self, items: list[Any]) -> list[tuple[str, Any]]:
        return [self._drill_end(next(i for i in items if isinstance(i, tuple)))]

    def _drill_end(self, end: tuple[str, Any]) -> tuple[str, Any]:
        return ("drill-depth" if end[0] == "depth" else "drill-through", end[1])

    def _known(self, text: str) -> list[tuple[str, Any]]:
        thread = asked(read_thread, text)
        parts: list[tuple[str, Any]] = [
            ("thread", text),
            ("major", tabled(thread.major, text)),
            ("pitch", tabled(thread.pitch, text)),
        ]
        if thread.starts > 1:
            parts.append(("lead", tabled(thread.pitch * thread.starts, text)))
        return parts + ([("tap-drill", tabled(thread.drill, text))] if thread.drill is not None else [])

    def thread(self, items: list[Any]) -> Item:
        name = next(i for i in items if isinstance(i, str) and not isinstance(i, Token))
        parts = self._two_depths(self._gathered(items))
        known = self._known(name)
        if any(n == "drill-diameter" for n, _ in parts):
            known = [p for p in known if p[0] != "tap-drill"]
        return Item("thread", (known[0], *parts, *known[1:]))

    def _two_depths(self, parts: list[tuple[str, Any]]) -> list[tuple[str, Any]]:
        """16/20 deep after a thread: how deep it is cut, then how deep it is drilled."""
        names = [n for n, _ in parts]
        out: list[tuple[str, Any]] = []
        for name, value in parts:
            if name == "depth" and isinstance(value, Value) and value.limits and "drill-depth" not in names:
                low, high = sorted(value.limits)
                for what, size in (("depth", low), ("drill-depth", high)):
                    out.append((what, replace(value, nominal=size, limits=None, typed=str(size))))
            else:
                out.append((name, value))
        return out

    def thread_to(self, items: list[Any]) -> Item:
        name = next(i for i in items if isinstance(i, str) and not isinstance(i, Token))
        return self.thread([name, ("depth", self._first(items))])

    def drilled_thread(self, items: list[Any]) -> Item:
        bore = next(i for i in items if isinstance(i, Value))
        name = next(i for i in items if isinstance(i, str) and not isinstance(i, Token))
        first, *rest = [i for i in items if isinstance(i, tuple)]
        drill = [("drill-diameter", bore), self._drill_end(first)]
        return self.thread([name, *rest, drill])

    def outside_thread(self, items: list[Any]) -> Item:
        known = [p for p in self._known(str(items[0])) if p[0] != "tap-drill"]
        return Item("thread", (known[0], ("length", self._first(items)), *known[1:]), note="outside")


def _write(c: Callout, pen: Pen) -> list[str]:
    thread = c.part("thread")
    text = thread.designation or "" if thread else ""
    if c.part("length"):
        return [f"{text} {pen.value(c.part('length'))} LONG"]
    depth = c.part("depth")
    if depth and depth.limits:
        # ↧16/20 would be two depths: of the thread and of its drill.
        c = c.having(depth.model_copy(update={"limits": False}))
    lines = [text + write_end(c, pen)]
    deep = c.part("drill-depth")
    if c.part("drill-diameter"):
        lines.append(f"DRILL {pen.across(c.part('drill-diameter'))} {pen.deep(deep) if deep else 'THRU'}")
    elif deep or c.part("drill-through"):
        lines.append(f"DRILL {pen.deep(deep)}" if deep else "DRILL THRU")
    return [*lines, *write_seats(c, pen)]


def _say(c: Callout, speech: Speech) -> str:
    thread, drill, tap = c.part("thread"), c.part("drill-diameter"), c.part("tap-drill")
    side = "outside thread" if c.detail == "outside" else "thread"
    text = f"{speech.first}{side}{speech.s} {thread.designation if thread else '?'}{say_end(c, speech)}"
    if c.part("length"):
        text += f", {speech.size(c.part('length'))} long"
    deep = c.part("drill-depth")
    if drill:
        text += f", drilled ⌀{speech.size(drill)}" + (f" deep {speech.size(deep)}" if deep else " through")
    elif tap:
        text += f", drilled {speech.size(deep)} deep" if deep else ""
        text += f", usual tap drill ⌀{speech.size(tap)}"
    return text + say_seats(c, speech)


def _check(c: Callout) -> str | None:
    if c.part("drill-diameter") and not (c.part("drill-depth") or c.part("drill-through")):
        return "a drill for a thread goes through or to a depth"
    if c.part("length") and {p.name for p in c.parts} & {*ENDS, *BOTTOMS, *_DRILLED, "drill-diameter", *SEATS}:
        return "a thread on a shaft has a length, one in a hole an end, a drill and seats"
    return check_seats(c)


_DRILLED = ("drill-depth", "drill-through")
THREAD = enter(
    Kind(
        "thread",
        frozenset(
            {"thread", "major", "pitch", "lead", "tap-drill", "length", "drill-diameter", *_DRILLED, *ENDS, *BOTTOMS}
        )
        | SEATS,
        _write,
        _say,
        needs=(("thread",),),
        apart=(ENDS, BOTTOMS, _DRILLED),
        together=SEATED,
        check=_check,
        flags=END_FLAGS | SEAT_FLAGS | {"drill-through"},
        carried_by=("hole",),
    )
)
