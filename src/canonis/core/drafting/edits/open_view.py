"""Views broken open."""

import numpy as np

from canonis.core.drafting.edits.editor import Editor
from canonis.core.drafting.edits.registry import does
from canonis.core.drafting.sectioning import on_plane
from canonis.core.drafting.view_commands import OpenView
from canonis.core.faults import BadInput
from canonis.core.sheet import Opening, Parallel, Scene, Spot, View, frame_of_view
from canonis.core.sheet.views import Place
from canonis.core.solid import Vec, face_reference
from canonis.core.tolerances import square

__all__ = ["open_view"]


@does(OpenView)
def open_view(editor: Editor, command: OpenView) -> None:
    """A principal view broken open inside an outline, or closed again."""
    view = editor.view(command.view)
    if not isinstance(view, Parallel):
        raise BadInput("Only a principal view is broken open; choose one.")
    if not command.points:
        editor.put_view(view.model_copy(update={"openings": ()}))
        return
    if len(command.points) < 3:
        raise BadInput("An outline to break a view open needs three points or more.")
    scene = editor.scene()
    frame = frame_of_view(view)
    flats = [on_plane(scene, view, p) for p in command.points]
    origin = scene.origin(view)
    outline = tuple(
        Spot(x=Place(offset=round(float(f[0] - origin[0]), 4)), y=Place(offset=round(float(f[1] - origin[1]), 4)))
        for f in flats
    )
    solid = scene.solids[scene.solid_of(view.sheet)]
    if command.depth is not None:
        near = float(np.where(frame.toward > 0, solid.box[1], solid.box[0]) @ frame.toward)
        depth = Place(offset=round(near - command.depth - float(np.array(view.origin) @ frame.toward), 6))
    else:
        depth = _axis_below(scene, view, np.mean(flats, axis=0))
    made = view.model_copy(update={"openings": (*view.openings, Opening(outline=outline, depth=depth))})
    editor.put_view(made)
    if all(c.region.is_empty for c in editor.scene().projection(made).cut):
        raise BadInput("Nothing is cut there; draw the outline over material or go deeper.")


def _axis_below(scene: Scene, view: View, flat: Vec) -> Place:
    """The level of the nearest axis that lies in the plane of the view; the middle of the part when there is none."""
    frame = frame_of_view(view)
    solid = scene.solids[scene.solid_of(view.sheet)]
    best: tuple[float, str] | None = None
    for face in solid.faces:
        if face.kind == "cylinder" and face.inner and square(face.axis, frame.toward):
            a = frame.flat(np.array([face.origin + face.axis * s for s in face.span]))
            d = a[1] - a[0]
            t = float(np.clip((flat - a[0]) @ d / max(float(d @ d), 1e-12), 0, 1))
            away = float(np.linalg.norm(a[0] + d * t - flat))
            if best is None or away < best[0]:
                best = (away, face_reference(face))
    return Place(ref=best[1]) if best else Place()
