"""Datum feature indicators: a filled triangle on the face, a letter in a frame (ISO 5459, ASME Y14.5)."""

import numpy as np

from canonis.core.sheet import glyphs
from canonis.core.sheet.document import DatumMark, Leader
from canonis.core.sheet.edge_lines import edge_line
from canonis.core.sheet.leader_marks import SHOULDER, SHOULDER_GAP
from canonis.core.sheet.pen import LINE_PITCH, Pen
from canonis.core.sheet.scene import Scene
from canonis.core.sheet.sizes import Look
from canonis.core.sheet.views import View
from canonis.core.solid import Vec

__all__ = ["datum_box", "datum_foot", "draw_datum_mark", "noted_by"]

#: Height of the triangle and half its base; the frame is twice as high as its letter, mm.
_HIGH, _HALF = 3.0, 1.75


def noted_by(scene: Scene, mark: DatumMark) -> Leader | None:
    """The note of the round face whose axis is the datum: the indicator hangs on it (ISO 5459, 7.2.2)."""
    return next(
        (
            a
            for a in scene.document.annotations
            if isinstance(a, Leader) and a.says.part("diameter") and a.view == mark.view and mark.refs[0] in a.refs
        ),
        None,
    )


def datum_foot(scene: Scene, view: View, mark: DatumMark, look: Look) -> tuple[Vec, Vec] | None:
    """Where the triangle stands on paper and which way it points away; None where the view does not show its face so."""
    found = scene.resolution(view.sheet, mark.refs[0])
    if not found.faces:
        return None
    face = scene.solids[scene.solid_of(view.sheet)].faces[found.faces[0]]
    if face.kind != "plane":
        note = noted_by(scene, mark)
        if note is None:
            return None
        lines = note.lines
        elbow = np.array(view.at) + np.array(note.at)
        width = max(glyphs.width(t, look.text) for t in lines)
        left = elbow[0] + SHOULDER + SHOULDER_GAP if note.right else elbow[0] - SHOULDER - SHOULDER_GAP - width
        low = elbow[1] - look.text / 2 - (len(lines) - 1) * LINE_PITCH * look.text - 1.2
        return np.array([left + look.text, low]), np.array([0.0, -1.0])
    line = edge_line(scene, view, face)
    return None if line is None else (line[0] + (line[1] - line[0]) * mark.along, line[2])


def datum_box(foot: Vec, way: Vec, mark: DatumMark, look: Look) -> tuple[Vec, float]:
    """The middle of the frame and half its side, mm."""
    half = look.text
    return foot + way * (_HIGH + mark.reach + half), half


def draw_datum_mark(pen: Pen, scene: Scene, view: View, mark: DatumMark, look: Look) -> bool:
    """Triangle, stem and framed letter; False where the view does not show the face."""
    spot = datum_foot(scene, view, mark, look)
    if spot is None:
        return False
    foot, way = spot
    across = np.array([-way[1], way[0]])
    apex = foot + way * _HIGH
    pen.triangle(foot + across * _HALF, foot - across * _HALF, apex)
    middle, half = datum_box(foot, way, mark, look)
    pen.line(apex, middle - way * half)
    corners = [middle + np.array([x, y]) * half for x, y in ((-1, -1), (1, -1), (1, 1), (-1, 1), (-1, -1))]
    pen.line(*corners)
    width = glyphs.width(mark.letter, look.text)
    pen.text(mark.letter, middle[0] - width / 2, middle[1] - look.text / 2, look.text)
    return True
