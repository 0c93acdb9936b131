"""The hole table of a view: a letter and a note for each kind of hole, a row for each place, a tag beside each hole."""

from collections.abc import Sequence
from dataclasses import dataclass
from weakref import WeakKeyDictionary

import numpy as np

from canonis.core.sheet import glyphs
from canonis.core.sheet.document import HoleTable, Leader, Ordinate, Place, SheetDocument
from canonis.core.sheet.pen import Pen
from canonis.core.sheet.scene import Scene
from canonis.core.sheet.sizes import Look, look_of
from canonis.core.sheet.views import View
from canonis.core.solid import Vec
from canonis.core.tolerances import NOISE, same

__all__ = ["TAG", "centre_of", "draw_place", "draw_table", "table_of", "table_size"]

_HEADS = ("HOLE", "SIZE", "X", "Y")
#: Height of a tag beside its hole, mm.
TAG = 2.5
#: Height of a row in letter heights; room beside the text of a cell, mm; room between columns of the table, mm.
_ROW, _ROOM, _APART = 1.9, 2.0, 4.0
#: How far from the outline the arrows of the origin stand, and their length, mm.
_OFF, _ARROW = 4.0, 11.0


@dataclass(frozen=True, eq=False)
class Cells:
    """Where everything of a table stands on paper: the left and lower corner of each row, the widths of its columns."""

    height: float
    text: float
    widths: tuple[float, ...]
    rows: dict[str, tuple[float, float]]
    heads: tuple[tuple[float, float], ...]
    size: tuple[float, float]


_cells: WeakKeyDictionary[Scene, dict[str, Cells]] = WeakKeyDictionary()


def table_of(document: SheetDocument, view: str | None) -> HoleTable | None:
    """The hole table of a view."""
    return next((a for a in document.annotations if isinstance(a, HoleTable) and a.view == view), None)


def _members(document: SheetDocument, view: str | None) -> tuple[list[Place], dict[str, Leader]]:
    """The places of a view in the order of their tags, and the notes by their letters."""
    places = [a for a in document.annotations if isinstance(a, Place) and a.view == view]
    notes = {a.letter: a for a in document.annotations if isinstance(a, Leader) and a.letter and a.view == view}
    return sorted(places, key=lambda p: (_letter(p), len(p.tag), p.tag)), notes


def _letter(place: Place) -> str:
    return place.tag.rstrip("0123456789")


def _note(leader: Leader) -> str:
    return leader.text


def _cells_of(scene: Scene, table: HoleTable) -> Cells:
    """The cells of a table on its sheet."""
    known = _cells.setdefault(scene, {})
    if table.id not in known:
        known[table.id] = _laid(scene, table)
    return known[table.id]


