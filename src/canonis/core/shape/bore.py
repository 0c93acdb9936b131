"""A bore and what stands at its ends, from the faces that follow one another along its axis."""

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

from canonis.core.shape.part import PartShape
from canonis.core.shape.rows import Row, added, scaled
from canonis.core.shape.surfaces import axis_meets, normal_at
from canonis.core.solid import Edge, Face, Vec, unit_vector
from canonis.core.tolerances import JOINED, NOTHING, parallel

__all__ = ["Bore", "BoreEnd", "BoreSeat", "bore_of"]

_MOST_STEPS = 8


@dataclass(frozen=True)
class BoreSeat:
    """A seat from the bore outwards: its wall (or cone, or rounded rim) and, for a counterbore, what it stands on."""

    kind: Literal["counterbore", "cone", "round"]
    wall: int
    floor: int | None = None


@dataclass(frozen=True)
class BoreEnd:
    """One end of a bore: it opens to `faces` behind its seats, or is closed by a floor or a drill point."""

    closed: Literal["", "floor", "point"]
    faces: tuple[int, ...]
    seats: tuple[BoreSeat, ...]


@dataclass(frozen=True)
class Bore:
    """The wall faces of a bore, its direction out of the material, and both ends (near: where `axis` points)."""

    shape: PartShape
    walls: tuple[int, ...]
    axis: Vec
    near: BoreEnd
    far: BoreEnd

    @property
    def face(self) -> Face:
        """One of its walls."""
        return self.shape.solid.faces[self.walls[0]]

    def sizes(self) -> dict[str, list[Row]]:
        """The rows of everything that a note of this bore can state, by the name of the part; seats of the far end
        carry `-far`."""
        out: dict[str, list[Row]] = {}
        radius = self.shape.motions[self.walls[0]].radius
        assert radius is not None
        out["diameter"] = [{radius: 2.0}]
        top = self.opening(self.near, self.axis)
        if self.far.closed:
            floor = self._floor(self.far, self.axis)
            if top is not None and floor is not None:
                out["depth"] = [added(top, floor, -1.0)]
            if self.far.closed == "point":
                half = self.shape.motions[self.far.faces[0]].half_angle
                out["point-angle"] = [] if half is None else [{half: 2.0}]
        out |= self._seats(self.near, self.axis, "")
        if not self.far.closed:
            out |= self._seats(self.far, -self.axis, "-far")
        return {name: rows for name, rows in out.items() if rows}

    def opening(self, end: BoreEnd, out: Vec) -> Row | None:
        """How the level along `out` moves at which the axis meets the face that the bore opens to."""
        for f in end.faces:
            face = self.shape.solid.faces[f]
            if self.shape.motions[f].free is not None:
                continue
            at = self._meets(face, out)
            if at is None:
                continue
            normal = normal_at(face, at)
            share = float(normal @ out)
            if abs(share) < 0.05:
                continue
            row = scaled(self.shape.speed(f, at), 1 / share)
            aside = normal - out * share
            if float(np.linalg.norm(aside)) > NOTHING:
                row = added(row, self.shape.axis_speed(self.walls[0], at, aside), -1 / share)
            return row
        return None

    def _meets(self, face: Face, out: Vec) -> Vec | None:
        """Where the axis meets a face's surface, the outermost place along `out`."""
        places = axis_meets(face, self.face.origin, out)
        if not places:
            return None
        mouth = max(
            float((e.middle - self.face.origin) @ out) for e in map(self.shape.solid.edges.__getitem__, self.face.edges)
        )
        near = min(places, key=lambda p: abs(p - mouth))
        return self.face.origin + out * (near if face.kind == "cone" else places[0] if face.inner else places[-1])

    def _floor(self, end: BoreEnd, out: Vec) -> Row | None:
        face = self.shape.solid.faces[end.faces[0]]
        if end.closed == "floor" and face.kind == "plane":
            return scaled(self.shape.speed(face.index, face.centre), float(face.axis @ out))
        return self._rim(face.index, self.walls, out)

    def _rim(self, face: int, walls: tuple[int, ...], out: Vec) -> Row | None:
        """Level of the circle in which a face meets one of the walls."""
        for e, o in self.shape.solid.neighbours[face]:
            if o in walls:
                edge = self.shape.solid.edges[e]
                return self.shape.point_speed(edge.faces, edge.middle, out)
        return None

    def _seats(self, end: BoreEnd, out: Vec, side: str) -> dict[str, list[Row]]:
        rows: dict[str, list[Row]] = {}

        def give(name: str, row: Row | None) -> None:
            if row:
                rows.setdefault(f"{name.replace('@', side)}", []).append(row)

        top = self.opening(end, out)
        # Of counterbores in one another the outermost has no letter, the next one is b.
        stacked = [s for s in reversed(end.seats) if s.kind == "counterbore"]
        for seat in end.seats:
            motion = self.shape.motions[seat.wall]
            if seat.kind == "counterbore":
                inner = ("", "-b", "-c")[min(stacked.index(seat), 2)]
                if motion.radius is not None:
                    give(f"counterbore{inner}@-diameter", {motion.radius: 2.0})
                level = self._seat_level(seat, out)
                if top is not None and level is not None:
                    give(f"counterbore{inner}@-depth", added(top, level, -1.0))
            elif seat.kind == "round":
                if motion.tube is not None:
                    give("rim@-radius", {motion.tube: 1.0})
            else:
                if motion.half_angle is not None:
                    give("countersink@-angle", {motion.half_angle: 2.0})
                give("countersink@-diameter", self._mouth(seat.wall))
        # A small cone is a rim: the same two rows under the other names.
        for one, other in (("countersink@-angle", "rim@-angle"), ("countersink@-diameter", "rim@-size")):
            if one.replace("@", side) in rows:
                rows[other.replace("@", side)] = rows[one.replace("@", side)]
        return rows

    def _seat_level(self, seat: BoreSeat, out: Vec) -> Row | None:
        if seat.floor is None:
            return None
        face = self.shape.solid.faces[seat.floor]
        if face.kind == "plane":
            return scaled(self.shape.speed(face.index, face.centre), float(face.axis @ out))
        return self._rim(face.index, (seat.wall,), out)

    def _mouth(self, cone: int) -> Row | None:
        """Diameter of the wider circle of a conical seat."""
        solid = self.shape.solid
        face = solid.faces[cone]
        rims = [solid.edges[e] for e in face.edges if solid.edges[e].kind == "circle"]
        places = [(e.faces, e.middle) for e in rims] + [((cone, o), p) for o, p in self._farthest(face)]
        best: tuple[float, Row] | None = None
        for faces, point in places:
            foot = face.origin + face.axis * float((point - face.origin) @ face.axis)
            wide = float(np.linalg.norm(point - foot))
            spoke = (point - foot) / max(wide, 1e-12)
            moved = self.shape.point_speed(faces, point, spoke)
            if moved is not None and (best is None or wide > best[0] + JOINED):
                best = wide, scaled(added(moved, self.shape.axis_speed(cone, foot, spoke), -1.0), 2.0)
        return None if best is None else best[1]

    def _farthest(self, cone: Face) -> list[tuple[int, Vec]]:
        """Where a conical mouth in a round wall reaches farthest: along the wall, on both sides, each with the wall's face."""
        out: list[tuple[int, Vec]] = []
        for _, o in self.shape.solid.neighbours[cone.index]:
            wall = self.shape.solid.faces[o]
            along = wall.axis - cone.axis * float(wall.axis @ cone.axis)
            if wall.kind not in ("cylinder", "cone") or float(np.linalg.norm(along)) < 0.1:
                continue
            for way in (along / np.linalg.norm(along), -along / np.linalg.norm(along)):
                # A line of the cone's surface, and where it meets the wall.
                line = unit_vector(cone.axis + way * math.tan(cone.half_angle))
                middle = sum(cone.span) / 2 / math.cos(cone.half_angle)
                met = axis_meets(wall, cone.origin, line)
                if met:
                    out.append((o, cone.origin + line * min(met, key=lambda t: abs(t - middle))))
        return out


