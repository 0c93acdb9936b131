"""Slots measured again: width, centres, depth or THRU, at every slot that the note names."""

from typing import TYPE_CHECKING

import numpy as np

from canonis.core.proof.statement import PartProof, compared, worst
from canonis.core.sheet.document import Leader
from canonis.core.solid.probe import Rays, face_normals
from canonis.core.source.characteristic import Characteristic

if TYPE_CHECKING:
    from canonis.core.proof.measure import Remeasurer

__all__ = ["measure_slots"]


def measure_slots(m: "Remeasurer", mark: Leader, alive: list[str], reading: Characteristic) -> list[PartProof]:
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
    shut = [not _open_both(m, mark.sheet, r) for r in alive]
    if reading.part("through"):
        parts.append(PartProof("through", True, not any(shut), not any(shut)))
    if reading.part("depth"):
        parts.append(
            worst([compared(reading, "depth", f[3] if s else None, unit) for f, s in zip(fits, shut, strict=True)])
        )
    return parts


def _open_both(m: "Remeasurer", sheet: int, ref: str) -> bool:
    """Whether a half-round slot end is open at both ends: a line beside its wall meets no floor."""
    solid, face = m.solid(sheet), m.resolution(sheet, ref).faces[0]
    middle, axis, radius, length = m.cylinder(sheet, face)
    inside, _ = face_normals(solid, face, 3)
    spoke = inside[4] - middle
    spoke = spoke - axis * float(spoke @ axis)
    rays = Rays(solid, middle, length + 4 * radius)
    return all(not rays.hits(middle + spoke * 0.9, axis * s, length / 2 + 1e-3) for s in (1.0, -1.0))
