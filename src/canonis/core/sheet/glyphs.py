"""Real metrics of the sheet lettering, so that screen, PDF and collision checks agree."""

from functools import lru_cache
from pathlib import Path

from fontTools.ttLib import TTFont

__all__ = ["FONT_TTF", "FONT_WOFF2", "ink", "printable", "width"]

FONT_TTF = Path(__file__).parent / "lettering" / "sheet.ttf"
FONT_WOFF2 = Path(__file__).parent / "lettering" / "sheet.woff2"
#: Units per em and cap height of the face: a letter height h is set at the type size h / 0.7.
_EM, _CAP = 1000.0, 700.0


@lru_cache(maxsize=1)
def _face() -> tuple[dict[int, tuple[float, float, float, float, float]], set[int]]:
    font = TTFont(FONT_TTF)
    cmap, glyf, hmtx = font.getBestCmap(), font["glyf"], font["hmtx"]
    table = {}
    for code, name in cmap.items():
        g = glyf[name]
        box = (g.xMin, g.yMin, g.xMax, g.yMax) if g.numberOfContours else (0, 0, 0, 0)
        table[code] = (hmtx[name][0], *box)
    return table, set(cmap)


def type_size(height: float) -> float:
    """The type size (mm per em) that gives capitals of `height` mm."""
    return height * _EM / _CAP


def printable(text: str) -> str:
    """`text` with letters the face does not have shown as a question mark."""
    known = _face()[1]
    return "".join(c if ord(c) in known else "?" for c in text)


@lru_cache(maxsize=8192)
def width(text: str, height: float) -> float:
    """Advance width of a line of text set at letter height `height`, mm."""
    table = _face()[0]
    return sum(table.get(ord(c), table[63])[0] for c in text) * height / _CAP


@lru_cache(maxsize=8192)
def ink(text: str, height: float) -> tuple[float, float, float, float]:
    """Tight ink box (x0, y0, x1, y1) of a line of text from its baseline origin, mm."""
    table = _face()[0]
    x, box = 0.0, [1e9, 1e9, -1e9, -1e9]
    for c in text:
        advance, x0, y0, x1, y1 = table.get(ord(c), table[63])
        if x1 > x0:
            box = [min(box[0], x + x0), min(box[1], y0), max(box[2], x + x1), max(box[3], y1)]
        x += advance
    if box[0] > box[2]:
        return (0.0, 0.0, 0.0, 0.0)
    k = height / _CAP
    return (box[0] * k, box[1] * k, box[2] * k, box[3] * k)
