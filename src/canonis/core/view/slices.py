"""The face that a plane cuts into a solid: closed outlines of exact curves, each knowing its face of the solid.

The tessellation tells where the plane runs through each face and how the pieces hang together, so that no plane is
refused; the curves come from the surfaces and their ends from the edges. Where the outlines so made do not close, or
their area is not that of the tessellation, the tessellation's own outlines are taken and the slice says so.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely

from canonis.core.solid import Face, Mesh, Solid, Vec, level_points, solid_mesh
from canonis.core.tolerances import ALIGNED, NOISE, NOTHING, ZERO, runs_along, same, same_place
from canonis.core.view.contours import Turns, move_to_edges, runs, thick
from canonis.core.view.curves import CONIC, LINE, Curves, Maker
from canonis.core.view.frames import ViewFrame
from canonis.core.view.surfaces import surfaces_of
from canonis.core.view.wires import wires_of

__all__ = ["Slice", "cut_face", "face_region"]

#: What lies this little below the plane, as a share of the diagonal, counts as in it: faces and edges that lie in the
#: plane belong to what is cut off.
_IN = 1e-7
#: How far the area may differ from the tessellation's, as a share.
_ALIKE = 0.01
_CHORD = 2e-5


@dataclass(frozen=True, eq=False)
class Slice:
    """The outlines of a cut face as curves in the view's axes; `rough` when they are the tessellation's own.

    `loops` lists, for each closed outline, its curves in order and whether each is run backwards; the material lies to
    the left.
    """

    curves: Curves
    loops: tuple[tuple[tuple[int, bool], ...], ...]
    rough: bool

    @cached_property
    def area(self) -> float:
        """The area of the cut face, mm²; exact for outlines of lines and conics."""
        total = 0.0
        c = self.curves
        for loop in self.loops:
            for k, back in loop:
                sense = -1.0 if back else 1.0
                which = np.array([k, k])
                p, q = c.at(which, np.array([c.lo[k], c.hi[k]]))[:, :2]
                if c.kind[k] == LINE:
                    part = _cross(p, q)
                elif c.kind[k] == CONIC:
                    part = _cross(c.c[k, :2], q - p) + _cross(c.a[k, :2], c.b[k, :2]) * (c.hi[k] - c.lo[k])
                else:
                    points = c.points[c.first[k] : c.first[k] + c.count[k], :2]
                    part = float((points[:-1, 0] * points[1:, 1] - points[:-1, 1] * points[1:, 0]).sum())
                total += sense * part / 2
        return total

    def rings(self, chord: float) -> list[Vec]:
        """The outlines as closed polylines (n×2, mm), within `chord` of the curves; holes run the other way."""
        out = []
        for loop in self.loops:
            parts = []
            for k, back in loop:
                which = np.array([k])
                n = int(self.curves.steps(which, self.curves.lo[which], self.curves.hi[which], chord)[0])
                t = np.linspace(self.curves.lo[k], self.curves.hi[k], n + 1)
                points = self.curves.at(np.full(n + 1, k), t)[:, :2]
                parts.append((points[::-1] if back else points)[:-1])
            out.append(np.vstack(parts))
        return [r for r in out if len(r) > 2]

    def polygon(self, chord: float) -> shapely.Geometry:
        """The cut face as a region, within `chord` mm."""
        solid: list[shapely.Geometry] = []
        holes: list[shapely.Geometry] = []
        for ring in self.rings(chord):
            one = shapely.Polygon(ring)
            (solid if shapely.is_ccw(one.exterior) else holes).append(shapely.make_valid(one))
        whole = shapely.union_all(solid) if solid else shapely.Polygon()
        return whole.difference(shapely.union_all(holes)) if holes else whole


def _cross(p: Vec, q: Vec) -> float:
    return float(p[0] * q[1] - p[1] * q[0])


def face_region(solid: Solid, face: int, frame: ViewFrame) -> shapely.Geometry:
    """A face of a solid as a region of a view's plane, mm at 1:1, within the tessellation's deflection."""
    mesh = solid_mesh(solid)
    flat = frame.flat(mesh.points)
    parts = shapely.polygons(flat[mesh.triangles[mesh.faces == face]])
    return shapely.union_all(parts[shapely.area(parts) > ZERO])


def cut_face(solid: Solid, axes: Vec, depth: float) -> Slice:
    """The face cut into a solid by the plane at `depth` (mm) along the third of the view's `axes` (3×3, rows)."""
    rough: Slice | None = None
    # A plane that touches a face along a line gives outlines that do not close; a hair lower they do.
    for shift in (0.0, 1e-6, 1e-5):
        found = _cut(solid, axes, depth - shift * solid.diagonal)
        if not found.rough:
            return found
        rough = found if rough is None or not rough.loops else rough
    assert rough is not None
    return rough


