"""Places of a part: what a person counts as one, however many faces a file has for it."""

from collections.abc import Iterable

import numpy as np

from canonis.core.shape.surfaces import SAME
from canonis.core.solid.model import Face, Solid

__all__ = ["places"]


def _one_surface(a: Face, b: Face) -> bool:
    """Whether two round faces are pieces of one surface, parted by a hole or a cut."""
    if a.kind != b.kind or a.inner is not b.inner or abs(float(a.axis @ b.axis)) < 1 - 1e-9:
        return False
    apart = a.origin - b.origin
    if a.kind == "torus":
        return float(np.linalg.norm(apart)) < SAME and abs(a.radius - b.radius) < SAME and abs(a.minor - b.minor) < SAME
    return abs(a.radius - b.radius) < SAME and float(np.linalg.norm(apart - a.axis * float(apart @ a.axis))) < SAME


def places(solid: Solid, faces: Iterable[int]) -> list[list[int]]:
    """Faces of rounds by place: one round is one place, however many faces it has; a chain around a corner is one.

    Pieces of one surface belong together, and so do faces that run smoothly into each other.
    """
    mine = sorted(set(faces))
    group = {f: f for f in mine}

    def root(f: int) -> int:
        while group[f] != f:
            group[f] = group[group[f]]
            f = group[f]
        return f

    for k, f in enumerate(mine):
        for e, o in solid.neighbours[f]:
            if o in group and solid.edges[e].dihedral == "smooth":
                group[root(o)] = root(f)
        for g in mine[k + 1 :]:
            if solid.faces[f].kind in ("cylinder", "torus") and _one_surface(solid.faces[f], solid.faces[g]):
                group[root(g)] = root(f)
    out: dict[int, list[int]] = {}
    for f in mine:
        out.setdefault(root(f), []).append(f)
    return list(out.values())
