"""Members that stand apart and repeat: slots and fins along a line, vanes and jaws around an axis. One of them is dimensioned."""

import itertools
import math
from collections import Counter, defaultdict
from collections.abc import Callable, Iterable, Iterator, Sequence

import numpy as np

from canonis.core.features.model import Piece
from canonis.core.features.repeats import holder_of, spoke_of
from canonis.core.features.stacks import axis_groups, round_about, size_key
from canonis.core.shape import Step, face_boxes, orbit, row_through, stays, step_of, turned_onto
from canonis.core.solid import Face, Solid, Vec
from canonis.core.tolerances import FINE, SAME, on_axis, opposed, parallel, square

__all__ = ["find_members", "find_rows", "find_stars"]

#: So many make a row, or a star; fewer are said one by one.
_ROW = _STAR = 3
#: What repeats has at least so many faces, and so many all together: fewer are said by their levels as shortly.
_FACES, _ROWED, _STARRED = 3, 12, 9
#: Steps that are looked at, those that carry most faces first; faces of one sort that are looked at for them.
_STEPS, _ALIKE = 3, 120
#: Steps are looked for by places nearer than this, mm.
_NEAR = 0.02
#: Axes that are looked at, those of the widest faces first.
_AXES = 4
#: What has its middle nearer to the axis than this share of the part goes around it.
_OFF_AXIS = 1e-3

#: So many may touch one another and are said as places: fewer are a cross or a square, more than that teeth.
_TOUCHING = 5
#: Numbers of members that are tried about an axis; members of which another feature has left two pieces.
_COUNTS, _PARTED = 6, 2

#: The faces of one sort of all members, in the order of the members; about an axis the pieces of each.
Orbit = list[int]
Ring = list[tuple[int, ...]]


def find_members(solid: Solid, taken: set[int]) -> tuple[Piece, ...]:
    """All rows and stars of what is not taken."""
    rows = tuple(find_rows(solid, taken))
    return (*rows, *find_stars(solid, taken | {f for p in rows for f in p.owns}))


def _sorts(faces: Iterable[Face], *where: Callable[[Face], object]) -> list[list[Face]]:
    """Faces of one kind and radius that agree in something more."""
    alike: dict[tuple[object, ...], list[Face]] = defaultdict(list)
    for f in faces:
        alike[(f.kind, f.inner, size_key(f.radius), *(w(f) for w in where))].append(f)
    return list(alike.values())


def _lean(face: Face) -> object:
    """Which way a face looks: a round one both ways along its axis."""
    way = face.axis if face.kind == "plane" else np.abs(face.axis)
    return tuple(np.round(way, 4) + 0.0)


def find_rows(solid: Solid, taken: set[int]) -> Iterator[Piece]:
    """Members in a straight row at one pitch. The first face of the piece is of the next member, as the second one is of the one that
    stands for the rest."""
    boxes = face_boxes(solid)

    def size(f: Face) -> object:
        return tuple(np.round(boxes[f.index][3:] - boxes[f.index][:3], 2) + 0.0)

    sorts = [s for s in _sorts((f for f in solid.faces if f.index not in taken), _lean, size) if len(s) >= _ROW]
    votes: Counter[tuple[float, ...]] = Counter()
    for sort in sorts:
        for a, b in itertools.combinations(sort[:_ALIKE], 2):
            way = np.round(boxes[b.index][:3] - boxes[a.index][:3], 2) + 0.0
            votes[tuple(way if tuple(way) > (0.0, 0.0, 0.0) else -way + 0.0)] += 1
    used = set(taken)
    for key, _ in votes.most_common(_STEPS):
        far = float(np.linalg.norm(key))
        if far < SAME:
            continue
        for n, rows in _in_rows(solid, sorts, np.array(key), used):
            for member in _together(solid, rows):
                if n * len(member) >= _ROWED and _apart(solid, member):
                    piece = _row_piece(solid, n, member)
                    if piece is not None:
                        used |= set(piece.owns)
                        yield piece


def _in_rows(solid: Solid, sorts: Sequence[list[Face]], way: Vec, used: set[int]) -> Iterator[tuple[int, list[Orbit]]]:
    """The rows of faces that one step carries along, by how many they have."""
    found: dict[int, list[Orbit]] = defaultdict(list)
    boxes = face_boxes(solid)[:, :3]
    for sort in sorts:
        free = {f.index: f for f in sort if f.index not in used}
        for f in sorted(free.values(), key=lambda f: float(boxes[f.index] @ way)):
            row = [f.index]
            while row[0] in free and (after := _next(boxes, free, row[-1], way)) is not None:
                row.append(after)
            for k in row:
                free.pop(k, None)
            if len(row) >= _ROW:
                found[len(row)].append(row)
    for n, rows in sorted(found.items(), key=lambda x: -len(x[1])):
        exact = [o for o in (_exact(solid, row) for row in rows) if o is not None]
        yield n, exact


