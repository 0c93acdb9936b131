"""All that recognition says to whoever draws: bores, threads, ribs."""

from dataclasses import dataclass

from canonis.core.solid import Vec
from canonis.core.view import Thread

__all__ = ["BoreMark", "BoreMarks", "Marks"]


@dataclass(frozen=True, eq=False)
class BoreMark:
    """What is drawn around a bore: where it starts and ends on its axis (mm), its diameter and those of its seats."""

    start: Vec
    end: Vec
    diameter: float
    seats: tuple[float, ...]


#: The bores of a solid by the faces of their walls.
BoreMarks = dict[int, BoreMark]


@dataclass(frozen=True, eq=False)
class Marks:
    """What was recognised of a solid that changes how its lines are drawn."""

    bores: BoreMarks
    threads: tuple[Thread, ...] = ()
    #: The faces of every rib and web.
    ribs: tuple[tuple[int, ...], ...] = ()
