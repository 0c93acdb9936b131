"""The rows of slots along an arc."""

from collections.abc import Iterator, Sequence

import numpy as np

from canonis.core.shape import ON_CENTRE_LINE, Parts, PartShape, Row, added, slot_rows, whole_about
from canonis.core.sheet.note_rows import Named, says
from canonis.core.solid import Vec
from canonis.core.tolerances import NOISE

__all__: list[str] = []


@says("arc-slot", on="cylinder", least=4, seen=True)
def _arc_slots(n: Named) -> Iterator[Parts]:
    """Start and end of each slot in turn, then the outer and the inner wall, which slots of a ring share."""
    view = n.document.view(n.mark.view or "")
    *ends, outer, inner = n.numbers
    toward = np.cross(np.array(view.right), np.array(view.up))
    for k in range(0, len(ends) - 1, 2):
        yield _arc_slot_rows(n.shape, ends[k : k + 2], (outer, inner), toward)


def _arc_slot_rows(shape: PartShape, ends: Sequence[int], walls: Sequence[int], toward: Vec) -> Parts:
    """Width at both ends, radius of the middle line, sweep, start, and depth of a slot along an arc; angles run
    anticlockwise for somebody who looks against `toward`."""
    solid, wall = shape.solid, walls[0]
    hub = solid.faces[wall]
    rows: Parts = {"width": [{r: 2.0} for f in ends if (r := shape.motions[f].radius) is not None], "radius": []}
    turns: list[Row] = []
    for f in ends:
        end = solid.faces[f]
        spoke = end.origin - hub.origin
        spoke = spoke - hub.axis * float(spoke @ hub.axis)
        size = float(np.linalg.norm(spoke))
        if size < NOISE:
            return {}
        spoke = spoke / size
        for rows_of, d in ((rows["radius"], spoke), (turns, np.cross(toward, spoke) / size)):
            rows_of.append(added(shape.axis_speed(f, end.origin, d), shape.axis_speed(wall, hub.origin, d), -1.0))
    outer, inner = (shape.motions[w].radius for w in walls)
    if outer is not None and inner is not None:
        rows["width"].append({outer: 1.0, inner: -1.0})
    # Both walls run about one centre, and about that of a round face on the same axis, as they are drawn.
    across = [u for u, _ in shape.motions[wall].axes]
    inside = solid.faces[walls[1]]
    for d in across:
        own = shape.axis_speed(wall, hub.origin, d)
        rows["radius"].append(added(shape.axis_speed(walls[1], inside.origin, d), own, -1.0))
    holder = whole_about(shape, hub.origin, hub.axis)
    if holder is not None:
        rows[ON_CENTRE_LINE] = [
            added(shape.axis_speed(holder.index, holder.origin, d), shape.axis_speed(wall, hub.origin, d), -1.0)
            for d in across
        ]
    rows["start-angle"] = turns[:1]
    rows["angle"] = [added(turns[1], turns[0], -1.0)]
    if depth := slot_rows(shape, (ends[0], ends[1])).get("depth"):
        rows["depth"] = depth
    return rows