def _next(corners: Vec, free: Iterable[int], face: int, way: Vec) -> int | None:
    return next((k for k in free if float(np.abs(corners[k] - corners[face] - way).max()) < _NEAR), None)


def _exact(solid: Solid, row: Orbit) -> Orbit | None:
    """A row whose faces stand at equal steps."""
    first, boxes = solid.faces[row[0]], face_boxes(solid)
    way = (boxes[row[-1]] - boxes[row[0]])[:3] / (len(row) - 1)
    far = float(np.linalg.norm(way))
    found = orbit(solid, first, Step(first.centre, way / far, shift=far), len(row))
    return row if found == row else None


def _together(solid: Solid, orbits: list[Orbit]) -> Iterator[list[Orbit]]:
    """Orbits whose faces hang together in each member."""
    left = list(orbits)
    while left:
        mine, todo = [left.pop(0)], True
        while todo:
            todo = False
            for other in list(left):
                if any(_touch(solid, a, other) for a in mine):
                    mine.append(other)
                    left.remove(other)
                    todo = True
        if len(mine) >= _FACES:
            yield mine


def _touch(solid: Solid, one: Orbit, other: Orbit) -> bool:
    """Whether faces of two orbits meet in each member, over a round too."""
    return all(b in _beside(solid, a) for a, b in zip(one, other, strict=True))


def _beside(solid: Solid, face: int) -> set[int]:
    near = {o for _, o in solid.neighbours[face]}
    over = {
        p
        for e, o in solid.neighbours[face]
        if solid.edges[e].dihedral == "smooth" and solid.faces[o].kind == "cylinder"
        for _, p in solid.neighbours[o]
    }
    return (near | over) - {face}


def _apart(solid: Solid, member: list[Orbit]) -> bool:
    """Whether members do not meet, and are flat and round faces alone."""
    second = {o[1] for o in member}
    faces = [solid.faces[o[0]] for o in member]
    plain = all(f.kind in ("plane", "cylinder") for f in faces) and any(f.kind == "plane" for f in faces)
    return plain and not any(_near(solid, o[0]) & second for o in member)


def _near(solid: Solid, face: int) -> set[int]:
    return {o for _, o in solid.neighbours[face]}


def _way(solid: Solid, row: Orbit) -> Vec:
    boxes = face_boxes(solid)
    first: Vec = boxes[row[1]][:3] - boxes[row[0]][:3]
    return first


def _row_piece(solid: Solid, n: int, member: list[Orbit]) -> Piece | None:
    """The row by its first member into which nothing else is cut; None where the step from there to the next does not lead to all
    of them: a careless hand has set them by eye."""
    way = _way(solid, member[0])
    far = float(np.linalg.norm(way))
    # A face that looks along the row shows the step best.
    lead = max(member, key=lambda o: (round(abs(float(solid.faces[o[0]].axis @ way)), 6), solid.faces[o[0]].area))
    named = min(range(n), key=lambda k: (sum(len(solid.faces[o[k]].edges) for o in member), k))
    twin = lead[named + 1] if named + 1 < n else lead[named - 1]
    faces = (twin, lead[named], *(o[named] for o in member if o is not lead))
    step = step_of(solid, twin, lead[named], n, shifted=True)
    if step is None or any(len(row_through(solid, solid.faces[f], step)) != n for f in faces[1:]):
        return None
    if _passes_over(solid, lead):
        return None
    data = {"members": n, "noun": "places", "pitch_mm": far}
    owns = tuple(sorted(f for o in member for f in o))
    return Piece("repeat", data, way / far, solid.faces[lead[named]].centre, faces, owns)


def _passes_over(solid: Solid, row: Orbit) -> bool:
    """Whether as good a face as those of a row stands between two of them: the row would pass over every other member."""
    boxes = face_boxes(solid)
    first, way = solid.faces[row[0]], _way(solid, row)
    size = boxes[row[0]][3:] - boxes[row[0]][:3]
    for f in solid.faces:
        at = boxes[f.index][:3] - boxes[row[0]][:3]
        along = float(at @ way) / float(way @ way)
        alike = f.kind == first.kind and _lean(f) == _lean(first)
        beside = float(np.abs(at - along * way).max()) < _NEAR
        same_size = float(np.abs(boxes[f.index][3:] - boxes[f.index][:3] - size).max()) < _NEAR
        if f.index not in row and alike and beside and same_size and 0 < along < len(row) - 1:
            return True
    return False


