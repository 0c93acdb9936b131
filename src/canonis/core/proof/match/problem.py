"""One assignment for a whole source: each line takes one measure or none, and together they should reach every level.

Integer programming (CP-SAT): one worker and a deterministic limit, so that a verdict never depends on the load of a machine.
Spanning is a tree from each direction's datum: every reached level has one link that it is reached by. (Cuts added while
components appear took thirty rounds on some parts, and minutes.)
"""

from collections import defaultdict
from collections.abc import Callable, Collection, Iterable, Sequence
from dataclasses import dataclass, field
from itertools import combinations, pairwise, product
from typing import Any

from canonis.core.proof.known import meant_by, thing_of
from canonis.core.proof.match.candidates import Candidate, is_compared
from canonis.core.proof.match.features import wrong_side
from canonis.core.proof.match.item import Item
from canonis.core.proof.match.levels import LEVEL, Level, Levels
from canonis.core.proof.match.prices import PRICES
from canonis.core.proof.match.words import Words
from canonis.core.source import Characteristic

__all__ = ["Orientation", "Problem", "Solution"]

#: Deterministic seconds for the solution and for each question after a rival.
SOLVE, ASK = 2.0, 0.6

View = tuple[int, int]


@dataclass(frozen=True)
class Orientation:
    """How the part lies in the source's views: where it looks to the reader of the front view, and what is up there.

    Each is (direction of the part's frame, sense).
    """

    toward: View
    up: View

    def of(self, name: str, sense: int = 1) -> View:
        """A direction of the source's views in the part."""
        if name == "toward":
            way, s = self.toward
        elif name == "up":
            way, s = self.up
        else:
            way = 3 - self.toward[0] - self.up[0]
            # right = up × toward
            turn = 1 if (self.up[0], self.toward[0]) in ((0, 1), (1, 2), (2, 0)) else -1
            s = turn * self.up[1] * self.toward[1]
        return way, s * sense


FILE = Orientation((1, -1), (2, 1))
ORIENTATIONS = tuple(
    Orientation((a, s), (b, t)) for a in range(3) for s in (-1, 1) for b in range(3) if b != a for t in (-1, 1)
)


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


def _leaders(lines: Sequence[Characteristic], words: Sequence[Words]) -> dict[int, int]:
    """Of each line the first that says the same of features: each hole of a row may have a line of its own."""
    first: dict[tuple[object, ...], int] = {}
    out = {}
    for number, (c, w) in enumerate(zip(lines, words, strict=True)):
        feature = meant_by(c.kind).places == "feature" and not c.reference and c.error is None
        parts = tuple((p.name, p.nominal, p.lower, p.upper, p.designation) for p in c.parts)
        key = (c.kind, parts, c.detail, c.name.lower(), w.view, c.provenance) if feature else (number,)
        out[number] = first.setdefault(key, number)
    return out


