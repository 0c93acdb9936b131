"""A curve in the plane of a view with its class, before coincident ones are merged."""

from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from canonis.core.solid.model import Vec

__all__ = ["LineClass", "RawCurve"]

LineClass = Literal["visible", "hidden", "smooth"]


@dataclass(frozen=True, eq=False)
class RawCurve:
    """A projected curve: a line or free curve by points, an arc or ellipse by centre, half axes and angles (radians).

    `minor` is an ellipse's smaller half axis and `turn` the angle of its larger one; an arc has neither. `edge` is the
    edge of the solid that it comes from (−1 for an outline) and `faces` the faces it stands on, where that is known.
    """

    line_class: LineClass
    kind: Literal["line", "arc", "ellipse", "curve"]
    points: Vec = field(default_factory=lambda: np.zeros((0, 2)))
    centre: Vec = field(default_factory=lambda: np.zeros(2))
    radius: float = 0.0
    a0: float = 0.0
    a1: float = 0.0
    minor: float = 0.0
    turn: float = 0.0
    edge: int = -1
    faces: tuple[int, ...] = ()
