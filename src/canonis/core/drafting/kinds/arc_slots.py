"""Notes of slots along an arc: width, radius of the middle line, sweep, and the angle at which they start."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from canonis.core.callout import Callout, flag, turn
from canonis.core.drafting.desk import Candidate, Desk
from canonis.core.drafting.registry import states
from canonis.core.features import Piece
from canonis.core.sheet import View, frame_of_view
from canonis.core.solid import Face, Vec
from canonis.core.tolerances import faces_along, same

__all__ = ["arc_slots"]


@states(80)
def arc_slots(desk: Desk) -> Iterator[Candidate]:
    """A note for each slot in the view that shows its round ends, and where its centre is. Angles run anticlockwise from
    the level line, as the view shows them (ISO 129-1, 9.3)."""
    for n, form in enumerate(desk.found.forms):
        if form.kind != "arc-slot":
            continue
        view = next((v for v in desk.views if all(_seen(desk, v, p) for p in form.pieces)), None)
        if view is None:
            continue
        slots = sorted((_laid(desk, view, p) for p in form.pieces), key=lambda s: s.start)
        gaps = {round((b.start - a.start) % 360, 4) for a, b in zip(slots, (*slots[1:], slots[0]), strict=True)}
        ring = len(slots) > 1 and gaps == {round(360 / len(slots), 4)} and len({s.centre for s in slots}) == 1
        for group in [slots] if ring else [[s] for s in slots]:
            data, first = form.first.data, group[0]
            size = desk.sizes
            end = flag("through") if data["through"] else size.length("depth", float(data["depth_mm"]))
            parts = (
                size.length("width", float(data["width_mm"])),
                size.length("radius", float(data["radius_mm"])),
                turn("angle", first.sweep),
                turn("start-angle", first.start),
                end,
                *((flag("equally-spaced"),) if ring else ()),
            )
            says = Callout(kind="arc-slot", count=len(group), parts=parts)
            ends = [f for s in group for f in s.faces[:2]]
            refs = tuple(desk.reference(f.index) for f in (*ends, *first.faces[2:]))
            yield Candidate(0.22 + 1e-4 * n, desk.note(view, refs, says, form.id), note=True)
            wall = first.faces[2]
            yield from desk.locate(view, wall.origin, desk.reference(wall.index), form.id, 1.35 + 1e-4 * n)


@dataclass(frozen=True, eq=False)
class _Laid:
    """A slot as a view shows it: start, end, outer and inner wall; the angles of its start and over it, degrees."""

    faces: tuple[Face, Face, Face, Face]
    start: float
    sweep: float
    centre: tuple[float, float]


def _laid(desk: Desk, view: View, piece: Piece) -> _Laid:
    (one, other), (outer, inner) = _faces(desk, piece)
    frame = frame_of_view(view)
    centre = frame.flat(outer.origin)
    a, b = (_turn(frame.flat(e.origin) - centre) for e in (one, other))
    # The slot runs from its start the way its outer wall does.
    if (_turn(frame.flat(outer.centre) - centre) - a) % 360 > (b - a) % 360:
        one, other, a, b = other, one, b, a
    at = (round(float(centre[0]), 3) + 0.0, round(float(centre[1]), 3) + 0.0)
    return _Laid((one, other, outer, inner), a, (b - a) % 360, at)


def _turn(spoke: Vec) -> float:
    """The angle of a direction in a view from its level line, 0 to 360 degrees."""
    return round(float(np.degrees(np.arctan2(spoke[1], spoke[0]))), 6) % 360


def _faces(desk: Desk, piece: Piece) -> tuple[tuple[Face, Face], tuple[Face, Face]]:
    """Both round ends, and the outer and the inner wall."""
    round_ = [f for f in (desk.solid.faces[k] for k in piece.faces) if f.kind == "cylinder"]
    half = float(piece.data["width_mm"]) / 2
    one, other = (f for f in round_ if f.inner and same(f.radius, half))
    outer = next(f for f in round_ if f.inner and f not in (one, other))
    return (one, other), (outer, next(f for f in round_ if not f.inner))


def _seen(desk: Desk, view: View, piece: Piece) -> bool:
    round_ = [desk.solid.faces[k] for k in piece.faces if desk.solid.faces[k].kind == "cylinder"]
    if len(round_) != 4 or sum(f.inner for f in round_) != 3:
        # Something else runs into it: its walls are said one by one.
        return False
    facing = float(piece.axis @ frame_of_view(view).toward)
    true = faces_along(facing) or (bool(piece.data["through"]) and faces_along(-facing))
    ends, _ = _faces(desk, piece)
    return true and all(desk.arcs_at(view, e.origin, [e.radius]) for e in ends)
