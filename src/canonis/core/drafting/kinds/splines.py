"""Splines with straight teeth: how many, root and outside diameter in one note; the width of a tooth stands at one of them."""

from collections.abc import Iterator

from canonis.core.callout import Callout, plain
from canonis.core.drafting.desk import Candidate, Desk
from canonis.core.drafting.registry import states
from canonis.core.drafting.seen import lines_of
from canonis.core.sheet import frame_of_view
from canonis.core.tolerances import opposed, parallel

__all__ = ["splines"]


@states(120)
def splines(desk: Desk) -> Iterator[Candidate]:
    """SPLINE teeth × root × outside, in the view along the axis; the references are the flanks."""
    for n, form in enumerate(desk.found.forms):
        if form.kind != "spline":
            continue
        piece = form.first
        if piece.data.get("tooth_width_mm") is None:
            continue
        faces = [desk.solid.faces[f] for f in piece.owns]
        if any(f.kind not in ("plane", "cylinder") for f in faces):
            continue
        tip = max(
            (f for f in faces if f.kind == "cylinder"), key=lambda f: f.radius * (-1 if piece.data["internal"] else 1)
        )
        flanks = [f for f in faces if f.kind == "plane" and any(opposed(f.axis, g.axis) for g in faces if g is not f)]
        size, data = desk.sizes, piece.data
        parts = (
            plain("teeth", data["teeth"]),
            size.length("minor", data["minor_mm"]),
            size.length("major", data["major_mm"]),
        )
        says = Callout(kind="spline", parts=parts)
        for m, view in enumerate(desk.views):
            along = parallel(piece.axis, frame_of_view(view).toward)
            if along and lines_of(desk.scene, view, tip.index):
                yield Candidate(
                    0.28 + 1e-4 * n + 0.01 * m,
                    desk.note(
                        view,
                        tuple(desk.reference(f.index) for f in flanks),
                        says,
                        form.id,
                        desk.reference(tip.index),
                    ),
                    note=True,
                )
