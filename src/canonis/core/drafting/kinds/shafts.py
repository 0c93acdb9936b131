"""Diameters of bosses and turned steps, with the centres of bosses located."""

from collections import defaultdict
from collections.abc import Iterator

import numpy as np

from canonis.core.drafting.desk import Candidate, Desk
from canonis.core.drafting.registry import states
from canonis.core.drafting.seen import lines_of
from canonis.core.features import Shaft, of_shaft, size_key, upward
from canonis.core.sheet import View, frame_of_view
from canonis.core.tolerances import on_axis, parallel, square

__all__ = ["shafts"]


@states(170)
def shafts(desk: Desk) -> Iterator[Candidate]:
    """A diameter for each size: on the circle of a boss, on the side of a turned step."""
    groups: dict[tuple[object, ...], list[Shaft]] = defaultdict(list)
    for s in desk.found.shafts:
        # The designation of a thread says the diameter of its plain ends as well.
        if not set(s.faces) & desk.threaded:
            groups[(size_key(s.diameter), s.boss, *np.round(upward(s.axis), 6))].append(s)
    for n, members in enumerate(groups.values()):
        view = _view(desk, members[0])
        if view is None:
            continue
        refs = tuple(desk.reference(s.faces[0]) for s in members)
        says = of_shaft(members[0], len(members), desk.unit)
        yield Candidate(0.4 + 1e-4 * n, desk.note(view, refs, says, members[0].id), note=True)
        for shaft, ref in zip(members, refs, strict=True):
            if on_axis(shaft.axis):
                yield from desk.locate(view, shaft.top, ref, shaft.id, 1.4 + 1e-4 * n, axis=shaft.axis)


def _view(desk: Desk, shaft: Shaft) -> View | None:
    """The view along the axis that shows the circle; else one that looks across it and outlines or cuts it. Of a turned part
    the other way round: diameters are not read on circles within circles."""
    across = [v for v in desk.views if square(shaft.axis, frame_of_view(v).toward)]
    side = next((v for v in across if any(not x.edges for f in shaft.faces for x in lines_of(desk.scene, v, f))), None)
    if side is not None and desk.turned is not None and parallel(shaft.axis, desk.turned):
        return side
    for view in desk.views:
        true = parallel(shaft.axis, frame_of_view(view).toward)
        if true and desk.arcs_at(view, shaft.top, [shaft.diameter / 2]):
            return view
    return side or (across[0] if across else None)
