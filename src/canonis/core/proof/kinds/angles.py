"""Angles measured again: of cones and between flat faces, from normals evaluated on the surfaces themselves."""

import math
from collections.abc import Mapping

import numpy as np

from canonis.core.callout import Callout
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.planes import plane_of
from canonis.core.proof.registry import meant, measures, thing
from canonis.core.proof.statement import PartProof, compared
from canonis.core.sheet import Leader, Note
from canonis.core.solid import Member, Solid, Vec, face_normals, fit_cylinder

__all__ = ["measure_angles"]


def _gauge_bend(solid: Solid, member: Member, _: Mapping[str, float]) -> dict[str, float]:
    """By how much a sheet turns at a bend: between the flat faces that its inner round runs into."""
    rounds = sorted((f for f in member.faces if solid.faces[f].kind == "cylinder"), key=lambda f: solid.faces[f].radius)
    flat = [
        plane_of(solid, k)[1]
        for e, k in (solid.neighbours[rounds[0]] if rounds else ())
        if solid.faces[k].kind == "plane" and solid.edges[e].dihedral == "smooth"
    ]
    if len(flat) != 2:
        return {}
    return {"angle": math.degrees(math.acos(max(-1.0, min(1.0, float(flat[0] @ flat[1])))))}


thing("bend", angled=True, gauge=_gauge_bend)
meant("angle", places="angle")


@measures("angle")
def measure_angles(m: Measurer, mark: Leader | Note, alive: list[str], reading: Callout) -> list[PartProof]:
    """The whole angle of a cone, or the angle between the traces of two flat faces in the view."""
    solid = m.solid(mark.sheet)
    faces = m.faces(mark.sheet, alive)
    if len(mark.refs) > 1 and len(faces) > 1:
        angle = _between(solid, faces[0], faces[1], reading)
    elif len(mark.refs) == 1 and faces:
        angle = _cone(solid, faces[0])
    else:
        return []
    return [compared(reading, "angle", angle, m.document.unit)]


def _cone(solid: Solid, face: int) -> float:
    """Twice the angle at which the normals of a cone lean on their common axis, degrees."""
    _, normals = face_normals(solid, face, 7)
    middle = normals.mean(axis=0)
    # All normals end on a circle about the axis: its plane is square to it.
    axis = np.linalg.svd(normals - middle)[2][2]
    return 2 * math.degrees(math.asin(min(1.0, abs(float((normals @ axis).mean())))))


def _way(solid: Solid, face: int) -> Vec:
    """The normal of a flat face, or the axis of a round one."""
    return fit_cylinder(solid, face)[1] if solid.faces[face].kind == "cylinder" else plane_of(solid, face)[1]


def _between(solid: Solid, a: int, b: int, reading: Callout) -> float:
    """The angle between two flat faces or axes, degrees: that of their normals, or what it lacks of 180° where that is said."""
    one, other = (_way(solid, f) for f in (a, b))
    turn = math.degrees(math.acos(float(np.clip(one @ other, -1, 1))))
    if (solid.faces[a].kind == "cylinder") is not (solid.faces[b].kind == "cylinder"):
        # An axis leans on a face by what it lacks of square to it.
        turn = abs(90.0 - turn)
    part = reading.part("angle")
    said = float(part.nominal) if part is not None and part.nominal is not None else turn
    return turn if abs(said - turn) <= abs(said - (180 - turn)) else 180 - turn
