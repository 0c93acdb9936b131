"""Radii and diameters measured again, and the census of the places that have them."""

import math
from collections.abc import Mapping

import numpy as np

from canonis.core.callout import Callout
from canonis.core.proof.circles import circle_centre, sphere_fit, tube_radius
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.registry import meant, measures, thing
from canonis.core.proof.statement import PartProof, close, compared, worst
from canonis.core.shape import is_blend, is_full_turn, places
from canonis.core.sheet import Leader, Note
from canonis.core.solid import (
    Face,
    Member,
    Solid,
    edge_points,
    face_normals,
)
from canonis.core.tolerances import NOISE, parallel

__all__ = ["measure_rounds"]

thing("shaft", axes="needed")
thing("cylinder", axes="needed")
thing("sphere")


def _gauge_taper(solid: Solid, member: Member, _: Mapping[str, float]) -> dict[str, float]:
    """Included angle, both diameters and length of a cone, from normals and from points of the circles that bound it."""
    axis, base = np.array(member.axis), np.array(member.place)
    halves = [abs(float(n @ axis)) for f in member.faces for n in face_normals(solid, f, 5)[1]]
    bounds = {e for f in member.faces for e in solid.faces[f].edges if solid.edges[e].kind != "line"}
    # Where flats cut it, no circle says how far it would go.
    rims = bounds if all(solid.edges[e].kind == "circle" for e in bounds) else set()
    if not halves or max(halves) - min(halves) > NOISE:
        return {}
    sizes = {"angle": 2 * math.degrees(math.asin(min(1.0, float(np.mean(halves)))))}
    spots = [edge_points(solid, e)[0] - base for e in rims]
    radii = [float(np.linalg.norm(p - axis * float(p @ axis))) for p in spots]
    if len(spots) > 1 and max(radii) - min(radii) > NOISE:
        levels = [float(p @ axis) for p in spots]
        long_ = max(levels) - min(levels)
        sizes |= {"large": 2 * max(radii), "small": 2 * min(radii), "length": long_}
        sizes["rate"] = 2 * (max(radii) - min(radii)) / long_
    return sizes


thing("taper", turned=True, axes="optional", angled=True, conical=True, gauge=_gauge_taper)
thing("fillet", breaks_edge=True, weight=0.7)
meant(
    "diameter",
    several="always",
    bore=True,
    seats=True,
    things={"shaft": 0.0, "boss": 0.0, "hole": 1.0, "cylinder": 0.8, "sphere": 0.0, "taper": 0.0, "groove": 3.0},
)
meant(
    "radius",
    several="always",
    rim=True,
    things={"fillet": 0.0, "cylinder": 0.0, "sphere": 0.0, "shaft": 4.0, "hole": 4.0, "slot": 2.0},
)


#: Kinds of statement whose round faces need no radius or diameter of another.
_NAMING_ROUNDS = ("radius", "diameter", "round", "hole", "slot", "arc-slot", "thread", "groove", "spline")


@measures("diameter", "radius", "round", among=_NAMING_ROUNDS)
def measure_rounds(m: Measurer, mark: Leader | Note, alive: list[str], reading: Callout) -> list[PartProof]:
    """The size of every member, and how many places of the part have it."""
    name = "diameter" if reading.kind == "diameter" else "radius"
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
    taken = m.claimed(mark.sheet, *_NAMING_ROUNDS)
    others = [
        f.index
        for f in solid.faces
        if part is not None
        and part.nominal is not None
        and f.index not in taken
        and _could_be(solid, f, solid.faces[faces[0]], name)
        and close(float(part.nominal), factor * (f.minor if f.kind == "torus" else f.radius), part, unit)
    ]
    if name == "diameter":
        lines = {(m.line(mark.sheet, f), round(_middle(solid.faces[f]), 2)) for f in faces}
        count = len(lines) + len(others)
    else:
        count = len(places(solid, [*faces, *others]))
    parts.insert(0, PartProof("count", float(reading.count), float(count), count == reading.count, tuple(others)))
    return parts


def _radius(m: Measurer, sheet: int, face: int) -> float:
    kind = m.solid(sheet).faces[face].kind
    if kind == "torus":
        return tube_radius(m.solid(sheet), face)
    return sphere_fit(m.solid(sheet), face)[1] if kind == "sphere" else m.cylinder(sheet, face)[2]


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
        face.kind == "cylinder" and face.inner is named.inner and is_full_turn(face) and parallel(face.axis, named.axis)
    )
