"""The kinds of callout: each module of `kinds` enters what it knows here, and nothing else has a list of them."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from canonis.core.callout.callout import Callout
    from canonis.core.callout.pen import Pen
    from canonis.core.callout.speech import Speech

__all__ = ["COMMON", "Kind", "enter", "kind_of", "kinds"]

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
    #: What files call a note of it on a sheet, where not by its own name.
    sheet_name: str = ""

    def fault(self, names: Iterable[str]) -> str | None:
        """What is wrong with a callout of this kind that has parts of these names; None for nothing."""
        got = list(names)
        there = set(got)
        for name in got:
            plain = name in self.parts or name in COMMON or name.startswith("member-")
            if not plain:
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
    return _entered()[name]


def kinds() -> tuple[Kind, ...]:
    """All kinds."""
    return tuple(_entered().values())


def _entered() -> dict[str, Kind]:
    """All kinds by name. Their modules build on callouts, so that they are loaded when somebody asks first."""
    import canonis.core.callout.kinds  # noqa: F401

    return _KINDS
