"""Centre marks and centre lines (ISO 128: long-dashed dotted narrow)."""

import numpy as np

from canonis.core.sheet.document import CentreLine, CentreMark
from canonis.core.sheet.pen import Pen
from canonis.core.sheet.scene import Scene, frame_of_view
from canonis.core.sheet.sizes import Look
from canonis.core.sheet.views import View
from canonis.core.solid.model import Vec

__all__ = ["draw_centre_line", "draw_centre_mark"]

#: Centre lines run this far past the outline, mm on paper.
PAST = 2.5
#: Under this length a centre line may be plain narrow, mm on paper.
SHORT = 12.0


def _line(pen: Pen, a: Vec, b: Vec) -> None:
    length = float(np.linalg.norm(b - a))
    pen.line(a, b, style="centre" if length >= SHORT else "narrow")


def draw_centre_mark(pen: Pen, scene: Scene, view: View, mark: CentreMark, look: Look) -> bool:
    """Crossed centre lines on a circle seen true."""
    anchor = scene.anchor(view, mark.refs[0])
    if anchor is None or anchor.x is None or anchor.y is None:
        return False
    centre = scene.paper(view, np.array([[anchor.x, anchor.y]]))[0]
    radius = anchor.radius
    found = scene.resolution(view.sheet, mark.refs[0])
    hole = scene.bore_at(view.sheet, found.faces[0]) if found.faces else None
    if hole is not None:
        radius = max([radius, *(d / 2 for d in hole.seats)])
    reach = radius * view.scale + PAST
    for d in (np.array([1.0, 0.0]), np.array([0.0, 1.0])):
        _line(pen, centre - d * reach, centre + d * reach)
    return True


def draw_centre_line(pen: Pen, scene: Scene, view: View, mark: CentreLine, look: Look) -> bool:
    """The axis of a hole or a shaft seen from the side, past both its ends."""
    found = scene.resolution(view.sheet, mark.refs[0])
    if not found.faces:
        return False
    solid = scene.solids[scene.solid_of(view.sheet)]
    face = solid.faces[found.faces[0]]
    low, high = (face.origin + face.axis * s for s in face.span)
    hole = scene.bore_at(view.sheet, face.index)
    if hole is not None:
        low, high = hole.end, hole.start
    frame = frame_of_view(view)
    a, b = scene.paper(view, frame.flat(np.array([low, high])))
    d = b - a
    length = float(np.linalg.norm(d))
    if length < 1e-6:
        return False
    d = d / length
    _line(pen, a - d * PAST, b + d * PAST)
    return True
