"""What people do to a step of a model: each hypothesis says what volume and centre the part would have had without it.

All observables are foretold at once, and a hypothesis counts only when every one of them then agrees with the source.
"""

import itertools
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import partial

import numpy as np
from numpy.typing import NDArray

from canonis.core.slips.bores import Bore, taken
from canonis.core.tolerances import NOISE, NOTHING, same

__all__ = ["BoreGroup", "Edges", "Figures", "ModelState", "StepSlip", "step_slips"]

Vec = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class BoreGroup:
    """Equal bores by their label, and places where the pattern that they stand in has none."""

    label: str
    bores: tuple[Bore, ...]
    free: tuple[Vec, ...] = ()


@dataclass(frozen=True, eq=False)
class Edges:
    """Rounds or chamfers of one size by their label: the volume (mm³) and first moment (mm⁴) that they took off."""

    label: str
    word: str
    size: float
    volume: float
    moment: Vec


@dataclass(frozen=True, eq=False)
class ModelState:
    """A model state: its volume (mm³), centre and box (mm, file axes), and what is new in it."""

    name: str
    volume: float
    centre: Vec
    box: tuple[Vec, Vec]
    bores: tuple[BoreGroup, ...] = ()
    edges: tuple[Edges, ...] = ()
    #: Whether anything that can be counted is new.
    new: bool = False

    @property
    def diagonal(self) -> float:
        """Diagonal of the box, mm."""
        return float(np.linalg.norm(self.box[1] - self.box[0]))

    @property
    def moment(self) -> Vec:
        """First moment of volume, mm⁴."""
        return np.asarray(self.centre * self.volume)


@dataclass(frozen=True)
class Figures:
    """What the source says of the state: mass (g), volume (mm³), centre (mm, in its frame), each with half its last place."""

    mass: float | None
    mass_half: float
    volume: float | None
    volume_half: float
    centre: tuple[float, float, float] | None
    centre_half: float


@dataclass(frozen=True)
class StepSlip:
    """A named slip: its kind (S… of the field guide), a sentence with its arithmetic, how many observables agree, and the
    label of the feature."""

    kind: str
    text: str
    agree: int
    of: int
    weight: float
    feature: str = ""


@dataclass(frozen=True, eq=False)
class _Guess:
    kind: str
    text: str
    volume: float
    #: First moment of volume, mm⁴.
    moment: Vec
    weight: float
    feature: str = ""
    density: float | None = None
    #: Relative uncertainty of the closed forms behind it, as a share of the change.
    loose: float = 0.0


def _shift(now: ModelState, before: ModelState | None) -> tuple[float, Vec]:
    """Volume and first moment that the step added."""
    if before is None:
        return now.volume, now.moment
    return now.volume - before.volume, now.moment - before.moment


def _signed(v: float) -> str:
    return f"{v:+.4g} mm³"


def _point(p: Vec) -> str:
    return ", ".join(f"{c:.4g}" for c in p)


#: A centre that a guess says nothing of.
_NOWHERE = np.full(3, np.nan)


def _counts(now: ModelState, before: ModelState | None) -> Iterator[_Guess]:
    """Members missing, or too many, of the bores and other things of this step."""
    for group in now.bores:
        first = group.bores[0]
        text = f"{group.label}, ⌀{first.diameter:.4g}"
        for bore in group.bores:
            v, s = taken(bore)
            yield _Guess(
                "S10",
                f"One hole of {text} too many: without the one at {_point(bore.start)} ({_signed(v)}) all figures agree.",
                now.volume + v,
                now.moment + s,
                2.2,
                group.label,
                loose=2e-3,
            )
        v, s = taken(first)
        for place in group.free:
            yield _Guess(
                "S10",
                f"One hole of {text} is missing at {_point(place)}: it would take {v:.4g} mm³.",
                now.volume - v,
                now.moment - s - v * (place - first.start),
                3.0,
                group.label,
                loose=2e-3,
            )
        for k in (1, 2, len(group.bores)):
            yield _Guess(
                "S10",
                f"{k} more hole{'s' * (k > 1)} like {text} would explain it ({v * k:.4g} mm³).",
                now.volume - v * k,
                _NOWHERE,
                1.6 if k == 1 else 1.2,
                group.label,
                loose=2e-3,
            )
    dv, _ = _shift(now, before)
    if before is not None and dv and now.new:
        for n in range(2, 13):
            for k, word in ((n + 1, "one more"), (n - 1, "one fewer")):
                yield _Guess(
                    "S10",
                    f"The step with {k} members instead of {n} ({word}) would explain it.",
                    before.volume + dv / n * k,
                    _NOWHERE,
                    1.0 - 0.02 * n,
                    loose=1e-4,
                )


