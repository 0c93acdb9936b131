"""Compiled sheets as one PDF: vector, true size, the lettering embedded."""

import io
import math

from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen import canvas

from canonis.core.sheet.glyphs import FONT_TTF, type_size
from canonis.core.sheet.strokes import Drawing, Page, Stroke, dash_pattern

__all__ = ["write_pdf"]

_FACE = "CanonisSheet"


def _stroke(pdf: canvas.Canvas, stroke: Stroke) -> None:
    pdf.setLineWidth(stroke.width * mm)
    dash = dash_pattern(stroke.style, stroke.width)
    pdf.setDash([d * mm for d in dash] if dash else [])
    pdf.setLineCap(0 if dash else 1)
    path = pdf.beginPath()
    if stroke.radius > 0:
        x, y, r = float(stroke.points[0][0]) * mm, float(stroke.points[0][1]) * mm, stroke.radius * mm
        if stroke.a1 - stroke.a0 > 2 * math.pi - 1e-6:
            path.circle(x, y, r)
        else:
            path.arc(x - r, y - r, x + r, y + r, math.degrees(stroke.a0), math.degrees(stroke.a1 - stroke.a0))
    else:
        path.moveTo(float(stroke.points[0][0]) * mm, float(stroke.points[0][1]) * mm)
        for p in stroke.points[1:]:
            path.lineTo(float(p[0]) * mm, float(p[1]) * mm)
    pdf.drawPath(path, stroke=1, fill=0)


def _page(pdf: canvas.Canvas, page: Page) -> None:
    pdf.setPageSize((page.size_mm[0] * mm, page.size_mm[1] * mm))
    pdf.setLineJoin(1)
    for stroke in page.strokes:
        _stroke(pdf, stroke)
    pdf.setDash([])
    for region in page.regions:
        path = pdf.beginPath()
        path.moveTo(float(region.points[0][0]) * mm, float(region.points[0][1]) * mm)
        for p in region.points[1:]:
            path.lineTo(float(p[0]) * mm, float(p[1]) * mm)
        path.close()
        pdf.drawPath(path, stroke=0, fill=1)
    for t in page.texts:
        if not t.text.strip():
            continue
        pdf.setFont(_FACE, type_size(t.height) * mm)
        if t.angle:
            pdf.saveState()
            pdf.translate(t.x * mm, t.y * mm)
            pdf.rotate(t.angle)
            pdf.drawString(0, 0, t.text)
            pdf.restoreState()
        else:
            pdf.drawString(t.x * mm, t.y * mm, t.text)
    pdf.showPage()


def write_pdf(drawing: Drawing) -> bytes:
    """All sheets of a drawing; the same drawing gives the same bytes."""
    if _FACE not in pdfmetrics.getRegisteredFontNames():
        pdfmetrics.registerFont(TTFont(_FACE, str(FONT_TTF)))
    buffer = io.BytesIO()
    pdf = canvas.Canvas(buffer, invariant=1, pageCompression=1)
    pdf.setTitle(drawing.title)
    pdf.setCreator("Canonis")
    for page in drawing.pages:
        _page(pdf, page)
    pdf.save()
    return buffer.getvalue()
