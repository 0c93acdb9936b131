"""References that survive a new model: they store what they point at as geometry, never a number.

A reference is written as one line of text, stable across runs:

    plane;normal;offset;centre;area        a planar face
    bore;point;axis;radius;length          an inner cylinder (the wall of a hole)
    shaft;point;axis;radius;length         an outer cylinder
    torus;centre;axis;radius;minor         a torus
    cone;point;axis;angle;radius           a cone, with a point of its axis at mid height
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

from canonis.core.faults import BadInput
from canonis.core.solid.model import Edge, Face, Solid, Vec

__all__ = ["Reference", "Resolution", "edge_reference", "extreme_reference", "face_reference", "parse", "resolve_all"]

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
        parts = [self.kind] + [",".join(_number(c) for c in v) for v in self.vectors]
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


def _number(x: float) -> str:
    text = f"{x:.6f}".rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text


def _t(v: Vec) -> tuple[float, float, float]:
    return (float(v[0]), float(v[1]), float(v[2]))


def _axis_middle(face: Face) -> Vec:
    return face.origin + face.axis * (face.span[0] + face.span[1]) / 2


def face_reference(face: Face) -> str:
    """The reference to a face.

    Raises ValueError for a free-form face, which has no canonical parameters.
    """
    if face.kind == "plane":
        return str(Reference("plane", (_t(face.axis), _t(face.centre)), (face.offset, face.area)))
    if face.kind == "cylinder":
        kind = "bore" if face.inner else "shaft"
        return str(Reference(kind, (_t(_axis_middle(face)), _t(face.axis)), (face.radius, face.span[1] - face.span[0])))
    if face.kind == "cone":
        return str(Reference("cone", (_t(_axis_middle(face)), _t(face.axis)), (face.half_angle, _mean_radius(face))))
    if face.kind == "torus":
        return str(Reference("torus", (_t(face.origin), _t(face.axis)), (face.radius, face.minor)))
    raise ValueError(f"a {face.kind} face has no reference")


def _mean_radius(face: Face) -> float:
    return float(abs(face.span[0] + face.span[1]) / 2 * np.tan(face.half_angle))


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
    "fixed": (1, 0), "line": (2, 0), "circle": (2, 1), "point": (1, 0),
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


def _face_costs(ref: Reference, solid: Solid) -> list[tuple[float, float, float, int]]:
    """(cost, shift, growth, face) of every face that could be what `ref` meant."""
    out = []
    v = [np.array(x) for x in ref.vectors]
    for face in solid.faces:
        if ref.kind == "plane" and face.kind == "plane":
            if float(face.axis @ v[0]) < 1 - 1e-6:
                continue
            shift = face.offset - ref.scalars[0]
            aside = face.centre - v[1]
            aside = aside - face.axis * float(aside @ face.axis)
            apart = float(np.linalg.norm(aside))
            other_size = abs(face.area - ref.scalars[1]) / max(face.area, ref.scalars[1], 1e-9)
            out.append((abs(shift) + 0.5 * apart + 0.02 * solid.diagonal * other_size, abs(shift), 0.0, face.index))
        elif ref.kind in ("bore", "shaft") and face.kind == "cylinder" and face.inner is (ref.kind == "bore"):
            if abs(float(face.axis @ v[1])) < 1 - 1e-6:
                continue
            aside = _axis_middle(face) - v[0]
            along = float(aside @ face.axis)
            across = float(np.linalg.norm(aside - face.axis * along))
            growth = face.radius - ref.scalars[0]
            length = abs((face.span[1] - face.span[0]) - ref.scalars[1])
            if abs(growth) > _SAME and across > 0.25 * ref.scalars[0]:
                # Another place and another size: another hole (or the seat of a neighbour), not this one.
                continue
            cost = across + 3 * abs(growth) + 0.3 * abs(along) + 0.1 * length
            out.append((cost, across, growth, face.index))
        elif ref.kind == "cone" and face.kind == "cone":
            if abs(float(face.axis @ v[1])) < 1 - 1e-6:
                continue
            apart = float(np.linalg.norm(_axis_middle(face) - v[0]))
            turn = abs(face.half_angle - ref.scalars[0])
            out.append((apart + turn * 10, apart, _mean_radius(face) - ref.scalars[1], face.index))
        elif ref.kind == "torus" and face.kind == "torus":
            apart = float(np.linalg.norm(face.origin - v[0]))
            growth = face.minor - ref.scalars[1]
            out.append((apart + 3 * abs(growth) + abs(face.radius - ref.scalars[0]), apart, growth, face.index))
    return sorted(out, key=lambda c: (round(c[0], 6), c[3]))


def _edge_costs(ref: Reference, solid: Solid) -> list[tuple[float, float, float, int]]:
    out = []
    v = [np.array(x) for x in ref.vectors]
    for edge in solid.edges:
        if ref.kind == "line" and edge.kind == "line":
            direction = (v[1] - v[0]) / max(float(np.linalg.norm(v[1] - v[0])), 1e-9)
            if abs(float(edge.axis @ direction)) < 1 - 1e-6:
                continue
            apart = float(np.linalg.norm(edge.middle - (v[0] + v[1]) / 2))
            out.append((apart, apart, 0.0, edge.index))
        elif ref.kind == "circle" and edge.kind == "circle":
            if abs(float(edge.axis @ v[1])) < 1 - 1e-6:
                continue
            apart, growth = float(np.linalg.norm(edge.centre - v[0])), edge.radius - ref.scalars[0]
            out.append((apart + 3 * abs(growth), apart, growth, edge.index))
        elif ref.kind == "point":
            for p in (edge.start, edge.end, edge.middle):
                apart = float(np.linalg.norm(p - v[0]))
                out.append((apart, apart, 0.0, edge.index))
    return sorted(out, key=lambda c: (round(c[0], 6), c[3]))


#: Candidates of the references met so far, by solid: every edit of a sheet resolves the same ones again.
_met: WeakKeyDictionary[Solid, dict[str, list[tuple[float, float, float, int]]]] = WeakKeyDictionary()


def _costs(text: str, ref: Reference, table: str, solid: Solid) -> list[tuple[float, float, float, int]]:
    """The candidates within reach, the likeliest first."""
    known = _met.setdefault(solid, {})
    if text not in known:
        found = _edge_costs(ref, solid) if table == "edge" else _face_costs(ref, solid)
        known[text] = [c for c in found if c[0] < _REACH * solid.diagonal]
    return known[text]


def _extreme(ref: Reference, solid: Solid) -> Resolution:
    d = np.array(ref.vectors[0])
    k = int(np.argmax(np.abs(d)))
    if abs(abs(d[k]) - 1) > 1e-6:
        return Resolution("lost")
    level = float(solid.box[1][k]) if d[k] > 0 else -float(solid.box[0][k])
    shift = abs(level - ref.scalars[0])
    return Resolution("same" if shift < _SAME else "moved", shift=shift)


def resolve_all(texts: Iterable[str], solid: Solid) -> dict[str, Resolution]:
    """Find every reference in a solid, the exact matches first, so that a neighbour cannot take their place.

    The same solid resolves each of its own references as `same`.
    """
    refs = {text: parse(text) for text in dict.fromkeys(texts)}
    found: dict[str, Resolution] = {}
    claimed: set[tuple[str, int]] = set()
    waiting: list[tuple[float, str, str, list[tuple[float, float, float, int]]]] = []
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
    return found


def _as(table: str, status: str, cost: tuple[float, float, float, int]) -> Resolution:
    index = (cost[3],)
    return Resolution(
        status, faces=index if table == "face" else (), edges=index if table == "edge" else (),
        shift=cost[1], growth=cost[2],
    )  # fmt: skip
