"""Angles of cones, and of sloped faces to the level and upright ones beside them."""

import math
from collections.abc import Iterator

from canonis.core.callout import Callout, turn
from canonis.core.drafting.desk import Candidate, Desk
from canonis.core.drafting.registry import states
from canonis.core.drafting.seen import lines_of
from canonis.core.sheet import angle_arc, frame_of_view
from canonis.core.solid import Face, face_reference
from canonis.core.tolerances import FINE, same, square

__all__ = ["angles"]


@states(30, faces=True)
def angles(desk: Desk) -> Iterator[Candidate]:
    """The whole angle of every cone in question, and the angle between the faces of every slope."""
    for face in desk.asked("cone"):
        says = Callout(kind="angle", parts=(turn("angle", 2 * math.degrees(face.half_angle)),))
        ref = face_reference(face)
        for n, view in enumerate(desk.views):
            side = square(face.axis, frame_of_view(view).toward)
            if side and any(not x.edges for x in lines_of(desk.scene, view, face.index)):
                yield Candidate(
                    _price(2 * math.degrees(face.half_angle)) + 0.3 + 0.01 * n,
                    desk.note(view, (ref,), says, "size"),
                )
    for face in desk.asked("plane"):
        if not desk.square(face.axis):
            yield from _slope(desk, face)


def _price(degrees: float) -> float:
    """An angle in half degrees was meant, any other comes of the ends that were."""
    return 2.9 if same(2 * degrees, round(2 * degrees), FINE) else 6.0


def _slope(desk: Desk, face: Face) -> Iterator[Candidate]:
    beside = [desk.solid.faces[o] for _, o in desk.solid.neighbours[face.index]]
    upright = sorted((f for f in beside if f.kind == "plane" and desk.square(f.axis)), key=lambda f: -f.area)
    for n, view in enumerate(desk.views):
        toward = frame_of_view(view).toward
        if not square(face.axis, toward) or not lines_of(desk.scene, view, face.index):
            continue
        for m, other in enumerate(upright):
            if not square(other.axis, toward) or not lines_of(desk.scene, view, other.index):
                continue
            refs = (face_reference(face), face_reference(other))
            arc = angle_arc(desk.scene, view, refs)
            if arc is None:
                continue
            inside = math.degrees(arc.a1 - arc.a0)
            # Of an angle over 90° what it lacks of 180° is said: the acute one is set and read.
            degrees = min(inside, 180.0 - inside)
            says = Callout(kind="angle", parts=(turn("angle", degrees),))
            yield Candidate(_price(degrees) + 0.02 * n + 0.1 * m, desk.note(view, refs, says, "size"))
