"""Asking the kernel along edges and faces: exact curves, normals beside an edge, where a face turns away from a viewer."""

import math
from collections.abc import Callable
from typing import Any

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.GCPnts import GCPnts_QuasiUniformDeflection
from OCP.GeomAbs import GeomAbs_CurveType as CT
from OCP.gp import gp_Pnt, gp_Vec

from canonis.core.solid.model import Solid, Vec
from canonis.core.solid.tables import face_normal

__all__ = ["edge_dense", "edge_ellipse", "level_points", "normals_along", "turned_away"]


def _v(p: Any) -> Vec:
    return np.array([p.X(), p.Y(), p.Z()])


def edge_ellipse(solid: Solid, index: int) -> tuple[Vec, Vec, Vec, float, float] | None:
    """Centre, both half axes (mm) and the range of angles (radians) of an edge that is an ellipse; None of another."""
    curve = BRepAdaptor_Curve(solid.wire_pieces[index])
    if curve.GetType() != CT.GeomAbs_Ellipse:
        return None
    e = curve.Ellipse()
    a, b = _v(e.XAxis().Direction()) * e.MajorRadius(), _v(e.YAxis().Direction()) * e.MinorRadius()
    return _v(e.Location()), a, b, curve.FirstParameter(), curve.LastParameter()


def edge_dense(solid: Solid, index: int, chord: float) -> Vec:
    """Points along an edge (n×3, mm), the chords between them within `chord` mm of it."""
    curve = BRepAdaptor_Curve(solid.wire_pieces[index])
    try:
        sampler = GCPnts_QuasiUniformDeflection(curve, chord)
        if sampler.IsDone() and sampler.NbPoints() > 1:
            return np.array([_v(sampler.Value(k)) for k in range(1, sampler.NbPoints() + 1)])
    except Exception:  # a degenerate curve on which the kernel's sampler gives up: even steps still draw it
        pass
    return np.array([_v(curve.Value(float(t))) for t in np.linspace(curve.FirstParameter(), curve.LastParameter(), 33)])


def normals_along(solid: Solid, face: int, index: int, n: int) -> Vec:
    """Outward normals (n×3) of a face at even steps along its edge of that index; zero where none is defined."""
    shape, wire = solid.face_shapes[face], solid.wire_pieces[index]
    curve = BRep_Tool.CurveOnSurface_s(wire, shape, 0.0, 0.0)
    out = np.zeros((n, 3))
    if curve is None:
        return out
    surface = BRepAdaptor_Surface(shape, False)
    lo, hi = BRep_Tool.Range_s(wire)
    for k, t in enumerate(np.linspace(lo, hi, n)):
        uv = curve.Value(float(t))
        normal = face_normal(shape, surface, uv.X(), uv.Y())
        if normal is None and k:
            normal = out[k - 1]
        out[k] = normal if normal is not None else 0.0
    if not out[0].any():
        out[0] = out[1]
    return out


_Wanted = Callable[[Any, float, float], tuple[float, Vec]]


def turned_away(solid: Solid, face: int, toward: Vec, rows: Vec) -> Vec:
    """Points (n×3) near `rows` (n×5: place, parameters) at which the face is square to `toward`."""

    def wanted(surface: Any, u: float, v: float) -> tuple[float, Vec]:
        p, du, dv = gp_Pnt(), gp_Vec(), gp_Vec()
        surface.D1(u, v, p, du, dv)
        n = du.Crossed(dv)
        size = n.Magnitude()
        g = (n.X() * toward[0] + n.Y() * toward[1] + n.Z() * toward[2]) / size if size > 1e-14 else 0.0
        return g, np.array([p.X(), p.Y(), p.Z()])

    return _all_refined(solid, face, wanted, rows)


def level_points(solid: Solid, face: int, toward: Vec, depth: float, rows: Vec) -> Vec:
    """Points (n×3) of a face near `rows` (n×5: place, parameters) at the level `depth` (mm) along `toward`."""

    def wanted(surface: Any, u: float, v: float) -> tuple[float, Vec]:
        p = surface.Value(u, v)
        return p.X() * toward[0] + p.Y() * toward[1] + p.Z() * toward[2] - depth, np.array([p.X(), p.Y(), p.Z()])

    return _all_refined(solid, face, wanted, rows)


def _all_refined(solid: Solid, face: int, wanted: _Wanted, rows: Vec) -> Vec:
    surface = BRepAdaptor_Surface(solid.face_shapes[face])
    out = np.empty((len(rows), 3))
    for k, row in enumerate(rows):
        out[k] = _refined(surface, wanted, row)
    return out


def _refined(surface: Any, wanted: _Wanted, row: Vec) -> Vec:
    """The place near a row at which `wanted` is zero, by steps that are least in shares of the parameter range."""
    u, v = float(row[3]), float(row[4])
    if math.isnan(u):
        return np.asarray(row[:3])
    u0, u1, v0, v1 = (
        surface.FirstUParameter(),
        surface.LastUParameter(),
        surface.FirstVParameter(),
        surface.LastVParameter(),
    )
    hu, hv = (u1 - u0) * 1e-5, (v1 - v0) * 1e-5
    start = (u, v)
    g, place = wanted(surface, u, v)
    for _ in range(5):
        if abs(g) < 1e-10:
            break
        su, sv = (hu if u + hu <= u1 else -hu), (hv if v + hv <= v1 else -hv)
        gu = (wanted(surface, u + su, v)[0] - g) / su
        gv = (wanted(surface, u, v + sv)[0] - g) / sv
        wu, wv = (u1 - u0) ** 2, (v1 - v0) ** 2
        size = gu * gu * wu + gv * gv * wv
        if size < 1e-18:
            break
        u2 = min(max(u - g * gu * wu / size, u0), u1)
        v2 = min(max(v - g * gv * wv / size, v0), v1)
        g2, place2 = wanted(surface, u2, v2)
        if abs(g2) > abs(g):
            break
        u, v, g, place = u2, v2, g2, place2
    far = abs(u - start[0]) / (u1 - u0) + abs(v - start[1]) / (v1 - v0)
    return np.asarray(row[:3]) if far > 0.2 else place
