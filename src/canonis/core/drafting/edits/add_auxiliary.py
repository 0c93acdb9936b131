"""Auxiliary views folded by hand."""

import numpy as np

from canonis.core.drafting.edits.editor import Editor
from canonis.core.drafting.edits.registry import does
from canonis.core.drafting.new_views import BY_HAND, auxiliary_of
from canonis.core.drafting.view_commands import AddAuxiliary
from canonis.core.faults import BadInput
from canonis.core.sheet import Detail, Pictorial, frame_of_view
from canonis.core.solid import face_reference, parse
from canonis.core.tolerances import FINE, NOISE, same_place, square

__all__ = ["add_auxiliary"]


@does(AddAuxiliary)
def add_auxiliary(editor: Editor, command: AddAuxiliary) -> None:
    """A view square to a sloped face that a view shows from the side, in a free place."""
    parent = editor.view(command.view)
    if isinstance(parent, Pictorial | Detail):
        raise BadInput("An auxiliary view is folded from a view square to the part; choose another view.")
    scene = editor.scene()
    frame = frame_of_view(parent)
    ref = parse(command.ref)
    solid = scene.solids[scene.solid_of(parent.sheet)]
    faces = []
    if ref.kind == "line":
        p, q = (np.array(v) for v in ref.vectors)
        for edge in solid.edges:
            if edge.kind == "line" and same_place(edge.middle, (p + q) / 2, FINE):
                faces = [solid.faces[f] for f in edge.faces]
    elif ref.kind == "plane":
        faces = [f for f in solid.faces if f.kind == "plane" and face_reference(f) == command.ref]
    level = [f for f in faces if f.kind == "plane" and square(f.axis, frame.toward)]
    sloped = [f for f in level if min(abs(float(f.axis @ frame.right)), abs(float(f.axis @ frame.up))) > NOISE]
    if not sloped:
        raise BadInput("Pick an edge of a sloped face that this view shows from the side.")
    name, letter = editor.new_view()
    made = auxiliary_of(
        scene,
        parent,
        face_reference(sloped[0]),
        sloped[0].axis,
        letter,
        name=name,
        reason=BY_HAND,
    )
    editor.add_view(made, aligned=False)
