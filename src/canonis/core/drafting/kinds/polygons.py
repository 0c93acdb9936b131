"""Regular polygons across their flats: HEX 17 AF."""

from collections.abc import Iterator

import numpy as np

from canonis.core.callout import Callout, plain
from canonis.core.drafting.desk import Candidate, Desk
from canonis.core.drafting.registry import states
from canonis.core.drafting.seen import lines_of
from canonis.core.sheet import frame_of_view
from canonis.core.solid import Face, Solid
from canonis.core.tolerances import NOISE, SAME, parallel, same

__all__ = ["polygons"]

#: How many flats a ring may have.
_SIDES = (6, 8)


@states(110)
def polygons(desk: Desk) -> Iterator[Candidate]:
    """A note for each closed ring of six or eight equal flats, in the view that looks along it."""
    for n, flats in enumerate(_rings(desk)):
        across = abs(float((flats[0].centre - flats[len(flats) // 2].centre) @ flats[0].axis))
        says = Callout(kind="polygon", parts=(desk.sizes.length("across-flats", across), plain("sides", len(flats))))
        axis = np.cross(flats[0].axis, flats[1].axis)
        axis = axis / float(np.linalg.norm(axis))
        for m, view in enumerate(desk.views):
            along = parallel(axis, frame_of_view(view).toward)
            if not along or not all(lines_of(desk.scene, view, f.index) for f in flats):
                continue
            # The flat that leans most stands clear of the centre lines.
            target = max(flats, key=lambda f: float(np.sort(np.abs(f.axis))[-2]))
            yield Candidate(
                0.3 + 1e-4 * n + 0.01 * m,
                desk.note(
                    view,
                    tuple(desk.reference(f.index) for f in flats),
                    says,
                    None,
                    desk.reference(target.index),
                ),
                note=True,
            )


def _rings(desk: Desk) -> Iterator[list[Face]]:
    """Closed rings of flats, each at the same angle to the next over a straight edge, opposite ones equally far apart."""
    solid = desk.solid
    used: set[int] = set()
    for first in solid.faces:
        if first.kind != "plane" or first.index in used:
            continue
        for sides in _SIDES:
            ring = _walk(desk, first, sides)
            if ring is None:
                continue
            half = sides // 2
            spans = [abs(float((a.centre - b.centre) @ a.axis)) for a, b in zip(ring[:half], ring[half:], strict=True)]
            if max(spans) - min(spans) < SAME and _about_middle(ring, max(spans) / 2):
                used |= {f.index for f in ring}
                yield ring
                break


def _about_middle(ring: list[Face], reach: float) -> bool:
    """Whether flats stand about their middle as the sides of a polygon do, not aside of it as those of vanes."""
    middle = np.mean([f.centre for f in ring], axis=0)
    axis = np.cross(ring[0].axis, ring[1].axis)
    half = reach * np.tan(np.pi / len(ring))
    return all(
        abs(float((f.centre - middle) @ np.cross(axis, f.axis))) < half * float(np.linalg.norm(axis)) for f in ring
    )


def _beside(solid: Solid, flat: Face) -> Iterator[Face]:
    """The flats that a flat meets over a straight edge, or over a corner that is turned or rounded."""
    for e, o in solid.neighbours[flat.index]:
        if solid.edges[e].kind != "line":
            continue
        if solid.faces[o].kind == "plane":
            yield solid.faces[o]
        elif solid.faces[o].kind == "cylinder" and not solid.faces[o].inner:
            yield from (
                solid.faces[p]
                for d, p in solid.neighbours[o]
                if solid.edges[d].kind == "line" and solid.faces[p].kind == "plane" and p != flat.index
            )


def _walk(desk: Desk, first: Face, sides: int) -> list[Face] | None:
    """The flats met by turning one way from a first one until it comes again; None where they do not close."""
    solid, turn = desk.solid, float(np.cos(2 * np.pi / sides))
    ring = [first]
    axis = None
    while True:
        step = None
        for face in _beside(solid, ring[-1]):
            if not same(float(face.axis @ ring[-1].axis), turn, NOISE):
                continue
            about = np.cross(ring[-1].axis, face.axis)
            if axis is None or float(about @ axis) > 0.5 * float(axis @ axis):
                step, axis = face, about if axis is None else axis
                break
        if step is None:
            return None
        if step is first:
            return ring if len(ring) == sides else None
        if len(ring) >= sides:
            return None
        ring.append(step)
