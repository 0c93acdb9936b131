"""A compiled sheet as SVG: true size in mm, the lettering embedded."""

import base64
import math
from weakref import WeakKeyDictionary
from xml.sax.saxutils import escape

import numpy as np

from canonis.core.sheet import (
    FONT_WOFF2,
    LAYERS,
    Page,
    Picture,
    Region,
    Stroke,
    Text,
    dash_pattern,
    layer_of,
    text_layer,
    type_size,
)
from canonis.core.tolerances import NOISE

__all__ = ["picture_url", "region_path", "stroke_path", "write_svg"]


def _n(x: float) -> str:
    text = f"{x:.4f}".rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text


#: Path data of strokes that are still in use, with the height of their sheet: views that stay are written once.
_written: WeakKeyDictionary[Stroke, tuple[float, str]] = WeakKeyDictionary()


def stroke_path(stroke: Stroke, height: float) -> str:
    """SVG path data of a stroke, y down."""
    kept = _written.get(stroke)
    if kept is None or kept[0] != height:
        kept = _written[stroke] = (height, _path(stroke, height))
    return kept[1]


def _path(stroke: Stroke, height: float) -> str:
    if stroke.radius > 0:
        c, r = stroke.points[0], stroke.radius
        sweep = stroke.a1 - stroke.a0
        if sweep > 2 * math.pi - NOISE:
            x, y = float(c[0]), height - float(c[1])
            return (
                f"M{_n(x - r)} {_n(y)}A{_n(r)} {_n(r)} 0 1 0 {_n(x + r)} {_n(y)}"
                f"A{_n(r)} {_n(r)} 0 1 0 {_n(x - r)} {_n(y)}Z"
            )
        p = c + r * np.array([math.cos(stroke.a0), math.sin(stroke.a0)])
        q = c + r * np.array([math.cos(stroke.a1), math.sin(stroke.a1)])
        large = 1 if sweep > math.pi else 0
        return f"M{_n(p[0])} {_n(height - p[1])}A{_n(r)} {_n(r)} 0 {large} 0 {_n(q[0])} {_n(height - q[1])}"
    return "M" + "L".join(f"{_n(p[0])} {_n(height - p[1])}" for p in stroke.points)


def picture_url(picture: Picture) -> str:
    """A picture as a link that carries its data."""
    return "data:image/png;base64," + base64.b64encode(picture.png).decode()


class _Plotter:
    """Writes the elements of a sheet, by layer."""

    def __init__(self, height: float, views: frozenset[str]) -> None:
        self.height, self.views = height, views
        self.parts: dict[str, list[str]] = {key: [] for key in LAYERS}

    def picture(self, picture: Picture) -> None:
        x0, y0, x1, y1 = picture.box
        self.parts["shading"].append(
            f'<image data-owner="{escape(picture.owner)}" x="{_n(x0)}" y="{_n(self.height - y1)}" width="{_n(x1 - x0)}" '
            f'height="{_n(y1 - y0)}" preserveAspectRatio="none" href="{picture_url(picture)}"/>'
        )

    def stroke(self, stroke: Stroke) -> None:
        dash = dash_pattern(stroke.style, stroke.width)
        extra = f' stroke-dasharray="{" ".join(_n(d) for d in dash)}" stroke-linecap="butt"' if dash else ""
        self.parts[layer_of(stroke.style, stroke.owner, self.views)].append(
            f'<path class="{stroke.style}" data-owner="{escape(stroke.owner)}" stroke-width="{_n(stroke.width)}"{extra} '
            f'd="{stroke_path(stroke, self.height)}"/>'
        )

    def region(self, region: Region) -> None:
        self.parts[layer_of("region", region.owner, self.views)].append(
            f'<path class="r" data-owner="{escape(region.owner)}" d="{region_path(region, self.height)}"/>'
        )

    def text(self, text: Text) -> None:
        place = f'x="{_n(text.x)}" y="{_n(self.height - text.y)}"'
        if text.angle:
            place = f'transform="translate({_n(text.x)} {_n(self.height - text.y)}) rotate({_n(-text.angle)})"'
        size = _n(type_size(text.height))
        self.parts[text_layer(text.owner, self.views)].append(
            f'<text data-owner="{escape(text.owner)}" {place} font-size="{size}">{escape(text.text)}</text>'
        )


def region_path(region: Region, height: float) -> str:
    """SVG path data of a filled outline, y down."""
    return "M" + "L".join(f"{_n(p[0])} {_n(height - p[1])}" for p in region.points) + "Z"


def write_svg(page: Page, title: str, views: frozenset[str] = frozenset()) -> str:
    """One sheet as an SVG document in named layers; `views` are the ids of the views."""
    w, h = page.size_mm
    font = base64.b64encode(FONT_WOFF2.read_bytes()).decode()
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{_n(w)}mm" height="{_n(h)}mm" viewBox="0 0 {_n(w)} {_n(h)}">',
        f"<title>{escape(title)}</title>",
        "<style>@font-face{font-family:'Canonis Sheet';src:url(data:font/woff2;base64," + font + ") format('woff2')}"
        "text{font-family:'Canonis Sheet';fill:#000;white-space:pre}"
        "path{fill:none;stroke:#000;stroke-linecap:round;stroke-linejoin:round}path.r{fill:#000;stroke:none}</style>",
        f'<rect width="{_n(w)}" height="{_n(h)}" fill="#fff"/>',
    ]
    plotter = _Plotter(h, views)
    page.plot(plotter)
    for key, name in LAYERS.items():
        if plotter.parts[key]:
            out += [f'<g id="{key}" data-layer="{escape(name)}">', *plotter.parts[key], "</g>"]
    out.append("</svg>")
    return "\n".join(out) + "\n"
