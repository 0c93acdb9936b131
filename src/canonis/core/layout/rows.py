"""Rows of dimensions: who stands in which row, and values pushed apart along a row."""

import numpy as np

from canonis.core.sheet import (
    TEXT_GAP,
    Annotation,
    Bounds,
    Linear,
    Look,
    Ordinate,
    Page,
    Pen,
    Scene,
    View,
    draw_on_parent,
    figure_width,
)
from canonis.core.tolerances import NOISE, same

__all__ = ["ORDINATE_ROW", "margins", "place_rows", "push_apart"]

#: Distance of an ordinate row from the outline, mm: room for a jog of the extension lines.
ORDINATE_ROW = 13.0
#: Distance of a row from the letter of a cutting line, with room for the text on it, mm.
CLEAR = 6.0
#: Room between texts that stand upright side by side, mm.
_BETWEEN = 2.5


def push_apart(levels: list[float], pitch: float) -> list[float]:
    """Positions nearest to `levels` (ascending) with neighbours at least `pitch` apart, order kept.

    The least-squares answer: isotonic regression of the levels less their ranks times the pitch.
    """
    blocks: list[tuple[float, int]] = []
    for k, level in enumerate(levels):
        mean, size = level - k * pitch, 1
        while blocks and blocks[-1][0] > mean:
            other, n = blocks.pop()
            mean, size = (mean * size + other * n) / (size + n), size + n
        blocks.append((mean, size))
    flat = [mean for mean, size in blocks for _ in range(size)]
    return [x + k * pitch for k, x in enumerate(flat)]


def _level(scene: Scene, view: View, mark: Ordinate) -> float | None:
    anchor = scene.anchor(view, mark.refs[-1])
    level = None if anchor is None else anchor.level(mark.direction)
    if level is None:
        return None
    point = np.array([[level, level]])
    return float(scene.paper(view, point)[0][0 if mark.direction == "x" else 1])


def _place_ordinates(scene: Scene, view: View, marks: list[Ordinate], look: Look) -> list[Annotation]:
    levels = [(_level(scene, view, m), m) for m in marks]
    known = sorted(((x, m) for x, m in levels if x is not None), key=lambda p: (p[0], p[1].id))
    placed = push_apart([x for x, _ in known], look.text * 1.45)
    out: list[Annotation] = [m for x, m in levels if x is None]
    for (level, mark), at in zip(known, placed, strict=True):
        shift = at - level
        out.append(mark.model_copy(update={"along": 0.0 if abs(shift) < 0.02 else round(shift, 4)}))
    return out


def _length(scene: Scene, view: View, mark: Linear) -> float:
    anchors = [scene.anchor(view, r) for r in mark.ends]
    levels = [a.level(mark.direction) for a in anchors if a is not None]
    known = [x for x in levels if x is not None]
    return abs(known[1] - known[0]) if len(known) == 2 else 0.0


def _span(scene: Scene, view: View, mark: Linear) -> tuple[float, float]:
    """From where to where a dimension line runs, on paper along its direction, mm."""
    k = 0 if mark.direction == "x" else 1
    found = [a.level(mark.direction) for r in mark.ends if (a := scene.anchor(view, r)) is not None]
    ends = sorted(float(scene.paper(view, np.array([[x, x]]))[0][k]) for x in found if x is not None)
    return (ends[0], ends[-1]) if len(ends) == 2 else (0.0, 0.0)


def _apart(span: tuple[float, float], others: list[tuple[float, float]]) -> bool:
    """Whether a stretch overlaps none of the others; it may touch them."""
    return all(span[1] <= a + NOISE or span[0] >= b - NOISE for a, b in others)


def _reach(scene: Scene, view: View, look: Look) -> dict[str, float]:
    """How far cutting lines, viewing arrows and their letters stand out beyond the outline of a view, side by side, mm."""
    return scene.kept(("reach", look), view, lambda: _reached(scene, view, look))


def _reached(scene: Scene, view: View, look: Look) -> dict[str, float]:
    out = {"above": 0.0, "below": 0.0, "left": 0.0, "right": 0.0}
    children = [v for v in scene.document.views if v.parent == view.id and v.sheet == view.sheet]
    if not children:
        return out
    page = Page(view.sheet, "", (0.0, 0.0))
    for child in children:
        draw_on_parent(Pen(page, child.id, look.narrow), scene, child, look)
    bounds = Bounds()
    page.plot(bounds)
    if bounds.box is None:
        return out
    px0, py0, px1, py1 = bounds.box
    x0, y0, x1, y1 = scene.box(view)
    return {
        "above": max(0.0, py1 - y1),
        "below": max(0.0, y0 - py0),
        "left": max(0.0, x0 - px0),
        "right": max(0.0, px1 - x1),
    }


