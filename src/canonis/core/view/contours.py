"""Outlines of curved faces: where a face turns away from the viewer, as curves in space.

The tessellation tells where an outline runs and how its pieces hang together; the curve itself comes from the surface:
rulings of cylinders and cones, great circles of spheres, refined points on all others. Where an outline leaves its
face it ends on an edge, at the point of that edge where the face turns away.
"""

import itertools
import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from canonis.core.solid import Face, Mesh, Solid, Vec, solid_mesh, turned_away
from canonis.core.tolerances import ALIGNED, NOISE, NOTHING, SAME, ZERO, parallel
from canonis.core.view.curves import Curves, Maker
from canonis.core.view.surfaces import CONE, surfaces_of
from canonis.core.view.wires import SAMPLES, wires_of

__all__ = ["EDGE_ON", "Turns", "facing_of", "move_to_edges", "outlines", "runs", "thick", "turns"]

#: A face whose normal stands this square to the view is edge-on along an edge.
EDGE_ON = 1e-6
#: The same at points of the mesh.
_STILL = 1e-7
#: Normals of free-form faces come in single precision.
_EDGE_ON_FREE = 1e-5
#: Chord error of refined outlines as a share of the solid's diagonal.
_CHORD = 2e-5


def outlines(solid: Solid, toward: Vec, facing: Vec, found: "Turns") -> Curves:
    """The outlines of all curved faces seen along `toward` (unit vector to the viewer).

    `facing` is normal·toward at every point of the solid's mesh; `found` is where edges stand on faces that turn away.
    """
    mesh = solid_mesh(solid)
    maker = Maker()
    none = np.zeros((0, 3))
    ruled: list[tuple[int, Vec, Vec]] = []
    for face, chain, closed in runs(mesh, facing):
        if solid.faces[face].kind in ("cylinder", "cone"):
            ruled.append((face, chain[0, :3], chain[-1, :3]))
        else:
            _exact(solid, mesh, toward, maker, face, chain=chain, closed=closed, zeros=found.of_face.get(face, none))
    return Curves.joined([_rulings(solid, mesh, toward, ruled, found), maker.made()])


def runs(mesh: Mesh, facing: Vec) -> list[tuple[int, Vec, bool]]:
    """Runs of points (n×5: place, parameters) on the mesh where `facing` changes its sign, face by face."""
    g = facing[mesh.triangles]
    up = g >= 0
    mixed = np.nonzero(up.any(axis=1) & ~up.all(axis=1))[0]
    if not len(mixed):
        return []
    tri, sign, value = mesh.triangles[mixed], up[mixed], g[mixed]
    # The corner that stands alone: both its sides are crossed.
    alone = np.where(sign[:, 0] == sign[:, 1], 2, np.where(sign[:, 0] == sign[:, 2], 1, 0))
    rows = np.arange(len(tri))
    here = tri[rows, alone]
    ends: list[NDArray[np.int64]] = []
    places = []
    for step in (1, 2):
        other = tri[rows, (alone + step) % 3]
        a, b = value[rows, alone], value[rows, (alone + step) % 3]
        share = (a / np.where(a - b == 0, 1, a - b))[:, None]
        p = mesh.points[here] + (mesh.points[other] - mesh.points[here]) * share
        w = mesh.uv[here] + (mesh.uv[other] - mesh.uv[here]) * share
        places.append(np.c_[p, w])
        ends.append(np.minimum(here, other) * len(mesh.points) + np.maximum(here, other))
    faces = mesh.faces[mixed]
    place = np.stack(places, axis=1)
    onward = _onward(np.stack(ends, axis=1).ravel())
    out = []
    for way, closed in _ways(onward):
        k, side = way // 2, way % 2
        points = np.vstack([place[k[:1], side[:1]], place[k, 1 - side]])
        out.append((int(faces[k[0]]), points, closed))
    return out


def _onward(ends: NDArray[np.int64]) -> NDArray[np.int64]:
    """For each way through a triangle (2k: in by its first crossed side, 2k+1: by its second) the way that follows, or −1.

    `ends` names the sides (two a triangle); neighbours share one.
    """
    order = np.argsort(ends, kind="stable")
    twin = np.full(len(ends), -1)
    same = np.nonzero(ends[order[:-1]] == ends[order[1:]])[0]
    # Where more than two meet, neighbours in the order go together two by two.
    same = same[np.concatenate([[True], np.diff(same) > 1])] if len(same) else same
    twin[order[same]], twin[order[same + 1]] = order[same + 1], order[same]
    # In by one side, out by the other, and into whoever shares that.
    return twin[np.arange(len(ends)) ^ 1]


