"""Grooves and undercuts measured again: floor, both walls, the lower rim."""

from collections.abc import Sequence

import numpy as np

from canonis.core.callout import Callout
from canonis.core.proof.circles import circle_centre, tube_radius
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.planes import plane_of
from canonis.core.proof.registry import meant, measures, thing
from canonis.core.proof.statement import PartProof, compared, worst
from canonis.core.shape import torus_floor
from canonis.core.sheet import Leader
from canonis.core.solid import (
    Solid,
    edge_points,
    face_normals,
    fit_cylinder,
)
from canonis.core.tolerances import ALIGNED, parallel

__all__ = ["gauge_groove", "gauge_round_groove", "measure_grooves"]

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
    found = [gauge_groove(m.solid(mark.sheet), floor, walls) for floor, walls, _ in groups]
    for name in ("width", "diameter", "depth"):
        if reading.part(name):
            parts.append(worst([compared(reading, name, sizes.get(name), unit) for sizes in found]))
    return parts


def _round(m: Measurer, sheet: int, floors: list[int], reading: Callout) -> list[PartProof]:
    """Round-bottomed grooves: the tube from how the normals turn, the bottom from where they meet."""
    unit = m.document.unit
    parts = [PartProof("count", float(reading.count), float(len(floors)), reading.count == len(floors))]
    found = [gauge_round_groove(m.solid(sheet), f) for f in floors]
    for name in ("radius", "diameter", "depth"):
        if reading.part(name):
            parts.append(worst([compared(reading, name, sizes[name], unit) for sizes in found]))
    return parts


def gauge_groove(solid: Solid, floor: int, walls: Sequence[int]) -> dict[str, float]:
    """Width between both walls of a groove, diameter of its floor, and its depth under the lower rim, mm; without a width where
    a wall is not square to the axis, without a depth where it has no rim."""
    _, axis, radius, _ = fit_cylinder(solid, floor)
    sizes = {"diameter": 2 * radius}
    if len(walls) != 2:
        # A wall is a shoulder's: whoever names the groove measures it from there.
        return sizes
    flat = [plane_of(solid, w) for w in walls]
    if all(parallel(n, axis, ALIGNED) for _, n in flat):
        sizes["width"] = abs(float((flat[0][0] - flat[1][0]) @ axis))
    rims = [r for w in walls if (r := _rim(solid, w, floor)) is not None]
    if rims:
        sizes["depth"] = min(abs(r - radius) for r in rims)
    return sizes


def gauge_round_groove(solid: Solid, face: int) -> dict[str, float]:
    """Radius of the bottom of a groove, diameter at its deepest place, and depth, mm."""
    tube = tube_radius(solid, face)
    points, normals = face_normals(solid, face, 7)
    axis = solid.faces[face].axis
    circles = [e for e in solid.faces[face].edges if solid.edges[e].kind == "circle"]
    rims = [e for e in circles if parallel(solid.edges[e].axis, axis)]
    rel = points - circle_centre(solid, rims[0])
    # Out of the material of a groove is toward the middle of its tube.
    middles = rel + normals * tube
    ring = float(np.mean(np.linalg.norm(middles - np.outer(middles @ axis, axis), axis=1)))
    side = torus_floor(solid, solid.faces[face])
    bottom = ring + side * tube
    if side:
        radii = [float(np.linalg.norm(edge_points(solid, e)[0] - circle_centre(solid, e))) for e in rims]
        depth = min(radii) - bottom if side < 0 else bottom - max(radii)
    else:
        # In a face the floor lies a tube below the middle, which the rim stands over.
        beside = [solid.faces[o] for _, o in solid.neighbours[face]]
        top = next((b.axis for b in beside if b.kind == "plane"), axis)
        depth = tube - float(np.mean(middles @ top))
    return {"radius": tube, "diameter": 2 * bottom, "depth": depth}


def _rim(solid: Solid, wall: int, floor: int) -> float | None:
    """The radius of the cylinder beyond a wall."""
    for _, o in solid.neighbours[wall]:
        face = solid.faces[o]
        if face.kind == "cylinder" and o != floor and parallel(face.axis, solid.faces[floor].axis):
            return fit_cylinder(solid, o)[2]
    return None
