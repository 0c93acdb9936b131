"""The statements of a sheet as rows of its part's system."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from canonis.core.shape.elimination import Elimination
from canonis.core.shape.implied import Implied
from canonis.core.shape.part import PartShape
from canonis.core.shape.rows import Row
from canonis.core.shape.statements import (
    ON_CENTRE_LINE,
    Parts,
    angle_rows,
    chamfer_rows,
    distance_row,
    extreme_row,
    hole_rows,
    level_row,
    rim_rows,
    ring_rows,
    round_rows,
    slot_rows,
    thread_rows,
)
from canonis.core.sheet.document import Annotation, Leader, Linear, Note, Ordinate, SheetDocument, SheetPage
from canonis.core.solid.model import Vec
from canonis.core.solid.references import Resolution, parse
from canonis.core.source.characteristic import Characteristic

__all__ = ["StatedRow", "datum_rows", "ground", "stated_rows"]

#: Parts of a text that say nothing about sizes, or say it by counting.
_OTHER_NAMES = {"equally-spaced": "equal-spacing"}


@dataclass(frozen=True)
class StatedRow:
    """One row of one part of a statement."""

    statement: str
    part: str
    member: int
    row: Row

    @property
    def name(self) -> tuple[str, str, int]:
        """What the row is called in a sum."""
        return self.statement, self.part, self.member


def _direction(document: SheetDocument, mark: Linear | Ordinate) -> Vec:
    view = document.view(mark.view or "")
    return np.array(view.right if mark.direction == "x" else view.up)


def _faces(shape: PartShape, refs: tuple[str, ...], found: dict[str, Resolution]) -> list[tuple[str, int]]:
    """The round and flat faces that references still name, each once, with the reference."""
    out: dict[int, str] = {}
    for ref in dict.fromkeys(refs):
        if found[ref].faces and found[ref].status != "ambiguous":
            out.setdefault(found[ref].faces[0], ref)
    return [(ref, face) for face, ref in out.items()]


def stated_rows(
    shape: PartShape, document: SheetDocument, mark: Annotation, reading: Characteristic | None, found: dict[str, Resolution],
    equally_spaced: bool = False,
) -> Iterator[StatedRow]:  # fmt: skip
    """The rows that a statement gives: of its note those parts that its text says (`reading`).

    `found` are the resolutions of its references; `equally_spaced` is said of a pitch circle by the note of its holes.
    """
    if isinstance(mark, Linear | Ordinate):
        ends = [(parse(r), found[r]) for r in mark.refs[:2]]
        row = distance_row(shape, ends, _direction(document, mark)) if len(ends) == 2 else None
        if row:
            yield StatedRow(mark.id, "length", 0, row)
        return
    if not isinstance(mark, Leader | Note) or reading is None or reading.error:
        return
    said = {_OTHER_NAMES.get(p.name, p.name) for p in reading.parts}
    if "angle" in said and reading.kind == "chamfer":
        said.add("leg-b")
    count = 0
    for parts in _parts(shape, document, mark, reading, found, equally_spaced):
        for part, rows in parts.items():
            if part not in said and part != ON_CENTRE_LINE and not (part == "equal-spacing" and equally_spaced):
                continue
            for row in rows:
                yield StatedRow(mark.id, part, count, row)
                count += 1


def _parts(
    shape: PartShape,
    document: SheetDocument,
    mark: Leader | Note,
    reading: Characteristic,
    found: dict[str, Resolution],
    equally_spaced: bool,
) -> Iterator[Parts]:
    faces = _faces(shape, mark.refs, found)
    cylinders = [f for _, f in faces if shape.solid.faces[f].kind == "cylinder"]
    if mark.kind == "hole":
        for ref, face in faces:
            if shape.solid.faces[face].kind == "cylinder":
                yield hole_rows(shape, face, np.array(parse(ref).vectors[1]))
        if reading.part("pitch-circle"):
            yield ring_rows(shape, cylinders, reading.part("equally-spaced") is not None)
    elif mark.kind == "slot":
        ends = [face for _, face in faces]
        for k in range(0, len(ends) - 1, 2):
            yield slot_rows(shape, (ends[k], ends[k + 1]))
    elif mark.kind == "chamfer":
        for _, face in faces:
            yield chamfer_rows(shape, face)
    elif mark.kind == "bolt-circle":
        yield ring_rows(shape, cylinders, equally_spaced)
    elif mark.kind == "thread":
        if cylinders:
            yield thread_rows(shape, cylinders)
    elif mark.kind == "angle":
        view = document.view(mark.view or "")
        yield angle_rows(shape, [f for _, f in faces], np.cross(np.array(view.right), np.array(view.up)))
    else:
        for _, face in faces:
            yield round_rows(shape, face)
        for ref in dict.fromkeys(mark.refs):
            if found[ref].edges and found[ref].status != "ambiguous":
                yield rim_rows(shape, shape.solid.edges[found[ref].edges[0]])


def datum_rows(
    shape: PartShape, document: SheetDocument, page: SheetPage, found: dict[str, Resolution]
) -> list[tuple[Vec, Row]]:  # fmt: skip
    """What stands still: for each direction of the part's frame the row of what its levels count from."""
    out: list[tuple[Vec, Row]] = []
    origins: dict[int, tuple[str, Vec]] = {}
    for mark in document.annotations:
        if mark.sheet == page.number and isinstance(mark, Ordinate):
            d = _direction(document, mark)
            k = int(np.argmax(np.abs(shape.frame @ d)))
            origins.setdefault(k, (mark.refs[0], shape.frame[k]))
    for k, u in enumerate(shape.frame):
        row: Row | None = None
        if k in origins:
            ref, d = origins[k]
            row = level_row(shape, parse(ref), found[ref], d)
        row = row or _level_at(shape, u, float(np.array(page.datum) @ u))
        if row:
            out.append((u, row))
    return out


def ground(system: Elimination, shape: PartShape, implied: Sequence[Implied], document: SheetDocument, page: SheetPage,
           found: dict[str, Resolution]) -> None:  # fmt: skip
    """Put into an empty system what holds before anything is stated: the datum, and what the geometry implies."""
    for u, row in datum_rows(shape, document, page, found):
        system.add(row, ("datum", int(np.argmax(np.abs(u))), 0))
    for n, one in enumerate(implied):
        system.add(one.row, (one.reason, n))


def _level_at(shape: PartShape, u: Vec, level: float) -> Row | None:
    """The row of an end of the part that lies at a level, else of anything that does, else of the far end."""
    solid = shape.solid
    for d in (u, -u):
        end = float(np.maximum(solid.box[0] * d, solid.box[1] * d).sum())
        if abs(level * float(d @ u) - end) < 1e-3:
            row = extreme_row(shape, d)
            if row:
                return row
    near = [
        k for k, x in enumerate(shape.unknowns)
        if x.kind == "level" and x.direction is not None and float(x.direction @ u) > 1 - 1e-9 and abs(x.value - level) < 1e-3
    ]  # fmt: skip
    if near:
        return {near[0]: 1.0}
    return extreme_row(shape, -u)
