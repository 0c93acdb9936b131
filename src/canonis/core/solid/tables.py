"""Face and edge tables of a kernel shape."""

import math
from typing import Any

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepGProp import BRepGProp
from OCP.BRepTools import BRepTools
from OCP.GCPnts import GCPnts_AbscissaPoint
from OCP.GeomAbs import GeomAbs_CurveType as CT
from OCP.GeomAbs import GeomAbs_SurfaceType as ST
from OCP.gp import gp_Circ, gp_Cone, gp_Cylinder, gp_Pln, gp_Pnt, gp_Sphere, gp_Vec
from OCP.GProp import GProp_GProps
from OCP.ShapeAnalysis import ShapeAnalysis_CanonicalRecognition
from OCP.TopAbs import TopAbs_EDGE, TopAbs_FACE, TopAbs_REVERSED, TopAbs_WIRE
from OCP.TopExp import TopExp, TopExp_Explorer
from OCP.TopoDS import TopoDS
from OCP.TopTools import TopTools_IndexedMapOfShape

from canonis.core.solid.model import Dihedral, Edge, Face, Vec, unit_vector
from canonis.core.tolerances import NOISE, NOTHING, ZERO

__all__ = ["build_tables", "face_normal", "shapes_of"]

#: Free-form surfaces within this distance of a canonical one are taken for it, mm.
_CANONICAL = 1e-4
#: Faces meeting within this angle are smooth (COMMANDS.md, view lines), radians.
SMOOTH = 0.01
_ZERO = np.zeros(3)
_PLAIN = (ST.GeomAbs_Plane, ST.GeomAbs_Cylinder)
#: Where a curve is sampled: uneven, so that whole turns of a helix do not look like a line.
_UNEVEN = (0.0, 0.061, 0.137, 0.29, 0.413, 0.547, 0.702, 0.871, 1.0)


def _v(p: Any) -> Vec:
    return np.array([p.X(), p.Y(), p.Z()])


def _canonical_sign(axis: Vec) -> Vec:
    """The same direction whichever way the file happened to write the axis."""
    k = int(np.argmax(np.round(np.abs(axis), 6)))
    return axis if axis[k] > 0 else -axis


def face_normal(face: Any, adaptor: Any, u: float, v: float) -> Vec | None:
    """Outward unit normal of a kernel face at (u, v), or None where it is not defined."""
    p, du, dv = gp_Pnt(), gp_Vec(), gp_Vec()
    adaptor.D1(u, v, p, du, dv)
    n = du.Crossed(dv)
    if n.Magnitude() < ZERO:
        return None
    normal = unit_vector(np.array([n.X(), n.Y(), n.Z()]))
    return -normal if face.Orientation() == TopAbs_REVERSED else normal


def _samples(adaptor: Any, bounds: tuple[float, ...], n: int = 9) -> Vec:
    u0, u1, v0, v1 = bounds
    return np.array([_v(adaptor.Value(u, v)) for u in np.linspace(u0, u1, n) for v in np.linspace(v0, v1, n)])


def _sweep_of(points: Vec, origin: Vec, axis: Vec) -> float:
    """Angle covered around an axis by sampled points, radians (full turns give 2π)."""
    x = unit_vector(np.cross(axis, [1.0, 0, 0] if abs(axis[0]) < 0.9 else [0, 1.0, 0]))
    y = np.cross(axis, x)
    rel = points - origin
    angles = np.sort(np.arctan2(rel @ y, rel @ x))
    gaps = np.diff(np.append(angles, angles[0] + 2 * math.pi))
    widest = float(gaps.max())
    return 2 * math.pi if widest < 2 * math.pi / 8 + NOISE else 2 * math.pi - widest


def _inner_loops(shape: Any, edge_map: Any, number: dict[int, int]) -> tuple[tuple[int, ...], ...]:
    """Edge indices of each boundary of a face but its outer one."""
    explorer = TopExp_Explorer(shape, TopAbs_WIRE)
    wires = []
    while explorer.More():
        wires.append(TopoDS.Wire_s(explorer.Current()))
        explorer.Next()
    if len(wires) < 2:
        return ()
    outer = BRepTools.OuterWire_s(shape)
    out = []
    for wire in wires:
        if wire.IsSame(outer):
            continue
        local = TopTools_IndexedMapOfShape()
        TopExp.MapShapes_s(wire, TopAbs_EDGE, local)
        keys = (edge_map.FindIndex(local.FindKey(k)) for k in range(1, local.Extent() + 1))
        out.append(tuple(number[k] for k in keys if k in number))
    return tuple(loop for loop in out if loop)


