"""References that survive a new model: they store what they point at as geometry, never a number.

A reference is written as one line of text, stable across runs:

    plane;normal;offset;centre;area        a planar face
    bore;point;axis;radius;length          an inner cylinder (the wall of a hole)
    shaft;point;axis;radius;length         an outer cylinder
    torus;centre;axis;radius;minor         a torus
    cone;point;axis;angle;radius           a cone, with a point of its axis at mid height
    sphere;centre;radius                   a sphere
    free;centre;area                       a free-form face
    bore-side;point;axis;way;radius;length  the side of a bore (or `shaft-side` of a shaft) that lies farthest along `way`
    mouth;point;axis;normal;radius;length  where the axis of a bore meets the face of that normal which it opens to
    extreme;direction;level                the outermost point of the solid along a direction
    fixed;point                            a point of the file's axes, whatever the solid
    line;start;end   circle;centre;axis;radius   point;position    parts of edges

Lengths are mm in the file's axes, angles radians.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import lru_cache
from weakref import WeakKeyDictionary

import numpy as np
from numpy.typing import NDArray

from canonis.core.faults import BadInput
from canonis.core.solid.model import Edge, Face, Solid, Vec
from canonis.core.tolerances import FITTED, PARALLEL, same

__all__ = [
    "Reference",
    "Resolution",
    "axis_of",
    "edge_reference",
    "extreme_reference",
    "face_reference",
    "mouth_reference",
    "parse",
    "resolve_all",
    "side_reference",
]

#: Geometry closer than this is the same, mm.
_SAME = 1e-4
#: Something that moved farther than this share of the diagonal is another thing.
_REACH = 0.25


@dataclass(frozen=True)
class Reference:
    """A parsed reference: its kind and its vectors and scalars in the order of the module's table."""

    kind: str
    vectors: tuple[tuple[float, float, float], ...]
    scalars: tuple[float, ...]

    def __str__(self) -> str:
        # A level is read along the direction itself: its last places count. Other directions are only compared.
        digits = 12 if self.kind == "extreme" else 6
        parts = [self.kind] + [",".join(_number(c, digits) for c in v) for v in self.vectors]
        return ";".join(parts + [_number(s) for s in self.scalars])


@dataclass(frozen=True)
class Resolution:
    """What became of a reference: `same`, `moved`, `resized`, `ambiguous` or `lost`.

    `faces` and `edges` are indices into the solid's tables, for use at once and never stored.
    `shift` is how far it moved (mm), `growth` the change of radius (mm).
    """

    status: str
    faces: tuple[int, ...] = ()
    edges: tuple[int, ...] = ()
    shift: float = 0.0
    growth: float = 0.0


def _number(x: float, digits: int = 6) -> str:
    text = f"{x:.{digits}f}".rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text


def _t(v: Vec) -> tuple[float, float, float]:
    return (float(v[0]), float(v[1]), float(v[2]))


def _axis_middle(face: Face) -> Vec:
    return face.origin + face.axis * (face.span[0] + face.span[1]) / 2


def face_reference(face: Face) -> str:
    """The reference to a face; a free-form one has no canonical parameters and is told by its place and its area."""
    if face.kind == "plane":
        return str(Reference("plane", (_t(face.axis), _t(face.centre)), (face.offset, face.area)))
    if face.kind == "cylinder":
        kind = "bore" if face.inner else "shaft"
        return str(Reference(kind, (_t(_axis_middle(face)), _t(face.axis)), (face.radius, face.span[1] - face.span[0])))
    if face.kind == "cone":
        return str(Reference("cone", (_t(_axis_middle(face)), _t(face.axis)), (face.half_angle, _mean_radius(face))))
    if face.kind == "torus":
        return str(Reference("torus", (_t(face.origin), _t(face.axis)), (face.radius, face.minor)))
    if face.kind == "sphere":
        return str(Reference("sphere", (_t(face.origin),), (face.radius,)))
    return str(Reference("free", (_t(face.centre),), (face.area,)))


def _mean_radius(face: Face) -> float:
    return float(abs(face.span[0] + face.span[1]) / 2 * np.tan(face.half_angle))


def side_reference(face: Face, way: Vec) -> str:
    """The line of a cylinder that lies farthest along a unit direction square to its axis."""
    kind = "bore-side" if face.inner else "shaft-side"
    vectors = (_t(_axis_middle(face)), _t(face.axis), _t(way))
    return str(Reference(kind, vectors, (face.radius, face.span[1] - face.span[0])))