def bore_of(shape: PartShape, face: int, out: Vec, fixed: bool = False) -> Bore:
    """The bore that an inner cylinder is a wall of; `out` points out of the material at its start, roughly.

    A through bore starts at the end with the larger seat, or, with `fixed`, where `out` points.
    """
    solid = shape.solid
    mine = solid.faces[face]
    radius = shape.motions[face].radius
    walls = shape.bores_by_radius.get(radius, (face,)) if radius is not None else (face,)
    axis = mine.axis if float(mine.axis @ out) > 0 else -mine.axis
    ends = [_end(shape, walls, sense * axis) for sense in (1.0, -1.0)]
    closed = [bool(end.closed) for end in ends]
    lighter = not fixed and closed == [False, False] and _weight(shape, ends[1]) > _weight(shape, ends[0])
    if closed == [True, False] or lighter:
        axis, ends = -axis, ends[::-1]
    return Bore(shape, walls, axis, *ends)


def _weight(shape: PartShape, end: BoreEnd) -> float:
    """A through bore starts at the end with the larger seat."""
    solid = shape.solid
    return max((solid.edges[e].radius for s in end.seats for e in solid.faces[s.wall].edges), default=0.0)


def _end(shape: PartShape, walls: tuple[int, ...], out: Vec) -> BoreEnd:
    solid, seats = shape.solid, list[BoreSeat]()
    line = shape.line_of(solid.faces[walls[0]])
    current, behind = walls, set(walls)
    for _ in range(_MOST_STEPS):
        edge, other = _outermost(shape, current, out, behind)
        if edge is None:
            return BoreEnd("", (), tuple(seats))
        face = solid.faces[other]
        behind.add(other)
        coaxial = face.kind in ("cylinder", "cone", "torus") and shape.line_of(face) == line
        flat = face.kind == "plane" and parallel(face.axis, out)
        if edge.dihedral == "concave" and not seats and current == walls:
            if flat:
                return BoreEnd("floor", (other,), ())
            if face.kind == "cone" and coaxial:
                closed = abs(face.span[0]) < JOINED or abs(face.span[1]) < JOINED
                return BoreEnd("point" if closed else "floor", (other,), ())
        if face.kind == "torus" and coaxial and face.inner and not seats and current == walls:
            # The fillet of a floor: the full diameter ends where it begins.
            return BoreEnd("floor", (other,), ())
        if flat or (face.kind == "cone" and coaxial and face.inner):
            wall = _wider_wall(shape, other, edge, line)
            if wall is not None:
                seats.append(BoreSeat("counterbore", wall, other))
                behind.add(wall)
                current = (wall,)
                continue
        if face.kind == "cone" and coaxial and face.inner:
            seats.append(BoreSeat("cone", other))
            current = (other,)
            continue
        if face.kind == "torus" and coaxial:
            seats.append(BoreSeat("round", other))
            current = (other,)
            continue
        return BoreEnd("", (other,), tuple(seats))
    return BoreEnd("", (), tuple(seats))