def _surface_of(shape: Any, adaptor: Any) -> tuple[str, Any]:
    """What kind of surface carries a face, and the surface; a free form that is one of the others is taken for it."""
    t = adaptor.GetType()
    if t == ST.GeomAbs_Plane:
        return "plane", adaptor.Plane()
    if t == ST.GeomAbs_Cylinder:
        return "cylinder", adaptor.Cylinder()
    if t == ST.GeomAbs_Cone:
        return "cone", adaptor.Cone()
    if t == ST.GeomAbs_Sphere:
        return "sphere", adaptor.Sphere()
    if t == ST.GeomAbs_Torus:
        return "torus", adaptor.Torus()
    return _recognise(shape)


def _tube_middle(point: Vec, origin: Vec, axis: Vec, radius: float, minor: float) -> Vec:
    """The middle of the tube of a ring beside a point on it."""
    ring = point - origin
    ring = ring - axis * float(ring @ axis)
    out = unit_vector(ring) * radius if np.linalg.norm(ring) > NOTHING else np.zeros(3)
    # Where the tube is thicker than the ring, its middle may lie across the axis.
    return min((origin + out, origin - out), key=lambda c: abs(float(np.linalg.norm(point - c)) - minor))


def _area_of(shape: Any, adaptor: Any) -> tuple[float, Vec]:
    """Area (mm²) and centre of a face."""
    props = GProp_GProps()
    # The plain quadrature is exact enough on planes and on surfaces of revolution; others need it adapted.
    if adaptor.GetType() in _PLAIN:
        BRepGProp.SurfaceProperties_s(shape, props)
    else:
        BRepGProp.SurfaceProperties_s(shape, props, 1e-9)
    return abs(props.Mass()), _v(props.CentreOfMass())


def _outward(shape: Any, adaptor: Any, bounds: tuple[float, float, float, float]) -> Vec:
    """The direction out of the material in the middle of a face, or beside it where the middle has none."""
    u0, u1, v0, v1 = bounds
    normal = face_normal(shape, adaptor, (u0 + u1) / 2, (v0 + v1) / 2)
    if normal is None:
        normal = face_normal(shape, adaptor, u0 + 0.37 * (u1 - u0), v0 + 0.41 * (v1 - v0))
    return normal if normal is not None else np.array([0.0, 0, 1])


def _face(index: int, shape: Any, edges: tuple[int, ...], inner_loops: tuple[tuple[int, ...], ...]) -> Face:
    adaptor = BRepAdaptor_Surface(shape)
    u0, u1, v0, v1 = BRepTools.UVBounds_s(shape)
    area, centre = _area_of(shape, adaptor)
    outward = _outward(shape, adaptor, (u0, u1, v0, v1))
    middle = _v(adaptor.Value((u0 + u1) / 2, (v0 + v1) / 2))
    kind, surface = _surface_of(shape, adaptor)
    origin, axis = middle, outward
    radius = half_angle = minor = 0.0
    canonical = adaptor.GetType() in (ST.GeomAbs_Cylinder, ST.GeomAbs_Cone)
    sweep, span = 0.0, (0.0, 0.0)
    if kind == "plane":
        axis = outward
        origin = axis * float(_v(surface.Location()) @ axis)
        centre = centre - axis * float((centre - origin) @ axis)
    elif kind in ("cylinder", "cone", "torus"):
        axis = _canonical_sign(_v(surface.Axis().Direction()))
        origin = _v(surface.Location())
        if kind == "torus":
            radius, minor = float(surface.MajorRadius()), float(surface.MinorRadius())
            sweep = abs(u1 - u0)
        else:
            points = _samples(adaptor, (u0, u1, v0, v1), 4 if canonical else 11)
            along = (points - origin) @ axis
            span = (float(along.min()), float(along.max()))
            sweep = abs(u1 - u0) if canonical else _sweep_of(points, origin, axis)
            if kind == "cylinder":
                radius = surface.Radius()
            else:
                half_angle, radius = abs(surface.SemiAngle()), surface.RefRadius()
                # Keep the apex as origin so that equal cones compare equal; axis points to the open side.
                origin = _v(surface.Apex())
                along = (points - origin) @ axis
                if along.sum() < 0:
                    axis, along = -axis, -along
                span = (float(along.min()), float(along.max()))
    elif kind == "sphere":
        origin, radius = _v(surface.Location()), surface.Radius()
        axis = np.array([0.0, 0, 1])
    away = middle - origin
    if kind == "torus":
        away = middle - _tube_middle(middle, origin, axis, radius, minor)
    elif kind in ("cylinder", "cone"):
        away = away - axis * float(away @ axis)
    return Face(
        index=index,
        kind=kind,  # type: ignore[arg-type]
        origin=origin,
        axis=axis,
        radius=float(radius),
        half_angle=float(half_angle),
        minor=float(minor),
        inner=kind not in ("plane", "free") and float(outward @ away) < 0,
        area=area,
        span=span,
        sweep=float(sweep),
        centre=centre,
        edges=edges,
        inner_loops=inner_loops,
    )


