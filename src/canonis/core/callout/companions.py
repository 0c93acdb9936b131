"""A statement of a sheet and a line of the source, said as one: the source gives form and tolerance, the model the rest."""

from fractions import Fraction

from pydantic import ValidationError

from canonis.core.callout.callout import Callout, kind_of
from canonis.core.callout.part import Part
from canonis.core.quantity import half_last_place

__all__ = ["agree", "together"]

_ROUND = ("radius", "diameter")
#: What is said of the drill below a thread.
_DRILLED = ("drill-diameter", "drill-depth", "drill-through")


def together(drafted: Callout, said: Callout, drilled: bool = True) -> Callout | None:
    """What a drafted note says with what a line of the source says of the same thing.

    Sizes of the source take the place of drafted ones that they agree with, with their tolerance, limits or fit; what the
    source leaves out (count, THRU or depth, rims, seats) stays as the model has it. `drilled` keeps a bore as the drill of
    a thread. None where the two are about different things, or cannot be one statement.
    """
    try:
        return _together(drafted, said, drilled)
    except ValidationError:  # the two have sizes that no one statement can have
        return None


def _together(drafted: Callout, said: Callout, drilled: bool) -> Callout | None:
    if {drafted.kind, said.kind} == set(_ROUND):
        return said.changed(count=drafted.count)
    if said.kind == "thread" and drafted.kind == "hole":
        return _threaded(drafted, said, drilled)
    if drafted.kind != said.kind and drafted.kind not in kind_of(said.kind).carried_by:
        return None
    given = {p.name: p for p in said.parts if p.name != "pitch-circle" and p not in said.turns}
    parts = []
    for part in drafted.parts:
        theirs = given.pop(part.name, None)
        if theirs is not None:
            parts.append(theirs if agree(part, theirs) else part)
        elif not _stands_for(said.kind, part.name, given):
            parts.append(part)
    # How far a hole goes is measured; a source that says otherwise is told so by the proof.
    ended = any(p.name in ("through", "depth") for p in parts)
    parts += [p for p in given.values() if not (ended and p.name in ("through", "depth"))]
    return drafted.changed(parts=tuple(parts), detail=said.detail or drafted.detail, basic=said.basic)


def agree(drafted: Part, said: Part) -> bool:
    """Whether a size of the source is the drafted one: within its limits, or to the last place of either."""
    if drafted.nominal is None or said.nominal is None:
        return True
    if said.tolerance in ("own", "fit"):
        low, high = said.lower, said.upper
        return (low is None or low - _NOISE <= drafted.nominal) and (high is None or drafted.nominal <= high + _NOISE)
    scale = 1.0 if drafted.angle or said.unit is None else 25.4 if str(said.unit) == "in" else 1.0
    room = max(half_last_place(p.typed) if p.typed else 0.0 for p in (drafted, said)) * max(scale, 1.0)
    return abs(float(drafted.nominal - said.nominal)) <= max(room, 5e-4)


_NOISE = Fraction(1, 100_000)


def _stands_for(kind: str, name: str, given: dict[str, Part]) -> bool:
    """Whether the source gives another size in place of a drafted one."""
    pair = kind_of(kind).same
    return name in pair and any(other in given for other in pair - {name})


def _threaded(drafted: Callout, said: Callout, drilled: bool) -> Callout:
    """A thread on a hole that was drafted plain: the bore is its drill, its end the thread's where the source gives none."""
    parts = [p for p in said.parts if p.name not in ("pitch-circle",) and p not in said.turns]
    own = {p.name for p in parts}
    bore = {p.name: p for p in drafted.parts}
    if not own & {"through", "depth", "length"}:
        parts += [bore[n] for n in ("through", "depth") if n in bore]
    if drilled and not own & set(_DRILLED) and "diameter" in bore:
        parts.append(bore["diameter"].model_copy(update={"name": "drill-diameter"}))
        parts += [bore[n].model_copy(update={"name": f"drill-{n}"}) for n in ("depth", "through") if n in bore]
    ends = ("diameter", "depth", "through", "point-angle", "flat-bottom")
    parts += [p for p in drafted.parts if p.name not in ends and p.name not in own]
    return said.changed(parts=tuple(parts), count=drafted.count)
