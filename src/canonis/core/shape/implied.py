"""What the geometry itself says: rows that hold on every sheet of the part, by the kind of reason.

Right angles and parallels are in the frames already (drawing convention). A drawn level (two things at one level, never
said) is the last resort of a proof: kept apart, taken only where it raises the rank, and listed.
"""

import math
from collections import defaultdict
from collections.abc import Collection
from dataclasses import dataclass
from weakref import WeakKeyDictionary

import numpy as np

from canonis.core.shape.part import PartShape, Unknown
from canonis.core.shape.rows import Row, added
from canonis.core.shape.surfaces import normal_at
from canonis.core.solid import Edge, Solid, Vec, unit_vector
from canonis.core.tolerances import JOINED, NOISE, parallel, same_place

__all__ = ["DRILL_POINTS", "Implied", "drawn_levels", "implied_rows", "shape_of"]

#: Included angles of the points of common drills, degrees (118° as ground, 120° as drawn, ISO 6410-1 4.2.4).
DRILL_POINTS = (118.0, 120.0)
#: Normals that differ by less than this meet smoothly.
_SMOOTH = 2e-3


@dataclass(frozen=True)
class Implied:
    """A row that needs no statement: why it holds, and the faces it ties."""

    reason: str
    row: Row
    faces: tuple[int, ...]


_shapes: WeakKeyDictionary[Solid, tuple[PartShape, list[Implied]]] = WeakKeyDictionary()


def shape_of(solid: Solid) -> tuple[PartShape, list[Implied]]:
    """The unknowns of a solid and what its geometry ties together; worked out once."""
    if solid not in _shapes:
        shape = PartShape(solid)
        _shapes[solid] = shape, implied_rows(shape)
    return _shapes[solid]


def implied_rows(shape: PartShape) -> list[Implied]:
    """Everything that the geometry of the part ties together by itself."""
    return [*_tangent(shape), *_corners(shape), *_coaxial(shape), *_drill_points(shape)]


def _samples(edge: Edge) -> list[Vec]:
    """Points of an edge that pin down how its two faces meet along it."""
    if edge.kind == "line":
        return [edge.start, edge.end]
    if edge.kind == "circle" and same_place(edge.start, edge.end, NOISE):
        u = unit_vector(edge.start - edge.centre)
        v = np.cross(edge.axis, u)
        return [edge.centre + edge.radius * (math.cos(t) * u + math.sin(t) * v) for t in (0.0, 2.1, 4.2)]
    return [edge.start, edge.middle, edge.end]


def _tangent(shape: PartShape) -> list[Implied]:
    """Faces that run smoothly into each other move alike where they meet."""
    out = []
    for edge in shape.solid.edges:
        if edge.dihedral != "smooth" or len(edge.faces) != 2 or edge.faces[0] == edge.faces[1]:
            continue
        a, b = edge.faces
        if shape.motions[a].free is not None or shape.motions[b].free is not None:
            continue
        for point in _samples(edge):
            na, nb = normal_at(shape.solid.faces[a], point), normal_at(shape.solid.faces[b], point)
            if float(np.linalg.norm(na - nb)) > _SMOOTH:
                continue
            row = added(shape.speed(a, point), shape.speed(b, point), -1.0)
            if row:
                out.append(Implied("tangent", row, (a, b)))
    return out


def _corners(shape: PartShape) -> list[Implied]:
    """More than three faces through one corner."""
    faces_at: dict[tuple[float, ...], set[int]] = defaultdict(set)
    exact: dict[tuple[float, ...], Vec] = {}
    for edge in shape.solid.edges:
        for point in (edge.start, edge.end):
            key = tuple(np.round(point, 3) + 0.0)
            faces_at[key] |= set(edge.faces)
            exact.setdefault(key, point)
    out = []
    for key, faces in faces_at.items():
        firm = [f for f in sorted(faces) if shape.motions[f].free is None]
        if len(firm) < 4:
            continue
        point = exact[key]
        kept: list[int] = []
        normals: list[Vec] = []
        for face in firm:
            normal = normal_at(shape.solid.faces[face], point)
            if not kept or int(np.linalg.matrix_rank(np.array([*normals, normal]), tol=1e-3)) > len(kept):
                kept.append(face)
                normals.append(normal)
                continue
            fixed = shape.point_speed(kept, point, normal)
            row = None if fixed is None else added(fixed, shape.speed(face, point), -1.0)
            if row:
                out.append(Implied("through one corner", row, (*kept, face)))
    return out


