"""Slots along an arc measured again: cylinders fitted to both ends and the outer wall, rays for the depth."""

import math
from collections.abc import Mapping

import numpy as np

from canonis.core.callout import Callout
from canonis.core.proof.kinds.slots import slot_depth
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.registry import meant, measures, thing
from canonis.core.proof.statement import PartProof, compared, worst
from canonis.core.sheet import Leader
from canonis.core.solid import Member, Solid, face_normals, fit_cylinder
from canonis.core.tolerances import FINE, same

__all__ = ["measure_arc_slots"]


def _gauge(solid: Solid, member: Member, counts: Mapping[str, float]) -> dict[str, float]:
    """The angle between both ends of a slot along an arc, about the axis of its outer wall."""
    fits = {f: fit_cylinder(solid, f) for f in member.faces if solid.faces[f].kind == "cylinder"}
    if len(fits) < 4:
        return {}
    *ends, outer = sorted(fits, key=lambda f: fits[f][2])
    base, axis = fits[outer][0], fits[outer][1]
    points = face_normals(solid, outer, 3)[0]
    spokes = [
        p - base - axis * float((p - base) @ axis) for p in (points[len(points) // 2], *(fits[f][0] for f in ends[:2]))
    ]
    middle, *others = (s / float(np.linalg.norm(s)) for s in spokes)
    return {"sweep": sum(math.degrees(math.acos(max(-1.0, min(1.0, float(middle @ s))))) for s in others)}


thing(
    "arc-slot",
    gauge=_gauge,
    turned=True,
    words=("slot",),
    axes="optional",
    by_ends=True,
    keeps_faces=True,
    angled=True,
    claims_holes=True,
    weight=1.0,
)
meant("arc-slot", things={"arc-slot": 0.0}, several="counted", whole=True, free_words=True, end_on=True)


@measures("arc-slot", on=("cylinder",))
def measure_arc_slots(m: Measurer, mark: Leader, alive: list[str], reading: Callout) -> list[PartProof]:
    """Every part of an arc slot note; its references are start and end of each slot, then the outer and the
    inner wall."""
    unit, solid = m.document.unit, m.solid(mark.sheet)
    faces = m.faces(mark.sheet, alive)
    view = next((v for v in m.document.views if v.id == mark.view), None)
    if (
        view is None
        or len(faces) != len(mark.refs)
        or len(faces) < 4
        or len(faces) % 2
        or any(solid.faces[f].kind != "cylinder" for f in faces)
    ):
        return []
    right, up = np.array(view.right), np.array(view.up)
    rows: dict[str, list[float | None]] = {name: [] for name in ("width", "radius", "angle", "start-angle", "depth")}
    starts: list[float] = []
    said = None if reading.size("start-angle") is None else float(reading.size("start-angle") or 0)
    outer, inner = (m.cylinder(mark.sheet, f) for f in faces[-2:])
    for k in range(0, len(faces) - 2, 2):
        start, end = (m.cylinder(mark.sheet, f) for f in faces[k : k + 2])
        spokes = [(e[0] - outer[0]) - outer[1] * float((e[0] - outer[0]) @ outer[1]) for e in (start, end)]
        turns = [float(np.degrees(np.arctan2(s @ up, s @ right))) % 360 for s in spokes]
        rows["width"] += [2 * start[2], 2 * end[2], outer[2] - inner[2]]
        rows["radius"] += [float(np.linalg.norm(s)) for s in spokes]
        rows["angle"].append((turns[1] - turns[0]) % 360)
        starts.append(turns[0])
        rows["depth"] += [slot_depth(m, mark.sheet, r) for r in alive[k : k + 2]]
    count = len(faces) // 2 - 1
    # One start is stated; equally spaced ones follow from it.
    rows["start-angle"].append(_near(min(starts, key=lambda t: abs(_near(t, reading) - (said or 0.0))), reading))
    parts = [PartProof("count", float(reading.count), float(count), reading.count == count)]
    parts += [
        worst([compared(reading, name, v, unit) for v in rows[name]])
        for name in ("width", "radius", "angle", "start-angle")
    ]
    if reading.part("equally-spaced"):
        ordered = sorted(starts)
        gaps = [(b - a) % 360 for a, b in zip(ordered, (*ordered[1:], ordered[0]), strict=True)]
        even = all(same(g, 360 / count, FINE) for g in gaps)
        parts.append(PartProof("equally-spaced", True, even, even))
    shut = any(d is not None for d in rows["depth"])
    if reading.part("through"):
        parts.append(PartProof("through", True, not shut, not shut))
    if reading.part("depth"):
        parts.append(worst([compared(reading, "depth", d, unit) for d in rows["depth"]]))
    return parts


def _near(turn: float, reading: Callout) -> float:
    """An angle as near to the one stated as whole turns bring it."""
    said = reading.size("start-angle")
    return turn if said is None else (turn - float(said) + 180) % 360 - 180 + float(said)
