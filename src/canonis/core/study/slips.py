"""Naming the likely slip of a step whose mass and centre differ from the checkpoint.

Each hypothesis of the catalogue of slips says what volume and centre the part would have had without it; all observables
are predicted at once, and a hypothesis counts only when every one of them then agrees with the source.
"""

import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from canonis.core.features.model import Feature, Hole
from canonis.core.features.volumes import hole_volume
from canonis.core.solid.materials import DENSITIES
from canonis.core.solid.model import Solid, Vec
from canonis.core.solid.probe import Rays
from canonis.core.source.checkpoints import Checkpoint

__all__ = ["Slip", "StepFacts", "name_slips"]


@dataclass(frozen=True, eq=False)
class StepFacts:
    """A model state: its volume and centre (file axes), its solid and features, and the ids of features new in it."""

    name: str
    volume: float
    centre: Vec
    solid: Solid | None = None
    found: Feature | None = None
    added: frozenset[str] = frozenset()


@dataclass(frozen=True)
class Slip:
    """A named slip: its kind, a sentence with its arithmetic, how many observables agree, and the feature."""

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


def _way_out(solid: Solid, hole: Hole) -> float | None:
    """Depth at which a blind hole would come out of the part, from its start face, mm."""
    if hole.depth is None:
        return None
    rays = Rays(solid, hole.start, 2 * solid.diagonal)
    tip = hole.depth + (hole.diameter / 2 / math.tan(math.radians(hole.point_angle / 2)) if hole.point_angle else 0.0)
    hits = [d for d in rays.hits(hole.start - hole.axis * (tip + 1e-3), -hole.axis, 2 * solid.diagonal) if d > 1e-6]
    return tip + 1e-3 + hits[-1] if hits else None


def _counts(now: StepFacts, before: StepFacts | None) -> Iterator[_Guess]:
    """Members missing, or too many, of the holes and other features of this step."""
    found = now.found
    if found is None:
        return
    dv, _ = _delta(now, before)
    for group in found.holes:
        if group.id not in now.added:
            continue
        n = len(group.holes)
        each = [hole_volume(h) for h in group.holes]
        text = f"{group.id}, ⌀{group.first.diameter:.4g}"
        for h, (v, s) in zip(group.holes, each, strict=True):
            at = ", ".join(f"{c:.4g}" for c in h.start)
            yield _Guess("count", f"One hole of {text} too many: without the one at {at} ({_signed(v)}) all figures agree.",
                         now.volume + v, _moment(now) + s, 2.2, group.id, loose=2e-3)  # fmt: skip
        # A missing member: its place follows from the pattern, or from what the centre says.
        for place in _free_places(group.holes, group.pattern.data if group.pattern else None):
            v, s = each[0]
            moved = s + v * (place - group.first.start)
            at = ", ".join(f"{c:.4g}" for c in place)
            yield _Guess("count", f"One hole of {text} is missing at {at}: it would take {v:.4g} mm³.",
                         now.volume - v, _moment(now) - moved, 3.0, group.id, loose=2e-3)  # fmt: skip
        for k in (1, 2, n):
            v = each[0][0] * k
            yield _Guess("count", f"{k} more hole{'s' * (k > 1)} like {text} would explain it ({v:.4g} mm³).", now.volume - v,
                         np.full(3, np.nan), 1.6 if k == 1 else 1.2, group.id, loose=2e-3)  # fmt: skip
    if before is not None and dv and now.added:
        for n in range(2, 13):
            share = dv / n
            for k, word in ((n + 1, "one more"), (n - 1, "one fewer")):
                if k:
                    yield _Guess("count", f"The step with {k} members instead of {n} ({word}) would explain it.", before.volume + share * k,
                                 np.full(3, np.nan), 1.0 - 0.02 * n, "", loose=1e-4)  # fmt: skip


def _free_places(holes: Iterable[Hole], data: dict[str, object] | None) -> list[Vec]:
    """Places of a ring, a row or a grid that its members leave free, and the rectangle's fourth corner."""
    at = [h.start for h in holes]
    out: list[Vec] = []
    if data and data.get("missing") and "centre_mm" in data:
        centre = np.array(data["centre_mm"])
        axis = next(iter(holes)).axis
        slots = len(at) + int(data["missing"])  # type: ignore[call-overload]
        arm = at[0] - centre
        for k in range(slots):
            turn = 2 * math.pi * k / slots
            place = centre + arm * math.cos(turn) + np.cross(axis, arm) * math.sin(turn)
            if not any(np.linalg.norm(place - p) < 1e-2 for p in at):
                out.append(place)
    if len(at) == 3:
        for k in range(3):
            a, b, c = at[k], at[(k + 1) % 3], at[(k + 2) % 3]
            if abs(float((b - a) @ (c - a))) < 1e-3 * max(1.0, float(np.linalg.norm(b - a) * np.linalg.norm(c - a))):
                out.append(b + c - a)
    if len(at) >= 4:
        seen = {tuple(np.round(p, 3)) for p in at}
        for a in at:
            for b in at:
                for c in at:
                    if a is b or b is c or a is c or abs(float((b - a) @ (c - a))) > 1e-3:
                        continue
                    place = b + c - a
                    if tuple(np.round(place, 3)) not in seen and len(out) < 12:
                        seen.add(tuple(np.round(place, 3)))
                        out.append(place)
    return out


