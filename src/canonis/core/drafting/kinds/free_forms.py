"""Faces that no drawing dimensions: free form is given by the model (ISO 16792), and the sheet says so where it is seen."""

from collections.abc import Iterator

from canonis.core.callout import Callout, flag
from canonis.core.drafting.desk import Candidate, Desk
from canonis.core.drafting.registry import states
from canonis.core.drafting.seen import lines_of

__all__ = ["free_forms"]


@states(60, faces=True)
def free_forms(desk: Desk) -> Iterator[Candidate]:
    """One note for all free-form faces that nothing else fixes, in the view that shows most of them, and one for the flanks
    of threads that have no designation here."""
    faces = list(desk.asked("free"))
    for word, some in (
        ("", [f for f in faces if f.index not in desk.threaded]),
        ("thread", [f for f in faces if f.index in desk.threaded]),
    ):
        if not some or not desk.views:
            continue
        shown = {view.id: [f for f in some if lines_of(desk.scene, view, f.index)] for view in desk.views}
        view = max(desk.views, key=lambda v: len(shown[v.id]))
        target = max(shown[view.id] or some, key=lambda f: f.area)
        refs = tuple(desk.reference(f.index) for f in some)
        says = Callout(kind="free-form", detail=word, parts=(flag("by-the-model"),))
        note = desk.note(view, refs, says, "free-form", desk.reference(target.index))
        yield Candidate(9.0, note, note=True)
