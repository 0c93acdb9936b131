"""The levels of flat faces from the datum, in the view that shows the longest line of each."""

from collections.abc import Iterator

import numpy as np

from canonis.core.drafting.desk import NEAR, Candidate, Desk, Way
from canonis.core.sheet.views import View
from canonis.core.solid.references import face_reference

__all__ = ["levels"]


def levels(desk: Desk) -> Iterator[Candidate]:
    """An ordinate for each level of the flat faces that belong to no feature, the largest face first."""
    faces = [desk.solid.faces[f] for f in desk.found.flat]
    square = sorted((f for f in faces if float(np.abs(f.axis).max()) > 1 - 1e-9), key=lambda f: (-f.area, f.index))
    seen: set[tuple[int, float]] = set()
    for n, face in enumerate(square):
        k = int(np.argmax(np.abs(face.axis)))
        level = float(face.origin[k])
        if (k, round(level, 3)) in seen:
            continue
        seen.add((k, round(level, 3)))
        spot = _edge_on(desk, k, level)
        if spot is not None:
            view, direction, sense = spot
            yield from desk.ordinate(view, direction, level * sense, face_reference(face), 2.5 + 1e-5 * n, "level")


def _edge_on(desk: Desk, k: int, level: float) -> tuple[View, Way, float] | None:
    """The view and direction with the longest visible straight line at a level, and the direction's sense."""
    best: tuple[float, View, Way, float] | None = None
    for order, view in enumerate(desk.views):
        for j, (direction, way, _) in enumerate(desk.ways(view)):
            sense = float(np.sign(way[k]))
            if abs(float(way[k])) < 1 - 1e-9:
                continue
            length = desk.scene.projection(view).length_at(j, level * sense, NEAR)
            score = length * (1.0 - 0.05 * order)
            if length > 0.05 and (best is None or score > best[0]):
                best = (score, view, direction, sense)
    return None if best is None else best[1:]