#: A hole as it should have been, the kind of slip, the sentence, the weight.
_Change = tuple[Callable[[Hole], Hole], str, str, float]


def _scaled(h: Hole, factor: float) -> Hole:
    return replace(h, diameter=h.diameter * factor)


def _deeper(h: Hole, factor: float) -> Hole:
    return replace(h, depth=(h.depth or 0.0) * factor, length=h.length * factor)


def _through(h: Hole, length: float) -> Hole:
    return replace(h, depth=None, length=length, point_angle=None)


def _swapped_bores(h: Hole) -> Hole:
    seats = tuple(replace(s, diameter=s.depth, depth=s.diameter) if s.kind == "counterbore" else s for s in h.seats)
    return replace(h, seats=seats)


def _resunk(h: Hole, angle: float) -> Hole:
    return replace(h, seats=tuple(replace(s, angle=angle) if s.kind == "countersink" else s for s in h.seats))


def _both_ends(h: Hole) -> Hole:
    return replace(h, far_seats=(*h.far_seats, *h.seats))


def _plain(h: Hole) -> Hole:
    return replace(h, seats=())


def _flat(h: Hole) -> Hole:
    return replace(h, point_angle=None)


def _changes(solid: Solid, name: str, hole: Hole) -> Iterator[_Change]:
    """Other sizes that a hole may have been meant to have."""
    d = hole.diameter
    for factor, kind, word in ((2.0, "radius", "a diameter was modelled with the radius"), (0.5, "radius", "a radius was modelled as the double"),
                               (10.0, "ten", "a factor of ten"), (0.1, "ten", "a factor of ten")):  # fmt: skip
        if d * factor < 0.6 * solid.diagonal:
            yield (
                partial(_scaled, factor=factor),
                kind,
                f"⌀{d * factor:.4g} instead of ⌀{d:.4g} on {name}: {word}.",
                2.6,
            )
    if hole.depth is not None:
        out = _way_out(solid, hole)
        if out:
            yield (
                partial(_through, length=out),
                "through",
                f"{name}, ⌀{d:.4g}, should go THRU; it stops at {hole.depth:.4g} of {out:.4g}.",
                3.0,
            )
        for factor, word in ((2.0, "half of it was modelled"), (0.5, "the double was modelled"),
                             (25.4, "inches and millimetres mixed"), (1 / 25.4, "inches and millimetres mixed")):  # fmt: skip
            yield (
                partial(_deeper, factor=factor),
                "depth",
                f"A depth of {hole.depth * factor:.4g} on {name} instead of {hole.depth:.4g}: {word}.",
                2.0,
            )
        if hole.point_angle:
            yield _flat, "point", f"{name} with a flat bottom instead of its drill point.", 1.8
    for bore in (s for s in hole.seats if s.kind == "counterbore"):
        if bore.depth > d:
            yield (
                _swapped_bores,
                "seat",
                f"⌴⌀{bore.depth:.4g} ↧{bore.diameter:.4g} on {name}: the counterbore's diameter and depth are swapped.",
                2.6,
            )
        yield _both_ends, "seat", f"{name} with its counterbores on both faces.", 2.0
        yield _plain, "seat", f"{name} without its counterbores.", 1.9
    for sink in (s for s in hole.seats if s.kind == "countersink"):
        for angle in (60.0, 82.0, 90.0, 100.0, 120.0):
            if abs(sink.angle - angle) > 0.1:
                yield (
                    partial(_resunk, angle=angle),
                    "countersink",
                    f"A countersink of {angle:g}° on {name} instead of {sink.angle:.4g}°.",
                    2.2,
                )


