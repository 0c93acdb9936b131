"""The cutting line of a section: its course in the plane of the parent and what it cuts off in the section's own plane."""

from typing import TYPE_CHECKING

import numpy as np

from canonis.core.sheet.views import Section
from canonis.core.solid.model import Vec
from canonis.core.view.clip import Clip, Patch
from canonis.core.view.frames import ViewFrame

if TYPE_CHECKING:
    from canonis.core.sheet.scene import Scene

__all__ = ["FAR", "course", "section_clip"]

#: Cuts reach this far beyond any part, mm.
FAR = 1e6


def course(scene: "Scene", view: Section) -> Vec:
    """The points (n×2, mm at 1:1) of the cutting line in the plane of the parent."""
    parent = scene.parent(view)
    return np.array([scene.spot(parent, s) for s in view.line])


def section_clip(scene: "Scene", view: Section) -> Clip:
    """What a section cuts off: a strip for each leg that runs along the section's plane, down to the leg's level."""
    parent = scene.parent(view)
    seen_from = ViewFrame(np.array(parent.right), np.array(parent.up))
    points = course(scene, view)
    frame = ViewFrame(np.array(view.right), np.array(view.up))
    space = points @ np.array([seen_from.right, seen_from.up])
    flat, depth = frame.flat(space), space @ frame.toward
    # The line runs along the section's right or up; across it, a strip has no end.
    k = int(np.argmax(np.ptp(flat, axis=0)))
    legs = [
        (float(flat[i, k]), float(flat[i + 1, k]), float(depth[i] + depth[i + 1]) / 2)
        for i in range(len(points) - 1)
        if abs(flat[i + 1, k] - flat[i, k]) > abs(depth[i + 1] - depth[i])
    ]
    if not legs:
        return Clip()
    if legs[0][0] > legs[-1][1]:
        legs = [(b, a, d) for a, b, d in reversed(legs)]
        turned = True
    else:
        turned = False
    patches = []
    for i, (a, b, level) in enumerate(legs):
        # A half section ends at the centre line, where its line ends; all others run through the part.
        first, last = i == 0, i == len(legs) - 1
        if first and not (view.form == "half" and turned):
            a = -FAR
        if last and not (view.form == "half" and not turned):
            b = FAR
        ends = ((a, -FAR), (b, -FAR), (b, FAR), (a, FAR))
        outline = ends if k == 0 else tuple((y, x) for x, y in ends)
        patches.append(Patch(tuple((round(x, 9), round(y, 9)) for x, y in outline), round(level, 9)))
    return Clip(tuple(patches))
