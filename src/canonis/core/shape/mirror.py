"""Planes about which a part is its own mirror image."""

import numpy as np

from canonis.core.solid import Solid, Vec

__all__ = ["mirrored", "mirrored_about"]

_KINDS = ("plane", "cylinder", "cone", "sphere", "torus", "free")
#: Of more faces nothing is told; so much of its area must have twins for a part to be symmetric by and large.
_MANY, _LARGELY = 4000, 0.8


def mirrored(solid: Solid, axis: int) -> bool:
    """Whether a solid is symmetric about the plane square to an axis of its file (0, 1, 2) through the middle of its box.

    Told by its faces: each has a twin of the same kind, area, radius and mirrored place.
    """
    middle = float(solid.box[0][axis] + solid.box[1][axis]) / 2
    return _same(*_twins(solid, np.eye(3)[axis], middle), 1e-5 * solid.diagonal)


def mirrored_about(solid: Solid, normal: Vec) -> bool:
    """Whether a solid is by and large symmetric about the plane square to any direction through the middle of its surface:
    as a forging is whose corners differ a little."""
    areas = np.array([f.area for f in solid.faces])
    levels = np.array([float(f.centre @ normal) for f in solid.faces])
    places, twins = _twins(solid, normal, float(levels @ areas / areas.sum()))
    slack = 1e-3 * solid.diagonal
    if len(places) > _MANY:
        return False
    alike = [bool((np.abs(places - twin).max(axis=1) < slack).any()) for twin in twins]
    return float(areas[alike].sum()) > _LARGELY * float(areas.sum())


def _twins(solid: Solid, normal: Vec, middle: float) -> tuple[Vec, Vec]:
    """Of each face where it lies, how large it is and of what kind (n×6), and the same of its mirror image."""
    places = np.array([[*f.centre, f.area**0.5, f.radius, float(_KINDS.index(f.kind))] for f in solid.faces])
    twins = places.copy()
    twins[:, :3] -= 2 * np.outer(places[:, :3] @ normal - middle, normal)
    return places, twins


def _same(a: Vec, b: Vec, slack: float) -> bool:
    """Whether two sets of points (n×m) are the same within a slack."""
    if len(a) > _MANY:
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
