"""House rules of a job: where practitioners disagree, each with its choices; the first is the default.

A rule is an enumeration here, a field of `House`, and whatever obeys it: a draft and its document carry all of them.
"""

from enum import StrEnum
from typing import Any, Self

from pydantic import BaseModel, ConfigDict, Field

from canonis.core.faults import BadInput

__all__ = [
    "CHOICES",
    "Choice",
    "Datum",
    "Datums",
    "Decimal",
    "FinalCheck",
    "Hidden",
    "HoleTable",
    "House",
    "Limits",
    "Locations",
    "MassCheck",
    "Notes",
    "Pictorials",
    "Projections",
    "Repeats",
    "Threads",
    "Thru",
    "Unstated",
]


class _Rule(StrEnum):
    """The options of one rule, each with its meaning."""

    says: str

    def __new__(cls, value: str, says: str) -> Self:
        option = str.__new__(cls, value)
        option._value_ = value
        option.says = says
        return option


class Limits(_Rule):
    MIDDLE = "middle", "the middle"
    NOMINAL = "nominal", "nominal as written"
    UPPER = "upper", "the upper limit"
    LOWER = "lower", "the lower limit"


class Projections(_Rule):
    STYLE = "style", "first in metric, third in inch style"
    FIRST = "first", "first angle"
    THIRD = "third", "third angle"


class Locations(_Rule):
    ORDINATE = "ordinate", "ordinate from one datum"
    BASELINE = "baseline", "baseline"
    CHAIN = "chain", "chain"
    SYMMETRIC = "symmetric", "across the lines of symmetry, else from the datum"


class Datum(_Rule):
    AUTO = "auto", "the axis, else the lower left front corner or the one that gives rounder figures"
    LEFT_FRONT = "left-front-bottom", "lower left front corner"
    RIGHT_FRONT = "right-front-bottom", "lower right front corner"
    LEFT_BACK = "left-back-bottom", "lower left back corner"


class HoleTable(_Rule):
    FROM_16 = "from-16", "in a table, from 16 on"
    FROM_8 = "from-8", "in a table, from 8 on"
    NEVER = "never", "by ordinates, always"

    @property
    def least(self) -> int | None:
        """From how many holes on they stand in a table; None for never."""
        return None if self is HoleTable.NEVER else int(self.removeprefix("from-"))


class Repeats(_Rule):
    COUNT = "count", "4×"
    TYPICAL = "typ", "TYP (has no count to check)"


class Hidden(_Rule):
    AUTO = "auto", "off where they are too many"
    ALL = "all", "all on"
    NONE = "none", "all off"


class MassCheck(_Rule):
    EACH = "each", "after every step"
    END = "end", "at the end"


class Thru(_Rule):
    WALL = "wall", "through its wall, proven at the far face"
    ALL = "all", "through all"
    NEXT = "next", "to the next face"


class Threads(_Rule):
    TAP_DRILL = "tap-drill", "noted on a plain hole of tap drill size"
    NOMINAL = "nominal", "noted on a plain hole of nominal size"
    MODELLED = "modelled", "modelled as a helix"


class Pictorials(_Rule):
    NONE = "none", "not dimensioned there"
    REFERENCE = "reference", "true overall sizes under it, in parentheses"


class Datums(_Rule):
    KEPT = "kept", "kept and named"
    ONE = "one", "re-based to one, worked out"


class Unstated(_Rule):
    OPEN = "open", "left open and asked"
    ESTIMATED = "estimated", "taken from the model and marked EST"


class Notes(_Rule):
    SYMBOLS = "symbols", "symbols ⌀ ⌴ ⌵ ↧"
    WORDS = "words", "words DIA, CBORE, CSK, DEEP"


class Decimal(_Rule):
    POINT = "point", "a point, 12.5"
    COMMA = "comma", "a comma, 12,5 (metric style)"


class FinalCheck(_Rule):
    ALL = "all", "statements, mass and a look at the page"
    ONE = "one", "any one of them"
    TICKED = "ticked", "all three, and every line of the source ticked"


class House(BaseModel):
    """The value of every rule, with its question. In a header its name has hyphens."""

    model_config = ConfigDict(frozen=True)

    limits: Limits = Field(default=Limits.MIDDLE, title="Value to model from limits or a tolerance")
    projection: Projections = Field(default=Projections.STYLE, title="Projection")
    locations: Locations = Field(default=Locations.ORDINATE, title="Locations")
    #: One of the options, or any corner, point or axis that the draft finds.
    datum: Datum | str = Field(default=Datum.AUTO, title="Datum")
    hole_table: HoleTable = Field(default=HoleTable.FROM_16, title="Holes in no pattern")
    repeats: Repeats = Field(default=Repeats.COUNT, title="Repeats")
    hidden: Hidden = Field(default=Hidden.AUTO, title="Hidden lines")
    mass_check: MassCheck = Field(default=MassCheck.EACH, title="Mass check")
    thru: Thru = Field(default=Thru.WALL, title="THRU means")
    threads: Threads = Field(default=Threads.TAP_DRILL, title="Threads are")
    pictorial: Pictorials = Field(default=Pictorials.NONE, title="Sizes on a pictorial")
    datums: Datums = Field(default=Datums.KEPT, title="Two datums in the source")
    unstated: Unstated = Field(default=Unstated.OPEN, title="Unstated sizes")
    notation: Notes = Field(default=Notes.SYMBOLS, title="Hole notes")
    decimal: Decimal = Field(default=Decimal.POINT, title="Decimal marker")
    final_check: FinalCheck = Field(default=FinalCheck.ALL, title="Final check")

    @classmethod
    def read(cls, header: dict[str, Any]) -> Self:
        """The rules that a header states, by their names; the others have their defaults.

        Raises BadInput for a value that is no option of its rule.
        """
        said = {}
        for choice in CHOICES:
            value = str(header.get(choice.key) or choice.default).strip().lower()
            known = [v for v, _ in choice.options]
            # Any corner, a point or an axis may be the datum; the draft checks it.
            if choice.key != "datum" and value not in known:
                raise BadInput(f"{choice.key.capitalize()} “{value}” is not {', '.join(known[:-1])} or {known[-1]}.")
            said[choice.field] = value
        return cls.model_validate(said)

    def as_json(self) -> dict[str, str]:
        """The value of every rule by its name in a header."""
        return {choice.key: str(getattr(self, choice.field)) for choice in CHOICES}


class Choice:
    """One rule as it is offered: its name in a header, its question, its options with their meaning."""

    def __init__(self, name: str) -> None:
        field = House.model_fields[name]
        self.field, self.key, self.title = name, name.replace("_", "-"), str(field.title)
        self.default = str(field.default)
        self.options = tuple((str(o), o.says) for o in type(field.default))

    def as_json(self) -> dict[str, Any]:
        """The choice as plain data."""
        return {
            "key": self.key,
            "title": self.title,
            "options": [{"value": v, "says": s} for v, s in self.options],
        }


CHOICES: tuple[Choice, ...] = tuple(Choice(name) for name in House.model_fields)
