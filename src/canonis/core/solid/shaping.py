"""Shaping solids with the kernel: draft, loft, sweep, helix, shell, thickening to a face, and comparing two bodies."""

import math
from collections.abc import Sequence
from typing import Any

import numpy as np
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common, BRepAlgoAPI_Cut
from OCP.BRepBuilderAPI import (
    BRepBuilderAPI_MakeEdge,
    BRepBuilderAPI_MakeFace,
    BRepBuilderAPI_MakeVertex,
    BRepBuilderAPI_MakeWire,
)
from OCP.BRepClass3d import BRepClass3d_SolidClassifier
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepLib import BRepLib
from OCP.BRepOffsetAPI import (
    BRepOffsetAPI_DraftAngle,
    BRepOffsetAPI_MakePipe,
    BRepOffsetAPI_MakePipeShell,
    BRepOffsetAPI_MakeThickSolid,
    BRepOffsetAPI_ThruSections,
)
from OCP.BRepPrimAPI import BRepPrimAPI_MakeCylinder, BRepPrimAPI_MakeHalfSpace
from OCP.BRepTools import BRepTools
from OCP.GCE2d import GCE2d_MakeSegment
from OCP.Geom import Geom_CylindricalSurface
from OCP.gp import gp_Ax2, gp_Ax3, gp_Dir, gp_Pln, gp_Pnt, gp_Pnt2d
from OCP.TopAbs import TopAbs_FACE, TopAbs_IN, TopAbs_SOLID
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS
from OCP.TopTools import TopTools_ListOfShape

from canonis.core.faults import BadInput
from canonis.core.solid.model import Vec
from canonis.core.tolerances import NOTHING, square

__all__ = [
    "beyond_cylinder",
    "beyond_plane",
    "common",
    "contains",
    "difference",
    "drafted",
    "helical_sweep",
    "helix_wire",
    "lofted",
    "outer_wire",
    "piece_touching",
    "pieces",
    "shelled",
    "side_faces",
    "swept",
]  # fmt: skip

#: Longer than any part, mm.
_FAR = 1e4


def _p(v: Vec | Sequence[float]) -> gp_Pnt:
    return gp_Pnt(float(v[0]), float(v[1]), float(v[2]))


def _d(v: Vec | Sequence[float]) -> gp_Dir:
    return gp_Dir(float(v[0]), float(v[1]), float(v[2]))


def pieces(shape: Any) -> list[Any]:
    """The separate solids of a shape."""
    out, explorer = [], TopExp_Explorer(shape, TopAbs_SOLID)
    while explorer.More():
        out.append(TopoDS.Solid_s(explorer.Current()))
        explorer.Next()
    return out


def _faces(shape: Any) -> list[Any]:
    out, explorer = [], TopExp_Explorer(shape, TopAbs_FACE)
    while explorer.More():
        out.append(TopoDS.Face_s(explorer.Current()))
        explorer.Next()
    return out


def _only(shape: Any, complaint: str) -> Any:
    found = pieces(shape)
    if not found:
        raise BadInput(complaint)
    return found[0] if len(found) == 1 else shape


def outer_wire(face: Any) -> Any:
    """The outer boundary of a face."""
    return BRepTools.OuterWire_s(face)


def difference(a: Any, b: Any) -> Any:
    """What is in `a` and not in `b`."""
    return BRepAlgoAPI_Cut(a, b).Shape()


def common(a: Any, b: Any) -> Any:
    """What two bodies share."""
    return BRepAlgoAPI_Common(a, b).Shape()


def contains(shape: Any, point: Vec) -> bool:
    """Whether a point lies inside the body."""
    return BRepClass3d_SolidClassifier(shape, _p(point), 1e-7).State() == TopAbs_IN


def piece_touching(shape: Any, point: Vec) -> Any:
    """The piece of a shape nearest to a point."""
    vertex = BRepBuilderAPI_MakeVertex(_p(point)).Vertex()
    found = pieces(shape)
    if not found:
        raise BadInput("nothing of it reaches there")
    return min(found, key=lambda s: float(BRepExtrema_DistShapeShape(vertex, s).Value()))


def beyond_plane(origin: Vec, normal: Vec, side: Vec) -> Any:
    """The half space on the side of a plane that `side` points to."""
    sign = 1.0 if float(np.asarray(side) @ normal) > 0 else -1.0
    face = BRepBuilderAPI_MakeFace(gp_Pln(_p(origin), _d(normal))).Face()
    return BRepPrimAPI_MakeHalfSpace(face, _p(np.asarray(origin) + np.asarray(normal) * sign)).Solid()


def beyond_cylinder(point: Vec, axis: Vec, radius: float) -> Any:
    """A long full cylinder."""
    start = np.asarray(point) - np.asarray(axis) * _FAR
    return BRepPrimAPI_MakeCylinder(gp_Ax2(_p(start), _d(axis)), float(radius), 2 * _FAR).Shape()


