"""The unknowns of a part: what of each face is free before a drawing says anything, and how each face moves with it.

Levels of planes and of axes in the part's own frame, angles of what leans, radii, half angles; a free-form face is one
unknown that only a note can fix. Radii, floors and seats are not merged because they happen to be equal: a count, a note
or a ring is what ties them, and a forgotten member stays free.
"""

import copy
import math
from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal, Self

import numpy as np

from canonis.core.shape.frame import directions, own_frame
from canonis.core.shape.rows import Row, added
from canonis.core.shape.surfaces import (
    Lines,
    is_blend,
    is_enclosed,
    is_full_turn,
    is_side_of_round_ends,
    normal_at,
)
from canonis.core.solid import Face, Solid, Vec, unit_vector
from canonis.core.tolerances import FITTED, JOINED, NOISE, NOTHING, ROUNDING, runs_along, same, same_place, same_way

__all__ = ["Motion", "PartShape", "Unknown", "UnknownKind"]

UnknownKind = Literal["level", "angle", "radius", "half-angle", "ring-radius", "tube-radius", "centre", "free"]
#: Directions are along one another beyond this cosine (4e-6 rad), and square to one another below the sine of 1e-6.
_ACROSS = 1e-6
#: Parts of a normal smaller than this are noise of the file.
_SNAP = 1e-5


@dataclass(eq=False)
class Unknown:
    """One thing that a drawing must fix: its kind, its value in the model (mm or radians) and the faces it moves.

    `direction` is that of a level; `holder` tells what the level belongs to: plane, axis, blend, floor, apex or centre.
    """

    kind: UnknownKind
    value: float
    direction: Vec | None = None
    holder: str = ""
    faces: set[int] = field(default_factory=set)


@dataclass(frozen=True)
class _Frame:
    """Three directions (rows) and the unknown angles that turn them: pairs of an axis and an unknown."""

    base: Vec
    turns: tuple[tuple[Vec, int], ...] = ()


@dataclass(frozen=True)
class Motion:
    """How a face moves: along each of `axes` with its level, about each of `turns` with its angle, and by its sizes."""

    axes: tuple[tuple[Vec, int], ...] = ()
    turns: tuple[tuple[Vec, int], ...] = ()
    radius: int | None = None
    half_angle: int | None = None
    ring: int | None = None
    tube: int | None = None
    free: int | None = None
    blend: bool = False


