"""A characteristic: one checkable statement of the source, as read from a line of shorthand."""

from typing import Any, Literal, Self

from pydantic import BaseModel, ConfigDict

from canonis.core.callout import WORDS, Callout, HouseRules, Notation, Pen, write_line

__all__ = ["PROVENANCES", "Characteristic", "Fault", "Flag", "Provenance"]

Provenance = Literal["read", "worked out", "estimated", "assumed"]
#: How a value came to the list: read off the source, worked out, estimated from a picture, or assumed.
PROVENANCES: tuple[Provenance, ...] = ("read", "worked out", "estimated", "assumed")


class Fault(BaseModel):
    """Where and why a line could not be read; columns count from 1."""

    model_config = ConfigDict(frozen=True)

    column: int
    message: str


class Flag(BaseModel):
    """Where a line's balloon stands on a print: the print's id, page from 1, shares of width and height from the
    upper left corner of the page as stored."""

    model_config = ConfigDict(frozen=True)

    print_id: int
    page: int = 1
    x: float
    y: float


class Characteristic(Callout):
    """A line of the source with what it means.

    `name` is the source's own name for the feature (`pivot bore: ⌀12`).
    """

    number: str
    where: str = ""
    text: str
    words: str = ""
    name: str = ""
    provenance: Provenance = "read"
    working: str = ""
    error: Fault | None = None

    @classmethod
    def of(cls, callout: Callout, **line: Any) -> Self:
        """A line that means a callout."""
        return cls(**{n: getattr(callout, n) for n in Callout.model_fields}, **line)

    def written(self, rules: HouseRules, notation: Notation = "symbols") -> str:
        """The line in shorthand, so that it reads back the same; a note or an unread line as it was typed."""
        if self.error is not None or self.kind == WORDS:
            return self.text
        text = write_line(self, Pen(rules.unit, notation))
        return f"{self.name}: {text}" if self.name else text

    @property
    def meaning(self) -> tuple[object, ...]:
        """What the line says, comparable."""
        return (*self.said, self.name, bool(self.error))

    def as_json(self) -> dict[str, Any]:
        """The characteristic as COMMANDS.md writes it."""
        out = {
            "number": self.number,
            "where": self.where,
            "text": self.text,
            "words": self.words,
            "kind": self.kind,
            "count": self.count,
            "reference": self.reference,
            "error": None if self.error is None else self.error.model_dump(),
            "parts": [] if self.error else [p.as_json() for p in self.parts],
            "provenance": self.provenance,
        }
        extra = {
            "name": self.name,
            "basic": self.basic,
            "typical": self.typical,
            "general": self.general,
            "detail": self.detail,
            "from": self.direction,
            "working": self.working,
        }
        return out | {k: v for k, v in extra.items() if v}
