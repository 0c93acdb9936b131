"""Drafts: one note for all faces that lean by the same angle to the pull direction."""

from collections.abc import Iterator

from canonis.core.callout import Callout, turn
from canonis.core.drafting.desk import Candidate, Desk
from canonis.core.drafting.registry import states
from canonis.core.drafting.seen import lines_of
from canonis.core.sheet import frame_of_view
from canonis.core.tolerances import parallel, square

__all__ = ["drafts"]


@states(130)
def drafts(desk: Desk) -> Iterator[Candidate]:
    """DRAFT and its angle, at a drafted face seen edge-on or as an outline; the base plane is named first."""
    for n, form in enumerate(desk.found.forms):
        if form.kind != "draft":
            continue
        for piece in form.pieces:
            bases = [f for f in desk.solid.faces if f.kind == "plane" and parallel(f.axis, piece.axis)]
            base = max(bases, key=lambda f: f.area, default=None)
            # Whatever the cones of a chain are: their slopes are the draft's own.
            faces = [f for f in piece.faces if desk.solid.faces[f].kind in ("plane", "cone")]
            if base is None or not faces:
                continue
            says = Callout(kind="draft", parts=(turn("angle", float(piece.data["angle_deg"])),))
            refs = (desk.reference(base.index), *(desk.reference(f) for f in faces))
            for m, view in enumerate(desk.views):
                toward = frame_of_view(view).toward
                edge_on = [
                    f for f in faces if square(desk.solid.faces[f].axis, toward) and lines_of(desk.scene, view, f)
                ]
                if edge_on:
                    yield Candidate(
                        0.55 + 1e-4 * n + 0.01 * m,
                        desk.note(view, refs, says, form.id, desk.reference(edge_on[0])),
                        note=True,
                    )
                    break
