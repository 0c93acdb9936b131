"""Sheet size, scale and the places of views: tried from small sheets to large, until everything fits."""

from collections.abc import Collection
from dataclasses import dataclass, replace

from canonis.core.faults import BadInput
from canonis.core.layout.collisions import page_collisions
from canonis.core.layout.datum_marks import place_datum_marks
from canonis.core.layout.free_spot import beside, elsewhere
from canonis.core.layout.leaders import place_leaders
from canonis.core.layout.rows import margins, place_rows
from canonis.core.layout.tables import place_tables, place_tags
from canonis.core.sheet import (
    BLOCK_SIZE,
    INCH_SIZES,
    LINE_PITCH,
    METRIC_SIZES,
    SCALES,
    Annotation,
    Auxiliary,
    DatumMark,
    Detail,
    Leader,
    Look,
    Note,
    Ordinate,
    Page,
    Parallel,
    Pictorial,
    Scene,
    Section,
    SheetDocument,
    SheetPage,
    View,
    block_rect,
    compile_annotation,
    draw_border,
    draw_view_marks,
    frame_rect,
    glyphs,
    look_of,
    parse_scale,
    revision_rect,
    size_mm,
    view_strokes,
)
from canonis.core.sheet.document import Place
from canonis.core.tolerances import NOISE

__all__ = ["Arranged", "arrange", "arranged", "no_room", "place_notes", "refresh"]

Rect = tuple[float, float, float, float]
#: Free border inside the frame, mm.
_PAD = 6.0
#: Air between neighbouring cells for notes, tried from generous to tight, mm.
_AIRS = (26.0, 14.0)


#: So many arrangements are tried; on a sheet with very many statements only two.
_TRIES, _MANY = 8, 600
#: The most extra room between neighbouring cells, mm.
_WIDEST = 24.0


@dataclass(frozen=True)
class _Cell:
    view: View
    width: float
    height: float
    room: dict[str, float]
    #: The middle of its outline from where its origin stands, mm: a break may move it.
    middle: tuple[float, float] = (0.0, 0.0)


def _grid(projection: str) -> dict[str, tuple[int, int]]:
    """Column and row (up) of each principal view relative to the front (ISO 5456-2)."""
    s = 1 if projection == "first" else -1
    return {"front": (0, 0), "left": (s, 0), "right": (-s, 0), "top": (0, -s), "bottom": (0, s), "back": (2, 0)}


def _overlap(a: Rect, b: Rect, gap: float = 0.0) -> bool:
    return a[0] < b[2] + gap and b[0] < a[2] + gap and a[1] < b[3] + gap and b[1] < a[3] + gap


def _notes_height(document: SheetDocument, sheet: SheetPage) -> float:
    """Letter height of the general notes: 3.5 on large sheets, smaller where a line would pass the title block."""
    lines = [t for a in document.annotations if isinstance(a, Note) and a.sheet == sheet.number for t in a.lines]
    w, h = size_mm(sheet.size)
    wanted = 3.5 if w * h > 450_000 else 2.5
    return next((h for h in (wanted, 2.5, 2.2) if max(glyphs.width(t, h) for t in lines) < BLOCK_SIZE[0] - 2), 2.0)


def _notes_rect(document: SheetDocument, sheet: SheetPage) -> Rect | None:
    lines = max(
        (len(a.lines) for a in document.annotations if isinstance(a, Note) and a.sheet == sheet.number), default=0
    )
    if not lines:
        return None
    x0, _, x1, y1 = block_rect(sheet.size)
    revisions = revision_rect(document, sheet.size)
    if revisions is not None and document.style == "iso":
        y1 = revisions[3]
    return (x0, y1, x1, y1 + 4 + _notes_height(document, sheet) * LINE_PITCH * lines + 2)


