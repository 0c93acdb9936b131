"""The statements of a sheet as rows of its part's system."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from canonis.core.shape import (
    ABOUT_CENTRE_LINE,
    ON_CENTRE_LINE,
    REGULAR,
    Elimination,
    Implied,
    PartShape,
    Row,
    added,
    distance_row,
    extreme_row,
    level_row,
    middle_row,
    pitch_rows,
)
from canonis.core.sheet.document import (
    Annotation,
    CentreLine,
    CentreMark,
    Leader,
    Linear,
    Note,
    Ordinate,
    Place,
    SheetDocument,
    SheetPage,
    SymmetryLine,
)
from canonis.core.sheet.note_rows import note_rows
from canonis.core.solid import Reference, Resolution, Solid, Vec, end_level, parse
from canonis.core.tolerances import ALIGNED, FINE, parallel, runs_along, same, same_way, square

__all__ = ["CONVENTIONS", "StatedRow", "datum_rows", "ground", "stated_rows"]

#: Rows that a statement brings along by the conventions of drawing: they are not said, and nothing says them twice.
CONVENTIONS = frozenset({ABOUT_CENTRE_LINE, ON_CENTRE_LINE, REGULAR})
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


def stated_rows(
    shape: PartShape,
    document: SheetDocument,
    mark: Annotation,
    found: dict[str, Resolution],
    equally_spaced: bool = False,
) -> Iterator[StatedRow]:
    """The rows that a statement gives: of a note those parts that it says.

    `found` are the resolutions of its references; `equally_spaced` is said of a pitch circle by the note of its holes.
    """
    if isinstance(mark, Linear | Ordinate):
        d = _direction(document, mark)
        members = [(parse(r), found[r]) for r in mark.refs]
        if mark.kind == "pattern":
            for n, row in enumerate(pitch_rows(shape, members, d).get("pitch", [])):
                yield StatedRow(mark.id, "pitch", n, row)
            members = [members[0], members[-1]]
        length = distance_row(shape, members[:2], d) if len(members) > 1 else None
        if length and mark.kind != "pattern":
            yield StatedRow(mark.id, "length", 0, length)
        for n, level in enumerate(members[2:], 1) if isinstance(mark, Ordinate) else ():
            other = distance_row(shape, [members[0], level], d)
            if other:
                yield StatedRow(mark.id, "length", n, other)
        if length and isinstance(mark, Linear):
            about = _about_centre_line(shape, document, mark, members[:2], found, d)
            if about:
                yield StatedRow(mark.id, ABOUT_CENTRE_LINE, 0, about)
        return
    if isinstance(mark, Place):
        view = document.view(mark.view or "")
        refs = [(parse(r), found[r]) for r in mark.refs]
        for part, origin, d in (("x", refs[0], np.array(view.right)), ("y", refs[1], np.array(view.up))):
            placed = distance_row(shape, [origin, refs[2]], d)
            if placed:
                yield StatedRow(mark.id, part, 0, placed)
        return
    if mark.kind == "free-form":
        faces = [f for r in dict.fromkeys(mark.refs) for f in found[r].faces]
        for n, free in enumerate(k for f in faces if (k := shape.motions[f].free) is not None):
            yield StatedRow(mark.id, "shape", n, {free: 1.0})
        return
    if not isinstance(mark, Leader | Note) or not mark.read:
        return
    said = {_OTHER_NAMES.get(p.name, p.name) for p in mark.says.parts}
    if any(name.startswith("member-") for name in said):
        said.add("member-angles")
    if "angle" in said and mark.says.kind == "chamfer":
        said.add("leg-b")
    count = 0
    for parts in note_rows(shape, document, mark, found, equally_spaced):
        for part, rows in parts.items():
            if part not in said and part not in CONVENTIONS and not (part == "equal-spacing" and equally_spaced):
                continue
            for row in rows:
                yield StatedRow(mark.id, part, count, row)
                count += 1


def _about_centre_line(
    shape: PartShape,
    document: SheetDocument,
    mark: Linear,
    ends: Sequence[tuple[Reference, Resolution]],
    found: dict[str, Resolution],
    d: Vec,
) -> Row | None:
    """That a width lies evenly about a centre line or a line of symmetry drawn across it in its view (ISO 128-3).

    The whole part and rows of holes lie evenly only about a line of symmetry: the centre mark of a hole says it of the
    walls beside it alone.
    """
    walls = all(ref.kind in ("plane", "bore-side", "shaft-side") for ref, _ in ends)
    values = [_value(shape.solid, ref, one, d) for ref, one in ends]
    if values[0] is None or values[1] is None:
        return None
    middle = (values[0] + values[1]) / 2
    rows = [level_row(shape, ref, one, d) for ref, one in ends]
    for line in document.annotations:
        if line.view != mark.view or not isinstance(line, CentreMark | CentreLine | SymmetryLine):
            continue
        if not walls and not isinstance(line, SymmetryLine):
            continue
        refs = [(parse(r), found[r]) for r in line.refs if r in found]
        if isinstance(line, SymmetryLine) and (line.direction != mark.direction or len(refs) < 2):
            continue
        places = [_value(shape.solid, ref, one, d) for ref, one in refs]
        known = [x for x in places if x is not None]
        if not known or len(known) < len(places) or not same(sum(known) / len(known), middle, FINE):
            continue
        levels = [level_row(shape, ref, one, d) for ref, one in refs]
        drawn = [x for x in levels if x is not None]
        if rows[0] is None or rows[1] is None or len(drawn) < len(levels):
            continue
        share = 1.0 / len(drawn)
        centre: Row = {}
        for one in drawn:
            centre = added(centre, one, share)
        return middle_row((rows[0], rows[1]), centre)
    return None


def _value(solid: Solid, ref: Reference, found: Resolution, d: Vec) -> float | None:
    """The level along `d` of what a flat face, an end of the part, an axis, or a side of a cylinder is now, mm."""
    if ref.kind == "extreme":
        return end_level(solid, d) if float(np.array(ref.vectors[0]) @ d) > 0 else -end_level(solid, -d)
    if not found.faces:
        return None
    face = solid.faces[found.faces[0]]
    if ref.kind == "mouth":
        return None
    if face.kind == "plane":
        return float(face.centre @ d) if parallel(face.axis, d) else None
    if face.kind not in ("cylinder", "cone", "torus") or not square(face.axis, d):
        return None
    out = float(np.array(ref.vectors[2]) @ d) * face.radius if ref.kind.endswith("-side") else 0.0
    return float(face.origin @ d) + out


def datum_rows(
    shape: PartShape, document: SheetDocument, page: SheetPage, found: dict[str, Resolution]
) -> list[tuple[Vec, Row]]:
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


def ground(
    system: Elimination,
    shape: PartShape,
    implied: Sequence[Implied],
    document: SheetDocument,
    page: SheetPage,
    found: dict[str, Resolution],
) -> None:
    """Put into an empty system what holds before anything is stated: the datum, what the geometry implies, and that axes
    drawn on a line of symmetry lie on it."""
    for u, row in datum_rows(shape, document, page, found):
        system.add(row, ("datum", int(np.argmax(np.abs(u))), 0))
    for n, one in enumerate(implied):
        system.add(one.row, (one.reason, n))
    for line in document.annotations:
        if isinstance(line, SymmetryLine) and line.sheet == page.number:
            _on_the_line(system, shape, document, line, found)


def _on_the_line(
    system: Elimination, shape: PartShape, document: SheetDocument, line: SymmetryLine, found: dict[str, Resolution]
) -> None:
    view = document.view(line.view or "")
    d = np.array(view.right if line.direction == "x" else view.up)
    refs = [(parse(r), found[r]) for r in line.refs if r in found]
    places = [x for ref, one in refs if (x := _value(shape.solid, ref, one, d)) is not None]
    levels = [row for ref, one in refs if (row := level_row(shape, ref, one, d)) is not None]
    if len(places) < 2 or len(levels) < 2:
        return
    middle = sum(places) / 2
    for k, unknown in enumerate(shape.unknowns):
        if unknown.kind != "level" or unknown.holder != "axis" or unknown.direction is None:
            continue
        sense = float(unknown.direction @ d)
        if runs_along(sense, ALIGNED) and same(unknown.value * sense, middle, FINE):
            off = middle_row((levels[0], levels[1]), {k: sense})
            if off:
                system.add(off, ("on a line of symmetry", k))


def _level_at(shape: PartShape, u: Vec, level: float) -> Row | None:
    """The row of an end of the part that lies at a level, else of anything that does, else of the far end."""
    solid = shape.solid
    for d in (u, -u):
        end = end_level(solid, d)
        if same(level * float(d @ u), end):
            row = extreme_row(shape, d)
            if row:
                return row
    levels = [
        k
        for k, x in enumerate(shape.unknowns)
        if x.kind == "level" and x.direction is not None and same_way(x.direction, u, ALIGNED)
    ]
    near = [k for k in levels if same(shape.unknowns[k].value, level)]
    if near:
        return {near[0]: 1.0}
    # Where the sheet counts from a free form, the model says how far one other thing lies from it.
    firm = extreme_row(shape, -u) or extreme_row(shape, u)
    return firm or ({levels[0]: 1.0} if levels else None)
