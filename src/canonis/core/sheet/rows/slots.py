"""The rows of straight slots."""

from collections.abc import Iterator

from canonis.core.shape import Parts, slot_rows
from canonis.core.sheet.note_rows import Named, says

__all__: list[str] = []


@says("slot", on="cylinder", least=2)
def _slots(n: Named) -> Iterator[Parts]:
    ends = n.numbers
    for k in range(0, len(ends) - 1, 2):
        yield slot_rows(n.shape, (ends[k], ends[k + 1]))
