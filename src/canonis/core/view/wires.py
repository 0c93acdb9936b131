"""The edges of a solid as exact curves in space, with the normals of both faces along each."""

import math
from dataclasses import dataclass
from weakref import WeakKeyDictionary

import numpy as np
from numpy.typing import NDArray

from canonis.core.solid import Edge, Solid, Vec, edge_dense, edge_ellipse, normals_along
from canonis.core.tolerances import ALIGNED, NOISE, parallel
from canonis.core.view.curves import Curves, Maker
from canonis.core.view.surfaces import surfaces_of

__all__ = ["CHORD", "SAMPLES", "Wires", "wires_of"]

#: Chord error of free curves, mm at 1:1 (COMMANDS.md asks for 0.001).
CHORD = 2e-4
#: Places along an edge at which the normals of its faces are known.
SAMPLES = 33
#: Places at which the kernel is asked for them on free-form faces; between them they are interpolated.
_ASKED = 9
#: How a smooth, convex or concave edge is numbered, and one that only divides a surface.
SMOOTH, CONVEX, CONCAVE, WITHIN = 0, 1, -1, 2


@dataclass(frozen=True, eq=False)
class Wires:
    """Edges as curves; `bend` is 1 convex, −1 concave, 0 smooth, 2 within one surface; `normals` (n×2×SAMPLES×3) at even steps of t."""

    curves: Curves
    bend: NDArray[np.int64]
    normals: Vec

    def normals_at(self, solid: Solid, which: NDArray[np.int64], t: Vec) -> Vec:
        """Outward unit normals (n×2×3) of both faces of the curves `which` at `t`."""
        surfaces = surfaces_of(solid)
        points = self.curves.at(which, t)
        out = np.zeros((len(which), 2, 3))
        lo, hi = self.curves.lo[which], self.curves.hi[which]
        share = np.clip((t - lo) / np.maximum(hi - lo, 1e-300), 0, 1) * (SAMPLES - 1)
        low = np.minimum(share.astype(np.int64), SAMPLES - 2)
        for side in (0, 1):
            faces = self.curves.faces[which, side]
            known = ~surfaces.is_free(faces)
            out[known, side] = surfaces.normals(faces[known], points[known])
            k, s = which[~known], low[~known]
            p, q = self.normals[k, side, s], self.normals[k, side, s + 1]
            mix = p + (q - p) * (share[~known] - s)[:, None]
            out[~known, side] = mix / np.maximum(np.linalg.norm(mix, axis=1, keepdims=True), 1e-30)
        return out


_known: WeakKeyDictionary[Solid, Wires] = WeakKeyDictionary()


def wires_of(solid: Solid) -> Wires:
    """The drawn edges of a solid (seams are none), put together once."""
    if solid not in _known:
        _known[solid] = _wires(solid)
    return _known[solid]


def _add(maker: Maker, edge: Edge, solid: Solid) -> None:
    faces = (edge.faces[0], edge.faces[1])
    if edge.kind == "line":
        maker.line(edge.start, edge.end, edge.index, faces)
        return
    if edge.kind == "circle" and edge.radius > 0:
        a = edge.start - edge.centre
        b = np.cross(edge.axis, a)
        # The middle tells which way round the curve runs.
        half = edge.sweep / 2
        ahead = edge.centre + a * math.cos(half) + b * math.sin(half)
        if np.linalg.norm(ahead - edge.middle) > np.linalg.norm(
            edge.centre + a * math.cos(half) - b * math.sin(half) - edge.middle
        ):
            b = -b
        maker.conic(edge.centre, a, b, 0.0, edge.sweep, edge=edge.index, faces=faces)
        return
    index = edge.index
    ellipse = edge_ellipse(solid, index)
    if ellipse is not None:
        maker.conic(*ellipse, edge=index, faces=faces)
    else:
        maker.free(edge_dense(solid, index, CHORD), index, faces)


def _asked_normals(solid: Solid, face: int, index: int) -> Vec:
    """Normals (SAMPLES×3) of a free-form face along its edge, from the kernel."""
    out = normals_along(solid, face, index, _ASKED)
    steps = np.linspace(0, _ASKED - 1, SAMPLES)
    return np.stack([np.interp(steps, np.arange(_ASKED), out[:, j]) for j in range(3)], axis=1)


def _within_one_surface(edge: Edge, solid: Solid) -> bool:
    """Whether an edge only divides one surface: the exporter split a face there, nothing is to be seen."""
    if edge.dihedral != "smooth":
        return False
    f, g = (solid.faces[k] for k in edge.faces[:2])
    if f.kind != g.kind or f.kind == "free" or not parallel(f.axis, g.axis, ALIGNED):
        return False
    if f.kind == "plane":
        return True
    apart = g.origin - f.origin
    across = apart - f.axis * float(apart @ f.axis) if f.kind == "cylinder" else apart
    sizes = abs(f.radius - g.radius) + abs(f.minor - g.minor)
    if f.kind == "cone":
        sizes = abs(f.half_angle - g.half_angle)
    return float(np.linalg.norm(across)) + sizes < NOISE


def _wires(solid: Solid) -> Wires:
    maker = Maker()
    drawn = [e for e in solid.edges if e.dihedral != "seam" and len(e.faces) > 1 and e.length > NOISE]
    for edge in drawn:
        _add(maker, edge, solid)
    curves = maker.made()
    kinds = {"smooth": SMOOTH, "convex": CONVEX}
    bend = np.array(
        [WITHIN if _within_one_surface(e, solid) else kinds.get(e.dihedral, CONCAVE) for e in drawn], dtype=np.int64
    )
    surfaces = surfaces_of(solid)
    n = len(curves)
    normals = np.zeros((n, 2, SAMPLES, 3))
    which = np.repeat(np.arange(n), SAMPLES)
    t = (curves.lo[:, None] + (curves.hi - curves.lo)[:, None] * np.linspace(0, 1, SAMPLES)).ravel()
    points = curves.at(which, t)
    for side in (0, 1):
        faces = curves.faces[:, side]
        normals[:, side] = surfaces.normals(np.repeat(faces, SAMPLES), points).reshape(n, SAMPLES, 3)
        for k in np.nonzero(surfaces.is_free(faces))[0]:
            normals[k, side] = _asked_normals(solid, int(faces[k]), int(curves.edge[k]))
    return Wires(curves, bend, normals)
