"""Request and response models of the web API."""

from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field, JsonValue

from canonis.core.drafting import Command
from canonis.core.study import Limits, Pick
from canonis.web.asked import Asked

__all__ = [
    "EditRequest",
    "FramePick",
    "JobCard",
    "JobNew",
    "JobPage",
    "JobStarted",
    "LinkRequest",
    "LookRequest",
    "ModelCard",
    "NameGiven",
    "PastedTable",
    "PickRequest",
    "PrintCard",
    "PrintPatch",
    "ReadRequest",
    "RecipeText",
    "RedraftRequest",
    "RefusedEdit",
    "RemarkCard",
    "RemarkNew",
    "RemarkPatch",
    "RuleChoice",
    "RuleOption",
    "SetCard",
    "SetIn",
    "SetNew",
    "SourceEdits",
    "StateCard",
    "StatePatch",
    "StationPatch",
    "TaskState",
    "ThicknessRequest",
    "VersionCard",
    "Versions",
    "WorkRequest",
]  # fmt: skip


class RuleOption(BaseModel):
    """One choice of a house rule, and what it means."""

    value: str
    says: str


class RuleChoice(BaseModel):
    """A house rule: where practitioners disagree; the first option is the program's own."""

    key: str
    title: str
    options: list[RuleOption]


class SetIn(Asked):
    """What the jobs of a drawing set share; general tolerances as an ISO 2768 class or a block by decimals."""

    name: str = Field(min_length=1, max_length=120, pattern=r"\S")
    owner: str = Field(default="", max_length=120)
    general_mm: str = Field(default="ISO 2768-m", max_length=160)
    general_inch: str = Field(default=".XX ±.02  .XXX ±.010", max_length=160)
    notes: str = Field(default="", max_length=1000)


class SetNew(SetIn):
    """A new drawing set; in one's first workspace when none is named."""

    workspace_id: int | None = None


class SetCard(SetIn):
    """A stored drawing set."""

    id: int
    workspace_id: int
    workspace: str


class TaskState(BaseModel):
    """Background work of a job."""

    id: int
    kind: str
    state: Literal["waiting", "running", "done", "failed", "cancelled"]
    stage: str
    error: str


class JobCard(BaseModel):
    """A job in the list."""

    id: int
    number: str
    title: str
    unit: str
    style: str
    has_model: bool
    has_sheet: bool
    lines: int
    #: Causes that the proof of the present sheet has open; None where it is not proved.
    open: int | None
    #: The present version of the sheet, to ask for its picture.
    sheet: int | None
    set_id: int
    set_name: str
    workspace: str
    #: When somebody last did something to it, and who drew last.
    changed: datetime
    author: str


class JobPage(BaseModel):
    """A page of the list of jobs: how many there are like that in all, and who drew any that one may see."""

    jobs: list[JobCard]
    total: int
    people: list[str]


class RemarkNew(Asked):
    """What somebody says of a statement of the present sheet."""

    statement: str = Field(min_length=1, max_length=40)
    text: str = Field(min_length=1, max_length=2000, pattern=r"\S")


class TickRequest(Asked):
    """Yes to a line of the source: the place that it was seen at, as the ledger writes it."""

    place: str = Field(max_length=2000)


class RemarkPatch(Asked):
    """Whether a remark is settled."""

    settled: bool


class RemarkCard(BaseModel):
    """A remark. `statement` is its statement on the present sheet, None where it is no longer there; `said` is what the
    statement said then."""

    id: int
    statement: str | None
    said: str
    text: str
    author: str
    created: datetime
    settled_by: str


class VersionCard(BaseModel):
    """A version of a sheet: who made it, how and when."""

    id: int
    command: dict[str, JsonValue]
    author: str
    at: datetime


class Versions(BaseModel):
    """Versions, the newest first, and whether there are older ones."""

    versions: list[VersionCard]
    more: bool


class JobStarted(BaseModel):
    """A job that a dropped model made, with the work on it."""

    id: int
    number: str
    task: TaskState


class JobNew(Asked):
    """A new job."""

    number: str = Field(min_length=1, max_length=60, pattern=r"\S")
    title: str = Field(default="", max_length=120)
    unit: Literal["mm", "in"] = "mm"
    style: Literal["iso", "asme"] = "iso"
    material: str = Field(default="", max_length=80)
    set_id: int | None = None


class SourceEdits(BaseModel):
    """Edits of a source, applied in order; each states the rev it was made on (see core.source.editing), and each is
    judged by itself, so that one that cannot be stored takes no other with it."""

    ops: list[dict[str, Any]] = Field(max_length=6000)


