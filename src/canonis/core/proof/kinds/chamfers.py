"""Bevels measured again from their rims and their neighbours' normals, and the census of bevels like them."""

import math

import numpy as np

from canonis.core.callout import Callout
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.registry import meant, measures, thing
from canonis.core.proof.statement import PartProof, compared, worst
from canonis.core.shape import bevels
from canonis.core.sheet import Leader
from canonis.core.solid import (
    Solid,
    edge_points,
    face_normals,
)
from canonis.core.tolerances import JOINED, NOISE, NOTHING

__all__ = ["bevel_sizes", "measure_chamfers"]

thing("chamfer", plain=("leg", "leg-b"), breaks_edge=True, conical=True)
meant("chamfer", things={"chamfer": 0.0, "hole": 0.0}, several="always", rim=True)

#: Kinds of statement that say of a bevel what its note would.
_AMONG = ("chamfer", "length")


@measures("chamfer", on=("plane", "cone"), among=_AMONG)
def measure_chamfers(m: Measurer, mark: Leader, alive: list[str], reading: Callout) -> list[PartProof]:
    """Legs or leg and angle of every bevel that a note names, and how many there are."""
    solid, unit = m.solid(mark.sheet), m.document.unit
    faces = m.faces(mark.sheet, alive)

    def parts_of(face: int) -> list[PartProof]:
        legs = bevel_sizes(solid, face)
        if legs is None:
            return []
        row = [compared(reading, "leg", legs[0], unit)]
        if reading.part("leg-b"):
            return [*row, compared(reading, "leg-b", legs[1], unit)]
        return [*row, compared(reading, "angle", legs[2], unit)]

    proofs = [parts_of(f) for f in faces]
    if not all(proofs):
        return []
    taken = m.claimed(mark.sheet, *_AMONG)
    more = [
        f.index
        for f in solid.faces
        if f.kind == solid.faces[faces[0]].kind
        and f.index not in taken
        and _could_be(solid, f.index)
        and bool(row := parts_of(f.index))
        and all(p.ok for p in row)
    ]
    count = len(bevels(solid, [*faces, *more]))
    out = [PartProof("count", float(reading.count), float(count), count == reading.count)]
    return out + [worst(list(column)) for column in zip(*proofs, strict=True)]


def _could_be(solid: Solid, face: int) -> bool:
    """Whether a face breaks an edge: convex borders on two neighbours, no floor, no wall of a step."""
    if solid.faces[face].inner:
        return False
    borders = [solid.edges[e] for e, _ in solid.neighbours[face]]
    long = sorted(borders, key=lambda e: -e.length)[:2]
    return len(long) == 2 and all(e.dihedral == "convex" for e in long) and long[1].length > 0


def _of_cone(solid: Solid, face: int) -> tuple[float, float, float] | None:
    """Legs (longer first) and angle of a conical bevel: how far it reaches outwards and along its axis.

    Its axis and its apex come from its normals. The flats of a hexagon may leave next to nothing of a rim, or hide it.
    """
    points, normals = face_normals(solid, face)
    _, sizes, ways = np.linalg.svd(normals - normals.mean(axis=0))
    if sizes[1] < NOISE:
        # Next to no turn: as good as flat.
        return None
    axis = ways[2]
    apex, *_ = np.linalg.lstsq(normals, np.einsum("ij,ij->i", normals, points), rcond=None)
    away = np.vstack([edge_points(solid, e) for e in solid.faces[face].edges]) - apex
    levels = away @ axis
    radii = np.linalg.norm(away - np.outer(levels, axis), axis=1)
    long, short = sorted((float(np.ptp(radii)), float(np.ptp(levels))), reverse=True)
    return None if short < JOINED else (long, short, math.degrees(math.atan2(short, long)))


def bevel_sizes(solid: Solid, face: int) -> tuple[float, float, float] | None:
    """Legs (longer first) and angle of a chamfer, from its rims and its neighbours' normals."""
    turned = _of_cone(solid, face) if solid.faces[face].kind == "cone" else None
    if turned is not None:
        return turned
    long_edges = sorted(solid.faces[face].edges, key=lambda e: -float(np.ptp(edge_points(solid, e), axis=0).max()))[:2]
    if len(long_edges) < 2:
        return None
    p, q = edge_points(solid, long_edges[0]), edge_points(solid, long_edges[1])
    _, normals = face_normals(solid, face, 3)
    others = [next((f for f in solid.edges[e].faces if f != face), None) for e in long_edges]
    if None in others:
        return None
    # The gap from one rim to the other, split along the two neighbours.
    nearest = q[int(np.argmin(np.linalg.norm(q - p[3], axis=1)))]
    along = p[4] - p[2]
    along = along / max(float(np.linalg.norm(along)), 1e-12)
    gap = nearest - p[3]
    gap = gap - along * float(gap @ along)
    width = float(np.linalg.norm(gap))
    turns = []
    for other in others:
        _, around = face_normals(solid, int(other or 0), 3)
        near = normals[len(normals) // 2]
        cosine = float(np.abs(around @ near).max())
        turns.append(math.acos(min(1.0, cosine)))
    total = turns[0] + turns[1]
    if width < NOTHING or min(turns) < NOISE or math.sin(total) < NOTHING:
        # A strip of no width, or one that runs on into what is beside it, bevels nothing.
        return None
    legs = sorted(
        (width * math.sin(turns[0]) / math.sin(total), width * math.sin(turns[1]) / math.sin(total)), reverse=True
    )
    return legs[0], legs[1], math.degrees(math.atan2(legs[1], legs[0]))
