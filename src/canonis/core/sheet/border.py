"""Frame, zones, centring marks, title block and projection symbol (ISO 5457, ISO 7200, ISO 5456-2)."""

import math

import numpy as np

from canonis.core.sheet import glyphs
from canonis.core.sheet.document import SheetDocument, SheetPage
from canonis.core.sheet.pen import Pen
from canonis.core.sheet.sizes import Look, scale_text, size_mm
from canonis.core.sheet.strokes import Page

__all__ = ["BLOCK_SIZE", "CAUTION", "block_rect", "draw_border", "frame_rect", "revision_rect"]

#: Height of the caution's strip below the title block's fields, mm.
_STRIP = 5.0
#: Width and height of the title block, mm.
BLOCK_SIZE = (180.0, 44.0 + _STRIP)
#: Every sheet carries it, and no edit takes it off: the program never certifies.
CAUTION = "To be checked and approved by a qualified, licensed engineer under the codes that apply locally."
_ZONE = 50.0
_LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ"


def frame_rect(size: str) -> tuple[float, float, float, float]:
    """The drawing frame: 20 mm on the filing side, 10 mm elsewhere (x0, y0, x1, y1)."""
    w, h = size_mm(size)
    return (20.0, 10.0, w - 10.0, h - 10.0)


def block_rect(size: str) -> tuple[float, float, float, float]:
    """The title block, in the lower right corner of the frame."""
    _, y0, x1, _ = frame_rect(size)
    return (x1 - BLOCK_SIZE[0], y0, x1, y0 + BLOCK_SIZE[1])


def _rect(pen: Pen, x0: float, y0: float, x1: float, y1: float, width: float) -> None:
    pen.line((x0, y0), (x1, y0), (x1, y1), (x0, y1), (x0, y0), style="frame", width=width)


def _zones(pen: Pen, size: str) -> None:
    w, h = size_mm(size)
    x0, y0, x1, y1 = frame_rect(size)
    columns, rows = max(2, 2 * round((x1 - x0) / _ZONE / 2)), max(2, 2 * round((y1 - y0) / _ZONE / 2))
    for k in range(columns):
        at = x0 + (k + 0.5) * (x1 - x0) / columns
        for y in (y0 - 4.2, y1 + 1.7):
            pen.text(str(k + 1), at - glyphs.width(str(k + 1), 2.5) / 2, y, 2.5)
        if k:
            edge = x0 + k * (x1 - x0) / columns
            for a, b in ((y0 - 5, y0), (y1, y1 + 5)):
                pen.line((edge, a), (edge, b), style="frame", width=0.35)
    for k in range(rows):
        letter = _LETTERS[rows - 1 - k]
        at = y0 + (k + 0.5) * (y1 - y0) / rows
        for x in (x0 - 3.6, x1 + 1.8):
            pen.text(letter, x, at - 1.25, 2.5)
        if k:
            edge = y0 + k * (y1 - y0) / rows
            for a, b in ((x0 - 5, x0), (x1, x1 + 5)):
                pen.line((a, edge), (b, edge), style="frame", width=0.35)
    _rect(pen, x0 - 5, y0 - 5, x1 + 5, y1 + 5, 0.35)
    cx, cy = w / 2, h / 2
    # Into the frame, but not into the title block.
    block = block_rect(size)
    foot = 0.0 if block[0] < cx < block[2] else 5.0
    side = 0.0 if block[1] < cy < block[3] and block[2] > x1 - 5 else 5.0
    for p, q in (
        ((cx, y0 - 5), (cx, y0 + foot)),
        ((cx, y1 - 5), (cx, y1 + 5)),
        ((x0 - 5, cy), (x0 + 5, cy)),
        ((x1 - side, cy), (x1 + 5, cy)),
    ):
        pen.line(p, q, style="frame", width=0.7)


def projection_symbol(pen: Pen, cx: float, cy: float, first: bool) -> None:
    """The truncated cone in two views; the small end faces the view from the left."""
    side, ring = (-7.0, 6.5) if first else (6.0, -6.5)
    x0, x1 = cx + side - 4.0, cx + side + 4.0
    small, large = 2.0, 3.8
    pen.line(
        (x0, cy - small),
        (x1, cy - large),
        (x1, cy + large),
        (x0, cy + small),
        (x0, cy - small),
        style="mark",
        width=0.35,
    )
    for r in (small, large):
        pen.arc(np.array([cx + ring, cy]), r, 0.0, 2 * math.pi, style="mark", width=0.35)
    pen.line((x0 - 1.5, cy), (x1 + 1.5, cy), width=0.18)
    for a, b in (((cx + ring - 5, cy), (cx + ring + 5, cy)), ((cx + ring, cy - 5), (cx + ring, cy + 5))):
        pen.line(a, b, width=0.18)


def _fitted(text: str, room: float, wanted: float) -> tuple[str, float]:
    for height in (wanted, 3.5, 2.5, 2.0, 1.8):
        if height <= wanted and glyphs.width(text, height) <= room:
            return text, height
    while text and glyphs.width(text + "…", 2.0) > room:
        text = text[:-1]
    return text + "…", 2.0


