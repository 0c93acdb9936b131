"""A callout: what one statement means, on a source as on a sheet; and the kinds of callout, which each module of `kinds` enters
here: nothing else has a list of them."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from fractions import Fraction
from typing import Self

from pydantic import BaseModel, ConfigDict, model_validator

from canonis.core.callout.part import Part
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech

__all__ = ["COMMON", "WORDS", "Callout", "Kind", "enter", "kind_of", "kinds", "of_the_part"]

#: Parts that any counted thing may have: where its members stand.
COMMON = frozenset({"pitch", "pitch-circle", "pitch-angle", "start-angle", "equally-spaced"})


@dataclass(frozen=True)
class Kind:
    """What is known of one kind of callout.

    `write` gives the lines of its text without count and marks, `say` its meaning in words. `parts` are those that it may
    have, of each group of `needs` it has one at least, of each of `apart` one at most, and the first of each pair of
    `together` only with the second.
    """

    name: str
    parts: frozenset[str]
    write: "Callable[[Callout, Pen], list[str]]"
    say: "Callable[[Callout, Speech], str]"
    needs: tuple[tuple[str, ...], ...] = ()
    apart: tuple[tuple[str, ...], ...] = ()
    together: tuple[tuple[str, str], ...] = ()
    #: Those of its parts that have no size: that they are there says all.
    flags: frozenset[str] = frozenset()
    #: What is wrong with the sizes of a callout; None for nothing.
    check: "Callable[[Callout], str | None]" = lambda _: None
    #: Sizes of which one follows from the others and those beside them: who gives one takes the place of the others.
    same: frozenset[str] = frozenset()
    #: Whether it is said of everything that nothing else is said of in words of its own, so that UON may be left out.
    says_general: bool = False
    #: Whether its count stands after it: before it a number would be a size.
    counted_after: bool = False
    #: Whether where its members stand is written below it.
    stands_below: bool = False
    #: Whether what a note of it names are parts of one thing (floor and walls, say), not equal members.
    one_thing: bool = False
    #: Other kinds of statement that may say it as well, the likeliest first: a hole note its seats.
    carried_by: tuple[str, ...] = ()
    #: Whether it holds for the part that is made: a model of nominal size says nothing of what it asks.
    of_the_part: bool = False
    #: What files call a note of it on a sheet, where not by its own name.
    sheet_name: str = ""

    def fault(self, names: Iterable[str]) -> str | None:
        """What is wrong with a callout of this kind that has parts of these names; None for nothing."""
        got = list(names)
        there = set(got)
        for name in got:
            standing = name in COMMON or name.startswith("member-")
            if name not in self.parts and (self.of_the_part or not standing):
                return f"a {self.name} has no {name.replace('-', ' ')}"
        if len(got) > len(there):
            twice = next(n for n in got if got.count(n) > 1)
            return f"the {twice.replace('-', ' ')} is given twice"
        for group in self.needs:
            if not there & set(group):
                return f"a {self.name} needs its {' or '.join(group).replace('-', ' ')}"
        for group in self.apart:
            if len(there & set(group)) > 1:
                both = " and ".join(sorted(there & set(group))).replace("-", " ")
                return f"a {self.name} cannot have {both}"
        for one, other in self.together:
            if one in there and other not in there:
                return f"the {one.replace('-', ' ')} of a {self.name} needs its {other.replace('-', ' ')}"
        return None

    @property
    def noted(self) -> str:
        """What files call a note of it on a sheet."""
        return self.sheet_name or self.name

    def is_flag(self, name: str) -> bool:
        """Whether a part of this name has no size."""
        return name in self.flags or name == "equally-spaced"


_KINDS: dict[str, Kind] = {}


def enter(kind: Kind) -> Kind:
    """Enter a kind.

    Raises ValueError for a second one of the same name.
    """
    if kind.name in _KINDS:
        raise ValueError(f"there are two kinds of callout called {kind.name}")
    _KINDS[kind.name] = kind
    return kind


def kind_of(name: str) -> Kind:
    """The kind of this name.

    Raises KeyError where there is none.
    """
    return _KINDS[name]


def of_the_part(name: str) -> bool:
    """Whether what a callout of a kind asks holds for the part that is made, not for its model."""
    return name in _KINDS and _KINDS[name].of_the_part


def kinds() -> tuple[Kind, ...]:
    """All kinds."""
    return tuple(_KINDS.values())


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
        return (
            self.kind,
            self.count,
            self.reference,
            self.basic,
            self.typical,
            self.estimated,
            self.general,
            self.direction.lower(),
            self.shown.lower(),
            self.detail if self.kind == WORDS else "",
            tuple(parts),
        )