#: A bore as it should have been, the kind of slip, the sentence, the weight.
_Change = tuple[Callable[[Bore], Bore], str, str, float]


def _scaled(b: Bore, factor: float) -> Bore:
    return replace(b, diameter=b.diameter * factor)


def _deeper(b: Bore, factor: float) -> Bore:
    return replace(b, depth=(b.depth or 0.0) * factor, length=b.length * factor)


def _through(b: Bore, length: float) -> Bore:
    return replace(b, depth=None, length=length, point_angle=None)


def _swapped_seats(b: Bore) -> Bore:
    seats = tuple(replace(s, diameter=s.depth, depth=s.diameter) if s.kind == "counterbore" else s for s in b.seats)
    return replace(b, seats=seats)


def _resunk(b: Bore, angle: float) -> Bore:
    return replace(b, seats=tuple(replace(s, angle=angle) if s.kind == "countersink" else s for s in b.seats))


def _both_ends(b: Bore) -> Bore:
    return replace(b, far_seats=(*b.far_seats, *b.seats))


def _plain(b: Bore) -> Bore:
    return replace(b, seats=())


def _flat(b: Bore) -> Bore:
    return replace(b, point_angle=None)


#: Included angles of countersinks, degrees.
_SINKS = (60.0, 82.0, 90.0, 100.0, 120.0)
_MIXED = "inches and millimetres mixed"


def _changes(now: ModelState, name: str, bore: Bore) -> Iterator[_Change]:
    """Other sizes that a bore may have been meant to have."""
    d = bore.diameter
    for factor, kind, word in (
        (2.0, "S04", "a diameter was modelled with the radius"),
        (0.5, "S04", "a radius was modelled as the double"),
        (10.0, "S07", "a factor of ten"),
        (0.1, "S07", "a factor of ten"),
    ):
        if d * factor < 0.6 * now.diagonal:
            text = f"⌀{d * factor:.4g} instead of ⌀{d:.4g} on {name}: {word}."
            yield partial(_scaled, factor=factor), kind, text, 2.6
    if bore.depth is not None:
        if bore.way_out:
            text = f"{name}, ⌀{d:.4g}, should go THRU; it stops at {bore.depth:.4g} of {bore.way_out:.4g}."
            yield partial(_through, length=bore.way_out), "S11", text, 3.0
        for factor, kind, word in (
            (2.0, "S05", "half of it was modelled"),
            (0.5, "S05", "the double was modelled"),
            (25.4, "S06", _MIXED),
            (1 / 25.4, "S06", _MIXED),
        ):
            text = f"A depth of {bore.depth * factor:.4g} on {name} instead of {bore.depth:.4g}: {word}."
            yield partial(_deeper, factor=factor), kind, text, 2.0
        if bore.point_angle:
            yield _flat, "S11", f"{name} with a flat bottom instead of its drill point.", 1.8
    for seat in (s for s in bore.seats if s.kind == "counterbore"):
        if seat.depth > d:
            text = (
                f"⌴⌀{seat.depth:.4g} ↧{seat.diameter:.4g} on {name}: the counterbore's diameter and depth are swapped."
            )
            yield _swapped_seats, "S12", text, 2.6
        yield _both_ends, "S12", f"{name} with its counterbores on both faces.", 2.0
        yield _plain, "S12", f"{name} without its counterbores.", 1.9
    for sink in (s for s in bore.seats if s.kind == "countersink"):
        for angle in _SINKS:
            if abs(sink.angle - angle) > 0.1:
                text = f"A countersink of {angle:g}° on {name} instead of {sink.angle:.4g}°."
                yield partial(_resunk, angle=angle), "S14", text, 2.2


