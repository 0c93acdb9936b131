"""Tessellation of a solid for the screen: triangles by face, and crisp edges."""

from collections.abc import Sequence
from typing import Any

import numpy as np
import shapely
from OCP.BRep import BRep_Builder, BRep_Tool
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.TopAbs import TopAbs_FACE, TopAbs_REVERSED
from OCP.TopExp import TopExp_Explorer
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS, TopoDS_Compound

from canonis.core.solid.model import Solid, Vec
from canonis.core.solid.probe import edge_points
from canonis.core.solid.validity import CROWDED

__all__ = ["mesh_of", "shape_mesh"]


def mesh_of(solid: Solid) -> dict[str, Any]:
    """Flat arrays for the browser: `positions` (xyz…, mm), `triangles` (indices), `faces` (face of each triangle)
    `edges` (polylines of sharp edges) and `edge_index` (the edge of each)."""
    crowded = {f.index for f in solid.faces if f.kind == "plane" and len(f.inner_loops) > CROWDED}
    builder, plain = BRep_Builder(), TopoDS_Compound()
    builder.MakeCompound(plain)
    for index, face in enumerate(solid.face_shapes):
        if index not in crowded:
            builder.Add(plain, face)
    # On a part of thousands of faces each is small on the screen.
    angle = 0.25 if len(solid.faces) < 800 else 0.5
    BRepMesh_IncrementalMesh(plain, max(0.01, solid.diagonal * 8e-4), False, angle, True)
    positions: list[float] = []
    triangles: list[int] = []
    owners: list[int] = []
    for index, face in enumerate(solid.face_shapes):
        if index in crowded:
            corners = _flat_triangles(solid, index)
            base = len(positions) // 3
            positions += np.round(corners.ravel(), 4).tolist()
            triangles += range(base, base + len(corners))
            owners += [index] * (len(corners) // 3)
            continue
        location = TopLoc_Location()
        mesh = BRep_Tool.Triangulation_s(face, location)
        if mesh is None:
            continue
        move = location.Transformation()
        base = len(positions) // 3
        for k in range(1, mesh.NbNodes() + 1):
            p = mesh.Node(k).Transformed(move)
            positions += [p.X(), p.Y(), p.Z()]
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
            n = (
                2
                if edge.kind == "line"
                else max(8, int(abs(edge.sweep) * 2.5 / angle) if edge.kind == "circle" else 24)
            )
            lines.append(np.round(np.ravel(edge_points(solid, index, n)), 4).tolist())
            numbers.append(index)
    return {
        "positions": np.round(positions, 4).tolist(),
        "triangles": triangles,
        "faces": owners,
        "edges": lines,
        "edge_index": numbers,
    }


def _ring(solid: Solid, edges: Sequence[int]) -> Vec:
    """Points along a closed boundary (n×3), mm, its edges put in order end to end."""
    left = [
        edge_points(
            solid, e, 2 if solid.edges[e].kind == "line" else max(4, int(abs(solid.edges[e].sweep) * 2.6) or 16)
        )
        for e in edges
    ]
    ring = [left.pop(0)]
    while left:
        end = ring[-1][-1]
        k = min(
            range(len(left)),
            key=lambda j: min(float(np.linalg.norm(left[j][0] - end)), float(np.linalg.norm(left[j][-1] - end))),
        )
        piece = left.pop(k)
        ring.append(piece if np.linalg.norm(piece[0] - end) <= np.linalg.norm(piece[-1] - end) else piece[::-1])
    return np.vstack([piece[:-1] for piece in ring])


def _flat_triangles(solid: Solid, index: int) -> Vec:
    """Corners of the triangles of a flat face (3n×3, mm), facing outward. The kernel's own triangulation of a face takes
    time that grows with the square of its boundaries."""
    face = solid.faces[index]
    u = np.cross(face.axis, np.eye(3)[int(np.argmin(np.abs(face.axis)))])
    u = u / np.linalg.norm(u)
    v = np.cross(face.axis, u)
    inner = {e for loop in face.inner_loops for e in loop}
    rings = [
        _ring(solid, [e for e in face.edges if e not in inner]),
        *(_ring(solid, loop) for loop in face.inner_loops),
    ]
    flat = [np.c_[r @ u, r @ v] for r in rings]
    parts = shapely.constrained_delaunay_triangles(shapely.Polygon(flat[0], flat[1:]))
    # Each triangle comes closed: four points, the last the first again.
    points = shapely.get_coordinates(parts).reshape(-1, 4, 2)[:, :3]
    p, q = points[:, 1] - points[:, 0], points[:, 2] - points[:, 0]
    side = p[:, 0] * q[:, 1] - p[:, 1] * q[:, 0]
    points[side < 0] = points[side < 0][:, ::-1]
    points = points.reshape(-1, 2)
    return np.asarray(points[:, :1] * u + points[:, 1:] * v + face.axis * face.offset)


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
