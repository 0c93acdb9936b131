"""Views taken off the sheet."""

from canonis.core.drafting.edits.editor import Editor
from canonis.core.drafting.edits.registry import does
from canonis.core.drafting.view_commands import RemoveView
from canonis.core.faults import BadInput
from canonis.core.sheet import Parallel, Section, SheetDocument

__all__ = ["remove_view"]


@does(RemoveView)
def remove_view(editor: Editor, command: RemoveView) -> None:
    """A view off the sheet, with what hangs on it and the statements in it."""
    view = editor.view(command.id)
    gone = _hangs_on(editor.document, view.id)
    left = tuple(v for v in editor.document.views if v.id not in gone)
    if (
        not any(isinstance(v, Parallel | Section) and v.sheet == view.sheet for v in left)
        and len(editor.document.pages) == 1
    ):
        raise BadInput("A sheet keeps at least one view; add another before this one goes.")
    marks = tuple(a for a in editor.document.annotations if a.view not in gone)
    editor.update(views=left, annotations=marks)


def _hangs_on(document: SheetDocument, name: str) -> set[str]:
    """The view and all that hangs on it."""
    out = {name}
    while True:
        more = {v.id for v in document.views if v.parent in out and not isinstance(v, Parallel)} - out
        if not more:
            return out
        out |= more
