"""A characteristic: one checkable statement of the source, as read from a line of shorthand."""

from fractions import Fraction
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict

from canonis.core.quantity.units import Unit

__all__ = ["PROVENANCES", "Characteristic", "Fault", "Flag", "Part", "Provenance"]

Provenance = Literal["read", "worked out", "estimated", "assumed"]
#: How a value came to the list: read off the source, worked out, estimated from a picture, or assumed.
PROVENANCES: tuple[Provenance, ...] = ("read", "worked out", "estimated", "assumed")


class Part(BaseModel):
    """One part of a characteristic. Exact values: mm for lengths, degrees for angles, plain numbers for `plain`.

    `tolerance` says where the limits come from: own, general or fit. `unit` is the one typed when it is not the
    job's; `table` marks a value looked up, not written.
    """

    model_config = ConfigDict(frozen=True)

    name: str
    nominal: Fraction | None = None
    lower: Fraction | None = None
    upper: Fraction | None = None
    target: Fraction | None = None
    tolerance: str | None = None
    angle: bool = False
    plain: bool = False
    designation: str | None = None
    typed: str = ""
    decimals: int | None = None
    unit: Unit | None = None
    fit: str | None = None
    limits: bool = False
    table: bool = False

    def as_json(self) -> dict[str, Any]:
        """The part as COMMANDS.md writes it."""
        if self.designation is not None:
            return {"name": self.name, "designation": self.designation}
        if self.nominal is None:
            return {"name": self.name}

        def n(x: Fraction | None) -> float | None:
            return None if x is None else float(x)

        if self.plain:
            return {"name": self.name, "value": n(self.nominal)}
        unit = "deg" if self.angle else "mm"
        out = {
            "name": self.name, f"nominal_{unit}": n(self.nominal), f"lower_{unit}": n(self.lower),
            f"upper_{unit}": n(self.upper), f"target_{unit}": n(self.target), "tolerance": self.tolerance,
        }  # fmt: skip
        if self.fit:
            out["fit"] = self.fit
        if self.table:
            out["looked_up"] = True
        return out


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


class Characteristic(BaseModel):
    """A line of the source with its reading.

    `name` is the source's own name for the feature (`pivot bore: ⌀12`); `detail` what the kind alone does not say
    (undercut, segment, clearance for M6); `direction` the face an angle or distance is taken from.
    """

    model_config = ConfigDict(frozen=True)

    number: str
    where: str = ""
    text: str
    words: str = ""
    name: str = ""
    kind: str = "note"
    count: int = 1
    reference: bool = False
    basic: bool = False
    typical: bool = False
    general: bool = False
    detail: str = ""
    direction: str = ""
    provenance: Provenance = "read"
    working: str = ""
    error: Fault | None = None
    parts: tuple[Part, ...] = ()

    def part(self, name: str) -> Part | None:
        """The part with this name, if the line has one."""
        return next((p for p in self.parts if p.name == name), None)

    def size(self, name: str) -> Fraction | None:
        """The nominal of a part, if the line has it."""
        part = self.part(name)
        return None if part is None else part.nominal

    @property
    def turns(self) -> list[Part]:
        """The parts that say at which angles the members of a ring stand: how far apart, the first one, or each. The start of
        an arc slot is its own."""
        if self.kind == "arc-slot":
            return []
        return [p for p in self.parts if p.name in ("pitch-angle", "start-angle") or p.name.startswith("member-")]

    @property
    def main(self) -> Part | None:
        """The part that carries the line's first size."""
        return next((p for p in self.parts if p.nominal is not None and not p.plain), None)

    def as_json(self) -> dict[str, Any]:
        """The characteristic as COMMANDS.md writes it."""
        out = {
            "number": self.number, "where": self.where, "text": self.text, "words": self.words, "kind": self.kind,
            "count": self.count, "reference": self.reference,
            "error": None if self.error is None else self.error.model_dump(),
            "parts": [] if self.error else [p.as_json() for p in self.parts],
            "provenance": self.provenance,
        }  # fmt: skip
        extra = {"name": self.name, "basic": self.basic, "typical": self.typical, "general": self.general,
                 "detail": self.detail, "from": self.direction, "working": self.working}  # fmt: skip
        return out | {k: v for k, v in extra.items() if v}
