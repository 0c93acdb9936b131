"""Makes the sheet lettering: an open face with our own outlines for the drafting symbols.

Run once when the face changes: ``python -m canonis.core.sheet.lettering.make_font SOURCE.woff2``.
The result, `sheet.ttf` and `sheet.woff2`, is kept in this folder beside the face's licence.
"""

import math
import sys
from pathlib import Path

from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import TTFont

HERE = Path(__file__).parent
STROKE = 74
CAP = 700

Point = tuple[float, float]


def _polygon(pen: TTGlyphPen, points: list[Point]) -> None:
    pen.moveTo(points[0])
    for p in points[1:]:
        pen.lineTo(p)
    pen.closePath()


def _bar(pen: TTGlyphPen, a: Point, b: Point, width: float = STROKE) -> None:
    """A straight stroke between two points, drawn clockwise."""
    dx, dy = b[0] - a[0], b[1] - a[1]
    length = math.hypot(dx, dy)
    nx, ny = -dy / length * width / 2, dx / length * width / 2
    _polygon(pen, [(a[0] + nx, a[1] + ny), (b[0] + nx, b[1] + ny), (b[0] - nx, b[1] - ny), (a[0] - nx, a[1] - ny)])


def _ring(pen: TTGlyphPen, centre: Point, radius: float) -> None:
    for r, turn in ((radius + STROKE / 2, -1), (radius - STROKE / 2, 1)):
        _polygon(
            pen,
            [
                (centre[0] + r * math.cos(turn * k * math.pi / 32), centre[1] + r * math.sin(turn * k * math.pi / 32))
                for k in range(64)
            ],
        )


def _diameter(pen: TTGlyphPen) -> int:
    _ring(pen, (380, CAP / 2), 265)
    _bar(pen, (180, -20), (580, CAP + 20))
    return 760


def _counterbore(pen: TTGlyphPen) -> int:
    _bar(pen, (90, 40), (710, 40))
    _bar(pen, (90, 5), (90, 560))
    _bar(pen, (710, 5), (710, 560))
    return 800


def _countersink(pen: TTGlyphPen) -> int:
    _bar(pen, (70, 620), (395, 60))
    _bar(pen, (730, 620), (405, 60))
    return 800


def _depth(pen: TTGlyphPen) -> int:
    _bar(pen, (90, 660), (610, 660))
    _bar(pen, (350, 660), (350, 200))
    _polygon(pen, [(350, 0), (200, 260), (500, 260)])
    return 700


def _square(pen: TTGlyphPen) -> int:
    for a, b in (((90, 40), (650, 40)), ((90, 620), (650, 620)), ((90, 3), (90, 657)), ((650, 3), (650, 657))):
        _bar(pen, a, b)
    return 740


SYMBOLS = {
    0x2300: ("diameter", _diameter),
    0x2334: ("counterbore", _counterbore),
    0x2335: ("countersink", _countersink),
    0x21A7: ("depth", _depth),
    0x25A1: ("square", _square),
}


def make(source: Path) -> None:
    """Add the symbols to the face in `source` and write both font files."""
    font = TTFont(source)
    order = font.getGlyphOrder()
    for code, (name, draw) in SYMBOLS.items():
        pen = TTGlyphPen(None)
        advance = draw(pen)
        glyph = f"canonis.{name}"
        if glyph not in order:
            font.setGlyphOrder([*font.getGlyphOrder(), glyph])
        font["glyf"].glyphs[glyph] = pen.glyph()
        font["glyf"].glyphs[glyph].recalcBounds(font["glyf"])
        font["hmtx"].metrics[glyph] = (advance, font["glyf"].glyphs[glyph].xMin)
        for table in font["cmap"].tables:
            if table.isUnicode():
                table.cmap[code] = glyph
    font["maxp"].numGlyphs = len(font.getGlyphOrder())
    for record in font["name"].names:
        if record.nameID in (1, 3, 4, 6, 16):
            record.string = "CanonisSheet" if record.nameID == 6 else "Canonis Sheet"
    for table in ("GSUB", "GPOS", "GDEF", "kern"):
        if table in font:
            del font[table]
    font.flavor = None
    font.recalcTimestamp = False
    font.save(HERE / "sheet.ttf")
    font.flavor = "woff2"
    font.save(HERE / "sheet.woff2")


if __name__ == "__main__":
    make(Path(sys.argv[1]))
