"""A callout: what one statement means, on a source as on a sheet."""

from fractions import Fraction
from typing import Self

from pydantic import BaseModel, ConfigDict, model_validator

from canonis.core.callout.part import Part
from canonis.core.callout.registry import Kind, kind_of

__all__ = ["WORDS", "Callout"]

#: The kind of what is kept as it is written: a note, or a text that nobody can read.
WORDS = "note"


class Callout(BaseModel):
    """What a statement means: its kind, its parts, how many things it is of, and its marks.

    `detail` is what the kind alone does not say (undercut, segment, clearance for M6; the words of a note), `direction` the
    face that an angle or a distance is taken from, `shown` where its members are seen (WHERE …). `reference` and `basic`
    sizes are in parentheses and frames, `typical` ones state no count, `estimated` ones nobody has stated.

    Raises ValueError (pydantic) for what could not be written so that it reads back.
    """

    model_config = ConfigDict(frozen=True)

    kind: str = WORDS
    count: int = 1
    reference: bool = False
    basic: bool = False
    typical: bool = False
    estimated: bool = False
    general: bool = False
    detail: str = ""
    direction: str = ""
    shown: str = ""
    parts: tuple[Part, ...] = ()

    @model_validator(mode="after")
    def _can_be_written(self) -> Self:
        if self.count < 1:
            raise ValueError("a callout is of one thing at least")
        if self.kind == WORDS:
            return self
        try:
            kind = kind_of(self.kind)
        except KeyError:
            raise ValueError(f"there is no kind of callout called {self.kind}") from None
        fault = kind.fault(p.name for p in self.parts) or self._unsized(kind) or kind.check(self)
        if fault is not None:
            raise ValueError(fault)
        return self

    def _unsized(self, kind: Kind) -> str | None:
        for part in self.parts:
            empty = part.nominal is None and part.designation is None
            if empty != kind.is_flag(part.name):
                return f"the {part.name.replace('-', ' ')} of a {self.kind} has {'no size' if empty else 'a size'}"
        return None

    def part(self, name: str) -> Part | None:
        """The part with this name, if it has one."""
        return next((p for p in self.parts if p.name == name), None)

    def size(self, name: str) -> Fraction | None:
        """The nominal of a part, if it has it."""
        part = self.part(name)
        return None if part is None else part.nominal

    def having(self, *parts: Part) -> Self:
        """The same with these parts in place of those of their names; new ones come last.

        Raises ValueError where the whole could not be written.
        """
        new = {p.name: p for p in parts}
        kept = tuple(new.pop(p.name, p) for p in self.parts)
        return self.changed(parts=(*kept, *new.values()))

    def changed(self, **fields: object) -> Self:
        """The same with other fields, held to the same rules.

        Raises ValueError where the whole could not be written.
        """
        return type(self)(**{**{n: getattr(self, n) for n in type(self).model_fields}, **fields})  # type: ignore[arg-type]

    @property
    def bare(self) -> "Callout":
        """What it means alone, without what a line of a source has around it."""
        return Callout(**{n: getattr(self, n) for n in Callout.model_fields})

    @property
    def stated(self) -> "Callout":
        """What it means as a sheet says it: a dimension shows which face it is from and what is a reference, and a general
        tolerance stands in the title block."""
        parts = tuple(
            p.model_copy(update={"lower": None, "upper": None, "tolerance": None}) if p.tolerance == "general" else p
            for p in self.parts
        )
        return self.bare.changed(parts=parts, direction="", typical=False, reference=False)

    @property
    def turns(self) -> list[Part]:
        """The parts that say at which angles the members of a ring stand: how far apart, the first one, or each. Where the
        start is a size of its own (of an arc slot) it is none of them."""
        own = frozenset() if self.kind == WORDS else kind_of(self.kind).parts
        names = ("pitch-angle", "start-angle")
        return [p for p in self.parts if p.name.startswith("member-") or (p.name in names and p.name not in own)]

    @property
    def main(self) -> Part | None:
        """The part that carries its first size."""
        return next((p for p in self.parts if p.nominal is not None and not p.plain), None)

    @property
    def said(self) -> tuple[object, ...]:
        """What it says, comparable: kind, count, marks, and every part's exact value and limits, in whatever order."""
        parts = sorted(map(str, (p.said for p in self.parts)))
        return (self.kind, self.count, self.reference, self.basic, self.typical, self.estimated, self.general,
                self.direction.lower(), self.shown.lower(), self.detail if self.kind == WORDS else "", tuple(parts))  # fmt: skip
