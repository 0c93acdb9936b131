"""The rows of forms that repeat all around: each member lies as the one that is named, turned."""

import math
from collections.abc import Iterator

import numpy as np

from canonis.core.shape import Parts, PartShape, Row, added, normal_at, orbit, turned_points
from canonis.core.sheet.note_rows import Named, says
from canonis.core.solid import Vec

__all__: list[str] = []

#: Points of a face that say how it lies: three of a flat one, more of a round one.
_POINTS = 8


@says("repeat", on="plane cylinder cone sphere torus free", least=2)
def _repeats(n: Named) -> Iterator[Parts]:
    number = n.mark.says.size("members")
    about, *member = n.numbers
    face = n.shape.solid.faces[about]
    if number is None or number.denominator != 1 or number < 2 or face.kind != "cylinder":
        return
    count, rows = int(number), list[Row]()
    for f in member:
        there = orbit(n.shape.solid, n.shape.solid.faces[f], face.origin, face.axis, count)
        for k, other in enumerate(there or ()):
            if k:
                rows += _alike(n.shape, about, f, other, math.tau * k / count)
    yield {"members": [row for row in rows if row]}


def _alike(shape: PartShape, about: int, one: int, other: int, turn: float) -> Iterator[Row]:
    """That a face moves as one of another member does, both counted from their axis."""
    axis = shape.solid.faces[about]
    for point, normal in _spots(shape, one):
        spot = turned_points(point, axis.origin, axis.axis, turn)
        way = turned_points(normal, np.zeros(3), axis.axis, turn)
        mine = added(shape.speed(one, point), shape.axis_speed(about, point, normal), -1.0)
        theirs = added(shape.speed(other, spot), shape.axis_speed(about, spot, way), -1.0)
        yield added(theirs, mine, -1.0)


def _spots(shape: PartShape, face: int) -> list[tuple[Vec, Vec]]:
    """Points of a face with its normals there; of a free form one, and no normal."""
    solid = shape.solid
    edges = [solid.edges[e] for e, _ in solid.neighbours[face]]
    if solid.faces[face].kind == "free":
        return [(edges[0].middle, np.zeros(3))]
    points = [p for e in edges for p in (e.start, e.middle)][:_POINTS]
    return [(p, normal_at(solid.faces[face], p)) for p in points]
