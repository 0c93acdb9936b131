"""What finds compound features: each module that does enters its finders here, with what is known of the kinds it finds."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from functools import cache

from canonis.core.features.model import Feature, Piece
from canonis.core.folder import modules_of
from canonis.core.solid import Solid

__all__ = ["Claims", "Finder", "FormKind", "finders", "finds", "form", "form_of"]


@dataclass(eq=False)
class Claims:
    """A solid on which compound features are looked for, and the faces that are claimed: by plain features (holes, closed slots,
    rounds and bevels, shafts), and by compound ones so far."""

    solid: Solid
    found: Feature
    #: Grooves in flat faces.
    rings: list[Piece]
    holes: set[int]
    slots: set[int]
    blends: set[int]
    shafts: set[int]
    taken: set[int] = field(default_factory=set)
    #: Faces of modelled threads.
    threads: set[int] = field(default_factory=set)
    #: Faces of teeth and lobes.
    toothed: set[int] = field(default_factory=set)
    #: Ribs, found before what stands on a face, so that a hub among them is not taken for one thing with them.
    ribs: list[Piece] = field(default_factory=list)


@dataclass(frozen=True)
class FormKind:
    """A kind of compound feature: the letter that its names begin with.

    `alone` ones are named piece by piece, `patterned` ones stand in patterns; the walls of `walled` ones have a distance that
    is a size of theirs; `opens` ones break into a bore that they meet; where `plain` ones repeat, nothing of their own says so.
    """

    kind: str
    letter: str
    alone: bool = False
    patterned: bool = True
    walled: bool = False
    opens: bool = False
    plain: bool = False


Finder = Callable[[Claims], Iterable[Piece]]
_FINDERS: list[tuple[int, Finder]] = []
_FORMS: dict[str, FormKind] = {}


def finds(order: int) -> Callable[[Finder], Finder]:
    """Enter a finder; of two that claim a face the one of lower order gets it."""

    def enter(function: Finder) -> Finder:
        _FINDERS.append((order, function))
        return function

    return enter


def form(
    kind: str,
    letter: str,
    *,
    alone: bool = False,
    patterned: bool = True,
    walled: bool = False,
    opens: bool = False,
    plain: bool = False,
) -> FormKind:
    """Enter a kind of compound feature.

    Raises ValueError for a second one of the same name.
    """
    if kind in _FORMS:
        raise ValueError(f"two finders enter the kind {kind}")
    _FORMS[kind] = FormKind(kind, letter, alone, patterned, walled, opens, plain)
    return _FORMS[kind]


def finders() -> tuple[Finder, ...]:
    """All finders in their order."""
    _load()
    return tuple(f for _, f in sorted(_FINDERS, key=lambda f: f[0]))


def form_of(kind: str) -> FormKind:
    """What is known of a kind of compound feature.

    Raises KeyError where none is entered.
    """
    _load()
    return _FORMS[kind]


@cache
def _load() -> None:
    """Meet every module of this folder, so that those that find something have entered it."""
    modules_of(__name__.rpartition(".")[0])
