"""Statements taken off the sheet."""

from canonis.core.callout import of_the_part
from canonis.core.drafting.commands import Remove
from canonis.core.drafting.edits.editor import Editor
from canonis.core.drafting.edits.registry import does
from canonis.core.sheet import Ordinate

__all__ = ["remove"]


@does(Remove)
def remove(editor: Editor, command: Remove) -> None:
    """A statement off the sheet; the zero of a row goes with the last value that counts from it."""
    mark = editor.mark(command.id)
    left = tuple(a for a in editor.document.annotations if a.id != mark.id)
    if isinstance(mark, Ordinate):
        row = [a for a in left if isinstance(a, Ordinate) and (a.view, a.direction) == (mark.view, mark.direction)]
        if not any(a.refs[0] != a.refs[-1] for a in row):
            gone = {a.id for a in row}
            left = tuple(a for a in left if a.id not in gone)
    editor.update(annotations=left)
    if of_the_part(mark.states):
        # What the source asks stands among the notes again.
        editor.write_notes()