def find_stars(solid: Solid, taken: set[int]) -> Iterator[Piece]:
    """Members that stand evenly about an axis. The first face of the piece is a round one about it, the others are those of one
    member, in which nothing else is cut."""
    rounds = [f for f in solid.faces if f.kind == "cylinder"]
    lines = sorted(axis_groups(rounds), key=lambda g: -max(f.radius * f.sweep for f in g[2]))
    used = set(taken)
    for base, axis, _ in lines[:_AXES]:
        holder = holder_of(solid, base, axis)
        if holder is None:
            continue
        for n, member in _stars(solid, base, axis, used):
            named = _named(solid, base, axis, member)
            here = [solid.faces[o[named][0]] for o in member]
            # Round pieces about the axis of one radius are one to whoever names them.
            one_each = {f.radius: f for f in reversed(here) if round_about(f, base, axis)}
            faces = tuple(f.index for f in here if not round_about(f, base, axis) or one_each[f.radius] is f)
            level = float((solid.faces[faces[0]].centre - base) @ axis)
            owns = tuple(sorted(f for o in member for there in o for f in there))
            used |= set(owns)
            data = {"members": n, "noun": "places"}
            yield Piece("repeat", data, axis, base + axis * level, (holder.index, *faces), owns)


def _named(solid: Solid, base: Vec, axis: Vec, member: list[Ring]) -> int:
    """The place of the member that is dimensioned: whole, with the fewest edges (where a round face that it stands on has its seam,
    an edge is parted that is whole elsewhere), nearest to a main direction."""

    def rank(k: int) -> tuple[object, ...]:
        here = [solid.faces[o[k][0]] for o in member]
        pieces = sum(len(o[k]) for o in member)
        askew = sum(f.kind == "plane" and not on_axis(f.axis) for f in here)
        return pieces, askew, sum(len(f.edges) for f in here), min(_upright(f, base, axis) for f in here), k

    areas = [max(sum(solid.faces[f].area for f in there) for there in o) for o in member]

    def whole(k: int) -> bool:
        return all(
            sum(solid.faces[f].area for f in o[k]) > (1 - FINE) * most for o, most in zip(member, areas, strict=True)
        )

    places = range(len(member[0]))
    turn = Step(base, axis, math.tau / len(member[0]))
    moving = [o for o in member if not stays(solid.faces[o[0][0]], turn)]
    if len(moving) == 1:
        # Of a flute the axis is what is measured to, cut short or not.
        return min(places, key=lambda k: (len(moving[0][k]), _upright(solid.faces[moving[0][k][0]], base, axis), k))
    return min((k for k in places if whole(k)), key=rank, default=min(places, key=rank))


def _stars(solid: Solid, base: Vec, axis: Vec, used: set[int]) -> Iterator[tuple[int, list[Ring]]]:
    """Sets of rings that hang together, with how many members they have, the largest first."""

    def away(f: Face) -> float:
        return float(np.linalg.norm(np.cross(f.centre - base, axis)))

    aside = [f for f in solid.faces if f.index not in used and away(f) > _OFF_AXIS * solid.diagonal]
    sorts = [s for s in _sorts(aside, lambda f: _turning(f, base, axis)) if len(s) >= _STAR]
    counts: Counter[int] = Counter()
    for sort in sorts:
        # Of what other features cut some members are in two pieces.
        for n in {n for n in range(_STAR, len(sort) + 1) if len(sort) % n == 0} | {
            len(sort) - k for k in range(1, _PARTED + 1) if len(sort) - k >= _PARTED * _STAR
        }:
            counts[n] += len(sort)
    found: list[tuple[int, list[list[Ring]]]] = []
    for n, _ in sorted(counts.items(), key=lambda x: (-x[1], -x[0]))[:_COUNTS]:
        step = Step(base, axis, math.tau / n)
        members = _members(solid, _rings(solid, sorts, step, n), step, n)
        found.append((n, [m for m in members if _says_much(solid, base, axis, n, m)]))
    claimed: set[int] = set()

    def told(n: int, sets: list[list[Ring]]) -> int:
        """How many faces that move with a turn are told of."""
        turn = Step(base, axis, math.tau / n)
        return n * sum(not stays(solid.faces[o[0][0]], turn) for m in sets for o in m)

    # The number that tells of most, the greater one of two: six slots are three pairs too.
    for n, sets in sorted(found, key=lambda f: (-told(*f), -f[0])):
        for member in sorted(sets, key=len, reverse=True):
            owns = {f for o in member for there in o for f in there}
            if not owns & claimed:
                claimed |= owns
                yield n, member


def _says_much(solid: Solid, base: Vec, axis: Vec, n: int, member: list[Ring]) -> bool:
    """Whether a note of the members saves more than it takes."""
    first = [solid.faces[o[0][0]] for o in member]
    lone = n >= _TOUCHING and len(first) == 1 and first[0].kind == "cylinder"
    many = n * len(member) >= _STARRED or lone
    return many and not all(round_about(f, base, axis) for f in first) and _stand(solid, base, axis, n, member)


