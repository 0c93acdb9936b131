"""Notes of straight slots with round ends, equal ones counted, and where the centres of their ends are."""

from collections import defaultdict
from collections.abc import Iterator

import numpy as np

from canonis.core.drafting.desk import Candidate, Desk
from canonis.core.drafting.registry import states
from canonis.core.features import Slot, of_slot, size_key
from canonis.core.sheet import View, frame_of_view
from canonis.core.tolerances import faces_along

__all__ = ["slots"]


@states(70)
def slots(desk: Desk) -> Iterator[Candidate]:
    """For each kind of slot its note in the view that shows its round end, and the places of the ends there."""
    groups: dict[tuple[object, ...], list[Slot]] = defaultdict(list)
    keyed = {f for form in desk.found.forms if form.kind == "keyway" for p in form.pieces for f in p.faces}
    for s in desk.found.slots:
        if set(s.faces) & keyed:
            continue
        key = (size_key(s.width), size_key(s.centres), s.through, None if s.depth is None else size_key(s.depth))
        groups[(*key, *np.round(s.axis, 6))].append(s)
    for n, members in enumerate(groups.values()):
        view = next((v for v in desk.views if _seen(desk, v, members[0])), None)
        if view is None:
            continue
        refs = tuple(desk.reference(f) for s in members for f in s.end_faces)
        says = of_slot(members[0], len(members), desk.unit)
        yield Candidate(0.2 + 1e-4 * n, desk.note(view, refs, says, members[0].id), note=True)
        for slot in members:
            for end, face in zip(slot.ends, slot.end_faces, strict=True):
                yield from desk.locate(view, end, desk.reference(face), slot.id, 1.3 + 1e-4 * n)


def _seen(desk: Desk, view: View, slot: Slot) -> bool:
    facing = float(slot.axis @ frame_of_view(view).toward)
    true = faces_along(facing) or (slot.through and faces_along(-facing))
    return true and desk.arcs_at(view, slot.ends[0], [slot.width / 2])
