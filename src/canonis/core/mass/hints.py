"""What the recogniser found of a solid, as plain data: labels for people and volumes to try. It proves nothing."""

from dataclasses import dataclass, field

__all__ = ["Hints", "Lump"]

Triple = tuple[float, float, float]


@dataclass(frozen=True)
class Lump:
    """Something that is there `count` times and takes away `volume` mm³ each time; `words` name it."""

    label: str
    words: str
    volume: float
    count: int


@dataclass(frozen=True)
class Hints:
    """Points that a frame can be named by (label to point, mm), and lumps that a mass difference can be explained with."""

    axes: dict[str, Triple] = field(default_factory=dict)
    lumps: tuple[Lump, ...] = ()
