"""Whether the chosen lines reach every level of the part: a tree from each direction's datum."""

from collections import defaultdict
from collections.abc import Sequence
from itertools import combinations
from typing import Any

from canonis.core.proof.match.levels import LEVEL, Level
from canonis.core.proof.match.prices import PRICES
from canonis.core.proof.match.stated import Stated

__all__ = ["Spanning"]


class Spanning(Stated):
    """Lines as links between levels."""

    def _spanning(self) -> None:
        """Every needed level should be reached from the datum of its direction; links that close a ring cost."""
        lv = self.levels
        for way in range(3):
            mine = lv.along(way)
            low, high, middle = lv.low[way], lv.high[way], lv.middle[way]
            # A round outline has no flat end: its own axis is where sizes count from.
            axes = [n for n in mine if n.needed and "axis" in n.kinds]
            root = low if low.needed or not axes else max(axes, key=lambda n: (max(n.radii, default=0.0), -n.index))
            links: list[tuple[int, int, Any]] = []
            at: dict[tuple[int, int], list[Any]] = defaultdict(list)
            by_key: dict[tuple[object, ...], list[int]] = defaultdict(list)
            for k, c in enumerate(self.candidates):
                line = self.lines[c.line]
                counts = not line.reference and line.provenance != "estimated" and self.leader[c.line] == c.line
                if counts and any(a.way == way for a, _ in c.arcs):
                    # What does not fit shares no link.
                    by_key[c.key if c.fits else (k,)].append(k)
            for ks in by_key.values():
                # Several lines in one place are one link; a second use is paid for elsewhere.
                used = self.x[ks[0]]
                if len(ks) > 1:
                    used = self._bool()
                    self.model.add_max_equality(used, [self.x[k] for k in ks])
                for a, b in self.candidates[ks[0]].arcs:
                    if a.way == way:
                        links.append((a.index, b.index, used))
                        at[a.index, b.index].append(used)
            if root is not low:
                always = self.model.new_constant(1)
                links += [(root.index, low.index, always), (root.index, high.index, always)]
                links += self._symmetric(mine, low, root, None, at)
            else:
                links += self._symmetric(mine, low, middle, high, at)
            nodes = {n.index for n in mine if n.needed} | {i for a, b, _ in links for i in (a, b)} | {root.index}
            reached = {i: self._bool() for i in sorted(nodes)}
            self._tree(root.index, links, reached)
            self._graphs.append(reached)
            for _, _, v in links:
                self._pay(PRICES.cycle, v)
            for i in sorted(nodes - {root.index}):
                self._pay(-PRICES.cycle, reached[i])
            for n in mine:
                if n.needed and n is not root:
                    missed = self.unreached[n.index] = self._bool()
                    self.model.add(missed + reached[n.index] == 1)
                    self._pay(PRICES.unreached, missed)
            for _, group in lv.groups:
                if group and group[0].way == way:
                    missed = self._bool()
                    self.model.add(missed + sum(reached[n.index] for n in group if n.index in reached) >= 1)
                    self._pay(PRICES.unreached, missed)

    def _symmetric(
        self, mine: list[Level], low: Level, middle: Level, high: Level | None, at: dict[tuple[int, int], list[Any]]
    ) -> list[tuple[int, int, Any]]:
        """The middle of a part is known with its overall size, the axis of a round one always; things alike on both sides of
        it stand by their distance."""
        total = 2 * middle.value
        pairs = [
            (a, b)
            for a, b in combinations([n for n in mine if n.needed], 2)
            if abs(a.value + b.value - total) < LEVEL
            and a is not low
            and (a.index, b.index) in at
            and ((a.features & b.features) or ("plane" in a.kinds and "plane" in b.kinds))
        ]
        links: list[tuple[int, int, Any]] = []
        if high is not None:
            if not (pairs or middle.needed) or (low.index, high.index) not in at:
                return []
            known = self._bool()
            self.model.add(known <= sum(at[low.index, high.index]))
            self._pay(PRICES.symmetry if middle.needed else 0.5, known)
            links.append((low.index, middle.index, known))
        for a, b in pairs:
            used = self._bool()
            self.model.add(used <= sum(at[a.index, b.index]))
            self._pay(PRICES.symmetry if high is not None else 0.5, used)
            links.append((middle.index, a.index, used))
        return links

    def _tree(self, root: int, links: Sequence[tuple[int, int, Any]], reached: dict[int, Any]) -> None:
        """What is reached hangs on the root: every reached level has one link that it is reached by, from one nearer to it."""
        m = self.model
        m.add(reached[root] == 1)
        by_pair: dict[tuple[int, int], list[Any]] = defaultdict(list)
        for a, b, v in links:
            by_pair[min(a, b), max(a, b)].append(v)
        depth = {i: m.new_int_var(0, 0 if i == root else len(reached), "") for i in reached}
        into: dict[int, list[Any]] = defaultdict(list)
        for (a, b), vs in by_pair.items():
            ways = []
            for one, other in ((a, b), (b, a)):
                if other == root:
                    continue
                step = self._bool()
                m.add_implication(step, reached[one])
                m.add(depth[other] >= depth[one] + 1).only_enforce_if(step)
                into[other].append(step)
                ways.append(step)
            m.add(sum(ways) <= sum(vs))
        for i, r in reached.items():
            if i != root:
                m.add(sum(into[i]) == r)
