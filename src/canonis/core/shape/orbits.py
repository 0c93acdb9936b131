"""Faces that a motion carries onto one another: a turn about an axis (the teeth of a wheel), a shift along a line (the slots of a
comb)."""

import math
from dataclasses import dataclass
from weakref import WeakKeyDictionary

import numpy as np

from canonis.core.solid import Face, Solid, Vec
from canonis.core.tolerances import FINE, SAME, parallel, same, same_way

__all__ = ["Step", "carried", "face_boxes", "orbit", "row_through", "stays", "step_of", "turned_onto", "turned_points"]

#: What is left of a face may bulge out of the box of its edges by this share.
_ROOM = 0.1
#: Middles and areas of the faces of a solid: n×3 mm, n mm².
_tables: WeakKeyDictionary[Solid, tuple[Vec, Vec]] = WeakKeyDictionary()
#: The boxes of the faces of a solid, by their edges: n×6 mm, least corner first.
_boxes: WeakKeyDictionary[Solid, Vec] = WeakKeyDictionary()


def turned_points(points: Vec, base: Vec, axis: Vec, turn: float) -> Vec:
    """Points (n×3 or 3, mm) turned by `turn` radians about the unit vector `axis` through `base`."""
    arm = points - base
    along = np.multiply.outer(arm @ axis, axis)
    out: Vec = base + along + (arm - along) * math.cos(turn) + np.cross(axis, arm) * math.sin(turn)
    return out


@dataclass(frozen=True, eq=False)
class Step:
    """What carries a member onto the next: a turn (rad) about the unit vector `axis` through `base`, or a shift (mm) along it."""

    base: Vec
    axis: Vec
    turn: float = 0.0
    shift: float = 0.0

    def points(self, points: Vec, times: int = 1) -> Vec:
        """Points (n×3 or 3, mm) carried so many times."""
        return turned_points(points, self.base, self.axis, times * self.turn) + times * self.shift * self.axis

    def ways(self, ways: Vec, times: int = 1) -> Vec:
        """Directions (n×3 or 3) carried so many times."""
        return turned_points(ways, np.zeros(3), self.axis, times * self.turn)


def step_of(solid: Solid, first: int, lead: int, n: int, shifted: bool) -> Step | None:
    """What carries one of `n` members onto the next, by what a note of them names first: a round face that they stand about, or,
    `shifted`, the face of the next member that is as the face `lead` of this one. None where it is neither."""
    one, other = solid.faces[first], solid.faces[lead]
    if not shifted:
        return Step(one.origin, one.axis, math.tau / n) if one.kind == "cylinder" else None
    boxes = face_boxes(solid)
    ways = (boxes[first] - boxes[lead]).reshape(2, 3)
    far = float(np.linalg.norm(ways[0]))
    if one.kind != other.kind or far < SAME or float(np.abs(ways[1] - ways[0]).max()) > SAME:
        return None
    return Step(other.centre, ways[0] / far, shift=far)


def row_through(solid: Solid, face: Face, step: Step) -> dict[int, int]:
    """The faces onto which steps forward and back carry a face without a gap, by how many steps; itself at 0."""
    out = {0: face.index}
    for sense in (1, -1):
        k = sense
        while (there := carried(solid, face, step, k)) is not None and there not in out.values():
            out[k] = there
            k += sense
    return out


def face_boxes(solid: Solid) -> Vec:
    """The boxes of the faces of a solid by points of their edges (n×6, mm), least corner first: what is drilled into a face leaves
    its box."""
    if solid not in _boxes:
        marks = {k: np.array([e.start, e.middle, e.end]) for k, e in enumerate(solid.edges)}
        rows = []
        for f in solid.faces:
            spots = np.vstack([marks[e] for e in f.edges]) if f.edges else f.centre[None, :]
            rows.append(np.concatenate([spots.min(axis=0), spots.max(axis=0)]))
        _boxes[solid] = np.array(rows)
    return _boxes[solid]


