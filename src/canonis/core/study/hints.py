"""What the recogniser found, handed to the proof as data."""

from canonis.core.features.model import Feature
from canonis.core.features.volumes import hole_volume
from canonis.core.mass.hints import Hints, Lump

__all__ = ["hints_of"]


def hints_of(found: Feature) -> Hints:
    """Hole axes by their labels, and what each hole takes away."""
    axes = {}
    lumps = []
    for group in found.holes:
        x, y, z = (float(c) for c in group.first.start)
        axes[group.id] = (x, y, z)
        words = f"{group.id} (⌀{group.first.diameter:.4g} mm"
        lumps.append(Lump(group.id, words, hole_volume(group.first)[0], len(group.holes)))
    return Hints(axes, tuple(lumps))
