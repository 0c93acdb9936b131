"""Arrangement of equal members: rows, grids, rings, with missing members counted."""

import math

import numpy as np

from canonis.core.features.graph import plane_axes
from canonis.core.features.model import Pattern
from canonis.core.solid import Vec, unit_vector
from canonis.core.tolerances import ALIGNED, NOISE, on_axis

__all__ = ["find_pattern"]

_TOL = 0.01


def _circle(points: Vec) -> tuple[Vec, float] | None:
    a = np.c_[2 * points, np.ones(len(points))]
    if np.linalg.matrix_rank(a, tol=1e-6 * max(1.0, float(np.abs(a).max()))) < 3:
        return None
    sol = np.linalg.lstsq(a, (points**2).sum(1), rcond=None)[0]
    centre = sol[:2]
    radius = math.sqrt(max(0.0, float(sol[2] + centre @ centre)))
    if np.abs(np.linalg.norm(points - centre, axis=1) - radius).max() > _TOL:
        return None
    return centre, radius


def _circular(points: Vec) -> tuple[Vec, float, int] | None:
    fit = _circle(points) if len(points) >= 3 else None
    if fit is None:
        return None
    centre, radius = fit
    rel = points - centre
    angles = np.sort(np.degrees(np.arctan2(rel[:, 1], rel[:, 0])) % 360)
    gaps = np.diff(np.append(angles, angles[0] + 360))
    step = float(gaps.min())
    tol = math.degrees(_TOL / max(radius, 1e-6)) * 2 + 1e-4
    slots = round(360 / step) if step > NOISE else 0
    if slots < len(points) or slots > 2 * len(points) or abs(slots * step - 360) > slots * tol:
        return None
    if np.any(np.abs(gaps / step - np.round(gaps / step)) * step > tol):
        return None
    return centre, radius, slots


def _spaced(values: Vec) -> tuple[float, int] | None:
    """Pitch and number of steps of levels that are whole multiples of one pitch."""
    levels = [values[0]]
    for v in np.sort(values):
        if abs(v - levels[-1]) > _TOL:
            levels.append(v)
    levels = sorted(set(float(x) for x in levels))
    if len(levels) == 1:
        return 0.0, 1
    steps = np.diff(levels)
    pitch = float(steps.min())
    ratio = steps / pitch
    if np.any(np.abs(ratio - np.round(ratio)) * pitch > _TOL):
        return None
    return pitch, round((levels[-1] - levels[0]) / pitch) + 1


def _linear(points: Vec) -> tuple[float, int] | None:
    direction = points[np.argmax(np.linalg.norm(points - points[0], axis=1))] - points[0]
    if np.linalg.norm(direction) < _TOL:
        return None
    direction = direction / np.linalg.norm(direction)
    rel = points - points[0]
    if np.abs(rel[:, 0] * direction[1] - rel[:, 1] * direction[0]).max() > _TOL:
        return None
    spaced = _spaced(rel @ direction)
    return spaced if spaced and spaced[1] == len(points) else None


def _ways(positions: Vec, axis: Vec) -> list[tuple[Vec, Vec]]:
    """Axes in the pattern's plane to try: the file's own, and those along its closest members.

    On a plane of the file's axes the file's own come first, so that pitches read as x then y; on a sloped plane they
    mean nothing, and the members' own come first.
    """
    own = plane_axes(axis)
    rel = positions[1:] - positions[0]
    rel = rel - np.outer(rel @ axis, axis)
    rel = rel[np.argsort(np.linalg.norm(rel, axis=1), kind="stable")][:4]
    turned = [(u, np.cross(axis, u)) for u in (unit_vector(r) for r in rel if np.linalg.norm(r) > _TOL)]
    return [own, *turned] if on_axis(axis, ALIGNED) else [*turned, own]


def find_pattern(positions: Vec, axis: Vec) -> Pattern | None:
    """The pattern of hole positions (n×3, mm) in the plane across `axis`, or None."""
    n = len(positions)
    if n < 2:
        return None
    u, v = plane_axes(axis)
    points = np.c_[positions @ u, positions @ v]
    line = _linear(points)
    if line:
        return Pattern("linear", {"pitch_mm": round(line[0], 6), "count": n})
    ring = _circular(points)
    ways = _ways(positions, axis)
    for u, v in ways if n > 3 else ways[:1]:
        grid = _grid(np.c_[positions @ u, positions @ v])
        if grid and grid.kind == "grid" and (n == 4 or not ring):
            return grid
        if ring:
            break
        if grid:
            return grid
    if ring:
        centre, radius, slots = ring
        u, v = plane_axes(axis)
        # The ring's centre lies in the start plane of the holes.
        c3 = centre[0] * u + centre[1] * v + axis * float(positions[0] @ axis)
        return Pattern(
            "circular",
            {
                "diameter_mm": round(2 * radius, 6),
                "count": slots if slots == n else n,
                "centre_mm": [round(float(x), 6) for x in c3],
                "missing": slots - n,
            },
        )
    return None


def _grid(points: Vec) -> Pattern | None:
    """A grid or a staggered grid along the axes of the given plane points (n×2, mm)."""
    n = len(points)
    du, dv = _spaced(points[:, 0]), _spaced(points[:, 1])
    if not du or not dv or du[1] < 2 or dv[1] < 2:
        return None
    full = du[1] * dv[1]
    data = {"pitch_mm": [round(du[0], 6), round(dv[0], 6)], "count": [du[1], dv[1]]}
    if n >= 4 and full - n <= max(1, full // 4):
        return Pattern("grid", data | {"missing": full - n})
    if (n >= 4 and full == 2 * n) or full == 2 * n - 1:
        return Pattern("staggered", data)
    return None