def _place_views(
    document: SheetDocument, sheet: SheetPage, cells: list[_Cell], air: float, taken: list[Rect]
) -> dict[str, tuple[float, float]] | None:
    """Paper places of the principal views, aligned by projection, or None when they do not fit."""
    places = _grid(document.projection)
    by_col: dict[int, list[_Cell]] = {}
    by_row: dict[int, list[_Cell]] = {}
    for cell in cells:
        c, r = places[cell.view.kind]
        by_col.setdefault(c, []).append(cell)
        by_row.setdefault(r, []).append(cell)
    cols = {
        c: (max(x.room["left"] + x.width / 2 for x in v), max(x.room["right"] + x.width / 2 for x in v))
        for c, v in by_col.items()
    }
    rows = {
        r: (max(x.room["below"] + x.height / 2 for x in v), max(x.room["above"] + x.height / 2 for x in v))
        for r, v in by_row.items()
    }
    fx0, fy0, fx1, fy1 = frame_rect(sheet.size)
    avail_w, avail_h = fx1 - fx0 - 2 * _PAD, fy1 - fy0 - 2 * _PAD
    need_w = sum(sum(c) for c in cols.values()) + air * (len(cols) - 1)
    need_h = sum(sum(r) for r in rows.values()) + air * (len(rows) - 1)
    if need_w > avail_w or need_h > avail_h:
        return None
    spare_w, spare_h = avail_w - need_w, avail_h - need_h
    # Spread the spare room evenly first; crowd to the upper left when the title block is in the way.
    for share in (0.5, 0.25, 0.1, 0.0):
        centre_x, centre_y = {}, {}
        # Views that belong together stay together: the rest of the room goes around them.
        gap_w = min(spare_w * share / max(1, len(cols)), _WIDEST)
        gap_h = min(spare_h * share / max(1, len(rows)), _WIDEST)
        x = fx0 + _PAD + (gap_w + (spare_w * share - gap_w * len(cols)) * 0.5) / 2
        for c in sorted(cols):
            centre_x[c] = x + cols[c][0]
            x += sum(cols[c]) + air + gap_w
        y = fy1 - _PAD - (gap_h + (spare_h * share - gap_h * len(rows)) * 0.5) / 2
        for r in sorted(rows, reverse=True):
            centre_y[r] = y - rows[r][1]
            y -= sum(rows[r]) + air + gap_h
        at = {}
        clash = False
        for cell in cells:
            c, r = places[cell.view.kind]
            cx, cy = centre_x[c], centre_y[r]
            at[cell.view.id] = (cx, cy)
            clash = clash or any(_overlap(_cell_rect(cell, cx, cy), t, 2.0) for t in taken)
        if not clash:
            return at
    return None


def _cell_rect(cell: _Cell, cx: float, cy: float) -> Rect:
    return (
        cx - cell.width / 2 - cell.room["left"],
        cy - cell.height / 2 - cell.room["below"],
        cx + cell.width / 2 + cell.room["right"],
        cy + cell.height / 2 + cell.room["above"],
    )


def _place_pictorial(
    sheet: SheetPage, size: tuple[float, float], scales: list[float], taken: list[Rect]
) -> tuple[float, tuple[float, float]] | None:
    """Scale and centre of the pictorial: the largest that finds a free spot, as clear of all else as can be."""
    fx0, fy0, fx1, fy1 = frame_rect(sheet.size)
    for scale in scales:
        w, h = size[0] * scale, size[1] * scale
        if w > 240 or h > 240:
            continue
        best: tuple[float, float, float] | None = None
        steps = 24
        for i in range(steps + 1):
            for j in range(steps + 1):
                cx = fx0 + _PAD + w / 2 + (fx1 - fx0 - 2 * _PAD - w) * i / steps
                cy = fy0 + _PAD + h / 2 + (fy1 - fy0 - 2 * _PAD - h) * j / steps
                if cx - w / 2 < fx0 + _PAD - NOISE or cy - h / 2 < fy0 + _PAD - NOISE:
                    continue
                here = (cx - w / 2, cy - h / 2, cx + w / 2, cy + h / 2)
                clear = min(
                    max(max(t[0] - here[2], here[0] - t[2]), max(t[1] - here[3], here[1] - t[3])) for t in taken
                )
                if clear >= 7.0 and (best is None or min(clear, 30.0) + cx / 1000 > best[0]):
                    best = (min(clear, 30.0) + cx / 1000, cx, cy)
        if best:
            return scale, (round(best[1], 3), round(best[2], 3))
    return None


