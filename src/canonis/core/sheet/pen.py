"""Small building blocks of annotations: arrows, lines, text blocks."""

import math
import re

import numpy as np

from canonis.core.sheet import glyphs
from canonis.core.sheet.strokes import LineStyle, Page, Region, Stroke, Text
from canonis.core.solid import Vec
from canonis.core.tolerances import NOTHING

__all__ = ["FRAME_AIR", "LINE_PITCH", "Pen"]

#: Distance between the baselines of a text block, in letter heights (ISO 3098: about 1.5).
LINE_PITCH = 1.6
#: Space between an exact size and its frame, in letter heights.
FRAME_AIR = 0.3

#: The point in a decimal number: none before it of a number with several, as in a clause.
_DECIMAL = re.compile(r"(?<=\d)(?<!\.\d)\.(?=\d+(?!\.?\d*\.))")


class Pen:
    """Draws on one page on behalf of one owner."""

    def __init__(self, page: Page, owner: str, narrow: float, *, comma: bool = False) -> None:
        """`comma` writes decimals with a comma (ISO 129-1)."""
        self.page, self.owner, self.narrow, self.comma = page, owner, narrow, comma

    def line(self, *points: tuple[float, float] | Vec, style: LineStyle = "narrow", width: float | None = None) -> None:
        """A polyline through points on paper."""
        data = np.array([[float(p[0]), float(p[1])] for p in points])
        if float(np.abs(np.diff(data, axis=0)).max()) > NOTHING:
            self.page.strokes.append(Stroke(self.owner, style, width or self.narrow, data))

    def arc(
        self,
        centre: Vec,
        radius: float,
        a0: float = 0.0,
        a1: float = 2 * math.pi,
        style: LineStyle = "narrow",
        width: float | None = None,
    ) -> None:
        """An arc on paper, radians anticlockwise."""
        point = np.array([[float(centre[0]), float(centre[1])]])
        self.page.strokes.append(Stroke(self.owner, style, width or self.narrow, point, radius, a0, a1))

    def arrow(self, tip: Vec, direction: Vec, size: float) -> None:
        """A filled arrowhead, three times as long as wide, pointing along `direction`."""
        d = np.asarray(direction, dtype=float)
        d = d / np.linalg.norm(d)
        n = np.array([-d[1], d[0]])
        tip = np.asarray(tip, dtype=float)
        back = tip - d * size
        self.page.regions.append(Region(self.owner, np.array([tip, back + n * size / 6, back - n * size / 6])))

    def triangle(self, *corners: Vec) -> None:
        """A filled triangle."""
        self.page.regions.append(Region(self.owner, np.array(corners)))

    def figure(self, text: str, x: float, y: float, height: float, angle: float = 0.0, framed: bool = False) -> None:
        """A line of text from its baseline origin, in a frame where it is an exact size; `angle` is 0 or 90°."""
        self.text(text, x, y, height, angle)
        if framed:
            air, width = FRAME_AIR * height, glyphs.width(text, height)
            corners = [
                (-air, -air),
                (width + air, -air),
                (width + air, height + air),
                (-air, height + air),
                (-air, -air),
            ]
            self.line(*((x + u, y + v) if not angle else (x - v, y + u) for u, v in corners))

    def text(self, text: str, x: float, y: float, height: float, angle: float = 0.0) -> Text:
        """A line of text from its baseline origin."""
        if self.comma:
            text = _DECIMAL.sub(",", text)
        made = Text(self.owner, glyphs.printable(text), float(x), float(y), height, angle)
        self.page.texts.append(made)
        return made
