"""Dovetails: one note where the profile is seen."""

from collections.abc import Iterator

from canonis.core.callout import Callout, turn
from canonis.core.drafting.desk import Candidate, Desk
from canonis.core.drafting.registry import states
from canonis.core.drafting.seen import lines_of
from canonis.core.sheet import frame_of_view
from canonis.core.tolerances import square

__all__ = ["dovetails"]


@states(118)
def dovetails(desk: Desk) -> Iterator[Candidate]:
    """DOVETAIL with its width, angle and depth or height, in the view that sees both walls from their edges."""
    for n, form in enumerate(desk.found.forms):
        if form.kind != "dovetail":
            continue
        data = form.first.data
        end = "height" if data["convex"] else "depth"
        says = Callout(
            kind="dovetail",
            count=len(form.pieces),
            parts=(
                desk.sizes.length("width", float(data["width_mm"])),
                turn("angle", float(data["angle_deg"])),
                desk.sizes.length(end, float(data[f"{end}_mm"])),
            ),
        )
        refs = tuple(desk.reference(f) for piece in form.pieces for f in piece.faces)
        walls = [f for piece in form.pieces for f in piece.faces[1:3]]
        for m, view in enumerate(desk.views):
            toward = frame_of_view(view).toward
            edge_on = all(square(desk.solid.faces[f].axis, toward) for f in walls)
            if edge_on and all(lines_of(desk.scene, view, f) for f in walls):
                price = 0.3 + 1e-4 * n + 0.01 * m
                yield Candidate(price, desk.note(view, refs, says, form.id, desk.reference(walls[0])), note=True)
                break
