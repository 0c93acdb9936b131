"""What the user asks of a draft."""

from dataclasses import dataclass, field

from canonis.core.house import House
from canonis.core.quantity import Unit
from canonis.core.sheet import TitleBlock

__all__ = ["DraftWish"]


@dataclass(frozen=True)
class DraftWish:
    """What the user asks of a draft; `auto` and None leave the choice to the program."""

    style: str = "iso"
    projection: str | None = None
    unit: Unit | None = None
    size: str = "auto"
    scale: str = "auto"
    views: str = "all"
    front: str | None = None
    datum: str = "auto"
    density: float | None = None
    title: TitleBlock = field(default_factory=TitleBlock)
    notes: tuple[str, ...] = ()
    #: Modelled threads with all their helices, not by convention.
    helices: bool = False
    house: House = field(default_factory=House)
    #: References to the faces or the round face of a datum frame, to be marked on the first sheet.
    frame: tuple[str, ...] = ()
