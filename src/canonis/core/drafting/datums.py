"""The datum of a sheet: a corner, a point, the axis of a turned part or of a hole, and what it is counted from."""

import math

import numpy as np

from canonis.core.drafting.desk import Datum
from canonis.core.drafting.front import turned_axis
from canonis.core.drafting.roundness import ROUGH, roughness
from canonis.core.faults import BadInput
from canonis.core.features import Feature
from canonis.core.quantity import Unit
from canonis.core.shape import is_eye_end, is_full_turn
from canonis.core.solid import Face, Solid, Vec, face_reference
from canonis.core.tolerances import ALIGNED, SAME, on_axis, parallel, same
from canonis.core.view import ViewFrame

__all__ = ["datum_of", "seat_of", "turned_datum", "turned_face"]

#: A head is so much wider than the shank, and no longer than this share of it.
_WIDER, _SHORTER = 1.2, 0.7
#: The underside of a head is flat over so much of it.
_UNDERSIDE = 0.5


def _corner(solid: Solid, front: ViewFrame, name: str) -> Vec:
    """A named corner of the box as seen in the front view: left/right, front/back, bottom/top."""
    words = set(name.split("-"))
    if not words <= {"left", "right", "front", "back", "bottom", "top"} or len(words) != 3:
        raise BadInput(f"Datum “{name}” is not a corner such as left-front-bottom, a point X,Y,Z or axis:H1.")
    point = np.zeros(3)
    for direction, positive in ((front.right, "right"), (front.up, "top"), (front.toward, "front")):
        k = int(np.argmax(np.abs(direction)))
        high = (positive in words) == (direction[k] > 0)
        point[k] = solid.box[1][k] if high else solid.box[0][k]
    return point


def turned_face(solid: Solid) -> Face | None:
    """The widest full cylinder on the axis of a turned part; None for other parts and for cones alone."""
    axis = turned_axis(solid)
    if axis is None:
        return None
    middle = (solid.box[0] + solid.box[1]) / 2
    round_ = [
        f
        for f in solid.faces
        if f.kind == "cylinder"
        and f.sweep > 1.9 * math.pi
        and parallel(f.axis, axis)
        and float(np.linalg.norm(np.cross(f.origin - middle, axis))) < 0.05 * solid.diagonal
    ]
    return max(round_, key=lambda f: (f.radius, f.area), default=None)


def seat_of(solid: Solid) -> Face | None:
    """The flat face under the head of a screw, from which its lengths are given both ways; None where there is no head that
    something takes hold of, or more than one."""
    found = [f for f in solid.faces if f.kind == "plane" and on_axis(f.axis, ALIGNED) and _seats(solid, f)]
    return found[0] if len(found) == 1 else None


def _seats(solid: Solid, face: Face) -> bool:
    """Whether a flat face is the underside of a head at one end of the part, about a shank that is round."""
    rims = [e for e in (solid.edges[k] for k in face.edges) if e.kind == "circle" and parallel(e.axis, face.axis)]
    if not rims or any(float(np.linalg.norm(rims[0].centre - e.centre)) > SAME for e in rims):
        return False
    level, way = float(face.origin @ face.axis), face.axis
    reach = [float(way @ corner) for corner in solid.box]
    head, shank = level - min(reach), max(reach) - level
    across = [k for k in range(3) if abs(float(way[k])) < 0.5]
    below = [
        f.radius + float(np.linalg.norm(np.cross(f.origin - rims[0].centre, way)))
        for f in solid.faces
        if f.radius and not f.inner and float(f.centre @ way) > level + SAME and parallel(f.axis, way)
    ]
    if head < SAME or not below or head > _SHORTER * shank:
        return False
    least = min(float(solid.size[k]) for k in across)
    middle = (solid.box[0] + solid.box[1]) / 2
    # The seat itself makes up the underside: the cone of a countersunk head is no seat.
    seat = face.area + math.pi * min(e.radius for e in rims) ** 2
    if seat < _UNDERSIDE * math.pi / 4 * least**2:
        return False
    # A head has flats, a slot or a socket: what is turned alone is measured from its ends.
    held = any(
        f.kind == "free" or not parallel(f.axis, way) or (f.radius and _beside(f, rims[0].centre, way))
        for f in solid.faces
        if float(f.centre @ way) < level - SAME
    )
    about = held and all(abs(float(middle[k] - rims[0].centre[k])) < SAME for k in across)
    # Nothing flat stands beside the shank either.
    return about and least > _WIDER * 2 * max(below)


