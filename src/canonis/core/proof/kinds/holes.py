"""Hole notes measured again: every member by rays, every part of the text, and the census of holes that are like them."""

import math
from collections.abc import Callable

import numpy as np

from canonis.core.callout import LETTERS, Callout
from canonis.core.proof.bored import GaugedSeat
from canonis.core.proof.circles import ring_centre
from canonis.core.proof.gauge import GaugedHole
from canonis.core.proof.kinds.rings import measure_ring
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.registry import meant, measures, thing
from canonis.core.proof.statement import PartProof, compared, worst
from canonis.core.sheet import Leader
from canonis.core.solid import Vec
from canonis.core.tolerances import FINE, SAME, opposed, parallel, same, same_way

__all__ = ["LEAST_SEAT", "equally_spaced", "measure_holes", "spoken"]

thing(
    "hole",
    plain=("depth", "length", "counterbore-depth", "counterbore-far-depth"),
    axes="needed",
    keeps_faces=True,
    conical=True,
    ended=True,
)
meant("hole", things={"hole": 0.0}, several="always", strict=True, end_on=True, bore=True, seats=True)
meant("seat", things={"hole": 0.0}, several="always", strict=True, bore=True, seats=True, key="seat")

#: A conical mouth wider than this share of its hole is a countersink, else a rim (COMMANDS, measure).
_RIM = 0.15
#: Members of one note are one size: what rounding would hide between them, mm.
_ALIKE = 1e-4
#: The included angle of a flat floor, degrees.
_FLAT = 180.0
#: A seat smaller than a sheet can write is none, mm.
LEAST_SEAT = 5e-3


def spoken(seat: GaugedSeat) -> str:
    """What a seat is called in a note."""
    if seat.kind == "counterbore":
        return "counterbore"
    if seat.kind == "round":
        return "rim-round"
    return "countersink" if seat.leg > _RIM * (seat.diameter - 2 * seat.leg) else "rim"


@measures("hole", on=("cylinder",), among=("hole", "chamfer", "radius", "round"))
def measure_holes(m: Measurer, mark: Leader, alive: list[str], reading: Callout) -> list[PartProof]:
    """Every part that a hole note states or should have stated."""
    unit = m.document.unit
    toward = m.toward(mark)
    holes = [m.gauged(mark.sheet, r, toward) for r in alive]
    more = _census(m, mark, alive, holes[0], reading, toward)
    count = len(alive) + len(more)
    parts = [PartProof("count", float(reading.count), float(count), reading.count == count, tuple(more))]

    def each(name: str, get: Callable[[GaugedHole], float | None]) -> PartProof:
        return worst([compared(reading, name, get(h), unit) for h in holes])

    parts.append(each("diameter", lambda h: h.diameter))
    sizes = [h.diameter for h in holes]
    if max(sizes) - min(sizes) > _ALIKE and parts[-1].ok:
        parts.append(PartProof("equal-members", min(sizes), max(sizes), False))
    if reading.part("through"):
        shut = [h for h in holes if not h.through]
        parts.append(PartProof("through", True, not shut, not shut))
    elif reading.part("depth"):
        parts.append(each("depth", lambda h: h.depth))
    else:
        parts.append(PartProof("depth", None, holes[0].depth, False))
    if toward is not None and any(not h.through and opposed(h.axis, toward) for h in holes):
        parts.append(PartProof("side", "the side seen in its view", "the far side", False))
    for side in ("", "-far"):
        parts += _seats(m, mark, reading, holes, side)
    if reading.part("point-angle"):
        parts.append(each("point-angle", lambda h: h.point))
    if reading.part("flat-bottom"):
        flat = all(h.point == _FLAT for h in holes)
        parts.append(PartProof("flat-bottom", True, flat, flat))
    if reading.part("pitch-circle"):
        parts += measure_ring(m, mark, alive, reading)
    if reading.part("equally-spaced"):
        spaced = equally_spaced([h.axis_point for h in holes], holes[0].axis)
        parts.append(PartProof("equally-spaced", True, spaced, spaced))
    return parts


