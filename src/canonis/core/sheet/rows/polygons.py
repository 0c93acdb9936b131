"""The rows of regular polygons."""

from collections.abc import Iterator, Sequence
from itertools import pairwise

import numpy as np

from canonis.core.shape import ABOUT_CENTRE_LINE, REGULAR, Parts, PartShape, added, scaled, turned_row, whole_about
from canonis.core.sheet.note_rows import Named, says
from canonis.core.solid import Face, Vec, unit_vector
from canonis.core.tolerances import opposed

__all__: list[str] = []


@says("polygon", on="plane", least=3)
def _polygons(n: Named) -> Iterator[Parts]:
    yield _polygon_rows(n.shape, n.numbers)


def _polygon_rows(shape: PartShape, flats: Sequence[int]) -> Parts:
    """Across the flats of a regular polygon with an even number of sides: every pair as wide, all at equal angles about one
    centre. It stands about the axis of a cylinder that it has in its middle."""
    faces = [shape.solid.faces[f] for f in flats]
    if len(faces) < 4 or len(faces) % 2:
        return {}
    pairs = [(a, b) for k, a in enumerate(faces) for b in faces[k + 1 :] if opposed(a.axis, b.axis)]
    if len(pairs) * 2 != len(faces):
        return {}
    widths = [added(shape.speed(a.index, a.centre), shape.speed(b.index, b.centre)) for a, b in pairs]
    sense = 1.0 if sum(float((a.centre - b.centre) @ a.axis) for a, b in pairs) > 0 else -1.0
    rows: Parts = {"across-flats": [scaled(w, sense) for w in widths]}
    middles = [
        scaled(added(shape.speed(a.index, a.centre), shape.speed(b.index, b.centre), -1.0), 0.5) for a, b in pairs
    ]
    across = np.array([a.axis for a, _ in pairs])
    # The middles of two pairs are those of all others.
    for k in range(2, len(pairs)):
        shares, *_ = np.linalg.lstsq(across[:2].T, across[k], rcond=None)
        row = added(added(middles[k], middles[0], -float(shares[0])), middles[1], -float(shares[1]))
        if row:
            rows["across-flats"].append(row)
    axis = unit_vector(np.cross(across[0], across[1]))
    leans = [turned_row(shape, a.index, axis) for a, _ in pairs]
    rows[REGULAR] = [row for one, other in pairwise(leans) if (row := added(other, one, -1.0))]
    holder = _centre(shape, faces, axis)
    if holder is not None:
        point = holder.origin
        rows[ABOUT_CENTRE_LINE] = [
            row
            for m, n in zip(middles[:2], across[:2], strict=True)
            if (row := added(m, shape.axis_speed(holder.index, point, n), -1.0))
        ]
    return rows


def _centre(shape: PartShape, flats: Sequence[Face], axis: Vec) -> Face | None:
    """A cylinder that stands in the middle of a polygon."""
    return whole_about(shape, np.mean([f.centre for f in flats], axis=0), axis)