def _cut(solid: Solid, axes: Vec, depth: float) -> Slice:
    mesh = solid_mesh(solid)
    toward = axes[2]
    level = mesh.points @ toward - depth
    slack = max(1e-7, solid.diagonal * _IN)
    above = np.where(level > -slack, np.maximum(level, 0.0), level)
    found = _edge_crossings(solid, toward, depth)
    chains = runs(mesh, above)
    exact = _linked(_pieces(solid, mesh, toward, depth, chains, found), axes, slack)
    # A face may end beside its neighbour's facets by as much as both stand off their surfaces.
    raw = _linked([_raw(face, chain[:, :3]) for face, chain, _ in chains], axes, 4 * mesh.deflection)
    if exact is not None and (raw is None or abs(exact.area - raw.area) <= _ALIKE * abs(raw.area) + slack):
        return exact
    if raw is None:
        return Slice(Curves.none(), (), True)
    return Slice(raw.curves, raw.loops, True)


def _edge_crossings(solid: Solid, toward: Vec, depth: float) -> Turns:
    """Where the edges of the solid pass through the plane, once for each of their faces."""
    curves = wires_of(solid).curves
    which, t = curves.meets(toward, depth)
    # Ends on the plane count as well.
    ends = np.arange(len(curves))
    for at in (curves.lo, curves.hi):
        on = np.abs(curves.at(ends, at) @ toward - depth) < max(1e-7, solid.diagonal * _IN)
        which, t = np.concatenate([which, ends[on]]), np.concatenate([t, at[on]])
    points = curves.at(which, t)
    faces = curves.faces[which]
    return Turns(
        np.concatenate([which, which]),
        np.concatenate([t, t]),
        np.concatenate([faces[:, 0], faces[:, 1]]),
        np.vstack([points, points]),
    )


def _raw(face: int, points: Vec) -> Curves:
    maker = Maker()
    maker.free(points, faces=(face, -1))
    return maker.made()


def _pieces(
    solid: Solid, mesh: Mesh, toward: Vec, depth: float, chains: Sequence[tuple[int, Vec, bool]], found: Turns
) -> list[Curves]:
    if not chains:
        return []
    faces = np.array([c[0] for c in chains])
    first, last = np.array([c[1][0, :3] for c in chains]), np.array([c[1][-1, :3] for c in chains])
    reach = np.maximum(8 * mesh.deflection, 0.3 * np.linalg.norm(last - first, axis=1))
    first, last = (move_to_edges(x, faces, found, reach) for x in (first, last))
    out = []
    for k, (face, chain, closed) in enumerate(chains):
        p, q = (first[k], last[k]) if not closed else (chain[0, :3], chain[-1, :3])
        if not closed and same_place(q, p, NOTHING) and np.ptp(chain[:, :3], axis=0).max() < 4 * mesh.deflection:
            if not _encloses(chain[:, :3]):
                continue
            # From its seam all around the tip of a cone: small, but an outline of its own.
            closed = True
        out.append(_exact(solid, face, toward, depth, chain, closed=closed, p=p, q=q))
    return out


def _encloses(points: Vec) -> bool:
    """Whether a run of points (n×3) that comes back to its start goes around something."""
    rel = points - points.mean(axis=0)
    area = float(np.linalg.norm(np.cross(rel, np.roll(rel, -1, axis=0)).sum(axis=0))) / 2
    return area > 0.1 * float(np.ptp(points, axis=0).max()) ** 2


