"""The edits of a sheet as typed commands. Who made, approved or dated a sheet is no edit: that comes from who does what."""

from typing import Annotated, Any, Literal

from pydantic import Discriminator, Field, Tag, TypeAdapter, ValidationError

from canonis.core.drafting.edit import EVERY, Edit
from canonis.core.drafting.view_commands import (
    AddAuxiliary,
    AddDetail,
    AddSection,
    AddView,
    OpenView,
    RemoveView,
    SetView,
    ShortenView,
    ViewToSheet,
)
from canonis.core.faults import BadInput

__all__ = [
    "Accept",
    "AddLinear",
    "AddNote",
    "Command",
    "Move",
    "MoveView",
    "Remove",
    "SetHidden",
    "SetProjection",
    "SetRevision",
    "SetScale",
    "SetSize",
    "SetText",
    "Tidy",
    "read_command",
]

#: A way on the paper, mm; no sheet is larger.
Way = Annotated[float, Field(gt=-5000, lt=5000, allow_inf_nan=False)]
Id = Annotated[str, Field(min_length=1, max_length=40)]


class Move(Edit):
    """Move a statement's text or row."""

    op: Literal["move"] = "move"
    id: Id
    dx: Way = 0.0
    dy: Way = 0.0

    @property
    def touches(self) -> set[tuple[str, str]]:
        return {("place", self.id)}

    @property
    def told(self) -> str:
        return f"moved {self.id}"


class MoveView(Edit):
    """Move a view, and those in projection with it."""

    op: Literal["move-view"] = "move-view"
    id: Id
    dx: Way = 0.0
    dy: Way = 0.0

    @property
    def touches(self) -> set[tuple[str, str]]:
        return {("view", self.id)}

    @property
    def told(self) -> str:
        return f"moved view {self.id}"


class Remove(Edit):
    """Take a statement off the sheet."""

    op: Literal["remove"] = "remove"
    id: Id

    @property
    def touches(self) -> set[tuple[str, str]]:
        return {("place", self.id), ("text", self.id)}

    @property
    def told(self) -> str:
        return f"removed {self.id}"


class AddLinear(Edit):
    """A dimension between two references in a view; along its right (`x`) or up (`y`), else the longer of both."""

    op: Literal["add-linear"] = "add-linear"
    view: Id
    refs: tuple[Annotated[str, Field(max_length=2000)], Annotated[str, Field(max_length=2000)]]
    direction: Literal["x", "y"] | None = None

    @property
    def told(self) -> str:
        return "added a dimension"


class AddNote(Edit):
    """A note with a leader to the faces that lines or centres of a view mean, in words as they are typed; `DATUM A` marks a datum."""

    op: Literal["add-note"] = "add-note"
    view: Id
    refs: Annotated[tuple[Annotated[str, Field(max_length=2000)], ...], Field(min_length=1, max_length=40)]
    text: Annotated[str, Field(max_length=400)]

    @property
    def told(self) -> str:
        return "added a note"


class SetText(Edit):
    """Other words for a statement, as they are typed."""

    op: Literal["set-text"] = "set-text"
    id: Id
    text: Annotated[str, Field(max_length=400)]

    @property
    def touches(self) -> set[tuple[str, str]]:
        return {("text", self.id)}

    @property
    def told(self) -> str:
        return f"changed what {self.id} says"


class SetHidden(Edit):
    """Whether a view shows hidden lines."""

    op: Literal["set"] = "set"
    what: Literal["hidden"]
    view: Id
    value: bool

    @property
    def touches(self) -> set[tuple[str, str]]:
        return {("hidden", self.view)}

    @property
    def told(self) -> str:
        return f"changed the hidden lines of view {self.view}"


class SetRevision(Edit):
    """The revision in the title block and, with what changed, a row of the revision block; who and when is filled in."""

    op: Literal["set"] = "set"
    what: Literal["revision"]
    value: Annotated[str, Field(max_length=20)]
    change: Annotated[str, Field(max_length=200)] = ""
    by: Annotated[str, Field(max_length=80)] = ""
    date: Annotated[str, Field(max_length=20)] = ""

    @property
    def touches(self) -> set[tuple[str, str]]:
        return {("revision", EVERY)}

    @property
    def told(self) -> str:
        return "changed the revision"


