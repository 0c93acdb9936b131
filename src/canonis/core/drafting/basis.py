"""What a sheet says so far, as a basis of the part's unknowns: whether a statement adds to it, and what stays free."""

from collections.abc import Iterable

from canonis.core.shape.elimination import Elimination
from canonis.core.shape.implied import drawn_levels, shape_of
from canonis.core.shape.part import Unknown
from canonis.core.sheet.document import Annotation, Leader, Note, SheetDocument, SheetPage
from canonis.core.sheet.equations import ground, stated_rows
from canonis.core.solid.model import Solid
from canonis.core.solid.references import resolve_all
from canonis.core.source.characteristic import Characteristic
from canonis.core.source.rules import HouseRules
from canonis.core.source.shorthand import read_line

__all__ = ["Basis"]


class Basis:
    """The statements of one sheet over the unknowns of its solid.

    Close it when done: the centres of rings that statements bring along belong to them, not to the part.
    """

    def __init__(self, document: SheetDocument, page: SheetPage, solid: Solid) -> None:
        self.document, self.page, self.solid = document, page, solid
        self.shape, implied = shape_of(solid)
        self._before = len(self.shape.unknowns)
        self._system = Elimination()
        mine = [a for a in document.annotations if a.sheet == page.number]
        found = resolve_all([r for a in mine for r in a.refs], solid)
        ground(self._system, self.shape, implied, document, page, found)
        self._ringed: set[int] = set()
        self._spaced = {a.refs for a in mine if (read := self._reading(a)) is not None and read.part("equally-spaced")}
        for mark in mine:
            if not mark.reference:
                self._take(mark)

    def _rows(self, mark: Annotation) -> list[dict[int, float]]:
        found = resolve_all(mark.refs, self.solid)
        spaced = mark.refs in self._spaced
        if mark.kind == "bolt-circle" and spaced:
            self._ringed |= {f for r in mark.refs for f in found[r].faces}
        return [r.row for r in stated_rows(self.shape, self.document, mark, self._reading(mark), found, spaced)]

    def _reading(self, mark: Annotation) -> Characteristic | None:
        """What the text of a note says."""
        if not isinstance(mark, Leader | Note) or not mark.refs:
            return None
        return read_line(mark.text, HouseRules(unit=self.document.unit))

    def _take(self, mark: Annotation) -> bool:
        new = False
        for n, row in enumerate(self._rows(mark)):
            new |= self._system.add(row, (mark.id, n)) is None
        return new

    def adds(self, mark: Annotation) -> bool:
        """Whether every row of a statement says something new; then it is taken."""
        rows = self._rows(mark)
        if not rows or any(self._system.spans(row) is not None for row in rows):
            return False
        return self._take(mark)

    def free(self) -> list[tuple[Unknown, dict[int, float]]]:
        """The unknowns that nothing fixes, drawn levels taken as said, with how all unknowns move when one does."""
        trial = Elimination()
        for _, row, name, _ in self._system.kept():
            trial.add(row, name)
        count = len(self.shape.unknowns)
        for level in drawn_levels(self.shape, self._ringed):
            if trial.rank == count:
                break
            trial.add(level.row, ("drawn level", *level.faces))
        return [(self.shape.unknowns[k], moves) for k, moves in trial.free(count)]

    def faces_of(self, moves: Iterable[int]) -> set[int]:
        """The faces that unknowns move."""
        return {f for k in moves for f in self.shape.unknowns[k].faces}

    def close(self) -> None:
        """Take off what the statements brought along."""
        del self.shape.unknowns[self._before :]
