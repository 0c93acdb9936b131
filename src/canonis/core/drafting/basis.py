"""What a sheet says so far, as a basis of the part's unknowns: whether a statement adds to it, and what stays free."""

from collections.abc import Collection, Iterable

from canonis.core.shape import Elimination, Unknown, drawn_levels, shape_of
from canonis.core.sheet import (
    CONVENTIONS,
    Annotation,
    Leader,
    Note,
    SheetDocument,
    SheetPage,
    StatedRow,
    ground,
    stated_rows,
)
from canonis.core.solid import Resolution, Solid, resolve_all

__all__ = ["Basis"]


class Basis:
    """The statements of one sheet over the unknowns of its solid, parallel axes at one level taken as said. The centres of rings
    that statements bring along belong to them, not to the part."""

    def __init__(self, document: SheetDocument, page: SheetPage, solid: Solid, apart: Collection[int] = ()) -> None:
        """`apart` are faces of rings that are to be stated: their members are not drawn level with one another."""
        self.document, self.page, self.solid = document, page, solid
        whole, implied = shape_of(solid)
        self.shape = whole.overlay()
        self._system = Elimination()
        mine = [a for a in document.annotations if a.sheet == page.number]
        self._found: dict[str, Resolution] = resolve_all([r for a in mine for r in a.refs], solid)
        ground(self._system, self.shape, implied, document, page, self._found)
        self._spaced = {a.refs for a in mine if _says_spaced(a)}
        ringed = {
            f
            for a in mine
            if a.kind == "bolt-circle" and (a.refs in self._spaced or (isinstance(a, Leader) and a.says.turns))
            for r in a.refs
            for f in self._found[r].faces
        }
        for level in drawn_levels(self.shape, ringed | set(apart), axes=True):
            self._system.add(level.row, ("drawn level", *level.faces))
        for mark in mine:
            if not mark.reference:
                self._take(mark, self.rows(mark))

    def rows(self, mark: Annotation) -> list[StatedRow]:
        """What a statement says, as equations."""
        self._resolve(mark)
        if _says_spaced(mark):
            self._spaced.add(mark.refs)
        return list(stated_rows(self.shape, self.document, mark, self._found, mark.refs in self._spaced))

    def _resolve(self, mark: Annotation) -> None:
        new = [r for r in mark.refs if r not in self._found]
        if new:
            self._found |= resolve_all(new, self.solid)

    def _take(self, mark: Annotation, rows: Iterable[StatedRow]) -> bool:
        new = False
        for n, said in enumerate(rows):
            new |= self._system.add(said.row, (mark.id, n)) is None and said.part not in CONVENTIONS
        return new

    def adds(self, mark: Annotation) -> bool:
        """Whether every row of a statement says something new; then it is taken."""
        rows = self.rows(mark)
        if not rows or any(self._system.spans(r.row) is not None for r in rows if r.part not in CONVENTIONS):
            return False
        return self._take(mark, rows)

    def takes(self, mark: Annotation) -> bool:
        """Whether a note says anything new, or only what no equation holds; then it is taken with all that it says."""
        rows = self.rows(mark)
        return self._take(mark, rows) or not rows

    def said(self, mark: Annotation) -> set[str]:
        """The parts of a statement that are said already, row by row."""
        rows = [r for r in self.rows(mark) if r.part not in CONVENTIONS]
        new = {r.part for r in rows if self._system.spans(r.row) is None}
        return {r.part for r in rows} - new

    def levelled(self, mark: Annotation) -> bool:
        """Whether a statement ends at a flat face or an axis, which may be drawn level with others of its row."""
        self._resolve(mark)
        faces = self._found[mark.refs[-1]].faces
        return bool(faces) and any(
            self.shape.unknowns[k].holder in ("plane", "axis") for _, k in self.shape.motions[faces[0]].axes
        )

    def free(self) -> list[tuple[Unknown, dict[int, float]]]:
        """The unknowns that nothing fixes, with how all unknowns move when one does."""
        return [(self.shape.unknowns[k], moves) for k, moves in self._system.free(len(self.shape.unknowns))]

    def faces_of(self, moves: Iterable[int]) -> set[int]:
        """The faces that unknowns move."""
        return {f for k in moves for f in self.shape.unknowns[k].faces}


def _says_spaced(mark: Annotation) -> bool:
    return isinstance(mark, Leader | Note) and mark.says.part("equally-spaced") is not None