class SetSize(Edit):
    """The sheet size, or auto."""

    op: Literal["set"] = "set"
    what: Literal["size"]
    value: Annotated[str, Field(max_length=20)]

    @property
    def touches(self) -> set[tuple[str, str]]:
        return {("place", EVERY), ("view", EVERY)}

    @property
    def told(self) -> str:
        return "changed the sheet size"


class SetScale(Edit):
    """The main scale, or auto."""

    op: Literal["set"] = "set"
    what: Literal["scale"]
    value: Annotated[str, Field(max_length=20)]

    @property
    def touches(self) -> set[tuple[str, str]]:
        return {("place", EVERY), ("view", EVERY)}

    @property
    def told(self) -> str:
        return "changed the scale"


class SetProjection(Edit):
    """First or third angle."""

    op: Literal["set"] = "set"
    what: Literal["projection"]
    value: Literal["first", "third"]

    @property
    def touches(self) -> set[tuple[str, str]]:
        return {("place", EVERY), ("view", EVERY)}

    @property
    def told(self) -> str:
        return "changed the projection"


class Accept(Edit):
    """Take the model's present value over into a statement."""

    op: Literal["accept"] = "accept"
    id: Id

    @property
    def touches(self) -> set[tuple[str, str]]:
        return {("text", self.id)}

    @property
    def told(self) -> str:
        return f"took the model's value over into {self.id}"


class Tidy(Edit):
    """Place all rows and notes anew."""

    op: Literal["tidy"] = "tidy"

    @property
    def touches(self) -> set[tuple[str, str]]:
        return {("place", EVERY), ("view", EVERY)}

    @property
    def told(self) -> str:
        return "tidied the sheet"


def _op(value: Any) -> str | None:
    return value.get("op") if isinstance(value, dict) else getattr(value, "op", None)


_Set = Annotated[SetHidden | SetRevision | SetSize | SetScale | SetProjection, Field(discriminator="what")]
#: One edit of a sheet.
Command = Annotated[
    Annotated[Move, Tag("move")]
    | Annotated[MoveView, Tag("move-view")]
    | Annotated[Remove, Tag("remove")]
    | Annotated[AddLinear, Tag("add-linear")]
    | Annotated[AddNote, Tag("add-note")]
    | Annotated[SetText, Tag("set-text")]
    | Annotated[Accept, Tag("accept")]
    | Annotated[Tidy, Tag("tidy")]
    | Annotated[_Set, Tag("set")]
    | Annotated[AddSection, Tag("add-section")]
    | Annotated[AddDetail, Tag("add-detail")]
    | Annotated[AddAuxiliary, Tag("add-auxiliary")]
    | Annotated[AddView, Tag("add-view")]
    | Annotated[OpenView, Tag("open-view")]
    | Annotated[ShortenView, Tag("shorten-view")]
    | Annotated[RemoveView, Tag("remove-view")]
    | Annotated[ViewToSheet, Tag("view-to-sheet")]
    | Annotated[SetView, Tag("set-view")],
    Discriminator(_op),
]
_reader: TypeAdapter[Command] = TypeAdapter(Command)


def read_command(data: Any) -> Command:
    """A command from plain data.

    Raises BadInput with one sentence.
    """
    try:
        return _reader.validate_python(data)
    except ValidationError as fault:
        first = fault.errors()[0]
        if first["type"].startswith("union_tag"):
            tag = str(first.get("ctx", {}).get("tag", ""))[:40]
            what = f"nothing called “{tag}” to set on a sheet" if first["loc"] else f"no edit called “{tag}”"
            raise BadInput(f"There is {what}.") from None
        place = next((str(p) for p in reversed(first["loc"]) if isinstance(p, str)), "edit")
        raise BadInput(f"The {place} of the edit cannot be used: {first['msg'].lower()}.") from None
