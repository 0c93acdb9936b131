"""The rows of drafted faces."""

from collections.abc import Iterator, Sequence

import numpy as np

from canonis.core.shape import Parts, PartShape, Row, added, turned_row
from canonis.core.sheet.note_rows import Named, says
from canonis.core.solid import unit_vector
from canonis.core.tolerances import NOTHING

__all__: list[str] = []


@says("draft", on="plane cone", least=2)
def _drafts(n: Named) -> Iterator[Parts]:
    base, *faces = n.numbers
    yield _draft_rows(n.shape, base, faces)


def _draft_rows(shape: PartShape, base: int, faces: Sequence[int]) -> Parts:
    """How far flat faces and cones lean on the direction that a base plane is square to."""
    pull = shape.solid.faces[base].axis
    rows: list[Row] = []
    for f in faces:
        face = shape.solid.faces[f]
        half = shape.motions[f].half_angle
        if half is not None:
            rows.append({half: 1.0})
            continue
        about = np.cross(pull, face.axis)
        if float(np.linalg.norm(about)) < NOTHING:
            continue
        axis = unit_vector(about)
        row = added(turned_row(shape, f, axis), turned_row(shape, base, axis), -1.0)
        if row:
            rows.append(row)
    return {"angle": rows}
