"""Circles, balls and tubes through measured points."""

import math

import numpy as np

from canonis.core.solid import Solid, Vec, edge_points, face_normals
from canonis.core.tolerances import SAME

__all__ = ["bend_of", "circle_centre", "circumcentre", "ring_centre", "sphere_fit", "tube_level", "tube_radius"]

#: A cross product smaller than this comes from three points in line.
_DEGENERATE = 1e-18


def circumcentre(a: Vec, b: Vec, c: Vec) -> Vec:
    """Centre of the circle through three points."""
    ab, ac = b - a, c - a
    n = np.cross(ab, ac)
    size = float(n @ n)
    if size < _DEGENERATE:
        return np.asarray((a + b + c) / 3)
    return np.asarray(a + (np.cross(n, ab) * float(ac @ ac) + np.cross(ac, n) * float(ab @ ab)) / (2 * size))


def ring_centre(points: Vec) -> Vec:
    """Centre of the circle through three points of a ring (n×3, in one plane) that stand far apart."""
    a = points[0]
    b = points[int(np.argmax(np.linalg.norm(points - a, axis=1)))]
    spread = np.minimum(np.linalg.norm(points - a, axis=1), np.linalg.norm(points - b, axis=1))
    return circumcentre(a, b, points[int(np.argmax(spread))])


def circle_centre(solid: Solid, rim: int) -> Vec:
    """The centre of a circular edge, from points on it, mm."""
    points = edge_points(solid, rim)
    return circumcentre(points[0], points[2], points[4])


def sphere_fit(solid: Solid, face: int) -> tuple[Vec, float]:
    """Centre and radius of a sphere from points on it and its normals there, mm."""
    points, normals = face_normals(solid, face, 7)
    # Every normal line runs through the centre: p + t n = c for one t.
    rows = np.vstack([np.c_[np.tile(np.eye(3), (len(points), 1)), -normals.reshape(-1, 1)]])
    solution = np.linalg.lstsq(rows, points.reshape(-1), rcond=None)[0]
    return np.asarray(solution[:3]), abs(float(solution[3]))


def tube_level(solid: Solid, face: int, along: Vec) -> float:
    """The level along its axis of the middle of a torus, from points on it and its normals there, mm."""
    points, normals = face_normals(solid, face, 7)
    tube = tube_radius(solid, face)
    levels = [(points + sense * tube * normals) @ along for sense in (1.0, -1.0)]
    return float(np.mean(min(levels, key=lambda x: float(np.ptp(x)))))


def bend_of(solid: Solid, face: int) -> tuple[Vec, float]:
    """Centre and radius of the circle in the middle of a bent tube, from points on it and its normals there, mm."""
    points, normals = face_normals(solid, face, 7)
    tube = tube_radius(solid, face)

    def middles(sense: float) -> tuple[float, Vec]:
        line = points + sense * tube * normals
        off = line - line.mean(axis=0)
        return float(np.linalg.svd(off, compute_uv=False)[2]), line

    # Towards the middle of the tube they all come to lie in one plane; the other way they do not.
    _, line = min((middles(1.0), middles(-1.0)), key=lambda found: found[0])
    centre = ring_centre(line)
    return centre, float(np.linalg.norm(line[0] - centre))


def tube_radius(solid: Solid, face: int) -> float:
    """Radius of a torus tube from how its normals turn: neighbours apart / angle between normals."""
    points, normals = face_normals(solid, face, 7)
    grid_p, grid_n = points.reshape(7, 7, 3), normals.reshape(7, 7, 3)
    ways = []
    for p, n in ((grid_p, grid_n), (grid_p.transpose(1, 0, 2), grid_n.transpose(1, 0, 2))):
        radii = []
        for k in (1, 3, 5):
            turn = math.acos(float(np.clip(n[k][0] @ n[k][-1], -1, 1)))
            chord = float(np.linalg.norm(p[k][-1] - p[k][0]))
            radii.append(chord / (2 * math.sin(turn / 2)) if turn > SAME else math.inf)
        if all(math.isfinite(r) for r in radii):
            ways.append((max(radii) - min(radii), float(np.mean(radii))))
    # Around the ring the radius changes from line to line; along the tube it is the same everywhere.
    return min(ways, default=(0.0, math.inf))[1]
