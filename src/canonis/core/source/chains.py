"""Chain strips: named levels along a direction and what is known of the distances between them.

Everything is exact (rationals). Plain distances are followed from level to level; symmetry, equal spacing, halves
and doubles are linear equations between the groups of levels that plain distances leave apart.
"""

import math
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any

from pydantic import BaseModel, ConfigDict

from canonis.core.quantity import Unit
from canonis.core.source.slips import likely_slip
from canonis.core.source.strip import Distance, Equation, Strip, read_strip

__all__ = ["Chain", "Span", "solve_chain"]


class Span(BaseModel):
    """A distance that the chain gives: exact mm, the sum that gives it, and how its tolerances pile up (± mm)."""

    model_config = ConfigDict(frozen=True)

    name: str
    value: Fraction
    terms: tuple[tuple[str, Fraction], ...]
    worst: Fraction | None = None
    likely: float | None = None

    def as_json(self) -> dict[str, Any]:
        """The span as plain data."""
        return {
            "name": self.name,
            "value_mm": float(self.value),
            "terms": [{"member": n, "times": float(k)} for n, k in self.terms],
            "worst_mm": None if self.worst is None else float(self.worst),
            "rss_mm": self.likely,
        }


class Chain(BaseModel):
    """A solved chain. Levels in exact mm from the first name; unreached levels are absent.

    `gaps` are loops that do not close, each with the member that is the likely slip; `redundant` are members that
    repeat what the others give; `free` are levels that nothing reaches.
    """

    model_config = ConfigDict(frozen=True)

    direction: str
    text: str = ""
    levels: dict[str, Fraction]
    solved: tuple[str, ...]
    spans: tuple[Span, ...] = ()
    gaps: tuple[dict[str, Any], ...] = ()
    redundant: tuple[str, ...] = ()
    unsolved: tuple[str, ...] = ()
    free: tuple[str, ...] = ()
    used: tuple[str, ...] = ()

    def as_json(self) -> dict[str, Any]:
        """The chain as COMMANDS.md writes it."""
        return {
            "direction": self.direction,
            "levels_mm": {k: float(v) for k, v in self.levels.items()},
            "solved": list(self.solved),
            "gaps": [dict(g) for g in self.gaps],
            "unsolved": list(self.unsolved),
            "redundant": list(self.redundant),
            "free": list(self.free),
            "spans": [s.as_json() for s in self.spans],
        }


#: A linear combination: of members (keys ≥ 0), and of the groups' own free offsets (keys < 0).
_Sum = dict[int, Fraction]


def _added(a: _Sum, b: _Sum, times: Fraction = Fraction(1)) -> _Sum:
    out = dict(a)
    for k, v in b.items():
        got = out.get(k, Fraction(0)) + times * v
        if got:
            out[k] = got
        else:
            out.pop(k, None)
    return out


@dataclass
class _Group:
    """Levels tied together: each with its value and its sum of members from the group's root."""

    value: dict[str, Fraction] = field(default_factory=dict)
    sums: dict[str, _Sum] = field(default_factory=dict)


def _grow(strip: Strip) -> tuple[dict[str, int], list[_Group], list[tuple[Distance, int]]]:
    """Follow plain distances from level to level; those left over close loops."""
    near: dict[str, list[tuple[str, int, int]]] = {n: [] for n in strip.names}
    known = [(k, d) for k, d in enumerate(strip.distances) if d.size is not None]
    for k, d in known:
        near[d.a].append((d.b, k, 1))
        near[d.b].append((d.a, k, -1))
    group_of: dict[str, int] = {}
    groups: list[_Group] = []
    tree: set[int] = set()
    for name in strip.names:
        if name in group_of:
            continue
        group = _Group({name: Fraction(0)}, {name: {}})
        group_of[name] = len(groups)
        todo = [name]
        for here in todo:
            for other, k, sign in near[here]:
                if other in group_of:
                    continue
                size = strip.distances[k].size
                assert size is not None
                tree.add(k)
                group.value[other] = group.value[here] + sign * size
                group.sums[other] = _added(group.sums[here], {k: Fraction(sign)})
                group_of[other] = len(groups)
                todo.append(other)
        groups.append(group)
    return group_of, groups, [(d, k) for k, d in known if k not in tree]


