"""What all edits of a sheet share."""

from typing import ClassVar, Literal

from pydantic import BaseModel, ConfigDict

__all__ = ["EVERY", "Edit"]

#: Stands for every statement, or every view.
EVERY = "*"


class Edit(BaseModel):
    """One edit of a sheet: plain data, what it `touches` (an aspect, and of which statement or view; `*` stands for every one), and
    how it is `told`, after the name of who made it. What carries it out is entered for its class in `edits/`."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    #: Whether the rows, or the notes as well, of sheets whose views it changed are placed anew after it.
    settles: ClassVar[Literal["", "rows", "notes"]] = ""

    @property
    def touches(self) -> set[tuple[str, str]]:
        """What it changes; nothing, where it only adds."""
        return set()

    @property
    def told(self) -> str:
        """What somebody did."""
        raise NotImplementedError
