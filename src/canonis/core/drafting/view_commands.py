"""The edits that make, change and take away views, as typed commands. Points are on the paper, mm, y up."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from canonis.core.drafting.edit import Edit

__all__ = [
    "AddAuxiliary",
    "AddDetail",
    "AddSection",
    "AddView",
    "OpenView",
    "RemoveView",
    "SetView",
    "ShortenView",
    "ViewToSheet",
]

_Mm = Annotated[float, Field(gt=-1e5, lt=1e5, allow_inf_nan=False)]
_Id = Annotated[str, Field(min_length=1, max_length=40)]
_Point = tuple[_Mm, _Mm]
_Scale = Annotated[str, Field(max_length=20)]


class ViewEdit(Edit):
    """An edit of the views of a sheet."""

    settles: ClassVar[Literal["", "rows", "notes"]] = "rows"


class AddSection(ViewEdit):
    """A section of a view: along points on the paper that snap to centres and levels, or along one level from the datum.

    `across` `x` is an upright line at `level` (mm along the view's right from the datum), `y` a level one.
    """

    settles: ClassVar[Literal["", "rows", "notes"]] = "notes"

    op: Literal["add-section"] = "add-section"
    view: _Id
    points: Annotated[tuple[_Point, ...], Field(max_length=12)] = ()
    across: Literal["x", "y"] | None = None
    level: _Mm = 0.0
    #: None: by its course, stepped where it has legs square to each other, aligned where two meet on an axis.
    form: Literal["full", "half", "offset", "aligned"] | None = None
    #: Look the other way.
    turned: bool = False

    @property
    def told(self) -> str:
        return f"cut a section of view {self.view}"


class AddDetail(ViewEdit):
    """A detail of a view about a point on the paper; `radius` on the paper, `scale` like 5:1 or auto."""

    op: Literal["add-detail"] = "add-detail"
    view: _Id
    at: _Point | None = None
    #: The point by its levels along right and up from the datum instead, mm.
    levels: _Point | None = None
    radius: Annotated[float, Field(gt=0.5, lt=500)] = 8.0
    form: Literal["circle", "box"] = "circle"
    scale: _Scale = "auto"

    @property
    def told(self) -> str:
        return f"took a detail of view {self.view}"


class AddAuxiliary(ViewEdit):
    """A view square to a face that the view shows from the side; `ref` is the face or one of its edges."""

    op: Literal["add-auxiliary"] = "add-auxiliary"
    view: _Id
    ref: Annotated[str, Field(max_length=2000)]

    @property
    def told(self) -> str:
        return f"folded an auxiliary view from view {self.view}"


class AddView(ViewEdit):
    """A principal view that is not on the sheet yet, or a pictorial from a corner."""

    op: Literal["add-view"] = "add-view"
    kind: Literal["front", "back", "top", "bottom", "left", "right", "pictorial"]
    sheet: Annotated[int, Field(ge=1, le=99)] = 1
    corner: Literal["front-right", "front-left", "back-right", "back-left"] = "front-right"
    below: bool = False

    @property
    def told(self) -> str:
        return f"added the {self.kind} view"


class OpenView(ViewEdit):
    """Break a view open inside an outline on the paper, down to a centre or level near a point; no points close it."""

    op: Literal["open-view"] = "open-view"
    view: _Id
    points: Annotated[tuple[_Point, ...], Field(max_length=40)] = ()
    #: How deep below the part's nearest point to the viewer, mm; none asks for the nearest axis or else the middle.
    depth: _Mm | None = None

    @property
    def touches(self) -> set[tuple[str, str]]:
        return {("view", self.view)}

    @property
    def told(self) -> str:
        return f"broke view {self.view} open" if self.points else f"closed view {self.view}"


class ShortenView(ViewEdit):
    """Break a stretch out of a view of a long part: between two levels from the datum (mm along its right or up), or,
    without levels, where the part goes on the same for longest; `whole` shows it in full again."""

    op: Literal["shorten-view"] = "shorten-view"
    view: _Id
    along: Literal["x", "y"] = "x"
    levels: _Point | None = None
    whole: bool = False

    @property
    def touches(self) -> set[tuple[str, str]]:
        return {("view", self.view)}

    @property
    def told(self) -> str:
        return f"showed view {self.view} whole" if self.whole else f"shortened view {self.view}"


class RemoveView(ViewEdit):
    """Take a view off the sheet, with what hangs on it and the statements in it."""

    op: Literal["remove-view"] = "remove-view"
    id: _Id

    @property
    def touches(self) -> set[tuple[str, str]]:
        return {("view", self.id)}

    @property
    def told(self) -> str:
        return f"took view {self.id} off the sheet"


class ViewToSheet(ViewEdit):
    """Move a view to another sheet; a new one is made when there is none of that number."""

    op: Literal["view-to-sheet"] = "view-to-sheet"
    id: _Id
    sheet: Annotated[int, Field(ge=1, le=99)]

    @property
    def touches(self) -> set[tuple[str, str]]:
        return {("view", self.id)}

    @property
    def told(self) -> str:
        return f"moved view {self.id} to sheet {self.sheet}"


class SetView(ViewEdit):
    """Change how a view is drawn; what is not given stays."""

    op: Literal["set-view"] = "set-view"
    id: _Id
    hidden: bool | None = None
    transitions: Literal["out", "thin", "drawn"] | None = None
    #: Modelled threads with all their helices.
    helices: bool | None = None
    #: Shade a pictorial.
    shaded: bool | None = None
    #: Hatch ribs and webs that a section cuts lengthwise after all.
    hatched: bool | None = None
    scale: _Scale | None = None
    #: An empty caption gives the view's own back.
    label: Annotated[str, Field(max_length=120)] | None = None
    aligned: bool | None = None
    #: Where it stands in the list of views, counted from 0.
    order: Annotated[int, Field(ge=0, le=200)] | None = None
    #: A partial view: a box on the paper (x0, y0, x1, y1); an empty one shows it whole again.
    window: Annotated[tuple[_Mm, ...], Field(max_length=4)] | None = None
    #: Look at a section from the other side.
    turned: bool | None = None

    @property
    def touches(self) -> set[tuple[str, str]]:
        return {("view", self.id)}

    @property
    def told(self) -> str:
        return f"changed view {self.id}"
