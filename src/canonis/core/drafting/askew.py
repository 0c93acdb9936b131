"""Parts that lie askew in their file are drawn square: drafted in a frame of their own, the sheet carried back after.

A sheet names geometry in the axes of the file; turned about the origin, every point and direction that it names turns
along, and every length and level stays as it is.
"""

from typing import Any

import numpy as np

from canonis.core.faults import BadInput
from canonis.core.shape import own_frame
from canonis.core.sheet import SheetDocument
from canonis.core.solid import Reference, Solid, Vec, parse
from canonis.core.tolerances import ALIGNED, runs_along

__all__ = ["carried_back", "square_frame", "squared_references"]


def square_frame(solid: Solid) -> Vec | None:
    """The axes of a part that lies askew (rows, right-handed, each near to an axis of the file); None for one that does
    not."""
    frame = own_frame(solid)
    if runs_along(float(np.abs(frame).max(axis=1).min()), ALIGNED):
        return None
    # Each axis of the file takes the direction that is nearest to it.
    rows: list[Vec] = []
    left = list(frame)
    for k in range(3):
        best = max(range(len(left)), key=lambda n: abs(float(left[n][k])))
        d = left.pop(best)
        rows.append(d if d[k] > 0 else -d)
    made = np.array(rows)
    if float(np.linalg.det(made)) < 0:
        made[1] = -made[1]
    return made


def carried_back(document: SheetDocument, frames: dict[int, Vec]) -> SheetDocument:
    """A sheet of squared solids as a sheet of the solids as they lie in their file; `frames` are by solid."""
    pages = {p.number: frames.get(p.solid) for p in document.pages}
    views = tuple(
        type(v).model_validate(_turned(v.model_dump(), frame)) if (frame := pages[v.sheet]) is not None else v
        for v in document.views
    )
    marks = tuple(
        type(a).model_validate(_turned(a.model_dump(), frame)) if (frame := pages[a.sheet]) is not None else a
        for a in document.annotations
    )
    sheets = tuple(
        p.model_copy(update={"datum": _point(p.datum, frame), "datum_refs": ()})
        if (frame := pages[p.number]) is not None
        else p
        for p in document.pages
    )
    return document.model_copy(update={"views": views, "annotations": marks, "pages": sheets})


def squared_references(refs: tuple[str, ...], frame: Vec) -> tuple[str, ...]:
    """References to a solid as it lies in its file as those to its squared copy."""
    return tuple(_turned(ref, frame.T) for ref in refs)


def _point(p: Any, frame: Vec) -> tuple[float, float, float]:
    x, y, z = (float(c) for c in np.asarray(p, dtype=float) @ frame)
    return (x, y, z)


def _turned(data: Any, frame: Vec, key: str = "") -> Any:
    """Plain data with its points, directions and references turned."""
    if isinstance(data, dict):
        return {k: _turned(v, frame, k) for k, v in data.items()}
    if key in ("origin", "right", "up") and isinstance(data, tuple | list) and len(data) == 3:
        return _point(data, frame)
    if isinstance(data, list | tuple):
        return type(data)(_turned(x, frame, "") for x in data)
    if isinstance(data, str) and ";" in data:
        try:
            parsed = parse(data)
        except BadInput:
            return data
        return str(Reference(parsed.kind, tuple(_point(v, frame) for v in parsed.vectors), parsed.scalars))
    return data
