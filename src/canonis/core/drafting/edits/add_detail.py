"""Details taken by hand."""

import numpy as np

from canonis.core.drafting.edits.editor import Editor
from canonis.core.drafting.edits.registry import does
from canonis.core.drafting.new_views import BY_HAND
from canonis.core.drafting.sectioning import on_plane, snap_levels, snapped
from canonis.core.drafting.view_commands import AddDetail
from canonis.core.faults import BadInput
from canonis.core.sheet import SCALES, Detail, Pictorial, Window, frame_of_view, parse_scale

__all__ = ["add_detail"]


@does(AddDetail)
def add_detail(editor: Editor, command: AddDetail) -> None:
    """A detail about a point of a view, in a free place."""
    parent = editor.view(command.view)
    if isinstance(parent, Pictorial | Detail):
        raise BadInput("A detail is taken from a view square to the part; choose another view.")
    scene = editor.scene()
    if command.levels is not None:
        page, frame = editor.page(parent.sheet), frame_of_view(parent)
        flat = frame.flat(np.array(page.datum)) + np.array(command.levels)
    elif command.at is not None:
        flat = on_plane(scene, parent, command.at)
    else:
        raise BadInput("A detail needs its middle: a point on the sheet, or its levels from the datum.")
    spot = snapped(scene, parent, flat, snap_levels(scene, parent))
    reach = command.radius / parent.scale
    if command.scale == "auto":
        wanted = 22.0 / reach
        steps = sorted(n / d for n, d in SCALES[editor.document.style])
        scale = max((s for s in steps if parent.scale < s <= wanted), default=parent.scale * 2)
    else:
        scale = parse_scale(command.scale)
    name, letter = editor.new_view()
    made = Detail(
        id=name,
        sheet=parent.sheet,
        scale=scale,
        origin=parent.origin,
        right=parent.right,
        up=parent.up,
        at=parent.at,
        hidden=False,
        transitions=parent.transitions,
        parent=parent.id,
        aligned=False,
        letter=letter,
        window=Window(form=command.form, centre=spot, half=(reach, reach)),
        reason=BY_HAND,
    )
    editor.add_view(made, aligned=False)
