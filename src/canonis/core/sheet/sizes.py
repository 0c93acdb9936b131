"""Sheet sizes, scales, line widths and letter heights of the two drawing styles. All mm."""

import re
from dataclasses import dataclass
from typing import Literal

from canonis.core.faults import BadInput
from canonis.core.tolerances import FINE

__all__ = ["INCH_SIZES", "METRIC_SIZES", "SCALES", "Look", "Style", "look_of", "parse_scale", "scale_text", "size_mm"]

Style = Literal["iso", "asme"]

#: ISO 5457 trimmed sizes, landscape but for A4.
METRIC_SIZES = {
    "A4": (297.0, 210.0),
    "A3": (420.0, 297.0),
    "A2": (594.0, 420.0),
    "A1": (841.0, 594.0),
    "A0": (1189.0, 841.0),
}
#: ASME Y14.1.
INCH_SIZES = {"A": (279.4, 215.9), "B": (431.8, 279.4), "C": (558.8, 431.8), "D": (863.6, 558.8), "E": (1117.6, 863.6)}
#: ISO 5455, largest first; inch practice adds quarters and eighths.
SCALES: dict[str, tuple[tuple[int, int], ...]] = {
    "iso": ((500, 1), (200, 1), (100, 1), (50, 1), (20, 1), (10, 1), (5, 1), (2, 1), (1, 1), (1, 2), (1, 5), (1, 10), (1, 20), (1, 50), (1, 100), (1, 200), (1, 500),
            (1, 1000), (1, 2000), (1, 5000), (1, 10000)),
    "asme": ((500, 1), (200, 1), (100, 1), (50, 1), (20, 1), (10, 1), (8, 1), (5, 1), (4, 1), (2, 1), (1, 1), (1, 2), (1, 4), (1, 5), (1, 8), (1, 10), (1, 20),
             (1, 50), (1, 100), (1, 200), (1, 500),
            (1, 1000), (1, 2000), (1, 5000), (1, 10000)),
}  # fmt: skip


#: The least and the most that a side of a sheet may measure, mm: the title block must find room.
_LEAST, _MOST = (210.0, 148.0), 5000.0
_OWN = re.compile(r"^(\d{2,4}(?:\.\d+)?)\s*[x×]\s*(\d{2,4}(?:\.\d+)?)$")


def size_mm(name: str) -> tuple[float, float]:
    """Width and height of a sheet size: a standard one, one with ` portrait` after it, or an own one such as `500x300`.

    Raises BadInput for an unknown name.
    """
    sizes = METRIC_SIZES | INCH_SIZES
    base, _, turned = name.partition(" ")
    if base in sizes and turned in ("", "portrait"):
        w, h = sizes[base]
        return (h, w) if turned else (w, h)
    own = _OWN.match(name)
    if own is None:
        raise BadInput(
            f"Sheet size “{name}” is not known; use one of {', '.join(sizes)}, “A3 portrait”, an own one like 500x300 in mm, or auto."
        )
    w, h = float(own[1]), float(own[2])
    if w < _LEAST[0] or h < _LEAST[1] or max(w, h) > _MOST:
        raise BadInput(f"A sheet of {w:g} by {h:g} mm is out of reach; take 210 by 148 up to 5000 mm.")
    return w, h


def parse_scale(text: str) -> float:
    """A scale such as ``1:2`` as a factor.

    Raises BadInput when it is not one.
    """
    left, _, right = text.partition(":")
    try:
        factor = float(left) / float(right)
    except (ValueError, ZeroDivisionError):
        raise BadInput(f"Scale “{text}” is not written like 1:2 or 5:1.") from None
    if not FINE <= factor <= 1e4:
        raise BadInput(f"Scale “{text}” is out of reach; use one between 1:1000 and 1000:1.")
    return factor


def scale_text(factor: float) -> str:
    """A factor written as a scale."""
    for n, d in SCALES["iso"] + SCALES["asme"]:
        if abs(n / d - factor) < 1e-9 * factor:
            return f"{n}:{d}"
    return f"{factor:g}:1" if factor >= 1 else f"1:{1 / factor:g}"


@dataclass(frozen=True)
class Look:
    """Line widths, letter heights and spacings of one style on one sheet size, mm."""

    wide: float
    narrow: float
    text: float
    caption: float
    arrow: float
    first_row: float
    next_row: float
    extension_gap: float
    extension_past: float


def look_of(style: Style, size: str) -> Look:
    """Line groups by ISO 128 and ASME Y14.2; letter heights by ISO 3098 and ASME Y14.2."""
    if style == "asme":
        return Look(0.6, 0.3, 3.0, 6.0, 3.0, 10.0, 7.0, 1.5, 3.0)
    # By the area: own sizes and portrait ones as their neighbours.
    w, h = size_mm(size) if size else METRIC_SIZES["A3"]
    big = w * h > 0.9 * 841.0 * 594.0
    return Look(0.7 if big else 0.5, 0.35 if big else 0.25, 3.5, 5.0, 3.5, 10.0, 7.0, 0.0, 2.0)
