"""Tessellation of a solid for the screen: triangles by face, and crisp edges."""

from typing import Any

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.TopAbs import TopAbs_REVERSED
from OCP.TopLoc import TopLoc_Location

from canonis.core.solid.model import Solid
from canonis.core.solid.probe import edge_points

__all__ = ["mesh_of"]


def mesh_of(solid: Solid) -> dict[str, Any]:
    """Flat arrays for the browser: `positions` (xyz…, mm), `triangles` (indices), `faces` (face of each triangle)
    and `edges` (polylines of sharp edges)."""
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
    lines = []
    for index, edge in enumerate(solid.edges):
        if edge.dihedral in ("convex", "concave"):
            n = 2 if edge.kind == "line" else max(8, int(abs(edge.sweep) * 10) if edge.kind == "circle" else 24)
            lines.append([round(float(c), 4) for c in np.ravel(edge_points(solid, index, n))])
    return {"positions": positions, "triangles": triangles, "faces": owners, "edges": lines}