def _title_block(pen: Pen, document: SheetDocument, page: SheetPage) -> None:
    x0, y0, x1, y1 = block_rect(page.size)
    _rect(pen, x0, y0, x1, y1, 0.7)
    pen.line((x0, y0 + _STRIP), (x1, y0 + _STRIP), style="frame", width=0.25)
    pen.text(CAUTION, x0 + 1.6, y0 + 1.5, 2.5)
    y0 += _STRIP
    t = document.title
    total = len(document.pages)
    scale = scale_text(page.scale)
    unit = "mm" if document.unit == "mm" else "inch"
    mass = page.mass or t.mass
    if page.copies > 1 and mass != "–":
        mass = f"{mass} each"
    cells: list[tuple[float, float, float, float, str, str, float]] = [
        (0, 34, 70, 10, "Owner", t.owner, 3.5),
        (70, 34, 110, 10, "General tolerances", t.general or "none stated: ask", 2.5),
        (0, 24, 35, 10, "Created by", t.created_by, 2.5),
        (35, 24, 35, 10, "Approved by", t.approved_by, 2.5),
        (70, 24, 48, 10, "Material", t.material or "not stated", 2.5),
        (118, 24, 30, 10, "Mass (from the model)", mass, 2.5),
        (0, 10, 100, 14, "Title", page.title or t.title or "Untitled part", 5.0),
        (100, 10, 48, 14, "Drawing number", page.number_text or t.number or "–", 5.0),
        (0, 0, 35, 10, "Document type", t.document_type, 2.5),
        (35, 0, 35, 10, "Date of issue", t.date or "not issued", 2.5),
        (70, 0, 18, 10, "Unit", unit, 2.5),
        (88, 0, 12, 10, "Size", page.size, 2.5),
        (100, 0, 18, 10, "Scale", scale, 3.5),
        (118, 0, 14, 10, "Sheet", f"{page.number}/{total}", 2.5),
        (132, 0, 16, 10, "Revision", t.revision, 3.5),
    ]
    names = {
        "Owner": "owner",
        "General tolerances": "general",
        "Material": "material",
        "Title": "title",
        "Drawing number": "number",
    }
    for cx, cy, w, h, label, value, height in cells:
        if names.get(label) in t.linked:
            label = f"{label} (from the source)"
        left, bottom = x0 + cx, y0 + cy
        pen.line((left, bottom + h), (left, bottom), style="frame", width=0.25)
        pen.line((left, bottom), (left + w, bottom), style="frame", width=0.25)
        pen.text(label, left + 1.2, bottom + h - 2.6, 1.6)
        text, size = _fitted(value, w - 3.0, height)
        pen.text(text, left + 1.6, bottom + (2.0 if h < 12 else 2.8), size)
    left, bottom = x0 + 148, y0
    pen.line((left, bottom), (left, bottom + 34), style="frame", width=0.25)
    pen.line((left, bottom + 34), (left + 32, bottom + 34), style="frame", width=0.25)
    pen.text("Projection", left + 1.2, bottom + 31.4, 1.6)
    projection_symbol(pen, left + 16, bottom + 19, document.projection == "first")
    angle = "first angle" if document.projection == "first" else "third angle"
    pen.text(angle, left + 16 - glyphs.width(angle, 2.5) / 2, bottom + 5, 2.5)


#: Widths of the columns of the revision block, mm, and the height of a row.
_REVISION = (12.0, 108.0, 28.0, 32.0)
_ROW = 6.0


def revision_rect(document: SheetDocument, size: str) -> tuple[float, float, float, float] | None:
    """The revision block: joined to the title block (metric) or in the upper right corner of the frame (inch).

    None where no revision is recorded.
    """
    rows = document.title.revisions
    if not rows:
        return None
    height = _ROW * (len(rows) + 1)
    x0, _, x1, y1 = block_rect(size)
    if document.style == "asme":
        top = frame_rect(size)[3]
        return (x0, top - height, x1, top)
    return (x0, y1, x1, y1 + height)


def _revisions(pen: Pen, document: SheetDocument, size: str) -> None:
    rect = revision_rect(document, size)
    if rect is None:
        return
    x0, y0, x1, y1 = rect
    _rect(pen, x0, y0, x1, y1, 0.7)
    own = [(r.letter, r.change, r.date, r.by) for r in document.title.revisions]
    head = ("Rev.", "Change", "Date", "By")
    # Metric blocks grow upward from the title block, inch ones downward from the corner.
    rows = [head, *own] if document.style == "asme" else [*reversed(own), head]
    for k, row in enumerate(rows):
        top = y1 - k * _ROW
        if k:
            pen.line((x0, top), (x1, top), style="frame", width=0.25)
        x = x0
        for width, text in zip(_REVISION, row, strict=True):
            if x > x0:
                pen.line((x, top), (x, top - _ROW), style="frame", width=0.25)
            told, height = _fitted(text, width - 2.4, 1.8 if row is head else 2.5)
            pen.text(told, x + 1.2, top - _ROW + 1.8, height)
            x += width


def draw_border(page: Page, document: SheetDocument, sheet: SheetPage, look: Look) -> None:
    """Frame, zones and title block of one sheet."""
    pen = Pen(page, "frame", look.narrow)
    _rect(pen, *frame_rect(sheet.size), 0.7)
    _zones(pen, sheet.size)
    _title_block(Pen(page, "title", look.narrow), document, sheet)
    _revisions(Pen(page, "title", look.narrow), document, sheet.size)