def _ways(onward: NDArray[np.int64]) -> list[tuple[NDArray[np.int64], bool]]:
    """The rows of ways that follow each other, each once, and whether they close."""
    n = len(onward)
    # How far each way is from the last of its row, by doubling the reach of every step.
    last = np.where(onward >= 0, onward, np.arange(n))
    far = (onward >= 0).astype(np.int64)
    for _ in range(n.bit_length()):
        far, last = far + far[last], last[last]
    ends = onward[last] < 0
    out: list[tuple[NDArray[np.int64], bool]] = []
    # A row run forwards ends in a way whose reverse begins the row run backwards.
    rows = np.nonzero(ends)[0]
    order = rows[np.lexsort((-far[rows], last[rows]))]
    cuts = np.nonzero(np.diff(last[order]))[0] + 1
    for way in np.split(order, cuts) if len(order) else []:
        if way[0] < way[-1] ^ 1:
            out.append((way, False))
    left = set(np.nonzero(~ends)[0].tolist())
    while left:
        first = k = min(left)
        closed = []
        while k in left:
            left.discard(k)
            left.discard(k ^ 1)
            closed.append(k)
            k = int(onward[k])
        out.append((np.array(closed), k == first))
    return out


@dataclass(frozen=True, eq=False)
class Turns:
    """Where edges stand on faces that turn away from the viewer: curve, its parameter, the face, the point."""

    curve: NDArray[np.int64]
    t: Vec
    face: NDArray[np.int64]
    points: Vec

    @cached_property
    def of_face(self) -> dict[int, Vec]:
        """The points by face."""
        order = np.argsort(self.face, kind="stable")
        faces, starts = np.unique(self.face[order], return_index=True)
        parts = np.split(self.points[order], starts[1:]) if len(faces) else []
        return dict(zip(faces.tolist(), parts, strict=True))


def turns(solid: Solid, toward: Vec) -> Turns:
    """All places on edges at which one of their faces turns away from the viewer."""
    wires = wires_of(solid)
    g = wires.normals @ toward
    g[np.abs(g) < EDGE_ON] = 0.0
    curve, side, s = np.nonzero((g[:, :, :-1] >= 0) != (g[:, :, 1:] >= 0))
    lo, hi = wires.curves.lo[curve], wires.curves.hi[curve]
    a, b = s.astype(float), s + 1.0
    ga, gb = g[curve, side, s], g[curve, side, s + 1]
    rows = np.arange(len(curve))
    m = a
    for k in range(16):
        secant = (a * gb - b * ga) / np.where(gb == ga, 1, gb - ga)
        m = np.where((k % 3 < 2) & (gb != ga), secant, (a + b) / 2)
        t = lo + (hi - lo) * m / (SAMPLES - 1)
        gm = (wires.normals_at(solid, curve, t)[rows, side] * toward).sum(-1)
        low = (gm >= 0) == (ga >= 0)
        a, ga = np.where(low, m, a), np.where(low, gm, ga)
        b, gb = np.where(low, b, m), np.where(low, gb, gm)
    t = lo + (hi - lo) * m / (SAMPLES - 1)
    return Turns(curve, t, wires.curves.faces[curve, side], wires.curves.at(curve, t))


def _exact(
    solid: Solid, mesh: Mesh, toward: Vec, maker: Maker, face: int, *, chain: Vec, closed: bool, zeros: Vec
) -> None:
    table = solid.faces[face]
    own = (face, -1)
    points = chain[:, :3]
    if table.kind == "plane":
        return
    if table.kind == "sphere":
        _great_circle(
            table.origin, table.radius, toward, maker, own, points=_snapped(points, closed, mesh, zeros), closed=closed
        )
        return
    if table.kind == "torus" and parallel(table.axis, toward, ALIGNED) and table.minor < table.radius:
        _ring_from_above(table, maker, own, _snapped(points, closed, mesh, zeros), closed)
        return
    if table.kind == "torus" and abs(float(table.axis @ toward)) < NOTHING and table.minor < table.radius:
        _ring_from_the_side(table, toward, maker, own, _snapped(points, closed, mesh, zeros), closed)
        return
    ends = _snapped(points, closed, mesh, zeros)
    fine = _refined(solid, face, toward, thick(chain, solid.diagonal))
    if not closed:
        fine[0], fine[-1] = ends[0], ends[-1]
    else:
        fine[-1] = fine[0]
    maker.free(_sparse(fine, solid.diagonal * _CHORD / 4), faces=own)


