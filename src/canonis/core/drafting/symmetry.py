"""Planes about which a part is its own mirror image."""

import numpy as np

from canonis.core.solid.model import Solid, Vec

__all__ = ["mirrored"]

_KINDS = ("plane", "cylinder", "cone", "sphere", "torus", "free")


def mirrored(solid: Solid, axis: int) -> bool:
    """Whether a solid is symmetric about the plane square to an axis of its file (0, 1, 2) through the middle of its box.

    Told by its faces: each has a twin of the same kind, area, radius and mirrored place.
    """
    middle = float(solid.box[0][axis] + solid.box[1][axis]) / 2
    slack = 1e-5 * solid.diagonal
    places = np.array([[*f.centre, f.area**0.5, f.radius, float(_KINDS.index(f.kind))] for f in solid.faces])
    twins = places.copy()
    twins[:, axis] = 2 * middle - twins[:, axis]
    return _same(places, twins, slack)


def _same(a: Vec, b: Vec, slack: float) -> bool:
    """Whether two sets of points (n×m) are the same within a slack."""
    if len(a) > 4000:
        return False
    left = np.ones(len(b), dtype=bool)
    order = np.argsort(b[:, 0], kind="stable")
    sorted_x = b[order, 0]
    for row in a:
        lo, hi = np.searchsorted(sorted_x, [row[0] - slack, row[0] + slack])
        near = order[lo:hi]
        near = near[left[near] & (np.abs(b[near] - row).max(axis=1, initial=0.0) < slack)]
        if not len(near):
            return False
        left[near[0]] = False
    return True