def place_notes(document: SheetDocument, sheet: SheetPage) -> SheetDocument:
    """The document with the notes of a sheet above its title block, at a height that fits its width."""
    rect = _notes_rect(document, sheet)
    height = _notes_height(document, sheet) if rect else 2.5
    marks = tuple(
        a.model_copy(update={"at": (rect[0], rect[3] - 2.0), "height": height})
        if isinstance(a, Note) and a.sheet == sheet.number and rect and not a.by_hand
        else a
        for a in document.annotations
    )
    return document.model_copy(update={"annotations": marks})


def _apply(document: SheetDocument, changed: dict[str, Annotation]) -> SheetDocument:
    marks = tuple(changed.get(a.id, a) for a in document.annotations)
    return document.model_copy(update={"annotations": marks})


def _scene(scene: Scene, document: SheetDocument) -> Scene:
    return replace(scene, document=document)


def _before_notes(scene: Scene, sheet: SheetPage, look: Look) -> tuple[Page, SheetDocument]:
    """All that is drawn on a sheet before its notes, tags and datums in their places."""
    document = scene.document
    page = Page(sheet.number, sheet.size, size_mm(sheet.size))
    draw_border(page, document, sheet, look)
    for view in document.views:
        if view.sheet == sheet.number:
            page.strokes += view_strokes(scene, view, look)
            draw_view_marks(page, scene, view, look)
    for mark in document.annotations:
        if mark.sheet == sheet.number and not isinstance(mark, Leader | Place | DatumMark):
            compile_annotation(page, scene, mark, look)
    for place in (place_datum_marks, place_tags):
        places = place(scene, sheet, page, look)
        document = _apply(document, places)
        scene = _scene(scene, document)
        for mark in places.values():
            compile_annotation(page, scene, mark, look)
    return page, document


def _dress(scene: Scene, sheet: SheetPage, look: Look) -> tuple[SheetDocument, int, int]:
    """Rows and notes of one sheet; also how many notes found no place and how many collisions stand."""
    document = place_notes(scene.document, sheet)
    scene = _scene(scene, document)
    document = _apply(document, place_rows(scene, look))
    scene = _scene(scene, document)
    page, document = _before_notes(scene, sheet, look)
    scene = _scene(scene, document)
    placed, failed = place_leaders(scene, sheet, page, look)
    bad = page_collisions(page, crossings=False)
    return _apply(document, placed), failed, len(bad["text_on_text"]) + len(bad["text_on_line"])


