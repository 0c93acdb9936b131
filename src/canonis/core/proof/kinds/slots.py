"""Slots measured again: width, centres, depth or THRU, at every slot that the note names."""

import numpy as np

from canonis.core.callout import Callout
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.registry import meant, measures, thing
from canonis.core.proof.statement import PartProof, compared, worst
from canonis.core.sheet import Leader
from canonis.core.solid import Rays, Vec, face_normals
from canonis.core.tolerances import NOISE, same

__all__ = ["measure_slots", "slot_depth"]

thing(
    "slot",
    plain=("width", "depth", "centres", "length"),
    words=("slot", "groove", "keyway", "keyseat"),
    axes="optional",
    by_ends=True,
    keeps_faces=True,
    levelled=True,
    ended=True,
    weight=1.0,
)
thing(
    "keyway",
    plain=("width", "depth", "length", "from-axis", "across"),
    words=("keyway", "keyseat"),
    keeps_faces=True,
    cut=True,
    claims_holes=True,
    weight=1.0,
)
meant(
    "slot",
    things={"slot": 0.0, "keyway": 2.0, "arc-slot": 4.0},
    several="counted",
    strict=True,
    whole=True,
    free_words=True,
    end_on=True,
)
meant("keyway", things={"keyway": 0.0, "slot": 3.0}, several="counted", strict=True, free_words=True)


@measures("slot", on=("cylinder",))
def measure_slots(m: Measurer, mark: Leader, alive: list[str], reading: Callout) -> list[PartProof]:
    """Every part of a slot note; its references come in pairs, the two ends of each slot."""
    unit = m.document.unit
    fits = [m.cylinder(mark.sheet, m.resolution(mark.sheet, r).faces[0]) for r in alive]
    pairs = [(fits[k], fits[k + 1]) for k in range(0, len(fits) - 1, 2)]
    parts = [PartProof("count", float(reading.count), float(len(pairs)), reading.count == len(pairs))]
    if not pairs:
        return parts
    parts.append(worst([compared(reading, "width", 2 * end[2], unit) for pair in pairs for end in pair]))
    gaps = []
    for a, b in pairs:
        rel = b[0] - a[0]
        gaps.append(float(np.linalg.norm(rel - a[1] * float(rel @ a[1]))))
    if reading.part("centres") or not reading.part("length"):
        parts.append(worst([compared(reading, "centres", gap, unit) for gap in gaps]))
    if reading.part("length"):
        overall = [gap + a[2] + b[2] for gap, (a, b) in zip(gaps, pairs, strict=True)]
        parts.append(worst([compared(reading, "length", size, unit) for size in overall]))
    deep = [slot_depth(m, mark.sheet, r) for r in alive]
    if reading.part("through"):
        shut = any(d is not None for d in deep)
        parts.append(PartProof("through", True, not shut, not shut))
    if reading.part("depth"):
        parts.append(worst([compared(reading, "depth", d, unit) for d in deep]))
    return parts


def slot_depth(m: Measurer, sheet: int, ref: str) -> float | None:
    """How deep a half-round slot end reaches from the face it opens to, mm; None where it is open at both ends."""
    solid, face = m.solid(sheet), m.resolution(sheet, ref).faces[0]
    middle, axis, radius, length = m.cylinder(sheet, face)
    inside, _ = face_normals(solid, face, 3)
    spoke = inside[4] - middle
    spoke = (spoke - axis * float(spoke @ axis)) / radius
    rays = Rays(solid, middle, np.abs(axis) * solid.diagonal + length + 4 * radius)
    # A hole in the floor takes away its middle, a round its border.
    for share in (0.5, 0.8, 0.93):
        start = middle + spoke * share * radius
        for sense in (1.0, -1.0):
            met = rays.hits(start, axis * sense, solid.diagonal)
            # What lies behind the slot is no floor of it: there the wall does not stand beside the ray any more.
            above = met[0] - 1e-3 if met else 0.0
            side = rays.hits(start + axis * sense * above, spoke, radius) if met else []
            if side and side[0] < (1.001 - share) * radius:
                return met[0] + _mouth(rays, middle, -sense * axis, spoke, radius, solid.diagonal)
    return None


def _mouth(rays: Rays, middle: Vec, out: Vec, spoke: Vec, radius: float, far: float) -> float:
    """Distance from the middle of a wall to the face that it opens to: where the level behind the rim stays the same."""
    levels: list[float] = []
    for k in range(20):
        aside = radius + 1e-3 * radius * 1.8**k
        met = rays.hits(middle + spoke * aside, out, far)
        if not met:
            break
        levels.append(met[0])
        if len(levels) > 1 and same(levels[-1], levels[-2], NOISE):
            return levels[-1]
    return levels[0] if levels else 0.0
