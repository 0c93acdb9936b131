"""What is said of a line of a source, before the sheet is looked at."""

from dataclasses import dataclass, field, replace
from typing import Literal

from canonis.core.proof.match.item import Item
from canonis.core.proof.match.levels import Level, Levels
from canonis.core.proof.match.tally import Difference
from canonis.core.shape import Row

__all__ = ["Forced", "Rival", "SourceMatch", "State", "Verdict"]

#: A place that a person chose: the sort of measure, the size of a feature, and references.
Forced = tuple[str, str, tuple[str, ...]]
State = Literal["fits", "differs", "ambiguous", "no-place", "reference", "unread"]


@dataclass(frozen=True, eq=False)
class Rival:
    """Another measure that a line could mean as well: what it is, its value (mm or degrees) and the faces that show it."""

    words: str
    value: float
    faces: tuple[int, ...]
    key: tuple[object, ...] = ()
    levels: tuple[Level, ...] = ()


@dataclass(frozen=True, eq=False)
class Verdict:
    """What the part says of one line: its state, the measure in words, its value, faces and rows, why, and the rivals.

    `group` are other lines of the same value that could change places with it.
    """

    number: str
    state: State
    measure: str = ""
    value: float | None = None
    target: float | None = None
    reason: str = ""
    slip: str = ""
    faces: tuple[int, ...] = ()
    rows: tuple[Row, ...] = ()
    differences: tuple[Difference, ...] = ()
    rivals: tuple[Rival, ...] = ()
    group: tuple[str, ...] = ()
    keys: tuple[tuple[object, ...], ...] = ()
    count: int | None = None
    items: tuple[Item, ...] = ()
    levels: tuple[Level, ...] = ()
    angle: bool = False


@dataclass(frozen=True, eq=False)
class SourceMatch:
    """The verdicts by number, and what of the part no line reaches."""

    verdicts: dict[str, Verdict]
    unreached: tuple[Level, ...] = ()
    unexplained: tuple[Item, ...] = ()
    optimal: bool = True
    levels: Levels | None = None
    #: Pairs of lines that contradict one another: (number, other numbers, words).
    contradictions: tuple[tuple[str, tuple[str, ...], str], ...] = ()
    note: str = ""
    #: Values of the assignment, to start from when a line changes.
    memory: dict[tuple[str, tuple[object, ...]], int] = field(default_factory=dict)
    #: Whether rivals were looked for.
    asked: bool = True

    def detached(self) -> "SourceMatch":
        """The match without the part, to be kept."""
        return replace(self, levels=None)

    def attached(self, levels: Levels) -> "SourceMatch":
        """A kept match on its part again."""
        by_label = {i.label: i for i in levels.items}

        def here(marks: tuple[Level, ...]) -> tuple[Level, ...]:
            return tuple(levels.all[n.index] for n in marks)

        verdicts = {
            number: replace(
                v,
                levels=here(v.levels),
                items=tuple(by_label[i.label] for i in v.items),
                rivals=tuple(replace(r, levels=here(r.levels)) for r in v.rivals),
            )
            for number, v in self.verdicts.items()
        }
        unexplained = tuple(by_label[i.label] for i in self.unexplained)
        return replace(self, levels=levels, verdicts=verdicts, unreached=here(self.unreached), unexplained=unexplained)
