"""The rows of grooves, with flat walls and round-bottomed."""

from collections.abc import Iterator

from canonis.core.shape import Parts, groove_rows, round_groove_rows
from canonis.core.sheet.note_rows import Named, says

__all__: list[str] = []


@says("groove", on="plane cylinder torus")
def _grooves(n: Named) -> Iterator[Parts]:
    faces = n.numbers
    if faces and n.shape.solid.faces[faces[0]].kind == "torus":
        yield from (round_groove_rows(n.shape, f) for f in faces)
        return
    for k in range(0, len(faces) - 2, 3):
        yield groove_rows(n.shape, faces[k], faces[k + 1 : k + 3])
