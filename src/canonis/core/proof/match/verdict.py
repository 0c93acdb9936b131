"""What the assignment of a source says of each of its lines, before the sheet is looked at."""

from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from canonis.core.proof.match.candidates import Candidate, candidates_of, pair_rows
from canonis.core.proof.match.chosen import Chosen, Places
from canonis.core.proof.match.features import Difference
from canonis.core.proof.match.items import Item, items_of
from canonis.core.proof.match.levels import Level, Levels
from canonis.core.proof.match.near import EXACT, LIMITS, ROUNDED, wanted
from canonis.core.proof.match.prices import PRICES
from canonis.core.proof.match.problem import Orientation, Problem, Solution
from canonis.core.quantity.units import Unit
from canonis.core.shape.part import PartShape
from canonis.core.shape.rows import Row
from canonis.core.solid.hints import Found
from canonis.core.source.characteristic import Characteristic

__all__ = ["Forced", "Rival", "SourceMatch", "Verdict", "match_source"]

#: A source with more lines to compare is not matched at once: it is most likely of another part, or of several.
MOST_LINES = 400
#: Beyond this many lines no rivals are looked for.
_MOST_ASKED = 150
#: A place that a person chose: the sort of measure, the size of a feature, and references.
Forced = tuple[str, str, tuple[str, ...]]
State = Literal["fits", "differs", "ambiguous", "no-place", "reference", "unread"]


@dataclass(frozen=True, eq=False)
class Rival:
    """Another measure that a line could mean as well: what it is, its value (mm or degrees) and the faces that show it."""

    words: str
    value: float
    faces: tuple[int, ...]
    key: tuple[object, ...] = ()
    levels: tuple[Level, ...] = ()


@dataclass(frozen=True, eq=False)
class Verdict:
    """What the part says of one line: its state, the measure in words, its value, faces and rows, why, and the rivals.

    `group` are other lines of the same value that could change places with it.
    """

    number: str
    state: State
    measure: str = ""
    value: float | None = None
    target: float | None = None
    reason: str = ""
    slip: str = ""
    faces: tuple[int, ...] = ()
    rows: tuple[Row, ...] = ()
    differences: tuple[Difference, ...] = ()
    rivals: tuple[Rival, ...] = ()
    group: tuple[str, ...] = ()
    keys: tuple[tuple[object, ...], ...] = ()
    count: int | None = None
    items: tuple[Item, ...] = ()
    levels: tuple[Level, ...] = ()
    angle: bool = False


@dataclass(frozen=True, eq=False)
class SourceMatch:
    """The verdicts by number, and what of the part no line reaches."""

    verdicts: dict[str, Verdict]
    unreached: tuple[Level, ...] = ()
    unexplained: tuple[Item, ...] = ()
    optimal: bool = True
    levels: Levels | None = None
    #: Pairs of lines that contradict one another: (number, other numbers, words).
    contradictions: tuple[tuple[str, tuple[str, ...], str], ...] = ()
    note: str = ""
    #: Values of the assignment, to start from when a line changes.
    memory: dict[tuple[str, tuple[object, ...]], int] = field(default_factory=dict)