def _snapped(points: Vec, closed: bool, mesh: Mesh, zeros: Vec) -> Vec:
    """The run with its ends moved to the points of the edges where the face turns away."""
    points = np.array(points)
    if closed:
        return points
    for k in (0, -1):
        if len(zeros):
            away = np.linalg.norm(zeros - points[k], axis=1)
            nearest = int(np.argmin(away))
            if away[nearest] < max(8 * mesh.deflection, 0.35 * float(np.linalg.norm(points[0] - points[-1]))):
                points[k] = zeros[nearest]
    return points


def move_to_edges(points: Vec, faces: NDArray[np.int64], found: Turns, reach: Vec) -> Vec:
    """The points moved to the nearest place within `reach` where an edge of their face turns away, if there is one."""
    order = np.argsort(found.face, kind="stable")
    owner = found.face[order]
    first, last = np.searchsorted(owner, faces), np.searchsorted(owner, faces, side="right")
    n = last - first
    row = np.repeat(np.arange(len(points)), n)
    if not len(row):
        return points
    other = order[np.arange(len(row)) - np.repeat(np.cumsum(n) - n, n) + np.repeat(first, n)]
    away = np.linalg.norm(found.points[other] - points[row], axis=1)
    best = np.lexsort((away, row))
    lead = np.concatenate([[True], row[best][1:] != row[best][:-1]])
    pick = best[lead]
    out = np.array(points)
    near = away[pick] < reach[row[pick]]
    out[row[pick][near]] = found.points[other[pick][near]]
    return out


def _rulings(solid: Solid, mesh: Mesh, toward: Vec, runs: list[tuple[int, Vec, Vec]], found: Turns) -> Curves:
    """The straight lines along which cylinders and cones turn away, from the ends of their runs on the mesh."""
    if not runs:
        return Curves.none()
    faces = np.array([r[0] for r in runs])
    p, q = np.array([r[1] for r in runs]), np.array([r[2] for r in runs])
    reach = np.maximum(8 * mesh.deflection, 0.35 * np.linalg.norm(q - p, axis=1))
    p, q = (_ruling_feet(solid, faces, toward, move_to_edges(x, faces, found, reach)) for x in (p, q))
    long = np.linalg.norm(q - p, axis=1) > NOTHING
    p, q, faces = p[long], q[long], faces[long]
    n = len(faces)
    none, zero = np.zeros(n, dtype=np.int64), np.zeros((n, 3))
    own = np.c_[faces, np.full(n, -1)]
    return Curves(none, p, q - p, zero, np.zeros(n), np.ones(n), none, none, np.zeros((0, 3)), none - 1, own)


def _ruling_feet(solid: Solid, faces: NDArray[np.int64], toward: Vec, points: Vec) -> Vec:
    """The points at the same height on the ruling where a cylinder or cone turns away, on the nearer side."""
    s = surfaces_of(solid)
    axis, origin = s.axis[faces], s.origin[faces]
    rel = points - origin
    along = (rel * axis).sum(1, keepdims=True)
    radial = rel - axis * along
    slant = (axis @ toward)[:, None]
    across = toward - axis * slant
    length = np.linalg.norm(across, axis=1, keepdims=True)
    ahead = across / np.maximum(length, 1e-30)
    side = np.cross(axis, ahead)
    turn = np.where((side * radial).sum(1, keepdims=True) > 0, 1.0, -1.0)
    # Of a cone, normal (cos h·e − sin h·axis) square to the view: cos h (e·toward) = sin h (axis·toward).
    cone = (s.kind[faces] == CONE)[:, None]
    half = s.half_angle[faces][:, None]
    c = np.where(cone, np.tan(half) * slant / np.maximum(length, 1e-30), 0.0)
    e = ahead * c + side * (turn * np.sqrt(np.maximum(0.0, 1 - c * c)))
    radius = np.where(cone, np.abs(along) * np.tan(half), s.radius[faces][:, None])
    good = (length > ZERO) & (np.abs(c) < 1)
    return np.where(good, origin + axis * along + e * radius, points)


