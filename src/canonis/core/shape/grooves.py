"""The sizes of grooves as rows of the system."""

from collections.abc import Sequence

from canonis.core.shape.part import PartShape
from canonis.core.shape.rows import added, scaled
from canonis.core.shape.statements import Parts
from canonis.core.shape.surfaces import torus_floor
from canonis.core.solid import Face
from canonis.core.tolerances import parallel

__all__ = ["groove_rows", "round_groove_rows"]


def groove_rows(shape: PartShape, floor: int, walls: Sequence[int]) -> Parts:
    """Width between both walls, diameter of the floor, and how deep it is under the lower rim."""
    solid = shape.solid
    face = solid.faces[floor]
    radius = shape.motions[floor].radius
    if radius is None or len(walls) != 2:
        return {}
    a, b = (solid.faces[w] for w in walls)
    apart = added(shape.speed(a.index, a.centre), shape.speed(b.index, b.centre), 1.0)
    rows: Parts = {"diameter": [{radius: 2.0}], "width": [scaled(apart, -1.0)]}
    rims = [r for w in walls for r in [_rim(shape, w, face)] if r is not None]
    if rims:
        sense = 1.0 if not face.inner else -1.0
        lowest = min(rims, key=lambda r: abs(shape.unknowns[r].value - face.radius))
        rows["depth"] = [{lowest: sense, radius: -sense}] if lowest != radius else []
    return rows


def round_groove_rows(shape: PartShape, floor: int) -> Parts:
    """The radius of a round-bottomed groove, and the diameter of its bottom."""
    motion = shape.motions[floor]
    if motion.tube is None or motion.ring is None:
        return {}
    side = float(torus_floor(shape.solid, shape.solid.faces[floor]))
    wide = {motion.ring: 2.0} | ({motion.tube: 2.0 * side} if side else {})
    rows: Parts = {"radius": [{motion.tube: 1.0}], "diameter": [wide]}
    face = shape.solid.faces[floor]
    beside = (shape.solid.faces[o] for _, o in shape.solid.neighbours[floor])
    top = next((f for f in beside if f.kind == "plane" and parallel(f.axis, face.axis)), None)
    if top is not None and not side:
        under = added(shape.speed(top.index, top.centre), shape.axis_speed(floor, face.origin, top.axis), -1.0)
        rows["depth"] = [added(under, {motion.tube: 1.0})]
    return rows


def _rim(shape: PartShape, wall: int, floor: Face) -> int | None:
    """The radius of the cylinder beyond a wall of a groove."""
    for _, o in shape.solid.neighbours[wall]:
        face = shape.solid.faces[o]
        if (
            face.kind == "cylinder"
            and o != floor.index
            and parallel(face.axis, floor.axis)
            and face.inner is floor.inner
        ):
            return shape.motions[o].radius
    return None
