"""Radii and diameters measured again, and the census of the places that have them."""

import math
from typing import TYPE_CHECKING

import numpy as np

from canonis.core.callout.callout import Callout
from canonis.core.proof.circles import circumcentre
from canonis.core.proof.statement import PartProof, close, compared, worst
from canonis.core.shape.places import places
from canonis.core.shape.surfaces import is_blend, is_full_turn
from canonis.core.sheet.document import Leader, Note
from canonis.core.solid.model import Face, Solid, Vec
from canonis.core.solid.probe import edge_points, face_normals

if TYPE_CHECKING:
    from canonis.core.proof.measure import Remeasurer

__all__ = ["NAMING_ROUNDS", "circle_centre", "measure_rounds", "sphere_fit", "tube_level", "tube_radius"]


#: Kinds of statement whose round faces need no radius or diameter of another.
NAMING_ROUNDS = ("radius", "diameter", "note", "hole", "slot", "arc-slot", "thread", "groove", "spline")


def measure_rounds(m: "Remeasurer", mark: Leader | Note, alive: list[str], reading: Callout) -> list[PartProof]:
    """The size of every member, and how many places of the part have it."""
    name = "diameter" if mark.kind == "diameter" else "radius"
    factor = 2.0 if name == "diameter" else 1.0
    solid, unit = m.solid(mark.sheet), m.document.unit
    faces = m.faces(mark.sheet, alive)
    rims = [m.resolution(mark.sheet, r).edges[0] for r in alive if m.resolution(mark.sheet, r).edges]
    if rims and not faces:
        found = [compared(reading, name, factor * _rim_radius(solid, e), unit) for e in rims]
        count = float(len(rims))
        return [PartProof("count", float(reading.count), count, count == reading.count), worst(found)]
    sizes = {f: factor * _radius(m, mark.sheet, f) for f in faces}
    parts = [worst([compared(reading, name, size, unit) for size in sizes.values()])]
    if reading.part("sphere"):
        whole = all(solid.faces[f].kind == "sphere" for f in faces)
        parts.append(PartProof("sphere", True, whole, whole))
    if isinstance(mark, Note) and reading.kind == "round":
        return parts  # a default note states no count
    part = reading.part(name)
    taken = m.claimed(mark.sheet, *NAMING_ROUNDS)
    others = [
        f.index for f in solid.faces
        if part is not None and part.nominal is not None and f.index not in taken and _could_be(solid, f, solid.faces[faces[0]], name)
        and close(float(part.nominal), factor * (f.minor if f.kind == "torus" else f.radius), part, unit)
    ]  # fmt: skip
    if name == "diameter":
        lines = {(m.line(mark.sheet, f), round(_middle(solid.faces[f]), 2)) for f in faces}
        count = len(lines) + len(others)
    else:
        count = len(places(solid, [*faces, *others]))
    parts.insert(0, PartProof("count", float(reading.count), float(count), count == reading.count, tuple(others)))
    return parts


def _radius(m: "Remeasurer", sheet: int, face: int) -> float:
    kind = m.solid(sheet).faces[face].kind
    if kind == "torus":
        return tube_radius(m.solid(sheet), face)
    return sphere_fit(m.solid(sheet), face)[1] if kind == "sphere" else m.cylinder(sheet, face)[2]


def circle_centre(solid: Solid, rim: int) -> Vec:
    """The centre of a circular edge, from points on it, mm."""
    points = edge_points(solid, rim)
    return circumcentre(points[0], points[2], points[4])


def sphere_fit(solid: Solid, face: int) -> tuple[Vec, float]:
    """Centre and radius of a sphere from points on it and its normals there, mm."""
    points, normals = face_normals(solid, face, 7)
    # Every normal line runs through the centre: p + t n = c for one t.
    rows = np.vstack([np.c_[np.tile(np.eye(3), (len(points), 1)), -normals.reshape(-1, 1)]])
    solution = np.linalg.lstsq(rows, points.reshape(-1), rcond=None)[0]
    return np.asarray(solution[:3]), abs(float(solution[3]))


def _rim_radius(solid: Solid, rim: int) -> float:
    """The radius of a circular edge, from points on it, mm."""
    return float(np.linalg.norm(edge_points(solid, rim)[0] - circle_centre(solid, rim)))


def _middle(face: Face) -> float:
    """Where the middle of a round face lies along its axis, mm."""
    return float(face.origin @ face.axis) + sum(face.span) / 2


def _could_be(solid: Solid, face: Face, named: Face, name: str) -> bool:
    """Whether a face that nothing names is of the sort that a note means: a round, or a journal along the same axis."""
    if name == "radius":
        return face.kind in ("cylinder", "torus") and face.inner is named.inner and is_blend(solid, face)
    winding = [sum(solid.edges[e].kind == "free" for e in f.edges) for f in (face, named)]
    if winding[0] > 1 or min(winding) > 0:
        # A strip of the core between two windings of a thread, or one shaft that a thread parts in two.
        return False
    return (
        face.kind == "cylinder" and face.inner is named.inner and is_full_turn(face)
        and abs(float(face.axis @ named.axis)) > 1 - 1e-6
    )  # fmt: skip


def tube_level(solid: Solid, face: int, along: Vec) -> float:
    """The level along its axis of the middle of a torus, from points on it and its normals there, mm."""
    points, normals = face_normals(solid, face, 7)
    tube = tube_radius(solid, face)
    levels = [(points + sense * tube * normals) @ along for sense in (1.0, -1.0)]
    return float(np.mean(min(levels, key=lambda x: float(np.ptp(x)))))


def tube_radius(solid: Solid, face: int) -> float:
    """Radius of a torus tube from how its normals turn: neighbours apart / angle between normals."""
    points, normals = face_normals(solid, face, 7)
    grid_p, grid_n = points.reshape(7, 7, 3), normals.reshape(7, 7, 3)
    ways = []
    for p, n in ((grid_p, grid_n), (grid_p.transpose(1, 0, 2), grid_n.transpose(1, 0, 2))):
        radii = []
        for k in (1, 3, 5):
            turn = math.acos(float(np.clip(n[k][0] @ n[k][-1], -1, 1)))
            chord = float(np.linalg.norm(p[k][-1] - p[k][0]))
            radii.append(chord / (2 * math.sin(turn / 2)) if turn > 1e-3 else math.inf)
        if all(math.isfinite(r) for r in radii):
            ways.append((max(radii) - min(radii), float(np.mean(radii))))
    # Around the ring the radius changes from line to line; along the tube it is the same everywhere.
    return min(ways, default=(0.0, math.inf))[1]