def _sum(bores: Iterable[Bore]) -> tuple[float, Vec]:
    each = [taken(b) for b in bores]
    return sum(v for v, _ in each), sum((s for _, s in each), np.zeros(3))


def _sizes(now: ModelState) -> Iterator[_Guess]:
    """Radius for diameter, wrong depth, blind for through, seats swapped, on the bores of this step."""
    for group in now.bores:
        volume, moment = _sum(group.bores)
        for change, kind, text, weight in _changes(now, group.label, group.bores[0]):
            v, s = _sum(change(b) for b in group.bores)
            yield _Guess(kind, text, now.volume + volume - v, now.moment + moment - s, weight, group.label, loose=3e-3)


#: What a step may have to be multiplied with: by how much, the kind of slip, why.
_FACTORS = (
    (2.0, "S05", "a half was not doubled, or the step was made on one side only"),
    (0.5, "S05", "a half was doubled, or the step was made on both sides"),
    (4.0, "S04", "a radius was taken for a diameter"), (0.25, "S04", "a diameter was taken for a radius"),
    (10.0, "S07", "a factor of ten"), (0.1, "S07", "a factor of ten"),
)  # fmt: skip
#: What one size of the first step may have to be multiplied with.
_STRETCHES = (
    (2.0, "S05", "a half was not doubled"), (0.5, "S05", "a half was doubled"), (25.4, "S06", "inches read as millimetres"),
    (1 / 25.4, "S06", "millimetres read as inches"), (10.0, "S07", "a factor of ten"), (0.1, "S07", "a factor of ten"),
)  # fmt: skip


def _whole_step(now: ModelState, before: ModelState | None) -> Iterator[_Guess]:
    """Slips of the step as a whole: left out, done the wrong way round, half or double, on one side only."""
    dv, ds = _shift(now, before)
    if abs(dv) < 1e-9 * now.volume:
        return
    if before is None:
        yield from _stretched(dv, ds / dv)
        return
    yield _Guess(
        "S10",
        f"The figures are those before “{now.name}”: the step was not taken into account.",
        before.volume,
        before.moment,
        2.4,
    )
    for factor, kind, word in _FACTORS:
        text = f"{factor:g} times what “{now.name}” changed ({_signed(dv)}) would explain it: {word}."
        for moved, weight in ((ds * factor, 2.1), (_NOWHERE, 1.1)):
            yield _Guess(kind, text, before.volume + dv * factor, before.moment + moved, weight)
    does, should = ("takes material away", "adds as much") if dv < 0 else ("adds material", "takes as much away")
    yield _Guess(
        "S17", f"“{now.name}” {does} ({_signed(dv)}); the source {should}.", before.volume - dv, before.moment - ds, 2.0
    )
    # The middle of the part as it was: what was added on the wrong side moves the middle of the whole.
    centre, middle = (before.box[0] + before.box[1]) / 2, ds / dv
    for axis in range(3):
        for plane, word in ((centre[axis], "the middle of the part"), (0.0, "the file's origin")):
            mirror = middle.copy()
            mirror[axis] = 2 * plane - middle[axis]
            if not same(mirror[axis], middle[axis], NOISE):
                yield _Guess(
                    "S17",
                    f"What “{now.name}” made is on the wrong side: mirrored in {'xyz'[axis]} about {word} all figures agree.",
                    now.volume,
                    before.moment + dv * mirror,
                    2.7,
                )


def _stretched(volume: float, middle: Vec) -> Iterator[_Guess]:
    for axis in range(3):
        for factor, kind, word in _STRETCHES:
            text = f"The size along {'xyz'[axis]} times {factor:g} would explain it: {word}."
            for stretch, weight in ((1.0, 2.2), (factor, 2.4)):
                place = middle.copy()
                place[axis] *= stretch
                yield _Guess(kind, text, volume * factor, volume * factor * place, weight)


