"""A flaw of a solid: a fault, or advice for whoever makes the part, and where."""

from collections.abc import Sequence
from dataclasses import asdict, dataclass
from typing import Any

from canonis.core.finding import Severity
from canonis.core.solid import Vec

__all__ = ["Flaw", "flaw"]


@dataclass(frozen=True)
class Flaw:
    """The rule that found it, how grave it is, a sentence in a drafter's words, and where: faces and edges of a solid by their
    indices, a place in the file's axes, mm."""

    rule: str
    severity: Severity
    message: str
    solid: int = 0
    faces: tuple[int, ...] = ()
    edges: tuple[int, ...] = ()
    point: tuple[float, ...] | None = None

    def as_json(self) -> dict[str, Any]:
        """The flaw as answers have it."""
        return asdict(self)


def flaw(
    rule: str,
    severity: Severity,
    message: str,
    *,
    solid: int = 0,
    faces: Sequence[int] = (),
    edges: Sequence[int] = (),
    point: Vec | None = None,
) -> Flaw:
    """A flaw with its place as measured, written to a millionth of a millimetre."""
    at = None if point is None else tuple(round(float(c), 6) + 0.0 for c in point)
    return Flaw(rule, severity, message, solid, tuple(faces), tuple(edges), at)
