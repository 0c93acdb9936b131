"""Pitch circles measured again from the fitted axes of their members."""

from typing import TYPE_CHECKING

import numpy as np

from canonis.core.proof.circles import ring_centre
from canonis.core.proof.statement import PartProof, compared, worst
from canonis.core.sheet.document import Leader
from canonis.core.source.characteristic import Characteristic

if TYPE_CHECKING:
    from canonis.core.proof.measure import Remeasurer

__all__ = ["measure_ring"]


def measure_ring(m: "Remeasurer", mark: Leader, alive: list[str], reading: Characteristic) -> list[PartProof]:
    """The diameter of the circle that every member must stand on."""
    fits = [m.cylinder(mark.sheet, m.resolution(mark.sheet, r).faces[0]) for r in alive]
    if len(fits) < 3:
        return []
    axis = fits[0][1]
    points = np.array([f[0] - axis * float(f[0] @ axis) for f in fits])
    unit = m.document.unit
    if len(points) == len(mark.refs) and len(points) % 2 == 0:
        # Opposite members give the diameter without a fit.
        spans = np.linalg.norm(points[:, None] - points[None, :], axis=2).max(axis=1)
        if float(np.ptp(spans)) > 1e-4:
            return [worst([compared(reading, "pitch-circle", float(s), unit) for s in spans])]
    centre = ring_centre(points)
    return [worst([compared(reading, "pitch-circle", 2 * float(np.linalg.norm(p - centre)), unit) for p in points])]
