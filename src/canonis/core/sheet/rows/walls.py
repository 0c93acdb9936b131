"""The rows of walls."""

from collections.abc import Iterator

import numpy as np

from canonis.core.shape import Parts, PartShape, added, turned_row
from canonis.core.sheet.note_rows import Named, says
from canonis.core.tolerances import NOTHING

__all__: list[str] = []


@says("wall", on="plane", least=2)
def _walls(n: Named) -> Iterator[Parts]:
    # A long face may back several others: it is named once for each.
    for one, other in zip(n.mark.refs[::2], n.mark.refs[1::2], strict=False):
        pair = [f for r in (one, other) if n.found[r].status != "ambiguous" for f in n.found[r].faces[:1]]
        if len(pair) == 2:
            yield _wall_rows(n.shape, *pair)


def _wall_rows(shape: PartShape, a: int, b: int) -> Parts:
    """The thickness between two flat faces that look away from each other, and that they are parallel."""
    one, other = shape.solid.faces[a], shape.solid.faces[b]
    rows = [added(shape.speed(a, one.centre), shape.speed(b, other.centre))]
    mine, theirs = shape.motions[a].turns, shape.motions[b].turns
    if [k for _, k in mine] != [k for _, k in theirs] or any(
        float(np.abs(u - v).max()) > NOTHING for (u, _), (v, _) in zip(mine, theirs, strict=True)
    ):
        rows += [row for u in shape.frame if (row := added(turned_row(shape, a, u), turned_row(shape, b, u), -1.0))]
    return {"thickness": [row for row in rows if row]}
