"""A characteristic: one checkable statement of the source, as read from a line of shorthand."""

from fractions import Fraction
from typing import Any

from pydantic import BaseModel, ConfigDict

__all__ = ["Characteristic", "Fault", "Part"]


class Part(BaseModel):
    """One part of a characteristic. Exact values: mm for lengths, degrees for angles."""

    model_config = ConfigDict(frozen=True)

    name: str
    nominal: Fraction | None = None
    lower: Fraction | None = None
    upper: Fraction | None = None
    target: Fraction | None = None
    tolerance: str | None = None
    angle: bool = False
    designation: str | None = None
    typed: str = ""
    decimals: int | None = None

    def as_json(self) -> dict[str, Any]:
        """The part as COMMANDS.md writes it."""
        if self.designation is not None:
            return {"name": self.name, "designation": self.designation}
        if self.nominal is None:
            return {"name": self.name}
        unit = "deg" if self.angle else "mm"

        def n(x: Fraction | None) -> float | None:
            return None if x is None else float(x)

        return {
            "name": self.name, f"nominal_{unit}": n(self.nominal), f"lower_{unit}": n(self.lower),
            f"upper_{unit}": n(self.upper), f"target_{unit}": n(self.target), "tolerance": self.tolerance,
        }  # fmt: skip


class Fault(BaseModel):
    """Where and why a line could not be read; columns count from 1."""

    model_config = ConfigDict(frozen=True)

    column: int
    message: str


class Characteristic(BaseModel):
    """A line of the source with its reading."""

    model_config = ConfigDict(frozen=True)

    number: str
    where: str = ""
    text: str
    words: str = ""
    kind: str = "note"
    count: int = 1
    reference: bool = False
    typical: bool = False
    error: Fault | None = None
    parts: tuple[Part, ...] = ()

    def part(self, name: str) -> Part | None:
        """The part with this name, if the line has one."""
        return next((p for p in self.parts if p.name == name), None)

    def as_json(self) -> dict[str, Any]:
        """The characteristic as COMMANDS.md writes it."""
        return {
            "number": self.number, "where": self.where, "text": self.text, "words": self.words, "kind": self.kind,
            "count": self.count, "reference": self.reference,
            "error": None if self.error is None else self.error.model_dump(),
            "parts": [] if self.error else [p.as_json() for p in self.parts],
        }  # fmt: skip
