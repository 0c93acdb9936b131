"""What the surfaces of faces are to each other: their normals, which are placed by tangency, which lie on one line."""

import math
from collections.abc import Collection

import numpy as np

from canonis.core.solid import Face, Solid, Vec, unit_vector
from canonis.core.tolerances import JOINED, NOISE, NOTHING, parallel, same_place, square

__all__ = [
    "Lines",
    "axis_meets",
    "is_bend",
    "is_blend",
    "is_enclosed",
    "is_eye_end",
    "is_full_turn",
    "is_plain_hole",
    "is_side_of_round_ends",
    "normal_at",
    "smooth_neighbours",
    "torus_floor",
]

#: A face that goes farther round than this goes all the way round, rad.
_FULL_TURN = 1.9 * math.pi
_HALF_TURN = 0.9 * math.pi
#: The end of a lever turns so far about its eye, rad: a corner of a plate turns through a right angle.
_EYE = 0.6 * math.pi
#: Axes nearer than this, mm, and turned by less, rad, are one line: what fitting a free form leaves is less.
_ON_LINE, _TURNED = 1e-3, 1e-6


def torus_floor(solid: Solid, face: Face) -> int:
    """Where a round-bottomed groove is deepest: -1 nearest to its axis (around a shaft), 1 farthest from it (in a bore),
    0 at its ring (in a face)."""
    beside = [solid.faces[o] for _, o in solid.neighbours[face.index]]
    walls = [f for f in beside if f.kind in ("cylinder", "cone")]
    return 0 if not walls else 1 if walls[0].inner else -1


def is_full_turn(face: Face) -> bool:
    """Whether a surface of revolution goes all the way round."""
    return face.sweep > _FULL_TURN


def axis_meets(face: Face, start: Vec, way: Vec) -> list[float]:
    """How far from `start` along the unit vector `way` a line meets the whole surface of a face, mm, in order; nothing of a
    torus or a free form."""
    if face.kind == "plane":
        share = float(face.axis @ way)
        return [] if abs(share) < NOISE else [float((face.origin - start) @ face.axis) / share]
    if face.kind not in ("cylinder", "cone", "sphere"):
        return []
    rel = start - face.origin
    if face.kind == "sphere":
        a, b, c = 1.0, 2 * float(way @ rel), float(rel @ rel) - face.radius**2
    else:
        # Distance from the axis: constant on a cylinder, growing from the apex on a cone.
        along, at = float(way @ face.axis), float(rel @ face.axis)
        grows = math.tan(face.half_angle) ** 2 if face.kind == "cone" else 0.0
        a = 1 - along**2 * (1 + grows)
        b = 2 * (float(way @ rel) - along * at * (1 + grows))
        c = float(rel @ rel) - at**2 * (1 + grows) - (face.radius**2 if face.kind == "cylinder" else 0.0)
    room = b * b - 4 * a * c
    if abs(a) < NOTHING or room < 0:
        return []
    return sorted((-b + sense * room**0.5) / (2 * a) for sense in (-1.0, 1.0))


def normal_at(face: Face, point: Vec) -> Vec:
    """Unit normal out of the material at a point of a face (no free form)."""
    sense = -1.0 if face.inner else 1.0
    if face.kind == "plane":
        return face.axis
    arm = point - face.origin
    if face.kind == "sphere":
        return sense * unit_vector(arm)
    along = float(arm @ face.axis)
    across = arm - face.axis * along
    if float(np.linalg.norm(across)) < NOTHING:
        return sense * face.axis
    spoke = unit_vector(across)
    if face.kind == "cylinder":
        return sense * spoke
    if face.kind == "cone":
        rise = face.axis if along > 0 else -face.axis
        return sense * (math.cos(face.half_angle) * spoke - math.sin(face.half_angle) * rise)
    return sense * unit_vector(point - face.origin - spoke * face.radius)


def smooth_neighbours(solid: Solid, face: int) -> list[tuple[int, int]]:
    """(edge, other face) where a face goes over into another without a corner."""
    return [(e, o) for e, o in solid.neighbours[face] if solid.edges[e].dihedral == "smooth"]


def is_blend(solid: Solid, face: Face) -> bool:
    """Whether a round face is placed by tangency alone: smooth to neighbours whose normals there are independent."""
    smooth = smooth_neighbours(solid, face.index)
    if face.kind in ("torus", "sphere"):
        return any(not _one_ring(face, solid.faces[o]) for _, o in smooth)
    if face.kind != "cylinder" or is_full_turn(face):
        return False
    if is_eye_end(solid, face):
        return False
    normals = np.array([normal_at(face, solid.edges[e].middle) for e, _ in smooth])
    return len(normals) > 1 and int(np.linalg.matrix_rank(normals, tol=1e-3)) > 1


