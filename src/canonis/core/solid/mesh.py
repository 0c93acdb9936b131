"""Tessellation of a solid, made once and shared: by the views, by the space on the screen, by the rays of the proof."""

import io
import math
import re
import struct
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any
from weakref import WeakKeyDictionary

import numpy as np
import shapely
from numpy.typing import NDArray
from OCP.BinTools import BinTools, BinTools_FormatVersion
from OCP.BRep import BRep_Builder, BRep_Tool
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.Message import Message_ProgressRange
from OCP.StdPrs import StdPrs_ToolTriangulatedShape
from OCP.TopAbs import TopAbs_FACE, TopAbs_REVERSED
from OCP.TopExp import TopExp_Explorer
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS, TopoDS_Compound

from canonis.core.solid.model import Edge, Solid, Vec
from canonis.core.solid.probe import edge_points

__all__ = ["DEFLECTION", "Mesh", "mesh_of", "shape_mesh", "solid_mesh"]

#: Chord error of the tessellation as a share of the solid's diagonal. Measured: 1e-3 gives visible mistakes in views.
DEFLECTION = 5e-4
#: Turn between neighbouring facets, radians; on a part of thousands of faces each is small.
_TURN, _TURN_OF_MANY, _MANY = 0.25, 0.5, 800
#: A flat face with more boundaries inside it is divided here: the kernel's time grows with their square.
_LOOPS = 24
#: The most that a chord turns there, radians: small holes need no more corners.
_CHORD = 0.385


@dataclass(frozen=True, eq=False)
class Mesh:
    """Triangles of a solid, facing outward, face by face.

    `points` (n×3, mm), `normals` (n×3, outward, of the surfaces themselves), `uv` (n×2, parameters on the face's
    surface, nan where none are known), `triangles` (m×3 indices), `faces` (m: the face of each triangle),
    `starts` (the first point of each face, and the end). Points are not shared between faces.
    """

    points: Vec
    normals: Vec
    uv: Vec
    triangles: NDArray[np.int64]
    faces: NDArray[np.int64]
    starts: NDArray[np.int64]
    deflection: float


_meshes: WeakKeyDictionary[Solid, Mesh] = WeakKeyDictionary()


def solid_mesh(solid: Solid) -> Mesh:
    """The tessellation of a solid, made when it is first asked for."""
    if solid not in _meshes:
        _meshes[solid] = _tessellate(solid)
    return _meshes[solid]


def _tessellate(solid: Solid) -> Mesh:
    crowded = {f.index for f in solid.faces if f.kind == "plane" and len(f.inner_loops) > _LOOPS}
    builder, plain = BRep_Builder(), TopoDS_Compound()
    builder.MakeCompound(plain)
    for index, face in enumerate(solid.face_shapes):
        if index not in crowded:
            builder.Add(plain, face)
    deflection = max(1e-4, solid.diagonal * DEFLECTION)
    turn = _TURN if len(solid.faces) < _MANY else _TURN_OF_MANY
    BRepMesh_IncrementalMesh(plain, deflection, False, turn, True)
    tables = _written(plain, [k for k in range(len(solid.faces)) if k not in crowded], solid)
    points, normals, uv, triangles, owners, starts = [], [], [], [], [], [0]
    base = 0
    for index, face in enumerate(solid.face_shapes):
        if index in crowded:
            corners = _flat_triangles(solid, index, deflection)
            p, t = corners, np.arange(len(corners)).reshape(-1, 3)
            n = np.broadcast_to(solid.faces[index].axis, p.shape)
            w = np.full((len(p), 2), np.nan)
        else:
            p, n, w, t = tables[index] if index in tables else _read_one(face)
            if face.Orientation() == TopAbs_REVERSED:
                t, n = t[:, ::-1], -n
        points.append(p)
        normals.append(n)
        uv.append(w)
        triangles.append(t + base)
        owners.append(np.full(len(t), index))
        base += len(p)
        starts.append(base)
    return Mesh(
        np.vstack(points),
        np.vstack(normals),
        np.vstack(uv),
        np.vstack(triangles).astype(np.int64),
        np.concatenate(owners),
        np.array(starts),
        deflection,
    )


_Table = tuple[Vec, Vec, Vec, NDArray[np.int64]]


