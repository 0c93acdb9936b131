"""A finding: something that is not as it should be, from where it is found to the answer on the page."""

from dataclasses import dataclass, field
from typing import Any, Literal

__all__ = ["About", "Finding", "Mend", "Severity"]

Severity = Literal["error", "warning", "advice"]


@dataclass(frozen=True)
class Mend:
    """The text of a line of the source that would mend a finding, and what whoever takes it is told."""

    number: str
    text: str
    says: str

    def as_json(self) -> dict[str, str]:
        """The mend as plain data."""
        return {"number": self.number, "text": self.text, "says": self.says}


@dataclass(frozen=True)
class About:
    """What a finding touches, for whoever asks what follows from what: statements, unknowns and faces of the part, a sheet."""

    statements: tuple[str, ...] = ()
    moves: frozenset[int] = frozenset()
    faces: frozenset[int] = frozenset()
    sheet: int = 0


@dataclass
class Finding:
    """The rule that found it, how grave it is, what it is of, what was expected and found, and a sentence in a drafter's words.

    `part` names the size of a statement that it is about. `id` and `under` (the one that it follows from) are given once all
    findings of a sheet are known.
    """

    rule: str
    severity: Severity
    subject: str
    message: str
    expected: Any = None
    found: Any = None
    part: str = ""
    fix: Mend | None = None
    about: About = field(default_factory=About)
    id: str = ""
    under: str = ""

    def as_json(self, *, values: bool = True) -> dict[str, Any]:
        """The finding as files and answers have it; without `values` that of a source, which compares nothing."""
        out: dict[str, Any] = {"rule": self.rule, "severity": self.severity, "subject": self.subject}
        if values:
            out |= {"expected": self.expected, "found": self.found}
        out["message"] = self.message
        for name in ("part", "id", "under"):
            if getattr(self, name):
                out[name] = getattr(self, name)
        if self.fix is not None:
            out["fix"] = self.fix.as_json()
        return out
