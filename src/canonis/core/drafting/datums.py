"""The datum of a sheet: a corner, a point, the axis of a turned part or of a hole, and what it is counted from."""

import math

import numpy as np

from canonis.core.drafting.desk import Datum
from canonis.core.drafting.front import turned_axis
from canonis.core.faults import BadInput
from canonis.core.features import Feature
from canonis.core.solid import Face, Solid, Vec, face_reference
from canonis.core.tolerances import parallel
from canonis.core.view import ViewFrame

__all__ = ["datum_of", "turned_datum", "turned_face"]


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


def datum_of(solid: Solid, found: Feature, front: ViewFrame, name: str) -> Datum:
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
        return Datum(point, {str(j): face_reference(holder) for j in across})
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
    return Datum(_corner(solid, front, name))


def turned_datum(text: str, frame: Vec) -> str:
    """A point of the file's axes in those of a part."""
    try:
        point = np.array([float(x) for x in text.split(",")])
    except ValueError:
        return text
    return ",".join(f"{c:.9f}" for c in frame @ point) if point.shape == (3,) else text
