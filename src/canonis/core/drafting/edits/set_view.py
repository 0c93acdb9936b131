"""How a view is drawn."""

from typing import Any

import numpy as np

from canonis.core.drafting.edits.editor import Editor
from canonis.core.drafting.edits.registry import does
from canonis.core.drafting.letters import next_letter
from canonis.core.drafting.sectioning import on_plane, section_of
from canonis.core.drafting.view_commands import SetView
from canonis.core.faults import BadInput
from canonis.core.sheet import (
    Detail,
    Parallel,
    Pictorial,
    Scene,
    Section,
    Spot,
    View,
    Window,
    frame_of_view,
    lengthwise,
    parse_scale,
)
from canonis.core.sheet.views import Place

__all__ = ["set_view"]


@does(SetView)
def set_view(editor: Editor, command: SetView) -> None:
    """What a view shows and how; what is not asked for stays."""
    view = editor.view(command.id)
    change: dict[str, Any] = {}
    if command.hatched is not None and isinstance(view, Section):
        change["plain"] = () if command.hatched else lengthwise(editor.scene(), view)
    if command.shaded is not None and isinstance(view, Pictorial):
        change["shaded"] = command.shaded
    for name in ("hidden", "transitions", "aligned", "helices"):
        if getattr(command, name) is not None:
            change[name] = getattr(command, name)
    if command.label is not None:
        change["label"] = command.label.strip() or None
    if command.scale is not None:
        if isinstance(view, Parallel):
            raise BadInput("Principal views share the scale of their sheet; set that of the page.")
        change["scale"] = parse_scale(command.scale)
    if command.aligned is not None and isinstance(view, Parallel):
        # A view that leaves its place in the projection says by an arrow and a letter from where it is taken.
        front = next(
            (v for v in editor.document.views if v.kind == "front" and v.sheet == view.sheet and v.id != view.id), None
        )
        change["letter"] = "" if command.aligned or front is None else view.letter or next_letter(editor.document)
        change["parent"] = front.id if front is not None else None
    if command.window is not None:
        if isinstance(view, Section | Detail | Pictorial):
            raise BadInput("That view is not shown in part; take a detail of it.")
        change["window"] = _window(editor.scene(), view, command.window) if command.window else None
    if command.turned is not None and isinstance(view, Section):
        parent = editor.document.view(view.parent or "")
        again = section_of(
            editor.scene(),
            parent,
            view.line,
            view.form,
            command.turned,
            letter=view.letter,
            name=view.id,
            reason=view.reason,
        )
        change |= {"right": again.right, "up": again.up}
    editor.put_view(view.model_copy(update=change))
    if command.order is not None:
        others = [v for v in editor.document.views if v.id != view.id]
        others.insert(min(command.order, len(others)), editor.document.view(view.id))
        editor.update(views=tuple(others))


def _window(scene: Scene, view: View, box: tuple[float, ...]) -> Window:
    if len(box) != 4:
        raise BadInput("A partial view is a box of four numbers: left, bottom, right, top.")
    p, q = on_plane(scene, view, (box[0], box[1])), on_plane(scene, view, (box[2], box[3]))
    middle, half = (p + q) / 2, np.abs(q - p) / 2
    if float(half.min()) * view.scale < 2:
        raise BadInput("That box is too small to show anything; draw a larger one.")
    frame = frame_of_view(view)
    origin = frame.flat(np.array(view.origin))
    centre = Spot(
        x=Place(offset=round(float(middle[0] - origin[0]), 4)), y=Place(offset=round(float(middle[1] - origin[1]), 4))
    )
    return Window(form="box", centre=centre, half=(round(float(half[0]), 4), round(float(half[1]), 4)))