def _outermost(shape: PartShape, faces: tuple[int, ...], out: Vec, behind: set[int]) -> tuple[Edge | None, int]:
    """The edge farthest along `out` by which faces border on something new, and what that is."""
    best: tuple[tuple[int, bool], Edge, int] | None = None
    for f in faces:
        for e, o in shape.solid.neighbours[f]:
            if o in behind:
                continue
            edge = shape.solid.edges[e]
            level = max(float(p @ out) for p in (edge.start, edge.middle, edge.end))
            # Where something else breaks into the end as well, the circle around the axis is the end.
            order = (round(level / JOINED), edge.kind == "circle" and parallel(edge.axis, out))
            if best is None or order > best[0]:
                best = (order, edge, o)
    return (None, -1) if best is None else (best[1], best[2])


def _wider_wall(shape: PartShape, floor: int, entry: Edge, line: int) -> int | None:
    """The wall of the counterbore that stands on a floor, if it is one: a wider coaxial bore around it."""
    # Over the few walls on the line, not over the many neighbours that a large floor has.
    solid = shape.solid
    for wall in shape.bores_by_line.get(line, ()):
        if solid.faces[wall].radius < entry.radius + JOINED:
            continue
        for e, o in solid.neighbours[wall]:
            if o == floor and solid.edges[e].dihedral == "concave":
                return wall
            over = solid.faces[o].kind == "torus" and solid.faces[o].inner and solid.edges[e].dihedral == "smooth"
            if over and any(k == floor for _, k in solid.neighbours[o]):
                return wall
    return None
