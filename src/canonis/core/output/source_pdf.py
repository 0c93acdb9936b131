"""The list of characteristics, and prints with their flags, as PDF."""

import io
from collections.abc import Mapping
from typing import Any

from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen import canvas

from canonis.core.callout import tolerance_words
from canonis.core.sheet import FONT_TTF, glyphs, type_size
from canonis.core.source import Specification

__all__ = ["flag_print", "write_list"]

_FACE = "CanonisSheet"
_WIDE, _HIGH, _EDGE = 297.0, 210.0, 12.0
#: Columns: name, left edge and width in mm.
_COLUMNS = (
    ("No.", 12.0, 12.0),
    ("Where", 24.0, 42.0),
    ("As written", 66.0, 84.0),
    ("Meaning", 150.0, 82.0),
    ("Tolerance", 232.0, 28.0),
    ("Ticked", 260.0, 25.0),
)


def _font() -> None:
    if _FACE not in pdfmetrics.getRegisteredFontNames():
        pdfmetrics.registerFont(TTFont(_FACE, str(FONT_TTF)))


def _folded(text: str, room: float, height: float) -> list[str]:
    """A text in lines that fit a column."""
    lines, line = [], ""
    for word in text.split():
        trial = f"{line} {word}".strip()
        if line and glyphs.width(trial, height) > room:
            lines.append(line)
            line = word
        else:
            line = trial
    while glyphs.width(line, height) > room and len(line) > 4:
        cut = max(4, int(len(line) * room / glyphs.width(line, height)) - 1)
        lines.append(line[:cut])
        line = line[cut:]
    return [*lines, line]


def _rows(spec: Specification, ticks: Mapping[str, str]) -> list[tuple[str, ...]]:
    rows: list[tuple[str, ...]] = []
    for c in spec.characteristics:
        meaning = f"NOT READ: {c.error.message}" if c.error else c.words
        if c.provenance != "read":
            meaning += f" · {c.provenance}" + (f" ({c.working})" if c.working else "")
        rows.append(
            (c.number, c.where, c.text, meaning, tolerance_words(c.main, spec.rules.unit), ticks.get(c.number, ""))
        )
    return rows


class _Lists:
    """Pages of a table, a new one whenever the room is used up."""

    def __init__(self, pdf: canvas.Canvas, title: str) -> None:
        self.pdf, self.title, self.page, self.y = pdf, title, 0, 0.0

    def text(self, x: float, y: float, text: str, height: float) -> None:
        self.pdf.setFont(_FACE, type_size(height) * mm)
        self.pdf.drawString(x * mm, y * mm, text)

    def start(self) -> None:
        if self.page:
            self.pdf.showPage()
        self.page += 1
        self.pdf.setPageSize((_WIDE * mm, _HIGH * mm))
        self.text(_EDGE, _HIGH - 16, self.title, 4.0)
        self.text(_WIDE - 40, _HIGH - 16, f"page {self.page}", 2.5)
        self.pdf.setLineWidth(0.35 * mm)
        self.pdf.line(_EDGE * mm, (_HIGH - 19) * mm, (_WIDE - _EDGE) * mm, (_HIGH - 19) * mm)
        for name, x, _ in _COLUMNS:
            self.text(x, _HIGH - 24, name, 2.2)
        self.y = _HIGH - 27

    def row(self, cells: tuple[str, ...]) -> None:
        folded = [_folded(t, w - 3, 2.5) for t, (_, _, w) in zip(cells, _COLUMNS, strict=True)]
        deep = 4.2 * max(len(f) for f in folded) + 1.6
        if not self.page or self.y - deep < _EDGE + 6:
            self.start()
        for lines, (_, x, _) in zip(folded, _COLUMNS, strict=True):
            for k, line in enumerate(lines):
                self.text(x, self.y - 4.2 * (k + 1) + 0.8, line, 2.5)
        self.y -= deep
        self.pdf.setLineWidth(0.12 * mm)
        self.pdf.line(_EDGE * mm, self.y * mm, (_WIDE - _EDGE) * mm, self.y * mm)


