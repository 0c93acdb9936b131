"""Views of long parts shortened."""

import numpy as np

from canonis.core.drafting.breaking import empty_stretch, with_break
from canonis.core.drafting.edits.editor import Editor
from canonis.core.drafting.edits.registry import does
from canonis.core.drafting.view_commands import ShortenView
from canonis.core.faults import BadInput
from canonis.core.sheet import Parallel, Section, frame_of_view

__all__ = ["shorten_view"]


@does(ShortenView)
def shorten_view(editor: Editor, command: ShortenView) -> None:
    """A view of a long part with a stretch broken out of it, or whole again."""
    view = editor.view(command.view)
    if not isinstance(view, Parallel | Section):
        raise BadInput("Only principal views and sections are shortened; choose one.")
    if command.whole:
        editor.put_view(view.model_copy(update={"breaks": ()}))
        return
    scene, frame = editor.scene(), frame_of_view(view)
    solid = scene.solids[scene.solid_of(view.sheet)]
    if command.levels is not None:
        page = editor.page(view.sheet)
        way = frame.right if command.along == "x" else frame.up
        base = float(np.array(page.datum) @ way)
        stretch: tuple[float, float] | None = (base + min(command.levels), base + max(command.levels))
    else:
        longest = max((frame.right, frame.up), key=lambda d: float(solid.size @ np.abs(d)))
        way, stretch = longest, empty_stretch(solid, longest)
    if stretch is None:
        raise BadInput("The part goes on the same nowhere for long; say from where to where it is to be broken.")
    made = with_break(view, stretch, way)
    editor.put_view(made)
    trial = scene.on(editor.document)
    if not trial.strips(made):
        raise BadInput("That stretch is too short to save any room; take a longer one.")
    if not trial.projection(made).visible or len(trial.broken_ends(made)) < 2:
        raise BadInput("Nothing of the part crosses that break; set its two levels inside the view.")