class _System:
    """Equations between group offsets, reduced as they come: offset = constant + sum of members."""

    def __init__(self) -> None:
        #: pivot group → (coefficients of the other groups, constant, members)
        self.rows: dict[int, tuple[dict[int, Fraction], Fraction, _Sum]] = {}

    def reduce(self, c: dict[int, Fraction], value: Fraction, sums: _Sum) -> tuple[dict[int, Fraction], Fraction, _Sum]:
        """An equation Σ c·offset + value = 0 with every pivot put in."""
        done = False
        while not done:
            done = True
            for g in list(c):
                if g in self.rows and c.get(g):
                    others, constant, members = self.rows[g]
                    k = c.pop(g)
                    for h, x in others.items():
                        c[h] = c.get(h, Fraction(0)) + k * x
                    value += k * constant
                    sums = _added(sums, members, k)
                    done = False
            c = {g: x for g, x in c.items() if x}
        return c, value, sums

    def add(self, c: dict[int, Fraction], value: Fraction, sums: _Sum) -> tuple[Fraction, _Sum] | None:
        """Take an equation in; its remainder and members when it says nothing new."""
        c, value, sums = self.reduce(dict(c), value, sums)
        if not c:
            return value, sums
        # Keep the first group fixed: it holds the level that everything counts from.
        pivot = max(c)
        k = -c.pop(pivot)
        self.rows[pivot] = ({g: x / k for g, x in c.items()}, value / k, {m: x / k for m, x in sums.items()})
        return None


class _Tied:
    """A strip with all of its distances and equations taken in, and which of them say nothing new or do not close."""

    def __init__(self, strip: Strip) -> None:
        self.strip = strip
        self.group_of, self.groups, closing = _grow(strip)
        self.system = _System()
        self.redundant: list[str] = []
        self.gaps: list[tuple[_Sum, Fraction, str]] = []
        #: Members of loops that do close: the others are suspect before them.
        self.sound: set[int] = set()
        for k, e in enumerate(strip.equations):
            self._equation(e, len(strip.distances) + k)
        for d, k in closing:
            assert d.size is not None
            g = self.groups[self.group_of[d.a]]
            value = g.value[d.b] - g.value[d.a] - d.size
            sums = _added(_added(g.sums[d.b], g.sums[d.a], Fraction(-1)), {k: Fraction(-1)})
            self._closed(k, value, sums)

    def offset(self, name: str, times: Fraction) -> tuple[dict[int, Fraction], Fraction, _Sum]:
        """A level, so many times, as what its group's root is off, a constant and a sum of members."""
        g = self.group_of[name]
        group = self.groups[g]
        return {g: times}, times * group.value[name], {k: times * v for k, v in group.sums[name].items()}

    def _equation(self, e: Equation, own: int) -> None:
        c: dict[int, Fraction] = {}
        value, sums = Fraction(0), {own: Fraction(1)}
        for name, times in e.terms:
            more, plus, members = self.offset(name, times)
            for g, x in more.items():
                c[g] = c.get(g, Fraction(0)) + x
            value += plus
            sums = _added(sums, members)
        rest = self.system.add({g: x for g, x in c.items() if x}, value, sums)
        if rest is not None:
            self._closed(own, *rest)

    def _closed(self, member: int, gap: Fraction, sums: _Sum) -> None:
        """Take note of a loop, by the member that closed it."""
        if gap:
            self.gaps.append((sums, gap, self.strip.member(member)))
        else:
            self.sound.update(sums)
            self.redundant.append(self.strip.member(member))


