"""Views moved to another sheet."""

from canonis.core.drafting.edits.editor import Editor
from canonis.core.drafting.edits.registry import does
from canonis.core.drafting.view_commands import ViewToSheet
from canonis.core.faults import BadInput
from canonis.core.layout import elsewhere, taken_by
from canonis.core.sheet import size_mm

__all__ = ["view_to_sheet"]


@does(ViewToSheet)
def view_to_sheet(editor: Editor, command: ViewToSheet) -> None:
    """A view on another sheet, with its statements; a new sheet where there is none of that number."""
    view = editor.view(command.id)
    if view.sheet == command.sheet:
        return
    source = editor.page(view.sheet)
    pages = editor.document.pages
    if command.sheet not in {p.number for p in pages}:
        if command.sheet != max(p.number for p in pages) + 1:
            raise BadInput(f"The next new sheet is {max(p.number for p in pages) + 1}.")
        pages = (*pages, source.model_copy(update={"number": command.sheet}))
    target = next(p for p in pages if p.number == command.sheet)
    if target.solid != source.solid:
        raise BadInput("That sheet shows another solid; the view stays with its own.")
    if sum(v.sheet == view.sheet for v in editor.document.views) == 1:
        raise BadInput("A sheet keeps at least one view; move another one there first.")
    width, height = size_mm(target.size)
    moved = view.model_copy(
        update={"sheet": command.sheet, "at": (round(width / 2, 3), round(height / 2, 3)), "aligned": False}
    )
    marks = tuple(
        a.model_copy(update={"sheet": command.sheet}) if a.view == view.id else a for a in editor.document.annotations
    )
    others = tuple(v for v in editor.document.views if v.id != view.id)
    editor.update(pages=pages, views=(*others, moved), annotations=marks)
    scene = editor.scene()
    at = elsewhere(scene, moved, taken_by(scene, moved.sheet, [], but=moved.id))
    if at:
        editor.put_view(moved.model_copy(update={"at": at}))
