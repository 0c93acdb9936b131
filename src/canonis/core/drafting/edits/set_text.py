"""Other words for a statement, typed by hand."""

from canonis.core.drafting.commands import SetText
from canonis.core.drafting.edits.editor import Editor
from canonis.core.drafting.edits.registry import does
from canonis.core.drafting.pointing import with_exact_sizes
from canonis.core.faults import BadInput
from canonis.core.sheet import Statement, worded

__all__ = ["set_text"]


@does(SetText)
def set_text(editor: Editor, command: SetText) -> None:
    """Other words for a statement."""
    mark = editor.mark(command.id)
    if not isinstance(mark, Statement):
        raise BadInput("This mark says nothing that could be typed anew.")
    if not command.text.strip():
        raise BadInput("Type what it says, or delete it.")
    editor.put(worded(mark, command.text.strip()))
    editor.document = with_exact_sizes(editor.document, editor.scene())
    editor.refresh(mark.sheet)
