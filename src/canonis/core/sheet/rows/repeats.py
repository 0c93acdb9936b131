"""The rows of forms that repeat: each member lies as the one that is named, turned or shifted."""

from collections.abc import Iterator

import numpy as np

from canonis.core.shape import Parts, PartShape, Row, Step, added, normal_at, row_through, step_of, turned_onto
from canonis.core.sheet.note_rows import Named, says
from canonis.core.solid import Vec

__all__: list[str] = []

#: Points of a face that say how it lies: three of a flat one, more of a round one.
_POINTS = 8


@says("repeat", on="plane cylinder cone sphere torus free", least=2)
def _repeats(n: Named) -> Iterator[Parts]:
    number, shift = n.mark.says.size("members"), n.mark.says.size("pitch")
    if number is None or number.denominator != 1 or number < 2:
        return
    count, rows = int(number), list[Row]()
    about, *member = n.numbers
    step = step_of(n.shape.solid, about, member[0], count, shift is not None)
    if step is None:
        return
    for f in member:
        face = n.shape.solid.faces[f]
        if step.turn:
            ring = turned_onto(n.shape.solid, face, step, count) or []
            there = [(k, other) for k, pieces in enumerate(ring) for other in pieces]
        else:
            there = list(row_through(n.shape.solid, face, step).items())
        for k, other in there:
            if k:
                rows += _alike(n.shape, about if step.turn else None, f, other, step, k)
    yield {"members": [row for row in rows if row]}


def _alike(shape: PartShape, about: int | None, one: int, other: int, step: Step, times: int) -> Iterator[Row]:
    """That a face moves as one of another member does; both counted from the axis that they stand about, where there is one."""
    for point, normal in _spots(shape, one):
        spot, way = step.points(point, times), step.ways(normal, times)
        mine, theirs = shape.speed(one, point), shape.speed(other, spot)
        if about is not None:
            mine = added(mine, shape.axis_speed(about, point, normal), -1.0)
            theirs = added(theirs, shape.axis_speed(about, spot, way), -1.0)
        yield added(theirs, mine, -1.0)


def _spots(shape: PartShape, face: int) -> list[tuple[Vec, Vec]]:
    """Points of a face with its normals there; of a free form one, and no normal."""
    solid = shape.solid
    edges = [solid.edges[e] for e, _ in solid.neighbours[face]]
    if solid.faces[face].kind == "free":
        return [(edges[0].middle, np.zeros(3))]
    points = [p for e in edges for p in (e.start, e.middle)][:_POINTS]
    return [(p, normal_at(solid.faces[face], p)) for p in points]
