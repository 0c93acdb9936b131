"""Measuring a solid by rays and evaluated points: the second route's door to the kernel.

Nothing here reads the canonical parameters that the face tables hold; a wrong table cannot agree
with a wrong probe.
"""

import math
from typing import Any
from weakref import WeakKeyDictionary

import numpy as np
from OCP.Bnd import Bnd_Box
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepBndLib import BRepBndLib
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepLProp import BRepLProp_SLProps
from OCP.BRepTools import BRepTools
from OCP.GeomAbs import GeomAbs_Plane
from OCP.gp import gp_Dir, gp_Lin, gp_Pln, gp_Pnt, gp_Vec
from OCP.IntCurvesFace import IntCurvesFace_Intersector
from OCP.TopAbs import TopAbs_IN, TopAbs_REVERSED, TopAbs_VERTEX, TopAbs_WIRE
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS

from canonis.core.solid.model import Solid, Vec
from canonis.core.tolerances import FITTED, ZERO

__all__ = [
    "Rays",
    "curvatures",
    "edge_points",
    "extreme_level",
    "face_normals",
    "face_vertices",
    "fit_cylinder",
    "meets",
]

#: A ray that moves less than this along an axis never reaches a wall across it.
_STILL = 1e-15


def _v(p: Any) -> Vec:
    return np.array([p.X(), p.Y(), p.Z()])


_boxes: WeakKeyDictionary[Solid, tuple[Vec, Vec]] = WeakKeyDictionary()


def _face_boxes(solid: Solid) -> tuple[Vec, Vec]:
    """Loose boxes of all faces (low n×3, high n×3), computed once a solid."""
    if solid not in _boxes:
        rows = []
        for shape in solid.face_shapes:
            box = Bnd_Box()
            BRepBndLib.Add_s(shape, box, False)
            rows.append(box.Get())
        table = np.array(rows).reshape(-1, 6)
        _boxes[solid] = (table[:, :3], table[:, 3:])
    return _boxes[solid]


_RAY = 1e-7
#: A flat face with more holes than this is met without them first; the kernel looks through all of them at every ray.
_MANY_LOOPS = 6


class _Meeting:
    """Where rays meet one face."""

    def __init__(self, shape: Any) -> None:
        face = TopoDS.Face_s(shape)
        outer = BRepTools.OuterWire_s(face)
        holes = []
        explorer = TopExp_Explorer(face, TopAbs_WIRE)
        while explorer.More():
            wire = TopoDS.Wire_s(explorer.Current())
            if not wire.IsSame(outer):
                holes.append(wire)
            explorer.Next()
        flat = BRepAdaptor_Surface(face).GetType() == GeomAbs_Plane and len(holes) > _MANY_LOOPS
        self._holes: list[Any] = []
        self._finders: dict[int, IntCurvesFace_Intersector] = {}
        if flat:
            self._surface = BRep_Tool.Surface_s(face)
            self._holes = holes
            rows = []
            for wire in holes:
                box = Bnd_Box()
                BRepBndLib.Add_s(wire, box, False)
                rows.append(box.Get())
            table = np.array(rows)
            self._low, self._high = table[:, :3] - _RAY, table[:, 3:] + _RAY
            face = BRepBuilderAPI_MakeFace(self._surface, outer, True).Face()
        self._finder = IntCurvesFace_Intersector(face, _RAY)

    def hits(self, line: gp_Lin, reach: float) -> list[float]:
        """Distances along a ray at which it meets the face, mm."""
        self._finder.Perform(line, _RAY, reach)
        found = range(1, self._finder.NbPnt() + 1)
        return [
            self._finder.WParameter(n)
            for n in found
            if not self._holes or not self._in_hole(line, self._finder.Pnt(n), reach)
        ]

    def _in_hole(self, line: gp_Lin, point: Any, reach: float) -> bool:
        p = _v(point)
        for k in np.nonzero(np.all((self._low <= p) & (self._high >= p), axis=1))[0]:
            hole = int(k)
            if hole not in self._finders:
                cover = BRepBuilderAPI_MakeFace(self._surface, self._holes[hole], True).Face()
                self._finders[hole] = IntCurvesFace_Intersector(cover, _RAY)
            self._finders[hole].Perform(line, _RAY, reach)
            if self._finders[hole].NbPnt() and self._finders[hole].State(1) == TopAbs_IN:
                return True
        return False


