"""Sheets laid out anew: their size, their scale, their projection; rows and notes tidied."""

from canonis.core.drafting.commands import SetProjection, SetScale, SetSize, Tidy
from canonis.core.drafting.edits.editor import Editor
from canonis.core.drafting.edits.registry import does

__all__ = ["lay_out", "tidy"]


@does(SetSize, SetScale, SetProjection)
def lay_out(editor: Editor, command: SetSize | SetScale | SetProjection) -> None:
    """Every sheet laid out anew, as asked for."""
    if isinstance(command, SetProjection):
        editor.update(projection=command.value)
    for page in editor.document.pages:
        size = command.value if isinstance(command, SetSize) else page.size
        scale = command.value if isinstance(command, SetScale) else "auto"
        editor.arrange(page.number, size, scale)


@does(Tidy)
def tidy(editor: Editor, _: Tidy) -> None:
    """All rows and notes placed anew."""
    for page in editor.document.pages:
        editor.refresh(page.number, notes=True)
