"""The levels of a part along each of its directions, and the lengths between them that a line of a source can mean."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

import numpy as np

from canonis.core.proof.known import thing_of
from canonis.core.proof.match.item import Item
from canonis.core.shape import PartShape, Row, extreme_row
from canonis.core.solid import Edge, Face
from canonis.core.tolerances import ALIGNED, ROUNDING, on_axis, parallel, runs_along, square

__all__ = ["LEVEL", "Angle", "Level", "Levels", "Pitch"]

#: Levels nearer than this are one for whoever reads a print, mm: files round.
LEVEL = 2e-3
#: Sensible lean of a face, degrees.
_LEAST_LEAN = 0.05


@dataclass(eq=False)
class Level:
    """One level along one direction of the part's frame: its value (mm) and what stands there.

    `kinds`: plane, sub (a flat face of a small feature), axis, tangent, corner, box, middle. `needed` ones must be reached
    by a sufficient source. `radii` are those of round faces whose axis stands here; `looks` the senses of its planes.
    """

    index: int
    way: int
    value: float
    kinds: set[str] = field(default_factory=set)
    owners: set[str] = field(default_factory=set)
    needed: bool = False
    radii: set[float] = field(default_factory=set)
    looks: set[int] = field(default_factory=set)
    rows: list[Row] = field(default_factory=list)
    faces: set[int] = field(default_factory=set)
    #: How many axes of features stand here: each may be located by a line of its own.
    axes: int = 0

    @property
    def features(self) -> set[str]:
        """Labels of the features that stand at this level."""
        return self.owners - {"flat", "box", "middle", "lean"}


@dataclass(frozen=True, eq=False)
class Pitch:
    """Equal steps of a row of like things along one direction: one measure, however many steps."""

    way: int
    step: float
    levels: tuple[Level, ...]
    label: str
    width: float


@dataclass(frozen=True, eq=False)
class Angle:
    """An angle that the part has, degrees, with the faces that make it, its row and the levels of its corners."""

    key: tuple[str, int]
    value: float
    words: str
    faces: tuple[int, ...]
    row: Row
    levels: tuple[Level, ...] = ()
    #: Faces that lean alike: the same angle in several places is one measure.
    lean: int = -1


class Levels:
    """All levels, pitches and angles of a part."""

    def __init__(self, shape: PartShape, items: Sequence[Item]) -> None:
        self.shape, self.solid, self.frame = shape, shape.solid, shape.frame
        self.items = items
        self.all: list[Level] = []
        self._cells: dict[tuple[int, int], list[Level]] = {}
        self.pitches: list[Pitch] = []
        self.angles: list[Angle] = []
        #: Of features with several axes of which one must be reached: label and its levels.
        self.groups: list[tuple[str, tuple[Level, ...]]] = []
        self._owner: dict[int, Item] = {}
        for item in items:
            if thing_of(item.kind).claims:
                for f in item.faces:
                    self._owner.setdefault(f, item)
        self._planes()
        self._leaning()
        for item in items:
            self._axes(item)
        self._edges()
        self.low, self.high, self.middle = self._box()
        self.all.sort(key=lambda n: (n.way, n.value))
        for k, level in enumerate(self.all):
            level.index = k
        self._cones()

    def along(self, way: int) -> list[Level]:
        """The levels along one direction, in their order."""
        return [n for n in self.all if n.way == way]

    def at(self, way: int, value: float) -> Level | None:
        """The level at a value, if there is one."""
        cell = math.floor(value / LEVEL)
        near = [
            n for c in (cell - 1, cell, cell + 1) for n in self._cells.get((way, c), ()) if abs(n.value - value) < LEVEL
        ]
        return min(near, key=lambda n: abs(n.value - value), default=None)

    def _add(
        self,
        way: int,
        value: float,
        kind: str,
        owner: str,
        *,
        needed: bool = False,
        row: Row | None = None,
        faces: Iterable[int] = (),
    ) -> Level:
        level = self.at(way, value)
        if level is None:
            level = Level(len(self.all), way, value)
            self.all.append(level)
            self._cells.setdefault((way, math.floor(value / LEVEL)), []).append(level)
        level.kinds.add(kind)
        level.owners.add(owner)
        level.needed = level.needed or needed
        level.faces |= set(faces)
        if row and len(level.rows) < 6 and row not in level.rows:
            level.rows.append(row)
        return level

    def _planes(self) -> None:
        for face in self.solid.faces:
            if face.kind != "plane":
                continue
            for way, u in enumerate(self.frame):
                share = float(face.axis @ u)
                if not runs_along(share, ALIGNED):
                    continue
                owner = self._owner.get(face.index)
                sub = owner is not None and (
                    _keeps_faces(owner) or (owner.polygon and abs(float(owner.axis @ u)) < 0.5)
                )
                row = self.shape.speed(face.index, face.centre)
                sense = 1.0 if share > 0 else -1.0
                level = self._add(
                    way,
                    float(face.origin @ u),
                    "sub" if sub else "plane",
                    owner.label if owner else "flat",
                    needed=not sub,
                    row={k: v * sense for k, v in row.items()},
                    faces=(face.index,),
                )
                level.looks.add(1 if share > 0 else -1)

    def _leaning(self) -> None:
        """Angles of planes that lean in one view, and the corners that they make."""
        seen: dict[tuple[object, ...], list[Face]] = {}
        for face in self.solid.faces:
            if face.kind != "plane" or on_axis(self.frame @ face.axis, ALIGNED):
                continue
            owner = self._owner.get(face.index)
            if owner is not None and (_keeps_faces(owner) or owner.polygon):
                continue
            across = [k for k in range(3) if square(self.frame[k], face.axis)]
            if len(across) == 1:
                key = (across[0], *np.round(face.axis, 5), round(face.offset, 3))
                seen.setdefault(key, []).append(face)
        for number, ((k, *_), faces) in enumerate(seen.items()):
            way = int(k)  # type: ignore[call-overload]
            across = [a for a in range(3) if a != way]
            corners: list[Level] = []
            for face in faces:
                for e in face.edges:
                    edge = self.solid.edges[e]
                    if edge.kind != "line" or not parallel(edge.axis, self.frame[way], ALIGNED):
                        continue
                    for a in across:
                        row = self.shape.point_speed(edge.faces, edge.middle, self.frame[a])
                        corners.append(
                            self._add(
                                a, float(edge.middle @ self.frame[a]), "corner", "lean", row=row, faces=edge.faces
                            )
                        )
            face = faces[0]
            one, other = (abs(float(face.axis @ self.frame[a])) for a in across)
            lean = math.degrees(math.atan2(one, other))
            turns = self.shape.motions[face.index].turns
            row = {turns[0][1]: 1.0} if turns else {}
            indices = tuple(f.index for f in faces)
            for n, value in enumerate((lean, 90 - lean)):
                self.angles.append(
                    Angle(
                        ("lean", 2 * number + n),
                        value,
                        f"lean of the face at {self._point(face)}",
                        indices,
                        row,
                        tuple(dict.fromkeys(corners)),
                        number,
                    )
                )
        self._between(seen)

    def _between(self, seen: dict[tuple[object, ...], list[Face]]) -> None:
        """Included angles of leaning planes that lean in one view."""
        faces = [(int(k[0]), f[0]) for k, f in seen.items()]  # type: ignore[call-overload]
        count = 0
        for i, (way, a) in enumerate(faces):
            for other, b in faces[i + 1 :]:
                if way != other or len(faces) > 24:
                    continue
                between = 180 - math.degrees(math.acos(max(-1.0, min(1.0, float(a.axis @ b.axis)))))
                turns = [self.shape.motions[f.index].turns for f in (a, b)]
                row: Row = {}
                for t in turns:
                    if t:
                        row[t[0][1]] = row.get(t[0][1], 0.0) + 1.0
                if _LEAST_LEAN < between < 180 - _LEAST_LEAN:
                    self.angles.append(
                        Angle(("between", count), between, "angle between two leaning faces", (a.index, b.index), row)
                    )
                    count += 1

    def _cones(self) -> None:
        """Half and included angles of cones that no hole or chamfer owns, the lean of drafted faces, turns of bends."""
        count = 0
        for item in self.items:
            if thing_of(item.kind).angled:
                for name in ("angle", "sweep", "half-angle"):
                    size = item.sizes.get(name)
                    if size is not None and isinstance(size.value, float):
                        self.angles.append(
                            Angle(
                                (item.label, count),
                                size.value,
                                f"{name} of {item.label}",
                                tuple(sorted(item.faces)),
                                size.rows[0] if size.rows else {},
                            )
                        )
                        count += 1
        for face in self.solid.faces:
            half = self.shape.motions[face.index].half_angle
            owner = self._owner.get(face.index)
            if face.kind != "cone" or half is None or (owner is not None and thing_of(owner.kind).conical):
                continue
            degrees = math.degrees(face.half_angle)
            for value, share in ((degrees, 1.0), (2 * degrees, 2.0), (90 - degrees, -1.0)):
                self.angles.append(
                    Angle(
                        ("cone", count),
                        value,
                        f"angle of the cone at {self._point(face)}",
                        (face.index,),
                        {half: share},
                    )
                )
                count += 1

    def _point(self, face: Face) -> str:
        return "(" + ", ".join(f"{float(c):.4g}" for c in face.centre) + ")"

    def _axes(self, item: Item) -> None:
        known = thing_of(item.kind)
        if not known.axes:
            return
        ring = "pitch-circle" in item.sizes
        groups: dict[int, list[Level]] = {}
        for line in item.lines:
            for way, u in enumerate(self.frame):
                if not square(u, line.axis):
                    continue
                row = self.shape.axis_speed(line.face, line.point, u) if line.face >= 0 else None
                needed = known.axes == "needed" and not ring
                level = self._add(
                    way,
                    float(line.point @ u),
                    "axis",
                    item.label,
                    needed=needed,
                    row=row,
                    faces=(line.face,) if line.face >= 0 else (),
                )
                level.radii.add(round(line.radius, 4))
                level.axes += needed
                groups.setdefault(way, []).append(level)
        if known.by_ends:
            for way, g in groups.items():
                if item.kind == "slot" and len(g) == 2 and g[0] is not g[1]:
                    # A slot stands by its middle as well.
                    row = (
                        {k: v / 2 for n in g for k, v in (n.rows[0] if n.rows else {}).items()}
                        if all(n.rows for n in g)
                        else None
                    )
                    g.append(self._add(way, (g[0].value + g[1].value) / 2, "axis", item.label, row=row))
                self.groups.append((item.label, tuple(dict.fromkeys(g))))
        if ring and item.centre is not None:
            for way, u in enumerate(self.frame):
                if square(u, item.axis):
                    level = self._add(way, float(item.centre @ u), "axis", item.label + " centre", needed=True)
                    size = item.sizes["pitch-circle"].value
                    level.radii.add(round(float(size) / 2, 4))
        if not ring and not known.by_ends:
            self._pitches(item, groups)

    def _pitches(self, item: Item, groups: dict[int, list[Level]]) -> None:
        for way, levels in groups.items():
            mine = sorted(dict.fromkeys(levels), key=lambda n: n.value)
            steps = np.diff([n.value for n in mine])
            if len(mine) > 2 and float(np.ptp(steps)) < LEVEL:
                wide = item.sizes.get("diameter") or item.sizes.get("width")
                width = float(wide.value) if wide is not None else 0.0
                self.pitches.append(Pitch(way, float(steps.mean()), tuple(mine), item.label, width))

    def _edges(self) -> None:
        """Tangent lines of rounds, rims of chamfers and cones: places that people measure to, rightly or not."""
        for item in self.items:
            if not thing_of(item.kind).breaks_edge:
                continue
            for f in item.faces:
                for e in self.solid.faces[f].edges:
                    self._edge(self.solid.edges[e], "tangent", item.label)
        for face in self.solid.faces:
            if face.kind == "cone" and face.index not in self._owner:
                for e in face.edges:
                    self._edge(self.solid.edges[e], "corner", "lean")

    def _edge(self, edge: Edge, kind: str, owner: str) -> None:
        if edge.kind == "line":
            for way, u in enumerate(self.frame):
                if square(edge.axis, u):
                    row = self.shape.point_speed(edge.faces, edge.middle, u)
                    self._add(way, float(edge.middle @ u), kind, owner, row=row, faces=edge.faces)
        elif edge.kind == "circle":
            for way, u in enumerate(self.frame):
                if parallel(edge.axis, u, ALIGNED):
                    row = self.shape.point_speed(edge.faces, edge.middle, u)
                    self._add(way, float(edge.centre @ u), kind, owner, row=row, faces=edge.faces)

    def _box(self) -> tuple[list[Level], list[Level], list[Level]]:
        corners = np.array([p for e in self.solid.edges for p in (e.start, e.middle, e.end)]).reshape(-1, 3)
        lows, highs, middles = [], [], []
        for way, u in enumerate(self.frame):
            ends = []
            for sense in (-1.0, 1.0):
                aligned = on_axis(u, ROUNDING)
                value = (
                    float(np.maximum(self.solid.box[0] * u * sense, self.solid.box[1] * u * sense).sum())
                    if aligned
                    else (float((corners @ (u * sense)).max()))
                )
                row = extreme_row(self.shape, u * sense)
                ends.append(
                    self._add(
                        way,
                        value * sense,
                        "box",
                        "box",
                        row=None if row is None else {k: v * sense for k, v in row.items()},
                    )
                )
            low, high = ends
            for level in ends:
                level.needed = level.needed or bool(level.kinds & {"plane", "sub"})
            lows.append(low)
            highs.append(high)
            middles.append(self._add(way, (low.value + high.value) / 2, "middle", "middle"))
        return lows, highs, middles

    def words(self, level: Level) -> str:
        """What a level is called."""
        axis = "xyz"[int(np.argmax(np.abs(self.frame[level.way])))]
        if level is self.low[level.way] or level is self.high[level.way]:
            upper = level is self.high[level.way]
            return {"x": ("left", "right"), "y": ("front", "back"), "z": ("bottom", "top")}[axis][upper] + (
                " end" if "plane" not in level.kinds else " face"
            )
        holes = sorted(n for n in level.features if "axis" in level.kinds)
        if holes:
            return ("axis of " if len(holes) == 1 else "axes of ") + ", ".join(holes[:3])
        if level.kinds == {"middle"}:
            return "middle of the part"
        names = sorted(level.features)
        of = f" of {names[0]}" if names else ""
        kind = "face" if level.kinds & {"plane", "sub"} else "corner" if "corner" in level.kinds else "tangent line"
        return f"{kind}{of} at {axis} = {level.value:.4g}"

    def mirrored(self, a: Level, b: Level) -> tuple[int, int] | None:
        """The same length on the other side of the middle, where the same things stand: its levels by number."""
        total = self.low[a.way].value + self.high[a.way].value
        c, d = self.at(a.way, total - a.value), self.at(a.way, total - b.value)
        if c is None or d is None or {c.index, d.index} == {a.index, b.index}:
            return None

        def names(n: Level) -> frozenset[str]:
            return frozenset(x for x in n.features if x[:1] not in "FC")

        if {names(a), names(b)} != {names(c), names(d)}:
            return None
        return min(c.index, d.index), max(c.index, d.index)


def _keeps_faces(item: Item) -> bool:
    """Whether the flat faces of a feature are sizes of it and no levels of the part; those of a channel are levels."""
    return thing_of(item.kind).keeps_faces and (item.kind != "slot" or bool(item.lines))
