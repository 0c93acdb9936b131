"""Compiled sheets as one PDF: vector, true size, the lettering embedded."""

import io
import math

import pypdfium2
from pypdf import PdfWriter
from pypdf.generic import ArrayObject, DictionaryObject, NameObject, TextStringObject
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen import canvas

from canonis.core.faults import BadInput
from canonis.core.sheet import (
    FONT_TTF,
    LAYERS,
    Drawing,
    Layered,
    Page,
    Picture,
    Region,
    Stroke,
    Text,
    dash_pattern,
    type_size,
)
from canonis.core.solid import Vec
from canonis.core.tolerances import NOISE

__all__ = ["write_pdf", "write_png"]

_FACE = "CanonisSheet"


class _Plotter:
    """Writes on a page of a PDF."""

    def __init__(self, pdf: canvas.Canvas) -> None:
        self.pdf = pdf

    def picture(self, picture: Picture) -> None:
        x0, y0, x1, y1 = (c * mm for c in picture.box)
        self.pdf.drawImage(ImageReader(io.BytesIO(picture.png)), x0, y0, x1 - x0, y1 - y0, mask="auto")

    def stroke(self, stroke: Stroke) -> None:
        _stroke(self.pdf, stroke)

    def region(self, region: Region) -> None:
        _region(self.pdf, region.points)

    def text(self, text: Text) -> None:
        _text(self.pdf, text)


def _stroke(pdf: canvas.Canvas, stroke: Stroke) -> None:
    pdf.setLineWidth(stroke.width * mm)
    dash = dash_pattern(stroke.style, stroke.width)
    pdf.setDash([d * mm for d in dash] if dash else [])
    pdf.setLineCap(0 if dash else 1)
    path = pdf.beginPath()
    if stroke.radius > 0:
        x, y, r = float(stroke.points[0][0]) * mm, float(stroke.points[0][1]) * mm, stroke.radius * mm
        if stroke.a1 - stroke.a0 > 2 * math.pi - NOISE:
            path.circle(x, y, r)
        else:
            path.arc(x - r, y - r, x + r, y + r, math.degrees(stroke.a0), math.degrees(stroke.a1 - stroke.a0))
    else:
        path.moveTo(float(stroke.points[0][0]) * mm, float(stroke.points[0][1]) * mm)
        for p in stroke.points[1:]:
            path.lineTo(float(p[0]) * mm, float(p[1]) * mm)
    pdf.drawPath(path, stroke=1, fill=0)


def _region(pdf: canvas.Canvas, points: Vec) -> None:
    path = pdf.beginPath()
    path.moveTo(float(points[0][0]) * mm, float(points[0][1]) * mm)
    for p in points[1:]:
        path.lineTo(float(p[0]) * mm, float(p[1]) * mm)
    path.close()
    pdf.drawPath(path, stroke=0, fill=1)


def _text(pdf: canvas.Canvas, t: Text) -> None:
    pdf.setFont(_FACE, type_size(t.height) * mm)
    if t.angle:
        pdf.saveState()
        pdf.translate(t.x * mm, t.y * mm)
        pdf.rotate(t.angle)
        pdf.drawString(0, 0, t.text)
        pdf.restoreState()
    else:
        pdf.drawString(t.x * mm, t.y * mm, t.text)


def _page(pdf: canvas.Canvas, page: Page, views: frozenset[str], total: int) -> None:
    pdf.setPageSize((page.size_mm[0] * mm, page.size_mm[1] * mm))
    pdf.setLineJoin(1)
    pdf.bookmarkPage(f"sheet-{page.number}")
    pdf.addOutlineEntry(f"Sheet {page.number}/{total}", f"sheet-{page.number}", 0)
    layers, plotter = Layered(views), _Plotter(pdf)
    page.plot(layers)
    for key in LAYERS:
        # Each layer is marked content of its own optional group.
        pdf._code.append(f"/OC /{key} BDC")
        layers.plot(key, plotter)
        pdf._code.append("EMC")
    pdf.showPage()


def write_pdf(drawing: Drawing) -> bytes:
    """All sheets of a drawing, in layers, with a bookmark a sheet; the same drawing gives the same bytes."""
    if _FACE not in pdfmetrics.getRegisteredFontNames():
        pdfmetrics.registerFont(TTFont(_FACE, str(FONT_TTF)))
    buffer = io.BytesIO()
    pdf = canvas.Canvas(buffer, invariant=1, pageCompression=1)
    pdf.setTitle(drawing.title)
    pdf.setCreator("Canonis")
    pdf.setSubject(f"Drawing {drawing.number}, revision {drawing.revision}" if drawing.number else "Drawing")
    for page in drawing.pages:
        _page(pdf, page, drawing.views, len(drawing.pages))
    pdf.save()
    return _with_layers(buffer.getvalue())


def _with_layers(data: bytes) -> bytes:
    """The file with the groups that its marked content names, all of them shown."""
    writer = PdfWriter(clone_from=io.BytesIO(data))
    # Groups of content came with this version.
    writer.pdf_header = "%PDF-1.5"
    groups = {
        key: writer._add_object(
            DictionaryObject({NameObject("/Type"): NameObject("/OCG"), NameObject("/Name"): TextStringObject(name)})
        )
        for key, name in LAYERS.items()
    }
    for page in writer.pages:
        resources = page["/Resources"].get_object()
        resources[NameObject("/Properties")] = DictionaryObject({NameObject(f"/{k}"): g for k, g in groups.items()})  # type: ignore[index]
    order = ArrayObject(groups.values())
    shown = DictionaryObject(
        {NameObject("/Order"): order, NameObject("/ON"): order, NameObject("/Name"): TextStringObject("Layers")}
    )
    writer.root_object[NameObject("/OCProperties")] = DictionaryObject(
        {NameObject("/OCGs"): order, NameObject("/D"): shown}
    )
    out = io.BytesIO()
    writer.write(out)
    return out.getvalue()


def write_png(data: bytes, sheet: int, dpi: float) -> bytes:
    """A sheet (counted from 1) of a PDF as a picture at a resolution, dots an inch.

    Raises BadInput for a resolution that gives a picture too small or too large.
    """
    if not 20 <= dpi <= 1200:
        raise BadInput("A picture is made at 20 to 1200 dots an inch.")
    document = pypdfium2.PdfDocument(data)
    page = document[sheet - 1]
    if page.get_width() * page.get_height() * (dpi / 72) ** 2 > 400e6:
        raise BadInput(f"At {dpi:g} dots an inch that sheet is too large a picture; take a smaller resolution.")
    picture = page.render(scale=dpi / 72).to_pil()
    out = io.BytesIO()
    picture.save(out, "PNG", dpi=(dpi, dpi))
    return out.getvalue()
