"""The source of a job as stored and as read."""

from typing import Literal

from pydantic import BaseModel, Field, JsonValue

from canonis.web.models import PrintCard, RefusedEdit, RuleChoice

__all__ = ["LineRead", "Offer", "SourceEdited", "SourceRead", "Worked"]


class LineFault(BaseModel):
    """Where and why a line cannot be read."""

    column: int
    message: str


class LinePart(BaseModel):
    """One size of a characteristic as written, mm or degrees."""

    name: str
    nominal_mm: float | None = None
    lower_mm: float | None = None
    upper_mm: float | None = None
    target_mm: float | None = None
    nominal_deg: float | None = None
    lower_deg: float | None = None
    upper_deg: float | None = None
    target_deg: float | None = None
    tolerance: str | None = None
    text: str | None = None


class Offer(BaseModel):
    """What may come next in a line: what is put in place of what is typed, and what it says."""

    put: str
    says: str
    typed: str


class LineRead(BaseModel):
    """A line of shorthand as read."""

    number: str
    where: str
    text: str
    words: str
    kind: str
    count: int
    reference: bool
    error: LineFault | None
    parts: list[LinePart]
    provenance: str
    tolerance: str = ""


class LinePreview(LineRead):
    """A line that is being typed."""

    offers: list[Offer] = []


class Flag(BaseModel):
    """A number's place on a print: shares of the page's width and height."""

    print_id: int
    page: int
    x: float
    y: float


class StoredLine(BaseModel):
    """A line as stored and as read."""

    id: str
    rev: int
    flag: Flag | None
    number: str
    where: str
    text: str
    provenance: str
    working: str = ""
    words: str = ""
    kind: str = "note"
    count: int = 1
    reference: bool = False
    error: LineFault | None = None
    parts: list[LinePart] = []
    #: Said only where the line says it.
    name: str = ""
    basic: bool = False
    typical: bool = False
    general: bool = False
    detail: str = ""
    from_: str = Field(default="", alias="from")
    #: Its tolerance and where that comes from, in words.
    tolerance: str = ""


class ChainTerm(BaseModel):
    """A member of a span and how often it counts."""

    member: str
    times: float


class ChainSpan(BaseModel):
    """A length worked out of a chain, with its worst and its likely spread, mm."""

    name: str
    value_mm: float
    terms: list[ChainTerm]
    worst_mm: float | None
    rss_mm: float | None


class GapSlip(BaseModel):
    """The member whose slip would explain a gap, and what it would have to be."""

    member: str
    reason: str
    wanted_mm: float | None = None


class ChainGap(BaseModel):
    """A loop that does not close."""

    loop: list[str]
    gap_mm: float
    likely: GapSlip | None = None


class SolvedChain(BaseModel):
    """A chain as solved."""

    direction: str
    levels_mm: dict[str, float]
    solved: list[str]
    gaps: list[ChainGap]
    unsolved: list[str]
    redundant: list[str]
    free: list[str]
    spans: list[ChainSpan]


class ChainRead(BaseModel):
    """A chain as typed, and as solved where it can be."""

    direction: str
    text: str
    solved: SolvedChain | None


class NamedAmount(BaseModel):
    """A value that a working makes."""

    name: str
    value: float
    shown: str


class Worked(BaseModel):
    """An expression worked out, or `fault`: why it cannot be."""

    fault: str | None = None
    text: str = ""
    name: str | None = None
    kind: str = ""
    value: float | None = None
    shown: str = ""
    typed: str = ""
    steps: list[str] = []
    points: list[list[JsonValue]] = []
    values: list[NamedAmount] = []
    used: list[str] = []


class WorkingRead(BaseModel):
    """A working as typed, and as worked out."""

    text: str
    made: Worked | None


class CheckpointAsRead(BaseModel):
    """A mass checkpoint: g, mm³, mm², mm."""

    step: str
    text: str
    mass_g: float | None
    volume_mm3: float | None
    area_mm2: float | None
    centre_mm: list[float] | None
    frame_mm: list[float] | None
    frame_name: str
    frame_axes: JsonValue
    mass_half_g: float | None
    centre_half_mm: float | None


class CheckpointRead(BaseModel):
    """A checkpoint as typed, and as read."""

    text: str
    read: CheckpointAsRead | None


class Mend(BaseModel):
    """A line that would mend a finding."""

    number: str
    text: str
    says: str


class SourceFinding(BaseModel):
    """Something about the source to look at."""

    rule: str
    severity: Literal["error", "warning", "advice"]
    subject: str
    message: str
    fix: Mend | None = None


class Earlier(BaseModel):
    """A source that can be gone back to: what came after it, and who brought that when."""

    why: str
    by: str
    at: str


class SourceRead(BaseModel):
    """The stored source and what it means."""

    version: int
    lines: list[StoredLine]
    chains: list[ChainRead]
    workings: list[WorkingRead]
    checkpoints: list[CheckpointRead]
    rules: dict[str, str]
    #: House rules that this job itself says, where its house says otherwise or nothing.
    own_rules: list[str]
    choices: list[RuleChoice]
    head: dict[str, str]
    revs: dict[str, int]
    findings: list[SourceFinding]
    readiness: list[str]
    prints: list[PrintCard]
    #: What stood before the last list that came; None where nothing did.
    earlier: Earlier | None = None
    fault: str = ""


class Conflict(BaseModel):
    """An edit that was made on something older, with both sides; `theirs` is None where it was removed."""

    op: str
    id: str | None = None
    what: str | None = None
    number: str | None = None
    yours: JsonValue
    theirs: JsonValue
    rev: int
    message: str


class SourceEdited(BaseModel):
    """The source after edits; the edits that were made on something older; and those refused."""

    source: SourceRead
    conflicts: list[Conflict]
    refused: list[RefusedEdit]
