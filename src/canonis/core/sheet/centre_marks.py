"""Centre marks, centre lines and lines of symmetry (ISO 128: long-dashed dotted narrow), and the diagonals on flats."""

import numpy as np

from canonis.core.sheet.document import CentreLine, CentreMark, FlatCross, SymmetryLine
from canonis.core.sheet.pen import Pen
from canonis.core.sheet.scene import Scene, frame_of_view
from canonis.core.sheet.sizes import Look
from canonis.core.sheet.views import View
from canonis.core.solid import Edge, Face, Solid, Vec, edge_points
from canonis.core.tolerances import NOISE, SAME, parallel

__all__ = ["draw_centre_line", "draw_centre_mark", "draw_flat_cross", "draw_symmetry_line"]

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
    hole = scene.bore_at(view.sheet, face.index)
    low, high = (hole.end, hole.start) if hole is not None else _ends(solid, face)
    frame = frame_of_view(view)
    a, b = scene.paper(view, frame.flat(np.array([low, high])))
    d = b - a
    length = float(np.linalg.norm(d))
    if length < NOISE:
        return False
    d = d / length
    _line(pen, a - d * PAST, b + d * PAST)
    return True


def _ends(solid: Solid, face: Face) -> tuple[Vec, Vec]:
    """Where what turns about the axis of an outer face begins and ends there."""
    levels = list(face.span) if face.kind == "cylinder" else []
    for other in solid.faces:
        if other.inner is not face.inner or other.kind not in ("cylinder", "cone", "torus"):
            continue
        rel = other.origin - face.origin
        away = float(np.linalg.norm(rel - face.axis * float(rel @ face.axis)))
        if away > SAME or not parallel(other.axis, face.axis):
            continue
        if other.kind == "cylinder":
            levels += [float((other.origin + other.axis * s - face.origin) @ face.axis) for s in other.span]
        levels += [
            float((e.centre - face.origin) @ face.axis)
            for e in map(solid.edges.__getitem__, other.edges)
            if e.kind == "circle" and _around(e, face)
        ]
    levels = levels or list(face.span)
    return face.origin + face.axis * min(levels), face.origin + face.axis * max(levels)


def _around(edge: Edge, face: Face) -> bool:
    """Whether a circle runs about the axis of a face: other cuts of a cone may be circles too."""
    aside = np.cross(edge.centre - face.origin, face.axis)
    return parallel(edge.axis, face.axis) and float(np.linalg.norm(aside)) < SAME


def draw_symmetry_line(pen: Pen, scene: Scene, view: View, mark: SymmetryLine, look: Look) -> bool:
    """The line midway between two references, past the outline of the view."""
    anchors = [scene.anchor(view, r) for r in mark.refs[:2]]
    levels = [a.level(mark.direction) for a in anchors if a is not None]
    known = [x for x in levels if x is not None]
    if len(known) < 2:
        return False
    middle = sum(known) / 2
    at = scene.paper(view, np.array([[middle, middle]]))[0]
    x0, y0, x1, y1 = scene.box(view)
    if mark.direction == "x":
        _line(pen, np.array([at[0], y0 - PAST]), np.array([at[0], y1 + PAST]))
    else:
        _line(pen, np.array([x0 - PAST, at[1]]), np.array([x1 + PAST, at[1]]))
    return True


def draw_flat_cross(pen: Pen, scene: Scene, view: View, mark: FlatCross, look: Look) -> bool:
    """The diagonals of a flat face that is seen true: between the corners of its outline."""
    found = scene.resolution(view.sheet, mark.refs[0])
    if not found.faces:
        return False
    solid, frame = scene.solids[scene.solid_of(view.sheet)], frame_of_view(view)
    face = solid.faces[found.faces[0]]
    points = frame.flat(np.vstack([edge_points(solid, e, 9) for e in face.edges]))
    # Of a flat that runs out round, the corners of the box are those of its straight part.
    low, high = points.min(axis=0), points.max(axis=0)
    for a, b in ((low, high), (np.array([low[0], high[1]]), np.array([high[0], low[1]]))):
        pen.line(*scene.paper(view, np.array([a, b])))
    return True
