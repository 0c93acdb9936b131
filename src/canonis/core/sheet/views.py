"""The views of a sheet document, by what they are. Places and cuts are held by reference, so that they follow the model."""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

__all__ = [
    "Auxiliary",
    "Break",
    "Detail",
    "Opening",
    "Parallel",
    "Pictorial",
    "Place",
    "PrincipalKind",
    "Section",
    "Spot",
    "Triple",
    "View",
    "Window",
    "view_name",
]

Triple = tuple[float, float, float]
PrincipalKind = Literal["front", "back", "top", "bottom", "left", "right"]
#: How smooth transitions are drawn: left out, as thin lines of intersection, or as visible edges.
Transitions = Literal["out", "thin", "drawn"]


class Frozen(BaseModel):
    """A model that is replaced, not changed."""

    model_config = ConfigDict(frozen=True, extra="forbid")


class Place(Frozen):
    """A level: that of a reference, or of the view's origin when there is none, and an offset, mm."""

    ref: Annotated[str, Field(max_length=2000)] = ""
    offset: Annotated[float, Field(gt=-1e6, lt=1e6, allow_inf_nan=False)] = 0.0


class Spot(Frozen):
    """A point in the plane of a view: its level along right and along up."""

    x: Place = Place()
    y: Place = Place()


class Window(Frozen):
    """What a partial view or a detail shows: a circle of a radius, or a box of half a width and half a height, mm."""

    form: Literal["circle", "box"] = "circle"
    centre: Spot = Spot()
    half: tuple[float, float] = (10.0, 10.0)


class Opening(Frozen):
    """A broken-out section: an outline in the plane of its view, opened down to a level along the viewing direction."""

    outline: tuple[Spot, ...]
    depth: Place = Place()


class Break(Frozen):
    """A stretch taken out of the view of a long part: along its right (`x`) or up (`y`), between two levels."""

    along: Literal["x", "y"]
    low: Place
    high: Place


class _View(Frozen):
    """What all views share: directions in the solid's axes, scale, and where the origin stands on the paper.

    `parent` is the view that it hangs on (a cut, a detail, a fold) and `aligned` whether it keeps in projection with its
    neighbours. `reason` says why it is on the sheet.
    """

    id: str
    sheet: int = 1
    label: str | None = None
    scale: float
    origin: Triple
    right: Triple
    up: Triple
    at: tuple[float, float]
    hidden: bool = True
    transitions: Transitions = "out"
    #: Modelled threads with all their helices instead of by crest and root lines (ISO 6410-1).
    helices: bool = False
    parent: str | None = None
    aligned: bool = True
    reason: str = ""


class Parallel(_View):
    """One of the six principal views, whole or in part, perhaps broken open in places."""

    kind: PrincipalKind
    window: Window | None = None
    openings: tuple[Opening, ...] = ()
    breaks: tuple[Break, ...] = ()
    #: Set when it is released from its place in the projection: it then carries an arrow on its parent and a letter.
    letter: str = ""


class Section(_View):
    """A section along a line in the plane of its parent: `full` or `half` by one leg, `offset` by several square to each
    other, `aligned` by two that meet on an axis and are turned into one plane."""

    kind: Literal["section"] = "section"
    letter: str
    form: Literal["full", "half", "offset", "aligned"] = "full"
    line: tuple[Spot, ...]
    #: Faces of features that are cut lengthwise and by convention not hatched (ribs, shafts, keys, fasteners).
    plain: tuple[str, ...] = ()
    breaks: tuple[Break, ...] = ()


class Detail(_View):
    """A part of another view at a scale of its own."""

    kind: Literal["detail"] = "detail"
    letter: str
    window: Window


class Auxiliary(_View):
    """A view square to a sloped face, a cut or an axis, in part unless it is asked for whole."""

    kind: Literal["auxiliary"] = "auxiliary"
    letter: str
    #: What it stands square to.
    face: str
    window: Window | None = None


class Pictorial(_View):
    """An isometric view from one of the upper or lower corners."""

    kind: Literal["pictorial"] = "pictorial"
    corner: Literal["front-right", "front-left", "back-right", "back-left"] = "front-right"
    below: bool = False
    #: Shaded by how its faces stand to the light, under its lines.
    shaded: bool = False
    transitions: Transitions = "thin"


def view_name(view: "View") -> str:
    """What people call a view: front, section A–A, detail B."""
    letter = getattr(view, "letter", "")
    if isinstance(view, Section):
        return f"section {letter}–{letter}"
    return f"{view.kind} {letter}".strip()


View = Annotated[Parallel | Section | Detail | Auxiliary | Pictorial, Field(discriminator="kind")]
