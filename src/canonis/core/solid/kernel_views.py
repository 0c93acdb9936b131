"""The kernel's own hidden-line algorithm, behind the same interface: what tests and benchmarks compare ours with."""

import math
from typing import Any

import numpy as np
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepLib import BRepLib
from OCP.GCPnts import GCPnts_QuasiUniformDeflection
from OCP.GeomAbs import GeomAbs_CurveType as CT
from OCP.gp import gp_Ax2, gp_Dir, gp_Pnt
from OCP.HLRAlgo import HLRAlgo_Projector
from OCP.HLRBRep import HLRBRep_Algo, HLRBRep_HLRToShape
from OCP.TopAbs import TopAbs_EDGE
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS

from canonis.core.solid.model import Solid, Vec
from canonis.core.solid.raw_curve import LineClass, RawCurve
from canonis.core.tolerances import FITTED, NOISE, NOTHING

__all__ = ["hide", "kernel_lines"]

#: Chord error of sampled curves, mm at 1:1.
DEFLECTION = 4e-4


def _plane(p: Any) -> Vec:
    return np.array([p.X(), p.Y()])


def _curve(edge: Any, line_class: LineClass) -> RawCurve | None:
    adaptor = BRepAdaptor_Curve(edge)
    lo, hi = adaptor.FirstParameter(), adaptor.LastParameter()
    start, end = _plane(adaptor.Value(lo)), _plane(adaptor.Value(hi))
    t = adaptor.GetType()
    if t == CT.GeomAbs_Line:
        return RawCurve(line_class, "line", np.array([start, end]))
    if t == CT.GeomAbs_Circle:
        circle = adaptor.Circle()
        centre = _plane(circle.Location())
        x, y = circle.XAxis().Direction(), circle.YAxis().Direction()
        turn = 1.0 if x.X() * y.Y() - x.Y() * y.X() > 0 else -1.0
        base = math.atan2(x.Y(), x.X())
        angles = sorted((base + turn * lo, base + turn * hi))
        return RawCurve(line_class, "arc", centre=centre, radius=circle.Radius(), a0=angles[0], a1=angles[1])
    try:
        sampler = GCPnts_QuasiUniformDeflection(adaptor, DEFLECTION)
        if sampler.IsDone() and sampler.NbPoints() > 1:
            points = np.array([_plane(sampler.Value(k)) for k in range(1, sampler.NbPoints() + 1)])
        else:
            raise ValueError
    except Exception:  # degenerate curve: the kernel's sampler gives up; even parameters still draw it
        points = np.array([_plane(adaptor.Value(lo + (hi - lo) * k / 32)) for k in range(33)])
    chord = end - start
    length = float(np.linalg.norm(chord))
    if length < NOTHING and float(np.ptp(points, axis=0).max()) < NOISE:
        return None
    spread = points - points[0]
    far = spread[int(np.argmax((spread**2).sum(1)))]
    reach = float(np.linalg.norm(far))
    if reach > 0 and float(np.abs(spread[:, 0] * far[1] - spread[:, 1] * far[0]).max()) / reach < FITTED:
        # A circle seen edge-on, or a straight spline: it draws as one straight line.
        along = spread @ (far / reach)
        a, b = points[int(np.argmin(along))], points[int(np.argmax(along))]
        return RawCurve(line_class, "line", np.array([a, b]))
    return RawCurve(line_class, "curve", points)


def kernel_lines(solid: Solid, right: Vec, toward: Vec, hidden: bool = True) -> list[RawCurve]:
    """All curves of an orthographic view of a solid; see `hide`."""
    return hide(solid.shape, right, toward, hidden)


def hide(shape: Any, right: Vec, toward: Vec, hidden: bool = True) -> list[RawCurve]:
    """All curves of an orthographic view of a kernel shape, in the plane of the view at 1:1.

    `right` and `toward` (the viewer) are unit vectors in the solid's axes. Sharp edges and silhouettes are
    `visible` or `hidden`; smooth transitions `smooth` (visible ones only).
    """
    algo = HLRBRep_Algo()
    algo.Add(shape)
    axes = gp_Ax2(gp_Pnt(0, 0, 0), gp_Dir(*map(float, toward)), gp_Dir(*map(float, right)))
    algo.Projector(HLRAlgo_Projector(axes))
    algo.Update()
    algo.Hide()
    maker = HLRBRep_HLRToShape(algo)
    wanted: list[tuple[LineClass, Any]] = [
        ("visible", maker.VCompound()),
        ("visible", maker.OutLineVCompound()),
        ("smooth", maker.Rg1LineVCompound()),
    ]
    if hidden:
        wanted += [("hidden", maker.HCompound()), ("hidden", maker.OutLineHCompound())]
    out: list[RawCurve] = []
    for line_class, compound in wanted:
        if compound is None or compound.IsNull():
            continue
        BRepLib.BuildCurves3d_s(compound)
        explorer = TopExp_Explorer(compound, TopAbs_EDGE)
        while explorer.More():
            curve = _curve(TopoDS.Edge_s(explorer.Current()), line_class)
            if curve is not None:
                out.append(curve)
            explorer.Next()
    return out
