"""Statements moved by hand."""

from canonis.core.drafting.commands import Move
from canonis.core.drafting.edits.editor import Editor
from canonis.core.drafting.edits.registry import does
from canonis.core.faults import BadInput
from canonis.core.sheet import HoleTable, Leader, Linear, Note, Ordinate
from canonis.core.sheet.document import Place

__all__ = ["move"]


def _outward(side: str, dx: float, dy: float) -> tuple[float, float]:
    """Movement of a row: away from its outline, and along it."""
    return {"above": (dy, dx), "below": (-dy, dx), "left": (-dx, dy), "right": (dx, dy)}[side]


@does(Move)
def move(editor: Editor, command: Move) -> None:
    """A text or a row by a way on the paper. Rows snap; ordinates of one side stand in one row."""
    mark = editor.mark(command.id)
    dx, dy = command.dx, command.dy
    look = editor.look(mark.sheet)
    if isinstance(mark, Leader | Note | HoleTable):
        at = (round(mark.at[0] + dx, 3), round(mark.at[1] + dy, 3))
        editor.put(mark.model_copy(update={"at": at, "by_hand": True}))
    elif isinstance(mark, Place):
        offset = (round(mark.offset[0] + dx, 3), round(mark.offset[1] + dy, 3))
        editor.put(mark.model_copy(update={"offset": offset, "by_hand": True}))
    elif isinstance(mark, Linear):
        out, along = _outward(mark.side, dx, dy)
        # The first row stands at the style's distance, the others a row further each.
        steps = max(0, round((mark.row + out - look.first_row) / look.next_row))
        row = look.first_row + steps * look.next_row
        editor.put(mark.model_copy(update={"row": row, "along": round(mark.along + along, 3), "by_hand": True}))
    elif isinstance(mark, Ordinate):
        out, _ = _outward(mark.side, dx, dy)
        row = max(look.first_row, round(mark.row + out))
        family = [
            a
            for a in editor.document.annotations
            if isinstance(a, Ordinate) and (a.view, a.side) == (mark.view, mark.side)
        ]
        editor.put(*(a.model_copy(update={"row": row}) for a in family))
    else:
        raise BadInput("That mark belongs to what it stands on and moves with it.")
