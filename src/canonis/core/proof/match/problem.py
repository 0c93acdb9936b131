"""One assignment for a whole source: each line takes one measure or none, and together they should reach every level.

Integer programming (CP-SAT): one worker and a deterministic limit, so that a verdict never depends on the load of a machine.
Spanning is a tree from each direction's datum: every reached level has one link that it is reached by. (Cuts added while
components appear took thirty rounds on some parts, and minutes.)
"""

from collections import defaultdict
from collections.abc import Callable, Collection, Iterable, Sequence
from dataclasses import dataclass, field
from itertools import pairwise, product
from typing import Any

from canonis.core.proof.known import meant_by, thing_of
from canonis.core.proof.match.candidates import Candidate
from canonis.core.proof.match.item import Item
from canonis.core.proof.match.levels import Level, Levels
from canonis.core.proof.match.lying import Lying
from canonis.core.proof.match.orientation import FILE, ORIENTATIONS, Orientation
from canonis.core.proof.match.prices import PRICES
from canonis.core.proof.match.spanning import Spanning
from canonis.core.proof.match.words import Words
from canonis.core.source import Characteristic

__all__ = ["Problem", "Solution"]

#: Deterministic seconds for the solution and for each question after a rival.
SOLVE, ASK = 2.0, 0.6


@dataclass(frozen=True)
class Solution:
    """The chosen candidates by line, what stays unreached and unexplained, and whether nothing better can be."""

    chosen: dict[int, tuple[int, ...]]
    cost: float
    optimal: bool
    unreached: tuple[Level, ...]
    unexplained: tuple[str, ...]
    miscounted: dict[int, int]
    #: How many members each line about features was given.
    totals: dict[int, int]
    orientation: Orientation
    values: tuple[int, ...] = field(repr=False, default=())


