"""Judges the lines of a source by the assignment that was found for it."""

from collections import defaultdict
from collections.abc import Sequence
from collections.abc import Set as AbstractSet
from dataclasses import replace

from canonis.core.proof.known import meant_by
from canonis.core.proof.match.candidates import Candidate, pair_rows
from canonis.core.proof.match.near import EXACT, LIMITS, ROUNDED, wanted
from canonis.core.proof.match.prices import PRICES
from canonis.core.proof.match.problem import Problem, Solution
from canonis.core.proof.match.tally import Difference
from canonis.core.proof.match.verdict import Rival, Verdict
from canonis.core.quantity import Unit
from canonis.core.shape import Row
from canonis.core.source import Characteristic

__all__ = ["Judge"]


def _between_axes(k: Candidate) -> float:
    """What the distance of two axes costs before anything is known of it: as a place it is as firm as one between faces."""
    return PRICES.axes if len(k.levels) == 2 and all("axis" in n.kinds for n in k.levels) else 0.0


class Judge:
    """Judges the lines of one solution."""

    def __init__(self, problem: Problem, solution: Solution, lines: Sequence[Characteristic], unit: Unit) -> None:
        self.problem, self.solution, self.lines, self.unit = problem, solution, lines, unit
        self.levels = problem.levels
        self.sides = problem.wrong_sides(solution)
        self.unsaid = [i for i in problem.levels.items if i.label in solution.unexplained and problem.worth(i) > 0.1]
        self.sufficient = not solution.unreached and not self.unsaid
        self.spare = self._spare()
        #: The first line that each measure serves.
        self.first: dict[tuple[object, ...], int] = {}
        for number, ks in sorted(solution.chosen.items()):
            if not lines[number].reference and lines[number].provenance != "estimated":
                for k in ks:
                    self.first.setdefault(problem.candidates[k].key, number)
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
        lead = self.problem.leader[number]
        if lead not in self.problem.none:
            return Verdict(c.number, "reference", reason="a note, kept as it is written" if c.kind == "note" else "")
        want = None if c.main is None else wanted(c.main, self.unit)
        target = None if want is None else want.target
        angle = bool(want and want.angle)
        ks = self.solution.chosen.get(lead, ())
        if not ks:
            taken = self._taken_place(number)
            if taken is not None:
                return replace(self._made(number, c, [taken], target, angle), state="differs")
            return Verdict(c.number, "no-place", target=target, reason="nothing in the model is like it", angle=angle)
        chosen = [self.problem.candidates[k] for k in ks]
        made = self._made(number, c, chosen, target, angle)
        return self._settled(number, c, made, chosen, sum(k.price for k in chosen))

    def _made(
        self, number: int, c: Characteristic, chosen: list[Candidate], target: float | None, angle: bool
    ) -> Verdict:
        """A line with what it was given."""
        best = max(chosen, key=lambda k: k.state)
        fits = all(k.fits for k in chosen)
        reason, slip = "", "; ".join(dict.fromkeys(k.slip for k in chosen if k.slip and not k.fits))
        differences = [d for k in chosen for d in k.differences if d.state != LIMITS]
        lead = self.problem.leader[number]
        count = self.solution.miscounted.get(lead)
        said = sum(max(self.lines[n].count, 1) for n in self.problem.bundle[lead])
        if count is not None and (said > 1 or meant_by(c.kind).strict):
            fits = False
            differences.insert(0, Difference("count", float(said), float(count), _count_slip(said, count)))
        if self.sides.get(lead):
            fits = False
            differences.append(Difference("side", None, None, "it opens to the other face (S12)"))
        return Verdict(
            c.number,
            "fits" if fits else "differs",
            " + ".join(dict.fromkeys(k.words for k in chosen)),
            best.value,
            target,
            reason,
            slip,
            self._faces(chosen),
            tuple(r for k in chosen for r in self._rows(k)),
            tuple(differences),
            (),
            (),
            tuple(k.key for k in chosen),
            count,
            tuple(k.item for k in chosen if k.item is not None),
            tuple(dict.fromkeys(n for k in chosen for n in k.levels)),
            angle,
        )

    def _taken_place(self, number: int) -> Candidate | None:
        """The place that a line without one would have, were it not another line's: they say one size differently."""
        if meant_by(self.lines[number].kind).places not in ("length", "angle"):
            return None
        used = {self.problem.candidates[k].key for ks in self.solution.chosen.values() for k in ks}
        mine = [
            k
            for n in self.problem.of.get(number, [])
            if (k := self.problem.candidates[n]).key in used and not k.fits and k.price <= 5.5
        ]
        return min(mine, key=lambda k: k.price, default=None)

    def _settled(self, number: int, c: Characteristic, v: Verdict, chosen: list[Candidate], price: float) -> Verdict:
        """Hold back what is only likely: estimates, unlikely places, differences of an insufficient source."""
        if c.reference or c.provenance == "estimated":
            why = "an estimate proves nothing" if c.provenance == "estimated" else ""
            return replace(v, state="reference", reason=why)
        lead = self.problem.leader[number]
        if v.state == "fits" and lead != number and self.solution.totals.get(lead) == max(self.lines[lead].count, 1):
            return replace(v, state="ambiguous", reason=f"#{self.lines[lead].number} says this already")
        if v.state == "fits" and meant_by(c.kind).whole and c.part("pitch") is not None:
            return replace(
                v,
                state="ambiguous",
                reason="nothing measures its pitch here: look at it, or give the pitch a line of its own",
            )
        if v.state == "fits" and (more := self._uncounted(number, c, chosen)):
            return replace(
                v,
                state="ambiguous",
                reason=f"the part has {more + len(chosen)} like this and the source says {max(c.count, 1)}",
            )
        first = self.first.get(v.keys[0]) if v.keys else None
        if first is not None and (self.problem.leader[first] == lead or any(n.axes > 1 for n in v.levels)):
            first = number
        if v.state == "fits" and first is not None and first != number:
            return replace(v, state="ambiguous", reason=f"#{self.lines[first].number} says this already")
        if v.state == "fits" and self.solution.unreached and number in self.spare:
            missed = ", ".join(self.levels.words(n) for n in self.solution.unreached[:3])
            return replace(
                v,
                state="ambiguous",
                reason=f"other lines say this length already, and nothing in the source reaches the {missed}",
            )
        if (
            v.state == "fits"
            and price
            > PRICES.firm
            + (PRICES.off_target if any(k.state == LIMITS for k in chosen) else 0.0)
            + (PRICES.rounded if any(k.state == ROUNDED for k in chosen) else 0.0)
            and chosen[0].key[0] in ("edge", "size", "pitch")
        ):
            return replace(v, state="ambiguous", reason="the value fits, but the place is unlikely: confirm it")
        if v.state != "differs":
            return v
        if not self.solution.optimal:
            return replace(v, state="ambiguous", reason="the search was cut short, so that nothing is said against it")
        if self.solution.unreached and chosen[0].key[0] in ("edge", "size", "pitch"):
            return self._spared(number, v)
        return self._fits_elsewhere(number, v)

    def _uncounted(self, number: int, c: Characteristic, chosen: Sequence[Candidate]) -> int:
        """Features that are like what a line was given, and that no line of the source means: its count says nothing of them."""
        if not meant_by(c.kind).whole or c.typical or any(k.item is None for k in chosen):
            return 0
        claimed = {self.problem.candidates[k].key for ks in self.solution.chosen.values() for k in ks}
        like = {k.item.likeness for k in chosen if k.item is not None}
        others = (self.problem.candidates[k] for k in self.problem.of.get(number, []))
        return sum(k.key not in claimed and k.item is not None and k.item.likeness in like for k in others)

    def _fits_elsewhere(self, number: int, v: Verdict) -> Verdict:
        """A line that another free place bears out is asked about, not accused: it may be right."""
        used = {self.problem.candidates[k].key for ks in self.solution.chosen.values() for k in ks}
        mine = (self.problem.candidates[n] for n in self.problem.of.get(number, []))
        free = [k for k in mine if k.fits and k.key not in used and k.price - _between_axes(k) <= PRICES.firm]
        if not free or (v.differences and any(d.part in ("count", "side") for d in v.differences)):
            return v
        best = min(free, key=lambda k: k.price)
        return replace(
            self._placed(v, best),
            state="ambiguous",
            rivals=tuple(self._rival(k) for k in free[1:4]),
            reason=f"it fits here; the other lines leave {v.measure} for it, where it would differ: choose its place",
        )

    def _placed(self, v: Verdict, best: Candidate) -> Verdict:
        """A verdict at a place where its line fits."""
        return replace(
            v,
            measure=best.words,
            value=best.value,
            slip="",
            faces=self._faces([best]),
            rows=tuple(self._rows(best)),
            keys=(best.key,),
            levels=best.levels,
            items=() if best.item is None else (best.item,),
            differences=(),
        )

    def _spared(self, number: int, v: Verdict) -> Verdict:
        """In a source with gaps a level that nothing reaches turns no line that fits somewhere else into a difference."""
        used = {self.problem.candidates[k].key for n, ks in self.solution.chosen.items() if n != number for k in ks}
        plain = sorted(
            (
                k
                for n in self.problem.of.get(number, [])
                if (k := self.problem.candidates[n]).state == EXACT and k.price <= PRICES.firm and k.key not in used
            ),
            key=lambda k: k.price,
        )
        if not plain:
            return v
        best = plain[0]
        twins = {best.key} | self._mirrors(best.key)
        others = [k for k in plain[1:] if k.key not in twins and k.price < best.price + PRICES.rival]
        made = replace(self._placed(v, best), state="fits")
        if not others:
            return made
        return replace(
            made,
            state="ambiguous",
            rivals=tuple(self._rival(k) for k in others[:4]),
            reason="the source leaves levels of the part unsaid, so that this place is only likely",
        )

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
        if meant_by(c.kind).places == "feature" or not v.keys:
            return v
        if c.kind == "wall" and v.state == "fits":
            return v  # one thickness for several walls is what such a line means
        key = v.keys[0]
        twins = self._twins(number)
        keys = {key} | self._mirrors(key)
        group = tuple(
            self.lines[t].number
            for t in twins
            if t != number
            and any(
                self.problem.candidates[k].key in keys and self.problem.candidates[k].fits
                for k in self.problem.of.get(t, [])
            )
        )
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
        v = replace(v, group=group)
        if not others:
            return v
        if not self.sufficient:
            # Where a source has gaps, a place that the line does not fit is no rival of one that it fits.
            mine += [k for k in self.problem.of.get(number, []) if not self.problem.candidates[k].fits]
        found = self.problem.rival(self.solution, mine, stay=None if self.sufficient else number)
        if found is None:
            return v
        return self._with_rival(number, v, twins, taken, found)

    def _with_rival(
        self,
        number: int,
        v: Verdict,
        twins: Sequence[int],
        taken: AbstractSet[tuple[object, ...]],
        found: tuple[int, dict[int, tuple[int, ...]]],
    ) -> Verdict:
        """A verdict when another assignment costs about as much: how much of the part that leaves unsaid, and its choice."""
        missed, chosen = found
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
                return replace(v, state="ambiguous", rivals=tuple(rivals), reason="it fits another place about as well")
            return replace(v, rivals=tuple(rivals))
        whole = missed <= len(self.solution.unreached) + len(self.solution.unexplained) and all(
            ks and all(self.problem.candidates[k].fits for k in ks)
            for n, ks in chosen.items()
            if self.solution.chosen.get(n)
        )
        if whole and rivals and self.sufficient:
            # Whichever of both the source means, the part is as all of its lines say.
            return replace(v, rivals=tuple(rivals), reason="read either way, the part is as all lines say")
        why = "another place fits about as well" if rivals else "it could be left without a place as well"
        return replace(v, state="ambiguous", rivals=tuple(rivals), reason=why)

    def _mirrors(self, key: tuple[object, ...]) -> set[tuple[object, ...]]:
        if key[0] != "edge":
            return set()
        twin = self.levels.mirrored(self.levels.all[int(str(key[1]))], self.levels.all[int(str(key[2]))])
        return set() if twin is None else {("edge", *twin)}

    def firm(self, v: Verdict) -> Verdict:
        """A place that a person chose."""
        fits = (
            v.state in ("fits", "ambiguous")
            and not v.differences
            and (
                v.value is None
                or v.target is None
                or any(
                    k.fits for k in self.problem.candidates if k.key in v.keys and self.lines[k.line].number == v.number
                )
            )
        )
        return replace(v, state="fits" if fits else "differs", rivals=(), reason="chosen by hand")

    def default(self, c: Characteristic) -> Verdict:
        """A default note: every round that no line names must be as it says."""
        want = None if c.main is None else wanted(c.main, self.unit)
        if want is None:
            return Verdict(c.number, "reference")
        claimed = {
            k.item.label
            for ks in self.solution.chosen.values()
            for n in ks
            if (k := self.problem.candidates[n]).item is not None
        }
        left = [i for i in self.levels.items if i.kind == "fillet" and i.label not in claimed]
        if not left:
            return Verdict(
                c.number, "reference", target=want.target, reason="every round of the part has a line of its own"
            )
        others = [i for i in left if want.of(float(i.sizes["radius"].value)).state not in (EXACT, ROUNDED, LIMITS)]
        told = others or left
        value = float(told[0].sizes["radius"].value)
        faces = tuple(sorted(f for i in told for f in i.faces))
        rows = tuple(r for i in left if i not in others for r in i.sizes["radius"].rows)
        labels = ", ".join(i.label for i in told)
        wrong = (Difference("radius", want.target, value),) if others else ()
        words = f"rounds {labels}, which no other line names" if others else f"rounds {labels}"
        return Verdict(
            c.number,
            "differs" if others else "fits",
            words,
            value,
            want.target,
            faces=faces,
            rows=rows,
            differences=wrong,
            keys=(("default", c.number),),
            items=(told[0],),
        )

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
