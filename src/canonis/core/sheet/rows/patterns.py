"""The rows of holes on a pitch circle."""

from collections.abc import Iterator

from canonis.core.shape import ON_CENTRE_LINE, Parts, ring_rows
from canonis.core.sheet.note_rows import Named, says

__all__ = ["ring_notes"]


@says("pattern", on="cylinder")
def ring_notes(n: Named) -> Iterator[Parts]:
    """On which circle things stand, and how they are spaced."""
    rows = ring_rows(n.shape, n.cylinders, n.equally_spaced or n.mark.says.part("equally-spaced") is not None)
    if n.mark.says.turns:
        # Where they stand is said, not drawn.
        rows.pop(ON_CENTRE_LINE, None)
    yield rows