def match_source(
    shape: PartShape, found: Sequence[Found], lines: Sequence[Characteristic], unit: Unit, *, front: Orientation | None = None,
    defaults: Sequence[tuple[str, float]] = (), forced: dict[str, Forced] | None = None, before: SourceMatch | None = None,
    progress: Callable[[str], None] = lambda _: None, rivals: bool = True, kept: Levels | None = None,
) -> SourceMatch:  # fmt: skip
    """Match a whole source with a part.

    `forced` are a person's own choices by number; `before` an earlier match to start from; `kept` the levels of the same
    part, worked out before. Without `rivals` nothing is called ambiguous for want of asking.
    """
    levels = kept if kept is not None else Levels(shape, items_of(shape, found))
    read = [c for c in lines if c.error is None]
    if sum(c.kind not in ("note", "round") for c in read) > MOST_LINES:
        note = f"A source of more than {MOST_LINES} sizes is not matched with one part; give each part its own source."
        return SourceMatch(
            {c.number: Verdict(c.number, "unread" if c.error else "reference", reason=note) for c in lines},
            note=note,
            levels=levels,
        )
    candidates, words = candidates_of(levels, read, unit)
    if forced:
        candidates = _obeyed(levels, read, candidates, forced)
    problem = Problem(levels, read, candidates, words, front, defaults)
    hint = None
    if before is not None and before.memory:
        hint = [before.memory.get((read[c.line].number, c.key), 0) for c in candidates]
    progress("Looking for each line's place in the part")
    solution = problem.solve(hint)
    if solution is None:
        note = "No assignment was found in time; nothing is said against any line."
        return SourceMatch({c.number: Verdict(c.number, "unread" if c.error else "ambiguous", reason=note) for c in lines}, note=note,
                           levels=levels, optimal=False)  # fmt: skip
    judge = _Judge(problem, solution, read, unit)
    verdicts: dict[str, Verdict] = {
        c.number: Verdict(c.number, "unread", reason=c.error.message) for c in lines if c.error is not None
    }
    asked = 0
    for number, c in enumerate(read):
        v = judge.verdict(number)
        person = forced is not None and c.number in forced
        if rivals and v.state in ("fits", "differs") and not person and len(read) <= _MOST_ASKED:
            asked += 1
            progress(f"Looking for rivals: line {asked} of {len(problem.none)}")
            v = judge.asked(number, v)
        elif person and v.state == "ambiguous":
            v = judge.firm(v)
        verdicts[c.number] = v
    contradictions = judge.contradictions(verdicts)
    memory = {(read[c.line].number, c.key): solution.values[k] for k, c in enumerate(candidates)}
    unexplained = tuple(i for i in levels.items if i.label in solution.unexplained and problem._worth(i, set()) > 0.1)
    return SourceMatch(verdicts, solution.unreached, unexplained, solution.optimal, levels, contradictions, "", memory)


def _obeyed(
    levels: Levels, lines: Sequence[Characteristic], candidates: list[Candidate], forced: dict[str, Forced]
) -> list[Candidate]:
    """Only what a person chose, for the lines that one chose for; a choice whose geometry is gone binds nothing."""
    wishes = {n: Chosen(*w) for n, w in forced.items()}
    places = Places(levels, [r for w in wishes.values() for r in w.refs])
    out = []
    for number in range(len(lines)):
        mine = [k for k in candidates if k.line == number]
        wish = wishes.get(lines[number].number)
        if wish is not None:
            met = [k for k in mine if places.meets(wish, k)]
            mine = [replace(k, price=0.0) for k in met] or mine
        out += mine
    return out