def mouth_reference(face: Face, normal: Vec) -> str:
    """Where the axis of a bore (one of its walls) meets the face that it opens to, whose unit normal there is `normal`."""
    vectors = (_t(_axis_middle(face)), _t(face.axis), _t(normal))
    return str(Reference("mouth", vectors, (face.radius, face.span[1] - face.span[0])))


def axis_of(text: str) -> str:
    """The reference to the bore that a mouth is of; any other reference as it is."""
    ref = parse(text)
    return str(_whole(ref)) if ref.kind == "mouth" else text


def extreme_reference(direction: Vec, level: float) -> str:
    """The outermost point of the solid along a unit direction; `level` in mm along it."""
    return str(Reference("extreme", (_t(direction),), (level,)))


def edge_reference(edge: Edge, part: str = "curve") -> str:
    """The reference to an edge (`curve`), its `start`, `end` or `middle`, or the `centre` of a circle."""
    if part == "curve" and edge.kind == "line":
        ends = sorted((_t(edge.start), _t(edge.end)))
        return str(Reference("line", (ends[0], ends[1]), ()))
    if part in ("curve", "centre") and edge.kind == "circle":
        return str(Reference("circle", (_t(edge.centre), _t(edge.axis)), (edge.radius,)))
    points = {"start": edge.start, "end": edge.end}
    return str(Reference("point", (_t(points.get(part, edge.middle)),), ()))


_SHAPE = {
    "plane": (2, 2), "bore": (2, 2), "shaft": (2, 2), "cone": (2, 2), "torus": (2, 2), "extreme": (1, 1),
    "sphere": (1, 1), "free": (1, 1), "bore-side": (3, 2), "shaft-side": (3, 2), "mouth": (3, 2), "fixed": (1, 0), "line": (2, 0), "circle": (2, 1), "point": (1, 0),
}  # fmt: skip


@lru_cache(maxsize=65536)
def parse(text: str) -> Reference:
    """Read a reference back from its text.

    Raises BadInput when the text is not a reference.
    """
    kind, *parts = text.split(";")
    if kind not in _SHAPE or len(parts) != sum(_SHAPE[kind]):
        raise BadInput(f"“{text[:60]}” is not a geometric reference; use one that a sheet carries.")
    n = _SHAPE[kind][0]
    try:
        vectors = tuple(tuple(float(c) for c in p.split(",")) for p in parts[:n])
        scalars = tuple(float(p) for p in parts[n:])
    except ValueError:
        vectors, scalars = (), ()
    if len(vectors) != n or any(len(v) != 3 or not np.all(np.isfinite(v)) for v in vectors):
        raise BadInput(f"“{text[:60]}” is not a geometric reference; use one that a sheet carries.")
    return Reference(kind, vectors, scalars)  # type: ignore[arg-type]


#: The most candidates that are kept of one reference.
_CANDIDATES = 64
_Rows = list[tuple[float, float, float, int]]


@dataclass(frozen=True, eq=False)
class _Tables:
    """The faces and edges of a solid as arrays, row by row, so that a reference is compared with all of them at once."""

    face_kind: NDArray[np.str_]
    inner: NDArray[np.bool_]
    axis: Vec
    origin: Vec
    centre: Vec
    middle: Vec
    numbers: dict[str, Vec]
    edge_kind: NDArray[np.str_]
    edge_axis: Vec
    edge_centre: Vec
    edge_points: Vec
    edge_radius: Vec


_tables: WeakKeyDictionary[Solid, _Tables] = WeakKeyDictionary()


def _rows(vectors: Iterable[Vec]) -> Vec:
    return np.array(list(vectors), dtype=float).reshape(-1, 3)


def _tables_of(solid: Solid) -> _Tables:
    if solid not in _tables:
        faces, edges = solid.faces, solid.edges
        middles = [_axis_middle(f) if f.kind in ("cylinder", "cone") else f.centre for f in faces]
        cone = [_mean_radius(f) if f.kind == "cone" else 0.0 for f in faces]
        numbers = {
            "offset": [f.offset for f in faces],
            "area": [f.area for f in faces],
            "radius": [f.radius for f in faces],
            "length": [f.span[1] - f.span[0] for f in faces],
            "half": [f.half_angle for f in faces],
            "minor": [f.minor for f in faces],
            "mean": cone,
        }
        _tables[solid] = _Tables(
            np.array([f.kind for f in faces], dtype=str),
            np.array([f.inner for f in faces], dtype=bool),
            _rows(f.axis for f in faces),
            _rows(f.origin for f in faces),
            _rows(f.centre for f in faces),
            _rows(middles),
            {name: np.array(v, dtype=float) for name, v in numbers.items()},
            np.array([e.kind for e in edges], dtype=str),
            _rows(e.axis for e in edges),
            _rows(e.centre for e in edges),
            np.array([[e.start, e.end, e.middle] for e in edges], dtype=float).reshape(-1, 3, 3),
            np.array([e.radius for e in edges], dtype=float),
        )
    return _tables[solid]


