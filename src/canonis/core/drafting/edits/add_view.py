"""Principal views and pictorials added by hand."""

from typing import Any

from canonis.core.drafting.edits.editor import Editor
from canonis.core.drafting.edits.registry import does
from canonis.core.drafting.new_views import BY_HAND, corner_frame
from canonis.core.drafting.sectioning import triple
from canonis.core.drafting.view_commands import AddView
from canonis.core.faults import BadInput
from canonis.core.sheet import Parallel, Pictorial, View, frame_of_view
from canonis.core.view import frame_of

__all__ = ["add_view"]


@does(AddView)
def add_view(editor: Editor, command: AddView) -> None:
    """A principal view in projection with the front view, or a pictorial, in a free place."""
    front = next((v for v in editor.document.views if v.kind == "front" and v.sheet == command.sheet), None)
    if front is None:
        raise BadInput("That sheet has no front view to place another by.")
    frame = frame_of_view(front)
    shared: dict[str, Any] = {
        "id": editor.new_view()[0],
        "sheet": command.sheet,
        "origin": front.origin,
        "at": front.at,
        "reason": BY_HAND,
    }
    if command.kind == "pictorial":
        turned = corner_frame(frame, command.corner, command.below)
        made: View = Pictorial(
            **shared,
            scale=front.scale / 2 if front.scale > 0.5 else front.scale,
            right=triple(turned.right),
            up=triple(turned.up),
            corner=command.corner,
            below=command.below,
            hidden=False,
            aligned=False,
        )
        editor.add_view(made, aligned=False)
        return
    if any(v.kind == command.kind and v.sheet == command.sheet for v in editor.document.views):
        raise BadInput(f"The {command.kind} view is on the sheet already.")
    turned = frame_of(command.kind, frame)
    made = Parallel(
        **shared,
        kind=command.kind,
        scale=front.scale,
        right=triple(turned.right),
        up=triple(turned.up),
        parent=front.id,
    )
    editor.add_view(made, aligned=True)
