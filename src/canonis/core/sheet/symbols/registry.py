"""The kinds of callout that are drawn as a symbol at the end of their leader."""

from collections.abc import Callable
from dataclasses import dataclass

from canonis.core.sheet.document import Statement
from canonis.core.sheet.pen import Pen
from canonis.core.sheet.sizes import Look

__all__ = ["Symbol", "draws", "symbol_of"]


@dataclass(frozen=True)
class Symbol:
    """How a kind is drawn.

    `size` gives width, and how far it reaches above and below the line of its leader, mm. `draw` draws it from its left end on that
    line.
    """

    size: Callable[[Statement, Look], tuple[float, float, float]]
    draw: Callable[[Pen, tuple[float, float], Statement, Look], None]


_SYMBOLS: dict[str, Symbol] = {}


def draws(kind: str, symbol: Symbol) -> None:
    """Enter how a kind is drawn.

    Raises ValueError for a second way.
    """
    if kind in _SYMBOLS:
        raise ValueError(f"{kind} is drawn in two ways")
    _SYMBOLS[kind] = symbol


def symbol_of(mark: Statement) -> Symbol | None:
    """How a statement is drawn; None for one that is written."""
    return _SYMBOLS.get(mark.states)
