"""Every tolerance of the geometry: what counts as parallel, square, level, the same place, and why.

Directions are unit vectors, shape (3,); lengths are millimetres. A tolerance is asked by its predicate's name, so that
two places that mean the same cannot hold themselves to different numbers.
"""

import numpy as np
from numpy.typing import NDArray

__all__ = [
    "ALIGNED",
    "FINE",
    "FITTED",
    "JOINED",
    "NOISE",
    "NOTHING",
    "PARALLEL",
    "ROUNDING",
    "SAME",
    "SQUARE",
    "ZERO",
    "faces_along",
    "on_axis",
    "opposed",
    "parallel",
    "runs_across",
    "runs_along",
    "same",
    "same_place",
    "same_way",
    "square",
]

Direction = NDArray[np.float64]

#: What a cosine may fall short of one between directions that a drawing calls parallel: 0.08°. Files in single
#: precision and faces set by careless hands stay below it; a draft or a taper that is meant is a quarter of a degree or more.
PARALLEL = 1e-6
#: The same where a level is read along the direction: 0.0026°, so that it is wrong by less than 0.005 mm on 100 mm.
ALIGNED = 1e-9
#: The same where the direction itself becomes a frame of the part: what doubles leave of a direction that was computed.
ROUNDING = 1e-12
#: The cosine between directions that are square to one another.
SQUARE = 1e-6

#: Places nearer than this are one, mm: exports round to a thousandth, and no drawing of a whole part states less.
SAME = 1e-3
#: The same where two things must have been made as one, mm: what single precision leaves of a length of some metres.
FINE = 1e-4
#: Faces of one solid nearer than this are at one place, mm: two unknowns that differ by less could not be told apart.
JOINED = 2e-4
#: What computing a length on the kernel's solids leaves of nothing, mm: its own limit is a tenth of it.
NOISE = 1e-6
#: What fitting a line, a circle or a level to rays and meshes leaves, mm or as a share.
FITTED = 1e-5
#: What adding doubles leaves of nothing.
NOTHING = 1e-9
#: Less than this divides nothing.
ZERO = 1e-12


def runs_along(cosine: float, within: float = PARALLEL) -> bool:
    """Whether a cosine says that two directions run along one line, either way."""
    return abs(cosine) > 1 - within


def faces_along(cosine: float, within: float = PARALLEL) -> bool:
    """Whether a cosine says that two directions are one."""
    return cosine > 1 - within


def runs_across(cosine: float) -> bool:
    """Whether a cosine says that two directions make a right angle."""
    return abs(cosine) < SQUARE


def parallel(a: Direction, b: Direction, within: float = PARALLEL) -> bool:
    """Whether two directions run along one line, either way.

    >>> parallel(np.array([0.0, 0.0, 1.0]), np.array([0.0, 0.0, -1.0]))
    True
    """
    return abs(float(a @ b)) > 1 - within


def same_way(a: Direction, b: Direction, within: float = PARALLEL) -> bool:
    """Whether two directions are one.

    >>> same_way(np.array([0.0, 0.0, 1.0]), np.array([0.0, 0.0, -1.0]))
    False
    """
    return float(a @ b) > 1 - within


def opposed(a: Direction, b: Direction, within: float = PARALLEL) -> bool:
    """Whether two directions face each other.

    >>> opposed(np.array([0.0, 0.0, 1.0]), np.array([0.0, 0.0, -1.0]))
    True
    """
    return float(a @ b) < within - 1


def square(a: Direction, b: Direction) -> bool:
    """Whether two directions make a right angle.

    >>> square(np.array([0.0, 0.0, 1.0]), np.array([1.0, 0.0, 0.0]))
    True
    """
    return abs(float(a @ b)) < SQUARE


def on_axis(direction: Direction, within: float = PARALLEL) -> bool:
    """Whether a direction runs along one of the model's axes, either way.

    >>> on_axis(np.array([0.0, -1.0, 0.0])), on_axis(np.array([0.0, 0.6, 0.8]))
    (True, False)
    """
    return float(np.abs(direction).max()) > 1 - within


def same(a: float, b: float, within: float = SAME) -> bool:
    """Whether two sizes or levels are one, mm.

    >>> same(12.0004, 12.0), same(12.0004, 12.0, NOISE)
    (True, False)
    """
    return abs(a - b) < within


def same_place(a: NDArray[np.float64], b: NDArray[np.float64], within: float = SAME) -> bool:
    """Whether two points, shape (2,) or (3,), are one, mm.

    >>> same_place(np.array([0.0, 0.0]), np.array([0.0003, 0.0004]))
    True
    """
    return float(np.linalg.norm(a - b)) < within
