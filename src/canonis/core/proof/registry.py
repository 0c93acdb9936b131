"""What is known of each kind on the second route: how statements are measured, what lines of a source may mean, and what
features of the recogniser are. Every module of `kinds` enters its own here, and nothing else has a list."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

from canonis.core.callout import Callout
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.statement import PartProof
from canonis.core.solid import Member, Solid

__all__ = ["ENTERED", "MEANT", "THINGS", "Gauge", "Meant", "Measure", "Measures", "Thing", "meant", "measures", "thing"]

#: Measures a statement, given the references that are still there and what it says.
Measure = Callable[[Measurer, Any, list[str], Callout], list[PartProof]]


@dataclass(frozen=True)
class Measures:
    """How statements of one kind are measured.

    `on` are the kinds of face that they can be about (any, where none is named); the references of statements of the kinds
    `among` tell its census what is named already. `sheet` ones depend on all that their sheet states.
    """

    kind: str
    measure: Measure
    on: frozenset[str] = frozenset()
    among: frozenset[str] = frozenset()
    sheet: bool = False


ENTERED: dict[str, Measures] = {}


def measures(
    *kinds: str, on: tuple[str, ...] = (), among: tuple[str, ...] = (), sheet: bool = False
) -> Callable[[Measure], Measure]:
    """Enter a function as what measures statements of some kinds (see `Measures`); its census counts those of that kind as
    named, or `among`.

    Raises ValueError for a second one.
    """

    def enter(function: Measure) -> Measure:
        for kind in kinds:
            if kind in ENTERED:
                raise ValueError(f"two functions measure statements of the kind {kind}")
            ENTERED[kind] = Measures(kind, function, frozenset(on), frozenset(among or (kind,)), sheet)
        return function

    return enter


@dataclass(frozen=True)
class Meant:
    """What a line of a source of one kind can be about.

    `places` tells where its places are looked for: among the distances and sizes ("length"), the angles ("angle"), the pitches
    and grids ("pattern"), the features `things` with what each costs ("feature"), or nowhere.
    """

    kind: str
    things: Mapping[str, float] = field(default_factory=dict)
    places: Literal["feature", "length", "angle", "pattern", ""] = "feature"
    #: Whether it can be about several features at once: always, where it says how many, or never.
    several: Literal["always", "counted", ""] = ""
    #: Whether it is of one thing where it gives no count; a bare size is often written once for several.
    strict: bool = False
    #: Whether its features must be as many as it says, and nothing measures their pitch.
    whole: bool = False
    #: Whether it is compared without a size.
    unsized: bool = False
    #: Whether a word for another sort of feature in it says nothing against it.
    free_words: bool = False
    #: Whether it is listed where its feature is seen end on.
    end_on: bool = False
    #: What it says of a hole: its diameter, its seats, its rim.
    bore: bool = False
    seats: bool = False
    rim: bool = False
    #: What sort of place a feature is for it; two of one sort at one feature are the same said twice.
    key: str = "feature"


#: Measures sizes of one instance of a feature by their names, mm or degrees, given what the recogniser counted (starts of a thread);
#: what cannot be measured is left out.
Gauge = Callable[[Solid, Member, Mapping[str, float]], Mapping[str, float]]


@dataclass(frozen=True)
class Thing:
    """What the second route knows of a kind of feature that is handed to it.

    `plain` are its sizes that a bare length can mean, `words` those that name it.
    """

    kind: str
    plain: tuple[str, ...] = ()
    words: tuple[str, ...] = ()
    #: Its axes are levels of the part: ones that a source must reach, or may.
    axes: Literal["needed", "optional", ""] = ""
    #: It stands by its ends or by its middle, and has no pitch by its axes.
    by_ends: bool = False
    #: Its flat faces are sizes of it and no levels of the part.
    keeps_faces: bool = False
    #: Its flat faces are levels of the part already, which say it.
    levelled: bool = False
    #: It is cut into something: a bare length is likelier one of its sizes.
    cut: bool = False
    #: It breaks an edge: its rims are where people measure to, rightly or not.
    breaks_edge: bool = False
    #: It owns the cones that it is made of.
    conical: bool = False
    #: It has angles that a bare angle can mean.
    angled: bool = False
    #: It claims the faces that it is made of, and those of holes in them.
    claims: bool = True
    claims_holes: bool = False
    #: Its round faces are about its axes.
    turned: bool = False
    #: Measures sizes of it afresh that no two faces bear out; the recogniser's point says where to look, never how big.
    gauge: "Gauge | None" = None
    #: It goes through or to a depth, which a line is held to.
    ended: bool = False
    #: What it costs when no line says it, of what a hole costs.
    weight: float = 0.0


MEANT: dict[str, Meant] = {}
THINGS: dict[str, Thing] = {}


def meant(kind: str, **known: Any) -> Meant:
    """Enter what lines of a kind can be about.

    Raises ValueError for a second entry.
    """
    if kind in MEANT:
        raise ValueError(f"lines of the kind {kind} are entered twice")
    MEANT[kind] = Meant(kind, **known)
    return MEANT[kind]


def thing(kind: str, **known: Any) -> Thing:
    """Enter what is known of a kind of feature.

    Raises ValueError for a second entry.
    """
    if kind in THINGS:
        raise ValueError(f"features of the kind {kind} are entered twice")
    THINGS[kind] = Thing(kind, **known)
    return THINGS[kind]