def write_list(spec: Specification, ticks: Mapping[str, str] | None = None) -> bytes:
    """The characteristics as a printable table, with what the source doctor found and, by number, who ticked a line; the
    same source and ticks, the same bytes."""
    _font()
    buffer = io.BytesIO()
    pdf = canvas.Canvas(buffer, invariant=1, pageCompression=1)
    title = " ".join(str(spec.header.get(k, "")) for k in ("number", "title")).strip() or "Source"
    pdf.setTitle(f"{title}: source")
    pdf.setCreator("Canonis")
    out = _Lists(pdf, f"{title}: what the source says, in {spec.rules.unit}")
    for row in _rows(spec, ticks or {}) or [("", "", "no lines yet", "", "", "")]:
        out.row(row)
    for found in spec.findings:
        out.row(("!", found.subject, found.rule, found.message, found.severity, ""))
    counted = len(ticks or {})
    if spec.characteristics:
        out.row(("", "", f"{counted} of {len(spec.characteristics)} lines ticked by a person", "", "", ""))
    out.row(
        (
            "",
            "",
            "",
            "Compared, not certified: to be checked by a qualified person under the codes that apply locally.",
            "",
            "",
        )
    )
    pdf.save()
    return buffer.getvalue()


def _balloons(pdf: canvas.Canvas, width: float, height: float, turn: int, flags: list[dict[str, Any]]) -> None:
    """Numbered rings on a page of `width` × `height` points as stored; upright for a page shown turned."""
    size = max(9.0, min(width, height) / 62)
    for flag in flags:
        x, y = float(flag["x"]) * width, (1 - float(flag["y"])) * height
        number = str(flag["number"])[:6]
        pdf.saveState()
        pdf.translate(x, y)
        pdf.rotate(-turn)
        pdf.setLineWidth(size / 10)
        pdf.setStrokeColorRGB(0.05, 0.36, 0.39)
        pdf.setFillColorRGB(1, 1, 0.99)
        reach = size * max(0.95, 0.42 * len(number) + 0.4)
        pdf.roundRect(-reach, -size * 0.95, 2 * reach, size * 1.9, size * 0.9, stroke=1, fill=1)
        pdf.setFillColorRGB(0.13, 0.15, 0.17)
        pdf.setFont(_FACE, size)
        pdf.drawCentredString(0, -size * 0.35, number)
        pdf.restoreState()


def flag_print(data: bytes, kind: str, pages: list[dict[str, Any]], flags: list[dict[str, Any]]) -> bytes:
    """A print with its numbered flags, as PDF; each page turned as it is shown."""
    from pypdf import PdfReader, PdfWriter

    _font()
    own = [[f for f in flags if f["page"] == k] for k in range(1, len(pages) + 1)]
    if kind != "pdf":
        from PIL import Image
        from reportlab.lib.utils import ImageReader

        page = pages[0]
        scale = 842.0 / max(page["width"], page["height"])
        width, height = page["width"] * scale, page["height"] * scale
        buffer = io.BytesIO()
        pdf = canvas.Canvas(buffer, invariant=1, pagesize=(width, height))
        with Image.open(io.BytesIO(data)) as picture:
            pdf.drawImage(ImageReader(picture.convert("RGB")), 0, 0, width, height)
        _balloons(pdf, width, height, page["turn"], own[0])
        pdf.showPage()
        pdf.save()
        data = buffer.getvalue()
    writer = PdfWriter()
    for k, page in enumerate(PdfReader(io.BytesIO(data)).pages):
        made = writer.add_page(page)
        if kind == "pdf":
            made.transfer_rotation_to_content()
            box = made.cropbox
            layer = io.BytesIO()
            pdf = canvas.Canvas(layer, invariant=1, pagesize=(float(box.width), float(box.height)))
            _balloons(pdf, float(box.width), float(box.height), pages[k]["turn"], own[k])
            pdf.showPage()
            pdf.save()
            over = PdfReader(io.BytesIO(layer.getvalue())).pages[0]
            made.merge_translated_page(over, float(box.left), float(box.bottom))
        if pages[k]["turn"]:
            made.rotate(pages[k]["turn"])
    buffer = io.BytesIO()
    writer.write(buffer)
    return buffer.getvalue()