class Problem(Lying, Spanning):
    """The assignment of one source to one part."""

    def __init__(
        self,
        levels: Levels,
        lines: Sequence[Characteristic],
        candidates: Sequence[Candidate],
        words: Sequence[Words],
        front: Orientation | None = None,
        defaults: Sequence[tuple[str, float]] = (),
    ) -> None:
        super().__init__(levels, lines, candidates, words, front, defaults)
        self._lines()
        self._once()
        self._views()
        self._neighbours()
        self._spanning()
        self._features()
        self.model.minimize(sum(c * v for c, v in self.costs))

    def _lines(self) -> None:
        m = self.model
        for number, c in enumerate(self.lines):
            if not self.compared(number) or self.leader[number] != number:
                continue
            mine, weight = self.of.get(number, []), self.weight[number]
            none = self.none[number] = self._bool()
            self._pay(PRICES.no_place * weight, none)
            for k in mine:
                self._pay(self.candidates[k].price * weight, self.x[k])
            features = bool(mine) and self.candidates[mine[0]].key[0] in ("feature", "seat")
            many = meant_by(c.kind).several
            counted = many == "always" or (many == "counted" and c.count > 1)
            several = features and counted and len(mine) > 1
            if several:
                some = self._bool()
                m.add_max_equality(some, [self.x[k] for k in mine])
                m.add(some + none == 1)
                self._pay_for_several(mine, weight)
            else:
                m.add(sum(self.x[k] for k in mine) + none == 1)
            if features and not c.typical:
                self._count(number, c, mine, none, weight)

    def _pay_for_several(self, mine: list[int], weight: float) -> None:
        """A line may mean several features: equal ones are what a count is for, others are less likely."""
        m = self.model
        alike: dict[object, list[int]] = defaultdict(list)
        for k in mine:
            item = self.candidates[k].item
            alike[k if item is None else item.likeness].append(k)
        used = []
        for ks in alike.values():
            used.append(self._bool())
            m.add_max_equality(used[-1], [self.x[k] for k in ks])
        for price, variables in ((1.0, used), (0.02, [self.x[k] for k in mine])):
            more = m.new_int_var(0, len(variables), "")
            m.add(more >= sum(variables) - 1)
            self._pay(price * weight, more)

    def _count(self, number: int, c: Characteristic, mine: list[int], none: Any, weight: float) -> None:
        """The members of what a line means must be as many as it says."""
        m = self.model
        counts = [item.count if (item := self.candidates[k].item) is not None else 1 for k in mine]
        total = sum(n * self.x[k] for n, k in zip(counts, mine, strict=True))
        # A bare size is often written once for several.
        strict = c.count > 1 or meant_by(c.kind).strict
        # Said of each of them, or of all together once more.
        every = [max(self.lines[n].count, 1) for n in self.bundle[number]]
        wanted = sorted({sum(every), every[0]}) if len(every) > 1 else every
        totals = [total]
        if any(item.also for k in mine if (item := self.candidates[k].item) is not None):
            other = [(item.also or item.count) if (item := self.candidates[k].item) is not None else 1 for k in mine]
            totals.append(sum(n * self.x[k] for n, k in zip(other, mine, strict=True)))
        offs = []
        for one, said in product(totals, wanted):
            gap = m.new_int_var(0, 9999, "")
            m.add(gap >= one - said * (1 - none))
            m.add(gap >= said * (1 - none) - one)
            offs.append(gap)
        off = offs[0]
        if len(offs) > 1:
            off = m.new_int_var(0, 9999, "")
            m.add_min_equality(off, offs)
        bad = self._bool()
        m.add(off <= 9999 * bad)
        m.add(off >= bad)
        self.miscount[number] = (bad, total)
        self._pay((PRICES.count if strict else 1.0) * weight, bad)
        self._pay(0.3 * weight if strict else 0.05, off)

    def _once(self) -> None:
        """A measure serves one plain line; a second use costs. A level with several axes may be said for each of them, by lines
        that agree."""
        m = self.model
        use: dict[tuple[object, ...], list[int]] = defaultdict(list)
        for k, c in enumerate(self.candidates):
            line = self.lines[c.line]
            if not line.reference and line.provenance != "estimated":
                use[c.key].append(k)
        for ks in use.values():
            if len({self.candidates[k].line for k in ks}) < 2:
                continue
            fits = [self.x[k] for k in ks if self.candidates[k].fits]
            near = [self.x[k] for k in ks if not self.candidates[k].fits]
            one = self.candidates[ks[0]]
            axes = [n for n in one.levels if "axis" in n.kinds]
            room = max(1, axes[0].axes) if one.key[0] == "edge" and len(axes) == 1 else 1
            if len(fits) > room:
                more = m.new_int_var(0, len(fits), "")
                m.add(more >= sum(fits) - room)
                self._pay(PRICES.again, more)
            if near:
                beside = self._bool()
                if fits:
                    m.add_max_equality(beside, fits)
                else:
                    m.add(beside == 0)
                more = m.new_int_var(0, len(ks), "")
                m.add(more >= sum(near) + beside - 1)
                self._pay(PRICES.again, more)

    def _neighbours(self) -> None:
        """Lines beside each other in a list go on along one direction, from one level, about one feature."""
        lengths = [n for n in self.none if meant_by(self.lines[n].kind).places in ("length", "pattern")]
        ends = {n.index for n in (*self.levels.low, *self.levels.high, *self.levels.middle)}
        for p, q in pairwise(lengths):
            if q - p > 1:
                continue
            self._shared(
                p, q, PRICES.same_way, lambda k: [self.candidates[k].way] if self.candidates[k].way >= 0 else []
            )
            self._shared(
                p, q, PRICES.same_level, lambda k: [n.index for n in self.candidates[k].levels if n.index not in ends]
            )

        compared = [n for n in self.none if self.of.get(n)]
        for p, q in pairwise(compared):
            if q - p == 1:
                self._shared(p, q, PRICES.same_feature, lambda k: sorted(self.candidates[k].owners))

    def _shared(self, p: int, q: int, gain: float, what: Callable[[int], Iterable[object]]) -> None:
        sides: list[dict[object, list[int]]] = []
        for line in (p, q):
            by: dict[object, list[int]] = defaultdict(list)
            for k in self.of.get(line, []):
                # In their own order: of equally good readings the same one is found at every run.
                for thing in dict.fromkeys(what(k)):
                    by[thing].append(k)
            sides.append(by)
        both = [t for t in sides[0] if t in sides[1]]
        if not both:
            return
        hits = []
        for thing in both:
            b = self._bool()
            self.model.add(b <= sum(self.x[k] for k in sides[0][thing]))
            self.model.add(b <= sum(self.x[k] for k in sides[1][thing]))
            hits.append(b)
        some = self._bool()
        self.model.add(some <= sum(hits))
        self._pay(-gain, some)

    def _features(self) -> None:
        """What the part has and no line says."""
        lv = self.levels
        for k, angle in enumerate(lv.angles):
            if angle.lean < 0 or angle.key[1] % 2:
                continue
            # A leaning face is fixed by its corners, or by one of them and its angle.
            got = [reached[n.index] for reached in self._graphs for n in angle.levels if n.index in reached]
            got += [self.x[c] for c, one in enumerate(self.candidates) if one.key == ("lean", angle.lean)]
            short = self.model.new_int_var(0, 3, f"lean{k}")
            self.model.add(short + sum(got) >= min(3, len(got)))
            self._pay(PRICES.unreached * 0.5, short)
        owned = {x for n in lv.all for x in n.owners if n.kinds & {"plane"}}
        for item in lv.items:
            price = PRICES.unexplained * self.worth(item, owned)
            if price <= 0:
                continue
            said = [self.x[k] for k, c in enumerate(self.candidates) if c.item is item]
            if item.kind == "chamfer":
                # What leans may be said by its angle or by the places of its corners.
                for angle in lv.angles:
                    if angle.lean >= 0 and set(angle.faces) & item.faces:
                        said += [self.x[c] for c, one in enumerate(self.candidates) if one.key == ("lean", angle.lean)]
                        said += [r[n.index] for r in self._graphs for n in angle.levels if n.index in r]
            missing = self.unexplained[item.label] = self._bool()
            self.model.add(sum(said) + missing >= 1)
            self._pay(price, missing)

    def worth(self, item: Item, owned: Collection[str] = ()) -> float:
        """What it costs when no line says an item, of what a hole costs."""
        size = item.value("radius") if item.kind == "fillet" else item.value("leg") if item.kind == "chamfer" else None
        for kind, value in self.defaults:
            if isinstance(size, float) and abs(size - value) < 0.01 and (kind == "edge" or item.kind == "fillet"):
                return 0.03
        if thing_of(item.kind).levelled and item.label in owned and not item.polygon and not item.value("centres"):
            return 0.0  # its flat faces are levels already
        return item.weight

    # Solving

    def _run(self, model: Any, limit: float, first: bool = False) -> tuple[Any, int] | None:
        cp = self.cp
        solver = cp.CpSolver()
        p = solver.parameters
        p.num_workers, p.random_seed, p.linearization_level = 1, 0, 2
        # Of problems this small most of the time would go into making them smaller.
        p.cp_model_probing_level, p.max_presolve_iterations, p.symmetry_level = 0, 1, 0
        p.max_deterministic_time = limit
        p.stop_after_first_solution = first
        status = solver.solve(model)
        return (solver, status) if status in (cp.OPTIMAL, cp.FEASIBLE) else None

    def solve(self, hint: Sequence[int] | None = None, limit: float = SOLVE) -> Solution | None:
        """The cheapest assignment; None when none was found in time. `hint` is an earlier solution's values."""
        if hint is not None and len(hint) == len(self.x):
            for v, value in zip(self.x, hint, strict=True):
                self.model.add_hint(v, value)
        got = self._run(self.model, limit) or self._plain_choice()
        if got is None:
            return None
        solver, status = got
        chosen = {line: tuple(k for k in self.of.get(line, []) if solver.value(self.x[k])) for line in self.none}
        orientation = next(
            (o for o, b in zip(ORIENTATIONS, self.orientations, strict=False) if solver.value(b)), self.front or FILE
        )
        return Solution(
            chosen,
            solver.objective_value / 100,
            status == self.cp.OPTIMAL,
            tuple(n for n in self.levels.all if n.index in self.unreached and solver.value(self.unreached[n.index])),
            tuple(label for label, v in self.unexplained.items() if solver.value(v)),
            {n: int(solver.value(total)) for n, (bad, total) in self.miscount.items() if solver.value(bad)},
            {n: int(solver.value(total)) for n, (_, total) in self.miscount.items()},
            orientation,
            tuple(int(solver.value(v)) for v in self.x),
        )

    def _plain_choice(self) -> tuple[Any, int] | None:
        """When no assignment was found in time: for each line the cheapest place that fits and is free. It proves nothing
        against anybody."""
        used: set[tuple[object, ...]] = set()
        plain: Any = self.model.clone()
        plain.clear_objective()
        for number in self.none:
            free = [
                k for k in self.of.get(number, []) if self.candidates[k].fits and self.candidates[k].key not in used
            ]
            best = min(free, key=lambda k: self.candidates[k].price, default=None)
            for k in self.of.get(number, []):
                plain.add(plain.get_bool_var_from_proto_index(self.x[k].index) == int(k == best))
            if best is not None:
                used.add(self.candidates[best].key)
        got = self._run(plain, ASK, first=True)
        return None if got is None else (got[0], int(self.cp.FEASIBLE))

    def wrong_sides(self, solution: Solution) -> dict[int, bool]:
        """Lines whose seat or blind hole opens to another side than its view shows, in this solution."""
        out = {}
        for number in sorted(self.sides):
            for k in solution.chosen.get(number, ()):
                item = self.candidates[k].item
                if item is not None and self._opens_away(number, item, solution.orientation):
                    out[number] = True
        return out

    def rival(
        self, solution: Solution, forbidden: Iterable[int], within: float = PRICES.rival, stay: int | None = None
    ) -> tuple[int, dict[int, tuple[int, ...]]] | None:
        """Another assignment that costs at most `within` more and uses none of the forbidden candidates: how much of
        the part it leaves unsaid, and its choice by line. Line `stay` must keep some place."""
        if self._asking is None:
            self._asking = self.model.clone()
            self._room = self._asking.new_int_var(-(10**7), 10**7, "")
            self._asking.add(self._room == sum(c * self._in_asking(v) for c, v in self.costs))
        asking = self._asking
        proto = asking.proto.variables
        limit = round(100 * (solution.cost + within)) - 1
        changed = [(self.x[k].index, 0, 0) for k in forbidden] + [(self._room.index, -(10**7), limit)]
        if stay is not None:
            changed.append((self.none[stay].index, 0, 0))
        before = []
        for index, low, high in changed:
            domain = proto[index].domain
            before.append((index, list(domain)))
            domain.clear()
            domain.extend([low, high])
        try:
            got = self._run(asking, ASK, first=True)
        finally:
            for index, old in before:
                domain = proto[index].domain
                domain.clear()
                domain.extend(old)
        if got is None:
            return None
        solver, _ = got
        missed = sum(
            int(solver.value(self._in_asking(v))) for v in (*self.unreached.values(), *self.unexplained.values())
        )
        chosen = {
            line: tuple(k for k in self.of.get(line, []) if solver.value(self._in_asking(self.x[k])))
            for line in self.none
        }
        return missed, chosen

    def _in_asking(self, v: Any) -> Any:
        return self._asking.get_int_var_from_proto_index(v.index)
