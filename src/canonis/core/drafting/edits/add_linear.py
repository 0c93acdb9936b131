"""Dimensions added by hand."""

from canonis.core.callout import a_length
from canonis.core.drafting.commands import AddLinear
from canonis.core.drafting.edits.editor import Editor
from canonis.core.drafting.edits.registry import does
from canonis.core.faults import BadInput
from canonis.core.sheet import Linear
from canonis.core.solid import parse
from canonis.core.tolerances import NOISE, same

__all__ = ["add_linear"]


@does(AddLinear)
def add_linear(editor: Editor, command: AddLinear) -> None:
    """A length between two references in a view, along the direction asked for, else along the one in which it is longer."""
    if command.refs[0] == command.refs[1]:
        raise BadInput("A dimension needs two different edges, points or centres.")
    for ref in command.refs:
        parse(ref)
    view = editor.view(command.view)
    if view.kind == "pictorial":
        raise BadInput("A pictorial view shows no true lengths; dimension another view.")
    unit = editor.document.unit
    trial = Linear(
        id=editor.new_id(),
        sheet=view.sheet,
        view=view.id,
        direction="x",
        side="above",
        refs=command.refs,
        says=a_length(0.0, unit),
        unit=unit,
        feature="added",
    )
    editor.put(trial)
    scene = editor.scene()
    options = []
    for direction in ("x", "y"):
        anchors = [scene.anchor(view, r) for r in trial.refs]
        levels = [None if a is None else a.level(direction) for a in anchors]
        if levels[0] is not None and levels[1] is not None and not same(levels[0], levels[1], NOISE):
            options.append((abs(levels[1] - levels[0]), direction))
    options = [o for o in options if command.direction in (None, o[1])]
    if not options:
        raise BadInput("Those two do not lie apart squarely in this view; pick two that do.")
    length, direction = max(options)
    side = "above" if direction == "x" else "right"
    editor.put(trial.saying(a_length(length, unit), direction=direction, side=side))
    editor.refresh(view.sheet)
