"""What a view shows of the solid's faces: whether a face is to be seen there, whether at its true size, and how large."""

from dataclasses import dataclass

import numpy as np

from canonis.core.sheet.scene import Scene, frame_of_view
from canonis.core.sheet.views import Pictorial, View
from canonis.core.view.projection import Projection

__all__ = ["Shown", "shown"]


@dataclass(frozen=True)
class Shown:
    """`true`: lengths of the face in the plane of the view, or its circle, are seen undistorted; `visible`: some line of
    it is seen; `scale`: paper mm for each mm of the part."""

    true: bool
    visible: bool
    scale: float


def _seen_faces(seen: Projection, edges: tuple[tuple[int, ...], ...]) -> set[int]:
    out: set[int] = set()
    for line in seen.visible:
        out.update(line.faces)
        for e in line.edges:
            out.update(edges[e])
    return out


def shown(scene: Scene, view: View, face: int) -> Shown:
    """What a view shows of one face of its solid."""
    solid = scene.solids[scene.solid_of(view.sheet)]
    table = solid.faces[face]
    visible = face in _seen_faces(scene.projection(view), tuple(e.faces for e in solid.edges))
    if isinstance(view, Pictorial):
        return Shown(False, visible, view.scale)
    along = (
        abs(float(table.axis @ np.asarray(frame_of_view(view).toward))) if table.kind not in ("free", "sphere") else 1.0
    )
    # Seen from the end or square from the side; of free surfaces only the outline is true.
    return Shown(along > 1 - 1e-6 or along < 1e-6, visible, view.scale)
