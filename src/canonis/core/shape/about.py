"""What stands and turns about an axis of a part."""

import numpy as np

from canonis.core.shape.part import PartShape
from canonis.core.shape.rows import Row
from canonis.core.shape.surfaces import is_full_turn
from canonis.core.solid import Face, Vec
from canonis.core.tolerances import NOTHING, SAME, parallel

__all__ = ["turned_row", "whole_about"]


def turned_row(shape: PartShape, face: int, axis: Vec) -> Row:
    """How a face turns about an axis."""
    row: Row = {}
    for about, unknown in shape.motions[face].turns:
        share = float(about @ axis)
        if abs(share) > NOTHING:
            row[unknown] = row.get(unknown, 0.0) + share
    return row


def whole_about(shape: PartShape, middle: Vec, axis: Vec) -> Face | None:
    """A whole cylinder about an axis through a point."""
    return next(
        (
            f
            for f in shape.solid.faces
            if f.kind == "cylinder"
            and is_full_turn(f)
            and parallel(f.axis, axis)
            and float(np.linalg.norm(np.cross(f.origin - middle, axis))) < SAME
        ),
        None,
    )
