"""Tessellation of a solid for the screen: triangles by face, and crisp edges."""

from typing import Any

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.TopAbs import TopAbs_FACE, TopAbs_REVERSED
from OCP.TopExp import TopExp_Explorer
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS

from canonis.core.solid.model import Solid
from canonis.core.solid.probe import edge_points

__all__ = ["mesh_of", "shape_mesh"]


def mesh_of(solid: Solid) -> dict[str, Any]:
    """Flat arrays for the browser: `positions` (xyz…, mm), `triangles` (indices), `faces` (face of each triangle)
    `edges` (polylines of sharp edges) and `edge_index` (the edge of each)."""
    BRepMesh_IncrementalMesh(solid.shape, max(0.01, solid.diagonal * 8e-4), False, 0.25, True)
    positions: list[float] = []
    triangles: list[int] = []
    owners: list[int] = []
    for index, face in enumerate(solid.face_shapes):
        location = TopLoc_Location()
        mesh = BRep_Tool.Triangulation_s(face, location)
        if mesh is None:
            continue
        move = location.Transformation()
        base = len(positions) // 3
        for k in range(1, mesh.NbNodes() + 1):
            p = mesh.Node(k).Transformed(move)
            positions += [round(p.X(), 4), round(p.Y(), 4), round(p.Z(), 4)]
        flip = face.Orientation() == TopAbs_REVERSED
        for k in range(1, mesh.NbTriangles() + 1):
            a, b, c = mesh.Triangle(k).Get()
            triangles += (
                [base + a - 1, base + c - 1, base + b - 1] if flip else [base + a - 1, base + b - 1, base + c - 1]
            )
            owners.append(index)
    lines: list[list[float]] = []
    numbers: list[int] = []
    for index, edge in enumerate(solid.edges):
        if edge.dihedral in ("convex", "concave"):
            n = 2 if edge.kind == "line" else max(8, int(abs(edge.sweep) * 10) if edge.kind == "circle" else 24)
            lines.append([round(float(c), 4) for c in np.ravel(edge_points(solid, index, n))])
            numbers.append(index)
    return {"positions": positions, "triangles": triangles, "faces": owners, "edges": lines, "edge_index": numbers}


def shape_mesh(shape: Any, size: float) -> dict[str, Any]:
    """Triangles of any kernel shape: `positions` (xyz…, mm) and `triangles`; `size` is the part's, mm."""
    BRepMesh_IncrementalMesh(shape, max(0.01, size * 8e-4), False, 0.25, True)
    positions: list[float] = []
    triangles: list[int] = []
    explorer = TopExp_Explorer(shape, TopAbs_FACE)
    while explorer.More():
        location = TopLoc_Location()
        mesh = BRep_Tool.Triangulation_s(TopoDS.Face_s(explorer.Current()), location)
        explorer.Next()
        if mesh is None:
            continue
        base = len(positions) // 3
        for k in range(1, mesh.NbNodes() + 1):
            p = mesh.Node(k).Transformed(location.Transformation())
            positions += [round(p.X(), 4), round(p.Y(), 4), round(p.Z(), 4)]
        for k in range(1, mesh.NbTriangles() + 1):
            triangles += [base + i - 1 for i in mesh.Triangle(k).Get()]
    return {"positions": positions, "triangles": triangles}
