"""Which stretches of a solid's edges and outlines are seen: exact curves, split where they pass under others, one
decision a piece by rays."""

import math
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from canonis.core.solid import Solid, Vec, meets, solid_mesh
from canonis.core.tolerances import NOISE
from canonis.core.view.clip import Clip
from canonis.core.view.contours import EDGE_ON, facing_of, outlines, turns
from canonis.core.view.crossings import crossings
from canonis.core.view.curves import Curves
from canonis.core.view.frames import ViewFrame
from canonis.core.view.rays import Rays, ray_scene
from canonis.core.view.slices import cut_face
from canonis.core.view.surfaces import CONE, CYLINDER, SPHERE, surfaces_of
from canonis.core.view.threads import Thread, thread_zone
from canonis.core.view.wires import CONCAVE, CONVEX, SAMPLES, SMOOTH, WITHIN, wires_of

__all__ = ["CutFace", "Pieces", "prepare", "visible_pieces"]

Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
#: A smooth edge is drawn as an outline where its face is edge-on within this (a trial lost lines without it).
_WALL = 1e-4
#: How many pieces on which rays disagree are settled by the kernel at most, in one view.
_EXACT = 4000
#: Within how many deflections a hit on a piece's own face is looked at exactly.
_CLOSE = 20.0
#: A piece longer than this share of the diagonal is looked at three times, and cut into so many where that disagrees.
_LONG, _FINELY = 0.04, 48


@dataclass(frozen=True, eq=False)
class CutFace:
    """A cut face as a region of the view's plane (mm at 1:1) at its depth; `rough` where it is the tessellation's."""

    region: shapely.Geometry
    depth: float
    rough: bool


@dataclass(frozen=True, eq=False)
class Pieces:
    """Stretches of curves in the view's axes with what was decided of them.

    `curve` indexes `curves`, `lo` and `hi` bound the parameter; `sharp` is false for smooth transitions.
    """

    curves: Curves
    curve: Ints
    lo: Vec
    hi: Vec
    sharp: Bools
    seen: Bools
    cut: tuple[CutFace, ...] = ()


def prepare(solid: Solid) -> None:
    """Make what all views of a solid share: its mesh, its edges as curves, the search tree of the rays."""
    ray_scene(solid)
    wires_of(solid)
    surfaces_of(solid)


def _touching(solid: Solid, toward: Vec) -> tuple[Ints, Vec]:
    """Edges and parameters at which one of their faces is edge-on for a moment."""
    wires = wires_of(solid)
    g = wires.normals @ toward
    g[np.abs(g) < EDGE_ON] = 0.0
    touch, _, k = np.nonzero((g == 0) & (np.abs(g).max(axis=2, keepdims=True) > 0))
    inner = (k > 0) & (k < SAMPLES - 1)
    touch, k = touch[inner], k[inner]
    return touch, wires.curves.lo[touch] + (wires.curves.hi[touch] - wires.curves.lo[touch]) * k / (SAMPLES - 1)


def _cusps(curves: Curves, first: int) -> tuple[Ints, Vec]:
    """Places on free outlines where their projection turns back on itself."""
    which, at = [], []
    for k in range(first, len(curves)):
        n = int(curves.count[k])
        if n > 2:
            p = curves.points[curves.first[k] : curves.first[k] + n, :2]
            d = np.diff(p, axis=0)
            back = np.nonzero((d[:-1] * d[1:]).sum(1) < 0)[0] + 1
            which += [k] * len(back)
            at += back.tolist()
    return np.array(which, dtype=np.int64), np.array(at, dtype=float)


def _cut(curve: Ints, lo: Vec, hi: Vec, at: Ints, t: Vec, least: float = 1e-9) -> tuple[Ints, Vec, Vec, Ints]:
    """Stretches cut at parameters: `at` indexes the stretches. Also the stretch that each piece comes from."""
    n = len(curve)
    own = np.concatenate([np.arange(n), np.arange(n), at])
    ts = np.concatenate([lo, hi, t])
    order = np.lexsort((ts, own))
    own, ts = own[order], ts[order]
    whole = (own[:-1] == own[1:]) & (ts[1:] - ts[:-1] > least * np.maximum(1.0, (hi - lo)[own[:-1]]))
    return curve[own[:-1][whole]], ts[:-1][whole], ts[1:][whole], own[:-1][whole]


