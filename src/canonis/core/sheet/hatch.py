"""Hatching of cut faces: thin lines at 45°, one angle and pitch for one part through all its sections (ISO 128-3)."""

import math

import numpy as np
import shapely

from canonis.core.solid import Vec

__all__ = ["filled_outline", "hatch_angle", "hatch_lines", "hatch_pitch", "is_thin"]

#: A cut face thinner than this on paper is filled, mm.
THIN = 1.2


def hatch_pitch(area: float) -> float:
    """Distance of the lines on paper, mm, by the area of the largest cut face on paper (mm²)."""
    return float(np.clip(round(math.sqrt(max(area, 0.0)) / 14, 1), 2.0, 5.0))


def hatch_angle(solid: int) -> float:
    """Angle of the lines, radians: neighbours differ."""
    return math.radians((45, 135, 30, 120)[solid % 4])


def is_thin(region: shapely.Geometry) -> bool:
    """Whether a region (paper mm) is too thin to be hatched anywhere."""
    return bool(region.buffer(-THIN / 2).is_empty)


def filled_outline(region: shapely.Polygon) -> Vec:
    """One closed outline (N×2) around a region to be filled: it goes in to each opening and back out by the same way."""
    turned = shapely.geometry.polygon.orient(region)
    points = np.asarray(turned.exterior.coords)[:-1]
    for ring in turned.interiors:
        inner = np.asarray(ring.coords)[:-1]
        apart = np.linalg.norm(points[:, None, :] - inner[None, :, :], axis=2)
        k, m = np.unravel_index(int(np.argmin(apart)), apart.shape)
        around = np.vstack([inner[m:], inner[: m + 1]])
        points = np.vstack([points[: k + 1], around, points[k:]])
    return points


def hatch_lines(region: shapely.Geometry, angle: float, pitch: float, middle: Vec) -> list[Vec]:
    """Lines (2×2 each, paper mm) across a region; they run through fixed places counted from `middle`."""
    if region.is_empty:
        return []
    x0, y0, x1, y1 = region.bounds
    d, n = np.array([math.cos(angle), math.sin(angle)]), np.array([-math.sin(angle), math.cos(angle)])
    corners = np.array([[x0, y0], [x1, y0], [x1, y1], [x0, y1]]) - middle
    across, along = corners @ n, corners @ d
    ks = np.arange(math.floor(across.min() / pitch), math.ceil(across.max() / pitch) + 1)
    foot = middle + n * (ks * pitch)[:, None]
    rows = shapely.linestrings(np.stack([foot + d * (along.min() - 1), foot + d * (along.max() + 1)], axis=1))
    parts = shapely.get_parts(shapely.intersection(rows, region))
    lines = [np.asarray(p.coords) for p in parts if p.geom_type == "LineString" and not p.is_empty]
    return [line for line in lines if float(np.linalg.norm(line[-1] - line[0])) > 0.2]
