"""Dovetails measured again: both walls, the wide face and the one at the narrow end, by points and normals on them."""

import math
from collections.abc import Mapping, Sequence

import numpy as np

from canonis.core.callout import Callout
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.planes import plane_of
from canonis.core.proof.registry import meant, measures, thing
from canonis.core.proof.statement import PartProof, compared, worst
from canonis.core.sheet import Leader
from canonis.core.solid import Member, Solid, unit_vector
from canonis.core.tolerances import NOISE

__all__ = ["measure_dovetails"]


def _sizes(solid: Solid, faces: Sequence[int]) -> list[dict[str, float]]:
    """Width at the narrow end, height between both ends, and the angle of each wall; faces in the order wide, walls, narrow."""
    (floor, up), *walls, (mouth, _) = (plane_of(solid, f) for f in faces)
    across = walls[0][1] - up * float(walls[0][1] @ up)
    if float(np.linalg.norm(across)) < NOISE:
        return []
    across = unit_vector(across)
    high = float(mouth @ up)
    spots = [(float(p @ n) - high * float(n @ up)) / float(n @ across) for p, n in walls]
    flat = {"width": abs(spots[1] - spots[0]), "end": abs(high - float(floor @ up))}
    return [flat | {"angle": math.degrees(math.acos(min(1.0, abs(float(n @ up)))))} for _, n in walls]


def _gauge(solid: Solid, member: Member, counts: Mapping[str, float]) -> dict[str, float]:
    found = _sizes(solid, member.faces) if len(member.faces) == 4 else []
    if not found or abs(found[0]["angle"] - found[1]["angle"]) > 1e-2:
        return {}
    one = found[0]
    return {"width": one["width"], "angle": one["angle"], "depth": one["end"], "height": one["end"]}


thing(
    "dovetail",
    plain=("width", "depth", "height"),
    words=("dovetail", "slot"),
    keeps_faces=True,
    cut=True,
    angled=True,
    weight=1.0,
    gauge=_gauge,
)
meant("dovetail", things={"dovetail": 0.0}, several="counted", free_words=True)


@measures("dovetail", on=("plane",))
def measure_dovetails(m: Measurer, mark: Leader, alive: list[str], reading: Callout) -> list[PartProof]:
    """Every size of the dovetails that a note names, four faces each; a slot has a floor below its mouth, a tongue a top above its
    root."""
    solid, unit = m.solid(mark.sheet), m.document.unit
    faces = m.faces(mark.sheet, alive)
    if not faces or len(faces) != len(mark.refs) or len(faces) % 4:
        return []
    found: list[dict[str, float]] = []
    sunk: list[bool] = []
    for k in range(0, len(faces), 4):
        found += _sizes(solid, faces[k : k + 4])
        (floor, up), (mouth, _) = (plane_of(solid, f) for f in (faces[k], faces[k + 3]))
        sunk.append(float((mouth - floor) @ up) > 0)
    if len(found) != len(faces) // 2:
        return []
    count = len(faces) // 4
    parts = [PartProof("count", float(reading.count), float(count), reading.count == count)]
    parts += [worst([compared(reading, name, s[name], unit) for s in found]) for name in ("width", "angle")]
    for name, slot in (("depth", True), ("height", False)):
        if reading.part(name):
            parts.append(worst([compared(reading, name, s["end"] if slot in sunk else None, unit) for s in found]))
    return parts
