"""What a sheet compiles to: strokes with a line class, filled regions, and placed text. Paper mm, y up."""

import math
from dataclasses import dataclass, field
from typing import Literal, Protocol

import numpy as np

from canonis.core.sheet import glyphs
from canonis.core.solid import Vec

__all__ = ["Drawing", "LineStyle", "Page", "Picture", "Plotter", "Region", "Stroke", "Text", "dash_pattern"]

LineStyle = Literal["visible", "hidden", "smooth", "narrow", "centre", "frame", "mark", "hatch", "cutting"]


@dataclass(frozen=True, eq=False)
class Stroke:
    """One pen stroke: a polyline, or an arc when `radius` > 0 (from a0 anticlockwise to a1, radians)."""

    owner: str
    style: LineStyle
    width: float
    points: Vec
    radius: float = 0.0
    a0: float = 0.0
    a1: float = 0.0

    def polyline(self, deflection: float = 0.01) -> Vec:
        """Points along the stroke, mm on paper."""
        if self.radius <= 0:
            return self.points
        step = 2 * math.acos(max(-1.0, min(1.0, 1 - deflection / max(self.radius, deflection))))
        n = max(4, math.ceil((self.a1 - self.a0) / max(step, 1e-3)) + 1)
        t = np.linspace(self.a0, self.a1, n)
        return np.asarray(self.points[0] + self.radius * np.c_[np.cos(t), np.sin(t)])


@dataclass(frozen=True, eq=False)
class Region:
    """A filled outline (arrowheads, the projection symbol's ground)."""

    owner: str
    points: Vec


@dataclass(frozen=True, eq=False)
class Picture:
    """A PNG on the paper, in a box (x0, y0, x1, y1, mm); it lies under all lines."""

    owner: str
    box: tuple[float, float, float, float]
    png: bytes


@dataclass(frozen=True)
class Text:
    """A line of text: baseline origin, letter height (mm), turn in degrees anticlockwise."""

    owner: str
    text: str
    x: float
    y: float
    height: float
    angle: float = 0.0

    def corners(self) -> Vec:
        """Corners of the tight ink box on paper (4×2, mm)."""
        x0, y0, x1, y1 = glyphs.ink(self.text, self.height)
        a = math.radians(self.angle)
        turn = np.array([[math.cos(a), math.sin(a)], [-math.sin(a), math.cos(a)]])
        return np.asarray(np.array([[x0, y0], [x1, y0], [x1, y1], [x0, y1]]) @ turn + [self.x, self.y])

    def box(self) -> tuple[float, float, float, float]:
        """Axis-aligned box of the ink on paper."""
        c = self.corners()
        return (float(c[:, 0].min()), float(c[:, 1].min()), float(c[:, 0].max()), float(c[:, 1].max()))


class Plotter(Protocol):
    """Takes in what a page holds, in the order in which it is painted; a text without ink never comes."""

    def picture(self, picture: Picture) -> None:
        """A picture under all lines."""

    def stroke(self, stroke: Stroke) -> None:
        """A line or an arc."""

    def region(self, region: Region) -> None:
        """A filled outline."""

    def text(self, text: Text) -> None:
        """A line of text."""


@dataclass(eq=False)
class Page:
    """One compiled sheet."""

    number: int
    size: str
    size_mm: tuple[float, float]
    strokes: list[Stroke] = field(default_factory=list)
    regions: list[Region] = field(default_factory=list)
    texts: list[Text] = field(default_factory=list)
    pictures: list[Picture] = field(default_factory=list)

    @property
    def mark(self) -> tuple[int, int, int, int]:
        """How much the page holds by now, to plot later what came since."""
        return len(self.pictures), len(self.strokes), len(self.regions), len(self.texts)

    def plot(self, plotter: Plotter, since: tuple[int, int, int, int] = (0, 0, 0, 0)) -> None:
        """Hand everything to a plotter in the order in which it is painted; only what came `since` a mark."""
        for picture in self.pictures[since[0] :]:
            plotter.picture(picture)
        for stroke in self.strokes[since[1] :]:
            plotter.stroke(stroke)
        for region in self.regions[since[2] :]:
            plotter.region(region)
        for text in self.texts[since[3] :]:
            if text.text.strip():
                plotter.text(text)


@dataclass(eq=False)
class Drawing:
    """All compiled sheets of one document."""

    title: str
    pages: list[Page]
    #: The ids of the views, and what else the files tell of the drawing.
    views: frozenset[str] = frozenset()
    number: str = ""
    revision: str = ""

    def texts_of(self, owner: str) -> list[Text]:
        """The texts that belong to one statement."""
        return [t for page in self.pages for t in page.texts if t.owner == owner]


def dash_pattern(style: LineStyle, width: float) -> tuple[float, ...]:
    """Dashes and gaps in mm for a line of `width` (ISO 128-2: in units of the line's own width)."""
    if style == "hidden":
        return (12 * width, 3 * width)
    if style in ("centre", "cutting"):
        return (24 * width, 3 * width, 0.5 * width, 3 * width)
    return ()