def _try(scene: Scene, sheet: SheetPage, factor: float, air: float) -> tuple[Scene, SheetPage, Look] | None:
    """The views placed at one size and scale, or None when they do not fit."""
    document = scene.document
    look = look_of(document.style, sheet.size)
    sheet = sheet.model_copy(update={"scale": factor})
    mine = [v for v in document.views if v.sheet == sheet.number]
    own = (Pictorial, Detail)
    views = {v.id: v if isinstance(v, own) else v.model_copy(update={"scale": factor}) for v in mine}
    document = _with_views(document, sheet, views)
    here = _scene(scene, document)
    document = _apply(document, place_rows(here, look))
    here = _scene(here, document)
    cells = []
    for view in document.views:
        if view.sheet == sheet.number and isinstance(view, Parallel):
            x0, y0, x1, y1 = here.box(view)
            middle = ((x0 + x1) / 2 - view.at[0], (y0 + y1) / 2 - view.at[1]) if view.breaks else (0.0, 0.0)
            cells.append(_Cell(view, x1 - x0, y1 - y0, margins(here, view, look), middle))
    taken = [block_rect(sheet.size)]
    notes = _notes_rect(document, sheet)
    taken += [r for r in (notes, revision_rect(document, sheet.size)) if r is not None]
    at = _place_views(document, sheet, cells, air, taken)
    if at is None:
        return None
    for cell in cells:
        views[cell.view.id] = cell.view.model_copy(
            update={"at": tuple(round(float(c - m), 3) for c, m in zip(at[cell.view.id], cell.middle, strict=True))}
        )
        taken.append(_cell_rect(cell, *at[cell.view.id]))
    if not _hang(here, sheet, views, taken):
        return None
    tabled = place_tables(here, sheet, taken)
    if tabled is None:
        return None
    here = _scene(here, tabled)
    for view in mine:
        if view.kind == "pictorial":
            x0, y0, x1, y1 = here.projection(view).box
            scales = sorted({n / d for n, d in SCALES[document.style] if n / d <= factor * 1.01}, reverse=True)
            # Beside sections a picture too small to read is worth less than a larger sheet.
            hung = any(isinstance(v, Section | Detail | Auxiliary) for v in mine)
            spot = _place_pictorial(sheet, (x1 - x0, y1 - y0), scales[: 3 if hung else 5], taken)
            if spot is None:
                return None
            # The origin stands so that the outline's middle is at the spot.
            o = here.origin(view)
            shift = (((x0 + x1) / 2 - o[0]) * spot[0], ((y0 + y1) / 2 - o[1]) * spot[0])
            views[view.id] = view.model_copy(
                update={
                    "scale": spot[0],
                    "at": (round(float(spot[1][0] - shift[0]), 3), round(float(spot[1][1] - shift[1]), 3)),
                }
            )
    document = _with_views(here.document, sheet, views)
    return _scene(here, document), sheet, look


def _hang(here: Scene, sheet: SheetPage, views: dict[str, View], taken: list[Rect]) -> bool:
    """Places sections, details and auxiliary views, each by its parent or where there is room; false where there is none."""
    for view in [v for v in views.values() if isinstance(v, Section | Detail | Auxiliary)]:
        if isinstance(view, Detail):
            # What it is a detail of may stand on another sheet.
            parent = views.get(view.parent or "") or here.document.view(view.parent or "")
            steps = sorted(n / d for n, d in SCALES[here.document.style])
            scale = max((s for s in steps if parent.scale < s <= 20.0 / view.window.half[0]), default=2 * parent.scale)
            view = view.model_copy(update={"scale": scale})
        views[view.id] = view
        scene = _scene(here, _with_views(here.document, sheet, views))
        at = beside(scene, view, taken) if isinstance(view, Section) else None
        aligned = at is not None
        at = at or elsewhere(scene, view, taken)
        if at is None:
            return False
        view = views[view.id] = view.model_copy(update={"at": at, "aligned": aligned})
        scene = _scene(here, _with_views(here.document, sheet, views))
        x0, y0, x1, y1 = scene.box(view)
        room = margins(scene, view, look_of(here.document.style, sheet.size))
        taken.append((x0 - room["left"], y0 - room["below"] - 8, x1 + room["right"], y1 + room["above"]))
    return True


def _with_views(document: SheetDocument, sheet: SheetPage, views: dict[str, View]) -> SheetDocument:
    return document.model_copy(
        update={
            "views": tuple(views.get(v.id, v) for v in document.views),
            "pages": tuple(sheet if p.number == sheet.number else p for p in document.pages),
        }
    )


