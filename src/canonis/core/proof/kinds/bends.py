"""Bends of bars and pipes measured again: their centre line from their normals."""

from canonis.core.callout import Callout
from canonis.core.proof.circles import bend_of
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.registry import meant, measures
from canonis.core.proof.statement import PartProof, close, compared, worst
from canonis.core.shape import is_bend
from canonis.core.sheet import Leader
from canonis.core.solid import Vec
from canonis.core.tolerances import same_place

__all__ = ["measure_bends"]

meant("bend", places="")


@measures("bend", on=("torus",))
def measure_bends(m: Measurer, mark: Leader, alive: list[str], reading: Callout) -> list[PartProof]:
    """The radius of the centre line of every bend, and how many bends have it; the inside of a pipe bends with its outside."""
    solid, unit = m.solid(mark.sheet), m.document.unit
    named = m.faces(mark.sheet, alive)
    found = {f: bend_of(solid, f) for f in named}
    part = reading.part("radius")
    taken = m.claimed(mark.sheet, "bend")
    for f in solid.faces:
        if f.index not in found and f.index not in taken and is_bend(solid, f):
            other = bend_of(solid, f.index)
            if part is not None and part.nominal is not None and close(float(part.nominal), other[1], part, unit):
                found[f.index] = other
    rings: list[Vec] = []
    for centre, _ in found.values():
        if not any(same_place(centre, ring) for ring in rings):
            rings.append(centre)
    said = [compared(reading, "radius", found[f][1], unit) for f in named]
    count = float(len(rings))
    others = tuple(f for f in found if f not in named)
    return (
        [PartProof("count", float(reading.count), count, count == reading.count, others), worst(said)] if said else []
    )
