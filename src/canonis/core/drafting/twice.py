"""A draft says nothing twice: what other statements give already is left out, or in parentheses when it is an overall size."""

from collections import defaultdict

from canonis.core.quantity.units import Unit
from canonis.core.shape.elimination import Elimination
from canonis.core.shape.implied import shape_of
from canonis.core.shape.part import PartShape
from canonis.core.sheet.document import Annotation, Leader, Linear, Note, Ordinate, SheetDocument, SheetPage
from canonis.core.sheet.equations import StatedRow, ground, stated_rows
from canonis.core.solid.model import Solid
from canonis.core.solid.references import resolve_all
from canonis.core.source.characteristic import Characteristic
from canonis.core.source.rules import HouseRules
from canonis.core.source.shorthand import read_line

__all__ = ["say_once"]


def say_once(document: SheetDocument, solids: tuple[Solid, ...]) -> SheetDocument:
    """The document without statements that repeat others; overall sizes stay, as references (ISO 129-1, 5.9: auxiliary
    dimensions in parentheses)."""
    marks: list[Annotation] = []
    for page in document.pages:
        marks += _page(document, page, solids[page.solid])
    return document.model_copy(update={"annotations": tuple(marks)})


def _order(mark: Annotation, rows: list[StatedRow], shape: PartShape) -> int:
    """Notes, then where things are, then overall sizes, then bare levels: what comes late gives way. Over a round end the
    overall size comes last: centre and radius say where it is."""
    if isinstance(mark, Ordinate):
        return 3 if mark.feature == "level" else 1
    if isinstance(mark, Linear):
        return 4 if any(shape.unknowns[k].kind != "level" for r in rows for k in r.row) else 2
    return 0


def _page(document: SheetDocument, page: SheetPage, solid: Solid) -> list[Annotation]:
    mine = [a for a in document.annotations if a.sheet == page.number]
    found = resolve_all([r for a in mine for r in a.refs], solid)
    shape, implied = shape_of(solid)
    before = len(shape.unknowns)
    system = Elimination()
    ground(system, shape, implied, document, page, found)
    readings: dict[str, Characteristic] = {
        a.id: read_line(a.text, HouseRules(unit=document.unit or Unit.MM)) for a in mine if isinstance(a, Leader | Note) and a.refs
    }  # fmt: skip
    spaced = {a.refs for a in mine if a.id in readings and readings[a.id].part("equally-spaced")}
    changed: dict[str, Annotation | None] = {}
    stated = [
        (a, list(stated_rows(shape, document, a, readings.get(a.id), found, a.refs in spaced))) for a in mine if not a.reference
    ]  # fmt: skip
    for mark, rows in sorted(stated, key=lambda s: _order(s[0], s[1], shape)):
        said = [system.add(r.row, r.name) is not None for r in rows]
        if not rows or not all(said):
            continue
        if isinstance(mark, Linear):
            changed[mark.id] = mark.model_copy(update={"reference": True})
        elif isinstance(mark, Ordinate):
            changed[mark.id] = None
    del shape.unknowns[before:]
    kept = [left for a in mine if (left := changed.get(a.id, a)) is not None]
    rows_left: dict[tuple[str | None, str], int] = defaultdict(int)
    for a in kept:
        if isinstance(a, Ordinate) and a.refs[0] != a.refs[1]:
            rows_left[(a.view, a.direction)] += 1
    return [a for a in kept if not isinstance(a, Ordinate) or rows_left[(a.view, a.direction)]]