#: How rays meet each face, made when one first comes near it.
_meetings: WeakKeyDictionary[Solid, dict[int, _Meeting]] = WeakKeyDictionary()


class Rays:
    """Ray casting against the faces of a solid near a place: within `reach` of it, mm, or as far along x, y and z."""

    def __init__(self, solid: Solid, centre: Vec, reach: float | Vec) -> None:
        low, high = _face_boxes(solid)
        near = np.nonzero(np.all((low <= centre + reach) & (high >= centre - reach), axis=1))[0]
        self._solid, self._faces = solid, near
        self._low, self._high = low[near] - _RAY, high[near] + _RAY
        self._meetings = _meetings.setdefault(solid, {})

    def _met(self, start: Vec, direction: Vec, reach: float) -> Vec:
        """The faces whose boxes a ray goes through."""
        with np.errstate(divide="ignore", invalid="ignore"):
            a, b = (self._low - start) / direction, (self._high - start) / direction
        still = np.abs(direction) < _STILL
        inside = (self._low <= start) & (self._high >= start)
        near = np.where(still, np.where(inside, -np.inf, np.inf), np.minimum(a, b)).max(axis=1)
        far = np.where(still, np.where(inside, np.inf, -np.inf), np.maximum(a, b)).min(axis=1)
        return np.asarray(self._faces[(near <= far) & (far >= 0) & (near <= reach)])

    def hits(self, start: Vec, direction: Vec, reach: float) -> list[float]:
        """Distances from `start` along `direction` at which the surface is met, ascending, mm."""
        line = gp_Lin(gp_Pnt(*map(float, start)), gp_Dir(*map(float, direction)))
        unit = np.asarray(direction, dtype=float) / float(np.linalg.norm(direction))
        found: list[float] = []
        for k in self._met(np.asarray(start, dtype=float), unit, float(reach)):
            face = int(k)
            if face not in self._meetings:
                self._meetings[face] = _Meeting(self._solid.face_shapes[face])
            found += self._meetings[face].hits(line, float(reach))
        return sorted(found)


def meets(solid: Solid, face: int, start: Vec, direction: Vec, reach: float) -> bool:
    """Whether a ray from `start` along the unit vector `direction` meets a face within `reach` mm."""
    if reach <= _RAY:
        return False
    known = _meetings.setdefault(solid, {})
    if face not in known:
        known[face] = _Meeting(solid.face_shapes[face])
    return bool(known[face].hits(gp_Lin(gp_Pnt(*map(float, start)), gp_Dir(*map(float, direction))), reach))


def face_vertices(solid: Solid, face: int) -> Vec:
    """Corner points of a face (n×3), mm."""
    points = []
    explorer = TopExp_Explorer(solid.face_shapes[face], TopAbs_VERTEX)
    while explorer.More():
        points.append(_v(BRep_Tool.Pnt_s(TopoDS.Vertex_s(explorer.Current()))))
        explorer.Next()
    return np.array(points).reshape(-1, 3)


def edge_points(solid: Solid, index: int, n: int = 7) -> Vec:
    """Points along an edge (n×3), mm."""
    curve = BRepAdaptor_Curve(solid.wire_pieces[index])
    lo, hi = curve.FirstParameter(), curve.LastParameter()
    return np.array([_v(curve.Value(lo + (hi - lo) * k / (n - 1))) for k in range(n)])


