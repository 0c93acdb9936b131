"""Request and response models of the web API."""

from datetime import datetime
from typing import Any, Literal

from pydantic import BaseModel, Field

__all__ = [
    "Account", "Command", "EditRequest", "JobCard", "JobFull", "JobNew", "JobPatch", "LineIn", "LinkRequest", "Me",
    "Person", "PersonNew", "PersonPatch", "ReadRequest", "RedraftRequest",
    "SetCard", "SetIn", "SheetState", "SignIn", "SourceIn", "SourceRead", "TaskState",
]  # fmt: skip


class SignIn(BaseModel):
    """Name and password."""

    name: str = Field(max_length=80)
    password: str = Field(max_length=200)


class Account(BaseModel):
    """A demo account offered on the sign-in page."""

    name: str
    password: str
    role: str


class Me(BaseModel):
    """Who is signed in; `demo` accounts only in demo mode."""

    name: str | None
    role: str | None
    demo: list[Account]


Role = Literal["drafter", "checker", "viewer", "administrator"]


class Person(BaseModel):
    """An account in the administrator's list."""

    id: int
    name: str
    role: Role


class PersonNew(BaseModel):
    """A new account."""

    name: str = Field(min_length=1, max_length=80, pattern=r"\S")
    password: str = Field(min_length=8, max_length=200)
    role: Role


class PersonPatch(BaseModel):
    """A role or a password to change."""

    role: Role | None = None
    password: str | None = Field(default=None, min_length=8, max_length=200)


class SetIn(BaseModel):
    """What the jobs of a drawing set share; general tolerances as an ISO 2768 class or a block by decimals."""

    name: str = Field(min_length=1, max_length=120, pattern=r"\S")
    owner: str = Field(default="", max_length=120)
    general_mm: str = Field(default="ISO 2768-m", max_length=160)
    general_inch: str = Field(default=".XX ±.02  .XXX ±.010", max_length=160)
    notes: str = Field(default="", max_length=1000)


class SetCard(SetIn):
    """A stored drawing set."""

    id: int


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
    set_name: str


class JobNew(BaseModel):
    """A new job."""

    number: str = Field(min_length=1, max_length=60)
    title: str = Field(default="", max_length=120)
    unit: Literal["mm", "in"] = "mm"
    style: Literal["iso", "asme"] = "iso"
    material: str = Field(default="", max_length=80)
    set_id: int | None = None


class JobPatch(BaseModel):
    """Header fields of a job to change."""

    title: str | None = Field(default=None, max_length=120)
    material: str | None = Field(default=None, max_length=80)
    density: float | None = Field(default=None, gt=0, lt=100)
    limits: Literal["middle", "nominal", "upper", "lower"] | None = None


class LineIn(BaseModel):
    """A characteristic as typed."""

    number: str = Field(max_length=20)
    where: str = Field(default="", max_length=120)
    text: str = Field(max_length=1000)


class SourceIn(BaseModel):
    """The whole list as the browser has it, and the version it was made on."""

    version: int
    lines: list[LineIn] = Field(max_length=5000)
    checkpoints: list[str] = Field(default_factory=list, max_length=200)


class SourceRead(BaseModel):
    """The source as read: meanings in words, errors at the character, findings."""

    version: int
    characteristics: list[dict[str, Any]]
    checkpoints: list[str]
    findings: list[dict[str, Any]]


class ReadRequest(BaseModel):
    """A line to preview."""

    text: str = Field(max_length=1000)
    unit: Literal["mm", "in"] = "mm"


class ModelCard(BaseModel):
    """A model of a job."""

    id: int
    name: str
    state: str
    error: str
    sha256: str
    created: datetime


class JobFull(BaseModel):
    """A job with its source and what has become of its models."""

    id: int
    number: str
    title: str
    unit: str
    style: str
    material: str
    density: float | None
    limits: str
    set_name: str
    shared: dict[str, Any]
    source: SourceRead
    models: list[ModelCard]
    model_id: int | None
    sheet_version: int | None
    tasks: list[TaskState]


class Command(BaseModel):
    """One edit of a sheet; see `op`."""

    model_config = {"extra": "allow"}
    op: Literal["move", "move-view", "remove", "add-linear", "set", "accept", "tidy"]


class EditRequest(BaseModel):
    """An edit and the version it was made on."""

    version: int
    command: Command


class RedraftRequest(BaseModel):
    """Draft anew with other choices."""

    version: int
    front: Literal["+x", "-x", "+y", "-y", "+z", "-z"] | None = None
    datum: str | None = Field(default=None, max_length=60)
    projection: Literal["first", "third"] | None = None
    size: str | None = None
    scale: str | None = None


class SheetState(BaseModel):
    """A sheet as the browser shows it."""

    version: int
    pages: list[dict[str, Any]]
    can_undo: bool
    can_redo: bool
    style: str
    projection: str
    unit: str
    datum: str
    front_reason: str
    size: str
    scale: float
    log: list[dict[str, Any]]


class LinkRequest(BaseModel):
    """Link a characteristic to a statement by hand, to nothing (`none`), or back to the program (`auto`)."""

    statement: str = Field(max_length=40)
