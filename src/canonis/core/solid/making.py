"""Building solids with the kernel: profiles, prisms, turned bodies, booleans, rounds, STEP out."""

import math
import os
import re
import tempfile
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
from OCP.BRepBuilderAPI import (
    BRepBuilderAPI_MakeEdge,
    BRepBuilderAPI_MakeFace,
    BRepBuilderAPI_MakeWire,
    BRepBuilderAPI_Transform,
)
from OCP.BRepFilletAPI import BRepFilletAPI_MakeChamfer, BRepFilletAPI_MakeFillet
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism, BRepPrimAPI_MakeRevol
from OCP.GC import GC_MakeArcOfCircle
from OCP.gp import gp_Ax1, gp_Ax2, gp_Circ, gp_Dir, gp_Pnt, gp_Trsf, gp_Vec
from OCP.Interface import Interface_Static
from OCP.ShapeUpgrade import ShapeUpgrade_UnifySameDomain
from OCP.STEPControl import STEPControl_AsIs, STEPControl_Writer
from OCP.TopAbs import TopAbs_SOLID
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS
from OCP.TopTools import TopTools_ListOfShape

from canonis.core.faults import BadInput
from canonis.core.quantity import Unit
from canonis.core.solid.model import Vec
from canonis.core.solid.reader import quiet_kernel
from canonis.core.tolerances import NOTHING, same

__all__ = [
    "arc_edge", "chamfer_edges", "circle_wire", "cut", "face_of", "fuse", "line_edge", "mirrored", "moved", "prism",
    "round_edges", "turned", "turned_about", "wire_of", "write_step",
]  # fmt: skip


def _p(v: Vec | Sequence[float]) -> gp_Pnt:
    return gp_Pnt(float(v[0]), float(v[1]), float(v[2]))


def _d(v: Vec | Sequence[float]) -> gp_Dir:
    return gp_Dir(float(v[0]), float(v[1]), float(v[2]))


def line_edge(a: Vec, b: Vec) -> Any:
    """A straight edge between two points."""
    return BRepBuilderAPI_MakeEdge(_p(a), _p(b)).Edge()


def arc_edge(a: Vec, middle: Vec, b: Vec) -> Any:
    """A circular edge through three points."""
    return BRepBuilderAPI_MakeEdge(GC_MakeArcOfCircle(_p(a), _p(middle), _p(b)).Value()).Edge()


def circle_wire(centre: Vec, normal: Vec, radius: float) -> Any:
    """A full circle as a wire."""
    circle = gp_Circ(gp_Ax2(_p(centre), _d(normal)), radius)
    return BRepBuilderAPI_MakeWire(BRepBuilderAPI_MakeEdge(circle).Edge()).Wire()


def wire_of(edges: Sequence[Any]) -> Any:
    """A wire of edges in order."""
    maker = BRepBuilderAPI_MakeWire()
    for edge in edges:
        maker.Add(edge)
    if not maker.IsDone():
        raise BadInput("the outline does not close")
    return maker.Wire()


def face_of(outer: Any, holes: Sequence[Any]) -> Any:
    """A planar face from an outer wire and hole wires."""
    maker = BRepBuilderAPI_MakeFace(outer, True)
    if not maker.IsDone():
        raise BadInput("the outline is not flat or does not close")
    face = maker.Face()
    if not holes:
        return face
    tools, arguments = TopTools_ListOfShape(), TopTools_ListOfShape()
    arguments.Append(face)
    for hole in holes:
        tools.Append(BRepBuilderAPI_MakeFace(hole, True).Face())
    cutter = BRepAlgoAPI_Cut()
    cutter.SetArguments(arguments)
    cutter.SetTools(tools)
    cutter.Build()
    return _one_face(cutter.Shape())


def _one_face(shape: Any) -> Any:
    from OCP.TopAbs import TopAbs_FACE

    explorer = TopExp_Explorer(shape, TopAbs_FACE)
    if not explorer.More():
        raise BadInput("a hole of the profile lies outside it")
    return TopoDS.Face_s(explorer.Current())


def prism(face: Any, vector: Vec) -> Any:
    """A face swept along a vector."""
    return BRepPrimAPI_MakePrism(face, gp_Vec(*map(float, vector))).Shape()


def turned(face: Any, point: Vec, direction: Vec, degrees: float) -> Any:
    """A face turned about an axis."""
    axis = gp_Ax1(_p(point), _d(direction))
    if same(degrees, 360, NOTHING):
        return BRepPrimAPI_MakeRevol(face, axis).Shape()
    return BRepPrimAPI_MakeRevol(face, axis, math.radians(degrees)).Shape()


