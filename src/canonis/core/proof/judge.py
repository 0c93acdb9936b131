"""Is a sheet complete, and does it say anything twice? From the equations of the part alone."""

import math
from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from canonis.core.quantity import Unit, write_angle, write_length
from canonis.core.shape import Elimination, Implied, PartShape, Sum, Unknown, drawn_levels, is_full_turn, shape_of
from canonis.core.sheet import (
    CONVENTIONS,
    Annotation,
    Leader,
    Note,
    SheetDocument,
    SheetPage,
    StatedRow,
    ground,
    stated_rows,
)
from canonis.core.solid import Resolution, Solid, Vec
from canonis.core.tolerances import ALIGNED, JOINED, NOISE, on_axis, runs_along, same, same_way

__all__ = ["Free", "Judgement", "Ladder", "Link", "Loop", "Rung", "Stated", "judge_page"]

_AXES = "xyz"
#: A smaller share of another statement comes of the file's own rounding.
_NOISE = 1e-5
#: What a free thing is named by, the likeliest first: a drafter thinks of walls and axes, not of blends.
_NAMING = {"plane": 5, "axis": 4, "": 3, "floor": 3, "centre": 2, "apex": 1, "blend": 0}


@dataclass(frozen=True)
class Stated:
    """A statement that holds."""

    mark: Annotation
    reference: bool = False
    #: Of a length: the axis of the file and both levels along it, mm.
    levels: tuple[tuple[int, float], ...] = ()


@dataclass(frozen=True)
class Free:
    """Something that the sheet leaves undetermined: in words, and the faces that show it."""

    words: str
    faces: tuple[int, ...]
    #: The unknowns that move with it.
    moves: tuple[int, ...] = field(default=(), compare=False)


@dataclass(frozen=True)
class Loop:
    """A statement that others say already: together they close on themselves."""

    statement: str
    others: tuple[str, ...]
    part: str
    #: Shares of the others that make up the statement, by statement and part.
    shares: tuple[tuple[str, str, float], ...] = ()


@dataclass(frozen=True)
class Rung:
    """One level: what it is called, where it lies from the datum (mm), and whether the sheet fixes it."""

    value: float
    words: str
    fixed: bool
    datum: bool


@dataclass(frozen=True)
class Link:
    """A length that is stated from one level to another, by their numbers; `twice` when others say it too, and in
    parentheses when it is a reference."""

    statement: str
    first: int
    second: int
    twice: bool
    reference: bool


@dataclass(frozen=True)
class Ladder:
    """The levels along one direction, in their order, and the statements between them."""

    direction: str
    rungs: tuple[Rung, ...]
    links: tuple[Link, ...]


@dataclass(frozen=True)
class Judgement:
    """What the equations say of one page."""

    unknowns: int
    rank: int
    free: tuple[Free, ...]
    loops: tuple[Loop, ...]
    #: What the sheet needs and only draws: things that are shown level with one another and never said to be.
    levels: tuple[str, ...]
    #: The levels of the part along each of its directions, and the statements that link them.
    ladders: tuple[Ladder, ...]
    #: The elimination of what is stated and strictly implied, for further questions.
    system: Elimination = field(repr=False, compare=False, default_factory=Elimination)

    def unlocated(self, solid: Solid, mark: Annotation, found: dict[str, Resolution]) -> int:
        """How many members of a note of round faces have a place across their axes that the sheet does not give."""
        shape, _ = shape_of(solid)
        count = 0
        for ref in dict.fromkeys(mark.refs):
            if not found[ref].faces:
                continue
            face = solid.faces[found[ref].faces[0]]
            rows = [shape.axis_speed(face.index, face.origin, u) for u, _ in shape.motions[face.index].axes]
            count += any(self.system.spans(row) is None for row in rows)
        return count


def _weight(mark: Annotation) -> int:
    """Notes before loose ordinates, so that a loop names the ordinate; what says that members are alike after all sizes."""
    return {"linear": 1, "ordinate": 2, "repeat": 3}.get(mark.kind, 0)


def judge_page(
    document: SheetDocument, page: SheetPage, solid: Solid, stated: Iterable[Stated], found: dict[str, Resolution]
) -> Judgement:
    """Judge one page by the statements on it that hold; `found` are the resolutions of all its references."""
    shape, implied = shape_of(solid)
    # Centres of rings belong to the sheet that states them, not to the part.
    return _judge(document, page, shape.overlay(), implied, list(stated), found)