class _Judge:
    """Judges the lines of one solution."""

    def __init__(self, problem: Problem, solution: Solution, lines: Sequence[Characteristic], unit: Unit) -> None:
        self.problem, self.solution, self.lines, self.unit = problem, solution, lines, unit
        self.levels = problem.levels
        self.sides = problem.wrong_sides(solution)
        self.sufficient = not solution.unreached and not solution.unexplained
        self.spare = self._spare()
        self.alike: dict[tuple[object, ...], list[int]] = defaultdict(list)
        for number, c in enumerate(lines):
            if number in problem.none and c.main is not None and c.main.nominal is not None:
                self.alike[c.kind, c.main.name, c.main.nominal, c.main.lower, c.main.upper, c.count].append(number)

    def _spare(self) -> set[int]:
        """Lines whose length the other lines give as well."""
        links: list[tuple[int, int, int]] = []
        for number, ks in self.solution.chosen.items():
            for k in ks:
                if self.problem.candidates[k].key[0] in ("edge", "pitch", "size") and not self.lines[number].reference:
                    links += [(number, a.index, b.index) for a, b in self.problem.candidates[k].arcs]
        out = set()
        for number in {n for n, _, _ in links}:
            parent: dict[int, int] = {}

            def top(i: int, parent: dict[int, int] = parent) -> int:
                while parent.setdefault(i, i) != i:
                    i = parent[i]
                return i

            for other, a, b in links:
                if other != number:
                    parent[top(a)] = top(b)
            if all(top(a) == top(b) for n, a, b in links if n == number):
                out.add(number)
        return out

    def _twins(self, number: int) -> list[int]:
        c = self.lines[number]
        if c.main is None:
            return [number]
        return self.alike[c.kind, c.main.name, c.main.nominal, c.main.lower, c.main.upper, c.count]

    def verdict(self, number: int) -> Verdict:
        """The line as the solution has it."""
        c = self.lines[number]
        if number not in self.problem.none:
            return Verdict(c.number, "reference", reason="a note, kept as it is written" if c.kind == "note" else "")
        want = None if c.main is None else wanted(c.main, self.unit)
        target = None if want is None else want.target
        angle = bool(want and want.angle)
        ks = self.solution.chosen.get(number, ())
        if not ks:
            return Verdict(c.number, "no-place", target=target, reason="nothing in the model is like it", angle=angle)
        chosen = [self.problem.candidates[k] for k in ks]
        best = max(chosen, key=lambda k: k.state)
        fits = all(k.fits for k in chosen)
        reason, slip = "", "; ".join(dict.fromkeys(k.slip for k in chosen if k.slip and not k.fits))
        differences = [d for k in chosen for d in k.differences if d.state != LIMITS]
        count = self.solution.miscounted.get(number)
        if count is not None and (c.count > 1 or c.kind in ("hole", "thread", "slot", "groove", "keyway", "seat")):
            fits = False
            differences.insert(0, Difference("count", float(c.count), float(count), _count_slip(c.count, count)))
        if self.sides.get(number):
            fits = False
            differences.append(Difference("side", None, None, "it opens to the other face (S12)"))
        price = sum(k.price for k in chosen)
        made = Verdict(
            c.number, "fits" if fits else "differs", " + ".join(dict.fromkeys(k.words for k in chosen)), best.value, target, reason, slip,
            self._faces(chosen), tuple(r for k in chosen for r in self._rows(k)), tuple(differences), (), (), tuple(k.key for k in chosen), count,
            tuple(k.item for k in chosen if k.item is not None), tuple(dict.fromkeys(n for k in chosen for n in k.levels)), angle,
        )  # fmt: skip
        return self._settled(number, c, made, chosen, price)

    def _settled(self, number: int, c: Characteristic, v: Verdict, chosen: list[Candidate], price: float) -> Verdict:
        """Hold back what is only likely: estimates, unlikely places, differences of an insufficient source."""
        if c.reference or c.provenance == "estimated":
            why = "an estimate proves nothing" if c.provenance == "estimated" else ""
            return _with(v, state="reference", reason=why)
        if v.state == "fits" and self.solution.unreached and number in self.spare:
            missed = ", ".join(self.levels.words(n) for n in self.solution.unreached[:3])
            return _with(
                v,
                state="ambiguous",
                reason=f"other lines say this length already, and nothing in the source reaches the {missed}",
            )
        if v.state == "fits" and price > PRICES.firm + (PRICES.off_target if any(k.state == LIMITS for k in chosen) else 0.0) + (
            PRICES.rounded if any(k.state == ROUNDED for k in chosen) else 0.0
        ) and chosen[0].key[0] in ("edge", "size", "pitch"):  # fmt: skip
            return _with(v, state="ambiguous", reason="the value fits, but the place is unlikely: confirm it")
        if v.state != "differs":
            return v
        if not self.solution.optimal:
            return _with(v, state="ambiguous", reason="the search was cut short, so that nothing is said against it")
        exact = [
            self.problem.candidates[k]
            for k in self.problem.of.get(number, [])
            if self.problem.candidates[k].state == EXACT
        ]
        if not self.sufficient and chosen[0].key[0] in ("edge", "size", "pitch"):
            plain = [k for k in exact if k.price <= PRICES.firm]
            if plain:
                # In a source with gaps a level that nothing reaches turns no line that fits somewhere else into a difference.
                best = min(plain, key=lambda k: k.price)
                return _with(
                    v, state="ambiguous", measure=best.words, value=best.value, slip="", faces=self._faces([best]), rows=tuple(self._rows(best)),
                    keys=(best.key,), levels=best.levels, differences=(),
                    reason="the source leaves levels of the part unsaid, so that this place is only likely",
                    rivals=(self._rival(chosen[0]),),
                )  # fmt: skip
        return v

    def _rival(self, k: Candidate) -> Rival:
        return Rival(k.words, k.value, self._faces([k]), k.key, k.levels if k.key[0] in ("edge", "pitch") else ())

    def _faces(self, chosen: Sequence[Candidate]) -> tuple[int, ...]:
        out: list[int] = []
        for k in chosen:
            out += sorted(k.item.faces) if k.item is not None else sorted({f for n in k.levels for f in n.faces})
        return tuple(dict.fromkeys(out))[:200]

    def _rows(self, k: Candidate) -> Sequence[Row]:
        if k.key[0] == "edge":
            return pair_rows(k.levels[0], k.levels[1])
        return k.rows

    def asked(self, number: int, v: Verdict) -> Verdict:
        """A line whose place nothing else could take stays as it is; with a rival it is ambiguous."""
        c = self.lines[number]
        if c.kind not in ("length", "wall", "angle", "pattern") or not v.keys:
            return v
        key = v.keys[0]
        twins = self._twins(number)
        keys = {key} | self._mirrors(key)
        group = tuple(
            self.lines[t].number for t in twins if t != number and any(self.problem.candidates[k].key in keys and self.problem.candidates[k].fits
                                                                       for k in self.problem.of.get(t, []))
        )  # fmt: skip
        # Lines of one value are judged as one: each may take what another has.
        taken = {
            k.key for t in twins for n in self.solution.chosen.get(t, ()) for k in (self.problem.candidates[n],)
        } | keys
        for known in list(taken):
            taken |= self._mirrors(known)
        mine = [
            k
            for t in twins
            for k in self.problem.of.get(t, [])
            if self.problem.candidates[k].key == key or self.problem.candidates[k].key in self._mirrors(key)
        ]
        others = [k for k in self.problem.of.get(number, []) if self.problem.candidates[k].key not in taken]
        v = _with(v, group=group)
        if not others:
            return v
        found = self.problem.rival(self.solution, mine)
        if found is None:
            return v
        _, chosen = found
        rivals = []
        for t in twins:
            for k in chosen.get(t, ()):
                one = self.problem.candidates[k]
                if one.key not in taken:
                    rivals.append(self._rival(one))
        if v.state == "differs":
            # Another reading says that the line fits: then nothing is said against it.
            fitting = [k for k in chosen.get(number, ()) if self.problem.candidates[k].fits]
            if fitting:
                return _with(v, state="ambiguous", rivals=tuple(rivals), reason="it fits another place about as well")
            return _with(v, rivals=tuple(rivals))
        return _with(
            v,
            state="ambiguous",
            rivals=tuple(rivals),
            reason="another place fits about as well" if rivals else "it could be left without a place as well",
        )

    def _mirrors(self, key: tuple[object, ...]) -> set[tuple[object, ...]]:
        if key[0] != "edge":
            return set()
        twin = self.levels.mirrored(self.levels.all[int(str(key[1]))], self.levels.all[int(str(key[2]))])
        return set() if twin is None else {("edge", *twin)}

    def firm(self, v: Verdict) -> Verdict:
        """A place that a person chose."""
        fits = v.state in ("fits", "ambiguous") and not v.differences and (
            v.value is None or v.target is None or any(
                k.fits for k in self.problem.candidates if k.key in v.keys and self.lines[k.line].number == v.number)
        )  # fmt: skip
        return _with(v, state="fits" if fits else "differs", rivals=(), reason="chosen by hand")

    def contradictions(self, verdicts: dict[str, Verdict]) -> tuple[tuple[str, tuple[str, ...], str], ...]:
        """Lines that say two things of one measure: the source disagrees with itself, whatever the model has."""
        by_key: dict[tuple[object, ...], list[str]] = defaultdict(list)
        for v in verdicts.values():
            if (
                v.keys
                and v.keys[0][0] in ("edge", "pitch", "lean", "size")
                and v.state in ("fits", "differs", "ambiguous")
            ):
                by_key[v.keys[0]].append(v.number)
        out = []
        for numbers in by_key.values():
            targets = {n: verdicts[n].target for n in numbers}
            wrong = [n for n in numbers if verdicts[n].state == "differs"]
            right = [n for n in numbers if n not in wrong]
            if wrong and right and len({round(t, 3) for t in targets.values() if t is not None}) > 1:
                for n in wrong:
                    out.append((n, tuple(right), "they state one size differently"))
        return tuple(out)


def _count_slip(said: int, have: int) -> str:
    if have == said - 1:
        return "a member is missing (S10)"
    if have == said + 1:
        return "one more than the source says (S10)"
    return "another number of them (S10)"


def _with(v: Verdict, **changes: object) -> Verdict:
    return replace(v, **changes)  # type: ignore[arg-type]
