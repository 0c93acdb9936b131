"""Sections cut by hand."""

import numpy as np

from canonis.core.drafting.edits.editor import Editor
from canonis.core.drafting.edits.registry import does
from canonis.core.drafting.new_views import BY_HAND
from canonis.core.drafting.sectioning import form_of, on_plane, section_of, snap_levels, snapped, squared
from canonis.core.drafting.view_commands import AddSection
from canonis.core.faults import BadInput
from canonis.core.sheet import Detail, Pictorial, Spot, frame_of_view
from canonis.core.sheet.views import Place
from canonis.core.tolerances import FINE, same

__all__ = ["add_section"]


@does(AddSection)
def add_section(editor: Editor, command: AddSection) -> None:
    """A section along a line on the paper, or along one level, in a free place."""
    parent = editor.view(command.view)
    if isinstance(parent, Pictorial | Detail):
        raise BadInput("A section is taken from a view square to the part; choose another view.")
    scene = editor.scene()
    frame = frame_of_view(parent)
    if command.across is not None:
        page = editor.page(parent.sheet)
        way, other = (frame.right, frame.up) if command.across == "x" else (frame.up, frame.right)
        base = float(np.array(page.datum) @ way) + command.level - float(np.array(parent.origin) @ way)
        flat = np.zeros(2)
        k = 0 if command.across == "x" else 1
        flat[k] = base + float(np.array(parent.origin) @ way)
        flat[1 - k] = float(np.array(parent.origin) @ other)
        near = [row for row in snap_levels(scene, parent)[k] if same(row[0], flat[k], FINE)]
        held = Place(ref=near[0][1]) if near else Place(offset=round(base, 6))
        ends = (Place(offset=-1.0), Place(offset=1.0))
        line = tuple(Spot(x=held, y=e) if k == 0 else Spot(x=e, y=held) for e in ends)
    else:
        levels = snap_levels(scene, parent)
        spots = [snapped(scene, parent, on_plane(scene, parent, p), levels) for p in command.points]
        line = squared(scene, parent, spots)
    name, letter = editor.new_view()
    made = section_of(
        scene,
        parent,
        line,
        command.form or form_of(scene, parent, line),
        command.turned,
        letter=letter,
        name=name,
        reason=BY_HAND,
    )
    whole = editor.scene(editor.document.model_copy(update={"views": (*editor.document.views, made)}))
    if all(c.region.is_empty for c in whole.projection(made).cut):
        raise BadInput("That cutting line misses the part; draw it through the part.")
    editor.add_view(made, aligned=True)