def place_rows(scene: Scene, look: Look) -> dict[str, Annotation]:
    """Placements of all linear dimensions and ordinates, by id; rows set by hand keep their row."""
    out: dict[str, Annotation] = {}
    for view in scene.document.views:
        mine = [a for a in scene.document.annotations if a.view == view.id]
        reach = _reach(scene, view, look)
        for side in ("above", "below", "left", "right"):
            # Clear of the letters of cutting lines.
            clear = reach[side] + CLEAR if reach[side] > look.first_row - CLEAR else 0.0
            ordinates = [
                a.model_copy(update={"row": max(a.row, clear)})
                for a in mine
                if isinstance(a, Ordinate) and a.side == side
            ]
            for mark in _place_ordinates(scene, view, ordinates, look):
                out[mark.id] = mark
            linears = [a for a in mine if isinstance(a, Linear) and a.side == side]
            deep = _depth(ordinates, look) if ordinates else 0.0
            # Shorter ones inside, longer ones outside, so that dimension lines are not crossed.
            row = max(look.first_row, clear, deep + look.next_row if ordinates else 0.0)
            taken = sorted(a.row for a in linears if a.by_hand)
            lanes: list[tuple[float, list[tuple[float, float]]]] = []
            last: tuple[float, float] | None = None
            for linear in sorted(linears, key=lambda a: (_length(scene, view, a), a.id)):
                if linear.by_hand:
                    out[linear.id] = linear
                    continue
                # Beside another in its row where both have room for arrows and text: the links of a chain stand in line.
                span = _span(scene, view, linear)
                roomy = span[1] - span[0] > figure_width(linear, look) + 2.5 * look.arrow
                lane = next((k for k, (_, spans) in enumerate(lanes) if roomy and _apart(span, spans)), None)
                if lane is not None:
                    lanes[lane][1].append(span)
                    out[linear.id] = linear.model_copy(update={"row": lanes[lane][0], "along": 0.0})
                    continue
                half = _half_upright(scene, linear, look)
                if last is not None:
                    row = max(row, last[0] + last[1] + half + _BETWEEN)
                while any(abs(row - t) < look.next_row - 0.5 for t in taken):
                    row += look.next_row
                last = (row, half) if half else None
                out[linear.id] = linear.model_copy(update={"row": row, "along": 0.0})
                if roomy:
                    lanes.append((row, [span]))
                row += look.next_row
            placed = [a for a in (out[x.id] for x in linears) if isinstance(a, Linear)]
            out |= {a.id: a for a in _clear_texts(scene, view, placed, look)}
    return out


def _half_upright(scene: Scene, mark: Linear, look: Look) -> float:
    """Half the width of a text that stands upright on its vertical dimension line; 0 where texts run along their lines."""
    if scene.document.style == "iso" or mark.direction == "x":
        return 0.0
    return figure_width(mark, look) / 2


def _clear_texts(scene: Scene, view: View, placed: list[Linear], look: Look) -> list[Linear]:
    """The dimensions of one side with their texts beside the extension lines of those further out."""
    spans = {a.id: _span(scene, view, a) for a in placed}
    made = []
    for mark in placed:
        low, high = spans[mark.id]
        lines = [x for other in placed if other.row > mark.row + 0.5 for x in spans[other.id]]
        if mark.by_hand or not lines:
            made.append(mark)
            continue
        upright = scene.document.style != "iso" and mark.direction == "y"
        half = (look.text if upright else figure_width(mark, look)) / 2
        middle = (low + high) / 2
        inside = high - low > 2 * half + 2 * look.arrow + 2
        start = middle if inside else high + look.arrow + 2.5 + half
        room = (high - low) / 2 - half - 1.0 if inside else 0.0
        ways = [0.0, *(s * k * 0.5 for k in range(1, 41) for s in (1.0, -1.0))]
        spots = [start + w for w in ways if not inside or abs(w) <= room]
        if not inside:
            # Short ones have their text outside, further out on either side.
            spots = [start + k * 0.5 for k in range(24)] + [2 * middle - start - k * 0.5 for k in range(24)]
        free = next((x for x in spots if all(abs(line - x) > half + 0.6 for line in lines)), None)
        if free is not None and not same(free, start, NOISE):
            mark = mark.model_copy(update={"along": round(free - middle, 3)})
        made.append(mark)
    return made


def _depth(ordinates: list[Ordinate], look: Look) -> float:
    return max((a.row + 1.5 + figure_width(a, look) for a in ordinates), default=0.0)


def margins(scene: Scene, view: View, look: Look) -> dict[str, float]:
    """Room that the rows of a view need on each side of its outline, mm."""
    out = {side: max(3.0, far + 1.5) for side, far in _reach(scene, view, look).items()}
    for mark in scene.document.annotations:
        if mark.view != view.id:
            continue
        if isinstance(mark, Ordinate):
            out[mark.side] = max(out[mark.side], _depth([mark], look) + 1.5)
        elif isinstance(mark, Linear):
            half = _half_upright(scene, mark, look)
            out[mark.side] = max(out[mark.side], mark.row + max(look.text + TEXT_GAP, half) + 2.0)
    if view.label:
        out["below"] = max(out["below"], 6.0 + look.text)
    return out
