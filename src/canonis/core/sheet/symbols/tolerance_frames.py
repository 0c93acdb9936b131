"""The frame of a geometrical tolerance: a row of compartments with the sign, the zone and the datums (ISO 1101, ISO 7083)."""

import math
import re

import numpy as np

from canonis.core.callout import Pen as Writing
from canonis.core.callout import compartments, tolerance_of
from canonis.core.sheet import glyphs
from canonis.core.sheet.document import Statement
from canonis.core.sheet.pen import Pen
from canonis.core.sheet.sizes import Look
from canonis.core.sheet.symbols.registry import Symbol, draws
from canonis.core.solid import Vec

__all__: list[str] = []

#: Height of a frame and the space beside its texts, in letter heights (ISO 7083).
_HIGH, _ASIDE = 2.0, 0.5
#: Radius of the ring round a modifier, in letter heights.
_RING = 0.72


def _cells(mark: Statement) -> list[str]:
    """What stands in the compartments after the sign: signs of the standard, whatever the notation of notes."""
    return compartments(mark.says, Writing(mark.unit, sheet=True))


def _pieces(cell: str) -> list[str]:
    """Words of a compartment, and its modifiers each by itself."""
    return [t for t in re.split(r"\s*(\([A-Z]\))\s*", cell) if t]


def _width(cell: str, h: float) -> float:
    inside = sum(2 * _RING * h if t.startswith("(") else glyphs.width(t, h) for t in _pieces(cell))
    return inside + 0.3 * h * (len(_pieces(cell)) - 1) + 2 * _ASIDE * h


def _count(mark: Statement) -> str:
    return f"{mark.says.count}×" if mark.says.count > 1 else ""


def _size(mark: Statement, look: Look) -> tuple[float, float, float]:
    h = look.text
    row = _HIGH * h + sum(max(_width(c, h), _HIGH * h) for c in _cells(mark))
    above = _HIGH * h / 2 + (1.5 * h if _count(mark) else 0.0)
    return row, above, _HIGH * h / 2


def _draw(pen: Pen, at: tuple[float, float], mark: Statement, look: Look) -> None:
    h = look.text
    low, high = at[1] - _HIGH * h / 2, at[1] + _HIGH * h / 2
    x = at[0]
    _sign(pen, np.array([x + _HIGH * h / 2, at[1]]), tolerance_of(mark.says).name, h)
    edges = [x, x + _HIGH * h]
    for cell in _cells(mark):
        width = max(_width(cell, h), _HIGH * h)
        _cell(pen, edges[-1] + (width - _width(cell, h)) / 2 + _ASIDE * h, at[1], cell, h)
        edges.append(edges[-1] + width)
    pen.line((edges[0], low), (edges[-1], low), (edges[-1], high), (edges[0], high), (edges[0], low))
    for edge in edges[1:-1]:
        pen.line((edge, low), (edge, high))
    if _count(mark):
        pen.text(_count(mark), x, high + 0.4 * h, h)


def _cell(pen: Pen, x: float, y: float, cell: str, h: float) -> None:
    for piece in _pieces(cell):
        if piece.startswith("("):
            letter = piece.strip("()")
            pen.arc(np.array([x + _RING * h, y]), _RING * h)
            small = 0.8 * h
            pen.text(letter, x + _RING * h - glyphs.width(letter, small) / 2, y - small / 2, small)
            x += 2 * _RING * h
        else:
            pen.text(piece, x, y - h / 2, h)
            x += glyphs.width(piece, h)
        x += 0.3 * h


def _sign(pen: Pen, c: Vec, name: str, h: float) -> None:
    """The sign of a characteristic in the middle of its compartment (ISO 1101)."""

    def at(x: float, y: float) -> Vec:
        return c + np.array([x, y]) * h

    if name == "straightness":
        pen.line(at(-0.7, 0), at(0.7, 0))
    elif name == "flatness":
        pen.line(at(-0.7, -0.35), at(0.35, -0.35), at(0.7, 0.35), at(-0.35, 0.35), at(-0.7, -0.35))
    elif name == "roundness":
        pen.arc(c, 0.5 * h)
    elif name == "cylindricity":
        pen.arc(c, 0.4 * h)
        for side in (-1.0, 1.0):
            pen.line(at(side * 0.4 - 0.35, -0.6), at(side * 0.4 + 0.35, 0.6))
    elif name in ("line profile", "surface profile"):
        pen.arc(at(0, -0.3), 0.6 * h, 0.0, math.pi)
        if name == "surface profile":
            pen.line(at(-0.6, -0.3), at(0.6, -0.3))
    elif name == "parallelism":
        for side in (-0.2, 0.2):
            pen.line(at(side - 0.25, -0.6), at(side + 0.25, 0.6))
    elif name == "perpendicularity":
        pen.line(at(-0.65, -0.5), at(0.65, -0.5))
        pen.line(at(0, -0.5), at(0, 0.6))
    elif name == "angularity":
        pen.line(at(0.65, 0.5), at(-0.65, -0.45), at(0.65, -0.45))
    elif name == "position":
        pen.arc(c, 0.45 * h)
        pen.line(at(-0.75, 0), at(0.75, 0))
        pen.line(at(0, -0.75), at(0, 0.75))
    elif name == "coaxiality":
        pen.arc(c, 0.3 * h)
        pen.arc(c, 0.6 * h)
    elif name == "symmetry":
        for y, half in ((0.35, 0.35), (0.0, 0.7), (-0.35, 0.35)):
            pen.line(at(-half, y), at(half, y))
    else:
        for foot in (-0.45, 0.15) if name == "total runout" else (-0.3,):
            tip = at(foot + 0.6, 0.6)
            pen.line(at(foot, -0.5), tip)
            pen.arrow(tip, tip - at(foot, -0.5), 0.6 * h)
        if name == "total runout":
            pen.line(at(-0.45, -0.5), at(0.15, -0.5))


draws("tolerance-frame", Symbol(_size, _draw))
