"""A part's mass properties against a checkpoint: the one place that says whether they agree."""

from collections.abc import Sequence

import numpy as np

from canonis.core.solid import Vec
from canonis.core.source import Checkpoint
from canonis.core.tolerances import NOTHING

__all__ = ["agrees", "differing"]


def agrees(value: float, wanted: float, half: float) -> bool:
    """Whether a figure lies within half of the last place that was written."""
    return abs(value - wanted) <= half * (1 + NOTHING) + NOTHING


def differing(
    checkpoint: Checkpoint, volume: float, area: float, mass: float | None, centre: Vec | Sequence[float] | None
) -> list[str]:
    """Which of mass (g), volume (mm³), area (mm²) and centre (mm, in the checkpoint's frame) differ; what the checkpoint
    does not state, or what is not known, does not differ."""
    out = []
    for name, value, wanted, half in (
        ("mass", mass, checkpoint.mass_g, checkpoint.mass_half),
        ("volume", volume, checkpoint.volume_mm3, checkpoint.volume_half),
        ("area", area, checkpoint.area_mm2, checkpoint.area_half),
    ):
        if value is not None and wanted is not None and not agrees(value, wanted, half):
            out.append(name)
    if centre is not None and checkpoint.centre_mm is not None:
        pairs = zip(np.asarray(centre, dtype=float), checkpoint.centre_mm, strict=True)
        if not all(agrees(float(a), b, checkpoint.centre_half) for a, b in pairs):
            out.append("centre")
    return out
