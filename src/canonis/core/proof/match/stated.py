"""What a source says of a part as unknowns of one assignment: a choice for each candidate, and what choices cost."""

from collections import defaultdict
from collections.abc import Sequence
from typing import Any

from canonis.core.proof.known import meant_by
from canonis.core.proof.match.candidates import Candidate, is_compared
from canonis.core.proof.match.levels import Levels
from canonis.core.proof.match.orientation import Orientation
from canonis.core.proof.match.prices import PRICES
from canonis.core.proof.match.words import Words
from canonis.core.source import Characteristic

__all__ = ["Stated"]


def _leaders(lines: Sequence[Characteristic], words: Sequence[Words]) -> dict[int, int]:
    """Of each line the first that says the same of features: each hole of a row may have a line of its own."""
    first: dict[tuple[object, ...], int] = {}
    out = {}
    for number, (c, w) in enumerate(zip(lines, words, strict=True)):
        feature = meant_by(c.kind).places == "feature" and not c.reference and c.error is None
        parts = tuple((p.name, p.nominal, p.lower, p.upper, p.designation) for p in c.parts)
        key = (c.kind, parts, c.detail, c.name.lower(), w.view, c.provenance) if feature else (number,)
        out[number] = first.setdefault(key, number)
    return out


class Stated:
    """The choices of one source on one part, before anything is asked of them."""

    def __init__(
        self,
        levels: Levels,
        lines: Sequence[Characteristic],
        candidates: Sequence[Candidate],
        words: Sequence[Words],
        front: Orientation | None = None,
        defaults: Sequence[tuple[str, float]] = (),
    ) -> None:
        from ortools.sat.python import cp_model

        self.cp = cp_model
        self.levels, self.lines, self.candidates, self.words = levels, lines, candidates, words
        self.model = cp_model.CpModel()
        self.front, self.defaults = front, defaults
        self.costs: list[tuple[int, Any]] = []
        #: Lines that say the same of features are one in the problem: the first of them.
        self.leader = _leaders(lines, words)
        self.bundle: dict[int, list[int]] = defaultdict(list)
        for number, lead in self.leader.items():
            self.bundle[lead].append(number)
        # What a follower could mean is its leader's affair.
        nothing = self.model.new_constant(0)
        self.x = [self._bool() if self.leader[c.line] == c.line else nothing for c in candidates]
        self.of: dict[int, list[int]] = defaultdict(list)
        for k, c in enumerate(candidates):
            if self.leader[c.line] == c.line:
                self.of[c.line].append(k)
        self.weight = [PRICES.reference if c.reference or c.provenance == "estimated" else 1.0 for c in lines]
        self.miscount: dict[int, tuple[Any, Any]] = {}
        self.none: dict[int, Any] = {}
        self.unreached: dict[int, Any] = {}
        self.unexplained: dict[str, Any] = {}
        self._graphs: list[dict[int, Any]] = []
        self.orientations: list[Any] = []
        self._asking: Any = None
        self._room: Any = None
        self.sides: set[int] = set()

    def _bool(self) -> Any:
        return self.model.new_bool_var("")

    def _pay(self, price: float, variable: Any) -> None:
        self.costs.append((round(100 * price), variable))

    def compared(self, line: int) -> bool:
        """Whether a line is in the problem."""
        c = self.lines[line]
        return c.error is None and is_compared(c)
