"""Teeth, lobes, and what else repeats: how many there are all around or along a line; the sizes are said at one of them."""

from collections.abc import Iterator

from canonis.core.callout import Callout, flag, plain
from canonis.core.drafting.desk import Candidate, Desk
from canonis.core.drafting.registry import states
from canonis.core.drafting.seen import lines_of
from canonis.core.features import Piece
from canonis.core.sheet import frame_of_view
from canonis.core.solid import Solid, Vec
from canonis.core.tolerances import parallel, square

__all__ = ["repeats"]


@states(115)
def repeats(desk: Desk) -> Iterator[Candidate]:
    """24 TEETH EQ SP, 8 PLACES AT 7 PITCH; the references are a round face about the axis, or a face of the next member, and the
    faces of one member."""
    for n, piece in enumerate(desk.repeated):
        noun, pitch = piece.data["noun"], piece.data.get("pitch_mm")
        parts = [plain("members", piece.data["members"])]
        parts += [flag(noun)] if noun != "teeth" else []
        parts += [] if pitch is None else [desk.sizes.length("pitch", float(pitch))]
        says = Callout(kind="repeat", parts=tuple(parts))
        refs = tuple(desk.reference(f) for f in piece.faces)
        for m, view in enumerate(desk.views):
            seen = [f for f in piece.faces[1:] if lines_of(desk.scene, view, f)]
            if seen and _shown(desk.solid, piece, frame_of_view(view).toward):
                target = max(seen, key=lambda f: desk.solid.faces[f].area)
                yield Candidate(
                    0.27 + 1e-4 * n + 0.01 * m,
                    desk.note(view, refs, says, None, desk.reference(target)),
                    note=True,
                )


def _shown(solid: Solid, piece: Piece, toward: Vec) -> bool:
    """Whether a view shows what repeats one beside the other: along the axis that it goes around, or across the row and a face of
    the member that looks along it on edge."""
    if "pitch_mm" not in piece.data:
        return parallel(piece.axis, toward)
    return square(piece.axis, toward) and square(solid.faces[piece.faces[1]].axis, toward)
