"""What the recogniser can find. Lengths mm, angles degrees."""

from dataclasses import dataclass, field
from typing import Any

from canonis.core.features.stacks import size_key
from canonis.core.solid import Vec
from canonis.core.tolerances import SAME

__all__ = ["Blend", "Feature", "Form", "Hole", "HoleGroup", "Pattern", "Piece", "Seat", "Shaft", "Slot"]


@dataclass(frozen=True)
class Seat:
    """A seat at one end of a hole: counterbore, countersink or rim."""

    kind: str
    diameter: float
    depth: float = 0.0
    angle: float = 0.0
    size: float = 0.0

    def key(self) -> tuple[Any, ...]:
        """What makes two seats equal."""
        return (self.kind, *(size_key(x) for x in (self.diameter, self.depth, self.angle, self.size)))


@dataclass(frozen=True, eq=False)
class Hole:
    """One hole. `axis` points out of the material at `start`, where the axis meets the start face."""

    axis: Vec
    start: Vec
    diameter: float
    through: bool
    depth: float | None
    bottom: str | None
    point_angle: float | None
    seats: tuple[Seat, ...]
    far_seats: tuple[Seat, ...]
    faces: tuple[int, ...]
    main_faces: tuple[int, ...]
    grooves: tuple[tuple[float, float, float], ...] = ()
    #: The faces of each groove: its bottom, then its walls.
    groove_faces: tuple[tuple[int, ...], ...] = ()
    length: float = 0.0

    def key(self) -> tuple[Any, ...]:
        """Holes with equal keys share one note; grooves inside have notes of their own."""
        return (
            size_key(self.diameter),
            self.through,
            None if self.depth is None else size_key(self.depth),
            self.bottom,
            tuple(s.key() for s in self.seats),
            tuple(s.key() for s in self.far_seats),
        )


@dataclass(frozen=True)
class Pattern:
    """How the members of a group are arranged."""

    kind: str
    data: dict[str, Any]


@dataclass(frozen=True, eq=False)
class HoleGroup:
    """Equal holes with one axis direction and one start plane."""

    id: str
    holes: tuple[Hole, ...]
    pattern: Pattern | None

    @property
    def first(self) -> Hole:
        """The member that the note points at by default."""
        return self.holes[0]

    @property
    def inner_grooves(self) -> list[tuple[tuple[float, float, float], list[tuple[Hole, tuple[int, ...]]]]]:
        """The sorts of grooves inside the members: width, depth and diameter, mm; and in which holes, with their faces."""
        out: list[tuple[tuple[float, float, float], list[tuple[Hole, tuple[int, ...]]]]] = []
        for hole in self.holes:
            for sizes, faces in zip(hole.grooves, hole.groove_faces, strict=True):
                alike = next((g for s, g in out if max(abs(a - b) for a, b in zip(s, sizes, strict=True)) < SAME), None)
                if alike is None:
                    alike = []
                    out.append((sizes, alike))
                alike.append((hole, faces))
        return out


@dataclass(frozen=True, eq=False)
class Blend:
    """Rounds (`fillet`) or chamfers of one size."""

    id: str
    kind: str
    size: float
    size_b: float
    angle: float
    convex: bool
    count: int
    faces: tuple[int, ...]


@dataclass(frozen=True, eq=False)
class Slot:
    """A straight slot with round ends; `ends` are the two end centres at the open face."""

    id: str
    width: float
    centres: float
    through: bool
    depth: float | None
    axis: Vec
    ends: tuple[Vec, Vec]
    faces: tuple[int, ...]
    end_faces: tuple[int, ...]
    count: int = 1


@dataclass(frozen=True, eq=False)
class Shaft:
    """An outer cylinder of a full turn: a boss when it stands on a face, else a turned diameter."""

    id: str
    diameter: float
    height: float
    axis: Vec
    base: Vec
    top: Vec
    boss: bool
    faces: tuple[int, ...]


@dataclass(frozen=True, eq=False)
class Piece:
    """One compound feature as found: what its kind's entry says of it (mm, degrees), where it is, and its faces.

    `place` is a point of it in the file's axes; `axis` the direction it opens to or runs along. `owns` are the faces
    it takes from the rest, `faces` those it consists of. `sure` tells a rule that always holds from a likely reading.
    """

    kind: str
    data: dict[str, Any]
    axis: Vec
    place: Vec
    faces: tuple[int, ...]
    owns: tuple[int, ...]
    sure: str = "certain"


@dataclass(frozen=True, eq=False)
class Form:
    """Equal pieces of one kind and direction, as one feature."""

    id: str
    pieces: tuple[Piece, ...]
    pattern: "Pattern | None" = None

    @property
    def first(self) -> Piece:
        """The member that gives the form its sizes."""
        return self.pieces[0]

    @property
    def kind(self) -> str:
        """The kind of its members."""
        return self.pieces[0].kind


@dataclass(frozen=True, eq=False)
class Feature:
    """Everything recognised on one solid; each face has exactly one owner.

    `flat` and `free` are the faces that holes, blends, slots and shafts leave over; the compound `forms` lie on them.
    """

    holes: tuple[HoleGroup, ...]
    blends: tuple[Blend, ...]
    slots: tuple[Slot, ...]
    shafts: tuple[Shaft, ...]
    flat: tuple[int, ...]
    free: tuple[int, ...]
    owner: dict[int, str] = field(default_factory=dict)
    forms: tuple[Form, ...] = ()
    #: What repeats of all this, one piece each: it names no feature and owns no face (see `members`).
    alike: tuple["Piece", ...] = ()