def _edges(now: ModelState) -> Iterator[_Guess]:
    """Rounds and chamfers of this step with another size, or on edges that should stay sharp."""
    for e in now.edges:
        yield _Guess(
            "S16",
            f"Without the {e.word} {e.label} ({_signed(e.volume)}) the figures agree: the source has them sharp.",
            now.volume + e.volume,
            now.moment + e.moment,
            1.9,
            e.label,
            loose=0.02,
        )
        for factor, reason in ((2.0, "a radius taken for a diameter"), (0.5, "a diameter taken for a radius")):
            text = f"{e.word.capitalize()} of {e.size * factor:.4g} instead of {e.size:.4g}: {reason}."
            rest = 1 - factor**2
            yield _Guess(
                "S04", text, now.volume + e.volume * rest, now.moment + e.moment * rest, 2.0, e.label, loose=0.02
            )


def _densities(now: ModelState, density: float | None, densities: Mapping[str, float]) -> Iterator[_Guess]:
    for name, other in densities.items():
        if density is None or not same(other, density, NOTHING):
            text = f"The density of {name} ({other:g} g/cm³) gives {now.volume * other / 1000:.5g} g: another material was set."
            yield _Guess("S24", text, now.volume, now.moment, 2.9, density=other)
    for factor, word in ((25.4, "small"), (1 / 25.4, "large")):
        text = f"A factor of 25.4 fits all figures: the model is 25.4 times too {word} (mm and inches mixed)."
        yield _Guess("S06", text, now.volume * factor**3, now.moment * factor**4, 2.9)


def _nothing_done(now: ModelState, source: Figures, density: float | None) -> StepSlip:
    """A step that changed nothing although the source says it does."""
    much = "another figure"
    if source.mass is not None and density is not None:
        gap = source.mass - now.volume * density / 1000
        much = f"{abs(gap):.4g} g {'less' if gap < 0 else 'more'}"
    return StepSlip(
        "S10", f"“{now.name}” changed nothing, and the source states {much}: what it makes is missing.", 1, 1, 3.0
    )


def _agreeing(
    g: _Guess, now: ModelState, source: Figures, density: float | None, place: Callable[[Vec], Vec]
) -> tuple[int, int, bool]:
    """How many of the observables a guess foretells agree, of how many, and whether the centre is among them."""
    used = g.density if g.density is not None else density
    room = g.loose * abs(g.volume - now.volume)
    agree = of = 0
    if source.mass is not None and used is not None:
        of += 1
        agree += abs(g.volume * used / 1000 - source.mass) <= source.mass_half * 1.2 + room * used / 1000
    if source.volume is not None:
        of += 1
        agree += abs(g.volume - source.volume) <= source.volume_half * 1.2 + room
    centred = source.centre is not None and not np.any(np.isnan(g.moment))
    if centred:
        of += 3
        gap = place(g.moment / g.volume) - np.array(source.centre)
        agree += int(np.sum(np.abs(gap) <= source.centre_half * 1.2 + room / g.volume * now.diagonal))
    return agree, of, centred


def step_slips(
    now: ModelState,
    before: ModelState | None,
    source: Figures,
    density: float | None,
    densities: Mapping[str, float],
    place: Callable[[Vec], Vec],
) -> list[StepSlip]:
    """The slips that would make this step agree with the source, the likeliest first.

    `place` turns a point of the file's axes into the source's frame. Densities in g/cm³.
    """
    if before is not None and abs(now.volume - before.volume) < 1e-9 * now.volume:
        return [_nothing_done(now, source, density)]
    out: list[StepSlip] = []
    guesses = (
        _densities(now, density, densities),
        _whole_step(now, before),
        _counts(now, before),
        _sizes(now),
        _edges(now),
    )
    for g in itertools.chain(*guesses):
        if g.volume <= 0:
            continue
        agree, of, centred = _agreeing(g, now, source, density, place)
        if of and agree == of:
            # A guess that also foretells the centre is worth more than one of the mass alone.
            out.append(StepSlip(g.kind, g.text, agree, of, g.weight + (0.5 if centred else 0.0), g.feature))
    out.sort(key=lambda s: -s.weight)
    return list({s.text: s for s in reversed(out)}.values())[::-1][:6]