def _judge(
    document: SheetDocument,
    page: SheetPage,
    shape: PartShape,
    implied: list[Implied],
    stated: list[Stated],
    found: dict[str, Resolution],
) -> Judgement:
    system = Elimination(lambda k: -_NAMING[shape.unknowns[k].holder])
    ground(system, shape, implied, document, page, found)
    notes = [s.mark for s in stated if isinstance(s.mark, Leader | Note)]
    spaced = {a.refs for a in notes if a.says.part("equally-spaced")}
    loops: list[Loop] = []
    ringed: set[int] = set()
    for s in sorted(stated, key=lambda s: _weight(s.mark)):
        if s.reference:
            continue
        says = s.mark.says if isinstance(s.mark, Leader) else None
        if says is not None and says.part("pitch-circle") and (s.mark.refs in spaced or says.turns):
            ringed |= {f for r in s.mark.refs for f in found[r].faces}
        for said in stated_rows(shape, document, s.mark, found, s.mark.refs in spaced):
            sum_ = system.add(said.row, said.name)
            if sum_ is not None and said.part not in CONVENTIONS:
                loop = _loop(said, sum_)
                if loop is not None:
                    loops.append(loop)
    used = []
    for level in drawn_levels(shape, ringed):
        if system.rank == len(shape.unknowns):
            break
        if system.add(level.row, ("drawn level", *level.faces)) is None:
            used.append(_drawn_level(shape, level, document.unit, np.array(page.datum)))
    free = [_free(shape, document, page, moves) for _, moves in system.free(len(shape.unknowns))]
    once = tuple(_once(loops))
    twice = {one.statement for one in once} | {other for one in once for other in one.others}
    ladders = tuple(_ladder(shape, document, page, u, system, stated=stated, twice=twice) for u in shape.frame)
    return Judgement(len(shape.unknowns), system.rank, tuple(dict.fromkeys(free)), once, tuple(used), ladders, system)


def _ladder(
    shape: PartShape,
    document: SheetDocument,
    page: SheetPage,
    u: Vec,
    system: Elimination,
    *,
    stated: list[Stated],
    twice: set[str],
) -> Ladder:
    """What the Proof station draws of one direction."""
    mine = [
        k
        for k, x in enumerate(shape.unknowns)
        if x.kind in ("level", "centre")
        and x.holder not in ("apex", "blend")
        and x.direction is not None
        and same_way(x.direction, u, ALIGNED)
    ]
    # What a length ends on need not be a level of its own: the edge of a round part, say.
    spans: list[tuple[Stated, float, float]] = []
    for s in stated:
        if len(s.levels) == 2:
            sense = float(u[s.levels[0][0]])
            if runs_along(sense, ALIGNED) and not same(s.levels[0][1], s.levels[1][1], JOINED):
                spans.append((s, s.levels[0][1] * sense, s.levels[1][1] * sense))
    places = sorted([(shape.unknowns[k].value, k) for k in mine] + [(v, -1) for _, *ends in spans for v in ends])
    rungs: list[list[tuple[float, int]]] = []
    for place in places:
        if rungs and place[0] - rungs[-1][0][0] < JOINED:
            rungs[-1].append(place)
        else:
            rungs.append([place])
    datum = float(np.array(page.datum) @ u)
    drawn = []
    for rung in rungs:
        at = rung[0][0] - datum
        fixed = all(k < 0 or system.spans({k: 1.0}) is not None for _, k in rung)
        drawn.append(Rung(at, f"{_way(u)} = {write_length(at, document.unit)}", fixed, abs(at) < JOINED))

    def rung_at(value: float) -> int:
        return min(range(len(rungs)), key=lambda n: abs(rungs[n][0][0] - value))

    links = [
        Link(s.mark.id, min(rung_at(a), rung_at(b)), max(rung_at(a), rung_at(b)), s.mark.id in twice, s.reference)
        for s, a, b in spans
    ]
    return Ladder(_way(u), tuple(drawn), tuple(links))


def _loop(row: StatedRow, sum_: Sum) -> Loop | None:
    if row.part == "members":
        # A size that a note says of several teeth at once is said once, and that all are alike besides.
        return None
    if row.part in ("leg", "leg-b") and any(isinstance(n, tuple) and n[0] == "through one corner" for n in sum_):
        # Bevels that happen to meet in one point of an edge: each is given its own legs all the same.
        return None
    shares: dict[tuple[str, str], float] = {}
    for name, share in sum_.items():
        if (
            isinstance(name, tuple)
            and len(name) == 3
            and name[0] not in ("datum", row.statement)
            and isinstance(name[0], str)
        ):
            key = (name[0], str(name[1]))
            shares[key] = shares.get(key, 0.0) + share
    # A file in single precision makes no two things say the same.
    shares = {key: share for key, share in shares.items() if abs(share) > _NOISE}
    if not shares:
        return None
    others = tuple(dict.fromkeys(s for s, _ in shares))
    return Loop(row.statement, others, row.part, tuple((s, p, x) for (s, p), x in shares.items()))


def _once(loops: list[Loop]) -> list[Loop]:
    """One loop a statement, and one of several loops of the same members."""
    out: dict[frozenset[str], Loop] = {}
    seen: set[str] = set()
    for loop in loops:
        members = frozenset((loop.statement, *loop.others))
        if loop.statement not in seen and members not in out:
            seen.add(loop.statement)
            out[members] = loop
    return list(out.values())


# Words