def _recognise(shape: Any) -> tuple[str, Any]:
    """The canonical surface that a free-form face follows within tolerance, if any."""
    finder = ShapeAnalysis_CanonicalRecognition(shape)
    for kind, test, surface in (
        ("plane", "IsPlane", gp_Pln()),
        ("cylinder", "IsCylinder", gp_Cylinder()),
        ("cone", "IsCone", gp_Cone()),
        ("sphere", "IsSphere", gp_Sphere()),
    ):
        if getattr(finder, test)(_CANONICAL, surface):
            return kind, surface
    return "free", None


def _edge_normal(edge: Any, face: Any, fraction: float = 0.5) -> Vec | None:
    """Outward normal of `face` at a point of its edge."""
    first, last = 0.0, 0.0
    curve = BRep_Tool.CurveOnSurface_s(edge, face, first, last)
    if curve is None:
        return None
    lo, hi = BRep_Tool.Range_s(edge)
    uv = curve.Value(lo + (hi - lo) * fraction)
    return face_normal(face, BRepAdaptor_Surface(face, False), uv.X(), uv.Y())


def _dihedral(edge: Any, faces: list[Any], reversed_in_first: bool) -> Dihedral:
    """Convex, concave or smooth, from exact normals at the middle of the edge."""
    if len(faces) < 2 or faces[0].IsSame(faces[1]):
        return "seam"
    n1, n2 = _edge_normal(edge, faces[0]), _edge_normal(edge, faces[1])
    if n1 is None or n2 is None:
        return "smooth"
    if float(n1 @ n2) > math.cos(SMOOTH):
        return "smooth"
    tangent = _edge_tangent(edge, reversed_in_first)
    inward = np.cross(n1, tangent)
    return "convex" if float(inward @ n2) < 0 else "concave"


def _edge_tangent(edge: Any, reversed_in_face: bool) -> Vec:
    """Tangent at mid-edge, in the sense that keeps the face's material on its left."""
    curve = BRepAdaptor_Curve(edge)
    p, d = gp_Pnt(), gp_Vec()
    curve.D1((curve.FirstParameter() + curve.LastParameter()) / 2, p, d)
    tangent = np.array([d.X(), d.Y(), d.Z()])
    return -tangent if reversed_in_face else tangent