class PartShape:
    """The unknowns of a solid and the motion of each of its faces."""

    def __init__(self, solid: Solid) -> None:
        self.solid = solid
        self.unknowns: list[Unknown] = []
        self.middle = (solid.box[0] + solid.box[1]) / 2
        self._frames = [_Frame(own_frame(solid))]
        self._ways: list[tuple[int, int]] = []
        self._levels: dict[tuple[int, int, object], dict[int, int]] = defaultdict(dict)
        self._radii: dict[tuple[object, ...], int] = {}
        self._lines = Lines()
        #: How the outermost level along a direction moves, for directions asked for before (see `statements`).
        self.extremes: dict[tuple[float, ...], Row | None] = {}
        self._find_ways()
        self.motions: list[Motion] = []
        for face in solid.faces:
            self.motions.append(self._motion(face))

    @property
    def frame(self) -> Vec:
        """The part's own three directions, as rows."""
        return self._frames[0].base

    def overlay(self) -> Self:
        """The same part, to which statements may add unknowns of their own (the centres of rings): those stay with it."""
        made = copy.copy(self)
        made.unknowns = list(self.unknowns)
        return made

    @cached_property
    def bores_by_radius(self) -> dict[object, tuple[int, ...]]:
        """The walls of bores by the unknown of their radius."""
        out: dict[object, list[int]] = defaultdict(list)
        for f in self.solid.faces:
            if f.kind == "cylinder" and f.inner:
                out[self.motions[f.index].radius].append(f.index)
        return {k: tuple(v) for k, v in out.items()}

    @cached_property
    def bores_by_line(self) -> dict[int, tuple[int, ...]]:
        """The walls of bores by the line of their axis."""
        out: dict[int, list[int]] = defaultdict(list)
        for f in self.solid.faces:
            if f.kind == "cylinder" and f.inner:
                out[self.line_of(f)].append(f.index)
        return {k: tuple(v) for k, v in out.items()}

    def line_of(self, face: Face) -> int:
        """The number of the line that the axis of a round face lies on."""
        return self._lines.number(face.axis, face.origin)

    # Unknowns

    def new(
        self, kind: UnknownKind, value: float, faces: Iterable[int] = (), direction: Vec | None = None, holder: str = ""
    ) -> int:
        """A further unknown."""
        self.unknowns.append(Unknown(kind, value, direction, holder, set(faces)))
        return len(self.unknowns) - 1

    def _find_ways(self) -> None:
        """Which frame carries each direction of the part: its own one, or one that leans by unknown angles."""
        own = self.frame
        straight, leaning = [], []
        for d, _ in directions(self.solid):
            share = np.abs(own @ d)
            if runs_along(float(share.max()), ROUNDING):
                straight.append(d)
                self._ways.append((0, int(share.argmax())))
            else:
                leaning.append(d)
        self._way_table = np.array([*straight, *leaning]).reshape(-1, 3)
        for d in leaning:
            known = self._carried(d)
            if known is not None:
                number, axis = known
                frame = self._frames[number]
                if len(frame.turns) == 2 and axis != 0:
                    # A second direction of a wholly odd frame: it takes the third angle.
                    turn = (frame.base[0], self.new("angle", 0.0, direction=frame.base[0]))
                    self._frames[number] = _Frame(frame.base, (*frame.turns, turn))
                self._ways.append((number, axis))
                continue
            self._frames.append(self._leaning_frame(d, leaning))
            self._ways.append((len(self._frames) - 1, 0))

    def _carried(self, d: Vec) -> tuple[int, int] | None:
        if len(self._frames) == 1:
            return None
        share = np.abs(np.stack([f.base for f in self._frames[1:]]) @ d)
        number, axis = divmod(int(share.argmax()), 3)
        return (number + 1, axis) if runs_along(float(share.max()), ROUNDING) else None

    def _leaning_frame(self, d: Vec, others: list[Vec]) -> _Frame:
        own = self.frame
        share = own @ d
        square = [k for k in range(3) if abs(float(share[k])) < _ACROSS]
        if square:
            # It lies in one view: a single angle, and the third direction is the part's own.
            k = square[0]
            base = np.array([d, np.cross(own[k], d), own[k]])
            lean = math.atan2(float(share[(k + 2) % 3]), float(share[(k + 1) % 3]))
            return _Frame(base, ((own[k], self.new("angle", lean, direction=own[k])),))
        aside = np.abs(np.array(others) @ d)
        if float(aside.min()) < 10 * NOTHING:
            partner = others[int(aside.argmin())]
        else:
            partner = unit_vector(np.cross(d, own[int(np.argmin(np.abs(share)))]))
        base = np.array([d, partner, np.cross(d, partner)])
        turns = tuple((base[k], self.new("angle", 0.0, direction=base[k])) for k in (1, 2))
        return _Frame(base, turns)

    def _way(self, d: Vec) -> tuple[int, int]:
        return self._ways[int(np.argmax(np.abs(self._way_table @ d)))]

    def _axis(self, number: int, axis: int) -> tuple[int, int]:
        """The same axis, in the part's own frame where a leaning frame shares it."""
        if number and axis == 2 and len(self._frames[number].turns) == 1:
            return 0, int(np.argmax(np.abs(self.frame @ self._frames[number].base[2])))
        return number, axis

    def _level(self, number: int, axis: int, point: Vec, face: int, holder: str, token: object) -> tuple[Vec, int]:
        number, axis = self._axis(number, axis)
        u = self._frames[number].base[axis]
        value = float(point @ u)
        known = self._levels[(number, axis, token)]
        cell = math.floor(value / JOINED)
        for near in (cell, cell - 1, cell + 1):
            if near in known and abs(self.unknowns[known[near]].value - value) < JOINED:
                self.unknowns[known[near]].faces.add(face)
                return u, known[near]
        known[cell] = self.new("level", value, (face,), u, holder)
        return u, known[cell]

    def _radius(self, face: Face, kind: UnknownKind, size: float) -> int:
        """The radius of a round face; pieces of one surface share it, two journals of a shaft do not."""
        where: object
        if face.kind == "sphere":
            where = tuple(np.round(face.origin, 3))
        elif face.kind == "cylinder" and not face.inner and is_full_turn(face):
            where = ("turned", face.index)
        elif face.kind == "cylinder":
            where = self.line_of(face)
        else:
            where = face.index
        key = (kind, face.inner, where, round(size, 3))
        if key not in self._radii:
            self._radii[key] = self.new(kind, size)
        self.unknowns[self._radii[key]].faces.add(face.index)
        return self._radii[key]

    # Motions

    def _motion(self, face: Face) -> Motion:
        if face.kind == "free":
            return Motion(free=self.new("free", 0.0, (face.index,)))
        if face.kind == "plane":
            return self._plane(face)
        blend = is_blend(self.solid, face)
        holder = "blend" if blend else "axis"
        if face.kind == "sphere":
            token: object = (holder, tuple(np.round(face.origin, 3)))
            axes = tuple(self._level(0, k, face.origin, face.index, holder, token) for k in range(3))
            return Motion(axes, radius=self._radius(face, "radius", face.radius), blend=blend)
        number, axis = self._axis(*self._way(face.axis))
        frame = self._frames[number]
        token = ("blend", face.index) if blend else ("axis", self.line_of(face))
        twin = self._twin(face)
        if twin is not None:
            return twin
        axes = tuple(self._level(number, k, face.origin, face.index, holder, token) for k in range(3) if k != axis)
        if face.kind == "cylinder":
            return Motion(axes, frame.turns, radius=self._radius(face, "radius", face.radius), blend=blend)
        along = self._level(
            number, axis, face.origin, face.index, "apex" if face.kind == "cone" else "centre", (face.kind, face.index)
        )
        axes = (*axes, along)
        if face.kind == "cone":
            return Motion(axes, frame.turns, half_angle=self._radius(face, "half-angle", face.half_angle), blend=blend)
        return Motion(
            axes,
            frame.turns,
            ring=self._radius(face, "ring-radius", face.radius),
            tube=self._radius(face, "tube-radius", face.minor),
            blend=blend,
        )

    def _plane(self, face: Face) -> Motion:
        number, axis = self._axis(*self._way(face.axis))
        frame = self._frames[number]
        u = frame.base[axis]
        token: object = ("plane", float(face.axis @ u) > 0)
        holder = "plane"
        if is_enclosed(self.solid, face) or is_side_of_round_ends(self.solid, face):
            token, holder = ("floor", face.index), "floor"
        return Motion((self._level(number, axis, face.origin, face.index, holder, token),), frame.turns)

    def _twin(self, face: Face) -> Motion | None:
        """The motion of an earlier piece of the same cone or torus."""
        if face.kind == "cylinder":
            return None
        for other in self.solid.faces[: face.index]:
            alike = other.kind == face.kind and other.inner is face.inner and same_way(other.axis, face.axis)
            if (
                alike
                and same_place(other.origin, face.origin, JOINED)
                and (
                    same(other.half_angle, face.half_angle, NOISE)
                    and abs(other.radius - face.radius) < JOINED
                    and abs(other.minor - face.minor) < JOINED
                )
            ):
                return self.motions[other.index]
        return None

    # How things move

    def speed(self, face: int, point: Vec) -> Row:
        """How fast a face moves along its own normal at one of its points, for each unknown."""
        motion, surface = self.motions[face], self.solid.faces[face]
        if motion.free is not None:
            return {motion.free: 1.0}
        n = normal_at(surface, point)
        row: Row = {}
        for u, unknown in motion.axes:
            share = float(n @ u)
            if abs(share) > _SNAP:
                row = added(row, {unknown: share})
        arm = (point - self.middle) / self.solid.diagonal
        for w, unknown in motion.turns:
            share = float(n @ np.cross(w, arm))
            if abs(share) > _SNAP:
                row = added(row, {unknown: share})
        sense = -1.0 if surface.inner else 1.0
        if motion.radius is not None:
            row = added(row, {motion.radius: sense})
        if motion.half_angle is not None:
            row = added(
                row, {motion.half_angle: sense * float(np.linalg.norm(point - surface.origin)) / self.solid.diagonal}
            )
        if motion.ring is not None and motion.tube is not None:
            arm = point - surface.origin
            spoke = arm - surface.axis * float(arm @ surface.axis)
            if float(np.linalg.norm(spoke)) > NOTHING:
                row = added(row, {motion.ring: float(n @ unit_vector(spoke))})
            row = added(row, {motion.tube: sense})
        return row

    def axis_speed(self, face: int, point: Vec, d: Vec) -> Row:
        """How fast the axis (or centre) of a round face moves along `d` at `point` of it."""
        motion, row = self.motions[face], Row()
        for u, unknown in motion.axes:
            share = float(d @ u)
            if abs(share) > _SNAP:
                row = added(row, {unknown: share})
        for w, unknown in motion.turns:
            share = float(d @ np.cross(w, (point - self.middle) / self.solid.diagonal))
            if abs(share) > _SNAP:
                row = added(row, {unknown: share})
        return row

    def point_speed(self, faces: Iterable[int], point: Vec, d: Vec) -> Row | None:
        """How fast the point where faces meet moves along `d`; None when they do not fix it in that direction."""
        firm = [f for f in faces if self.motions[f].free is None]
        if not firm:
            return None
        normals = np.array([normal_at(self.solid.faces[f], point) for f in firm])
        shares, *_ = np.linalg.lstsq(normals.T, d, rcond=1e-6)
        if float(np.linalg.norm(normals.T @ shares - d)) > FITTED:
            return None
        row: Row = {}
        for f, share in zip(firm, shares, strict=True):
            if abs(share) > NOTHING / 10:
                row = added(row, self.speed(f, point), float(share))
        return row