def carried(solid: Solid, face: Face, step: Step, times: int = 1) -> int | None:
    """The face onto which so many steps, or so many back, carry a face: of its kind, size and way; None where there is none."""
    if solid not in _tables:
        _tables[solid] = (np.array([f.centre for f in solid.faces]), np.array([f.area for f in solid.faces]))
    centres, areas = _tables[solid]
    if step.turn:
        spot = step.points(face.centre, times)
        near = np.nonzero((np.abs(centres - spot).max(axis=1) < SAME) & (np.abs(areas - face.area) < FINE * face.area))[
            0
        ]
    else:
        # Along a line the members may differ by what is drilled into them.
        boxes = face_boxes(solid)
        there = boxes[face.index] + np.tile(times * step.shift * step.axis, 2)
        near = np.nonzero(np.abs(boxes - there).max(axis=1) < SAME)[0]
    way = step.ways(face.axis, times)
    for k in near:
        other = solid.faces[int(k)]
        aligned = same_way(other.axis, way, SAME) if face.kind == "plane" else parallel(other.axis, way, SAME)
        if (
            other.kind == face.kind
            and other.inner is face.inner
            and same(other.radius, face.radius)
            and same(other.minor, face.minor)
            and (aligned or face.kind in ("free", "sphere"))
        ):
            return int(k)
    return None


def orbit(solid: Solid, face: Face, step: Step, n: int) -> list[int] | None:
    """The `n` faces onto which no step, one, two and so on carry a face, itself first; None where any is missing."""
    out = [face.index]
    for k in range(1, n):
        there = carried(solid, face, step, k)
        if there is None or there in out:
            return None
        out.append(there)
    return out


def turned_onto(solid: Solid, face: Face, step: Step, n: int) -> list[tuple[int, ...]] | None:
    """The faces onto which no turn, one, two and so on carry a face, itself first: where another feature cuts into one, the pieces
    that are left of it. None where nothing of any is left."""
    out: list[tuple[int, ...]] = [(face.index,)]
    seen = {face.index}
    for k in range(1, n):
        whole = carried(solid, face, step, k)
        there = (whole,) if whole is not None else _pieces(solid, face, step, k)
        if not there or seen.intersection(there):
            return None
        seen.update(there)
        out.append(there)
    return out


def _pieces(solid: Solid, face: Face, step: Step, times: int) -> tuple[int, ...]:
    """What is left of a flat or round face where a turn carries it: faces on the same surface within its box. None of one whose
    surface does not move with the turn: of that nobody could tell what belongs to which member."""
    if face.kind not in ("plane", "cylinder") or stays(face, step):
        return ()
    marks = np.vstack([[solid.edges[e].start, solid.edges[e].middle, solid.edges[e].end] for e in face.edges])
    spots = step.points(marks, times)
    low, high = spots.min(axis=0), spots.max(axis=0)
    room = _ROOM * float(np.linalg.norm(high - low)) + SAME
    boxes = face_boxes(solid)
    middles = (boxes[:, :3] + boxes[:, 3:]) / 2
    near = np.nonzero((middles >= low - room).all(axis=1) & (middles <= high + room).all(axis=1))[0]
    origin, way = step.points(face.origin, times), step.ways(face.axis, times)
    return tuple(int(k) for k in near if _on(solid.faces[int(k)], face, origin, way))


def _on(other: Face, face: Face, origin: Vec, way: Vec) -> bool:
    """Whether a face lies on the surface of another that was carried to an origin and a way."""
    if other.kind != face.kind or other.inner is not face.inner:
        return False
    if face.kind == "plane":
        return same_way(other.axis, way, SAME) and same(float((other.origin - origin) @ way), 0.0)
    apart = float(np.linalg.norm(np.cross(other.origin - origin, way)))
    return same(other.radius, face.radius) and parallel(other.axis, way, SAME) and same(apart, 0.0)


def stays(face: Face, step: Step) -> bool:
    """Whether a turn carries the surface of a face onto itself."""
    if not parallel(face.axis, step.axis):
        return False
    return face.kind == "plane" or same(float(np.linalg.norm(np.cross(face.origin - step.base, step.axis))), 0.0)
