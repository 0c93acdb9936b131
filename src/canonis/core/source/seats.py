"""What a hole note or a thread contradicts in itself: seats, depths, drills."""

from canonis.core.callout import Part
from canonis.core.finding import Severity
from canonis.core.source.characteristic import Characteristic

__all__ = ["check_hole", "check_thread"]

Found = tuple[str, Severity, str, Characteristic | None]


def _swapped(c: Characteristic, first: str, second: str) -> Characteristic:
    """The line with the sizes of two parts exchanged."""
    a, b = c.part(first), c.part(second)
    assert a is not None and b is not None

    def other(p: Part) -> Part:
        if p.name == first:
            return b.model_copy(update={"name": first})
        return a.model_copy(update={"name": second}) if p.name == second else p

    return c.model_copy(update={"parts": tuple(other(p) for p in c.parts)})


def check_hole(c: Characteristic) -> list[Found]:
    """(rule, severity, message, the line mended) for a hole note."""
    out: list[Found] = []
    bore, depth = c.size("diameter"), c.size("depth")
    for far in ("", "-far"):
        wide, deep, sink = (
            c.size(f"counterbore{far}-diameter"),
            c.size(f"counterbore{far}-depth"),
            c.size(f"countersink{far}-diameter"),
        )
        if wide is not None and bore is not None and wide <= bore:
            swap = None
            if deep is not None and deep > bore:
                swap = _swapped(c, f"counterbore{far}-diameter", f"counterbore{far}-depth")
            more = "; its diameter and depth look swapped" if swap else ""
            out.append(("seat.size", "error", f"the counterbore is not larger than its hole{more}.", swap))
        elif depth is not None and deep is not None and deep >= depth:
            out.append(("seat.depth", "error", "the counterbore is as deep as the hole or deeper.", None))
        if sink is not None and bore is not None and sink <= bore:
            out.append(("seat.size", "error", "the countersink is not larger than its hole.", None))
        angle = c.size(f"countersink{far}-angle")
        if angle is not None and not 45 <= angle <= 150:
            out.append(
                (
                    "seat.angle",
                    "warning",
                    "the angle of a countersink is the included one, mostly 82°, 90° or 120°.",
                    None,
                )
            )
    if c.part("through") is None and depth is None and c.kind == "hole":
        out.append(("hole.end", "warning", "the hole has neither a depth nor THRU.", None))
    return out


def check_thread(c: Characteristic) -> list[Found]:
    """(rule, severity, message, the line mended) for a thread."""
    out: list[Found] = []
    depth, drilled = c.size("depth"), c.size("drill-depth")
    if depth is not None and drilled is not None and depth > drilled:
        out.append(
            (
                "thread.depth",
                "error",
                "the thread is deeper than its drilled hole; the two depths look swapped.",
                _swapped(c, "depth", "drill-depth"),
            )
        )
    drill, major, pitch = c.size("drill-diameter"), c.size("major"), c.size("pitch")
    if drill is not None and major is not None and pitch is not None:
        if drill >= major:
            out.append(("thread.drill", "error", "the drill is as large as the thread or larger.", None))
        elif not major - pitch * 13 / 10 <= drill <= major - pitch / 2:
            out.append(
                (
                    "thread.drill",
                    "warning",
                    f"a drill of {float(drill):g} mm does not suit this thread (about {float(major - pitch):g} mm).",
                    None,
                )
            )
    return out + [f for f in check_hole(c) if f[0] not in ("hole.end", "seat.depth")]
