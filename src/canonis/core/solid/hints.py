"""What the recogniser found of a solid, as plain data: labels for people, faces to measure, volumes to try. It proves
nothing: whoever reads it measures again."""

from dataclasses import dataclass, field

__all__ = ["Found", "Hints", "Lump", "Member"]

Triple = tuple[float, float, float]


@dataclass(frozen=True)
class Lump:
    """Something that is there `count` times and takes away `volume` mm³ each time; `words` name it."""

    label: str
    words: str
    volume: float
    count: int


@dataclass(frozen=True)
class Member:
    """One instance of a feature: a point of it (mm, file axes), the direction it opens to or runs along, its faces."""

    place: Triple
    axis: Triple
    faces: tuple[int, ...]
    #: Of a hole its bore walls, of a slot its two round ends.
    walls: tuple[int, ...] = ()


@dataclass(frozen=True)
class Found:
    """A feature by its label and kind, with its members and the sizes that the recogniser read (mm, degrees)."""

    label: str
    kind: str
    members: tuple[Member, ...]
    sizes: dict[str, float] = field(default_factory=dict)
    #: What is no size: form, on, outline, end.
    words: dict[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Hints:
    """Points that a frame can be named by (label to point, mm), lumps that a mass difference can be explained with, and
    the features."""

    axes: dict[str, Triple] = field(default_factory=dict)
    lumps: tuple[Lump, ...] = ()
    features: tuple[Found, ...] = ()