def _seats(m: Measurer, mark: Leader, reading: Callout, holes: list[GaugedHole], side: str) -> list[PartProof]:
    """The seats of one side: those that the note states, and those that it leaves out."""
    unit = m.document.unit
    out: list[PartProof] = []

    def seats(hole: GaugedHole, kind: str) -> list[GaugedSeat]:
        mine = hole.far if side else hole.near
        wider = [s for s in mine if s.kind != "counterbore" or s.diameter > hole.diameter + LEAST_SEAT]
        # Of counterbores in one another the outermost has no letter, the next one is b.
        name, nth = kind.removesuffix("-b").removesuffix("-c"), {"-b": 1, "-c": 2}.get(kind[-2:], 0)
        found = [s for s in wider if spoken(s) == name and max(s.leg, s.depth) > LEAST_SEAT]
        return found[nth : nth + 1]

    bore = {"diameter": lambda s: s.diameter, "depth": lambda s: s.depth}
    sink = {"diameter": lambda s: s.diameter, "angle": lambda s: s.angle}
    rim = {"size": lambda s: s.leg, "angle": lambda s: 90 - s.angle / 2}
    names = {f"counterbore{letter}": bore for letter in LETTERS} | {"countersink": sink, "rim": rim}
    for kind, sizes in names.items():
        if sizes is not bore and any(reading.part(f"{kind}-b{side}-{n}") for n in sizes):
            # Which of several rims or countersinks in one another was gauged is not known: none is held against the note.
            continue
        said = [n for n in sizes if reading.part(f"{kind}{side}-{n}")]
        for name in said:
            measured = [(found[0] if (found := seats(h, kind)) else None) for h in holes]
            values = [None if s is None else sizes[name](s) for s in measured]
            out.append(worst([compared(reading, f"{kind}{side}-{name}", v, unit) for v in values]))
        if reading.part(f"{kind}{side}-spot"):
            # A spot face is a counterbore that only cleans the surface: its depth says how deep.
            out.append(PartProof(f"{kind}{side}-spot", True, True, all(seats(h, kind) for h in holes)))
        unsaid = [s for h in holes for s in seats(h, kind)]
        if not said and unsaid and (kind != "rim" or not m.rim_stated(mark, holes)):
            # The note says nothing of a seat that is there.
            name = next(iter(sizes))
            out.append(PartProof(f"{kind}{side}-{name}", None, sizes[name](unsaid[0]), False))
    rounds = [next((s.leg for s in seats(h, "rim-round")), None) for h in holes]
    if reading.part(f"rim{side}-radius"):
        out.append(worst([compared(reading, f"rim{side}-radius", r, unit) for r in rounds]))
    elif any(r is not None for r in rounds) and not m.rim_stated(mark, holes):
        out.append(PartProof(f"rim{side}-radius", None, next(r for r in rounds if r is not None), False))
    return out


def _census(
    m: Measurer, mark: Leader, alive: list[str], first: GaugedHole, reading: Callout, toward: Vec | None
) -> list[int]:
    """Faces of holes that are like the note's in every part it states, on its side, and that no hole note names."""
    solid = m.solid(mark.sheet)
    taken = m.claimed_lines(mark.sheet, "hole")
    radius = first.diameter / 2
    found: dict[int, list[int]] = {}
    for face in solid.faces:
        if face.kind != "cylinder" or not face.inner or not same(face.radius, radius, SAME * (1 + radius)):
            continue
        if not parallel(face.axis, first.axis):
            continue
        line = m.line(mark.sheet, face.index)
        if line not in taken:
            found.setdefault(line, []).append(face.index)
    out = []
    for faces in found.values():
        if sum(solid.faces[f].sweep for f in faces) < 1.5 * math.pi:
            continue  # the round end of a slot, the corner of a pocket
        other = m.gauged_face(mark.sheet, faces[0], first.axis, toward)
        if _like(other, first, reading, m):
            out.append(faces[0])
    return out


def _like(other: GaugedHole, first: GaugedHole, reading: Callout, m: Measurer) -> bool:
    """Whether a hole is one that the note would mean: same end, same start plane, same seats on the same sides."""
    if other.through is not first.through or not same_way(other.axis, first.axis):
        return False
    for side in ("near", "far"):
        mine, theirs = getattr(first, side), getattr(other, side)
        if [spoken(s) for s in mine] != [spoken(s) for s in theirs]:
            return False
        if any(
            abs(a.diameter - b.diameter) > 1e-2 or abs(a.depth - b.depth) > 1e-2
            for a, b in zip(mine, theirs, strict=True)
        ):
            return False
    if abs(float((other.opening - first.opening) @ first.axis)) > SAME:
        return False
    if not compared(reading, "diameter", other.diameter, m.document.unit).ok:
        return False
    return first.depth is None or (other.depth is not None and abs(other.depth - first.depth) < 1e-2)


def equally_spaced(points: list[Vec], axis: Vec) -> bool:
    """Whether points stand at equal angles all around the circle that they lie on."""
    if len(points) < 3:
        return False
    flat = np.array([p - axis * float(p @ axis) for p in points])
    centre = ring_centre(flat)
    u = flat[0] - centre
    u = u / np.linalg.norm(u)
    w = np.cross(axis, u)
    turns = np.sort([math.atan2(float((p - centre) @ w), float((p - centre) @ u)) for p in flat])
    gaps = np.diff([*turns, turns[0] + 2 * math.pi])
    return bool(np.all(np.abs(gaps - 2 * math.pi / len(points)) < FINE))
