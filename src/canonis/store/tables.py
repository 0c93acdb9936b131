"""The tables."""

from datetime import UTC, datetime
from typing import Any

from sqlalchemy import ForeignKey, Index, LargeBinary, UniqueConstraint, func
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship
from sqlalchemy.types import DateTime

__all__ = [
    "Base",
    "Blob",
    "DrawingSet",
    "EarlierSource",
    "Job",
    "Kept",
    "Member",
    "Model",
    "Print",
    "Proof",
    "Remark",
    "Session",
    "SheetVersion",
    "State",
    "Step",
    "Task",
    "Tick",
    "User",
    "Workspace",
]


def _now() -> datetime:
    return datetime.now(UTC)


class Base(DeclarativeBase):
    """All tables; times are UTC."""

    type_annotation_map = {dict[str, Any]: JSONB, list[Any]: JSONB, datetime: DateTime(timezone=True)}


class User(Base):
    """Someone who may sign in. Role: drafter, checker, viewer or administrator."""

    __tablename__ = "users"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(unique=True)
    #: How the name looks, which no two accounts share; see `core.plain.look_of`.
    look: Mapped[str] = mapped_column(unique=True)
    role: Mapped[str]
    password_hash: Mapped[str]


class Session(Base):
    """A signed-in browser; the token is kept hashed, `agent` is what the browser calls itself."""

    __tablename__ = "sessions"
    token_hash: Mapped[str] = mapped_column(primary_key=True)
    user_id: Mapped[int] = mapped_column(ForeignKey("users.id", ondelete="CASCADE"), index=True)
    created: Mapped[datetime] = mapped_column(default=_now)
    seen: Mapped[datetime] = mapped_column(default=_now)
    expires: Mapped[datetime]
    agent: Mapped[str] = mapped_column(default="", server_default="")


class Workspace(Base):
    """The drawing sets of one customer, kept apart from those of others; `rules` are its house rules, which its jobs
    follow where they say nothing else."""

    __tablename__ = "workspaces"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(unique=True)
    rules: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")


class Member(Base):
    """Somebody who works in a workspace."""

    __tablename__ = "members"
    user_id: Mapped[int] = mapped_column(ForeignKey("users.id", ondelete="CASCADE"), primary_key=True)
    workspace_id: Mapped[int] = mapped_column(ForeignKey("workspaces.id", ondelete="CASCADE"), primary_key=True)


