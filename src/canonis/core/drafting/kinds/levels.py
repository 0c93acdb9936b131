"""The levels of flat faces from the datum, in the view that shows the longest line of each."""

from collections.abc import Iterator

import numpy as np

from canonis.core.drafting.desk import NEAR, Candidate, Desk, Way
from canonis.core.drafting.registry import states
from canonis.core.drafting.seen import lines_of
from canonis.core.sheet import View
from canonis.core.solid import Face, face_reference
from canonis.core.tolerances import ALIGNED, on_axis, runs_along
from canonis.core.view import Line

__all__ = ["levels"]


@states(200)
def levels(desk: Desk) -> Iterator[Candidate]:
    """An ordinate for each level of the flat faces that belong to no feature, the largest face first."""
    faces = [desk.solid.faces[f] for f in desk.found.flat if f not in desk.echoes]
    square = sorted((f for f in faces if on_axis(f.axis, ALIGNED)), key=lambda f: (-f.area, f.index))
    seen: set[tuple[int, float]] = set()
    for n, face in enumerate(square):
        k = int(np.argmax(np.abs(face.axis)))
        level = float(face.origin[k])
        if (k, round(level, 3)) in seen:
            continue
        spot = _edge_on(desk, face, k, level)
        if spot is not None:
            seen.add((k, round(level, 3)))
            view, direction, sense = spot
            yield from desk.ordinate(view, direction, level * sense, face_reference(face), 2.5 + 1e-5 * n, "level")


def _edge_on(desk: Desk, face: Face, k: int, level: float) -> tuple[View, Way, float] | None:
    """The view and direction with the longest visible straight line of a face at its level, and the direction's sense."""
    best: tuple[float, View, Way, float] | None = None
    for order, view in enumerate(desk.views):
        own: list[Line] | None = None
        for j, (direction, way, _) in enumerate(desk.ways(view)):
            sense = float(np.sign(way[k]))
            if not runs_along(float(way[k]), ALIGNED):
                continue
            own = lines_of(desk.scene, view, face.index) if own is None else own
            flat = [
                x.length for x in own if x.kind == "line" and float(np.abs(x.points[:, j] - level * sense).max()) < NEAR
            ]
            score = sum(flat) * (1.0 - 0.05 * order)
            if score > 0.05 and (best is None or score > best[0]):
                best = (score, view, direction, sense)
    return None if best is None else best[1:]