def face_normals(solid: Solid, face: int, n: int = 5) -> tuple[Vec, Vec]:
    """Evaluated points and outward unit normals (n²×3 each) over the parameter range of a face."""
    shape = solid.face_shapes[face]
    sign = -1.0 if shape.Orientation() == TopAbs_REVERSED else 1.0
    surface = BRepAdaptor_Surface(shape)
    u0, u1, v0, v1 = BRepTools.UVBounds_s(shape)
    points, normals = [], []
    for u in np.linspace(u0, u1, n + 2)[1:-1]:
        for v in np.linspace(v0, v1, n + 2)[1:-1]:
            p, du, dv = gp_Pnt(), gp_Vec(), gp_Vec()
            surface.D1(float(u), float(v), p, du, dv)
            c = du.Crossed(dv)
            if c.Magnitude() > ZERO:
                points.append(_v(p))
                normals.append(sign * np.array([c.X(), c.Y(), c.Z()]) / c.Magnitude())
    return np.array(points), np.array(normals)


def curvatures(solid: Solid, face: int, n: int = 9) -> Vec:
    """Principal curvatures (n²×2, 1/mm) at evaluated points of a face, positive where the material bulges outward."""
    shape = solid.face_shapes[face]
    surface = BRepAdaptor_Surface(shape)
    u0, u1, v0, v1 = BRepTools.UVBounds_s(shape)
    # The kernel counts curvature by the surface's own normal: negative where it bulges along it.
    sign = 1.0 if shape.Orientation() == TopAbs_REVERSED else -1.0
    rows = []
    # Almost to the borders, where a round of varying radius has its extremes.
    share = np.linspace(1e-3, 1 - 1e-3, n)
    for u in u0 + (u1 - u0) * share:
        for v in v0 + (v1 - v0) * share:
            at = BRepLProp_SLProps(surface, float(u), float(v), 2, 1e-9)
            if at.IsCurvatureDefined():
                rows.append([sign * at.MaxCurvature(), sign * at.MinCurvature()])
    return np.array(rows).reshape(-1, 2)


def fit_cylinder(solid: Solid, face: int) -> tuple[Vec, Vec, float, float]:
    """Axis point (middle of the face's extent), axis direction, radius and length fitted to a face, mm."""
    points, normals = face_normals(solid, face)
    # The axis is what all normals are square to: the weakest direction of their scatter.
    axis = np.linalg.svd(normals)[2][2]
    k = int(np.argmax(np.abs(axis)))
    axis = axis if axis[k] > 0 else -axis
    u = np.cross(axis, np.eye(3)[int(np.argmin(np.abs(axis)))])
    u = u / np.linalg.norm(u)
    w = np.cross(axis, u)
    flat = np.c_[points @ u, points @ w]
    middle = flat.mean(0)
    rel = flat - middle
    solution = np.linalg.lstsq(np.c_[2 * rel, np.ones(len(rel))], (rel**2).sum(1), rcond=None)[0]
    centre = solution[:2] + middle
    radius = math.sqrt(max(0.0, float(solution[2] + solution[:2] @ solution[:2])))
    rim = np.vstack([edge_points(solid, e) for e in solid.faces[face].edges])
    along = rim @ axis
    at = (float(along.min()) + float(along.max())) / 2
    return centre[0] * u + centre[1] * w + axis * at, axis, radius, float(np.ptp(along))


def extreme_level(solid: Solid, direction: Vec) -> float:
    """Level along a unit direction of the solid's outermost point.

    Corner points first; then, by the kernel's distance from a far plane, the faces that bulge past them.
    """
    d = np.asarray(direction, dtype=float)
    best = -math.inf
    tops: list[tuple[float, int]] = []
    lows, highs = _face_boxes(solid)
    for k in range(len(solid.face_shapes)):
        corners = face_vertices(solid, k)
        if len(corners):
            best = max(best, float((corners @ d).max()))
        tops.append((float(np.where(d > 0, highs[k], lows[k]) @ d), k))
    far = float(np.abs(np.concatenate(solid.box)).max()) * 2 + 10 * solid.diagonal
    plane = gp_Pln(gp_Pnt(*map(float, d * far)), gp_Dir(*map(float, d)))
    sheet = BRepBuilderAPI_MakeFace(plane, -2 * far, 2 * far, -2 * far, 2 * far).Face()
    for top, k in sorted(tops, reverse=True):
        if top <= best + FITTED:
            break
        best = max(best, far - float(BRepExtrema_DistShapeShape(sheet, solid.face_shapes[k]).Value()))
    return best
