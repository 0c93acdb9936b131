"""Linear dimensions and ordinate rows as strokes (ISO 129-1; ASME Y14.5 in inch style)."""

import numpy as np

from canonis.core.sheet import glyphs
from canonis.core.sheet.document import Linear, Ordinate
from canonis.core.sheet.pen import FRAME_AIR, Pen
from canonis.core.sheet.scene import Scene
from canonis.core.sheet.sizes import Look
from canonis.core.sheet.views import View
from canonis.core.solid import Vec
from canonis.core.tolerances import NOISE, NOTHING

__all__ = ["TEXT_GAP", "draw_linear", "draw_ordinate", "figure_width", "row_level"]

#: Clear distance between a dimension line and its text, mm.
TEXT_GAP = 0.9


def figure_width(mark: Linear | Ordinate, look: Look) -> float:
    """Width of the text of a dimension, with its frame where it has one, mm."""
    return glyphs.width(mark.figures[0], look.text) + (2 * FRAME_AIR * look.text if mark.framed else 0.0)


def row_level(box: tuple[float, float, float, float], side: str, row: float) -> float:
    """Paper level of a dimension row at distance `row` from a view's outline."""
    x0, y0, x1, y1 = box
    return {"above": y1 + row, "below": y0 - row, "left": x0 - row, "right": x1 + row}[side]


def _point(direction: str, along: float, across: float) -> Vec:
    return np.array([along, across]) if direction == "x" else np.array([across, along])


def _extension(pen: Pen, look: Look, foot: Vec, end: Vec, past: float) -> None:
    d = end - foot
    length = float(np.linalg.norm(d))
    if length < NOISE:
        return
    d = d / length
    start = foot + d * min(look.extension_gap, length * 0.5)
    pen.line(start, end + d * past)


def draw_linear(pen: Pen, scene: Scene, view: View, mark: Linear, look: Look, aligned: bool) -> bool:
    """Draw a linear dimension; False when a reference is lost and nothing can be drawn."""
    anchors = [scene.anchor(view, r) for r in mark.ends]
    if len(anchors) < 2 or any(a is None or a.level(mark.direction) is None for a in anchors):
        return False
    box = scene.box(view)
    across = row_level(box, mark.side, mark.row)
    k = 0 if mark.direction == "x" else 1
    feet = []
    for anchor in anchors:
        assert anchor is not None
        level = anchor.level(mark.direction)
        assert level is not None
        feet.append(scene.foot(view, mark.direction, level, mark.side, anchor))
    feet.sort(key=lambda f: float(f[k]))
    lo, hi = float(feet[0][k]), float(feet[1][k])
    for foot, level in zip(feet, (lo, hi), strict=True):
        _extension(pen, look, foot, _point(mark.direction, level, across), look.extension_past)
    a, b = _point(mark.direction, lo, across), _point(mark.direction, hi, across)
    unit = _point(mark.direction, 1.0, 0.0)
    text = mark.figures[0]
    air = FRAME_AIR * look.text if mark.framed else 0.0
    width = glyphs.width(text, look.text)
    upright = not aligned
    needed = (width if (mark.direction == "x" or not upright) else look.text) + 2 * air
    room = hi - lo
    inside = room > needed + 2 * look.arrow + 2
    arrows_in = room > 2 * look.arrow + 2
    middle = (lo + hi) / 2 + mark.along
    if not inside and abs(mark.along) < NOTHING:
        middle = hi + look.arrow + 2.5 + needed / 2
    outside = middle + needed / 2 > hi + NOISE or middle - needed / 2 < lo - NOISE
    broken = upright and not outside
    if broken:
        gap = needed / 2 + 1.0
        pen.line(a, _point(mark.direction, middle - gap, across))
        pen.line(_point(mark.direction, middle + gap, across), b)
    else:
        pen.line(a, b)
    for end, sign in ((a, -1.0), (b, 1.0)):
        pen.arrow(end, unit * sign if arrows_in else -unit * sign, look.arrow)
        if not arrows_in:
            pen.line(end, end + unit * sign * (look.arrow + 2))
    if outside:
        # The line runs on under the text, so that both stay together.
        far = middle + needed / 2 if middle > hi else middle - needed / 2
        at = b if middle > hi else a
        pen.line(
            at, _point(mark.direction, far if aligned else (far - needed if middle > hi else far + needed), across)
        )
    if mark.direction == "x":
        y = across + TEXT_GAP + air if aligned else across - look.text / 2
        pen.figure(text, middle - width / 2, y, look.text, framed=mark.framed)
    elif aligned:
        pen.figure(text, across - TEXT_GAP - air, middle - width / 2, look.text, 90.0, mark.framed)
    else:
        pen.figure(text, across - width / 2, middle - look.text / 2, look.text, framed=mark.framed)
    return True


def draw_ordinate(pen: Pen, scene: Scene, view: View, mark: Ordinate, look: Look) -> bool:
    """Draw one value of an ordinate row; False when its reference is lost."""
    anchor = scene.anchor(view, mark.refs[-1])
    level = None if anchor is None else anchor.level(mark.direction)
    if anchor is None or level is None:
        return False
    k = 0 if mark.direction == "x" else 1
    foot = scene.foot(view, mark.direction, level, mark.side, anchor)
    across = row_level(scene.box(view), mark.side, mark.row)
    outward = 1.0 if mark.side in ("above", "right") else -1.0
    at = float(foot[k])
    end = _point(mark.direction, at + mark.along, across)
    if anchor.x is not None and anchor.y is not None:
        # From a centre the line starts at the end of the centre mark, not across the hole.
        foot = foot + _point(mark.direction, 0.0, outward * (anchor.radius * view.scale + 2.5))
        if (float(_across(mark.direction, foot)) - across) * outward > 0:
            foot = _point(mark.direction, at, across - outward * 6.5)
    if abs(mark.along) < NOISE:
        _extension(pen, look, foot, end, 0.0)
    else:
        knee = _point(mark.direction, at, across - outward * 6.0)
        settle = _point(mark.direction, at + mark.along, across - outward * 1.5)
        _extension(pen, look, foot, knee, 0.0)
        pen.line(knee, settle, end)
    text = mark.figures[0]
    width = glyphs.width(text, look.text)
    off = 1.2 + (FRAME_AIR * look.text if mark.framed else 0.0)
    if mark.direction == "x":
        y = across - off - width if outward < 0 else across + off
        pen.figure(text, at + mark.along + look.text / 2, y, look.text, 90.0, mark.framed)
    else:
        x = across - off - width if outward < 0 else across + off
        pen.figure(text, x, at + mark.along - look.text / 2, look.text, framed=mark.framed)
    return True


def _across(direction: str, point: Vec) -> float:
    return float(point[1] if direction == "x" else point[0])
