"""Circles through measured points."""

import numpy as np

from canonis.core.solid.model import Vec

__all__ = ["circumcentre", "ring_centre"]


def circumcentre(a: Vec, b: Vec, c: Vec) -> Vec:
    """Centre of the circle through three points."""
    ab, ac = b - a, c - a
    n = np.cross(ab, ac)
    size = float(n @ n)
    if size < 1e-18:
        return np.asarray((a + b + c) / 3)
    return np.asarray(a + (np.cross(n, ab) * float(ac @ ac) + np.cross(ac, n) * float(ab @ ab)) / (2 * size))


def ring_centre(points: Vec) -> Vec:
    """Centre of the circle through three points of a ring (n×3, in one plane) that stand far apart."""
    a = points[0]
    b = points[int(np.argmax(np.linalg.norm(points - a, axis=1)))]
    spread = np.minimum(np.linalg.norm(points - a, axis=1), np.linalg.norm(points - b, axis=1))
    return circumcentre(a, b, points[int(np.argmax(spread))])
