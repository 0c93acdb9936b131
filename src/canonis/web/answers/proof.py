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


class LedgerRival(BaseModel):
    """Another measure that a line could mean: in words, its value in the sheet's unit, and its place as the ledger writes it."""

    measure: str
    value: float | None
    value_text: str
    refs: list[str]
    faces: list[int]
    place: str


class LedgerTick(BaseModel):
    """Who ticked a line, and when."""

    by: str
    at: str


class FallenTick(LedgerTick):
    """A tick that does not hold any more, and why."""

    why: str


class LedgerLine(BaseModel):
    """A characteristic, a statement or a mass, with what the source, the sheet and the model say of it: numbers in the
    sheet's unit, `…_text` as they are written."""

    key: str
    kind: Literal["characteristic", "statement", "mass"]
    number: str
    text: str
    words: str = ""
    where: str = ""
    source: float | None
    drawn: float | None
    model: float | None
    source_text: str | None
    drawn_text: str | None
    model_text: str | None
    difference: str | None
    state: str
    statements: list[str]
    how: str = ""
    change: str | None = None
    #: The view that a statement stands in, and the kind of what it states.
    view: str = ""
    feature: str = ""
    #: Of a characteristic: its measure in words, by geometry and as it is written, the faces that show it, its limits, the
    #: other measures that it could be, lines of the same value, why it stands so, and the likely slip.
    measure: str = ""
    refs: list[str] = []
    place: str = ""
    faces: list[int] = []
    limits: list[float | None] | None = None
    rivals: list[LedgerRival] = []
    group: list[str] = []
    reason: str = ""
    likely: str = ""
    same_places: list[str] = []
    ticked: LedgerTick | None = None
    tick_fell: FallenTick | None = None


class Unexplained(BaseModel):
    """A size that the model has and no line of the source says: value in the sheet's unit."""

    measure: str
    value: float | None
    refs: list[str]
    faces: list[int]


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


class FinalPartState(BaseModel):
    """One of the three parts of the final check: statements, mass, look."""

    name: str
    done: bool
    says: str


class FinalCheckState(BaseModel):
    """The final check by the house's rule: all three parts, or any one of them."""

    rule: str
    done: bool
    parts: list[FinalPartState]


class WithdrawnLine(BaseModel):
    """A statement that the draft had planned and its proof did not bear out: it is not on paper."""

    text: str
    refs: list[str]
    why: str


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
    unexplained: list[Unexplained]
    withdrawn: list[WithdrawnLine] = []
    #: Whether other places that the lines could mean were looked for.
    asked: bool
    final: FinalCheckState


class Findings(BaseModel):
    """A page of the findings of a proof."""

    findings: list[ProofFinding]
    total: int
