"""The rows of bends of bars and pipes."""

from collections.abc import Iterator

from canonis.core.shape import Parts
from canonis.core.sheet.note_rows import Named, says

__all__: list[str] = []


@says("bend", on="torus")
def _bends(n: Named) -> Iterator[Parts]:
    """How far the centre line of each bend lies from the axis that it goes about."""
    for face in n.numbers:
        ring = n.shape.motions[face].ring
        if ring is not None:
            yield {"radius": [{ring: 1.0}]}
