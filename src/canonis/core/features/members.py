"""Members that stand apart and repeat: slots and fins along a line, vanes and jaws around an axis. One of them is dimensioned."""

import itertools
import math
from collections import Counter, defaultdict
from collections.abc import Callable, Iterable, Iterator, Sequence

import numpy as np

from canonis.core.features.model import Piece
from canonis.core.features.repeats import holder_of
from canonis.core.features.stacks import axis_groups, size_key
from canonis.core.shape import Step, face_boxes, orbit, row_through, step_of
from canonis.core.solid import Face, Solid, Vec
from canonis.core.tolerances import SAME

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

#: The faces of one sort of all members, in the order of the members.
Orbit = list[int]


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
    """Members that stand apart evenly about an axis. The first face of the piece is a round one about it, the others are those of
    one member."""
    rounds = [f for f in solid.faces if f.kind == "cylinder"]
    lines = sorted(axis_groups(rounds), key=lambda g: -max(f.radius * f.sweep for f in g[2]))
    used = set(taken)
    for base, axis, _ in lines[:_AXES]:
        holder = holder_of(solid, base, axis)
        if holder is None:
            continue
        for n, member in _stars(solid, base, axis, used):
            # Where a round face that it stands on has its seam, an edge is parted that is whole elsewhere.
            parted = [sum(len(solid.faces[o[k]].edges) for o in member) for k in range(n)]
            upright = [min(_upright(solid.faces[o[k]], base, axis) for o in member) for k in range(n)]
            named = min(range(n), key=lambda k: (parted[k], upright[k]))
            faces = tuple(o[named] for o in member)
            level = float((solid.faces[faces[0]].centre - base) @ axis)
            owns = tuple(sorted(f for o in member for f in o))
            used |= set(owns)
            data = {"members": n, "noun": "places"}
            yield Piece("repeat", data, axis, base + axis * level, (holder.index, *faces), owns)


def _stars(solid: Solid, base: Vec, axis: Vec, used: set[int]) -> Iterator[tuple[int, list[Orbit]]]:
    def away(f: Face) -> float:
        return float(np.linalg.norm(np.cross(f.centre - base, axis)))

    def level(f: Face) -> object:
        return size_key(float((f.centre - base) @ axis))

    aside = [f for f in solid.faces if f.index not in used and away(f) > _OFF_AXIS * solid.diagonal]
    sorts = _sorts(aside, lambda f: round(f.area, 3), lambda f: size_key(away(f)), level)
    sorts = [s for s in sorts if len(s) >= _STAR]
    counts = Counter(n for s in sorts for n in [len(s)] for _ in range(n))
    for n, _ in counts.most_common(2):
        step = Step(base, axis, math.tau / n)
        claimed: set[int] = set()
        orbits: list[Orbit] = []
        for f in sorted((f for s in sorts if len(s) % n == 0 for f in s), key=lambda f: _upright(f, base, axis)):
            found = None if f.index in claimed else orbit(solid, f, step, n)
            if found is not None:
                claimed |= set(found)
                orbits.append(found)
        for member in _together(solid, _turned_to(solid, orbits)):
            second = {o[1] for o in member}
            touching = any(_near(solid, o[0]) & (second | set(o)) for o in member)
            if n * len(member) >= _STARRED and not touching:
                yield n, member


def _upright(face: Face, base: Vec, axis: Vec) -> tuple[float, float]:
    """Faces that stand along one of the main directions from the axis come first."""
    arm = face.centre - base
    arm = arm - axis * float(arm @ axis)
    spoke = arm / float(np.linalg.norm(arm))
    return -round(float(np.abs(spoke).max()), 4), -round(float(spoke.sum()), 4)


def _turned_to(solid: Solid, orbits: list[Orbit]) -> list[Orbit]:
    """Orbits that begin with the same member where they touch one another."""
    done: list[Orbit] = []
    left = list(orbits)
    while left:
        done.append(left.pop(0))
        todo = True
        while todo:
            todo = False
            for other in list(left):
                spot = next((k for k, f in enumerate(other) for d in done if f in _beside(solid, d[0])), None)
                if spot is not None:
                    done.append(other[spot:] + other[:spot])
                    left.remove(other)
                    todo = True
    return done