class DrawingSet(Base):
    """Jobs that share notes, tolerance block and title block fields."""

    __tablename__ = "drawing_sets"
    __table_args__ = (UniqueConstraint("workspace_id", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    workspace_id: Mapped[int] = mapped_column(ForeignKey("workspaces.id"))
    name: Mapped[str]
    shared: Mapped[dict[str, Any]]
    workspace: Mapped[Workspace] = relationship()


class Job(Base):
    """One part to draw: its source (see core.source.editing), its model, its sheet, and what the Solid station keeps (see
    core.study.station)."""

    __tablename__ = "jobs"
    __table_args__ = (UniqueConstraint("workspace_id", "number"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    workspace_id: Mapped[int] = mapped_column(ForeignKey("workspaces.id"))
    set_id: Mapped[int] = mapped_column(ForeignKey("drawing_sets.id"), index=True)
    number: Mapped[str]
    title: Mapped[str]
    unit: Mapped[str]
    style: Mapped[str]
    source: Mapped[dict[str, Any]]
    links: Mapped[dict[str, Any]] = mapped_column(default=dict)
    source_version: Mapped[int] = mapped_column(default=1)
    station: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    model_id: Mapped[int | None]
    sheet_head: Mapped[int | None]
    created: Mapped[datetime] = mapped_column(default=_now)


class EarlierSource(Base):
    """A source as it stood before a list was brought in or taken back: nothing that was typed is lost by that."""

    __tablename__ = "earlier_sources"
    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id", ondelete="CASCADE"), index=True)
    source: Mapped[dict[str, Any]] = mapped_column(deferred=True)
    why: Mapped[str]
    author: Mapped[str]
    created: Mapped[datetime] = mapped_column(default=_now)


class Step(Base):
    """An undo or redo that was taken, so that one that is sent twice is taken once."""

    __tablename__ = "steps"
    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id", ondelete="CASCADE"), primary_key=True)
    token: Mapped[str] = mapped_column(primary_key=True)
    created: Mapped[datetime] = mapped_column(default=_now)


class Print(Base):
    """A sheet of the source as it came: PDF, PNG or JPEG. `pages` holds each page's width and height, its turn in
    degrees clockwise and its calibration."""

    __tablename__ = "prints"
    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id", ondelete="CASCADE"), index=True)
    sha256: Mapped[str] = mapped_column(ForeignKey("blobs.sha256"))
    name: Mapped[str]
    kind: Mapped[str]
    pages: Mapped[list[Any]]
    created: Mapped[datetime] = mapped_column(default=_now)


class Blob(Base):
    """Bytes by content hash; identical uploads stand here once."""

    __tablename__ = "blobs"
    sha256: Mapped[str] = mapped_column(primary_key=True)
    data: Mapped[bytes] = mapped_column(LargeBinary)


class Kept(Base):
    """What was computed from a file, by its hash and the version of the code that did; see `store.kept`."""

    __tablename__ = "kept"
    sha256: Mapped[str] = mapped_column(primary_key=True)
    kind: Mapped[str] = mapped_column(primary_key=True)
    code: Mapped[str] = mapped_column(primary_key=True)
    data: Mapped[bytes] = mapped_column(LargeBinary)
    made: Mapped[datetime] = mapped_column(server_default=func.now())


class Model(Base):
    """A STEP file of a job, in the order they came; `report` and `meshes` (JSON text for the browser) are
    filled by the worker. State: waiting, ready,
    refused or cancelled."""

    __tablename__ = "models"
    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id", ondelete="CASCADE"), index=True)
    sha256: Mapped[str] = mapped_column(ForeignKey("blobs.sha256"))
    name: Mapped[str]
    state: Mapped[str] = mapped_column(default="waiting")
    error: Mapped[str] = mapped_column(default="")
    report: Mapped[dict[str, Any] | None] = mapped_column(JSONB)
    meshes: Mapped[str | None] = mapped_column(deferred=True)
    created: Mapped[datetime] = mapped_column(default=_now)


class State(Base):
    """A state of a job's part on the way to the finished one, in order: a STEP file, uploaded or made by the recipe."""

    __tablename__ = "states"
    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id", ondelete="CASCADE"), index=True)
    place: Mapped[int]
    name: Mapped[str]
    sha256: Mapped[str] = mapped_column(ForeignKey("blobs.sha256"))
    origin: Mapped[str]


class SheetVersion(Base):
    """A version of a job's sheet, with the command that made it from its parent. It keeps its whole document (`snapshot`),
    or what differs from its parent's (`patch`, the `depth`-th after a snapshot); see `store.versions`. `pages` are what
    it compiled to, as JSON text for the browser, kept of the newest ones; `picture` is a small picture of its first sheet."""

    __tablename__ = "sheet_versions"
    __table_args__ = (Index("ix_sheet_versions_parent", "parent"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id", ondelete="CASCADE"), index=True)
    parent: Mapped[int | None]
    model_id: Mapped[int]
    snapshot: Mapped[dict[str, Any] | None] = mapped_column(JSONB(none_as_null=True), deferred=True)
    patch: Mapped[list[Any] | None] = mapped_column(JSONB(none_as_null=True), deferred=True)
    depth: Mapped[int] = mapped_column(default=0, server_default="0")
    command: Mapped[dict[str, Any]]
    pages: Mapped[str | None] = mapped_column(deferred=True)
    pages_key: Mapped[str] = mapped_column(default="")
    picture: Mapped[str | None] = mapped_column(deferred=True)
    #: Made by who edited, so that an edit that is sent twice is stored once.
    token: Mapped[str] = mapped_column(default="", server_default="")
    author: Mapped[str]
    created: Mapped[datetime] = mapped_column(default=_now)


class Remark(Base):
    """What somebody says of a statement of a job's sheet. It is kept with what the statement names (`refs`) and what it
    said, so that it finds its statement again on a sheet that was drafted anew."""

    __tablename__ = "remarks"
    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id", ondelete="CASCADE"), index=True)
    statement: Mapped[str]
    refs: Mapped[list[Any]]
    said: Mapped[str]
    text: Mapped[str]
    author: Mapped[str]
    created: Mapped[datetime] = mapped_column(default=_now)
    settled_by: Mapped[str] = mapped_column(default="", server_default="")


class Tick(Base):
    """Somebody's word that a line of a job's source is where the program says: what they saw (see core.proof.ticks)."""

    __tablename__ = "ticks"
    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id", ondelete="CASCADE"), primary_key=True)
    number: Mapped[str] = mapped_column(primary_key=True)
    saw: Mapped[dict[str, Any]]
    author: Mapped[str]
    created: Mapped[datetime] = mapped_column(default=_now)


class Proof(Base):
    """The proof of one sheet version on one model against one source version."""

    __tablename__ = "proofs"
    __table_args__ = (UniqueConstraint("sheet_id", "model_id", "source_version"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    sheet_id: Mapped[int] = mapped_column(ForeignKey("sheet_versions.id", ondelete="CASCADE"))
    model_id: Mapped[int]
    source_version: Mapped[int]
    result: Mapped[dict[str, Any]]
    #: Causes that are open, for the list of jobs.
    open: Mapped[int] = mapped_column(default=0, server_default="0")


class Task(Base):
    """Background work as the browser sees it. State: waiting, running, done, failed or cancelled."""

    __tablename__ = "tasks"
    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id", ondelete="CASCADE"), index=True)
    kind: Mapped[str]
    state: Mapped[str] = mapped_column(default="waiting")
    stage: Mapped[str] = mapped_column(default="Waiting for a worker")
    error: Mapped[str] = mapped_column(default="")
    arguments: Mapped[dict[str, Any]] = mapped_column(default=dict)
    result: Mapped[dict[str, Any] | None] = mapped_column(JSONB, deferred=True)
    created: Mapped[datetime] = mapped_column(default=_now)
    changed: Mapped[datetime] = mapped_column(default=_now, onupdate=_now)