def _sizes(now: StepFacts) -> Iterator[_Guess]:
    """Radius for diameter, wrong depth, blind for through, seats swapped, on the holes of this step."""
    if now.found is None or now.solid is None:
        return
    for group in now.found.holes:
        if group.id not in now.added:
            continue
        each = [hole_volume(h) for h in group.holes]
        volume, moment = sum(v for v, _ in each), sum((s for _, s in each), np.zeros(3))
        for change, kind, text, weight in _changes(now.solid, group.id, group.first):
            made = [hole_volume(change(h)) for h in group.holes]
            v, s = sum(x for x, _ in made), sum((y for _, y in made), np.zeros(3))
            yield _Guess(kind, text, now.volume + volume - v, _moment(now) + moment - s, weight, group.id, loose=3e-3)


def _moment(facts: StepFacts) -> Vec:
    return np.asarray(facts.centre * facts.volume)


def _delta(now: StepFacts, before: StepFacts | None) -> tuple[float, Vec]:
    """Volume and first moment that the step added."""
    if before is None:
        return now.volume, _moment(now)
    return now.volume - before.volume, _moment(now) - _moment(before)


def _signed(v: float) -> str:
    return f"{v:+.4g} mm³"


def _whole_step(now: StepFacts, before: StepFacts | None) -> Iterator[_Guess]:
    """Slips of the step as a whole: left out, done the wrong way round, half or double, on one side only."""
    dv, ds = _delta(now, before)
    if abs(dv) < 1e-9 * now.volume:
        return
    middle = ds / dv
    if before is not None:
        yield _Guess(
            "missing",
            f"The figures are those before “{now.name}”: the step was not taken into account.",
            before.volume,
            _moment(before),
            2.4,
        )
        for factor, kind, word in ((2.0, "half", "a half was not doubled, or the step was made on one side only"), (0.5, "half", "a half was doubled, or the step was made on both sides"),
                                   (4.0, "radius", "a radius was taken for a diameter"), (0.25, "radius", "a diameter was taken for a radius"),
                                   (10.0, "ten", "a factor of ten"), (0.1, "ten", "a factor of ten")):  # fmt: skip
            for moved, weight in ((ds * factor, 2.1), (np.full(3, np.nan), 1.1)):
                yield _Guess(kind, f"{factor:g} times what “{now.name}” changed ({_signed(dv)}) would explain it: {word}.", before.volume + dv * factor,
                             _moment(before) + moved, weight)  # fmt: skip
        if dv < 0:
            yield _Guess(
                "added",
                f"“{now.name}” takes material away ({_signed(dv)}); the source adds as much.",
                before.volume - dv,
                _moment(before) - ds,
                2.0,
            )
        else:
            yield _Guess(
                "added",
                f"“{now.name}” adds material ({_signed(dv)}); the source takes as much away.",
                before.volume - dv,
                _moment(before) - ds,
                2.0,
            )
    solid = now.solid
    if solid is not None and before is not None:
        # The middle of the part as it was: what was added on the wrong side moves the middle of the whole.
        base = before.solid if before.solid is not None else solid
        centre = (base.box[0] + base.box[1]) / 2
        for axis in range(3):
            for plane, word in ((centre[axis], "the middle of the part"), (0.0, "the file's origin")):
                mirror = middle.copy()
                mirror[axis] = 2 * plane - middle[axis]
                if abs(mirror[axis] - middle[axis]) > 1e-6:
                    yield _Guess("side", f"What “{now.name}” made is on the wrong side: mirrored in {'xyz'[axis]} about {word} all figures agree.",
                                 now.volume, _moment(before) + dv * mirror, 2.7)  # fmt: skip
    if before is None:
        for axis in range(3):
            for factor, word in ((2.0, "a half was not doubled"), (0.5, "a half was doubled"), (25.4, "inches read as millimetres"), (1 / 25.4, "millimetres read as inches"), (10.0, "a factor of ten"), (0.1, "a factor of ten")):  # fmt: skip
                for stretched, weight in ((1.0, 2.2), (factor, 2.4)):
                    place = middle.copy()
                    place[axis] *= stretched
                    yield _Guess("half" if factor in (2.0, 0.5) else "unit" if factor in (25.4, 1 / 25.4) else "ten",
                                 f"The size along {'xyz'[axis]} times {factor:g} would explain it: {word}.", dv * factor, dv * factor * place, weight)  # fmt: skip


