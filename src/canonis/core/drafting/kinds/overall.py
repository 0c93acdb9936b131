"""Overall width, height and depth, each once, in the view that shows them best."""

from collections.abc import Iterator

import numpy as np

from canonis.core.callout import Callout
from canonis.core.drafting.desk import Candidate, Desk
from canonis.core.drafting.registry import states
from canonis.core.drafting.roundness import ROUGH, roughness
from canonis.core.shape import extreme_row, shape_of
from canonis.core.sheet import Linear, View, frame_of_view
from canonis.core.solid import Vec, extreme_reference, parse
from canonis.core.tolerances import NOISE, SAME, same, square

__all__ = ["overall"]

#: What a size that nobody chose costs more.
_DERIVED = 2.0


@states(10)
def overall(desk: Desk) -> Iterator[Candidate]:
    """The overall sizes. Over a round end they come last: centre and radius say where it is (ISO 129-1, 5.9)."""
    yield from _overall(desk, derived=False)


@states(45, faces=True)
def derived(desk: Desk) -> Iterator[Candidate]:
    """The overall sizes that came of the places of corners and rounds: said where nothing else says them."""
    yield from _overall(desk, derived=True)


def _overall(desk: Desk, *, derived: bool) -> Iterator[Candidate]:
    front, side, flat = desk.view_of("front"), desk.view_of("left", "right"), desk.view_of("top", "bottom")
    wanted = [(front, "x", "above"), (front, "y", "right")]
    wanted.append((side, "x", "above") if side else (flat, "y", "right"))
    turned = False
    for n, (view, direction, place) in enumerate(wanted):
        if view is None or _between_teeth(desk, view, direction):
            continue
        frame = frame_of_view(view)
        k = int(np.argmax(np.abs(frame.right if direction == "x" else frame.up)))
        d = np.eye(3)[k]
        lo, hi = float(desk.solid.box[0][k]), float(desk.solid.box[1][k])
        spanned, rim = _spanned(desk, k, lo, hi), _over_a_rim(desk, k, lo, hi)
        wide = desk.round((hi - lo) / 2, wide=True)
        if (spanned or rim) and desk.turned is not None and abs(float(desk.turned[k])) < NOISE:
            # The largest diameter of a turned part is its width and its height: said once, on its side where that is shown.
            # Several steps of one diameter are counted in a note.
            side_on = square(desk.turned, frame.toward)
            if not derived and side_on and not turned and (not spanned or _alone(desk, hi - lo)):
                turned = True
                said = _length(desk, view, direction, place, d, lo=lo, hi=hi, says=wide)
                yield Candidate(0.3 if spanned else 4.0, said, always=not spanned)
            continue
        chosen = all(_flat_at(desk, k, end) for end in (lo, hi)) or roughness(hi - lo, desk.unit) < ROUGH
        if derived is chosen:
            continue
        price = (4.0 if _over_round_ends(desk, d) or spanned or _over_a_head(desk, k) else 0.9) + 1e-3 * n
        price += _DERIVED if derived else 0.0
        says = wide if spanned or rim else desk.sized(hi - lo)
        said = _length(desk, view, direction, place, d, lo=lo, hi=hi, says=says)
        yield Candidate(price, said, always=not spanned and not derived)


def _length(
    desk: Desk, view: View, direction: str, place: str, d: Vec, *, lo: float, hi: float, says: Callout
) -> Linear:
    """A size from one end of the part to the other along `d`."""
    return Linear(
        id="",
        sheet=desk.sheet,
        view=view.id,
        direction=direction,  # type: ignore[arg-type]
        side=place,  # type: ignore[arg-type]
        refs=(extreme_reference(-d, -lo), extreme_reference(d, hi)),
        says=says,
        unit=desk.unit,
        feature="overall",
    )


def _alone(desk: Desk, diameter: float) -> bool:
    """Whether one turned step alone has a diameter: several are counted in one note."""
    return sum(same(s.diameter, diameter) for s in desk.found.shafts) == 1


def _between_teeth(desk: Desk, view: View, direction: str) -> bool:
    """Whether an overall size would end beside the teeth of a spline, where nobody measures."""
    frame = frame_of_view(view)
    k = int(np.argmax(np.abs(frame.right if direction == "x" else frame.up)))
    size = float(desk.solid.size[k])
    if roughness(size, desk.unit) >= ROUGH and any(
        s.diameter > size + SAME and abs(float(s.axis[k])) < SAME for s in desk.found.shafts
    ):
        # The flutes of a knob end beside its diameter.
        return True
    return any(
        form.kind == "spline"
        and not p.data["internal"]
        and abs(float(p.axis[k])) < SAME
        and float(p.data["minor_mm"]) < size < float(p.data["major_mm"]) - SAME
        for form in desk.found.forms
        for p in form.pieces
    )


def _over_a_head(desk: Desk, k: int) -> bool:
    """Whether lengths along an axis of the file are given from a face inside the part, the underside of a head."""
    at = float(desk.datum.point[k])
    ref = desk.datum.refs.get(str(k), "")
    return (
        parse(ref).kind == "plane" and desk.solid.box[0][k] + SAME < at < desk.solid.box[1][k] - SAME if ref else False
    )


def _over_round_ends(desk: Desk, d: np.ndarray) -> bool:
    """Whether an end of the part along `d` moves with anything but levels."""
    shape, _ = shape_of(desk.solid)
    rows = [extreme_row(shape, way) or {} for way in (d, -d)]
    return any(shape.unknowns[u].kind != "level" for row in rows for u in row)


def _flat_at(desk: Desk, k: int, level: float) -> bool:
    """Whether a flat face stands at a level along an axis of the file."""
    return any(
        f.kind == "plane" and same(abs(float(f.axis[k])), 1.0, NOISE) and same(float(f.origin[k]), level)
        for f in desk.solid.faces
    )


def _over_a_rim(desk: Desk, k: int, lo: float, hi: float) -> bool:
    """Whether the part is as wide as a circle about its axis, between two cones say."""
    return any(
        e.kind == "circle"
        and e.dihedral != "seam"
        and e.length > 1.9 * np.pi * e.radius
        and same(2 * e.radius, hi - lo)
        and abs(float(e.axis[k])) < NOISE
        and abs(2 * float(e.centre[k]) - lo - hi) < 2 * SAME
        for e in desk.solid.edges
    )


def _spanned(desk: Desk, k: int, lo: float, hi: float) -> bool:
    """Whether a diameter spans the part: it states this size already."""
    return any(
        abs(float(s.axis[k])) < NOISE and same(s.diameter, hi - lo) and abs(2 * float(s.top[k]) - lo - hi) < 2 * SAME
        for s in desk.found.shafts
    )
