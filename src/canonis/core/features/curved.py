"""Tapers, spheres, and rounds that the plain rule does not know: of varying radius or along a curved edge."""

import math
from typing import Any

import numpy as np

from canonis.core.features.model import Piece
from canonis.core.features.registry import Claims, finds, form
from canonis.core.features.stacks import axis_groups
from canonis.core.solid import Face, Solid, curvatures
from canonis.core.tolerances import NOISE, NOTHING, same, same_place

__all__ = ["find_balls", "find_free_rounds", "find_tapers"]

form("taper", "TP")
form("sphere", "SP")
form("fillet", "FX", patterned=False)


def find_tapers(solid: Solid, taken: set[int]) -> list[Piece]:
    """Full cones that are neither seats nor chamfers."""
    out: list[Piece] = []
    cones = [f for f in solid.faces if f.kind == "cone" and f.index not in taken]
    for _, _, faces in axis_groups(cones):
        left = list(faces)
        while left:
            one = left[0]
            mine = [
                f
                for f in left
                if same(f.half_angle, one.half_angle, NOISE)
                and f.inner is one.inner
                and same_place(f.origin, one.origin)
            ]
            left = [f for f in left if f not in mine]
            if sum(f.sweep for f in mine) < 1.9 * math.pi:
                continue
            ends = (min(min(f.span) for f in mine), max(max(f.span) for f in mine))
            slope = math.tan(one.half_angle)
            large, small = 2 * max(abs(x) for x in ends) * slope, 2 * min(abs(x) for x in ends) * slope
            data: dict[str, Any] = {
                "internal": one.inner,
                "large_mm": large,
                "small_mm": small,
                "length_mm": ends[1] - ends[0],
                "angle_deg": 2 * math.degrees(one.half_angle),
                "rate": (large - small) / (ends[1] - ends[0]),
            }
            own = tuple(f.index for f in mine)
            out.append(Piece("taper", data, one.axis, one.origin + one.axis * ends[0], own, own))
    return out


def find_balls(solid: Solid, taken: set[int]) -> list[Piece]:
    """Spherical faces that no round or hole owns, those of one centre together."""
    out: list[Piece] = []
    left = [f for f in solid.faces if f.kind == "sphere" and f.index not in taken]
    while left:
        one = left[0]
        mine = [
            f for f in left if f.inner is one.inner and same(f.radius, one.radius) and same_place(f.origin, one.origin)
        ]
        left = [f for f in left if f not in mine]
        own = tuple(f.index for f in mine)
        data = {"diameter_mm": 2 * one.radius, "convex": not one.inner}
        out.append(Piece("sphere", data, one.axis, one.origin, own, own))
    return out


def _blends(solid: Solid, face: Face) -> bool:
    """Whether a face runs smoothly into the faces along two of its sides."""
    sides = {k for e, k in solid.neighbours[face.index] if solid.edges[e].dihedral == "smooth"}
    return len(sides) >= 2


def find_free_rounds(solid: Solid, taken: set[int]) -> list[Piece]:
    """Free-form faces that blend two neighbours: constant radius along a curved edge, or of varying radius."""
    out: list[Piece] = []
    for face in solid.faces:
        if face.kind != "free" or face.index in taken or not _blends(solid, face):
            continue
        bend = curvatures(solid, face.index)
        if not len(bend):
            continue
        # Across a blend the surface curves most; the sign tells whether it bulges.
        strong = np.where(np.abs(bend[:, 0]) >= np.abs(bend[:, 1]), bend[:, 0], bend[:, 1])
        if np.any(np.abs(strong) < NOTHING) or len({bool(s > 0) for s in strong}) != 1:
            continue
        radii = 1 / np.abs(strong)
        low, high = float(radii.min()), float(radii.max())
        if high > 0.5 * solid.diagonal:
            continue
        convex = bool(strong[0] > 0)
        steady = high - low < 0.02 * low
        size = float(np.median(radii))
        data = (
            {"radius_mm": size, "convex": convex, "variable": False}
            if steady
            else {"radius_mm": None, "radius_min_mm": low, "radius_max_mm": high, "convex": convex, "variable": True}
        )
        out.append(Piece("fillet", data, face.axis, face.centre, (face.index,), (face.index,), "likely"))
    return out


def _plain(c: Claims) -> set[int]:
    return c.holes | c.slots | c.shafts | c.blends | c.taken


@finds(110)
def _tapers(c: Claims) -> list[Piece]:
    return find_tapers(c.solid, _plain(c))


@finds(120)
def _balls(c: Claims) -> list[Piece]:
    return find_balls(c.solid, _plain(c))


@finds(130)
def _free_rounds(c: Claims) -> list[Piece]:
    return find_free_rounds(c.solid, _plain(c))