def _exact(solid: Solid, face: int, toward: Vec, depth: float, chain: Vec, *, closed: bool, p: Vec, q: Vec) -> Curves:
    table = solid.faces[face]
    maker = Maker()
    own = (face, -1)
    points = chain[:, :3]
    slant = abs(float(table.axis @ toward)) if table.kind != "free" else 0.0
    if table.kind == "plane" or (table.kind == "cylinder" and slant < NOTHING):
        maker.line(p, q, faces=own)
        return maker.made()
    if table.kind == "sphere":
        centre = table.origin + toward * (depth - float(table.origin @ toward))
        radius = math.sqrt(max(0.0, table.radius**2 - float((table.origin - centre) @ (table.origin - centre))))
        _circle(maker, centre, toward, radius, points, closed=closed, p=p, q=q, own=own)
        return maker.made()
    if runs_along(slant, ALIGNED) and table.kind in ("cylinder", "cone", "torus"):
        centre, radius = _ring(table, toward, depth, points)
        _circle(maker, centre, toward, radius, points, closed=closed, p=p, q=q, own=own)
        return maker.made()
    if table.kind == "cylinder":
        _ellipse(
            maker,
            table.origin,
            table.axis,
            table.radius,
            toward,
            depth=depth,
            points=points,
            closed=closed,
            p=p,
            q=q,
            own=own,
        )
        return maker.made()
    if table.kind == "cone" and same(float(table.origin @ toward), depth, NOISE):
        _through_apex(maker, table, points, p, q, own)
        return maker.made()
    if table.kind == "torus" and slant < NOTHING and same(float(table.origin @ toward), depth, NOTHING):
        spoke = points.mean(axis=0) - table.origin
        spoke = spoke - table.axis * float(spoke @ table.axis)
        centre = table.origin + spoke / max(float(np.linalg.norm(spoke)), 1e-12) * table.radius
        _circle(maker, centre, toward, table.minor, points, closed=closed, p=p, q=q, own=own)
        return maker.made()
    fine = thick(chain, solid.diagonal * 0.02)
    if table.kind == "free":
        fine = level_points(solid, face, toward, depth, fine)
    else:
        fine = _settled(solid, face, toward, depth, fine[:, :3])
    if not closed:
        fine[0], fine[-1] = p, q
    else:
        fine[-1] = fine[0]
    maker.free(fine, faces=own)
    return maker.made()


def _ring(table: Face, toward: Vec, depth: float, points: Vec) -> tuple[Vec, float]:
    """Centre and radius of the circle in which a plane square to the axis of a face meets it."""
    centre = table.origin + table.axis * (depth - float(table.origin @ toward)) * math.copysign(
        1, float(table.axis @ toward)
    )
    radius = table.radius
    if table.kind == "cone":
        radius = abs(float((centre - table.origin) @ table.axis)) * math.tan(table.half_angle)
    if table.kind == "torus":
        high = float((centre - table.origin) @ table.axis)
        half = math.sqrt(max(0.0, table.minor**2 - high * high))
        away = float(np.linalg.norm(points - centre, axis=1).mean())
        radius = table.radius + (half if away > table.radius else -half)
    return centre, radius


def _through_apex(maker: Maker, table: Face, points: Vec, p: Vec, q: Vec, own: tuple[int, int]) -> None:
    """The one or two rulings in which a plane through its apex meets a cone."""
    apex = table.origin
    # A run that reaches the apex comes back on the other ruling.
    along = (points - apex) @ table.axis
    low = int(np.argmin(np.abs(along)))
    near = abs(float(along[low])) < 0.02 * float(np.ptp(along)) + NOTHING
    if near and 0 < low < len(points) - 1 and abs(float((p - q) @ table.axis)) < 0.9 * float(np.ptp(along)):
        maker.line(p, apex, faces=own)
        maker.line(apex, q, faces=own)
    else:
        ends = [apex if np.linalg.norm(x - apex) < 0.02 * np.ptp(along) + NOTHING else x for x in (p, q)]
        maker.line(ends[0], ends[1], faces=own)


def _settled(solid: Solid, face: int, toward: Vec, depth: float, points: Vec) -> Vec:
    """Points moved to where a canonical face and the plane meet, by turns onto each."""
    surfaces = surfaces_of(solid)
    own = np.full(len(points), face)
    p = surfaces.put_on(own, points)
    for _ in range(12):
        n = surfaces.normals(own, p)
        off = p @ toward - depth
        # Along the surface, the shortest way to the plane.
        way = toward - n * (n @ toward)[:, None]
        steep = (way * way).sum(1)
        p = surfaces.put_on(own, p - way * np.where(steep > NOISE, off / np.maximum(steep, 1e-12), 0.0)[:, None])
        if float(np.abs(p @ toward - depth).max()) < NOTHING / 10:
            break
    return p


def _circle(
    maker: Maker,
    centre: Vec,
    toward: Vec,
    radius: float,
    points: Vec,
    *,
    closed: bool,
    p: Vec,
    q: Vec,
    own: tuple[int, int],
) -> None:
    a = np.cross(toward, np.eye(3)[int(np.argmin(np.abs(toward)))])
    a = a / np.linalg.norm(a)
    _round(maker, centre, a * radius, np.cross(toward, a) * radius, points, closed=closed, p=p, q=q, own=own)