def _laid(scene: Scene, table: HoleTable) -> Cells:
    document = scene.document
    page = next(p for p in document.pages if p.number == table.sheet)
    text = min(look_of(document.style, page.size).text, TAG)
    places, notes = _members(document, table.view)
    distances = [p.distances for p in places]
    columns: Sequence[Sequence[str]] = (
        [p.tag for p in places],
        [_note(n) for n in notes.values()],
        *([d[k] for d in distances] for k in (0, 1)),
    )
    widths = tuple(
        max(glyphs.width(t, text) for t in (head, *column)) + 2 * _ROOM
        for head, column in zip(_HEADS, columns, strict=True)
    )
    height = _ROW * text
    each = -(-len(places) // max(1, table.columns))
    rows: dict[str, tuple[float, float]] = {}
    heads: list[tuple[float, float]] = []
    x0, top = table.at
    noted: set[str] = set()
    for n, place in enumerate(places):
        column, row = divmod(n, each)
        x = x0 + column * (sum(widths) + _APART)
        if row == 0:
            heads.append((x, top - height))
        rows[place.id] = (x, top - height * (row + 2))
        note = notes.get(_letter(place))
        if note is not None and note.id not in noted:
            noted.add(note.id)
            rows[note.id] = rows[place.id]
    width = len(heads) * sum(widths) + max(0, len(heads) - 1) * _APART
    return Cells(height, text, widths, rows, tuple(heads), (width, height * (min(each, len(places)) + 1)))


def table_size(scene: Scene, table: HoleTable) -> tuple[float, float]:
    """Width and height of a table on its sheet, mm."""
    return _cells_of(scene, table).size


def _write(pen: Pen, cells: Cells, corner: tuple[float, float], column: int, text: str) -> None:
    x = corner[0] + sum(cells.widths[:column])
    # Figures end at the right, words begin at the left.
    width = glyphs.width(text, cells.text)
    at = x + cells.widths[column] - _ROOM - width if column > 1 else x + _ROOM
    pen.text(text, at, corner[1] + (cells.height - cells.text) / 2, cells.text)


def draw_table(pen: Pen, scene: Scene, view: View, table: HoleTable, look: Look) -> bool:
    """A table with its rows, each on behalf of its statement, and the origin where its view stands on the same sheet."""
    cells = _cells_of(scene, table)
    for number, corner in enumerate(cells.heads):
        _grid(pen, cells, corner, look)
        for k, head in enumerate(_HEADS):
            _write(pen, cells, corner, k, head)
        if number == 0 and view.sheet != table.sheet:
            pen.text(f"HOLES OF SHEET {view.sheet}", corner[0], corner[1] + cells.height + 1.5, cells.text)
    places, notes = _members(scene.document, table.view)
    for place in places:
        for column, text in zip((0, 2, 3), (place.tag, *place.distances), strict=True):
            _write(Pen(pen.page, place.id, look.narrow), cells, cells.rows[place.id], column, text)
    for note in notes.values():
        if note.id in cells.rows:
            _write(Pen(pen.page, note.id, look.narrow), cells, cells.rows[note.id], 1, _note(note))
    if view.sheet == table.sheet:
        _origin(pen, scene, view, places, look)
    return bool(places)


def _grid(pen: Pen, cells: Cells, corner: tuple[float, float], look: Look) -> None:
    """The lines of one column of rows: wide around it and under its head."""
    mine = {y for x, y in cells.rows.values() if same(x, corner[0], NOISE)}
    edges = corner[0] + np.concatenate([[0.0], np.cumsum(cells.widths)])
    levels = sorted({*mine, corner[1], corner[1] + cells.height})
    for k, x in enumerate(edges):
        wide = k in (0, len(edges) - 1)
        pen.line((x, levels[0]), (x, levels[-1]), style="frame", width=look.wide if wide else None)
    for k, y in enumerate(levels):
        wide = k in (0, len(levels) - 2, len(levels) - 1)
        pen.line((edges[0], y), (edges[-1], y), style="frame", width=look.wide if wide else None)


def draw_place(pen: Pen, scene: Scene, view: View, mark: Place) -> bool:
    """The tag beside a hole; False where the hole is lost."""
    centre = centre_of(scene, view, mark)
    if centre is None:
        return False
    x, y = centre + np.array(mark.offset)
    pen.text(mark.tag, x - glyphs.width(mark.tag, TAG) / 2, y - TAG / 2, TAG)
    return True


def centre_of(scene: Scene, view: View, mark: Place) -> Vec | None:
    """The middle of a place's hole on paper; None where it is lost."""
    anchor = scene.anchor(view, mark.refs[-1])
    if anchor is None or anchor.x is None or anchor.y is None:
        return None
    return np.asarray(scene.paper(view, np.array([[anchor.x, anchor.y]]))[0])


def _origin(pen: Pen, scene: Scene, view: View, places: list[Place], look: Look) -> None:
    """Where the places of a table count from: arrows right and up, clear of the outline; a row of ordinates shows its own
    zero."""
    if not places:
        return
    rows = {a.direction for a in scene.document.annotations if isinstance(a, Ordinate) and a.view == view.id}
    levels = [scene.anchor(view, r) for r in places[0].refs[:2]]
    x, y = (None if a is None else a.level(d) for a, d in zip(levels, "xy", strict=True))
    if x is None or y is None:
        return
    at = scene.paper(view, np.array([[x, y]]))[0]
    x0, y0, _, _ = scene.box(view)
    low = np.array([at[0], min(y0, at[1]) - _OFF])
    left = np.array([min(x0, at[0]) - _OFF, at[1]])
    for start, way, name in ((low, np.array([1.0, 0.0]), "X"), (left, np.array([0.0, 1.0]), "Y")):
        if name.lower() in rows:
            continue
        end = start + way * _ARROW
        side = np.array([-way[1], way[0]])
        pen.line(start - side, start + side)
        pen.line(start, end - way)
        pen.arrow(end, way, look.arrow)
        spot = end + way * (1.2 + TAG / 2)
        pen.text(name, spot[0] - glyphs.width(name, TAG) / 2, spot[1] - TAG / 2, TAG)