def _coaxial(shape: PartShape) -> list[Implied]:
    """Round faces that meet in a circle stand on one axis."""
    out = []
    for edge in shape.solid.edges:
        if len(edge.faces) != 2 or edge.kind != "circle" or edge.faces[0] == edge.faces[1]:
            continue
        a, b = (shape.solid.faces[f] for f in edge.faces)
        if not all(f.kind in ("cylinder", "cone", "torus") for f in (a, b)):
            continue
        aside = np.cross(a.origin - b.origin, a.axis)
        if float(np.linalg.norm(np.cross(a.axis, b.axis))) > NOISE or float(np.linalg.norm(aside)) > JOINED:
            continue
        u = unit_vector(np.cross(a.axis, np.eye(3)[int(np.argmin(np.abs(a.axis)))]))
        for d in (u, np.cross(a.axis, u)):
            row = added(shape.axis_speed(a.index, edge.centre, d), shape.axis_speed(b.index, edge.centre, d), -1.0)
            if row:
                out.append(Implied("on one axis", row, (a.index, b.index)))
    return out


def _drill_points(shape: PartShape) -> list[Implied]:
    """The conical end that a drill leaves has the angle of drills; any other angle must be said."""
    out = []
    for face in shape.solid.faces:
        half = shape.motions[face.index].half_angle
        if face.kind != "cone" or not face.inner or half is None:
            continue
        closed = abs(face.span[0]) < NOISE or abs(face.span[1]) < NOISE
        step = any(
            shape.solid.edges[e].dihedral == "concave"
            and shape.solid.faces[o].kind == "cylinder"
            and shape.solid.faces[o].inner
            for e, o in shape.solid.neighbours[face.index]
        )
        angle = 2 * math.degrees(face.half_angle)
        if (closed or step) and min(abs(angle - usual) for usual in DRILL_POINTS) < 0.01:
            out.append(Implied("drill point" if closed else "drilled step", {half: 1.0}, (face.index,)))
    return out


def drawn_levels(shape: PartShape, apart: Collection[int] = (), *, axes: bool = False) -> list[Implied]:
    """Things that are drawn at one level without a word: flat faces and axes, by their values; with `axes` only parallel
    axes, which every drafter sets on one centre line.

    Floors keep the depth that a note gives them, rounds the place that tangency gives them: neither is drawn level with
    anything, and nor are faces of `apart` (members of a stated ring).
    """
    along: dict[tuple[float, ...], list[int]] = defaultdict(list)
    for k, unknown in enumerate(shape.unknowns):
        if unknown.kind != "level" or unknown.direction is None or unknown.holder not in ("plane", "axis", "centre"):
            continue
        if unknown.faces & set(apart):
            continue
        along[tuple(np.round(unknown.direction, 9))].append(k)
    out = []
    for mine in along.values():
        mine.sort(key=lambda k: shape.unknowns[k].value)
        for i, k in enumerate(mine):
            one = shape.unknowns[k]
            for m in mine[i + 1 :]:
                other = shape.unknowns[m]
                if other.value - one.value > JOINED:
                    break
                if axes and not _parallel_axes(shape, one, other):
                    continue
                out.append(Implied("drawn level", {k: 1.0, m: -1.0}, (*one.faces, *other.faces)))
    return out


def _parallel_axes(shape: PartShape, one: Unknown, other: Unknown) -> bool:
    if one.holder != "axis" or other.holder != "axis":
        return False
    a, b = (shape.solid.faces[min(u.faces)].axis for u in (one, other))
    return parallel(a, b)
