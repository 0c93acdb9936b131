"""Grooves and undercuts measured again: floor, both walls, the lower rim."""

import numpy as np

from canonis.core.callout.callout import Callout
from canonis.core.proof.circles import circle_centre, tube_radius
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.registry import meant, measures, thing
from canonis.core.proof.statement import PartProof, compared, worst
from canonis.core.shape.surfaces import torus_floor
from canonis.core.sheet.document import Leader
from canonis.core.solid.probe import face_normals

__all__ = ["measure_grooves"]

thing(
    "groove", plain=("width", "depth"), words=("groove", "undercut", "relief"), cut=True, claims_holes=True, weight=1.0
)
meant("groove", things={"groove": 0.0, "slot": 3.0}, several="counted", strict=True, free_words=True)


@measures("groove", on=("plane", "cylinder", "torus"))
def measure_grooves(m: Measurer, mark: Leader, alive: list[str], reading: Callout) -> list[PartProof]:
    """Every groove that the note names: floor and both walls, three references each."""
    unit = m.document.unit
    faces = m.faces(mark.sheet, alive)
    if len(faces) != len(mark.refs):
        return []
    if all(m.solid(mark.sheet).faces[f].kind == "torus" for f in faces):
        return _round(m, mark.sheet, faces, reading)
    if len(faces) % 3:
        return []
    groups = [(faces[k], faces[k + 1 : k + 3], alive[k + 1 : k + 3]) for k in range(0, len(faces), 3)]
    parts = [PartProof("count", float(reading.count), float(len(groups)), reading.count == len(groups))]
    widths: list[float | None] = []
    depths: list[float | None] = []
    diameters: list[float | None] = []
    for floor, walls, refs in groups:
        _, axis, radius, _ = m.cylinder(mark.sheet, floor)
        low, high = (m.point(mark.sheet, r, axis) for r in refs)
        widths.append(None if low is None or high is None else abs(high - low))
        diameters.append(2 * radius)
        rims = [r for w in walls if (r := _rim(m, mark.sheet, w, floor)) is not None]
        depths.append(min((abs(r - radius) for r in rims), default=None))
    for name, values in (("width", widths), ("diameter", diameters), ("depth", depths)):
        if reading.part(name):
            parts.append(worst([compared(reading, name, v, unit) for v in values]))
    return parts


def _round(m: Measurer, sheet: int, floors: list[int], reading: Callout) -> list[PartProof]:
    """Round-bottomed grooves: the tube from how the normals turn, the bottom from where they meet."""
    solid, unit = m.solid(sheet), m.document.unit
    parts = [PartProof("count", float(reading.count), float(len(floors)), reading.count == len(floors))]
    tubes: list[float] = []
    bottoms: list[float] = []
    depths: list[float] = []
    for f in floors:
        tube = tube_radius(solid, f)
        points, normals = face_normals(solid, f, 7)
        axis = solid.faces[f].axis
        circles = [e for e in solid.faces[f].edges if solid.edges[e].kind == "circle"]
        rims = [e for e in circles if abs(float(solid.edges[e].axis @ axis)) > 1 - 1e-6]
        rel = points - circle_centre(solid, rims[0])
        # Out of the material of a groove is toward the middle of its tube.
        middles = rel + normals * tube
        ring = float(np.mean(np.linalg.norm(middles - np.outer(middles @ axis, axis), axis=1)))
        beside = [solid.faces[o] for _, o in solid.neighbours[f]]
        top = next((b.axis for b in beside if b.kind == "plane"), axis)
        # In a face the floor lies a tube below the middle, which the rim stands over.
        depths.append(tube - float(np.mean(middles @ top)))
        side = torus_floor(solid, solid.faces[f])
        tubes.append(tube)
        bottoms.append(2 * (ring + side * tube))
    for name, values in (("radius", tubes), ("diameter", bottoms), ("depth", depths)):
        if reading.part(name):
            parts.append(worst([compared(reading, name, v, unit) for v in values]))
    return parts


def _rim(m: Measurer, sheet: int, wall: int, floor: int) -> float | None:
    """The radius of the cylinder beyond a wall."""
    solid = m.solid(sheet)
    for _, o in solid.neighbours[wall]:
        face = solid.faces[o]
        if face.kind == "cylinder" and o != floor and abs(float(face.axis @ solid.faces[floor].axis)) > 1 - 1e-6:
            return m.cylinder(sheet, o)[2]
    return None
