"""Flat faces by points and normals evaluated on them."""

import numpy as np

from canonis.core.solid import Solid, Vec, face_normals

__all__ = ["plane_of"]


def plane_of(solid: Solid, face: int) -> tuple[Vec, Vec]:
    """A point of a flat face and its outward unit normal (3 each, mm)."""
    points, normals = face_normals(solid, face, 3)
    mean = normals.mean(axis=0)
    return points[0], np.asarray(mean / float(np.linalg.norm(mean)))