def _rounds(now: StepFacts) -> Iterator[_Guess]:
    """Rounds and chamfers of this step with another size, or on edges that should stay sharp."""
    found, solid = now.found, now.solid
    if found is None or solid is None:
        return
    for blend in found.blends:
        if blend.id not in now.added:
            continue
        volume, moment = 0.0, np.zeros(3)
        for f in blend.faces:
            face = solid.faces[f]
            length = max((solid.edges[e].length for e in face.edges if solid.edges[e].kind == "line"), default=0.0)
            if face.kind not in ("cylinder", "plane") or not length:
                continue
            section = (1 - math.pi / 4) * blend.size**2 if blend.kind == "fillet" else blend.size * blend.size_b / 2
            v = section * length * (1 if blend.convex else -1)
            volume, moment = volume + v, moment + v * face.centre
        if not volume:
            continue
        word = "rounds" if blend.kind == "fillet" else "chamfers"
        yield _Guess("rounds", f"Without the {word} {blend.id} ({_signed(volume)}) the figures agree: the source has them sharp.", now.volume + volume,
                     _moment(now) + moment, 1.9, blend.id, loose=0.02)  # fmt: skip
        for factor, reason in ((2.0, "a radius taken for a diameter"), (0.5, "a diameter taken for a radius")):
            yield _Guess("radius", f"{word.capitalize()} of {blend.size * factor:.4g} instead of {blend.size:.4g}: {reason}.", now.volume + volume - volume * factor**2,
                         _moment(now) + moment * (1 - factor**2), 2.0, blend.id, loose=0.02)  # fmt: skip


def _densities(now: StepFacts, density: float | None) -> Iterator[_Guess]:
    for name, other in DENSITIES.items():
        if density is None or abs(other - density) > 1e-9:
            yield _Guess("density", f"The density of {name} ({other:g} g/cm³) gives {now.volume * other / 1000:.5g} g: another material was set.",
                         now.volume, _moment(now), 2.9, density=other)  # fmt: skip
    for factor, text in (
        (25.4**3, "the model is 25.4 times too small"),
        (25.4**-3, "the model is 25.4 times too large"),
    ):
        scale = factor ** (1 / 3)
        yield _Guess(
            "unit",
            f"A factor of 25.4 fits all figures: {text} (mm and inches mixed).",
            now.volume * factor,
            _moment(now) * factor * scale,
            2.9,
        )


def _nothing_done(now: StepFacts, checkpoint: Checkpoint, density: float | None) -> Slip:
    """A step that changed nothing although the source says it does."""
    if checkpoint.mass_g is not None and density is not None:
        gap = checkpoint.mass_g - now.volume * density / 1000
        much = f"{abs(gap):.4g} g {'less' if gap < 0 else 'more'}"
    else:
        much = "another figure"
    return Slip(
        "missing", f"“{now.name}” changed nothing, and the source states {much}: what it makes is missing.", 1, 1, 3.0
    )


def name_slips(
    now: StepFacts, before: StepFacts | None, checkpoint: Checkpoint, density: float | None, place: Callable[[Vec], Vec]
) -> list[Slip]:
    """The slips that would make this step agree with its checkpoint, the likeliest first.

    `place` turns a point of the file's axes into the checkpoint's frame. Density in g/cm³.
    """
    if before is not None and abs(now.volume - before.volume) < 1e-9 * now.volume:
        return [_nothing_done(now, checkpoint, density)]
    guesses = [
        *_densities(now, density),
        *_whole_step(now, before),
        *_counts(now, before),
        *_sizes(now),
        *_rounds(now),
    ]
    out: list[Slip] = []
    for g in guesses:
        if g.volume <= 0:
            continue
        used = g.density if g.density is not None else density
        room = g.loose * abs(g.volume - now.volume)
        agree = of = 0
        tested_centre = False
        if checkpoint.mass_g is not None and used is not None:
            of += 1
            agree += abs(g.volume * used / 1000 - checkpoint.mass_g) <= checkpoint.mass_half * 1.2 + room * used / 1000
        if checkpoint.volume_mm3 is not None:
            of += 1
            agree += abs(g.volume - checkpoint.volume_mm3) <= checkpoint.volume_half * 1.2 + room
        if checkpoint.centre_mm is not None and not np.any(np.isnan(g.moment)):
            tested_centre = True
            of += 3
            gap = place(g.moment / g.volume) - np.array(checkpoint.centre_mm)
            arm = 0.0 if now.solid is None else now.solid.diagonal
            slack = checkpoint.centre_half * 1.2 + room / g.volume * arm
            agree += int(np.sum(np.abs(gap) <= slack))
        if of and agree == of:
            # A guess that also foretells the centre is worth more than one of the mass alone.
            weight = g.weight + (0.5 if tested_centre else 0.0)
            out.append(Slip(g.kind, g.text, agree, of, weight, g.feature))
    seen: set[str] = set()
    ranked = []
    for slip in sorted(out, key=lambda s: -s.weight):
        if slip.text not in seen:
            seen.add(slip.text)
            ranked.append(slip)
    return ranked[:6]
