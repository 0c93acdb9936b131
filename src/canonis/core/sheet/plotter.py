"""Plotters: whoever takes in a compiled page stroke by stroke, be it a file, the screen, or only its bounds.

A page is compiled once and plotted as often as it is wanted. Everything is in paper mm, y up.
"""

from collections.abc import Callable

import numpy as np

from canonis.core.sheet.layers import LAYERS, layer_of, text_layer
from canonis.core.sheet.strokes import Picture, Plotter, Region, Stroke, Text
from canonis.core.solid import Vec

__all__ = ["Bounds", "Layered"]


class Bounds:
    """How far lines and texts reach; arrowheads end on lines, and arcs count by their centres."""

    def __init__(self) -> None:
        self._points: list[Vec] = []

    def picture(self, picture: Picture) -> None:
        """A picture is as large as its box."""
        x0, y0, x1, y1 = picture.box
        self._points.append(np.array([[x0, y0], [x1, y1]]))

    def stroke(self, stroke: Stroke) -> None:
        """A line reaches to its points."""
        self._points.append(stroke.points)

    def region(self, region: Region) -> None:
        """Nothing: it stands at the end of a line."""

    def text(self, text: Text) -> None:
        """A text reaches as far as its ink."""
        self._points.append(text.corners())

    @property
    def box(self) -> tuple[float, float, float, float] | None:
        """Left, lower, right and upper end, mm; None where nothing was plotted."""
        if not self._points:
            return None
        (x0, y0), (x1, y1) = np.vstack(self._points).min(axis=0), np.vstack(self._points).max(axis=0)
        return float(x0), float(y0), float(x1), float(y1)


class Layered:
    """Sorts a page by its named layers, to be plotted one by one; `views` are the ids of the views."""

    def __init__(self, views: frozenset[str]) -> None:
        self.views = views
        self._held: dict[str, list[Callable[[Plotter], None]]] = {key: [] for key in LAYERS}

    def picture(self, picture: Picture) -> None:
        """Shading."""
        self._held["shading"].append(lambda plotter: plotter.picture(picture))

    def stroke(self, stroke: Stroke) -> None:
        """By its line style and what owns it."""
        self._held[layer_of(stroke.style, stroke.owner, self.views)].append(lambda plotter: plotter.stroke(stroke))

    def region(self, region: Region) -> None:
        """By what owns it."""
        self._held[layer_of("region", region.owner, self.views)].append(lambda plotter: plotter.region(region))

    def text(self, text: Text) -> None:
        """By what owns it."""
        self._held[text_layer(text.owner, self.views)].append(lambda plotter: plotter.text(text))

    def plot(self, layer: str, plotter: Plotter) -> None:
        """Hand what stands on one layer to a plotter."""
        for hand in self._held[layer]:
            hand(plotter)
