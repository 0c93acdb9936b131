"""Chamfer notes where the bevel is seen from the side."""

from collections.abc import Iterator

import numpy as np

from canonis.core.drafting.desk import NEAR, Candidate, Desk
from canonis.core.drafting.registry import states
from canonis.core.features import Blend, of_blend
from canonis.core.sheet import View, frame_of_view
from canonis.core.solid import Face, Vec, face_reference
from canonis.core.tolerances import NOISE, square

__all__ = ["chamfers"]


@states(190)
def chamfers(desk: Desk) -> Iterator[Candidate]:
    """A note for each size of bevel."""
    for n, blend in enumerate(desk.found.blends):
        spot = _spot(desk, blend) if blend.kind == "chamfer" else None
        if spot is None:
            continue
        view, face = spot
        refs = tuple(dict.fromkeys(desk.reference(f) for f in blend.faces))
        yield Candidate(
            0.6 + 1e-4 * n,
            desk.note(view, refs, of_blend(blend, desk.unit), blend.id, face_reference(face)),
            note=True,
        )


def _spot(desk: Desk, blend: Blend) -> tuple[View, Face] | None:
    """The first flat bevel seen edge-on; a conical one from the side where it comes later."""
    flat: tuple[View, Face] | None = None
    for view in desk.views:
        toward = frame_of_view(view).toward
        for f in blend.faces:
            face = desk.solid.faces[f]
            side_on = square(face.axis, toward) if face.kind in ("plane", "cone") else False
            if face.kind == "cone" and side_on:
                return view, face
            if flat is None and face.kind == "plane" and side_on and _on_a_line(desk, view, face.centre):
                flat = view, face
    return flat


def _on_a_line(desk: Desk, view: View, point: Vec) -> bool:
    """Whether a point lies on a visible straight line of a view."""
    p = frame_of_view(view).flat(point)
    for line in desk.scene.projection(view).visible:
        if line.kind != "line":
            continue
        a, b = line.points[0], line.points[-1]
        d = b - a
        t = float((p - a) @ d) / max(float(d @ d), 1e-12)
        if -NOISE <= t <= 1 + NOISE and float(np.linalg.norm(a + d * t - p)) < NEAR:
            return True
    return False
