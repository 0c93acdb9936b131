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
from canonis.core.tolerances import NOTHING

__all__ = ["edge_dense", "edge_ellipse", "level_points", "normals_along", "turned_away"]

#: A step shorter than this has no direction.
_DEGENERATE = 1e-14


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


#: What is to be zero at a place of a surface (parameters u, v), how it changes by u and by v, and the place.
_Wanted = Callable[[Any, float, float], tuple[float, float, float, gp_Pnt]]


def turned_away(solid: Solid, face: int, toward: Vec, rows: Vec) -> Vec:
    """Points (n×3) near `rows` (n×5: place, parameters) at which the face is square to `toward`."""
    x, y, z = (float(c) for c in toward)

    def wanted(surface: Any, u: float, v: float) -> tuple[float, float, float, gp_Pnt]:
        p, du, dv, duu, dvv, duv = gp_Pnt(), gp_Vec(), gp_Vec(), gp_Vec(), gp_Vec(), gp_Vec()
        surface.D2(u, v, p, du, dv, duu, dvv, duv)
        # The normal du × dv against the direction; its length hardly changes from one step to the next.
        ux, uy, uz, vx, vy, vz = du.X(), du.Y(), du.Z(), dv.X(), dv.Y(), dv.Z()
        # direction × du and dv × direction turn the two products into one each.
        ax, ay, az = vy * z - vz * y, vz * x - vx * z, vx * y - vy * x
        bx, by, bz = y * uz - z * uy, z * ux - x * uz, x * uy - y * ux
        nx, ny, nz = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
        size = math.sqrt(nx * nx + ny * ny + nz * nz)
        if size < _DEGENERATE:
            return 0.0, 0.0, 0.0, p
        g = nx * x + ny * y + nz * z
        qx, qy, qz = duv.X(), duv.Y(), duv.Z()
        gu = duu.X() * ax + duu.Y() * ay + duu.Z() * az + qx * bx + qy * by + qz * bz
        gv = qx * ax + qy * ay + qz * az + dvv.X() * bx + dvv.Y() * by + dvv.Z() * bz
        return g / size, gu / size, gv / size, p

    return _all_refined(solid, face, wanted, rows)


def level_points(solid: Solid, face: int, toward: Vec, depth: float, rows: Vec) -> Vec:
    """Points (n×3) of a face near `rows` (n×5: place, parameters) at the level `depth` (mm) along `toward`."""
    x, y, z = (float(c) for c in toward)

    def wanted(surface: Any, u: float, v: float) -> tuple[float, float, float, gp_Pnt]:
        p, du, dv = gp_Pnt(), gp_Vec(), gp_Vec()
        surface.D1(u, v, p, du, dv)
        return (
            p.X() * x + p.Y() * y + p.Z() * z - depth,
            du.X() * x + du.Y() * y + du.Z() * z,
            dv.X() * x + dv.Y() * y + dv.Z() * z,
            p,
        )

    return _all_refined(solid, face, wanted, rows)


def _all_refined(solid: Solid, face: int, wanted: _Wanted, rows: Vec) -> Vec:
    surface = BRepAdaptor_Surface(solid.face_shapes[face])
    range_ = (
        surface.FirstUParameter(),
        surface.LastUParameter(),
        surface.FirstVParameter(),
        surface.LastVParameter(),
    )
    out = np.array(rows[:, :3])
    for k, (u, v) in enumerate(rows[:, 3:].tolist()):
        place = None if math.isnan(u) else _refined(surface, range_, wanted, u, v)
        if place is not None:
            out[k] = (place.X(), place.Y(), place.Z())
    return out


def _refined(
    surface: Any, range_: tuple[float, float, float, float], wanted: _Wanted, u: float, v: float
) -> gp_Pnt | None:
    """The place near a pair of parameters at which `wanted` is zero, by steps that are least in shares of the range.

    None where it is too far off to be the same place.
    """
    u0, u1, v0, v1 = range_
    wu, wv = (u1 - u0) ** 2, (v1 - v0) ** 2
    start = (u, v)
    g, gu, gv, place = wanted(surface, u, v)
    for _ in range(6):
        size = gu * gu * wu + gv * gv * wv
        if abs(g) < NOTHING / 10 or size < _DEGENERATE**2:
            break
        u2 = min(max(u - g * gu * wu / size, u0), u1)
        v2 = min(max(v - g * gv * wv / size, v0), v1)
        g2, gu2, gv2, place2 = wanted(surface, u2, v2)
        if abs(g2) > abs(g):
            break
        u, v, g, gu, gv, place = u2, v2, g2, gu2, gv2, place2
    far = abs(u - start[0]) / (u1 - u0) + abs(v - start[1]) / (v1 - v0)
    return None if far > 0.2 else place
