"""The datum frame that a job names, marked on the sheet: each of its faces, or its axis, with a letter."""

from canonis.core.drafting.desk import Desk, next_number
from canonis.core.drafting.letters import LETTERS, taken_letters
from canonis.core.drafting.seen import lines_of
from canonis.core.sheet import DatumMark, Leader, Section, SheetDocument, View, frame_of_view
from canonis.core.solid import resolve_all
from canonis.core.tolerances import square

__all__ = ["with_datum_marks"]


def with_datum_marks(desk: Desk, refs: tuple[str, ...]) -> SheetDocument:
    """The document with an indicator for each face of a frame that a view shows edge-on, or whose note it carries."""
    document = desk.scene.document
    found = resolve_all(refs, desk.solid)
    taken = taken_letters(document)
    letters = (c for c in LETTERS if c not in taken)
    number = next_number(document, "M")
    made: list[DatumMark] = []
    for ref in refs:
        if len(found[ref].faces) != 1:
            continue
        face = found[ref].faces[0]
        view = _view_of(desk, face)
        if view is not None:
            mark = DatumMark(
                id=f"M{number + len(made)}",
                sheet=desk.sheet,
                view=view.id,
                refs=(desk.reference(face),),
                letter=next(letters),
            )
            made.append(mark)
    return document.model_copy(update={"annotations": (*document.annotations, *made)})


def _view_of(desk: Desk, index: int) -> View | None:
    face, ref = desk.solid.faces[index], desk.reference(index)
    if face.kind != "plane":
        noted = [
            a.view
            for a in desk.scene.document.annotations
            if isinstance(a, Leader) and a.says.part("diameter") and ref in a.refs
        ]
        return next((v for v in desk.views if v.id in noted), None)
    shown = []
    for n, view in enumerate(desk.views):
        if isinstance(view, Section) or not square(face.axis, frame_of_view(view).toward):
            continue
        length = sum(x.length for x in lines_of(desk.scene, view, index) if x.kind == "line")
        shown.append((length, -n, view))
    best = max(shown, key=lambda s: s[:2], default=None)
    return best[2] if best is not None and best[0] > 0 else None
