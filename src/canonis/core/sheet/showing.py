"""What a view shows of the solid's faces: whether a face is to be seen there, whether at its true size, and how large."""

import math
from dataclasses import dataclass
from weakref import WeakKeyDictionary

import numpy as np

from canonis.core.sheet.scene import Scene, frame_of_view
from canonis.core.sheet.views import Pictorial, View
from canonis.core.solid import Solid
from canonis.core.tolerances import NOISE, runs_across, runs_along
from canonis.core.view import Projection

__all__ = ["Shown", "shown"]


@dataclass(frozen=True)
class Shown:
    """`true`: lengths of the face in the plane of the view, or its circle, are seen undistorted; `visible`: some line of
    it is seen; `scale`: paper mm for each mm of the part."""

    true: bool
    visible: bool
    scale: float


#: The faces of which a projection shows some line, and those that it shows by an outline or a cut of their own, gathered
#: when they are first asked for.
_seen: WeakKeyDictionary[Projection, tuple[frozenset[int], frozenset[int]]] = WeakKeyDictionary()


def _seen_faces(seen: Projection, solid: Solid) -> tuple[frozenset[int], frozenset[int]]:
    if seen not in _seen:
        lines = (*seen.visible, *seen.thread)
        own = {f for line in lines for f in line.faces}
        outlined = {f for line in lines if not line.edges for f in line.faces}
        bordered = {f for line in lines for e in line.edges for f in solid.edges[e].faces}
        _seen[seen] = (frozenset(own | bordered), frozenset(outlined))
    return _seen[seen]


def shown(scene: Scene, view: View, face: int) -> Shown:
    """What a view shows of one face of its solid."""
    solid = scene.solids[scene.solid_of(view.sheet)]
    table = solid.faces[face]
    some, outlined = _seen_faces(scene.projection(view), solid)
    visible = face in some
    if isinstance(view, Pictorial):
        return Shown(False, visible, view.scale)
    along = (
        abs(float(table.axis @ np.asarray(frame_of_view(view).toward))) if table.kind not in ("free", "sphere") else 1.0
    )
    if table.kind in ("cylinder", "cone") and along < NOISE and table.sweep > 1.9 * math.pi:
        # From the side a rim that is seen edge-on says nothing of what lies behind it.
        visible = face in outlined
    # Seen from the end or square from the side; of free surfaces only the outline is true.
    return Shown(runs_along(along) or runs_across(along), visible, view.scale)