class PrintPage(BaseModel):
    """A page of a print; calibrated when the real width of its picture is known."""

    width: float
    height: float
    turn: int = 0
    mm_per_width: float | None = None


class PrintCard(BaseModel):
    """A print of the source: its pages' width and height, turn (degrees clockwise) and calibration."""

    id: int
    name: str
    kind: Literal["pdf", "png", "jpeg"]
    pages: list[PrintPage]


class PrintPatch(Asked):
    """A page turned or calibrated: `mm_per_width` is the real width of the page's picture in mm."""

    page: int = Field(ge=1, le=60)
    turn: Literal[0, 90, 180, 270] | None = None
    mm_per_width: float | None = Field(default=None, gt=0, lt=1e6)


class RefusedEdit(BaseModel):
    """An edit that makes no sense: its place among those sent, its line or block, and why."""

    index: int
    id: str | None = None
    what: str | None = None
    message: str


class ReadRequest(Asked):
    """A line to preview."""

    text: str = Field(max_length=1000)


class WorkRequest(Asked):
    """An expression to work out."""

    text: str = Field(max_length=400)


class PastedTable(Asked):
    """A table of checkpoints pasted as text."""

    text: str = Field(max_length=200_000)


class ModelCard(BaseModel):
    """A model of a job."""

    id: int
    name: str
    state: str
    error: str
    sha256: str
    created: datetime


class LookRequest(Asked):
    """A look, and the version it was taken at."""

    version: int


class StepRequest(Asked):
    """One step back or forward, and the version that whoever took it looked at."""

    version: int
    #: Made by who steps: one that was taken already is not taken again.
    token: str | None = Field(default=None, max_length=40)
    #: The tokens of their own edits and steps that were still on their way then.
    mine: list[Annotated[str, Field(max_length=40)]] = Field(default=[], max_length=500)


class EditRequest(StepRequest):
    """An edit and the version it was made on."""

    command: Command


class RedraftRequest(Asked):
    """Draft anew with other choices."""

    version: int
    front: Literal["+x", "-x", "+y", "-y", "+z", "-z"] | None = None
    datum: str | None = Field(default=None, max_length=60)
    projection: Literal["first", "third"] | None = None
    size: str | None = Field(default=None, max_length=20)
    scale: str | None = Field(default=None, max_length=20)


class PickRequest(Asked):
    """One pick, or two to measure between."""

    picks: list[Pick] = Field(min_length=1, max_length=2)


class ThicknessRequest(Asked):
    """A point of a face (mm, file axes)."""

    solid: int = Field(ge=0, le=10_000)
    face: int = Field(ge=0, le=10_000_000)
    at: tuple[float, float, float]


class FramePick(Asked):
    """How to choose the frame: by its kind and the picks it needs; a box corner by its name."""

    kind: Literal["file", "box-corner", "sharp-corner", "axis", "points", "faces"]
    picks: list[Pick] = Field(default=[], max_length=3)
    name: str = Field(default="", max_length=60)


class StationPatch(Asked):
    """What to change of the Solid station; what is absent stays."""

    system: Literal["", "mm g", "mm kg", "m kg", "in lb", "in oz"] | None = None
    decimals: int | None = Field(default=None, ge=0, le=9)
    materials: dict[str, float] | None = None
    solid_materials: dict[str, str] | None = Field(default=None, max_length=1000)
    limits: Limits | None = None


class NameGiven(Asked):
    """A name for a feature; empty takes it away."""

    id: str = Field(max_length=40)
    solid: int = Field(default=0, ge=0)
    name: str = Field(max_length=80)


class StateCard(BaseModel):
    """A state of the part in the ledger."""

    id: int
    place: int
    name: str
    origin: Literal["file", "recipe"]


class StatePatch(Asked):
    """A new name, or one place up or down."""

    name: str | None = Field(default=None, min_length=1, max_length=80, pattern=r"\S")
    move: Literal["up", "down"] | None = None


class RecipeText(Asked):
    """A recipe as JSON text; `states` makes the states of the ledger from it."""

    text: str = Field(max_length=400_000)
    states: bool = False


class LinkRequest(Asked):
    """Link a characteristic to a statement by hand, to nothing (`none`), or back to the program (`auto`)."""

    #: A statement's id, or a place of the ledger's as it writes it.
    statement: str = Field(max_length=2000)
    #: What it was linked to when it was chosen; None does not ask.
    seen: str | None = Field(default=None, max_length=2000)
