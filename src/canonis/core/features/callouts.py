"""What a sheet says of features: hole notes, radii, chamfers, slots, diameters, as callouts."""

from canonis.core.callout import LETTERS, Callout, Measured, Part, flag, turn
from canonis.core.features.model import Blend, Hole, Seat, Shaft, Slot
from canonis.core.features.report import spot_face
from canonis.core.quantity import Unit, places
from canonis.core.tolerances import NOISE, same

__all__ = ["of_blend", "of_hole", "of_shaft", "of_slot"]

#: What the sorts of seat are called in a note.
_SORTS = {"counterbore": "counterbore", "countersink": "countersink", "rim-round": "rim", "rim": "rim"}


def of_hole(hole: Hole, count: int, unit: Unit, *, equally_spaced: bool = False) -> Callout:
    """Holes with their end and every seat of the start face and of the far face."""
    size = Measured(unit)
    end = flag("through") if hole.through else size.length("depth", hole.depth or 0.0)
    parts = [size.length("diameter", hole.diameter), end]
    for seats, far in ((hole.seats, ""), (hole.far_seats, "-far")):
        for name, seat in _lettered(size, seats):
            parts += _seat_parts(size, f"{name}{far}", seat)
    spaced = (flag("equally-spaced"),) if equally_spaced else ()
    return Callout(kind="hole", count=count, parts=(*parts, *spaced))


def _lettered(size: Measured, seats: tuple[Seat, ...]) -> list[tuple[str, Seat]]:
    """The seats of a side with their names: those in one another get letters, counterbores from the widest."""
    out: list[tuple[str, Seat]] = []
    for sort in ("counterbore", "countersink", "rim", "rim-round"):
        mine = [s for s in seats if s.kind == sort]
        if sort == "counterbore":
            # Of those that are written as equally wide the outer one is said.
            mine = [
                s for _, s in sorted({size.length("", s.diameter).nominal: s for s in mine[::-1]}.items(), reverse=True)
            ]
        out += [(f"{_SORTS[sort]}{letter}", s) for letter, s in zip(LETTERS, mine, strict=False)]
    return out


def _seat_parts(size: Measured, name: str, seat: Seat) -> list[Part]:
    if seat.kind == "counterbore":
        spot = [flag(f"{name}-spot")] if spot_face(seat) else []
        return [size.length(f"{name}-diameter", seat.diameter), size.length(f"{name}-depth", seat.depth), *spot]
    if seat.kind == "countersink":
        return [size.length(f"{name}-diameter", seat.diameter), turn(f"{name}-angle", seat.angle)]
    if seat.kind == "rim-round":
        return [size.length(f"{name}-radius", seat.size)]
    return [size.length(f"{name}-size", seat.size), turn(f"{name}-angle", seat.angle)]


def of_blend(blend: Blend, unit: Unit) -> Callout:
    """A radius, or a chamfer by its leg at 45°, by both legs, or where only the angle is round by the longer leg and it."""
    size = Measured(unit)
    if blend.kind == "fillet":
        return Callout(kind="radius", count=blend.count, parts=(size.length("radius", blend.size),))
    equal = same(blend.size, blend.size_b)
    chosen = same(blend.angle, round(blend.angle), NOISE) and places(blend.size_b, unit) > 2
    other = (
        turn("angle", 45.0 if equal else round(blend.angle)) if equal or chosen else size.length("leg-b", blend.size_b)
    )
    return Callout(kind="chamfer", count=blend.count, parts=(size.length("leg", blend.size), other))


def of_slot(slot: Slot, count: int, unit: Unit) -> Callout:
    """A straight slot with round ends: width, centre distance, THRU or depth."""
    size = Measured(unit)
    end = flag("through") if slot.through else size.length("depth", slot.depth or 0.0)
    parts = (size.length("width", slot.width), end, size.length("centres", slot.centres))
    return Callout(kind="slot", count=count, parts=parts)


def of_shaft(shaft: Shaft, count: int, unit: Unit) -> Callout:
    """A diameter on an outer cylinder."""
    return Callout(kind="diameter", count=count, parts=(Measured(unit).length("diameter", shaft.diameter),))