def _great_circle(
    centre: Vec, radius: float, toward: Vec, maker: Maker, own: tuple[int, int], *, points: Vec, closed: bool
) -> None:
    a = np.cross(toward, np.eye(3)[int(np.argmin(np.abs(toward)))])
    a = a / np.linalg.norm(a) * radius
    b = np.cross(toward, a)
    if closed:
        maker.conic(centre, a, b, 0.0, 2 * math.pi, faces=own)
        return
    rel = points - centre
    turn = np.unwrap(np.arctan2(rel @ b, rel @ a))
    if abs(turn[-1] - turn[0]) > NOTHING:
        maker.conic(centre, a, b, float(min(turn[0], turn[-1])), float(max(turn[0], turn[-1])), faces=own)


def _ring_from_above(table: Face, maker: Maker, own: tuple[int, int], points: Vec, closed: bool) -> None:
    """A torus seen along its axis turns away along its largest and its smallest circle."""
    rel = points - table.origin
    rel = rel - np.outer(rel @ table.axis, table.axis)
    radius = table.radius + math.copysign(table.minor, float(np.linalg.norm(rel, axis=1).mean()) - table.radius)
    a = np.cross(table.axis, np.eye(3)[int(np.argmin(np.abs(table.axis)))])
    a = a / np.linalg.norm(a)
    b = np.cross(table.axis, a)
    turn = np.unwrap(np.arctan2(rel @ b, rel @ a))
    lo, hi = float(turn.min()), float(turn.max())
    if closed or hi - lo > 2 * math.pi - NOISE:
        lo, hi = 0.0, 2 * math.pi
    if hi - lo > NOISE:
        maker.conic(table.origin, a * radius, b * radius, lo, hi, faces=own)


def _ring_from_the_side(
    table: Face, toward: Vec, maker: Maker, own: tuple[int, int], points: Vec, closed: bool
) -> None:
    """A torus seen square to its axis turns away along the circles of its tube, and along its two flattest circles."""
    axis = table.axis
    rel = points - table.origin
    height = rel @ axis
    radial = rel - np.outer(height, axis)
    spoke = radial / np.maximum(np.linalg.norm(radial, axis=1, keepdims=True), 1e-30)
    side = np.cross(axis, toward)
    ahead = spoke @ toward
    tube = np.linalg.norm(radial, axis=1) - table.radius
    # A point belongs to the circle that it is nearer to: of the tube (its spoke square to the view), or flattest.
    on_tube = np.abs(ahead) < np.abs(tube) / table.minor
    switch = np.nonzero(on_tube[1:] != on_tube[:-1])[0] + 1
    if closed and len(switch):
        # A closed run starts where it goes over from one circle to the other.
        height, spoke, tube, on_tube = (np.roll(x, -switch[0], axis=0) for x in (height, spoke, tube, on_tube))
        switch = np.nonzero(on_tube[1:] != on_tube[:-1])[0] + 1
    edges = np.concatenate([[0], switch, [len(points)]])
    for a, b in itertools.pairwise(edges.tolist()):
        if on_tube[a]:
            e = side * (1.0 if float((spoke[a:b] @ side).sum()) > 0 else -1.0)
            turn = np.unwrap(np.arctan2(height[a:b], tube[a:b]))
            lo, hi = _reaching(turn, math.pi / 2, closed or a > 0, closed or b < len(points))
            if hi - lo > NOISE:
                maker.conic(table.origin + e * table.radius, e * table.minor, axis * table.minor, lo, hi, faces=own)
        else:
            level = table.minor if float(height[a:b].sum()) > 0 else -table.minor
            turn = np.unwrap(np.arctan2(spoke[a:b] @ toward, spoke[a:b] @ side))
            lo, hi = _reaching(turn, math.pi, closed or a > 0, closed or b < len(points))
            if hi - lo > SAME:
                centre = table.origin + axis * level
                maker.conic(centre, side * table.radius, toward * table.radius, lo, hi, faces=own)


