"""Places of a part: what a person counts as one, however many faces a file has for it."""

import math
from collections.abc import Iterable

import numpy as np

from canonis.core.shape.surfaces import is_full_turn
from canonis.core.solid import Face, Solid
from canonis.core.tolerances import ALIGNED, FITTED, JOINED, parallel, same_place, same_way

__all__ = ["bevels", "places", "round_pieces", "surrounds"]

#: Of a round that lacks half a turn or more one sees an arc, rad.
_ALMOST_HALF = 0.98 * math.pi


def _one_surface(a: Face, b: Face) -> bool:
    """Whether two round faces are pieces of one surface, parted by a hole or a cut."""
    if a.kind != b.kind or a.inner is not b.inner or not parallel(a.axis, b.axis, ALIGNED):
        return False
    if a.kind == "cone":
        # Its origin is its apex; the two halves of a double cone are two.
        alike = same_way(a.axis, b.axis, ALIGNED) and abs(a.half_angle - b.half_angle) < FITTED
        return alike and same_place(a.origin, b.origin, JOINED)
    apart = a.origin - b.origin
    if a.kind == "torus":
        return (
            float(np.linalg.norm(apart)) < JOINED
            and abs(a.radius - b.radius) < JOINED
            and abs(a.minor - b.minor) < JOINED
        )
    return abs(a.radius - b.radius) < JOINED and same_place(apart, a.axis * float(apart @ a.axis), JOINED)


def bevels(solid: Solid, faces: Iterable[int]) -> list[list[int]]:
    """Faces of bevels by what a person counts: the pieces of one cone, which flats or cuts part, are one; a flat is one.

    The turned end of a hexagon is one chamfer, though its cone has six pieces.
    """
    out: list[list[int]] = []
    for f in sorted(set(faces)):
        face = solid.faces[f]
        for group in out if face.kind == "cone" else ():
            if _one_surface(solid.faces[group[0]], face):
                group.append(f)
                break
        else:
            out.append([f])
    return out


def round_pieces(solid: Solid, face: Face) -> list[Face]:
    """The pieces of the cylinder that a face is one of."""
    return [f for f in solid.faces if f.kind == "cylinder" and _one_surface(face, f)]


def surrounds(solid: Solid, face: Face) -> bool:
    """Whether a cylinder goes about its axis, whole or in pieces which flats, slots or teeth part: between neighbouring
    pieces less than half a turn is missing, so that its diameter can be seen and measured."""
    if face.kind != "cylinder" or is_full_turn(face):
        return face.kind == "cylinder"
    u = face.centre - face.origin
    u = u - face.axis * float(u @ face.axis)
    v = np.cross(face.axis, u)
    arcs: list[tuple[float, float]] = []
    for other in round_pieces(solid, face):
        out = other.centre - face.origin
        middle = math.atan2(float(out @ v), float(out @ u))
        arcs.append(((middle - other.sweep / 2) % math.tau, other.sweep))
    if len(arcs) < 3 and sum(sweep for _, sweep in arcs) < _ALMOST_HALF and not _opposite(arcs):
        return False
    arcs.sort()
    first = arcs[0][0]
    reached, widest = first, 0.0
    for start, sweep in arcs:
        widest = max(widest, start - reached)
        reached = max(reached, start + sweep)
    return max(widest, first + math.tau - reached) < _ALMOST_HALF


def _opposite(arcs: list[tuple[float, float]]) -> bool:
    """Whether two arcs, each by its start and its sweep, face each other: between flats, say."""
    if len(arcs) != 2:
        return False
    (a, sweep), (b, other) = arcs
    apart = abs((b + other / 2 - a - sweep / 2) % math.tau - math.pi)
    return apart < min(sweep, other) / 4


def _on_one_edge(solid: Solid, f: int, g: int) -> bool:
    """Whether two pieces round the same edge: they border a face together, and what parts them is shorter than they are.

    The arms of a fork, far apart for their thickness, have each a round of its own.
    """
    if not {o for _, o in solid.neighbours[f]} & {o for _, o in solid.neighbours[g]}:
        return False
    a, b = solid.faces[f], solid.faces[g]
    if a.kind != "cylinder":
        return True
    ends = [sorted(float((x.origin + x.axis * s) @ a.axis) for s in x.span) for x in (a, b)]
    gap = max(ends[0][0], ends[1][0]) - min(ends[0][1], ends[1][1])
    return gap <= max(high - low for low, high in ends)


def _size(face: Face) -> float:
    return face.minor if face.kind == "torus" else face.radius


def places(solid: Solid, faces: Iterable[int]) -> list[list[int]]:
    """Faces of rounds by place: one round is one place, however many faces it has; a chain around a corner is one.

    Pieces of one surface belong together, and so do faces that run smoothly into each other, or into the ball of a corner.
    """
    mine = sorted(set(faces))
    group = {f: f for f in mine}

    def root(f: int) -> int:
        while group[f] != f:
            group[f] = group[group[f]]
            f = group[f]
        return f

    for corner in solid.faces:
        # Where edges of one radius meet, the ball of their corner leads on from one to the next.
        if corner.kind == "sphere" and corner.index not in group:
            meet = [
                o
                for e, o in solid.neighbours[corner.index]
                if o in group
                and solid.edges[e].dihedral == "smooth"
                and abs(_size(solid.faces[o]) - corner.radius) < JOINED
            ]
            for o in meet[1:]:
                group[root(o)] = root(meet[0])
    for k, f in enumerate(mine):
        for e, o in solid.neighbours[f]:
            if o in group and solid.edges[e].dihedral == "smooth":
                group[root(o)] = root(f)
        for g in mine[k + 1 :]:
            if (
                solid.faces[f].kind in ("cylinder", "torus")
                and _one_surface(solid.faces[f], solid.faces[g])
                and _on_one_edge(solid, f, g)
            ):
                group[root(g)] = root(f)
    out: dict[int, list[int]] = {}
    for f in mine:
        out.setdefault(root(f), []).append(f)
    return list(out.values())
