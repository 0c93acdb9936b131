"""Compilation of a sheet document to strokes, regions and text. Same input, same result."""

import math
from dataclasses import replace
from typing import Any
from weakref import WeakKeyDictionary

import numpy as np

from canonis.core.house import Decimal
from canonis.core.sheet.border import draw_border
from canonis.core.sheet.centre_marks import (
    draw_centre_line,
    draw_centre_mark,
    draw_flat_cross,
    draw_symmetry_line,
)
from canonis.core.sheet.datum_marks import draw_datum_mark
from canonis.core.sheet.dimension_marks import draw_linear, draw_ordinate
from canonis.core.sheet.document import (
    Annotation,
    CentreLine,
    CentreMark,
    DatumMark,
    FlatCross,
    HoleTable,
    Leader,
    Linear,
    Note,
    Ordinate,
    Place,
    SheetPage,
    SymmetryLine,
)
from canonis.core.sheet.hole_table import draw_place, draw_table, table_of
from canonis.core.sheet.leader_marks import draw_leader
from canonis.core.sheet.pen import LINE_PITCH, Pen
from canonis.core.sheet.scene import Scene
from canonis.core.sheet.sizes import Look, look_of, size_mm
from canonis.core.sheet.strokes import Drawing, LineStyle, Page, Stroke
from canonis.core.sheet.view_marks import (
    draw_breaks,
    draw_caption,
    draw_cut_faces,
    draw_on_parent,
    draw_open_edges,
    draw_shade,
    draw_window,
)
from canonis.core.sheet.views import View
from canonis.core.view import Line, Projection

__all__ = ["compile_annotation", "compile_page", "compile_sheet", "draw_view_marks", "view_strokes"]


def _stroke(scene: Scene, view: View, line: Line, style: LineStyle, width: float) -> Stroke:
    if line.kind == "arc":
        # The centre may stand beyond a break: it goes where the arc goes.
        there = line.centre + line.radius * np.array(
            [math.cos((line.a0 + line.a1) / 2), math.sin((line.a0 + line.a1) / 2)]
        )
        centre = scene.paper(view, there[None]) + (line.centre - there) * view.scale
        return Stroke(view.id, style, width, centre, line.radius * view.scale, line.a0, line.a1)
    return Stroke(view.id, style, width, scene.paper(view, line.polyline(_FINE / view.scale)))


#: How far thin lines of intersection end before the outlines, mm on paper.
_CLEAR = 1.0
#: Chord error of ellipses on paper, mm.
_FINE = 0.002


#: Views compiled of late, by projection and placement: an edit moves one thing, the other views stay as they are.
_drawn: WeakKeyDictionary[Projection, dict[tuple[Any, ...], list[Stroke]]] = WeakKeyDictionary()


def view_strokes(scene: Scene, view: View, look: Look) -> list[Stroke]:
    """The lines of one view on paper; smooth transitions only on the pictorial (narrow, ISO 128)."""
    seen = scene.projection(view)
    key = (view.model_dump_json(), look)
    kept = _drawn.setdefault(seen, {})
    if key not in kept:
        if len(kept) >= 4:
            del kept[next(iter(kept))]
        kept[key] = _view_strokes(scene, view, seen, look)
    return kept[key]


def _view_strokes(scene: Scene, view: View, seen: Projection, look: Look) -> list[Stroke]:
    out = [_stroke(scene, view, line, "visible", look.wide) for line in seen.visible]
    out += [_stroke(scene, view, line, "narrow", look.narrow) for line in seen.thread]
    if view.hidden and view.kind != "pictorial":
        out += [_stroke(scene, view, line, "hidden", look.narrow) for line in seen.hidden]
    if view.transitions == "drawn":
        out += [_stroke(scene, view, line, "smooth", look.wide) for line in seen.smooth]
    if view.transitions == "thin":
        # Thin lines of intersection stand clear of the outlines (ISO 128-3), those of a pictorial meet them.
        clear = 0.0 if view.kind == "pictorial" else _CLEAR / view.scale
        out += [_stroke(scene, view, line, "smooth", look.narrow) for line in (_trimmed(x, clear) for x in seen.smooth)]
    return out