def _reaching(turn: Vec, whole: float, first: bool, last: bool) -> tuple[float, float]:
    """The range of a run of angles, its ends moved to a multiple of `whole` where it goes over to another circle."""
    lo, hi = float(turn.min()), float(turn.max())
    for end in ([float(turn[0])] if first else []) + ([float(turn[-1])] if last else []):
        to = round(end / whole) * whole
        if abs(to - end) < 0.5:
            lo, hi = (to, hi) if end == lo else (lo, to) if end == hi else (lo, hi)
    return lo, hi


def thick(chain: Vec, size: float) -> Vec:
    """The run with more points where it bends, so that refined chords stay within the wanted error."""
    p = chain[:, :3]
    step = np.diff(p, axis=0)
    length = np.linalg.norm(step, axis=1)
    unit = step / np.maximum(length, 1e-30)[:, None]
    turn = np.zeros(len(length))
    if len(length) > 1:
        bend = np.arccos(np.clip((unit[:-1] * unit[1:]).sum(1), -1, 1))
        turn[:-1] = bend
        turn[1:] = np.maximum(turn[1:], bend)
    sag = length * np.maximum(turn, 0.05) / 8
    parts = np.clip(np.ceil(np.sqrt(sag / (size * _CHORD / 2))), 1, 24).astype(int)
    rows = [chain[k] + (chain[k + 1] - chain[k]) * (np.arange(n) / n)[:, None] for k, n in enumerate(parts)]
    return np.vstack([*rows, chain[-1:]])


def _refined(solid: Solid, face: int, toward: Vec, chain: Vec) -> Vec:
    """The points moved along the surface to where it turns away from the viewer."""
    if solid.faces[face].kind != "free":
        surfaces = surfaces_of(solid)
        own = np.full(len(chain), face)
        p = surfaces.put_on(own, chain[:, :3])
        size = max(float(np.ptp(p, axis=0).max()), 1e-6)
        for _ in range(6):
            n = surfaces.normals(own, p)
            g = n @ toward
            # The way along the surface on which the normal turns fastest toward the viewer.
            down = toward - n * g[:, None]
            down /= np.maximum(np.linalg.norm(down, axis=1, keepdims=True), 1e-30)
            h = size * 1e-4
            g2 = surfaces.normals(own, surfaces.put_on(own, p + down * h)) @ toward
            rate = (g2 - g) / h
            move = np.where(np.abs(rate) > NOTHING, -g / np.where(rate == 0, 1, rate), 0.0)
            p = surfaces.put_on(own, p + down * np.clip(move, -size / 4, size / 4)[:, None])
        return p
    return turned_away(solid, face, toward, chain)


def _sparse(points: Vec, chord: float) -> Vec:
    """The run without the points that stand within `chord` of the straight line between their neighbours."""
    for _ in range(4):
        if len(points) < 4:
            break
        p, m, q = points[:-2:2], points[1:-1:2], points[2::2]
        n = min(len(p), len(m), len(q))
        p, m, q = p[:n], m[:n], q[:n]
        d = q - p
        share = ((m - p) * d).sum(1) / np.maximum((d * d).sum(1), 1e-30)
        off = np.linalg.norm(m - p - d * np.clip(share, 0, 1)[:, None], axis=1)
        keep = np.ones(len(points), dtype=bool)
        keep[1 : 2 * n : 2] = off > chord
        if keep.all():
            break
        points = points[keep]
    return points


def facing_of(solid: Solid, toward: Vec) -> Vec:
    """normal·toward at every mesh point; next to nothing where the face is edge-on."""
    mesh, surfaces = solid_mesh(solid), surfaces_of(solid)
    owner = np.repeat(np.arange(len(solid.faces)), np.diff(mesh.starts))
    free = surfaces.is_free(owner)
    g = mesh.normals @ toward
    known = ~free
    g[known] = surfaces.normals(owner[known], mesh.points[known]) @ toward
    still = np.abs(g) < np.where(free, _EDGE_ON_FREE, _STILL)
    g[still] = 0.0
    # Where a face that looks away is edge-on along its border, its outline is that edge, not a second line along it.
    looks_to = np.bincount(owner, g > 0, minlength=len(solid.faces)) > 0
    g[still & ~looks_to[owner]] = -1e-300
    return np.asarray(g)
