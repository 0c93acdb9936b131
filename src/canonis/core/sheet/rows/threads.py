"""The rows of threads, on plain holes and as cut."""

from collections.abc import Iterator

from canonis.core.shape import Parts, PartShape, hole_rows, is_plain_hole, thread_rows
from canonis.core.sheet.note_rows import Named, says
from canonis.core.solid import Vec

__all__: list[str] = []


@says("thread", on="cylinder")
def _threads(n: Named) -> Iterator[Parts]:
    plain = [(ref, f) for ref, f in n.faces if is_plain_hole(n.shape.solid, f)]
    for ref, face in plain:
        out, fixed = n.out(ref)
        yield _tapped_rows(n.shape, face, out, n.mark.says.part("drill-diameter") is not None, fixed)
    if not plain and n.cylinders:
        yield thread_rows(n.shape, n.cylinders)


def _tapped_rows(shape: PartShape, face: int, out: Vec, drilled: bool, fixed: bool = False) -> Parts:
    """What a thread note says of the plain hole that it is cut into: of its drill, or of the hole itself where the note
    names no drill."""
    rows = hole_rows(shape, face, out, fixed)
    if not drilled:
        return {"thread": rows.get("diameter", [])} | {k: v for k, v in rows.items() if k != "diameter"}
    renamed = {"diameter": "drill-diameter", "depth": "drill-depth", "through": "drill-through"}
    return {renamed.get(k, k): v for k, v in rows.items()}
