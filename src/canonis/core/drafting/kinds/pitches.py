"""Patterns as patterns: the equal spaces of a row, a grid or a staggered field, so that one member's place is enough."""

from collections import defaultdict
from collections.abc import Iterator, Sequence

import numpy as np

from canonis.core.callout import Callout
from canonis.core.drafting.desk import NEAR, Candidate, Desk
from canonis.core.drafting.registry import states
from canonis.core.features import size_key
from canonis.core.sheet import View, frame_of_view
from canonis.core.solid import Vec
from canonis.core.tolerances import FINE, same_way

__all__ = ["pitches", "spacings"]

#: Patterns that are said by their spaces; a ring is said by its pitch circle.
_KINDS = ("linear", "grid", "staggered")


@states(50)
def pitches(desk: Desk) -> Iterator[Candidate]:
    """The spaces of every pattern of holes, along both directions of the view that shows them."""
    for n, group in enumerate(desk.found.holes):
        view = desk.best_view(group)
        # Two holes are no pattern: each has its place.
        if view is None or group.pattern is None or group.pattern.kind not in _KINDS or len(group.holes) < 3:
            continue
        places = [(h.start, desk.reference(h.main_faces[0])) for h in group.holes if desk.hole_seen(view, h)]
        yield from spaces(desk, view, places, group.id, 1.0 + 1e-4 * n)


@states(55)
def spacings(desk: Desk) -> Iterator[Candidate]:
    """The spaces of equal slots and of equal bosses that stand in a row."""
    rows: dict[tuple[object, ...], list[tuple[Vec, str, str]]] = defaultdict(list)
    for s in desk.found.slots:
        way = s.ends[1] - s.ends[0]
        # The same end of each, whichever was found first.
        k = int(tuple(way) < (0.0, 0.0, 0.0))
        key = ("slot", size_key(s.width), size_key(s.centres), *np.round(np.abs(way), 3), *np.round(s.axis, 6))
        rows[key].append((s.ends[k], desk.reference(s.end_faces[k]), s.id))
    for b in desk.found.shafts:
        if b.boss:
            rows["boss", size_key(b.diameter), *np.round(b.axis, 6)].append((b.top, desk.reference(b.faces[0]), b.id))
    for n, (key, row) in enumerate(rows.items()):
        toward = np.array(key[-3:], dtype=float)
        view = next((v for v in desk.views if same_way(frame_of_view(v).toward, toward)), None)
        if len(row) > 2 and view is not None:
            yield from spaces(desk, view, [(p, r) for p, r, _ in row], row[0][2], 1.05 + 1e-4 * n)


def spaces(
    desk: Desk, view: View, places: Sequence[tuple[Vec, str]], feature: str, price: float
) -> Iterator[Candidate]:
    """The equal spaces between places along the directions of a view: one length for two places, a pitch for more."""
    for direction, way, other in desk.ways(view):
        if not desk.square(way):
            continue
        # Of the members at one level the one nearest to the row speaks for all.
        columns: dict[float, tuple[float, float, str]] = {}
        for point, ref in places:
            level, reach = float(point @ way), float(point @ other)
            key = next((k for k in columns if abs(k - level) < NEAR), level)
            if key not in columns or reach > columns[key][0] + NEAR:
                columns[key] = (reach, level, ref)
        row = [columns[k] for k in sorted(columns)]
        gaps = np.diff([level for _, level, _ in row])
        if not len(gaps) or float(np.ptp(gaps)) > FINE:
            continue
        refs = tuple(ref for _, _, ref in row)
        size = float(gaps.mean())
        says = desk.sized(size)
        if len(gaps) > 1:
            says = Callout(kind="pattern", count=len(gaps), parts=(desk.sizes.length("pitch", size),))
        yield Candidate(price, desk.length(view, direction, refs, says, feature))
