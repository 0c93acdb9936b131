"""The rows of holes."""

from collections.abc import Iterator

from canonis.core.shape import Parts, hole_rows
from canonis.core.sheet.note_rows import Named, says
from canonis.core.sheet.rows.patterns import ring_notes

__all__: list[str] = []


@says("hole")
def _holes(n: Named) -> Iterator[Parts]:
    for ref, face in n.faces:
        if n.shape.solid.faces[face].kind == "cylinder":
            yield hole_rows(n.shape, face, *n.out(ref))
    if n.mark.says.part("pitch-circle"):
        yield from ring_notes(n)
