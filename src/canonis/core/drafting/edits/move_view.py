"""Views moved by hand, with those in projection with them."""

from canonis.core.drafting.commands import MoveView
from canonis.core.drafting.edits.editor import Editor
from canonis.core.drafting.edits.registry import does
from canonis.core.sheet import Auxiliary, Detail, Pictorial, View
from canonis.core.tolerances import NOISE, same

__all__ = ["move_view"]


@does(MoveView)
def move_view(editor: Editor, command: MoveView) -> None:
    """A view by a way on the paper. Views stay in projection: those beside it share its level, those above its position."""
    moved = editor.view(command.id)
    views = []
    for v in editor.document.views:
        dx, dy = (command.dx, command.dy) if v.id == moved.id else (0.0, 0.0)
        if v.id != moved.id and v.sheet == moved.sheet and _keeps(v) and _keeps(moved):
            dx = command.dx if same(v.at[0], moved.at[0], NOISE) else 0.0
            dy = command.dy if same(v.at[1], moved.at[1], NOISE) else 0.0
        views.append(v.model_copy(update={"at": (round(v.at[0] + dx, 3), round(v.at[1] + dy, 3))}))
    editor.update(views=tuple(views))


def _keeps(view: View) -> bool:
    """Whether a view keeps in projection with its neighbours."""
    return view.aligned and not isinstance(view, Pictorial | Detail | Auxiliary)