def is_eye_end(solid: Solid, face: Face) -> bool:
    """Whether a cylinder is the round end of a lever or a lug about its bore: the bore places it, and the sides that run into it
    follow from it."""
    if face.kind != "cylinder" or face.inner or face.sweep < _EYE or is_full_turn(face):
        return False
    return any(
        f.kind == "cylinder"
        and f.inner
        and is_full_turn(f)
        and parallel(f.axis, face.axis)
        and float(np.linalg.norm(np.cross(f.origin - face.origin, face.axis))) < JOINED
        for f in solid.faces
    )


def is_bend(solid: Solid, face: Face) -> bool:
    """Whether a torus is a bend of a round bar or of a pipe, outside or inside: part of a turn, and at its ends it goes over
    into round lengths, or into further bends, of its own width. A round of an edge runs along it instead."""
    if face.kind != "torus" or is_full_turn(face):
        return False
    ends = [
        o
        for e, o in smooth_neighbours(solid, face.index)
        if solid.faces[o].inner is face.inner
        and abs((solid.faces[o].minor if solid.faces[o].kind == "torus" else solid.faces[o].radius) - face.minor)
        < JOINED
        and solid.edges[e].kind == "circle"
        and square(solid.edges[e].axis, face.axis)
        and _goes_around(solid.faces[o])
    ]
    return bool(ends) and len(set(ends)) == len({o for _, o in smooth_neighbours(solid, face.index)})


def _goes_around(face: Face) -> bool:
    """Whether a face is a whole length of a round bar, or a bend that is one."""
    return face.kind == "torus" or (face.kind == "cylinder" and face.sweep > _HALF_TURN)


def _one_ring(face: Face, other: Face) -> bool:
    """Whether two faces are pieces of one torus, as a file may part it."""
    return (
        face.kind == other.kind == "torus"
        and max(abs(face.radius - other.radius), abs(face.minor - other.minor)) < JOINED
        and same_place(face.origin, other.origin, JOINED)
    )


def is_enclosed(solid: Solid, face: Face) -> bool:
    """Whether walls rise all around a flat face, be it over fillets: the floor of a hole, a slot or a pocket, the seat of a
    bore."""
    inside = {e for loop in face.inner_loops for e in loop}
    rims = [(solid.edges[e], solid.faces[o]) for e, o in solid.neighbours[face.index] if e not in inside]
    return bool(rims) and all(
        edge.dihedral == "concave" or (edge.dihedral == "smooth" and other.inner and other.kind != "plane")
        for edge, other in rims
    )


def is_side_of_round_ends(solid: Solid, face: Face) -> bool:
    """Whether a flat face runs smoothly into a half round at two sides: the side of a slot, or of a boss like one."""
    ends = {
        o
        for _, o in smooth_neighbours(solid, face.index)
        if solid.faces[o].kind == "cylinder" and solid.faces[o].sweep > _HALF_TURN
    }
    return len(ends) > 1


class Lines:
    """Numbers of axis lines: faces on one line get one number."""

    def __init__(self) -> None:
        self._known: dict[bytes, int] = {}
        #: Direction and a point of each line.
        self._ways, self._points = np.zeros((0, 3)), np.zeros((0, 3))

    def number(self, direction: Vec, point: Vec) -> int:
        """The number of the line through `point` along `direction`, whichever way that points."""
        key = direction.tobytes() + point.tobytes()
        if key not in self._known:
            apart = np.cross(point - self._points, self._ways)
            turned = np.cross(self._ways, direction)
            near = ((apart**2).sum(axis=1) < _ON_LINE**2) & ((turned**2).sum(axis=1) < _TURNED**2)
            hits = np.flatnonzero(near)
            if not len(hits):
                self._ways = np.vstack([self._ways, direction])
                self._points = np.vstack([self._points, point])
            self._known[key] = int(hits[0]) if len(hits) else len(self._points) - 1
        return self._known[key]


def around_flanks(solid: Solid, flanks: Collection[int]) -> list[int]:
    """The flanks of a spline with the tips and roots between them."""
    one, other = _two_ways(solid, flanks)
    across = np.cross(solid.faces[one].axis, solid.faces[other].axis)
    if float(np.linalg.norm(across)) < NOISE:
        # Walls that are all parallel are around no axis.
        return sorted(flanks)
    axis = unit_vector(across)
    beside = {
        o
        for f in flanks
        for _, o in solid.neighbours[f]
        if solid.faces[o].kind == "cylinder" or (solid.faces[o].kind == "plane" and square(solid.faces[o].axis, axis))
    }
    return sorted({*flanks, *beside})


def _two_ways(solid: Solid, flanks: Collection[int]) -> tuple[int, int]:
    first, *rest = flanks
    other = min(rest, key=lambda f: abs(float(solid.faces[f].axis @ solid.faces[first].axis)))
    return first, other


def is_plain_hole(solid: Solid, face: int) -> bool:
    """Whether a face is the wall of a hole without a modelled thread."""
    one = solid.faces[face]
    helical = any(solid.edges[e].kind == "free" for e in one.edges)
    return one.kind == "cylinder" and one.inner and is_full_turn(one) and not helical