def _norm(v: Vec) -> Vec:
    return np.asarray(np.linalg.norm(v, axis=-1))


def _best(which: NDArray[np.int64], cost: Vec, shift: Vec, growth: Vec, limit: float) -> _Rows:
    """The candidates within a limit, the likeliest first."""
    near = np.nonzero(cost < limit)[0]
    order = near[np.lexsort((which[near], np.round(cost[near], 6)))][:_CANDIDATES]
    return list(
        zip(cost[order].tolist(), shift[order].tolist(), growth[order].tolist(), which[order].tolist(), strict=True)
    )


def _face_costs(ref: Reference, solid: Solid, limit: float) -> _Rows:
    """(cost, shift, growth, face) of the faces that could be what `ref` meant."""
    t = _tables_of(solid)
    v = [np.array(x) for x in ref.vectors]
    kind = {"bore": "cylinder", "shaft": "cylinder"}.get(ref.kind, ref.kind)
    mine = t.face_kind == kind
    if ref.kind == "plane":
        mine &= t.axis @ v[0] >= 1 - PARALLEL
    elif ref.kind not in ("torus", "sphere", "free"):
        mine &= np.abs(t.axis @ v[1]) >= 1 - PARALLEL
    if kind == "cylinder":
        mine &= t.inner == (ref.kind == "bore")
    k = np.nonzero(mine)[0]
    axis, n = t.axis[k], {name: x[k] for name, x in t.numbers.items()}
    if ref.kind == "plane":
        shift = n["offset"] - ref.scalars[0]
        aside = t.centre[k] - v[1]
        apart = _norm(aside - axis * (aside * axis).sum(1, keepdims=True))
        other = np.abs(n["area"] - ref.scalars[1]) / np.maximum(np.maximum(n["area"], ref.scalars[1]), 1e-9)
        cost = np.abs(shift) + 0.5 * apart + 0.02 * solid.diagonal * other
        return _best(k, cost, np.abs(shift), np.zeros(len(k)), limit)
    if kind == "cylinder":
        aside = t.middle[k] - v[0]
        along = (aside * axis).sum(1)
        across = _norm(aside - axis * along[:, None])
        growth = n["radius"] - ref.scalars[0]
        cost = across + 3 * np.abs(growth) + 0.3 * np.abs(along) + 0.1 * np.abs(n["length"] - ref.scalars[1])
        # Another place and another size: another hole (or the seat of a neighbour), not this one.
        cost = np.where((np.abs(growth) > _SAME) & (across > 0.25 * ref.scalars[0]), np.inf, cost)
        return _best(k, cost, across, growth, limit)
    if ref.kind == "cone":
        apart = _norm(t.middle[k] - v[0])
        cost = apart + np.abs(n["half"] - ref.scalars[0]) * 10
        return _best(k, cost, apart, n["mean"] - ref.scalars[1], limit)
    if ref.kind == "free":
        apart, growth = _norm(t.centre[k] - v[0]), np.sqrt(n["area"]) - np.sqrt(ref.scalars[0])
        return _best(k, apart + np.abs(growth), apart, growth, limit)
    if ref.kind == "sphere":
        apart, growth = _norm(t.origin[k] - v[0]), n["radius"] - ref.scalars[0]
        return _best(k, apart + 3 * np.abs(growth), apart, growth, limit)
    apart, growth = _norm(t.origin[k] - v[0]), n["minor"] - ref.scalars[1]
    return _best(k, apart + 3 * np.abs(growth) + np.abs(n["radius"] - ref.scalars[0]), apart, growth, limit)