def _edge(index: int, shape: Any, face_ids: tuple[int, ...], faces: list[Any], flipped: bool) -> Edge:
    curve = BRepAdaptor_Curve(shape)
    lo, hi = curve.FirstParameter(), curve.LastParameter()
    start, end, middle = (_v(curve.Value(t)) for t in (lo, hi, (lo + hi) / 2))
    t = curve.GetType()
    kind, centre, axis, radius, sweep = "free", middle, _ZERO, 0.0, 0.0
    if t == CT.GeomAbs_Line:
        kind, axis = "line", _v(curve.Line().Direction())
    elif t == CT.GeomAbs_Circle:
        circle = curve.Circle()
        kind, centre, axis = "circle", _v(circle.Location()), _canonical_sign(_v(circle.Axis().Direction()))
        radius, sweep = circle.Radius(), hi - lo
    elif t == CT.GeomAbs_Ellipse:
        kind = "ellipse"
        centre, axis = _v(curve.Ellipse().Location()), _canonical_sign(_v(curve.Ellipse().Axis().Direction()))
        radius, sweep = curve.Ellipse().MajorRadius(), hi - lo
    else:
        finder = ShapeAnalysis_CanonicalRecognition(shape)
        circle = gp_Circ()
        chord = float(np.linalg.norm(end - start))
        points = np.array([_v(curve.Value(lo + (hi - lo) * t)) for t in _UNEVEN])
        if chord > NOTHING:
            along = (end - start) / chord
            off = points - start - np.outer((points - start) @ along, along)
            if float(np.abs(off).max()) < _CANONICAL:
                kind, axis = "line", along
        if kind == "free" and finder.IsCircle(_CANONICAL, circle):
            kind, centre, axis = "circle", _v(circle.Location()), _canonical_sign(_v(circle.Axis().Direction()))
            radius = circle.Radius()
            sweep = GCPnts_AbscissaPoint.Length_s(curve) / radius if radius > 0 else 0.0
    length = GCPnts_AbscissaPoint.Length_s(curve)
    return Edge(
        index=index,
        kind=kind,  # type: ignore[arg-type]
        start=start,
        end=end,
        middle=middle,
        centre=centre,
        axis=axis,
        radius=float(radius),
        sweep=float(sweep),
        length=float(length),
        faces=face_ids,
        dihedral=_dihedral(shape, faces, flipped),
    )


def _maps(shape: Any) -> tuple[list[Any], Any]:
    face_map, edge_map = TopTools_IndexedMapOfShape(), TopTools_IndexedMapOfShape()
    TopExp.MapShapes_s(shape, TopAbs_FACE, face_map)
    TopExp.MapShapes_s(shape, TopAbs_EDGE, edge_map)
    return [TopoDS.Face_s(face_map.FindKey(k)) for k in range(1, face_map.Extent() + 1)], edge_map


def shapes_of(shape: Any) -> tuple[Any, tuple[Any, ...], tuple[Any, ...]]:
    """A kernel solid with its faces and edges in the order of its tables."""
    faces, edge_map = _maps(shape)
    edges = (TopoDS.Edge_s(edge_map.FindKey(k)) for k in range(1, edge_map.Extent() + 1))
    return shape, tuple(faces), tuple(e for e in edges if not BRep_Tool.Degenerated_s(e))


def build_tables(shape: Any) -> tuple[tuple[Face, ...], tuple[Edge, ...], tuple[Any, ...], tuple[Any, ...]]:
    """Faces, edges and their kernel shapes, in the kernel's own (deterministic) order."""
    face_shapes, edge_map = _maps(shape)
    # For each edge, the faces around it and whether it runs reversed in them. MapShapes composes the
    # orientation of the edge in the face with that of the face itself.
    around: dict[int, list[tuple[int, bool]]] = {}
    for i, face in enumerate(face_shapes):
        local = TopTools_IndexedMapOfShape()
        TopExp.MapShapes_s(face, TopAbs_EDGE, local)
        for k in range(1, local.Extent() + 1):
            key = local.FindKey(k)
            around.setdefault(edge_map.FindIndex(key), []).append((i, key.Orientation() == TopAbs_REVERSED))
    edges: list[Edge] = []
    wire_pieces: list[Any] = []
    of_face: dict[int, list[int]] = {}
    number: dict[int, int] = {}
    for k in range(1, edge_map.Extent() + 1):
        edge = TopoDS.Edge_s(edge_map.FindKey(k))
        if BRep_Tool.Degenerated_s(edge):
            continue
        uses = around.get(k, [])
        ids = tuple(dict.fromkeys(i for i, _ in uses))
        index = len(edges)
        edges.append(_edge(index, edge, ids, [face_shapes[i] for i in ids], uses[0][1] if uses else False))
        wire_pieces.append(edge)
        number[k] = index
        for i in ids:
            of_face.setdefault(i, []).append(index)
    faces = tuple(
        _face(i, s, tuple(of_face.get(i, ())), _inner_loops(s, edge_map, number)) for i, s in enumerate(face_shapes)
    )
    return faces, tuple(edges), tuple(face_shapes), tuple(wire_pieces)
