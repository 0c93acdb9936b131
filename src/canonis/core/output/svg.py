"""A compiled sheet as SVG: true size in mm, the lettering embedded."""

import base64
import math
from weakref import WeakKeyDictionary
from xml.sax.saxutils import escape

import numpy as np

from canonis.core.sheet import FONT_WOFF2, LAYERS, Page, Picture, Stroke, dash_pattern, layer_of, text_layer, type_size
from canonis.core.tolerances import NOISE

__all__ = ["picture_url", "stroke_path", "write_svg"]


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
    parts: dict[str, list[str]] = {key: [] for key in LAYERS}
    for picture in page.pictures:
        x0, y0, x1, y1 = picture.box
        parts["shading"].append(
            f'<image data-owner="{escape(picture.owner)}" x="{_n(x0)}" y="{_n(h - y1)}" width="{_n(x1 - x0)}" height="{_n(y1 - y0)}" '
            f'preserveAspectRatio="none" href="{picture_url(picture)}"/>'
        )
    for s in page.strokes:
        dash = dash_pattern(s.style, s.width)
        extra = f' stroke-dasharray="{" ".join(_n(d) for d in dash)}" stroke-linecap="butt"' if dash else ""
        parts[layer_of(s.style, s.owner, views)].append(
            f'<path class="{s.style}" data-owner="{escape(s.owner)}" stroke-width="{_n(s.width)}"{extra} '
            f'd="{stroke_path(s, h)}"/>'
        )
    for r in page.regions:
        d = "M" + "L".join(f"{_n(p[0])} {_n(h - p[1])}" for p in r.points) + "Z"
        parts[layer_of("region", r.owner, views)].append(f'<path class="r" data-owner="{escape(r.owner)}" d="{d}"/>')
    for t in page.texts:
        if not t.text.strip():
            continue
        place = f'x="{_n(t.x)}" y="{_n(h - t.y)}"'
        if t.angle:
            place = f'transform="translate({_n(t.x)} {_n(h - t.y)}) rotate({_n(-t.angle)})"'
        size = _n(type_size(t.height))
        parts[text_layer(t.owner, views)].append(
            f'<text data-owner="{escape(t.owner)}" {place} font-size="{size}">{escape(t.text)}</text>'
        )
    for key, name in LAYERS.items():
        if parts[key]:
            out += [f'<g id="{key}" data-layer="{escape(name)}">', *parts[key], "</g>"]
    out.append("</svg>")
    return "\n".join(out) + "\n"
