"""Teeth and lobes: how many there are all around, in the view along their axis; the sizes are said at one of them."""

from collections.abc import Iterator

from canonis.core.callout import Callout, flag, plain
from canonis.core.drafting.desk import Candidate, Desk
from canonis.core.drafting.registry import states
from canonis.core.drafting.seen import lines_of
from canonis.core.sheet import frame_of_view
from canonis.core.tolerances import parallel

__all__ = ["repeats"]


@states(115)
def repeats(desk: Desk) -> Iterator[Candidate]:
    """24 TEETH EQ SP; the references are a round face about the axis and the faces of one member."""
    for n, form in enumerate(desk.found.forms):
        if form.kind != "repeat":
            continue
        piece = form.first
        lobes = (flag("lobes"),) if piece.data["noun"] == "lobes" else ()
        says = Callout(kind="repeat", parts=(plain("members", piece.data["members"]), *lobes))
        refs = tuple(desk.reference(f) for f in piece.faces)
        for m, view in enumerate(desk.views):
            seen = [f for f in piece.faces[1:] if lines_of(desk.scene, view, f)]
            if parallel(piece.axis, frame_of_view(view).toward) and seen:
                target = max(seen, key=lambda f: desk.solid.faces[f].area)
                yield Candidate(
                    0.27 + 1e-4 * n + 0.01 * m,
                    desk.note(view, refs, says, form.id, desk.reference(target)),
                    note=True,
                )
