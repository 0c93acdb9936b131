"""The proof of a sheet as the browser shows it; see COMMANDS.md for what the members mean."""

from typing import Literal

from pydantic import BaseModel, Field, JsonValue

__all__ = ["Findings", "Ladder", "LedgerLine", "ProofFinding", "ProofState"]


class ProofSummary(BaseModel):
    """How many statements stand how."""

    proven: int
    unproven: int
    contradicted: int


class ProofFinding(BaseModel):
    """Something that is not as it should be; `under` names the finding that it follows from."""

    id: str
    rule: str
    severity: Literal["error", "warning", "advice"]
    subject: str
    message: str
    expected: JsonValue = None
    found: JsonValue = None
    under: str | None = None
    where: JsonValue = None
    likely: JsonValue = None


class Completeness(BaseModel):
    """Whether the sheet fixes every level and size, each once."""

    ok: bool
    free: list[str]
    redundant: list[str]


class LedgerLine(BaseModel):
    """A characteristic, a statement or a mass, with what the source, the sheet and the model say of it."""

    key: str
    kind: Literal["characteristic", "statement", "mass"]
    number: str
    text: str
    words: str = ""
    where: str = ""
    source: str | None
    drawn: str | None
    model: str | None
    difference: str | None
    state: str
    statements: list[str]
    how: str = ""
    change: str | None = None
    #: The view that a statement stands in, and the kind of what it states.
    view: str = ""
    feature: str = ""


class Rung(BaseModel):
    """A level, mm."""

    value: float
    words: str
    fixed: bool
    datum: bool


class Link(BaseModel):
    """A length between two levels."""

    statement: str
    first: int
    second: int
    twice: bool
    reference: bool


class Ladder(BaseModel):
    """The levels of a part along one direction, and the lengths between them."""

    sheet: int
    direction: str
    rungs: list[Rung]
    links: list[Link]


class ProofMass(BaseModel):
    """What the model weighs in the proof."""

    mass_g: float | None
    volume_mm3: float
    centroid_mm: list[float]


class ProofState(BaseModel):
    """The proof of the present sheet; `findings` are the first ones, `findings_more` says how many there are besides."""

    schema_: str = Field(default="canonis.check/1", alias="schema")
    summary: ProofSummary
    findings: list[ProofFinding]
    findings_more: int
    #: Causes to look at: findings that follow from no other, advice left out.
    open: int
    complete: Completeness
    drawn_level: list[str]
    ledger: list[LedgerLine]
    ladders: list[Ladder]
    mass: ProofMass
    links: dict[str, str | None]
    version: int


class Findings(BaseModel):
    """A page of the findings of a proof."""

    findings: list[ProofFinding]
    total: int
