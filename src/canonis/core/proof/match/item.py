"""A thing that a line of a source can mean: its sizes measured afresh, with their rows."""

from dataclasses import dataclass, field

from canonis.core.shape import Row
from canonis.core.solid import Vec

__all__ = ["Item", "Line", "Size"]


@dataclass(frozen=True, eq=False)
class Size:
    """A size of a feature (mm, degrees, or yes) with the rows that state it, one a member."""

    value: float | bool
    rows: tuple[Row, ...] = ()


@dataclass(frozen=True, eq=False)
class Line:
    """An axis of a feature: a round face of it, a point, the direction and the radius (mm)."""

    face: int
    point: Vec
    axis: Vec
    radius: float


@dataclass(frozen=True, eq=False)
class Item:
    """Like features as one thing: label, kind, how many, sizes by the name of a characteristic's part, axes, faces."""

    label: str
    kind: str
    count: int
    sizes: dict[str, Size]
    axis: Vec
    faces: frozenset[int]
    lines: tuple[Line, ...] = ()
    points: tuple[Vec, ...] = ()
    centre: Vec | None = None
    #: Kinds of seat at the near and at the far end of a hole.
    seats: tuple[tuple[str, ...], tuple[str, ...]] = ((), ())
    words: dict[str, str] = field(default_factory=dict)
    #: What it costs when no line of the source says it, of what a hole costs.
    weight: float = 1.0
    #: Another way to count its members: holes in one line as one, the faces of a round each.
    also: int = 0

    @property
    def polygon(self) -> bool:
        """Whether its outline is a regular polygon."""
        return self.words.get("outline") == "polygon"

    @property
    def likeness(self) -> tuple[object, ...]:
        """What it shares with others that a count would speak of together: its kind and every size."""
        sizes = ((n, round(s.value, 3) if isinstance(s.value, float) else s.value) for n, s in self.sizes.items())
        return (self.kind, *sorted(sizes, key=str))

    def value(self, name: str) -> float | bool | None:
        """A size by name."""
        size = self.sizes.get(name)
        return None if size is None else size.value
