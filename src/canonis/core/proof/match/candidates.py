"""What each line of a source could mean: measures of the part with a price each, near misses among them."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from canonis.core.proof.known import meant_by, thing_of
from canonis.core.proof.match.features import feature_candidate, seat_candidate
from canonis.core.proof.match.item import Item
from canonis.core.proof.match.levels import Level, Levels
from canonis.core.proof.match.near import EXACT, LIMITS, NEAR, ROUNDED, SLIP, Nearness, Wanted, wanted
from canonis.core.proof.match.pairs import Pairs, ends_of, place_of
from canonis.core.proof.match.prices import PRICES
from canonis.core.proof.match.tally import Difference
from canonis.core.proof.match.words import Words, words_of
from canonis.core.quantity import Unit
from canonis.core.shape import Row, added
from canonis.core.source import Characteristic
from canonis.core.tolerances import NOISE, square

__all__ = ["Candidate", "candidates_of", "is_compared", "pair_rows"]

#: How many fitting places, slips and other near misses of a line are tried; fewer of the misses in a long source.
_FITS, _SLIPS, _NEARS = 30, 14, 8
_LONG, _LONG_SLIPS, _LONG_NEARS = 60, 8, 3
_TOP = PRICES.no_place + PRICES.unreached + 2


@dataclass(frozen=True, eq=False)
class Candidate:
    """A measure that a line could mean: its key, its price, how it stands to the line, and what it joins.

    `way` is the direction a length runs along (-1: none); `ends` the ends of the part it stands on; `look` the direction and
    sense that a feature is seen end on from.
    """

    line: int
    key: tuple[object, ...]
    price: float
    state: int
    slip: str
    value: float
    words: str
    way: int = -1
    arcs: tuple[tuple[Level, Level], ...] = ()
    levels: tuple[Level, ...] = ()
    item: Item | None = None
    rows: tuple[Row, ...] = ()
    ends: frozenset[tuple[int, int]] = frozenset()
    differences: tuple[Difference, ...] = ()

    @property
    def fits(self) -> bool:
        """Whether the part is as the line says there."""
        return self.state in (EXACT, ROUNDED, LIMITS)

    @property
    def owners(self) -> frozenset[str]:
        """Labels of the features that it is about."""
        mine = {x for n in self.levels for x in n.features}
        return frozenset(mine | ({self.item.label} if self.item else set()))


def pair_rows(a: Level, b: Level, most: int = 12) -> tuple[Row, ...]:
    """How the length from one level to the other changes, in each way that the part ties it."""
    out = [added(r, q, -1.0) for r in b.rows for q in a.rows]
    return tuple(r for r in out if r)[:most]


def _structural_slip(lv: Levels, want: Wanted, a: Level, b: Level, size: float) -> Nearness | None:
    """Slips of where one measures: edge for centre, tangent line for corner, from the other side."""

    def like(x: float) -> bool:
        return abs(x - want.target) <= want.same

    best: Nearness | None = None

    def take(price: float, words: str) -> None:
        nonlocal best
        if best is None or price < best.price:
            best = Nearness(SLIP, price, words)

    for n in (a, b):
        if "axis" in n.kinds and any(like(size - r) or like(size + r) for r in n.radii):
            take(4.0, "the distance to the edge of a circle taken for that to its centre, or the reverse (S03)")
    if "plane" in a.kinds and "plane" in b.kinds:
        for item in lv.items:
            if thing_of(item.kind).breaks_edge:
                r = item.value("radius") or item.value("leg")
                if isinstance(r, float) and (like(size - r) or like(size + r)):
                    take(4.2, "measured to the tangent edge of a round or the edge of a chamfer (S02)")
    total = lv.high[a.way].value - lv.low[a.way].value
    if like(total - size) and (a is lv.low[a.way] or b is lv.high[a.way]):
        take(5.0, "measured from the other side")
    return best


def _lengths(
    lv: Levels, line: int, want: Wanted, words: Words, tables: Sequence[Pairs], *, pitch_only: bool, long: bool
) -> list[Candidate]:
    made = [*_pitches(lv, line, want, words)]
    for table in tables:
        if len(table.value):
            made += _between(lv, line, want, words, table, pitch_only=pitch_only, long=long)
    made.sort(key=lambda c: c.price)
    good = [c for c in made if c.fits]
    slips = [c for c in made if not c.fits and c.state == SLIP]
    nears = [c for c in made if not c.fits and c.state != SLIP]
    some, few = (_LONG_SLIPS, _LONG_NEARS) if long else (_SLIPS, _NEARS)
    return [c for c in (*good[:_FITS], *slips[:some], *nears[:few]) if c.price <= _TOP]


def _pitches(lv: Levels, line: int, want: Wanted, words: Words) -> Iterator[Candidate]:
    """The steps of what stands in a row."""
    for p in lv.pitches:
        near = want.of(p.step)
        if near.state == NEAR and p.width and abs(p.step - p.width - want.target) <= want.same:
            near = Nearness(SLIP, 4.0, "the gap between two neighbours taken for the pitch (S10)")
        place = place_of(lv, p.levels[0], p.levels[1])
        arcs = tuple((p.levels[k], p.levels[k + 1]) for k in range(len(p.levels) - 1))
        price = -0.2 + near.price + words.price(place)
        yield Candidate(
            line,
            ("pitch", p.way, p.label),
            price,
            near.state,
            near.slip,
            p.step,
            f"pitch of {p.label} along {_axis(lv, p.way)}",
            p.way,
            arcs,
            p.levels,
            rows=pair_rows(p.levels[0], p.levels[1]),
        )


def _between(
    lv: Levels, line: int, want: Wanted, words: Words, table: Pairs, *, pitch_only: bool, long: bool
) -> Iterator[Candidate]:
    """Pairs of levels along one direction that are as far apart as a line says, or nearly so."""
    state, prices = want.many(table.value)
    rough = table.base + prices
    # What is neither right nor a likely slip is looked at only where it is cheap.
    order = np.argsort(rough, kind="stable")
    fits = [int(k) for k in order if state[k] in (EXACT, ROUNDED, LIMITS)][: 30 if long else 60]
    rest = [
        int(k)
        for k in order
        if (state[k] in (SLIP, NEAR) and 0.2 * want.target < table.value[k] < 5 * want.target) or state[k] == SLIP
    ]
    for k in [*fits, *rest[: 30 if long else 70]]:
        a, b = table.ends(k)
        place = table.place(k)
        if pitch_only and not all(place.axis):
            continue
        size = float(table.value[k])
        near = want.of(size)
        if near.state == NEAR or (near.state == SLIP and near.price > 4.0):
            found = _structural_slip(lv, want, a, b, size)
            near = found if found is not None and found.price < near.price else near
        cost = float(table.base[k]) + near.price + words.price(place)
        if words.half and place.middle:
            cost -= PRICES.middle - 2.5
        yield Candidate(
            line,
            ("edge", a.index, b.index),
            cost,
            near.state,
            near.slip,
            size,
            f"{lv.words(a)} to {lv.words(b)}, along {_axis(lv, table.way)}",
            table.way,
            ((a, b),),
            (a, b),
            ends=ends_of(lv, (a, b)),
        )


def _axis(lv: Levels, way: int) -> str:
    u = lv.frame[way]
    k = int(np.argmax(np.abs(u)))
    return "xyz"[k] if abs(abs(float(u[k])) - 1) < NOISE else "its own " + "xyz"[k]


def _sizes(items: Sequence[Item], line: int, want: Wanted, words: Words, thick: bool) -> list[Candidate]:
    """Lengths that are sizes of features."""
    out = []
    for item in items:
        for name in thing_of(item.kind).plain:
            size = item.sizes.get(name)
            if size is None or not isinstance(size.value, float):
                continue
            near = want.of(size.value)
            says = words.size and (item.kind != "hole" or name.endswith("depth"))
            if thick and name == "thickness":
                base = 0.2
            elif near.state not in (EXACT, ROUNDED, LIMITS):
                continue
            else:
                base = 2.0 if says else PRICES.size_of_cut if thing_of(item.kind).cut else PRICES.size_of_feature
            for labels in words.labels:
                base += 0 if item.label in labels else PRICES.owner
                base -= 3.0 if item.label in labels and not says else 0.0
            price = base + near.price + (PRICES.overall if words.overall else 0.0)
            if price <= _TOP:
                out.append(
                    Candidate(
                        line,
                        ("size", item.label, name),
                        price,
                        near.state,
                        near.slip,
                        size.value,
                        f"{name.replace('-', ' ')} of {item.label}",
                        item=item,
                        rows=size.rows,
                    )
                )
    return out


def _angles(lv: Levels, line: int, want: Wanted) -> list[Candidate]:
    out = []
    for a in lv.angles:
        near = want.of(a.value)
        if near.state == NEAR and abs(a.value - want.target) > 30:
            continue
        price = near.price + (0.6 if a.key[0] == "between" else 0.0)
        key: tuple[object, ...] = ("lean", a.lean) if a.lean >= 0 else a.key
        out.append(
            Candidate(
                line,
                key,
                price,
                near.state,
                near.slip,
                a.value,
                a.words,
                levels=a.levels,
                rows=(a.row,) if a.row else (),
            )
        )
    # One of an angle and its complement.
    best: dict[tuple[object, ...], Candidate] = {}
    for c in sorted(out, key=lambda c: c.price):
        best.setdefault(c.key, c)
    return list(best.values())[:20]


def _grids(lv: Levels, line: int, wants: tuple[Wanted, Wanted], items: Sequence[Item]) -> list[Candidate]:
    """Grids: two pitches of one feature."""
    out = []
    for item in items:
        mine = [p for p in lv.pitches if p.label == item.label]
        # Two of a row have no pitch of their own in the list: their distance is one.
        steps: dict[int, tuple[float, tuple[Level, ...]]] = {p.way: (p.step, p.levels) for p in mine}
        for way in range(3):
            at = [n for n in lv.along(way) if item.label in n.owners and "axis" in n.kinds]
            if len(at) == 2 and way not in steps:
                steps[way] = (at[1].value - at[0].value, tuple(at))
        ways = sorted(steps)
        if len(ways) != 2:
            continue
        for one, other in ((ways[0], ways[1]), (ways[1], ways[0])):
            near = [wants[0].of(steps[one][0]), wants[1].of(steps[other][0])]
            arcs = tuple((s[k], s[k + 1]) for w in (one, other) for s in (steps[w][1],) for k in range(len(s) - 1))
            out.append(
                Candidate(
                    line,
                    ("grid", item.label),
                    sum(n.price for n in near),
                    max(n.state for n in near),
                    "; ".join(n.slip for n in near if n.slip),
                    steps[one][0],
                    f"grid of {item.label}",
                    arcs=arcs,
                    levels=(*steps[one][1], *steps[other][1]),
                    item=item,
                    rows=tuple(r for w in (one, other) for r in pair_rows(steps[w][1][0], steps[w][1][1])[:1]),
                )
            )
    best: dict[tuple[object, ...], Candidate] = {}
    for c in sorted(out, key=lambda c: c.price):
        best.setdefault(c.key, c)
    return list(best.values())


def is_compared(c: Characteristic) -> bool:
    """Whether a line is compared with the part: it can be about something, and has a size where its kind needs one."""
    line = meant_by(c.kind)
    return bool(line.places) and (c.main is not None or line.unsized)


def candidates_of(lv: Levels, lines: Sequence[Characteristic], unit: Unit) -> tuple[list[Candidate], list[Words]]:
    """The candidates of every line that can be compared, and what the words of each say."""
    tables = [Pairs(lv, way) for way in range(3)]
    out: list[Candidate] = []
    said = []
    long = len(lines) > _LONG
    diameters = [
        (n, w.target)
        for n, c in enumerate(lines)
        if c.error is None and meant_by(c.kind).bore and c.main is not None and (w := wanted(c.main, unit)) is not None
    ]
    for number, c in enumerate(lines):
        words = words_of(c, lv.items)
        said.append(words)
        main = c.main
        if c.error is not None or not is_compared(c):
            continue
        want = None if main is None else wanted(main, unit)
        line = meant_by(c.kind)
        if line.places == "length" and want is not None:
            out += _lengths(lv, number, want, words, tables, pitch_only=False, long=long)
            out += _sizes(lv.items, number, want, words, c.kind == "wall" or words.thick)
        elif line.places == "pattern" and c.part("pitch-circle") is None and want is not None:
            second = next(
                (p for p in c.parts if p.name != "pitch" and p.name.startswith("pitch") and p.nominal is not None), None
            )
            if second is not None:
                other = wanted(second, unit)
                out += [] if other is None else _grids(lv, number, (want, other), lv.items)
            else:
                out += _lengths(lv, number, want, words, tables, pitch_only=True, long=long)
        elif line.places == "angle" and want is not None:
            out += _angles(lv, number, want)
        else:
            elsewhere = [d for n, d in diameters if n != number]
            out += _things(lv, number, c, unit, words, elsewhere=elsewhere)
    return out, said


def _things(
    lv: Levels, number: int, c: Characteristic, unit: Unit, words: Words, *, elsewhere: Sequence[float]
) -> Iterator[Candidate]:
    """What of the part a line about a feature or about one of its seats may mean."""
    for item in lv.items:
        seat = seat_candidate(c, item, unit, words)
        if seat is not None and seat.price <= _TOP:
            yield Candidate(
                number,
                ("seat", item.label),
                seat.price,
                seat.state,
                "; ".join(d.slip for d in seat.differences if d.slip),
                seat.value,
                seat.words,
                item=item,
                rows=seat.rows,
                differences=seat.differences,
            )
        made = feature_candidate(c, item, unit, words, elsewhere)
        if made is not None and made.price <= _TOP:
            arcs = _feature_arcs(lv, c, item)
            yield Candidate(
                number,
                (meant_by(c.kind).key, item.label),
                made.price,
                made.state,
                "; ".join(d.slip for d in made.differences if d.slip),
                made.value,
                made.words,
                arcs=arcs,
                levels=tuple(dict.fromkeys(n for a in arcs for n in a)),
                item=item,
                rows=made.rows,
                differences=made.differences,
            )


def _feature_arcs(lv: Levels, c: Characteristic, item: Item) -> tuple[tuple[Level, Level], ...]:
    """Levels that a note of a feature joins: both centres of a slot, the members of a ring with its centre."""
    if item.kind == "slot" and len(item.lines) == 2 and (c.part("centres") or c.part("length")):
        out: list[tuple[Level, Level]] = []
        for way, u in enumerate(lv.frame):
            one, other = (lv.at(way, float(line.point @ u)) for line in item.lines)
            if one is None or other is None or one is other or not ("axis" in one.kinds and "axis" in other.kinds):
                continue
            middle = lv.at(way, (one.value + other.value) / 2)
            out += [(one, other)] if middle is None else [(one, middle), (middle, other)]
        return tuple(out)
    if item.centre is not None and c.part("pitch-circle"):
        ring = []
        for way, u in enumerate(lv.frame):
            centre = lv.at(way, float(item.centre @ u))
            if centre is None or not square(item.axis, u):
                continue
            for line in item.lines:
                at = lv.at(way, float(line.point @ u))
                if at is not None and at is not centre:
                    ring.append((centre, at))
        return tuple(dict.fromkeys(ring))
    return ()