def _trimmed(line: Line, clear: float) -> Line:
    """A straight line without so much of both its ends (mm at 1:1); others, and short ones, as they are."""
    if line.kind != "line" or not clear:
        return line
    d = line.points[-1] - line.points[0]
    length = float(np.linalg.norm(d))
    if length < 4 * clear:
        return line
    return replace(
        line, points=np.array([line.points[0] + d * (clear / length), line.points[-1] - d * (clear / length)])
    )


def draw_view_marks(page: Page, scene: Scene, view: View, look: Look) -> None:
    """All that belongs to a view beside its lines."""
    pen = Pen(page, view.id, look.narrow)
    draw_shade(pen, scene, view)
    draw_cut_faces(pen, scene, view, look)
    draw_window(pen, scene, view)
    draw_open_edges(pen, scene, view)
    draw_breaks(pen, scene, view)
    draw_on_parent(pen, scene, view, look)
    draw_caption(pen, scene, view, look)


def compile_annotation(page: Page, scene: Scene, mark: Annotation, look: Look) -> bool:
    """Draw one annotation; False when its geometry is lost."""
    comma = scene.document.house.decimal is Decimal.COMMA and scene.document.style == "iso"
    pen = Pen(page, mark.id, look.narrow, comma=comma)
    if isinstance(mark, Note):
        for k, text in enumerate(mark.lines):
            pen.text(text, mark.at[0], mark.at[1] - mark.height * (1 + LINE_PITCH * k), mark.height)
        return True
    view = scene.document.view(mark.view or "")
    if isinstance(mark, Linear):
        return draw_linear(pen, scene, view, mark, look, scene.document.style == "iso")
    if isinstance(mark, Ordinate):
        return draw_ordinate(pen, scene, view, mark, look)
    if isinstance(mark, Leader):
        # In a hole table the note stands in its row.
        tabled = mark.letter and table_of(scene.document, mark.view)
        return bool(tabled) or draw_leader(pen, scene, view, mark, look)
    if isinstance(mark, Place):
        return draw_place(pen, scene, view, mark)
    if isinstance(mark, HoleTable):
        return draw_table(pen, scene, view, mark, look)
    if isinstance(mark, CentreMark):
        return draw_centre_mark(pen, scene, view, mark, look)
    if isinstance(mark, DatumMark):
        return draw_datum_mark(pen, scene, view, mark, look)
    if isinstance(mark, SymmetryLine):
        return draw_symmetry_line(pen, scene, view, mark, look)
    if isinstance(mark, FlatCross):
        return draw_flat_cross(pen, scene, view, mark, look)
    assert isinstance(mark, CentreLine)
    return draw_centre_line(pen, scene, view, mark, look)


def compile_page(scene: Scene, sheet: SheetPage) -> Page:
    """One compiled sheet."""
    look = look_of(scene.document.style, sheet.size)
    page = Page(sheet.number, sheet.size, size_mm(sheet.size))
    draw_border(page, scene.document, sheet, look)
    for view in scene.document.views:
        if view.sheet == sheet.number:
            page.strokes += view_strokes(scene, view, look)
            draw_view_marks(page, scene, view, look)
    for mark in scene.document.annotations:
        if mark.sheet == sheet.number:
            compile_annotation(page, scene, mark, look)
    return page


def compile_sheet(scene: Scene) -> Drawing:
    """The whole document, compiled."""
    title = " ".join(x for x in (scene.document.title.number, scene.document.title.title) if x)
    views = frozenset(v.id for v in scene.document.views)
    block = scene.document.title
    return Drawing(title, [compile_page(scene, p) for p in scene.document.pages], views, block.number, block.revision)
