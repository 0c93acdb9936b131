"""Flat faces that a view sees from their edge: the line on paper that stands for them."""

import numpy as np

from canonis.core.sheet.scene import Scene, frame_of_view
from canonis.core.sheet.views import View
from canonis.core.solid import Face, Vec
from canonis.core.tolerances import runs_along

__all__ = ["edge_line"]


def edge_line(scene: Scene, view: View, face: Face) -> tuple[Vec, Vec, Vec] | None:
    """Both ends on paper of the longest visible line of a flat face that a view sees from its edge, and the way out of the
    material there; None for any other face."""
    frame = frame_of_view(view)
    way = frame.flat(face.axis)
    if face.kind != "plane" or not runs_along(float(np.linalg.norm(way))):
        return None
    level = float(frame.flat(face.centre) @ way)
    solid = scene.solids[scene.solid_of(view.sheet)]
    lines = [
        line.points
        for line in scene.projection(view).visible
        if line.kind == "line"
        and face.index in {*line.faces, *(f for e in line.edges for f in solid.edges[e].faces)}
        and float(np.abs(line.points @ way - level).max()) < 0.02
    ]
    if not lines:
        return None
    longest = max(lines, key=lambda p: float(np.linalg.norm(p[-1] - p[0])))
    ends = scene.paper(view, longest[[0, -1]])
    return ends[0], ends[1], way
