"""How each kind of statement is measured: every module that measures one enters it here, and nothing else has a list."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from canonis.core.callout.callout import Callout
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.statement import PartProof

__all__ = ["Measure", "Measures", "measures", "measures_of"]

#: Measures a statement, given the references that are still there and what it says.
Measure = Callable[[Measurer, Any, list[str], Callout], list[PartProof]]


@dataclass(frozen=True)
class Measures:
    """How statements of one kind are measured.

    `on` are the kinds of face that they can be about (any, where none is named); the references of statements of the kinds
    `among` tell its census what is named already.
    """

    kind: str
    measure: Measure
    on: frozenset[str] = frozenset()
    among: frozenset[str] = frozenset()


_ENTERED: dict[str, Measures] = {}


def measures(*kinds: str, on: tuple[str, ...] = (), among: tuple[str, ...] = ()) -> Callable[[Measure], Measure]:
    """Enter a function as what measures statements of some kinds; its census counts those of that kind as named, and `among`.

    Raises ValueError for a second one.
    """

    def enter(function: Measure) -> Measure:
        for kind in kinds:
            if kind in _ENTERED:
                raise ValueError(f"two functions measure statements of the kind {kind}")
            _ENTERED[kind] = Measures(kind, function, frozenset(on), frozenset(among or (kind,)))
        return function

    return enter


def measures_of(kind: str) -> Measures | None:
    """How statements of a kind are measured; None where nothing measures them."""
    # The modules that measure build on this one: they are loaded when somebody asks first.
    import canonis.core.proof.kinds  # noqa: F401

    return _ENTERED.get(kind)
