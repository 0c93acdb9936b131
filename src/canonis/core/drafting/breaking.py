"""Breaks of long parts: where a part goes on the same for long, its views are shortened (ISO 128-3)."""

import numpy as np

from canonis.core.sheet import Break, Parallel, Section, SheetDocument, View, frame_of_view
from canonis.core.sheet.views import Place
from canonis.core.solid import Solid, Vec, edge_points
from canonis.core.tolerances import parallel, runs_across, runs_along

__all__ = ["empty_stretch", "with_break", "with_breaks"]

#: So many times longer than wide a part is broken unasked.
LONG = 8.0
#: What a break leaves of the empty stretch on either side, by the part's width.
KEPT = 0.7


def _busy(solid: Solid, way: Vec) -> list[tuple[float, float]]:
    """Where along a direction the part changes its section: intervals, mm."""
    out = []
    for rim in solid.edges:
        at = edge_points(solid, rim.index, 9) @ way
        if rim.kind == "line" and parallel(rim.axis, way):
            out += [(float(at[0]), float(at[0])), (float(at[-1]), float(at[-1]))]
        else:
            out.append((float(at.min()), float(at.max())))
    for face in solid.faces:
        slant = abs(float(face.axis @ way)) if face.kind in ("plane", "cylinder") else 0.5
        along = runs_across(slant) if face.kind == "plane" else runs_along(slant)
        if not along and not (face.kind == "plane" and runs_along(slant)):
            points = np.vstack([edge_points(solid, e, 9) for e in face.edges]) if face.edges else face.centre[None]
            out.append((float((points @ way).min()), float((points @ way).max())))
    return out


def empty_stretch(solid: Solid, way: Vec) -> tuple[float, float] | None:
    """The longest stretch along a direction in which a part goes on the same, less what is left on either side, mm.

    None where there is none worth a break.
    """
    corners = np.array(np.meshgrid(*zip(*solid.box, strict=True))).reshape(3, -1).T
    ends = corners @ way
    length = float(ends.max() - ends.min())
    across = [d for d in np.eye(3) if abs(float(d @ way)) < 0.5]
    width = max(float(solid.size @ np.abs(d)) for d in across) if across else 0.0
    low, best = float(ends.min()), (0.0, 0.0)
    for a, b in sorted(_busy(solid, way)):
        if a - low > best[1] - best[0]:
            best = (low, a)
        low = max(low, b)
    keep = max(KEPT * width, 0.06 * length)
    a, b = best[0] + keep, best[1] - keep
    return (round(a, 4), round(b, 4)) if b - a > 0.3 * length else None


def with_break(view: View, stretch: tuple[float, float], way: Vec) -> View:
    """A view without a stretch (levels along `way`, mm in the file's axes); one that does not show it in length stays."""
    frame = frame_of_view(view)
    for along, own in (("x", frame.right), ("y", frame.up)):
        if isinstance(view, Parallel | Section) and parallel(own, way):
            sense = 1.0 if float(own @ way) > 0 else -1.0
            base = float(np.array(view.origin) @ own)
            low, high = sorted(round(sense * s - base, 4) for s in stretch)
            made = Break(along="x" if along == "x" else "y", low=Place(offset=low), high=Place(offset=high))
            return view.model_copy(update={"breaks": (made,)})
    return view


def with_breaks(document: SheetDocument, sheet: int, solid: Solid) -> SheetDocument:
    """The document with the views of a long part shortened; other parts stay as they are."""
    size = np.sort(solid.size)
    if size[2] < LONG * size[1]:
        return document
    way = np.eye(3)[int(np.argmax(solid.size))]
    stretch = empty_stretch(solid, way)
    if stretch is None:
        return document
    views = tuple(with_break(v, stretch, way) if v.sheet == sheet else v for v in document.views)
    return document.model_copy(update={"views": views})
