"""Nearest and farthest points of parts of solids, thickness by rays, and what one body has that another has not."""

from typing import Any

import numpy as np
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeVertex
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.gp import gp_Pnt

from canonis.core.solid.model import MassProperties, Solid, Vec
from canonis.core.solid.probe import Rays, edge_points, face_normals
from canonis.core.solid.reader import mass_properties, tight_box
from canonis.core.solid.shaping import difference, pieces

__all__ = ["Lump", "edge_samples", "face_samples", "lumps", "nearest", "point_shape", "segment_shape", "thickness_at"]


def _p(v: Vec) -> gp_Pnt:
    return gp_Pnt(float(v[0]), float(v[1]), float(v[2]))


def point_shape(point: Vec) -> Any:
    """A point as a shape that distances can be taken to."""
    return BRepBuilderAPI_MakeVertex(_p(point)).Vertex()


def segment_shape(a: Vec, b: Vec) -> Any:
    """A straight line between two points as a shape."""
    return BRepBuilderAPI_MakeEdge(_p(a), _p(b)).Edge()


def nearest(a: Any, b: Any) -> tuple[float, Vec, Vec]:
    """Smallest distance of two shapes (mm) and the points on each where it is met."""
    found = BRepExtrema_DistShapeShape(a, b)
    p, q = found.PointOnShape1(1), found.PointOnShape2(1)
    return float(found.Value()), np.array([p.X(), p.Y(), p.Z()]), np.array([q.X(), q.Y(), q.Z()])


def edge_samples(solid: Solid, index: int, n: int = 65) -> Vec:
    """Points along an edge (n×3), mm; a straight one by its ends."""
    return edge_points(solid, index, 2 if solid.edges[index].kind == "line" else n)


def face_samples(solid: Solid, index: int) -> Vec:
    """Points on the boundary of a face and, where it is curved, over it (n×3), mm."""
    rows = [edge_samples(solid, e) for e in solid.faces[index].edges]
    if solid.faces[index].kind != "plane":
        rows.append(face_normals(solid, index, 15)[0])
    return np.vstack(rows)


def thickness_at(solid: Solid, face: int, point: Vec) -> float | None:
    """Material behind a point of a face, square to the face there, mm; None where a ray meets no other side."""
    points, normals = face_normals(solid, face, 25)
    normal = normals[int(np.argmin(np.linalg.norm(points - point, axis=1)))]
    if solid.faces[face].kind == "plane":
        normal = solid.faces[face].axis
    elif solid.faces[face].kind == "cylinder":
        f = solid.faces[face]
        radial = point - f.origin
        radial = radial - f.axis * float(radial @ f.axis)
        normal = radial / np.linalg.norm(radial) * (-1.0 if f.inner else 1.0)
    rays = Rays(solid, point, solid.diagonal * 2)
    start = max(1e-4, 2e-6 * solid.diagonal)
    hits = [h for h in rays.hits(point - normal * start, -normal, 2 * solid.diagonal) if h > start]
    return hits[0] + start if hits else None


class Lump:
    """A separate piece of material: its mass properties and its box."""

    def __init__(self, shape: Any) -> None:
        self.shape = shape
        self.mass: MassProperties = mass_properties(shape)
        self.box: tuple[Vec, Vec] = tight_box(shape)


def lumps(a: Any, b: Any, least: float = 1e-6) -> list[Lump]:
    """The pieces of `a` that are not in `b`, of at least `least` mm³, the largest first."""
    found = [Lump(p) for p in pieces(difference(a, b))]
    return sorted((p for p in found if p.mass.volume > least), key=lambda p: -p.mass.volume)