class _View:
    """One view being decided."""

    def __init__(self, solid: Solid, frame: ViewFrame, clip: Clip | None, threads: tuple[Thread, ...]) -> None:
        self.solid, self.frame = solid, frame
        self.axes = np.array([frame.right, frame.up, frame.toward])
        self.wires = wires_of(solid)
        self.edges = len(self.wires.curves)
        self.turns = turns(solid, frame.toward)
        facing = facing_of(solid, frame.toward).copy()
        mesh = solid_mesh(solid)
        for face in {f for t in threads for f in t.faces}:
            # Whole on one side: its outlines are those of the plain tube.
            facing[mesh.starts[face] : mesh.starts[face + 1]] = 1.0
        found = outlines(solid, frame.toward, facing, self.turns)
        self.model = Curves.joined([self.wires.curves, found])
        self.flat = self.model.turned(self.axes)
        self.rays = Rays(solid, frame, clip, threads)
        self.step = solid_mesh(solid).deflection
        self.exact_left = _EXACT

    def normals(self, curve: Ints, t: Vec) -> Vec:
        """Normals (n×2×3) of the faces along curves; an outline's own twice."""
        out = np.zeros((len(curve), 2, 3))
        edge = curve < self.edges
        out[edge] = self.wires.normals_at(self.solid, curve[edge], t[edge])
        rest = curve[~edge]
        if len(rest):
            surfaces = surfaces_of(self.solid)
            face = self.model.faces[rest, 0]
            points = self.model.at(rest, t[~edge])
            n = surfaces.normals(face, points)
            free = surfaces.is_free(face)
            if free.any():
                n[free] = self._mesh_normals(face[free], points[free])
            out[~edge] = n[:, None]
        return out

    def _mesh_normals(self, faces: Ints, points: Vec) -> Vec:
        mesh = solid_mesh(self.solid)
        out = np.zeros(points.shape)
        for face in np.unique(faces):
            m = faces == face
            a, b = mesh.starts[face], mesh.starts[face + 1]
            for chunk in np.array_split(np.nonzero(m)[0], max(1, int(m.sum()) // 256)):
                away = ((mesh.points[a:b][None] - points[chunk][:, None]) ** 2).sum(-1)
                out[chunk] = mesh.normals[a:b][away.argmin(axis=1)]
        # An outline's normal stands square to the view.
        out -= (out @ self.frame.toward)[:, None] * self.frame.toward
        return np.asarray(out / np.maximum(np.linalg.norm(out, axis=1, keepdims=True), 1e-30))

    def bend(self, curve: Ints) -> Ints:
        """Convex 1, concave −1, smooth 0; outlines count as convex."""
        out = np.full(len(curve), CONVEX)
        edge = curve < self.edges
        out[edge] = self.wires.bend[curve[edge]]
        return out

    def offsets(self, normals: Vec) -> Vec:
        """The way off the solid: along the normals of the faces that look to the viewer, else along both."""
        g = normals @ self.frame.toward
        use = np.where((g > -EDGE_ON).any(axis=1, keepdims=True), g > -EDGE_ON, True)
        way = (normals * use[:, :, None]).sum(axis=1)
        return np.asarray(way / np.maximum(np.linalg.norm(way, axis=1, keepdims=True), 1e-30))

    def hidden(self, curve: Ints, t: Vec) -> Bools:
        """Whether points of curves are hidden, by rays from two distances; the kernel settles where they disagree."""
        points = self.model.at(curve, t)
        way = self.offsets(self.normals(curve, t))
        far, reach = self.rays.met(points + way * self.step)
        near, reach2 = self.rays.met(points + way * (0.2 * self.step))
        out = far >= 0
        # A face met this close may be met only because its facets stand off the surface.
        own = np.c_[self.model.faces[curve], self.model.faces[curve, :1]]
        limit = _CLOSE * self.step
        close = (far >= 0) & (np.minimum(reach, reach2) < limit) & (far[:, None] == own).any(axis=1)
        doubt = np.nonzero((out != (near >= 0)) | close)[0][: self.exact_left]
        self.exact_left -= len(doubt)
        if not len(doubt):
            return np.asarray(out)
        fine = points[doubt] + way[doubt] * max(1e-5, self.solid.diagonal * 1e-6)
        room = self.rays.room(fine)
        # Only what was met close by is in doubt; beyond it the tessellation is good enough.
        beyond = self.rays.met(fine + self.frame.toward * limit)[0] >= 0
        tube = len(self.solid.faces)
        beyond |= (far[doubt] == tube) | (near[doubt] == tube)
        for k, i in enumerate(doubt.tolist()):
            asked = {int(f) for f, r in ((far[i], reach[i]), (near[i], reach2[i])) if 0 <= f < tube and r < limit}
            out[i] = (beyond[k] and room[k] > limit) or any(
                meets(self.solid, f, fine[k], self.frame.toward, min(float(room[k]), 2 * limit)) for f in asked
            )
        return np.asarray(out)


def _facing(solid: Solid, view: "_View", frame: ViewFrame, curve: Ints, mid: Vec) -> tuple[Bools, Bools, Bools, Bools]:
    """Which stretches are drawn at all, are sharp, may be seen as the faces beside them look, and end what is seen."""
    bend = view.bend(curve)
    g = view.normals(curve, mid) @ frame.toward
    high, low = g.max(axis=1), g.min(axis=1)
    outline = curve >= view.edges
    # An edge that only divides a surface is seen where that surface turns away along it, and nowhere else.
    within = bend == WITHIN
    bend = np.where(within, SMOOTH, bend)
    wall = (bend == SMOOTH) & (np.abs(g).min(axis=1) < _WALL) & (np.abs(g).max(axis=1) < 0.02)
    sharp = (bend != SMOOTH) | wall | outline
    may = np.where(bend == CONVEX, high > EDGE_ON, np.where(bend == CONCAVE, low > -EDGE_ON, high > -EDGE_ON))
    # A hollow surface bends toward the viewer at its outline: what lies in front of it hides it.
    surfaces = surfaces_of(solid)
    owner = view.model.faces[curve, 0]
    hollow = (surfaces.side[owner] < 0) & np.isin(surfaces.kind[owner], (CYLINDER, CONE, SPHERE))
    seen_outline = outline & ~hollow
    may = may & ~(outline & hollow) | seen_outline | wall
    edge = seen_outline | wall | ((bend == CONVEX) & (low <= EDGE_ON))
    return ~within | wall, sharp, may, edge


def visible_pieces(
    solid: Solid, frame: ViewFrame, clip: Clip | None = None, threads: tuple[Thread, ...] = ()
) -> Pieces:
    """All stretches of a view of `solid`, seen or not; a stretch is one or the other over its whole length.

    With a `clip`, what it cuts off is neither drawn nor in the way, and the outlines of the cut faces are seen. Of
    `threads` nothing is drawn here but what their plain tubes leave to be seen of the rest.
    """
    view = _View(solid, frame, clip, threads)
    curves = view.flat
    n = len(curves)
    cuts = [(view.turns.curve, view.turns.t), _touching(solid, frame.toward), _cusps(curves, view.edges)]
    if clip is not None:
        cuts += [curves.meets(np.array(normal), offset) for normal, offset in clip.planes]
    cuts += [curves.meets(view.axes @ x.way, z + float(x.middle @ x.way)) for x in threads for z in x.crest]
    at, t = (np.concatenate(x) for x in zip(*cuts, strict=True))
    curve, lo, hi, _ = _cut(np.arange(n), curves.lo, curves.hi, at, t)
    for thread in threads:
        stays = ~_of_thread(thread, view.axes, curves, curve, lo, hi)
        curve, lo, hi = curve[stays], lo[stays], hi[stays]
    mid = (lo + hi) / 2
    drawn, sharp, may, edge = _facing(solid, view, frame, curve, mid)
    # What is seen end-on is no line, nor what is cut off.
    span = np.linalg.norm(curves.at(curve, lo)[:, :2] - curves.at(curve, mid)[:, :2], axis=1)
    span += np.linalg.norm(curves.at(curve, hi)[:, :2] - curves.at(curve, mid)[:, :2], axis=1)
    real = (span > NOISE) & drawn
    if clip is not None:
        real &= clip.leaves(curves.at(curve, mid))
    curve, lo, hi, sharp, may, edge = (x[real] for x in (curve, lo, hi, sharp, may, edge))
    tested = np.nonzero(may)[0]
    over = np.nonzero(may & edge)[0]
    above = (curve[over], lo[over], hi[over])
    rims, regions = _rims(solid, view.axes, clip, threads) if clip is not None else (None, ())
    if rims is not None:
        curves = Curves.joined([curves, rims[0]])
        above = (
            np.concatenate([above[0], rims[1] + n]),
            np.concatenate([above[1], rims[2]]),
            np.concatenate([above[2], rims[3]]),
        )
    chord = solid.diagonal * 2e-4
    same = max(1e-6, solid.diagonal * 2e-5)
    k, t = crossings(curves, (curve[tested], lo[tested], hi[tested]), above, chord, same)
    c2, l2, h2, own = _cut(curve[tested], lo[tested], hi[tested], k, t, 1e-7)
    c2, l2, h2, own, hidden = _parted(view, c2, l2, h2, own)
    left = np.nonzero(~may)[0]
    parts = [
        (c2, l2, h2, sharp[tested][own], ~hidden),
        (curve[left], lo[left], hi[left], sharp[left], np.zeros(len(left), dtype=bool)),
    ]
    if rims is not None:
        yes = np.ones(len(rims[1]), dtype=bool)
        parts.append((rims[1] + n, rims[2], rims[3], yes, yes))
    which, low_t, high_t, is_sharp, is_seen = (np.concatenate(x) for x in zip(*parts, strict=True))
    return Pieces(curves, which, low_t, high_t, is_sharp, is_seen, regions)


def _of_thread(thread: Thread, axes: Vec, curves: Curves, curve: Ints, lo: Vec, hi: Vec) -> Bools:
    """Which stretches belong to a thread: those of its own faces, and of faces it runs into where it runs."""
    faces = curves.faces[curve]
    own = np.isin(faces, list(thread.faces)).any(axis=1)
    near = np.isin(faces, list(thread.near)).any(axis=1) & ~own
    slack = 0.02 * (thread.major - thread.minor)
    low = min(thread.crest[0], *(min(c[0], c[2]) for c in thread.cones), math.inf)
    high = max(thread.crest[1], *(max(c[0], c[2]) for c in thread.cones), -math.inf)
    for share in (0.02, 0.5, 0.98):
        at = curves.at(curve, lo + (hi - lo) * share) @ axes - thread.middle
        height = at @ thread.way
        radius = np.linalg.norm(at - np.outer(height, thread.way), axis=1)
        near &= (height > low - slack) & (height < high + slack)
        near &= (radius > thread.minor - slack) & (radius < thread.major + slack)
    return np.asarray(own | near)


def _rims(
    solid: Solid, axes: Vec, clip: Clip, threads: tuple[Thread, ...]
) -> tuple[tuple[Curves, Ints, Vec, Vec], tuple[CutFace, ...]]:
    """The outlines of the cut faces in the view's axes, with their stretches inside their patches, and the faces."""
    parts, regions, filled = [Curves.none()], [], []
    for patch in clip.patches:
        cut = cut_face(solid, axes, patch.depth)
        parts.append(cut.curves)
        region = cut.polygon(solid.diagonal * 2e-6)
        for thread in threads:
            zone = thread_zone(thread, axes, patch.depth)
            if zone is not None and not zone.is_empty:
                region = region.union(zone)
                filled.append(thread)
        region = region.intersection(patch.shape)
        if clip.keep:
            region = region.intersection(shapely.Polygon(clip.keep))
        regions.append(CutFace(region, patch.depth, cut.rough))
    curves = Curves.joined(parts)
    cuts = [curves.meets(np.array(normal), offset) for normal, offset in clip.planes if abs(normal[2]) < 0.5]
    cuts += [curves.meets(axes @ x.way, z + float(x.middle @ x.way)) for x in filled for z in x.crest]
    at, t = (np.concatenate(x) for x in zip(*cuts, strict=True)) if cuts else (np.zeros(0, dtype=np.int64), np.zeros(0))
    curve, lo, hi, _ = _cut(np.arange(len(curves)), curves.lo, curves.hi, at, t)
    for thread in filled:
        rest = ~_of_thread(thread, axes, curves, curve, lo, hi)
        curve, lo, hi = curve[rest], lo[rest], hi[rest]
    middle = curves.at(curve, (lo + hi) / 2)
    # Inside its own patch, and not where another cuts deeper.
    slack = max(1e-6, solid.diagonal * 2e-5)
    stays = clip.leaves(middle - np.array([0, 0, slack]))
    stays &= np.abs(clip.ceiling(middle[:, :2]) - middle[:, 2]) < slack
    return (curves, curve[stays], lo[stays], hi[stays]), tuple(regions)


def _parted(view: _View, curve: Ints, lo: Vec, hi: Vec, own: Ints) -> tuple[Ints, Vec, Vec, Ints, Bools]:
    """The pieces with what was decided of them: hidden or not. One on whose length rays disagree is cut finely first."""
    mid = (lo + hi) / 2
    hidden = view.hidden(curve, mid) if len(curve) else np.zeros(0, dtype=bool)
    reach = np.linalg.norm(view.flat.at(curve, hi)[:, :2] - view.flat.at(curve, lo)[:, :2], axis=1)
    long = np.nonzero(reach > _LONG * view.solid.diagonal)[0]
    if not len(long):
        return curve, lo, hi, own, hidden
    quarters = [lo[long] + (hi - lo)[long] * share for share in (0.2, 0.8)]
    mixed = np.zeros(len(long), dtype=bool)
    for t in quarters:
        mixed |= view.hidden(curve[long], t) != hidden[long]
    if not mixed.any():
        return curve, lo, hi, own, hidden
    whole = np.ones(len(curve), dtype=bool)
    whole[long[mixed]] = False
    parts = np.repeat(long[mixed], _FINELY)
    step = ((hi - lo) / _FINELY)[parts]
    k = np.tile(np.arange(_FINELY), int(mixed.sum()))
    a = lo[parts] + step * k
    fine = view.hidden(curve[parts], a + step / 2)
    return (
        np.concatenate([curve[whole], curve[parts]]),
        np.concatenate([lo[whole], a]),
        np.concatenate([hi[whole], a + step]),
        np.concatenate([own[whole], own[parts]]),
        np.concatenate([hidden[whole], fine]),
    )