def side_faces(shape: Any, direction: Vec) -> list[Any]:
    """Faces of a prism that run along its direction."""
    from OCP.BRepAdaptor import BRepAdaptor_Surface

    from canonis.core.solid.tables import face_normal

    out = []
    for face in _faces(shape):
        adaptor = BRepAdaptor_Surface(face)
        u0, u1, v0, v1 = BRepTools.UVBounds_s(face)
        n = face_normal(face, adaptor, (u0 + u1) / 2, (v0 + v1) / 2)
        if n is not None and square(n, direction):
            out.append(face)
    return out


def drafted(shape: Any, faces: Sequence[Any], pull: Vec, neutral: Vec, degrees: float) -> Any:
    """Lean faces by an angle about the plane through `neutral` across `pull`; positive spreads along the pull.

    Raises BadInput when the kernel cannot lean them.
    """
    maker = BRepOffsetAPI_DraftAngle(shape)
    plane = gp_Pln(_p(neutral), _d(pull))
    try:
        for face in faces:
            maker.Add(face, _d(pull), -math.radians(degrees), plane)
            if not maker.AddDone():
                raise BadInput(f"a face cannot be leaned by {degrees:g}°")
        maker.Build()
        if maker.IsDone():
            return _only(maker.Shape(), "nothing is left of the drafted body")
    except BadInput:
        raise
    except Exception:  # the kernel's untyped failure means the same to the user
        pass
    raise BadInput(f"no draft of {degrees:g}° fits those faces")


def lofted(wires: Sequence[Any], ruled: bool) -> Any:
    """A body blended through closed wires in order."""
    if len(wires) < 2:
        raise BadInput("a loft needs at least two profiles")
    maker = BRepOffsetAPI_ThruSections(True, ruled, 1e-6)
    for wire in wires:
        maker.AddWire(wire)
    maker.Build()
    if not maker.IsDone():
        raise BadInput("the profiles cannot be joined by a loft")
    return maker.Shape()


def swept(wire: Any, face: Any) -> Any:
    """A face carried along a path."""
    maker = BRepOffsetAPI_MakePipe(wire, face)
    if not maker.IsDone():
        raise BadInput("the profile cannot follow that path")
    return _only(maker.Shape(), "the profile cannot follow that path")


def helix_wire(point: Vec, axis: Vec, start: Vec, pitch: float, turns: float, right: bool = True) -> tuple[Any, Any]:
    """A helix through `start` about an axis, and a guide helix of a larger radius beside it."""
    rel = np.asarray(start) - point
    lift = np.asarray(axis) * float(rel @ axis)
    radial = rel - lift
    radius = float(np.linalg.norm(radial))
    if radius < NOTHING or pitch <= 0 or turns <= 0:
        raise BadInput("a helix needs a diameter, a pitch and turns above zero")
    frame = gp_Ax3(_p(np.asarray(point) + lift), _d(axis), _d(radial))
    sign = 1.0 if right else -1.0
    wires = []
    for r in (radius, radius * 1.5):
        line = GCE2d_MakeSegment(gp_Pnt2d(0, 0), gp_Pnt2d(sign * 2 * math.pi * turns, pitch * turns)).Value()
        edge = BRepBuilderAPI_MakeEdge(line, Geom_CylindricalSurface(frame, r)).Edge()
        BRepLib.BuildCurves3d_s(edge)
        wires.append(BRepBuilderAPI_MakeWire(edge).Wire())
    return wires[0], wires[1]


def helical_sweep(spine: Any, guide: Any, profile: Any) -> Any:
    """A closed profile carried along a helix, its attitude to the axis kept by the guide."""
    maker = BRepOffsetAPI_MakePipeShell(spine)
    maker.SetMode(guide, True)
    maker.Add(profile, False, False)
    maker.Build()
    if not maker.IsDone() or not maker.MakeSolid():
        raise BadInput("the profile cannot follow that helix")
    shape = maker.Shape()
    BRepLib.OrientClosedSolid_s(pieces(shape)[0])
    return pieces(shape)[0]


def shelled(shape: Any, open_faces: Sequence[Any], thickness: float) -> Any:
    """The body hollowed to a wall of `thickness` (mm, inwards), open at the given faces.

    Raises BadInput when the kernel cannot hollow it.
    """
    faces = TopTools_ListOfShape()
    for face in open_faces:
        faces.Append(face)
    maker = BRepOffsetAPI_MakeThickSolid()
    try:
        from OCP.BRepOffset import BRepOffset_Skin
        from OCP.GeomAbs import GeomAbs_Intersection

        maker.MakeThickSolidByJoin(shape, faces, -thickness, 1e-4, BRepOffset_Skin, False, False, GeomAbs_Intersection)
        if maker.IsDone():
            return _only(maker.Shape(), f"no wall of {thickness:g} mm fits")
    except BadInput:
        raise
    except Exception:  # the kernel's untyped failure means the same to the user
        pass
    raise BadInput(f"no shell of {thickness:g} mm fits that body")