def _free(shape: PartShape, document: SheetDocument, page: SheetPage, moves: dict[int, float]) -> Free:
    """What moves freely, named by the thing that a drafter would think of."""
    most = max(abs(v) for v in moves.values())
    known = [k for k, v in moves.items() if abs(v) > 0.3 * most]
    best = max(known, key=lambda k: (_NAMING[shape.unknowns[k].holder], -k))
    unknown = shape.unknowns[best]
    words = _words(shape, unknown, document.unit, np.array(page.datum))
    return Free(words, tuple(sorted(unknown.faces)), tuple(k for k, v in moves.items() if abs(v) > 1e-6 * most))


def _words(shape: PartShape, unknown: Unknown, unit: Unit, datum: Vec) -> str:
    face = shape.solid.faces[min(unknown.faces)] if unknown.faces else None
    if unknown.kind == "level" and unknown.direction is not None:
        where = f"{_way(unknown.direction)} = {write_length(unknown.value - float(datum @ unknown.direction), unit)}"
        if unknown.holder == "plane" and face is not None and not on_axis(unknown.direction):
            return f"where the leaning face {_reach(shape, face, unit, datum)} stands"
        if unknown.holder == "plane":
            return f"level {where}"
        if unknown.holder == "floor":
            return f"level {where} of the {_noun(shape, face)}{_within(shape, face, unit, datum)}"
        what = {"apex": "how far the cone reaches", "centre": "the centre of the ring face"}.get(
            unknown.holder, "the axis"
        )
        return f"{where}: {what} of {_round(face, unit)} at {_place(face, unit, datum)}"
    if unknown.kind == "centre" and unknown.direction is not None:
        at = write_length(unknown.value - float(datum @ unknown.direction), unit)
        return f"{_way(unknown.direction)} = {at}: the centre of the ring of {len(unknown.faces)} holes"
    if unknown.kind == "free":
        return f"free-form face at {_place(face, unit, datum)}: its shape is not dimensioned"
    if unknown.kind == "angle":
        about = "" if unknown.direction is None else f" about {_way(unknown.direction)}"
        lean = f" ({write_angle(math.degrees(unknown.value) % 180.0)} in the part)" if unknown.value else ""
        return f"angle of a leaning direction{about}{lean}: neither it nor two points of it are stated"
    size = {
        "radius": "the size",
        "half-angle": "the angle",
        "ring-radius": "the ring radius",
        "tube-radius": "the radius",
    }[unknown.kind]
    return f"{size} of {_round(face, unit)} at {_place(face, unit, datum)}"


def _drawn_level(shape: PartShape, level: Implied, unit: Unit, datum: Vec) -> str:
    first, second = (shape.unknowns[k] for k in level.row)
    words = [_words(shape, unknown, unit, datum) for unknown in (first, second)]
    # Both stand at one level: it is said once.
    return f"{words[0]}, drawn level with {words[1].partition(': ')[2] or 'another flat face'}"


def _way(d: Vec) -> str:
    k = int(np.argmax(np.abs(d)))
    if runs_along(float(d[k])):
        return _AXES[k]
    return "the direction (" + ", ".join(f"{c:.3g}" for c in d) + ")"


def _reach(shape: PartShape, face: Any, unit: Unit, datum: Vec) -> str:
    """From where to where a face that leans reaches along the axes that it leans between."""
    edges = [shape.solid.edges[e] for e in face.edges]
    ends = np.array([p for e in edges for p in (e.start, e.end)]) - datum
    spans = [
        (k, float(ends[:, k].min()), float(ends[:, k].max())) for k in range(3) if abs(float(face.axis[k])) > NOISE
    ]
    return ", ".join(f"{_AXES[k]} {write_length(low, unit)} to {write_length(high, unit)}" for k, low, high in spans)


def _noun(shape: PartShape, face: Any) -> str:
    return "floor" if face is None or not face.inner_loops else "seat"


def _within(shape: PartShape, face: Any, unit: Unit, datum: Vec) -> str:
    """The bore that a floor ends, where it is one bore."""
    walls = {} if face is None else {o: shape.solid.faces[o] for _, o in shape.solid.neighbours[face.index]}
    bores = [w for w in walls.values() if w.kind == "cylinder" and w.inner]
    wide = max(bores, key=lambda w: w.radius, default=None)
    return "" if wide is None or not is_full_turn(wide) else f" of {_round(wide, unit)} at {_place(wide, unit, datum)}"


def _round(face: Any, unit: Unit) -> str:
    if face is None:
        return "a round face"
    if face.kind == "cone":
        return f"the cone of {write_angle(2 * math.degrees(face.half_angle))}"
    if face.kind == "torus":
        return f"the round R{write_length(face.minor, unit)}"
    if face.kind == "sphere":
        return f"the sphere R{write_length(face.radius, unit)}"
    if face.sweep < 1.2 * math.pi:
        return f"the round R{write_length(face.radius, unit)}"
    return f"the {'bore' if face.inner else 'diameter'} ⌀{write_length(2 * face.radius, unit)}"


def _place(face: Any, unit: Unit, datum: Vec) -> str:
    if face is None:
        return "an unknown place"
    point = face.centre if face.kind in ("plane", "free", "sphere") else face.origin + face.axis * sum(face.span) / 2
    if face.kind == "torus":
        point = face.origin
    return "(" + ", ".join(write_length(float(c), unit) for c in point - datum) + ")"
