"""A compiled sheet as the browser shows it; paper mm, y down."""

from typing import Literal

from pydantic import BaseModel

from canonis.core.sheet import Revision
from canonis.web.models import VersionCard

__all__ = ["Page", "PagePick", "Picture", "Region", "SheetState", "Stroke", "TextRun", "ViewBox"]


class Stroke(BaseModel):
    """A line: its owner, line class, width, dashes and path."""

    o: str
    s: str
    w: float
    dash: list[float]
    d: str


class Region(BaseModel):
    """A filled area: its owner and path."""

    o: str
    d: str


class TextRun(BaseModel):
    """A text: its owner, place, height and angle (degrees)."""

    o: str
    t: str
    x: float
    y: float
    h: float
    a: float


class ViewBox(BaseModel):
    """A view and the room its geometry takes: left, top, right, bottom."""

    id: str
    kind: str
    #: What people call it: “front”, “section A–A”, “detail B”.
    name: str
    hidden: bool
    transitions: str
    scale: float
    scale_text: str
    #: The caption that was typed; empty for the view's own.
    label: str
    #: Why it is on the sheet.
    reason: str
    aligned: bool
    sheet: int
    parent: str | None
    #: Whether it is shown in part, and broken open.
    partial: bool
    opened: bool
    #: What its place or cut was held by and is gone from the model.
    lost: int
    #: Whether a stretch is broken out of it, whether it is shaded, whether its threads are drawn with every turn.
    broken: bool
    shaded: bool
    helices: bool
    #: How many modelled threads its solid has; whether it cuts a rib lengthwise, and whether that is hatched all the same.
    threads: int
    ribs: bool
    hatched: bool
    #: Whether other views can be taken of it, and whether it is one of the six principal ones.
    parent_of: bool
    principal: bool
    box: list[float]


class PagePick(BaseModel):
    """Geometry of a view that a statement can name; an edge by its ends (4 numbers), a point by its place (2)."""

    view: str
    kind: Literal["edge", "point", "centre"]
    ref: str
    p: list[float]


class Picture(BaseModel):
    """A picture on the paper: its owner, place (its upper left corner), size and data as a link."""

    o: str
    x: float
    y: float
    w: float
    h: float
    href: str


class Page(BaseModel):
    """One sheet of a drawing."""

    number: int
    size: str
    width: float
    height: float
    strokes: list[Stroke]
    regions: list[Region]
    texts: list[TextRun]
    pictures: list[Picture]
    views: list[ViewBox]
    picks: list[PagePick]


class SheetState(BaseModel):
    """A sheet as the browser shows it; `log` has its newest versions."""

    version: int
    pages: list[Page]
    can_undo: bool
    can_redo: bool
    style: str
    projection: str
    unit: str
    datum: str
    front_reason: str
    size: str
    scale: float
    revision: str
    revisions: list[Revision]
    log: list[VersionCard]
