"""Writing a callout so that it reads back the same, in symbols or in words, on a list or on a sheet."""

from canonis.core.callout.callout import WORDS, Callout, kind_of
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech

__all__ = ["say", "write", "write_line"]

#: How many angles of members a line holds.
_IN_A_ROW = 4


def write(c: Callout, pen: Pen) -> tuple[str, ...]:
    """The callout in lines, each seat and each drill below what it belongs to; words as they are."""
    if c.kind == WORDS:
        return tuple(c.detail.split("\n"))
    kind = kind_of(c.kind)
    lines = kind.write(c, pen)
    if c.count > 1:
        lines[0] = f"{lines[0]} {c.count} PLACES" if kind.counted_after else f"{c.count}× {lines[0]}"
    first, *below = _standing(c, pen)
    lines[-1:] = [lines[-1], first, *below] if first and kind.stands_below else [_joined(lines[-1], first), *below]
    lines[-1] += _marks(c, pen)
    return tuple(lines)


def write_line(c: Callout, pen: Pen) -> str:
    """The callout in one line."""
    return " ".join(write(c, pen))


def _joined(*texts: str) -> str:
    return " ".join(t for t in texts if t)


def _standing(c: Callout, pen: Pen) -> list[str]:
    """Where the members stand, in lines; one empty line where the kind itself says it."""
    own = kind_of(c.kind).parts
    lines = [""]

    def put(text: str) -> None:
        lines[-1] = _joined(lines[-1], text)

    if c.part("pitch") and "pitch" not in own:
        put(f"AT {pen.value(c.part('pitch'))} PITCH")
    if c.part("pitch-angle"):
        put(f"{pen.value(c.part('pitch-angle'))} APART")
    if members := [pen.value(p) for p in c.parts if p.name.startswith("member-")]:
        rows = [", ".join(members[k : k + _IN_A_ROW]) for k in range(0, len(members), _IN_A_ROW)]
        put(f"AT {rows[0]}")
        for row in rows[1:]:
            lines[-1] += ","
            lines.append(row)
    if c.part("equally-spaced"):
        put("EQ SP")
    if c.part("pitch-circle") and "pitch-circle" not in own:
        put(f"ON ⌀{pen.value(c.part('pitch-circle'))} PCD")
    if c.part("start-angle") and "start-angle" not in own:
        put(f"START {pen.value(c.part('start-angle'))}")
    return lines


def _marks(c: Callout, pen: Pen) -> str:
    """The marks after it, each after a space."""
    marks = {
        "TYP": c.typical,
        "UON": c.general and (pen.sheet or not kind_of(c.kind).says_general),
        "BASIC": c.basic,
        "REF": c.reference and not pen.sheet,
        "EST": c.estimated,
        f"FROM {c.direction}": c.direction,
        c.shown: c.shown,
    }
    return "".join(f" {mark}" for mark, there in marks.items() if there)


def say(c: Callout, speech: Speech) -> str:
    """The meaning of a callout in words."""
    if c.kind == WORDS:
        return c.detail
    own = kind_of(c.kind).parts
    text = kind_of(c.kind).say(c, speech)
    if c.part("pitch") and "pitch" not in own:
        text += f", pitch {speech.size(c.part('pitch'))}"
    if c.part("pitch-circle") and "pitch-circle" not in own:
        text += f", on a pitch circle ⌀{speech.size(c.part('pitch-circle'))}"
    if c.part("equally-spaced"):
        text += ", equally spaced"
    if c.part("pitch-angle"):
        text += f", {speech.size(c.part('pitch-angle'))} apart"
    if members := [speech.size(p) for p in c.parts if p.name.startswith("member-")]:
        text += f", at {', '.join(members)}"
    if c.part("start-angle") and "start-angle" not in own:
        text += f", the first at {speech.size(c.part('start-angle'))}"
    text += f", from {c.direction}" if c.direction else ""
    text += ", typical (the count is not stated)" if c.typical else ""
    text += ", unless noted" if c.general and not kind_of(c.kind).says_general else ""
    text += " (basic)" if c.basic else ""
    return f"{text} (reference)" if c.reference else text
