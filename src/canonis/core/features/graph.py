"""Questions to the graph of faces and edges that several recognisers ask."""

import math
from collections.abc import Iterable
from weakref import WeakKeyDictionary

import numpy as np

from canonis.core.solid import Edge, Face, Solid, Vec, unit_vector
from canonis.core.tolerances import ALIGNED, NOISE, NOTHING, ZERO, opposed, runs_along

__all__ = [
    "ROUND_BLEND",
    "across_loop",
    "covers",
    "extent",
    "facing",
    "flood",
    "inner_loops",
    "loop_side",
    "plane_axes",
]

#: Cylinders that sweep less than this can be blends between two faces, radians.
ROUND_BLEND = 1.5 * math.pi


def plane_axes(axis: Vec) -> tuple[Vec, Vec]:
    """Two unit vectors across an axis: the file's own axes where it runs along one of them."""
    k = int(np.argmax(np.abs(axis)))
    if runs_along(axis[k], ALIGNED):
        rest = [np.eye(3)[j] for j in range(3) if j != k]
        return rest[0], rest[1]
    seed = np.eye(3)[int(np.argmin(np.abs(axis)))]
    u = unit_vector(seed - axis * float(seed @ axis))
    return u, np.cross(axis, u)


def extent(solid: Solid, faces: Iterable[int], direction: Vec) -> tuple[float, float]:
    """Lowest and highest level of some faces along a direction, from their edges, mm. Arcs count with their bulge."""
    lows, highs = _face_extents(solid, direction)
    mine = list(faces)
    if not mine:
        return math.inf, -math.inf
    return min(lows[f] for f in mine), max(highs[f] for f in mine)


#: Levels of all faces of a solid along the directions asked for so far.
_known: WeakKeyDictionary[Solid, dict[bytes, tuple[list[float], list[float]]]] = WeakKeyDictionary()


def _face_extents(solid: Solid, direction: Vec) -> tuple[list[float], list[float]]:
    """(lowest, highest) level of every face along a direction, mm."""
    known = _known.setdefault(solid, {})
    key = np.round(direction, 12).tobytes()
    if key not in known:
        low, high = _edge_extents(solid, direction)
        lows, highs = [], []
        for f in solid.faces:
            mine = list(f.edges)
            lows.append(min((low[e] for e in mine), default=math.inf))
            highs.append(max((high[e] for e in mine), default=-math.inf))
        known[key] = (lows, highs)
        if len(known) > 400:
            known.pop(next(iter(known)))
    return known[key]


def _edge_extents(solid: Solid, direction: Vec) -> tuple[list[float], list[float]]:
    """(lowest, highest) level of every edge along a direction, mm."""
    points = np.array([(e.start, e.middle, e.end) for e in solid.edges]).reshape(-1, 3, 3)
    levels = points @ direction
    low, high = levels.min(1), levels.max(1)
    for k, edge in enumerate(solid.edges):
        if edge.kind != "circle":
            continue
        flat = direction - edge.axis * float(direction @ edge.axis)
        size = math.sqrt(float(flat @ flat))
        if size < NOTHING:
            continue
        at, swing = float(edge.centre @ direction), edge.radius * size
        whole = edge.sweep > 2 * math.pi - NOISE
        for level, sign in ((at + swing, 1.0), (at - swing, -1.0)):
            outside = level > high[k] + ZERO if sign > 0 else level < low[k] - ZERO
            if outside and (whole or on_arc(edge, edge.centre + flat * (sign * edge.radius / size))):
                low[k], high[k] = min(low[k], level), max(high[k], level)
    return low.tolist(), high.tolist()


def on_arc(edge: Edge, point: Vec) -> bool:
    """Whether a point of the full circle lies on the arc: no farther from its middle than its ends are."""
    return float(np.linalg.norm(point - edge.middle)) <= float(np.linalg.norm(edge.start - edge.middle)) + NOISE


def facing(a: Face, b: Face) -> float | None:
    """Distance between two parallel planes whose outward sides look at each other (a gap), else None, mm."""
    if a.kind != "plane" or b.kind != "plane" or not opposed(a.axis, b.axis):
        return None
    gap = float((b.origin - a.origin) @ a.axis)
    return gap if gap > NOISE else None


def inner_loops(solid: Solid) -> list[tuple[int, tuple[int, ...]]]:
    """Every boundary inside a face: (face, edge indices)."""
    return [(f.index, loop) for f in solid.faces for loop in f.inner_loops]


def across_loop(solid: Solid, face: int, loop: tuple[int, ...]) -> list[int]:
    """Faces on the other side of a boundary of `face`."""
    out = []
    for e in loop:
        out += [f for f in solid.edges[e].faces if f != face]
    return list(dict.fromkeys(out))


def loop_side(solid: Solid, face: int, loop: tuple[int, ...]) -> str:
    """`in` when the surface sinks at the boundary, `out` when it rises from there, `mixed` when both."""
    sides = set()
    for e in loop:
        edge = solid.edges[e]
        others = [f for f in edge.faces if f != face]
        if edge.dihedral == "convex":
            sides.add("in")
        elif edge.dihedral == "concave":
            sides.add("out")
        elif others:
            blend = solid.faces[others[0]]
            # A rounded mouth bulges outward, a filleted foot hollows inward.
            if blend.kind in ("cylinder", "torus", "sphere"):
                sides.add("out" if blend.inner else "in")
    return sides.pop() if len(sides) == 1 else "mixed"


def flood(solid: Solid, start: Iterable[int], barrier: set[int], limit: int) -> set[int] | None:
    """Faces reached from `start` without crossing the `barrier` edges; None when more than `limit`."""
    seen, stack = set(start), list(start)
    while stack:
        f = stack.pop()
        for e, other in solid.neighbours[f]:
            if e not in barrier and other not in seen:
                seen.add(other)
                stack.append(other)
        if len(seen) > limit:
            return None
    return seen


def covers(solid: Solid, a: Face, b: Face, share: float = 0.5) -> bool:
    """Whether two parallel faces cover each other by a share of the smaller one's box across their normal."""
    u, v = plane_axes(a.axis)
    part = 1.0
    for d in (u, v):
        (p, q), (r, s) = extent(solid, [a.index], d), extent(solid, [b.index], d)
        lap = min(q, s) - max(p, r)
        part *= max(0.0, lap) / max(min(q - p, s - r), 1e-9)
    return part > share