def _terms(strip: Strip, sums: _Sum) -> tuple[tuple[str, Fraction], ...]:
    """The distances of a sum; the equations that lead there add nothing to its length."""
    return tuple((strip.member(k), v) for k, v in sorted(sums.items()) if k < len(strip.distances))


def _pile(strip: Strip, sums: _Sum) -> tuple[Fraction | None, float | None]:
    """Worst case and root-sum-square of the tolerances along a sum; None where a member has none."""
    widths: list[Fraction] = []
    for k, v in sums.items():
        tolerance = strip.distances[k].tolerance if k < len(strip.distances) else Fraction(0)
        if tolerance is None:
            return None, None
        widths.append(abs(v) * tolerance)
    return sum(widths, Fraction(0)), math.sqrt(sum(float(w) ** 2 for w in widths))


def _span(strip: Strip, name: str, value: Fraction, sums: _Sum) -> Span:
    worst, likely = _pile(strip, sums)
    # A sum that runs backwards is written forwards.
    if value < 0:
        value, sums = -value, {k: -v for k, v in sums.items()}
    return Span(name=name, value=value, terms=_terms(strip, sums), worst=worst, likely=likely)


def solve_chain(
    direction: str, text: str, unit: Unit, lookup: dict[str, tuple[Fraction, Fraction | None]] | None = None
) -> Chain:
    """Solve the levels of a chain such as ``A -1.0625- B -?- C; A -2.875- C``.

    Also: ``A = B about C`` (symmetric), ``equal A B C D``, ``A-B = half C-D``, ``A-B = 2 C-D``, tolerances
    ``A -12 ±.1- B``, and lengths from the list ``A -#3- B`` (`lookup`: exact mm and ± mm by number).
    Raises BadInput when the text is not a chain.
    """
    strip = read_strip(text, unit, lookup or {})
    tied = _Tied(strip)
    gaps, sound = tied.gaps, tied.sound
    levels: dict[str, Fraction] = {}
    sums_of: dict[str, _Sum] = {}
    for name in strip.names:
        c, value, sums = tied.system.reduce(*tied.offset(name, Fraction(1)))
        if not {g for g in c if g != 0}:
            levels[name], sums_of[name] = value, sums
    spans: list[Span] = []
    solved: list[str] = []
    unsolved: list[str] = []
    for d in strip.distances:
        if d.size is not None:
            continue
        (solved if d.a in levels and d.b in levels else unsolved).append(d.name)
        if d.a in levels and d.b in levels:
            total = _added(sums_of[d.b], sums_of[d.a], Fraction(-1))
            spans.append(_span(strip, d.name, levels[d.b] - levels[d.a], total))
    return Chain(
        direction=direction,
        text=text.strip(),
        levels=levels,
        solved=tuple(solved),
        unsolved=tuple(unsolved),
        spans=tuple(spans),
        gaps=tuple(_gap(strip, sums, value, unit, [g[0] for g in gaps], sound) for sums, value, _ in gaps),
        redundant=tuple(tied.redundant),
        free=tuple(n for n in strip.names if n not in levels),
        used=tuple(d.number for d in strip.distances if d.number),
    )


def _gap(strip: Strip, sums: _Sum, value: Fraction, unit: Unit, loops: list[_Sum], sound: set[int]) -> dict[str, Any]:
    """A loop that does not close, with the member that explains it best."""
    members = [(strip.distances[k], v) for k, v in sorted(sums.items()) if k < len(strip.distances)]
    # A member of every open loop is suspect before any other.
    shared = set(sums) if len(loops) < 2 else set.intersection(*[set(x) for x in loops])
    out: dict[str, Any] = {"loop": [strip.member(k) for k in sorted(sums)], "gap_mm": abs(float(value))}
    doubtful = {id(strip.distances[k]) for k in shared if k < len(strip.distances)}
    borne_out = {id(strip.distances[k]) for k in sound if k < len(strip.distances)}
    found = likely_slip(members, value, unit, doubtful, borne_out)
    if found is not None:
        out["likely"] = found
    return out
