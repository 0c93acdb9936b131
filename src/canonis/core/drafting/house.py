"""What house rules change on a sheet that is otherwise drafted: repeats, THRU, sizes on the pictorial, unstated sizes."""

from collections.abc import Collection

from canonis.core.callout import ALL, flag
from canonis.core.drafting.desk import Desk
from canonis.core.sheet import Annotation, Leader, Linear, Ordinate, Pictorial, SheetDocument
from canonis.core.solid import Vec
from canonis.core.tolerances import same

__all__ = ["estimated", "said_typical", "sizes_at_pictorial", "through_all"]


def _with_marks(document: SheetDocument, marks: list[Annotation]) -> SheetDocument:
    return document.model_copy(update={"annotations": tuple(marks)})


def said_typical(document: SheetDocument) -> SheetDocument:
    """TYP in place of the counts of notes."""
    marks: list[Annotation] = []
    for mark in document.annotations:
        if isinstance(mark, Leader) and mark.says.count > 1:
            mark = mark.saying(mark.says.changed(count=1, typical=True))
        marks.append(mark)
    return _with_marks(document, marks)


def through_all(desk: Desk) -> SheetDocument:
    """THRU ALL on the holes that leave the part on its far side."""
    document = desk.scene.document
    leaving = {
        g.id
        for g in desk.found.holes
        if all(h.through and _leaves(desk, h.start - h.axis * h.length, h.axis) for h in g.holes)
    }
    marks: list[Annotation] = []
    for mark in document.annotations:
        if isinstance(mark, Leader) and mark.kind == "hole" and mark.sheet == desk.sheet and mark.feature in leaving:
            end = [flag(p.name, ALL) for p in mark.says.parts if p.name == "through"]
            mark = mark.saying(mark.says.having(*end))
        marks.append(mark)
    return _with_marks(document, marks)


def _leaves(desk: Desk, end: Vec, axis: Vec) -> bool:
    """Whether the far end of a hole lies on the box of the part."""
    k = int(abs(axis).argmax())
    far = desk.solid.box[0][k] if axis[k] > 0 else desk.solid.box[1][k]
    return same(float(end[k]), float(far))


def sizes_at_pictorial(desk: Desk) -> SheetDocument:
    """The true overall sizes in parentheses under the pictorial of a sheet."""
    document = desk.scene.document
    text = " × ".join(f"({desk.written(float(s))})" for s in desk.solid.size)
    views = tuple(
        v.model_copy(update={"label": text}) if isinstance(v, Pictorial) and v.sheet == desk.sheet else v
        for v in document.views
    )
    return document.model_copy(update={"views": views})


def _is_zero(mark: Leader | Linear | Ordinate) -> bool:
    return isinstance(mark, Ordinate) and mark.refs[0] == mark.refs[-1]


def estimated(document: SheetDocument, sheet: int, stated: Collection[str]) -> SheetDocument:
    """EST on every size of a sheet that is not among those that the source states."""
    marks: list[Annotation] = []
    for mark in document.annotations:
        said = mark.sheet == sheet and mark.id not in stated and not mark.reference and bool(mark.refs)
        if said and isinstance(mark, Leader | Linear | Ordinate) and mark.read and not _is_zero(mark):
            mark = mark.saying(mark.says.changed(estimated=True))
        marks.append(mark)
    return _with_marks(document, marks)