def _ellipse(
    maker: Maker,
    origin: Vec,
    axis: Vec,
    radius: float,
    toward: Vec,
    *,
    depth: float,
    points: Vec,
    closed: bool,
    p: Vec,
    q: Vec,
    own: tuple[int, int],
) -> None:
    slant = float(axis @ toward)
    centre = origin + axis * ((depth - float(origin @ toward)) / slant)
    minor = np.cross(axis, toward)
    minor = minor / np.linalg.norm(minor)
    major = np.cross(toward, minor)
    _round(maker, centre, major * (radius / abs(slant)), minor * radius, points, closed=closed, p=p, q=q, own=own)


def _round(
    maker: Maker, centre: Vec, a: Vec, b: Vec, points: Vec, *, closed: bool, p: Vec, q: Vec, own: tuple[int, int]
) -> None:
    """The stretch of an ellipse that a run of points follows, from `p` to `q`; in the sense of the run."""
    rel = points - centre
    turn = np.unwrap(np.arctan2(rel @ b / (b @ b), rel @ a / (a @ a)))
    sense = 1.0 if turn[-1] > turn[0] else -1.0
    b, turn = b * sense, turn * sense
    if closed:
        maker.conic(centre, a, b, float(turn[0]), float(turn[0]) + 2 * math.pi, faces=own)
        return
    lo, hi = (
        t + math.remainder(_angle(x, centre, a, b) - t, 2 * math.pi)
        for t, x in ((float(turn[0]), p), (float(turn[-1]), q))
    )
    if hi - lo > ZERO:
        maker.conic(centre, a, b, lo, hi, faces=own)


def _angle(x: Vec, centre: Vec, a: Vec, b: Vec) -> float:
    """The parameter of a point on an ellipse, radians."""
    rel = x - centre
    return math.atan2(float(rel @ b / (b @ b)), float(rel @ a / (a @ a)))


def _linked(pieces: Sequence[Curves], axes: Vec, join: float) -> Slice | None:
    """The pieces put together to closed outlines, outer ones anticlockwise; None when they do not close."""
    pieces = [c for c in pieces if len(c)]
    if not pieces:
        return Slice(Curves.none(), (), False)
    curves = Curves.joined(pieces).turned(axes)
    n = len(curves)
    every = np.arange(n)
    ends = np.vstack([curves.at(every, curves.lo)[:, :2], curves.at(every, curves.hi)[:, :2]])
    tree = shapely.STRtree(shapely.points(ends))
    left = set(range(n))
    loops: list[list[tuple[int, bool]]] = []
    while left:
        first = min(left)
        loop: list[tuple[int, bool]] = []
        k, back = first, False
        while True:
            left.discard(k)
            loop.append((k, back))
            at = ends[k if back else k + n]
            if np.linalg.norm(at - ends[first]) <= join:
                break
            near = [j for j in tree.query(shapely.Point(at), "dwithin", join).tolist() if j % n in left]
            if not near:
                return None
            j = min(near, key=lambda j: (float(np.linalg.norm(ends[j] - at)), j))
            k, back = j % n, j >= n
        loops.append(loop)
    return Slice(curves, _sorted_out(curves, loops), False)


def _sorted_out(curves: Curves, loops: list[list[tuple[int, bool]]]) -> tuple[tuple[tuple[int, bool], ...], ...]:
    """The outlines run so that the material lies to the left: what stands in an odd number of others is a hole."""
    single = [Slice(curves, (tuple(loop),), False) for loop in loops]
    areas = [s.area for s in single]
    rings = [s.rings(max(abs(a), 1e-9) ** 0.5 * 1e-3) for s, a in zip(single, areas, strict=True)]
    shapes = [shapely.make_valid(shapely.Polygon(r[0])) if r else shapely.Polygon() for r in rings]
    out = []
    for k, loop in enumerate(loops):
        if abs(areas[k]) < ZERO or shapes[k].is_empty:
            continue
        inside = shapes[k].representative_point()
        hole = sum(abs(areas[j]) > abs(areas[k]) and shapes[j].contains(inside) for j in range(len(loops))) % 2 == 1
        turned = (areas[k] > 0) == hole
        out.append(tuple((i, not b) for i, b in reversed(loop)) if turned else tuple(loop))
    return tuple(out)