def _edge_costs(ref: Reference, solid: Solid, limit: float) -> _Rows:
    t = _tables_of(solid)
    v = [np.array(x) for x in ref.vectors]
    if ref.kind == "line":
        direction = (v[1] - v[0]) / max(float(np.linalg.norm(v[1] - v[0])), 1e-9)
        k = np.nonzero((t.edge_kind == "line") & (np.abs(t.edge_axis @ direction) >= 1 - PARALLEL))[0]
        apart = _norm(t.edge_points[k, 2] - (v[0] + v[1]) / 2)
        return _best(k, apart, apart, np.zeros(len(k)), limit)
    if ref.kind == "circle":
        k = np.nonzero((t.edge_kind == "circle") & (np.abs(t.edge_axis @ v[1]) >= 1 - PARALLEL))[0]
        apart, growth = _norm(t.edge_centre[k] - v[0]), t.edge_radius[k] - ref.scalars[0]
        return _best(k, apart + 3 * np.abs(growth), apart, growth, limit)
    apart = _norm(t.edge_points - v[0]).ravel()
    return _best(np.repeat(np.arange(len(t.edge_kind)), 3), apart, apart, np.zeros(len(apart)), limit)


#: Candidates of the references met so far, by solid: every edit of a sheet resolves the same ones again.
_met: WeakKeyDictionary[Solid, dict[str, _Rows]] = WeakKeyDictionary()


def _costs(text: str, ref: Reference, table: str, solid: Solid) -> _Rows:
    """The candidates within reach, the likeliest first."""
    known = _met.setdefault(solid, {})
    if text not in known:
        limit = _REACH * solid.diagonal
        known[text] = (_edge_costs if table == "edge" else _face_costs)(ref, solid, limit)
    return known[text]


def _extreme(ref: Reference, solid: Solid) -> Resolution:
    from canonis.core.solid.turning import end_level  # it reads solids, and those who read them need references

    d = np.array(ref.vectors[0])
    if not same(float(np.linalg.norm(d)), 1, FITTED):
        return Resolution("lost")
    level = end_level(solid, d)
    shift = abs(level - ref.scalars[0])
    return Resolution("same" if shift < _SAME else "moved", shift=shift)


def resolve_all(texts: Iterable[str], solid: Solid) -> dict[str, Resolution]:
    """Find every reference in a solid, the exact matches first, so that a neighbour cannot take their place.

    The same solid resolves each of its own references as `same`.
    """
    refs = {text: parse(text) for text in dict.fromkeys(texts)}
    # The side of a cylinder and the mouth of a bore are where the cylinder is.
    sides = {text: str(_whole(ref)) for text, ref in refs.items() if len(ref.vectors) == 3}
    refs = {t: r for t, r in refs.items() if t not in sides} | {t: parse(t) for t in sides.values()}
    found: dict[str, Resolution] = {}
    claimed: set[tuple[str, int]] = set()
    waiting: list[tuple[float, str, str, _Rows]] = []
    for text, ref in refs.items():
        if ref.kind in ("extreme", "fixed"):
            found[text] = _extreme(ref, solid) if ref.kind == "extreme" else Resolution("same")
            continue
        table = "edge" if ref.kind in ("line", "circle", "point") else "face"
        costs = _costs(text, ref, table, solid)
        if costs and costs[0][1] < _SAME and abs(costs[0][2]) < _SAME and costs[0][0] < max(_SAME, _REACH * 1e-3):
            found[text] = _as(table, "same", costs[0])
            claimed.add((table, costs[0][3]))
        else:
            waiting.append((costs[0][0] if costs else np.inf, text, table, costs))
    for _, text, table, costs in sorted(waiting, key=lambda w: (round(w[0], 6), w[1])):
        free = [c for c in costs if (table, c[3]) not in claimed]
        if not free:
            found[text] = Resolution("lost")
            continue
        best = free[0]
        same_place = best[1] < _SAME
        if len(free) > 1 and free[1][0] < best[0] + _SAME and free[1][3] != best[3] and not same_place:
            found[text] = Resolution("ambiguous", faces=tuple(c[3] for c in free[:2]) if table == "face" else ())
            continue
        claimed.add((table, best[3]))
        status = "same" if same_place and abs(best[2]) < _SAME else "resized" if abs(best[2]) >= _SAME else "moved"
        found[text] = _as(table, status, best)
    return found | {text: found[whole] for text, whole in sides.items()}


def _whole(ref: Reference) -> Reference:
    """The cylinder that a side or a mouth is of."""
    return Reference("bore" if ref.kind == "mouth" else ref.kind.removesuffix("-side"), ref.vectors[:2], ref.scalars)


def _as(table: str, status: str, cost: tuple[float, float, float, int]) -> Resolution:
    index = (cost[3],)
    return Resolution(
        status,
        faces=index if table == "face" else (),
        edges=index if table == "edge" else (),
        shift=cost[1],
        growth=cost[2],
    )
