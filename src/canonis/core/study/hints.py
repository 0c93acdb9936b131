"""What the recogniser found, handed to the proof as data."""

from canonis.core.features.model import Feature
from canonis.core.mass.hints import Hints, Lump
from canonis.core.slips.bores import taken
from canonis.core.study.made import bore_of

__all__ = ["hints_of"]


def hints_of(found: Feature) -> Hints:
    """Hole axes by their labels, and what each hole takes away."""
    axes = {}
    lumps = []
    for group in found.holes:
        x, y, z = (float(c) for c in group.first.start)
        axes[group.id] = (x, y, z)
        words = f"{group.id} (⌀{group.first.diameter:.4g} mm"
        lumps.append(Lump(group.id, words, taken(bore_of(group.first))[0], len(group.holes)))
    return Hints(axes, tuple(lumps))
