"""The rows of chamfers."""

from collections.abc import Iterator

from canonis.core.shape import Parts, chamfer_rows
from canonis.core.sheet.note_rows import Named, says

__all__: list[str] = []


@says("chamfer", on="plane cone")
def _chamfers(n: Named) -> Iterator[Parts]:
    for face in n.numbers:
        yield chamfer_rows(n.shape, face)
