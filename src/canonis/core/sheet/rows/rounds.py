"""The rows of diameters, radii and rounds."""

from collections.abc import Iterator

from canonis.core.shape import Parts, rim_rows, round_rows
from canonis.core.sheet.note_rows import Named, says

__all__: list[str] = []


@says("diameter", "radius", "round", least=0)
def _rounds(n: Named) -> Iterator[Parts]:
    for face in n.numbers:
        yield round_rows(n.shape, face)
    for ref in dict.fromkeys(n.mark.refs):
        if n.found[ref].edges and n.found[ref].status != "ambiguous":
            yield rim_rows(n.shape, n.shape.solid.edges[n.found[ref].edges[0]])