def _beside(face: Face, middle: Vec, axis: Vec) -> bool:
    """Whether a round face along an axis is about another one than that through `middle`."""
    return float(np.linalg.norm(np.cross(face.origin - middle, axis))) > SAME


def datum_of(solid: Solid, found: Feature, front: ViewFrame, name: str, unit: Unit) -> Datum:
    """A named datum; for an axis with the references to measure from.

    `axis` is the axis of a turned part at the left end of its front view. Raises BadInput for a name that is not on the part.
    """
    if name == "axis":
        holder = turned_face(solid)
        if holder is None:
            raise BadInput("This part is not turned; name a hole as axis:H1, a corner or a point X,Y,Z.")
        k = int(np.argmax(np.abs(holder.axis)))
        point = _corner(solid, front, "left-front-bottom")
        across = [j for j in range(3) if j != k]
        point[across] = holder.origin[across]
        return _from_seat(solid, Datum(point, {str(j): face_reference(holder) for j in across}))
    if name.startswith("axis:"):
        group = next((g for g in found.holes if g.id == name[5:]), None)
        if group is None:
            raise BadInput(
                f"Datum “{name}” names no hole of this part; its holes are "
                f"{', '.join(g.id for g in found.holes) or 'none'}."
            )
        hole = group.first
        k = int(np.argmax(np.abs(hole.axis)))
        ref = face_reference(solid.faces[hole.main_faces[0]])
        return Datum(hole.start, {str(j): ref for j in range(3) if j != k})
    if "," in name:
        try:
            values = [float(x) for x in name.split(",")]
        except ValueError:
            values = []
        if len(values) != 3 or not np.all(np.isfinite(values)):
            raise BadInput(f"Datum “{name}” is not three numbers X,Y,Z in mm.")
        return Datum(np.array(values))
    return _from_seat(solid, _from_axes(solid, found, Datum(_corner(solid, front, name)), unit))


def _from_seat(solid: Solid, datum: Datum) -> Datum:
    """A datum with lengths counted from the underside of a head, where the part has one."""
    seat = seat_of(solid)
    if seat is None:
        return datum
    k = int(np.argmax(np.abs(seat.axis)))
    point = datum.point.copy()
    point[k] = seat.origin[k]
    return Datum(point, datum.refs | {str(k): face_reference(seat)})


def _from_axes(solid: Solid, found: Feature, datum: Datum, unit: Unit) -> Datum:
    """A datum that counts from a bore where the part ends in a round about one, or where what is cut around it leaves no round
    width: nobody measures from where a curve turns."""
    point, refs = datum.point.copy(), dict(datum.refs)
    for k in range(3):
        level = float(point[k])
        if any(
            f.kind == "plane" and abs(abs(float(f.axis[k])) - 1) < ALIGNED and same(float(f.origin[k]), level)
            for f in solid.faces
        ):
            continue
        ends = {
            round(float(f.origin[k]), 3)
            for f in solid.faces
            if abs(float(f.axis[k])) < ALIGNED
            and on_axis(f.axis, ALIGNED)
            and is_eye_end(solid, f)
            and same(abs(float(f.origin[k]) - level), f.radius)
        }
        middle = float(solid.box[0][k] + solid.box[1][k]) / 2
        around = not ends and (roughness(float(solid.size[k]) / 2, unit) >= ROUGH or _goes_around(found, k))
        if around:
            ends = {middle}
        eyes = [
            f
            for f in solid.faces
            if f.kind == "cylinder"
            and (f.inner or around)
            and is_full_turn(f)
            and abs(float(f.axis[k])) < ALIGNED
            and any(same(float(f.origin[k]), at) for at in ends)
        ]
        if len(ends) == 1 and eyes:
            eye = max(eyes, key=lambda f: (f.radius, -f.index))
            point[k] = eye.origin[k]
            refs[str(k)] = face_reference(eye)
    return Datum(point, refs)


def _goes_around(found: Feature, k: int) -> bool:
    """Whether teeth, slots or vanes stand about an axis across an axis of the file."""
    pieces = (*found.alike, *(p for f in found.forms if f.kind == "repeat" for p in f.pieces))
    return any("pitch_mm" not in p.data and abs(float(p.axis[k])) < ALIGNED for p in pieces)


def turned_datum(text: str, frame: Vec) -> str:
    """A point of the file's axes in those of a part."""
    try:
        point = np.array([float(x) for x in text.split(",")])
    except ValueError:
        return text
    return ",".join(f"{c:.9f}" for c in frame @ point) if point.shape == (3,) else text
