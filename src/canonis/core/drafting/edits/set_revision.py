"""The revision of a sheet."""

from typing import Any

from canonis.core.drafting.commands import SetRevision
from canonis.core.drafting.edits.editor import Editor
from canonis.core.drafting.edits.registry import does
from canonis.core.sheet import Revision

__all__ = ["set_revision"]


@does(SetRevision)
def set_revision(editor: Editor, command: SetRevision) -> None:
    """The letter in the title block and, with what changed, a row of the revision block; the same letter again corrects its row."""
    title = editor.document.title
    update: dict[str, Any] = {"revision": command.value}
    if command.change.strip():
        row = Revision(letter=command.value, change=command.change.strip(), date=command.date, by=command.by)
        update["revisions"] = (*(r for r in title.revisions if r.letter != command.value), row)
    editor.update(title=title.model_copy(update=update))
    editor.place_notes()