def _legible(scene: Scene, sheet: SheetPage, factor: float) -> bool:
    """Whether rows are no longer than the views they belong to, and most round features can be seen."""
    look = look_of(scene.document.style, sheet.size)
    for view in scene.document.views:
        if view.sheet != sheet.number or not isinstance(view, Parallel):
            continue
        x0, y0, x1, y1 = scene.projection(view).box
        for direction, extent in (("x", x1 - x0), ("y", y1 - y0)):
            n = sum(
                isinstance(a, Ordinate) and (a.view, a.direction) == (view.id, direction)
                for a in scene.document.annotations
            )
            if n * look.text * 1.45 > 1.1 * extent * factor + 12:
                return False
    holes = sorted(b.diameter for b in set(scene.marks[sheet.solid].bores.values()))
    if holes and holes[len(holes) // 2] * factor < 1.5:
        return False
    biggest = max(float(c) for c in scene.solids[sheet.solid].size)
    # The smallest part there is cannot be drawn larger than the largest scale.
    largest = max(n / d for n, d in SCALES[scene.document.style])
    return biggest * factor >= min(55.0, biggest * largest)


def _broken_out(scene: Scene, sheet: SheetPage) -> float:
    """By how much breaks shorten the views of a sheet at the least, mm at 1:1."""
    strips = [scene.strips(v) for v in scene.document.views if v.sheet == sheet.number]
    return min((sum(s.high - s.low for s in one) for one in strips if one), default=0.0)


@dataclass(frozen=True, eq=False)
class Arranged:
    """A document with everything of a sheet in its place, and what is wrong there: notes without a place, collisions."""

    document: SheetDocument
    wrong: int


def arrange(scene: Scene, sheet: SheetPage, size: str = "auto", scale: str = "auto") -> SheetDocument:
    """The document with sizes, scale, views, rows and notes of one sheet in their places.

    Raises BadInput when the views fit nowhere at the wanted size and scale.
    """
    made = arranged(scene, sheet, size, scale)
    if made is None:
        raise no_room(size, scale)
    return made.document


def no_room(size: str, scale: str) -> BadInput:
    """What is said where the views fit nowhere."""
    where = "any sheet" if size == "auto" else size
    how = "at any scale" if scale == "auto" else f"at {scale}"
    return BadInput(f"The views do not fit on {where} {how}; choose a larger sheet or a smaller scale.")


def arranged(scene: Scene, sheet: SheetPage, size: str = "auto", scale: str = "auto") -> Arranged | None:
    """A sheet arranged; None where its views fit nowhere at the wanted size and scale.

    Tries sheets from small to large and scales from large to small; the first arrangement without a
    collision, with every note placed and legible rows is taken, else the best one seen.
    """
    style = scene.document.style
    sizes = list(METRIC_SIZES if style == "iso" else INCH_SIZES) if size == "auto" else [size]
    size_mm(sizes[0])
    factors = [n / d for n, d in SCALES[style]] if scale == "auto" else [parse_scale(scale)]
    biggest = max(float(c) for c in scene.solids[sheet.solid].size) - _broken_out(scene, sheet)
    best: tuple[tuple[float, ...], Arranged] | None = None
    tries = 0
    said = sum(a.sheet == sheet.number for a in scene.document.annotations)
    most = _TRIES if said < _MANY else 2
    for legible_only in (True, False):
        # Legible arrangements first, small sheets first; then whatever fits, large sheets first.
        for name in sizes if legible_only else sizes[::-1]:
            w, h = size_mm(name)
            one = sheet.model_copy(update={"size": name})
            for factor in factors:
                if scale == "auto" and (
                    biggest * factor > max(w, h) or _legible(scene, one, factor) is not legible_only
                ):
                    continue
                for air in _AIRS:
                    placed = _try(scene, one, factor, air)
                    if placed is None:
                        continue
                    document, failed, collisions = _dress(*placed)
                    tries += 1
                    score = (failed + collisions, w * h if legible_only else -w * h, -factor)
                    if best is None or score < best[0]:
                        best = (score, Arranged(document, failed + collisions))
                    if failed + collisions == 0 or tries >= most:
                        return best[1]
    return None if best is None else best[1]


def refresh(scene: Scene, sheet: SheetPage, notes: bool = False, new: Collection[str] = ()) -> SheetDocument:
    """Rows pushed apart again after an edit; leaders stay, but for those of the ids in `new` (`notes` places all)."""
    look = look_of(scene.document.style, sheet.size)
    if notes:
        return _dress(scene, sheet, look)[0]
    document = _apply(scene.document, place_rows(scene, look))
    if not new:
        return document
    page, document = _before_notes(_scene(scene, document), sheet, look)
    return _apply(document, place_leaders(_scene(scene, document), sheet, page, look, new)[0])
