"""The rows of angles."""

from collections.abc import Iterator

import numpy as np

from canonis.core.shape import Parts, angle_rows
from canonis.core.sheet.note_rows import Named, says

__all__: list[str] = []


@says("angle", seen=True)
def _angles(n: Named) -> Iterator[Parts]:
    view = n.document.view(n.mark.view or "")
    yield angle_rows(n.shape, n.numbers, np.cross(np.array(view.right), np.array(view.up)))
