"""Forms that repeat all around an axis: the teeth of wheels, the lobes of sockets and knobs."""

import itertools
import math
from collections import Counter, defaultdict
from collections.abc import Iterator

import numpy as np

from canonis.core.features.model import Piece
from canonis.core.features.registry import Claims, finds, form
from canonis.core.features.stacks import axis_groups, round_about, size_key
from canonis.core.shape import Step, orbit
from canonis.core.solid import Face, Solid, Vec
from canonis.core.tolerances import on_axis, opposed, parallel, square

__all__ = ["find_repeats", "holder_of", "spoke_of"]

form("repeat", "T", patterned=False)

#: As many members make a toothed ring, or lobes where nothing of it is flat; fewer are features by themselves.
_TEETH, _LOBES = 8, 5
#: Axes that are looked at, those of the widest faces first.
_AXES = 4
#: What has its middle nearer to the axis than this share of the part goes around it.
_OFF_AXIS = 1e-3


def find_repeats(solid: Solid, taken: set[int]) -> Iterator[Piece]:
    """Rings of faces in which each member touches the next. Its faces are a round one about the axis and those of one member,
    which stands for the rest."""
    rounds = [f for f in solid.faces if f.kind == "cylinder"]
    lines = sorted(axis_groups(rounds), key=lambda g: -max(f.radius * f.sweep for f in g[2]))
    used = set(taken)
    for base, axis, _ in lines[:_AXES]:
        for n, orbits in _rings(solid, base, axis, used):
            piece = _piece(solid, base, axis, n, orbits)
            if piece is not None:
                used |= set(piece.owns)
                yield piece


def _rings(solid: Solid, base: Vec, axis: Vec, taken: set[int]) -> Iterator[tuple[int, list[list[int]]]]:
    """The numbers of members about an axis with the orbits of their faces, where those are one connected ring."""
    alike: dict[tuple[object, ...], list[Face]] = defaultdict(list)
    for f in solid.faces:
        arm = f.centre - base
        level = float(arm @ axis)
        away = float(np.linalg.norm(arm - axis * level))
        if f.index not in taken and away > _OFF_AXIS * solid.diagonal:
            key = (f.kind, f.inner, size_key(f.radius), round(f.area, 3), size_key(away), size_key(level))
            alike[key].append(f)
    counts: Counter[int] = Counter()
    for group in alike.values():
        if len(group) >= _LOBES:
            counts[len(group)] += len(group)
    for n, _ in counts.most_common(3):
        orbits: list[list[int]] = []
        claimed: set[int] = set()
        for group in alike.values():
            if len(group) % n:
                continue
            for f in group:
                found = None if f.index in claimed else orbit(solid, f, Step(base, axis, math.tau / n), n)
                if found is not None and not claimed.intersection(found):
                    claimed |= set(found)
                    orbits.append(found)
        ring = _connected(solid, orbits)
        if ring and _repeats(solid, base, axis, n, ring):
            yield n, ring
            return


def _connected(solid: Solid, orbits: list[list[int]]) -> list[list[int]]:
    """The orbits whose faces hang together all around: the largest such set."""
    inside = {f for o in orbits for f in o}
    best: list[list[int]] = []
    left = set(inside)
    while left:
        todo, seen = [left.pop()], set()
        while todo:
            f = todo.pop()
            seen.add(f)
            todo += [o for _, o in solid.neighbours[f] if o in inside and o not in seen]
        left -= seen
        ring = [o for o in orbits if seen.issuperset(o)]
        best = max(best, ring, key=len)
    return best


def _repeats(solid: Solid, base: Vec, axis: Vec, n: int, ring: list[list[int]]) -> bool:
    """Whether a ring is one of teeth or lobes, and no polygon: that is said across its flats."""
    first = [solid.faces[o[0]] for o in ring]
    flats = [f for f in first if f.kind == "plane"]
    if n < _TEETH and flats:
        return False
    spokes = (f for f in flats if square(f.axis, axis))
    if any(parallel(f.axis, spoke_of(f, base, axis)) for f in spokes) and len(flats) == 1:
        return False
    return len(ring) > 1


def spoke_of(face: Face, base: Vec, axis: Vec) -> Vec:
    """The unit vector from an axis to the middle of a face."""
    arm = face.centre - base
    arm = arm - axis * float(arm @ axis)
    return arm / float(np.linalg.norm(arm))


def _piece(solid: Solid, base: Vec, axis: Vec, n: int, ring: list[list[int]]) -> Piece | None:
    """The ring by the member that stands nearest to one of the part's main directions; None where no round face shows about what
    it goes."""
    holder = holder_of(solid, base, axis)
    if holder is None:
        return None
    tips = max(ring, key=lambda o: float(np.linalg.norm(np.cross(solid.faces[o[0]].centre - base, axis))))

    def member_at(lead: int) -> tuple[int, ...]:
        """Of each orbit the face that lies nearest beside one face; of what lies half way between two members one, on one side."""
        way = spoke_of(solid.faces[lead], base, axis)
        side = np.cross(axis, way)

        def turn(f: int) -> float:
            spoke = spoke_of(solid.faces[f], base, axis)
            return math.atan2(float(spoke @ side), float(spoke @ way))

        return tuple(min(o, key=lambda f: (round(abs(turn(f)), 6), -round(turn(f), 6))) for o in ring)

    def upright(f: int) -> tuple[object, ...]:
        spoke = spoke_of(solid.faces[f], base, axis)
        square_on = sum(solid.faces[k].kind == "plane" and on_axis(solid.faces[k].axis) for k in member_at(f))
        return square_on, f in tips, round(float(np.abs(spoke).max()), 6), round(float(spoke.sum()), 6)

    lead = max((f for o in ring for f in o), key=upright)
    member = member_at(lead)
    planes = [solid.faces[f] for f in member if solid.faces[f].kind == "plane"]
    # What has parallel sides is a slot or a fin rather than a tooth.
    walled = any(opposed(a.axis, b.axis) for a, b in itertools.combinations(planes, 2))
    data = {"members": n, "noun": "places" if walled else "teeth" if n >= _TEETH else "lobes"}
    level = float((solid.faces[lead].centre - base) @ axis)
    owns = tuple(sorted(f for o in ring for f in o))
    return Piece("repeat", data, axis, base + axis * level, (holder.index, *member), owns)


def holder_of(solid: Solid, base: Vec, axis: Vec) -> Face | None:
    """The round face that shows the axis best."""
    about = [f for f in solid.faces if round_about(f, base, axis)]
    return max(about, key=lambda f: (f.sweep, f.area), default=None)


@finds(25)
def _repeats_of(c: Claims) -> Iterator[Piece]:
    for piece in find_repeats(c.solid, c.holes | c.slots | c.taken | c.threads):
        c.toothed |= set(piece.owns)
        yield piece
