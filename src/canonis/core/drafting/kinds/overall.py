"""Overall width, height and depth, each once, in the view that shows them best."""

from collections.abc import Iterator

import numpy as np

from canonis.core.drafting.desk import SAME, Candidate, Desk
from canonis.core.shape.implied import shape_of
from canonis.core.shape.statements import extreme_row
from canonis.core.sheet.document import Linear
from canonis.core.sheet.scene import frame_of_view
from canonis.core.sheet.views import View
from canonis.core.solid.references import extreme_reference

__all__ = ["overall"]


def overall(desk: Desk) -> Iterator[Candidate]:
    """The overall sizes. Over a round end they come last: centre and radius say where it is (ISO 129-1, 5.9)."""
    front, side, flat = desk.view_of("front"), desk.view_of("left", "right"), desk.view_of("top", "bottom")
    wanted = [(front, "x", "above"), (front, "y", "right")]
    wanted.append((side, "x", "above") if side else (flat, "y", "right"))
    for n, (view, direction, place) in enumerate(wanted):
        if view is None or _between_teeth(desk, view, direction):
            continue
        frame = frame_of_view(view)
        k = int(np.argmax(np.abs(frame.right if direction == "x" else frame.up)))
        d = np.eye(3)[k]
        lo, hi = float(desk.solid.box[0][k]), float(desk.solid.box[1][k])
        spanned = _spanned(desk, k, lo, hi)
        price = (4.0 if _over_round_ends(desk, d) or spanned else 0.9) + 1e-3 * n
        text = f"⌀{desk.written(hi - lo)}" if spanned or _over_a_rim(desk, k, lo, hi) else desk.written(hi - lo)
        yield Candidate(price, Linear(
            id="", sheet=desk.sheet, view=view.id, direction=direction, side=place,  # type: ignore[arg-type]
            refs=(extreme_reference(-d, -lo), extreme_reference(d, hi)), text=text, feature="overall",
        ), always=True)  # fmt: skip


def _between_teeth(desk: Desk, view: View, direction: str) -> bool:
    """Whether an overall size would end beside the teeth of a spline, where nobody measures."""
    frame = frame_of_view(view)
    k = int(np.argmax(np.abs(frame.right if direction == "x" else frame.up)))
    size = float(desk.solid.size[k])
    return any(
        form.kind == "spline" and not p.data["internal"] and abs(float(p.axis[k])) < SAME
        and float(p.data["minor_mm"]) < size < float(p.data["major_mm"]) - SAME
        for form in desk.found.forms for p in form.pieces
    )  # fmt: skip


def _over_round_ends(desk: Desk, d: np.ndarray) -> bool:
    """Whether an end of the part along `d` moves with anything but levels."""
    shape, _ = shape_of(desk.solid)
    rows = [extreme_row(shape, way) or {} for way in (d, -d)]
    return any(shape.unknowns[u].kind != "level" for row in rows for u in row)


def _over_a_rim(desk: Desk, k: int, lo: float, hi: float) -> bool:
    """Whether the part is as wide as a circle about its axis, between two cones say."""
    return any(
        e.kind == "circle" and e.dihedral != "seam" and e.length > 1.9 * np.pi * e.radius and abs(2 * e.radius - (hi - lo)) < SAME
        and abs(float(e.axis[k])) < 1e-6 and abs(2 * float(e.centre[k]) - lo - hi) < 2 * SAME
        for e in desk.solid.edges
    )  # fmt: skip


def _spanned(desk: Desk, k: int, lo: float, hi: float) -> bool:
    """Whether a diameter spans the part: it states this size already."""
    return any(
        abs(float(s.axis[k])) < 1e-6 and abs(s.diameter - (hi - lo)) < SAME
        and abs(2 * float(s.top[k]) - lo - hi) < 2 * SAME
        for s in desk.found.shafts
    )  # fmt: skip
