"""The symbol of a surface texture: a tick on the surface, its parameter under the bar, the process above (ISO 21920-1)."""

import math

import numpy as np

from canonis.core.sheet import glyphs
from canonis.core.sheet.document import Leader, Statement
from canonis.core.sheet.pen import Pen
from canonis.core.sheet.sizes import Look
from canonis.core.sheet.symbols.registry import Symbol, draws

__all__: list[str] = []

#: Heights of the short and the long leg in letter heights (ISO 21920-1), and the slope of both.
_SHORT, _LONG, _SLOPE = 1.4, 3.0, math.tan(math.radians(60))

#: Processes that take material off: the tick is closed (ISO 21920-1).
_CUTTING = set(
    [
        "MACHINED",
        "MILLED",
        "TURNED",
        "BORED",
        "REAMED",
        "GROUND",
        "HONED",
        "LAPPED",
        "BROACHED",
        "PLANED",
        "SHAPED",
        "SCRAPED",
        "SAWN",
    ]
)


def _texts(mark: Statement) -> tuple[str, str]:
    """What stands above and under the bar."""
    process = mark.says.part("process")
    above = (process.designation or "") if process else ""
    kept = tuple(p for p in mark.says.parts if p.name not in ("process", "side", "removal", "no-removal"))
    bare = mark.says.changed(parts=kept, count=1)
    return above, " ".join(mark.saying(bare).lines)


def _count(mark: Statement) -> str:
    return f"{mark.says.count}×" if mark.says.count > 1 else ""


def _size(mark: Statement, look: Look) -> tuple[float, float, float]:
    h = look.text
    lead = glyphs.width(_count(mark), h) + (h if _count(mark) else 0.0)
    bar = max(glyphs.width(t, h) for t in _texts(mark)) + h
    above = _LONG * h + (1.5 * h if _texts(mark)[0] else 0.0)
    return lead + (_SHORT + _LONG) * h / _SLOPE + bar, above, 0.0


def _draw(pen: Pen, at: tuple[float, float], mark: Statement, look: Look) -> None:
    h = look.text
    count = _count(mark)
    x = at[0]
    if count:
        pen.text(count, x, at[1] + 0.3 * h, h)
        x += glyphs.width(count, h) + h
    foot = np.array([x + _SHORT * h / _SLOPE, at[1]])
    short = foot + np.array([-_SHORT * h / _SLOPE, _SHORT * h])
    level = foot + np.array([_SHORT * h / _SLOPE, _SHORT * h])
    long = foot + np.array([_LONG * h / _SLOPE, _LONG * h])
    above, under = _texts(mark)
    end = long + np.array([max(glyphs.width(above, h), glyphs.width(under, h)) + h, 0.0])
    pen.line(short, foot, long, end)
    # The line of the leader runs on to the foot.
    right = not isinstance(mark, Leader) or mark.right
    pen.line((at[0], at[1]) if right else (end[0], at[1]), foot)
    if not mark.says.part("no-removal") and (mark.says.part("removal") or set(above.split()) & _CUTTING):
        pen.line(short, level)
    if mark.says.part("no-removal"):
        # A circle in the notch: it touches both legs and the level of the short one.
        radius = _SHORT * h / 3
        pen.arc(foot + np.array([0.0, 2 * radius]), radius)
    pen.text(under, long[0] + 0.3 * h, long[1] - 1.4 * h, h)
    if above:
        pen.text(above, long[0] + 0.3 * h, long[1] + 0.4 * h, h)


draws("surface-texture", Symbol(_size, _draw))
