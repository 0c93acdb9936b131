"""Holes that run askew: where their axes meet the face they are drilled from, and at which angle to it."""

import math
from collections.abc import Iterator

from canonis.core.callout import Callout, turn
from canonis.core.drafting.desk import Candidate, Desk
from canonis.core.drafting.registry import states
from canonis.core.drafting.seen import lines_of
from canonis.core.features import Hole
from canonis.core.shape import mouths
from canonis.core.sheet import View, angle_arc, frame_of_view
from canonis.core.solid import Vec, mouth_reference
from canonis.core.tolerances import parallel, same_way, square

__all__ = ["inclined"]


@states(30)
def inclined(desk: Desk) -> Iterator[Candidate]:
    """For each hole whose axis is square neither to the part nor to the face it opens to: its angle to that face (in a round
    wall to the axis of the wall), and the places where its axis comes out."""
    for n, group in enumerate(desk.found.holes):
        for k, hole in enumerate(group.holes):
            if desk.square(hole.axis):
                continue
            wall = hole.main_faces[0]
            open_to = [m for m in mouths(desk.solid, wall) if not parallel(m[2], hole.axis)]
            open_to.sort(key=lambda m: abs(float((m[1] - hole.start) @ hole.axis)))
            for m, (face, point, normal) in enumerate(open_to):
                price = 1.1 + 0.3 * m + 1e-4 * n + 1e-7 * k
                yield from _angle(desk, hole, face, group.id, price)
                ref = mouth_reference(desk.solid.faces[wall], normal)
                for p, view in enumerate(desk.views):
                    if _shown(desk, view, hole, face, normal):
                        yield from desk.locate(view, point, ref, group.id, price + 0.1 + 0.01 * p, axis=normal)


def _shown(desk: Desk, view: View, hole: Hole, face: int, normal: Vec) -> bool:
    """Whether a view shows where a hole comes out: the face as it lies, or its line and, with its hidden lines, the axis as
    they lie."""
    toward = frame_of_view(view).toward
    if same_way(normal, toward):
        return bool(lines_of(desk.scene, view, hole.main_faces[0]))
    return (
        (view.hidden or view.kind == "section")
        and square(normal, toward)
        and square(hole.axis, toward)
        and bool(lines_of(desk.scene, view, face))
    )


def _angle(desk: Desk, hole: Hole, face: int, name: str, price: float) -> Iterator[Candidate]:
    other = desk.solid.faces[face]
    if other.kind not in ("plane", "cylinder"):
        return
    refs = (desk.reference(hole.main_faces[0]), desk.reference(face))
    for n, view in enumerate(desk.views):
        toward = frame_of_view(view).toward
        if not square(hole.axis, toward) or not square(other.axis, toward):
            continue
        arc = angle_arc(desk.scene, view, refs) if lines_of(desk.scene, view, face) else None
        if arc is not None:
            inside = math.degrees(arc.a1 - arc.a0)
            says = Callout(kind="angle", parts=(turn("angle", min(inside, 180.0 - inside)),))
            yield Candidate(price + 0.01 * n, desk.note(view, refs, says, name))