def _only_solid(shape: Any) -> Any:
    solids = []
    explorer = TopExp_Explorer(shape, TopAbs_SOLID)
    while explorer.More():
        solids.append(TopoDS.Solid_s(explorer.Current()))
        explorer.Next()
    if not solids:
        raise BadInput("nothing is left of the solid")
    return solids[0] if len(solids) == 1 else shape


def _tidy(shape: Any) -> Any:
    unify = ShapeUpgrade_UnifySameDomain(shape, True, True, False)
    unify.Build()
    return _only_solid(unify.Shape())


def fuse(a: Any, b: Any) -> Any:
    """The union of two bodies, faces merged."""
    return _tidy(BRepAlgoAPI_Fuse(a, b).Shape())


def cut(a: Any, b: Any) -> Any:
    """A body less another, faces merged."""
    return _tidy(BRepAlgoAPI_Cut(a, b).Shape())


def moved(shape: Any, vector: Vec) -> Any:
    """A shifted copy."""
    t = gp_Trsf()
    t.SetTranslation(gp_Vec(*map(float, vector)))
    return BRepBuilderAPI_Transform(shape, t, True).Shape()


def turned_about(shape: Any, point: Vec, direction: Vec, degrees: float) -> Any:
    """A copy turned about an axis."""
    t = gp_Trsf()
    t.SetRotation(gp_Ax1(_p(point), _d(direction)), math.radians(degrees))
    return BRepBuilderAPI_Transform(shape, t, True).Shape()


def mirrored(shape: Any, point: Vec, normal: Vec) -> Any:
    """A mirror image across a plane."""
    t = gp_Trsf()
    t.SetMirror(gp_Ax2(_p(point), _d(normal)))
    return BRepBuilderAPI_Transform(shape, t, True).Shape()


def round_edges(shape: Any, edges: Sequence[Any], radius: float) -> Any:
    """Constant-radius rounds on edges.

    Raises BadInput when the kernel cannot blend them.
    """
    maker = BRepFilletAPI_MakeFillet(shape)
    for edge in edges:
        maker.Add(radius, edge)
    return _blended(maker, f"no round of radius {radius:g} mm fits those edges")


def chamfer_edges(shape: Any, edges: Sequence[tuple[Any, Any]], leg_a: float, leg_b: float) -> Any:
    """Chamfers on (edge, face) pairs; `leg_a` lies in the face.

    Raises BadInput when the kernel cannot bevel them.
    """
    maker = BRepFilletAPI_MakeChamfer(shape)
    for edge, face in edges:
        maker.Add(leg_a, leg_b, edge, face)
    return _blended(maker, f"no chamfer of {leg_a:g} × {leg_b:g} mm fits those edges")


def _blended(maker: Any, complaint: str) -> Any:
    try:
        maker.Build()
        if maker.IsDone():
            return _only_solid(maker.Shape())
    except BadInput:
        raise
    except Exception:  # the kernel's untyped failure means the same to the user
        pass
    raise BadInput(complaint)


def write_step(shape: Any, name: str, unit: Unit) -> bytes:
    """The STEP text (AP214) of a body; the time stamp is fixed so that equal bodies give equal bytes."""
    quiet_kernel()
    name = re.sub(r"[^ -&(-~]", "_", name)
    Interface_Static.SetCVal_s("write.step.schema", "AP214IS")
    Interface_Static.SetCVal_s("write.step.unit", "INCH" if unit is Unit.INCH else "MM")
    writer = STEPControl_Writer()
    writer.Transfer(shape, STEPControl_AsIs)
    handle, path = tempfile.mkstemp(suffix=".step")
    os.close(handle)
    try:
        writer.Write(path)
        text = Path(path).read_text()
    finally:
        Path(path).unlink(missing_ok=True)
    text = re.sub(r"FILE_NAME\('[^']*','[^']*'", f"FILE_NAME('{name}','2026-01-01T00:00:00'", text, count=1)
    # The writer numbers its products within one process; the part's own name keeps the bytes equal.
    text = re.sub(r"PRODUCT\('[^']*',\s*'[^']*'", f"PRODUCT('{name}','{name}'", text, count=1)
    return text.encode()


def piercing(shape: Any) -> Callable[[Vec, Vec], list[float]]:
    """A function that gives the distances along a ray (start, direction) at which it meets a body's surface, mm,
    ascending."""
    from OCP.gp import gp_Lin
    from OCP.IntCurvesFace import IntCurvesFace_ShapeIntersector

    finder = IntCurvesFace_ShapeIntersector()
    finder.Load(shape, 1e-6)

    def exits(start: Vec, direction: Vec) -> list[float]:
        finder.Perform(gp_Lin(_p(start), _d(direction)), -1e-6, 1e6)
        return sorted(finder.WParameter(k) for k in range(1, finder.NbPnt() + 1))

    return exits
