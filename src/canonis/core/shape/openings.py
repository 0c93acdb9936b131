"""Mouths of holes that run askew: where an axis meets the face that a hole opens to."""

from collections.abc import Iterator

import numpy as np

from canonis.core.shape.part import PartShape
from canonis.core.shape.rows import Row, added
from canonis.core.shape.surfaces import axis_meets, normal_at
from canonis.core.solid import Face, Solid, Vec, unit_vector
from canonis.core.tolerances import SAME, parallel, same_way

__all__ = ["mouth_of", "mouth_row", "mouths"]


def _of_hole(solid: Solid, face: Face, bore: Face) -> bool:
    """Whether an inner face turns about the axis of a bore, or is a seat or a floor across it."""
    if face.kind not in ("plane", "cylinder", "cone", "torus") or not parallel(face.axis, bore.axis):
        return False
    if face.kind == "plane":
        # A wall of the hole stands on it, though the seat may be open at its high side.
        return any(
            solid.edges[e].dihedral != "convex"
            and solid.faces[o].kind != "plane"
            and _of_hole(solid, solid.faces[o], bore)
            for e, o in solid.neighbours[face.index]
        )
    return face.inner and float(np.linalg.norm(np.cross(face.origin - bore.origin, bore.axis))) < SAME


def mouths(solid: Solid, bore: int) -> Iterator[tuple[int, Vec, Vec]]:
    """The faces that a bore (the index of one of its walls) opens to, behind its seats: each with the point where the axis
    meets its surface, mm, and the normal out of the material there."""
    wall = solid.faces[bore]
    middle = wall.origin + wall.axis * (wall.span[0] + wall.span[1]) / 2
    waiting, seen = [bore], {bore}
    while waiting:
        for _, k in solid.neighbours[waiting.pop()]:
            if k in seen:
                continue
            seen.add(k)
            face = solid.faces[k]
            if _of_hole(solid, face, wall):
                waiting.append(k)
                continue
            ends = [e for e, o in solid.neighbours[k] if o in seen]
            near = float(np.mean([(solid.edges[e].middle - middle) @ wall.axis for e in ends]))
            places = axis_meets(face, middle, wall.axis)
            if places:
                point = middle + wall.axis * min(places, key=lambda x: abs(x - near))
                yield k, point, normal_at(face, point)


def mouth_of(solid: Solid, bore: int, way: Vec) -> tuple[int, Vec] | None:
    """The face whose normal where the axis of a bore meets it is `way`, and that point; None where there is none."""
    found = [(k, point) for k, point, normal in mouths(solid, bore) if same_way(normal, way)]
    wall = solid.faces[bore]
    return min(found, key=lambda m: abs(float((m[1] - wall.centre) @ wall.axis)), default=None)


def mouth_row(shape: PartShape, bore: int, way: Vec, d: Vec) -> Row | None:
    """How the level along unit `d` moves of the point where the axis of a bore meets the face of normal `way`; None where
    that is free or there is no such face."""
    found = mouth_of(shape.solid, bore, way)
    if found is None or shape.motions[found[0]].free is not None:
        return None
    face, point = found
    axis = shape.solid.faces[bore].axis
    one = unit_vector(np.cross(axis, np.eye(3)[int(np.argmin(np.abs(axis)))]))
    two = np.cross(axis, one)
    # The point moves across the axis as the axis does, and along the normal of the face as the face does.
    shares = np.linalg.solve(np.array([one, two, way]).T, d)
    row: Row = {}
    for u, share in ((one, shares[0]), (two, shares[1])):
        row = added(row, shape.axis_speed(bore, point, u), float(share))
    return added(row, shape.speed(face, point), float(shares[2]))
