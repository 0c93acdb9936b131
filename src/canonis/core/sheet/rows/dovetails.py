"""The rows of dovetails."""

from collections.abc import Iterator, Sequence

import numpy as np

from canonis.core.shape import Parts, PartShape, Row, added, scaled, turned_row
from canonis.core.sheet.note_rows import Named, says
from canonis.core.solid import unit_vector

__all__: list[str] = []


@says("dovetail", on="plane", least=4)
def _dovetails(n: Named) -> Iterator[Parts]:
    # Two may stand on one face: it is named with each.
    faces = [f for r in n.mark.refs if n.found[r].status != "ambiguous" for f in n.found[r].faces[:1]]
    for k in range(0, len(faces) - 3, 4):
        yield _dovetail_rows(n.shape, faces[k : k + 4])


def _dovetail_rows(shape: PartShape, faces: Sequence[int]) -> Parts:
    """Width of a dovetail at its narrow end, how far both walls lean on the wide face, and how far apart both ends are; faces in the
    order wide, walls, narrow."""
    wide, *walls, narrow = (shape.solid.faces[f] for f in faces)
    up = wide.axis
    level = shape.speed(narrow.index, narrow.centre)
    rise = scaled(level, float(np.sign(narrow.axis @ up)))
    ends: list[Row] = []
    leans: list[Row] = []
    for wall in walls:
        flat = wall.axis - up * float(wall.axis @ up)
        across = unit_vector(flat)
        lean = float(wall.axis @ across)
        # Where the plane of the wall meets that of the narrow end moves with both.
        spot = wall.centre + across * ((wall.offset - float(wall.axis @ wall.centre)) / lean)
        spot = spot + (up - across * float(wall.axis @ up) / lean) * float((narrow.centre - spot) @ up)
        moved = added(shape.speed(wall.index, spot), rise, -float(wall.axis @ up))
        ends.append(scaled(moved, 1.0 / lean))
        axis = unit_vector(np.cross(up, wall.axis))
        leans.append(added(turned_row(shape, wall.index, axis), turned_row(shape, wide.index, axis), -1.0))
    apart = added(rise, shape.speed(wide.index, wide.centre), -1.0)
    sense = 1.0 if float((narrow.centre - wide.centre) @ up) > 0 else -1.0
    height = [scaled(apart, sense)]
    # Both walls look at each other in a slot, away from each other on a tongue.
    return {
        "width": [scaled(added(ends[0], ends[1]), -sense)],
        "angle": [r for r in leans if r],
        "depth": height,
        "height": height,
    }
