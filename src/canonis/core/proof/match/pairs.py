"""Every pair of levels of one direction, with what their sort of ends costs."""

from collections.abc import Iterable
from itertools import combinations

import numpy as np

from canonis.core.proof.match.levels import Level, Levels
from canonis.core.proof.match.prices import PRICES
from canonis.core.proof.match.words import Place

__all__ = ["Pairs", "ends_of", "place_of"]


class Pairs:
    """Every pair of levels of one direction as arrays, with what their sort of ends costs."""

    def __init__(self, levels: Levels, way: int) -> None:
        self.levels, self.way = levels, way
        self.circles = {i.label for i in levels.items if "pitch-circle" in i.sizes}
        self.rings = {i.label for i in levels.items if "pitch-circle" in i.sizes or i.kind == "slot"}
        self.mine = levels.along(way)
        steps = {
            (p.levels[k].index, p.levels[k + 1].index)
            for p in levels.pitches
            if p.way == way
            for k in range(len(p.levels) - 1)
        }
        pairs = [
            (i, j)
            for i, j in combinations(range(len(self.mine)), 2)
            if (self.mine[i].index, self.mine[j].index) not in steps
        ]
        self.i = np.array([i for i, _ in pairs], dtype=np.int64)
        self.j = np.array([j for _, j in pairs], dtype=np.int64)
        values = np.array([n.value for n in self.mine])
        self.value = values[self.j] - values[self.i] if pairs else np.zeros(0)
        self.base = np.array([self._base(self.mine[i], self.mine[j]) for i, j in pairs])

    def ends(self, k: int) -> tuple[Level, Level]:
        return self.mine[int(self.i[k])], self.mine[int(self.j[k])]

    def _base(self, a: Level, b: Level) -> float:
        p, lv = PRICES, self.levels
        low, high = a is lv.low[self.way], b is lv.high[self.way]
        axis = ("axis" in a.kinds, "axis" in b.kinds)
        # Members of a ring stand by its circle, the ends of a slot by its centres, not by their distances.
        same = bool((a.features & b.features) - self.rings) and all(axis)
        wall = bool(a.kinds & {"plane"}) and bool(b.kinds & {"plane"}) and -1 in a.looks and 1 in b.looks
        if low:
            out = 0.0
        elif high:
            out = p.high_end
        elif same:
            out = 0.0
        elif all(axis):
            out = p.axes
        elif any(axis):
            out = p.axis_plane
        else:
            out = p.wall if wall else p.planes
        for n in (a, b):
            if n.needed or n is lv.low[self.way] or n is lv.high[self.way]:
                continue
            if n.kinds <= {"middle"}:
                out += p.middle
            elif "axis" in n.kinds and n.features and n.features <= self.circles:
                out += p.sub
            elif "corner" in n.kinds or "axis" in n.kinds:
                out += 0.3
            elif n.kinds <= {"tangent", "middle"}:
                out += p.tangent
            elif "sub" in n.kinds:
                out += p.sub
            else:
                out += 1.0
        return out

    def place(self, k: int) -> Place:
        return place_of(self.levels, *self.ends(k))


def place_of(lv: Levels, a: Level, b: Level) -> Place:
    axis = ("axis" in a.kinds, "axis" in b.kinds)
    flat = (bool(a.kinds & {"plane", "corner", "sub", "box"}), bool(b.kinds & {"plane", "corner", "sub", "box"}))
    wall = -1 in a.looks and 1 in b.looks
    return Place(
        a.way,
        a is lv.low[a.way],
        b is lv.high[a.way],
        axis,
        flat,
        bool(a.features & b.features) and all(axis),
        wall,
        a.kinds <= {"middle"} or b.kinds <= {"middle"},
        frozenset(a.features | b.features),
    )


def ends_of(lv: Levels, levels: Iterable[Level]) -> frozenset[tuple[int, int]]:
    out = set()
    for n in levels:
        if n is lv.low[n.way]:
            out.add((n.way, -1))
        if n is lv.high[n.way]:
            out.add((n.way, 1))
    return frozenset(out)
