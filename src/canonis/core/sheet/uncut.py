"""What a section cuts lengthwise and does not hatch."""

import numpy as np

from canonis.core.sheet.cutting_line import section_clip
from canonis.core.sheet.scene import Scene
from canonis.core.sheet.views import Section
from canonis.core.solid import face_reference
from canonis.core.tolerances import parallel
from canonis.core.view import ViewFrame

__all__ = ["lengthwise"]


def lengthwise(scene: Scene, view: Section) -> tuple[str, ...]:
    """The side faces, by reference, of ribs and webs that a section cuts lengthwise: they are not hatched (ISO 128-3)."""
    if view.form == "aligned":
        return ()
    solid, frame = scene.solids[scene.solid_of(view.sheet)], ViewFrame(np.array(view.right), np.array(view.up))
    depths = [p.depth for p in section_clip(view, scene.parent(view), scene.course(view)).patches]
    out: list[str] = []
    for rib in scene.marks[scene.solid_of(view.sheet)].ribs:
        sides = [
            solid.faces[f]
            for f in rib
            if solid.faces[f].kind == "plane" and parallel(solid.faces[f].axis, frame.toward)
        ]
        levels = [float(f.origin @ frame.toward) for f in sides]
        if len(levels) > 1 and any(min(levels) < d < max(levels) for d in depths):
            out += [face_reference(f) for f in sides]
    return tuple(out)
