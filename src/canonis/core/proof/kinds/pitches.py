"""The equal spaces of a row measured again, each from one member to the next."""

import numpy as np

from canonis.core.callout import Callout
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.registry import meant
from canonis.core.proof.statement import PartProof, compared, worst
from canonis.core.sheet import Linear

__all__ = ["measure_pitches"]

meant("length", places="length")


def measure_pitches(m: Measurer, mark: Linear, alive: list[str], reading: Callout) -> list[PartProof]:
    """How many spaces there are, and the size of every one."""
    view = m.document.view(mark.view or "")
    direction = np.array(view.right if mark.direction == "x" else view.up)
    levels = [x for r in alive if (x := m.point(mark.sheet, r, direction)) is not None]
    if len(levels) < 2:
        return []
    spaces = np.diff(np.sort(levels))
    found = [compared(reading, "pitch", float(s), m.document.unit) for s in spaces]
    return [PartProof("count", float(reading.count), float(len(spaces)), reading.count == len(spaces)), worst(found)]
