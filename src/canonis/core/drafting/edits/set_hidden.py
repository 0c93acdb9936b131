"""Hidden lines shown or left out."""

from canonis.core.drafting.commands import SetHidden
from canonis.core.drafting.edits.editor import Editor
from canonis.core.drafting.edits.registry import does

__all__ = ["set_hidden"]


@does(SetHidden)
def set_hidden(editor: Editor, command: SetHidden) -> None:
    """Whether a view shows its hidden lines."""
    editor.put_view(editor.view(command.view).model_copy(update={"hidden": command.value}))