class Problem:
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
        from ortools.sat.python import cp_model

        self.cp = cp_model
        self.levels, self.lines, self.candidates, self.words = levels, lines, candidates, words
        self.model = cp_model.CpModel()
        self.front, self.defaults = front, defaults
        self.costs: list[tuple[int, Any]] = []
        #: Lines that say the same of features are one in the problem: the first of them.
        self.leader = _leaders(lines, words)
        self.bundle: dict[int, list[int]] = defaultdict(list)
        for number, lead in self.leader.items():
            self.bundle[lead].append(number)
        # What a follower could mean is its leader's affair.
        nothing = self.model.new_constant(0)
        self.x = [self._bool() if self.leader[c.line] == c.line else nothing for c in candidates]
        self.of: dict[int, list[int]] = defaultdict(list)
        for k, c in enumerate(candidates):
            if self.leader[c.line] == c.line:
                self.of[c.line].append(k)
        self.weight = [PRICES.reference if c.reference or c.provenance == "estimated" else 1.0 for c in lines]
        self.miscount: dict[int, tuple[Any, Any]] = {}
        self.none: dict[int, Any] = {}
        self.unreached: dict[int, Any] = {}
        self.unexplained: dict[str, Any] = {}
        self._graphs: list[dict[int, Any]] = []
        self.orientations: list[Any] = []
        self._asking: Any = None
        self._room: Any = None
        self.sides: set[int] = set()
        self._lines()
        self._once()
        self._views()
        self._neighbours()
        self._spanning()
        self._features()
        self.model.minimize(sum(c * v for c, v in self.costs))

    def _bool(self) -> Any:
        return self.model.new_bool_var("")

    def _pay(self, price: float, variable: Any) -> None:
        self.costs.append((round(100 * price), variable))

    def compared(self, line: int) -> bool:
        """Whether a line is in the problem."""
        c = self.lines[line]
        return c.error is None and is_compared(c)

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

    def _views(self) -> None:
        """Where the lines were read: one orientation of the part in the source's views, and what each view can show."""
        demands: list[tuple[float, dict[View, Callable[[int], bool]], int]] = []
        for number in self.none:
            words, mine = self.words[number], self.of.get(number, [])
            if not mine:
                continue
            if words.view is not None:
                demands.append((PRICES.view, {(w, s): self._hidden(w) for w in range(3) for s in (-1, 1)}, number))
            if words.side is not None:
                demands.append(
                    (PRICES.against + 1, {(w, s): self._not_from(w, s) for w in range(3) for s in (-1, 1)}, number)
                )
            if words.tall:
                demands.append((1.0, {(w, s): self._not_along(w) for w in range(3) for s in (-1, 1)}, number))
        sided = [
            n
            for n in self.none
            if any(
                (i := self.candidates[k].item) is not None and wrong_side(self.lines[n], i) for k in self.of.get(n, [])
            )
        ]
        if not demands and not sided:
            return
        known = [FILE] + ([self.front] if self.front is not None else [])
        self.orientations = [self._bool() for _ in ORIENTATIONS]
        self.model.add_exactly_one(self.orientations)
        for o, b in zip(ORIENTATIONS, self.orientations, strict=True):
            price = (
                0.0
                if o in known
                else PRICES.mirrored
                if any((k.toward[0], k.up[0]) == (o.toward[0], o.up[0]) for k in known)
                else PRICES.turned
            )
            self._pay(price, b)
        for price, bad, number in demands:
            self._demand(number, price, bad)
        for number in sided:
            self._sides(number)
        for number in self.none:
            self._end_on(number)

    def _hidden(self, way: int) -> Callable[[int], bool]:
        return lambda k: self.candidates[k].way == way

    def _not_along(self, way: int) -> Callable[[int], bool]:
        return lambda k: self.candidates[k].way >= 0 and self.candidates[k].way != way

    def _not_from(self, way: int, sense: int) -> Callable[[int], bool]:
        def bad(k: int) -> bool:
            c = self.candidates[k]
            return c.way >= 0 and (way, sense) not in c.ends

        return bad

    def _demand(self, number: int, price: float, bad: dict[View, Callable[[int], bool]]) -> None:
        """Pay where the chosen measure does not go with the orientation."""
        words, mine = self.words[number], self.of[number]
        name = words.view if price == PRICES.view else words.side if price == PRICES.against + 1 else ("up", 1)
        assert name is not None
        by_class: dict[tuple[int, ...], list[Any]] = defaultdict(list)
        for o, b in zip(ORIENTATIONS, self.orientations, strict=True):
            wrong = tuple(k for k in mine if bad[o.of(name[0], name[1])](k))
            by_class[wrong].append(b)
        hurt = self._bool()
        for wrong, os in by_class.items():
            if wrong:
                self.model.add(hurt >= sum(self.x[k] for k in wrong) + sum(os) - 1)
        self._pay(price * self.weight[number], hurt)

    def _opens_away(self, number: int, item: Item, orientation: Orientation) -> bool:
        """Whether a seat or a blind hole opens away from the side that its line's view shows, with the part lying so."""
        side = wrong_side(self.lines[number], item)
        if side is None:
            return False
        way, sense = orientation.of(side[0], side[1])
        look = float(item.axis @ self.levels.frame[way]) * (1 if item.seats[0] or not item.seats[1] else -1)
        return abs(look) > 0.9 and look * sense < 0

    def _sides(self, number: int) -> None:
        """A seat or a blind hole opens to the side that its view shows."""
        by_class: dict[tuple[int, ...], list[Any]] = defaultdict(list)
        for o, b in zip(ORIENTATIONS, self.orientations, strict=True):
            wrong = []
            for k in self.of[number]:
                item = self.candidates[k].item
                if item is not None and self._opens_away(number, item, o):
                    wrong.append(k)
            by_class[tuple(wrong)].append(b)
        hurt = self._bool()
        for wrong_ks, os in by_class.items():
            if wrong_ks:
                for k in wrong_ks:
                    self.model.add(hurt >= self.x[k] + sum(os) - 1)
        self._pay(PRICES.side * self.weight[number], hurt)
        self.sides.add(number)

    def _end_on(self, number: int) -> None:
        """Holes are listed where they are seen end on."""
        words = self.words[number]
        if words.view is None or not meant_by(self.lines[number].kind).end_on:
            return
        by_class: dict[tuple[int, ...], list[Any]] = defaultdict(list)
        for o, b in zip(ORIENTATIONS, self.orientations, strict=True):
            way, _ = o.of(words.view[0])
            wrong = tuple(
                k
                for k in self.of.get(number, [])
                if (item := self.candidates[k].item) is not None
                and abs(float(item.axis @ self.levels.frame[way])) < 0.9
            )
            by_class[wrong].append(b)
        hurt = self._bool()
        for wrong, os in by_class.items():
            for k in wrong:
                self.model.add(hurt >= self.x[k] + sum(os) - 1)
        self._pay(PRICES.end_on, hurt)

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
