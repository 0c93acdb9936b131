"""The directions of views: how the paper's right and up lie in the solid's axes."""

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from canonis.core.solid import Vec
from canonis.core.tolerances import square

__all__ = ["PRINCIPAL", "ViewFrame", "frame_of", "front_frame"]

#: Principal views in the order they are tried (ISO 128-3).
PRINCIPAL = ("front", "top", "right", "left", "bottom", "back")


@dataclass(frozen=True, eq=False)
class ViewFrame:
    """An orthographic view: unit vectors along the paper's right and up; `toward` points to the viewer."""

    right: Vec
    up: Vec

    @cached_property
    def toward(self) -> Vec:
        """Unit vector from the part to the viewer."""
        return np.cross(self.right, self.up)

    @cached_property
    def _across(self) -> Vec:
        return np.column_stack([self.right, self.up])

    def flat(self, points: Vec) -> Vec:
        """Model points (…×3, mm) in the plane of the view (…×2, mm at 1:1)."""
        return np.asarray(points @ self._across)

    def shows_true(self, direction: Vec) -> bool:
        """Whether a direction lies in the plane of the view, so that lengths along it are true."""
        return square(direction, self.toward)


def front_frame(right: Vec, up: Vec) -> ViewFrame:
    """A front view from two main directions."""
    return ViewFrame(np.asarray(right, dtype=float), np.asarray(up, dtype=float))


def frame_of(kind: str, front: ViewFrame) -> ViewFrame:
    """The frame of a principal view or the pictorial, given the front view (ISO 5456-2)."""
    r, u, t = front.right, front.up, front.toward
    frames = {
        "front": (r, u),
        "top": (r, -t),
        "bottom": (r, t),
        "left": (t, u),
        "right": (-t, u),
        "back": (-r, u),
        "pictorial": ((r - t) / math.sqrt(2), (2 * u - r - t) / math.sqrt(6)),
    }
    right, up = frames[kind]
    return ViewFrame(np.asarray(right), np.asarray(up))
