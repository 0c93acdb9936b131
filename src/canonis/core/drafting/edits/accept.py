"""The model's present value taken over into a statement."""

from canonis.core.callout import a_length
from canonis.core.drafting.commands import Accept
from canonis.core.drafting.edits.editor import Editor
from canonis.core.drafting.edits.registry import does
from canonis.core.faults import BadInput
from canonis.core.features import of_hole
from canonis.core.sheet import Leader, Linear, Ordinate

__all__ = ["accept"]

_GONE = "Its geometry is gone from this model; delete the statement."


@does(Accept)
def accept(editor: Editor, command: Accept) -> None:
    """What a statement says, as the model has it now."""
    mark = editor.mark(command.id)
    if isinstance(mark, Linear | Ordinate):
        _length(editor, mark)
    elif isinstance(mark, Leader) and mark.states == "hole":
        _hole(editor, mark)
    else:
        raise BadInput("This statement cannot take over the model's value by itself; delete it and draft again.")


def _length(editor: Editor, mark: Linear | Ordinate) -> None:
    view, scene = editor.document.view(mark.view or ""), editor.scene()
    anchors = [scene.anchor(view, r) for r in mark.refs]
    levels = [None if a is None else a.level(mark.direction) for a in anchors]
    if levels[0] is None or levels[1] is None:
        raise BadInput(_GONE)
    editor.put(mark.saying(a_length(abs(levels[1] - levels[0]), editor.document.unit)))


def _hole(editor: Editor, mark: Leader) -> None:
    scene = editor.scene()
    alive = [r for r in mark.refs if scene.resolution(mark.sheet, r).faces]
    by_wall = {f: h for g in editor.features[scene.solid_of(mark.sheet)].holes for h in g.holes for f in h.main_faces}
    found = [h for r in alive if (h := by_wall.get(scene.resolution(mark.sheet, r).faces[0])) is not None]
    if not found:
        raise BadInput(_GONE)
    spaced = mark.says.part("equally-spaced") is not None
    says = of_hole(found[0], len(found), editor.document.unit, equally_spaced=spaced)
    editor.put(mark.saying(says, refs=tuple(alive), target=alive[0]))