def _turning(face: Face, base: Vec, axis: Vec) -> object:
    """What stays of a face's surface when it turns about an axis; of one that does not move with the turn, and of one that is
    neither flat nor round, its middle too."""
    arm = face.centre - base
    level, off = float(arm @ axis), float(np.linalg.norm(np.cross(arm, axis)))
    lean = round(float(face.axis @ axis), 4) + 0.0
    if face.kind == "plane" and not parallel(face.axis, axis):
        return lean, size_key(float((face.origin - base) @ face.axis))
    if face.kind == "cylinder" and not parallel(face.axis, axis):
        return abs(lean), size_key(float(np.linalg.norm(np.cross(face.origin - base, face.axis))))
    if face.kind == "cylinder" and not round_about(face, base, axis):
        return lean, size_key(float(np.linalg.norm(np.cross(face.origin - base, axis))))
    return abs(lean), size_key(off), size_key(level), round(face.area, 3)


def _rings(solid: Solid, sorts: Sequence[list[Face]], step: Step, n: int) -> list[Ring]:
    rings: list[Ring] = []
    for sort in sorts:
        claimed: set[int] = set()
        for f in sorted(sort, key=lambda f: (-round(f.area, 3), _upright(f, step.base, step.axis))):
            ring = None if f.index in claimed else turned_onto(solid, f, step, n)
            if ring is not None:
                claimed |= {k for there in ring for k in there}
                rings.append(ring)
    return rings


def _stand(solid: Solid, base: Vec, axis: Vec, n: int, member: list[Ring]) -> bool:
    """Whether members stand apart, or are many and no polygon's flats: that is said across them."""
    second = {f for o in member for f in o[1]}
    first = {f for o in member for f in o[0]}
    touching = any(_near(solid, f) & second for f in first) or any(
        _near(solid, f) & set(o[0]) for o in member for f in o[0]
    )
    if not touching:
        return len(member) > 1 or solid.faces[member[0][0][0]].kind != "plane"
    flats = [solid.faces[o[0][0]] for o in member if solid.faces[o[0][0]].kind == "plane"]
    walls = [f for f in flats if square(f.axis, axis)]
    return n >= _TOUCHING and len(walls) > 1 and not all(parallel(f.axis, spoke_of(f, base, axis)) for f in walls)


def _members(solid: Solid, rings: list[Ring], step: Step, n: int) -> list[list[Ring]]:
    """The rings of each member. What lies level all around belongs to one where it touches no other: the sectors that slits leave
    of an end do. The flanks of a jaw hang together by its end."""
    still = [o for o in rings if stays(solid.faces[o[0][0]], step)]
    members = list(_joined(solid, [o for o in rings if o not in still]))
    for o in still:
        place = {f: (m, k) for m, rs in enumerate(members) for r in rs for k, there in enumerate(r) for f in there}
        near = sorted({place[f] for f in _near(solid, o[0][0]) if f in place})
        alone = sum(_says_much(solid, step.base, step.axis, n, members[m]) for m, _ in near) < 2
        if near and len(near) == len({m for m, _ in near}) and alone:
            met = [_turned_by(r, k) for m, k in near for r in members[m]]
            members = [rs for m, rs in enumerate(members) if m not in {m for m, _ in near}]
            members.append([*met, o])
    return members


def _turned_by(ring: Ring, places: int) -> Ring:
    return ring[places:] + ring[:places]


def _joined(solid: Solid, rings: list[Ring]) -> Iterator[list[Ring]]:
    """Rings whose faces hang together in each member, turned to begin with the same one."""
    left = list(rings)
    while left:
        mine, todo = [left.pop(0)], True
        while todo:
            todo = False
            for other in list(left):
                spots = range(len(other))
                spot = next((s for s in spots if any(_hang(solid, one[0], other[s]) for one in mine)), None)
                if spot is not None:
                    mine.append(_turned_by(other, spot))
                    left.remove(other)
                    todo = True
        yield mine


def _hang(solid: Solid, some: tuple[int, ...], others: tuple[int, ...]) -> bool:
    """Whether faces meet, over a round too, or are the two sides of one rib or slot."""
    return any(b in _beside(solid, a) or _sides(solid.faces[a], solid.faces[b]) for a in some for b in others)


def _sides(one: Face, other: Face) -> bool:
    if one.kind != "plane" or other.kind != "plane" or not opposed(one.axis, other.axis):
        return False
    way = other.centre - one.centre
    across = abs(float(way @ one.axis))
    return float(np.linalg.norm(np.cross(way, one.axis))) < across / 2


def _upright(face: Face, base: Vec, axis: Vec) -> tuple[float, float]:
    """Faces that stand along one of the main directions from the axis come first."""
    spoke = spoke_of(face, base, axis)
    return -round(float(np.abs(spoke).max()), 4), -round(float(spoke.sum()), 4)
