"""Holes that stand in pairs about a drawn line of symmetry, by their distance across it."""

from collections.abc import Iterator

import numpy as np

from canonis.core.drafting.desk import NEAR, Candidate, Desk
from canonis.core.drafting.kinds.pitches import spaces
from canonis.core.drafting.registry import states
from canonis.core.sheet import SymmetryLine

__all__ = ["pairs"]


@states(60)
def pairs(desk: Desk) -> Iterator[Candidate]:
    """Where the house locates from centre lines: the distance of two equal holes that lie evenly about one."""
    if desk.locations != "symmetric":
        return
    lines = [a for a in desk.scene.document.annotations if isinstance(a, SymmetryLine) and a.sheet == desk.sheet]
    middle = (desk.solid.box[0] + desk.solid.box[1]) / 2
    for n, group in enumerate(desk.found.holes):
        view = desk.best_view(group)
        if view is None:
            continue
        for direction, way, _ in desk.ways(view):
            if not any(a.view == view.id and a.direction == direction for a in lines):
                continue
            offs = {round(abs(float((h.start - middle) @ way)), 3) for h in group.holes} - {0.0}
            for off in sorted(offs):
                mine = [h for h in group.holes if abs(abs(float((h.start - middle) @ way)) - off) < NEAR]
                places = [(h.start, desk.reference(h.main_faces[0])) for h in mine if desk.hole_seen(view, h)]
                if len({round(float(np.sign((p - middle) @ way))) for p, _ in places}) == 2:
                    for candidate in spaces(desk, view, places, group.id, 1.1 + 1e-4 * n):
                        if getattr(candidate.mark, "direction", "") == direction:
                            yield candidate
