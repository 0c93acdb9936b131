"""The bench a recipe is worked on: the body so far, what each step did, and numbers in the recipe's unit."""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from canonis.core.faults import BadInput
from canonis.core.solid import Solid, Vec, cut, fuse, solid_from_shape, unit_vector
from canonis.core.tolerances import ZERO

__all__ = ["FAR", "Bench", "Effect", "three"]

#: Longer than any part: what `through` means to the kernel, mm.
FAR = 1e4

#: What one step did to the body: a mode (add, cut, keep) and the tool.
Effect = tuple[str, Any]


@dataclass(eq=False)
class Bench:
    """The body so far. `scale` is mm per unit of the recipe; `number` evaluates what a recipe writes as a number."""

    number: Callable[[Any], float]
    scale: float
    shape: Any = None
    effects: dict[str, list[tuple[str, Any]]] = field(default_factory=dict)
    made: dict[str, set[str]] = field(default_factory=dict)
    #: The body that was last looked at, with its tables.
    _seen: tuple[Any, Solid] | None = None

    def length(self, value: Any) -> float:
        """A length of the recipe in mm."""
        return self.number(value) * self.scale

    def point(self, data: Any) -> Vec:
        """A point of the recipe in mm."""
        return np.array([self.length(c) for c in three(data)])

    def vector(self, data: Any) -> Vec:
        """A direction of the recipe, of length one."""
        v = np.array([self.number(c) for c in three(data)])
        if float(np.linalg.norm(v)) < ZERO:
            raise BadInput("a direction has no length")
        return unit_vector(v)

    def apply(self, mode: str, tool: Any) -> None:
        """Add a tool to the body, cut it away, or keep what both share."""
        if mode == "cut":
            if self.shape is None:
                raise BadInput("there is nothing to cut from yet")
            self.shape = cut(self.shape, tool)
        elif mode == "add":
            self.shape = tool if self.shape is None else fuse(self.shape, tool)
        elif mode == "keep":
            if self.shape is None:
                raise BadInput("there is nothing to keep a part of yet")
            # What both share: the body less what lies outside the tool.
            self.shape = cut(self.shape, cut(self.shape, tool))
        else:
            raise BadInput(f"mode “{mode}” is not add, cut or keep")

    def solid(self) -> Solid:
        """The body so far as tables, its faces as built."""
        if self.shape is None:
            raise BadInput("there is no solid yet")
        if self._seen is None or self._seen[0] is not self.shape:
            # A body half made is taken at its word; whoever may have broken it looks himself.
            self._seen = (self.shape, solid_from_shape(self.shape, "stage", merge=False, valid=True))
        return self._seen[1]


def three(data: Any) -> list[Any]:
    """The three numbers of a point or direction."""
    if not isinstance(data, list) or len(data) != 3:
        raise BadInput(f"{data!r} is not a point or direction of three numbers")
    return data