def _written(plain: Any, faces: list[int], solid: Solid) -> dict[int, _Table]:
    """Points, normals, parameters and triangles of many faces at once, from the kernel's binary form.

    Asking the kernel for each point through the bindings takes longer than making the mesh. A face that does not come
    as expected is left out; the caller asks for its points one by one.
    """
    heads: dict[tuple[float, ...], list[int]] = {}
    for index in faces:
        location = TopLoc_Location()
        mesh = BRep_Tool.Triangulation_s(solid.face_shapes[index], location)
        if mesh is None or not location.IsIdentity():
            continue
        if not mesh.HasNormals():
            StdPrs_ToolTriangulatedShape.ComputeNormals_s(solid.face_shapes[index], mesh)
        n = mesh.NbNodes()
        ends = (mesh.Node(1), mesh.Node(n // 2 + 1), mesh.Node(n))
        key = (n, mesh.NbTriangles(), *(c for p in ends for c in (p.X(), p.Y(), p.Z())))
        heads.setdefault(key, []).append(index)
    out = io.BytesIO()
    version = BinTools_FormatVersion.BinTools_FormatVersion_VERSION_4
    BinTools.Write_s(plain, out, True, True, version, Message_ProgressRange())
    data = out.getvalue()
    found: dict[int, _Table] = {}
    sections = list(re.finditer(rb"(?<!On)Triangulations (\d+)\n", data))
    if not sections:
        return found
    at = sections[-1].end()
    for _ in range(int(sections[-1].group(1))):
        if at + 18 > len(data):
            break
        count, many, with_uv, with_normals = struct.unpack_from("<iibb", data, at)
        at += 18
        if min(count, many) < 0 or at + count * 24 + many * 12 > len(data):
            break
        p = np.frombuffer(data, "<f8", 3 * count, at).reshape(-1, 3)
        at += 24 * count
        w = np.full((count, 2), np.nan)
        if with_uv:
            w = np.frombuffer(data, "<f8", 2 * count, at).reshape(-1, 2)
            at += 16 * count
        t = np.frombuffer(data, "<i4", 3 * many, at).reshape(-1, 3).astype(np.int64) - 1
        at += 12 * many
        n = np.zeros((count, 3))
        if with_normals:
            n = np.frombuffer(data, "<f4", 3 * count, at).reshape(-1, 3).astype(float)
            at += 12 * count
        owners = heads.get((count, many, *p[[0, count // 2, count - 1]].ravel().tolist()), ()) if count else ()
        if with_normals and len(owners) == 1:
            found[owners[0]] = (p, n, w, t)
    return found


def _read_one(face: Any) -> _Table:
    """The same of one face, asked for point by point."""
    location = TopLoc_Location()
    mesh = BRep_Tool.Triangulation_s(face, location)
    if mesh is None:
        return np.zeros((0, 3)), np.zeros((0, 3)), np.zeros((0, 2)), np.zeros((0, 3), dtype=np.int64)
    if not mesh.HasNormals():
        StdPrs_ToolTriangulatedShape.ComputeNormals_s(face, mesh)
    move = location.Transformation()
    p, n, w = [], [], []
    for k in range(1, mesh.NbNodes() + 1):
        point, normal = mesh.Node(k).Transformed(move), mesh.Normal(k).Transformed(move)
        p.append((point.X(), point.Y(), point.Z()))
        n.append((normal.X(), normal.Y(), normal.Z()))
        w.append((mesh.UVNode(k).X(), mesh.UVNode(k).Y()) if mesh.HasUVNodes() else (np.nan, np.nan))
    t = [mesh.Triangle(k).Get() for k in range(1, mesh.NbTriangles() + 1)]
    return np.array(p), np.array(n), np.array(w), np.array(t, dtype=np.int64).reshape(-1, 3) - 1


def mesh_of(solid: Solid) -> dict[str, Any]:
    """Flat arrays for the browser: `positions` (xyz…, mm), `triangles` (indices), `faces` (face of each triangle)
    `edges` (polylines of sharp edges) and `edge_index` (the edge of each)."""
    mesh = solid_mesh(solid)
    turn = _TURN if len(solid.faces) < _MANY else _TURN_OF_MANY
    lines: list[list[float]] = []
    numbers: list[int] = []
    for index, edge in enumerate(solid.edges):
        if edge.dihedral in ("convex", "concave"):
            n = 2 if edge.kind == "line" else max(8, int(abs(edge.sweep) * 2.5 / turn) if edge.kind == "circle" else 24)
            lines.append(np.round(np.ravel(edge_points(solid, index, n)), 4).tolist())
            numbers.append(index)
    return {
        "positions": np.round(mesh.points.ravel(), 4).tolist(),
        "triangles": mesh.triangles.ravel().tolist(),
        "faces": mesh.faces.tolist(),
        "edges": lines,
        "edge_index": numbers,
    }


def _ring(solid: Solid, edges: Sequence[int], deflection: float) -> Vec:
    """Points along a closed boundary (n×3), mm, its edges put in order end to end; chords stand off by `deflection`."""
    left = [edge_points(solid, e, _count(solid.edges[e], deflection)) for e in edges]
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


def _count(edge: Edge, deflection: float) -> int:
    """How many points follow an edge closely enough."""
    if edge.kind == "line":
        return 2
    if edge.kind != "circle":
        return 33
    step = min(_CHORD, 2 * math.acos(max(0.0, 1 - deflection / max(edge.radius, deflection))))
    return max(4, 1 + math.ceil(abs(edge.sweep) / step))


def _flat_triangles(solid: Solid, index: int, deflection: float) -> Vec:
    """Corners of the triangles of a flat face (3n×3, mm), facing outward. The kernel's own triangulation of a face takes
    time that grows with the square of its boundaries."""
    face = solid.faces[index]
    u = np.cross(face.axis, np.eye(3)[int(np.argmin(np.abs(face.axis)))])
    u = u / np.linalg.norm(u)
    v = np.cross(face.axis, u)
    inner = {e for loop in face.inner_loops for e in loop}
    rings = [
        _ring(solid, [e for e in face.edges if e not in inner], deflection),
        *(_ring(solid, loop, deflection) for loop in face.inner_loops),
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
