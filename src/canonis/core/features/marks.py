"""What of a solid is drawn by convention: its holes, threads and ribs."""

from weakref import WeakKeyDictionary

import numpy as np

from canonis.core.features.model import Feature, Piece
from canonis.core.sheet import BoreMark, BoreMarks, Marks
from canonis.core.solid import Solid, Vec, edge_points
from canonis.core.tolerances import FINE, NOISE, SAME, parallel, same_place
from canonis.core.view import Thread

__all__ = ["marks_of"]

_made: WeakKeyDictionary[Feature, Marks] = WeakKeyDictionary()


def marks_of(solid: Solid, found: Feature) -> Marks:
    """What a sheet draws by convention around the bores and the threads of a solid; kept as long as what was found."""
    if found not in _made:
        _made[found] = Marks(_bore_marks(found), _thread_marks(solid, found), _ribs(found))
    return _made[found]


def _bore_marks(found: Feature) -> BoreMarks:
    """The marks of every hole by the faces of its bore."""
    out: BoreMarks = {}
    for hole in (h for g in found.holes for h in g.holes):
        mark = BoreMark(
            hole.start, hole.start - hole.axis * hole.length, hole.diameter, tuple(s.diameter for s in hole.seats)
        )
        out |= dict.fromkeys(hole.main_faces, mark)
    return out


def _ribs(found: Feature) -> tuple[tuple[int, ...], ...]:
    return tuple(piece.faces for form in found.forms if form.kind == "rib" for piece in form.pieces)


def _thread_marks(solid: Solid, found: Feature) -> tuple[Thread, ...]:
    """The plain twins of the modelled threads that were recognised."""
    made = [_twin(solid, piece) for form in found.forms if form.kind == "thread" for piece in form.pieces]
    return tuple(t for t in made if t is not None)


def _twin(solid: Solid, piece: Piece) -> Thread | None:
    """One thread as a plain tube; None where its crest or its root has no length."""
    axis = piece.axis
    base = piece.place - axis * float(piece.place @ axis)
    internal = bool(piece.data["internal"])
    major, minor = float(piece.data["major_mm"]) / 2, float(piece.data["minor_mm"]) / 2
    points = np.vstack(
        [edge_points(solid, e, 60) for e in sorted({e for f in piece.owns for e in solid.faces[f].edges})]
    )
    height = (points - base) @ axis
    radius = np.linalg.norm(points - base - np.outer(height, axis), axis=1)
    spans = []
    for wanted in (minor, major) if internal else (major, minor):
        at = height[np.abs(radius - wanted) < 2e-3 * (major - minor) + FINE]
        if not len(at) or float(np.ptp(at)) < SAME:
            return None
        spans.append((round(float(at.min()), 6), round(float(at.max()), 6)))
    near = _on_the_axis(solid, piece, base, axis)
    edge = minor if internal else major
    cones = []
    for k in near:
        face = solid.faces[k]
        if face.kind != "cone":
            continue
        found = [_rim(solid, e, base, axis) for e in face.edges if solid.edges[e].kind == "circle"]
        rims = [r for r in found if r is not None and (r[1] < edge - NOISE) != internal]
        if rims:
            z, r = max(rims, key=lambda rim: abs(rim[1] - edge))
            end = min(spans[0], key=lambda s: abs(s - z))
            cones.append((end, edge, round(z, 6), r))
    low, high = _reach(solid, base, axis)
    (a, b), _ = spans
    return Thread(
        _triple(base),
        _triple(axis),
        internal,
        major,
        minor,
        spans[0],
        spans[1],
        tuple(cones),
        frozenset(piece.owns),
        frozenset(near),
        (a > low + SAME and not any(c[0] == a for c in cones), b < high - SAME and not any(c[0] == b for c in cones)),
    )


def _triple(v: Vec) -> tuple[float, float, float]:
    a, b, c = (round(float(x), 9) + 0.0 for x in v)
    return (a, b, c)


def _reach(solid: Solid, base: Vec, axis: Vec) -> tuple[float, float]:
    """How far the solid's box reaches along an axis."""
    corners = np.array(np.meshgrid(*zip(*solid.box, strict=True))).reshape(3, -1).T
    along = (corners - base) @ axis
    return float(along.min()), float(along.max())


def _on_the_axis(solid: Solid, piece: Piece, base: Vec, axis: Vec) -> set[int]:
    """Cylinders and cones about the thread's axis that its faces border on."""
    beside = {k for f in piece.owns for _, k in solid.neighbours[f]} - set(piece.owns)
    out = set()
    for k in beside:
        face = solid.faces[k]
        if face.kind in ("cylinder", "cone") and parallel(face.axis, axis):
            away = face.origin - base
            if same_place(away, axis * float(away @ axis)):
                out.add(k)
    return out


def _rim(solid: Solid, circle: int, base: Vec, axis: Vec) -> tuple[float, float] | None:
    """Height and radius of a circle about the axis."""
    found = solid.edges[circle]
    away = found.centre - base
    height = float(away @ axis)
    if not same_place(away, axis * height):
        return None
    return height, float(found.radius)
