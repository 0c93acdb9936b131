"""Edits of several people on one sheet: which of them stand beside each other, and what is said of those that do not."""

from canonis.core.drafting.commands import (
    Accept,
    AddLinear,
    Command,
    Move,
    MoveView,
    Remove,
    SetHidden,
    SetProjection,
    SetRevision,
    SetScale,
    SetSize,
    Tidy,
)
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

__all__ = ["clash", "told"]

#: Stands for every statement, or every view.
_ALL = "*"


def _touched(command: Command) -> set[tuple[str, str]]:
    """What an edit changes: an aspect, and of which statement or view."""
    match command:
        case Move():
            return {("place", command.id)}
        case Remove():
            return {("place", command.id), ("text", command.id)}
        case Accept():
            return {("text", command.id)}
        case MoveView():
            return {("view", command.id)}
        case SetHidden():
            return {("hidden", command.view)}
        case SetRevision():
            return {("revision", _ALL)}
        case SetSize() | SetScale() | SetProjection() | Tidy():
            return {("place", _ALL), ("view", _ALL)}
        case OpenView() | ShortenView():
            return {("view", command.view)}
        case RemoveView() | ViewToSheet() | SetView():
            return {("view", command.id)}
        case AddLinear() | AddSection() | AddDetail() | AddAuxiliary() | AddView():
            return set()


def clash(mine: Command, theirs: Command) -> bool:
    """Whether an edit changes something that another one, made meanwhile, changed as well."""
    return any(
        aspect == other and (_ALL in (name, named) or name == named)
        for aspect, name in _touched(mine)
        for other, named in _touched(theirs)
    )


def told(command: Command) -> str:
    """What somebody did, after their name."""
    match command:
        case Move():
            return f"moved {command.id}"
        case Remove():
            return f"removed {command.id}"
        case Accept():
            return f"took the model's value over into {command.id}"
        case MoveView():
            return f"moved view {command.id}"
        case SetHidden():
            return f"changed the hidden lines of view {command.view}"
        case SetRevision():
            return "changed the revision"
        case SetSize():
            return "changed the sheet size"
        case SetScale():
            return "changed the scale"
        case SetProjection():
            return "changed the projection"
        case Tidy():
            return "tidied the sheet"
        case AddLinear():
            return "added a dimension"
        case AddSection():
            return f"cut a section of view {command.view}"
        case AddDetail():
            return f"took a detail of view {command.view}"
        case AddAuxiliary():
            return f"folded an auxiliary view from view {command.view}"
        case AddView():
            return f"added the {command.kind} view"
        case OpenView():
            return f"broke view {command.view} open" if command.points else f"closed view {command.view}"
        case ShortenView():
            return f"showed view {command.view} whole" if command.whole else f"shortened view {command.view}"
        case RemoveView():
            return f"took view {command.id} off the sheet"
        case ViewToSheet():
            return f"moved view {command.id} to sheet {command.sheet}"
        case SetView():
            return f"changed view {command.id}"
