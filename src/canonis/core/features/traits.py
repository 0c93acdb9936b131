"""What is true of the whole part: its levels, its symmetry planes, and whether it is turned."""

import math
from typing import Any

import numpy as np

from canonis.core.features.graph import extent
from canonis.core.features.stacks import axis_groups, upward
from canonis.core.solid import Face, Solid, Vec
from canonis.core.tolerances import SAME, parallel, square

__all__ = ["levels", "symmetry_planes", "turned_profile"]

#: A mirror plane that this share of the surface obeys is a near-symmetry worth a list of what breaks it.
_NEAR = 0.75


def levels(solid: Solid) -> list[tuple[Vec, list[float]]]:
    """Families of parallel planes: (direction, levels along it in mm), those with most levels first."""
    families: list[tuple[Vec, list[float]]] = []
    for f in solid.faces:
        if f.kind != "plane":
            continue
        way = upward(f.axis)
        level = float(f.origin @ way)
        for n, found in families:
            if parallel(n, way):
                if not any(abs(level - x) < SAME for x in found):
                    found.append(level)
                break
        else:
            families.append((way, [level]))
    for _, found in families:
        found.sort()
    return sorted(families, key=lambda p: -len(p[1]))


def _mirrored(points: Vec, normal: Vec, offset: float) -> Vec:
    return points - 2 * np.outer(points @ normal - offset, normal)


def symmetry_planes(solid: Solid) -> list[dict[str, Any]]:
    """Mirror planes of the solid, tested face by face; near-symmetries name the faces that break them."""
    if len(solid.faces) > 4000:
        return []
    middles = np.array([f.centre for f in solid.faces])
    area = np.array([f.area for f in solid.faces])
    names = sorted({(f.kind, f.inner) for f in solid.faces})
    kinds = np.array([names.index((f.kind, f.inner)) for f in solid.faces])
    tol = 1e-3 + 1e-6 * solid.diagonal
    directions = [n for n, _ in levels(solid)[:6]]
    directions += [
        upward(np.cross(a, b))
        for k, a in enumerate(directions[:3])
        for b in directions[k + 1 : 3]
        if np.linalg.norm(np.cross(a, b)) > 0.9
    ]
    directions += [
        upward((a + s * b) / math.sqrt(2))
        for k, a in enumerate(directions[:3])
        for b in directions[k + 1 : 3]
        if square(a, b)
        for s in (1, -1)
    ]
    out: list[dict[str, Any]] = []
    seen: list[Vec] = []
    for n in directions:
        if any(parallel(n, s) for s in seen):
            continue
        seen.append(n)
        low, high = extent(solid, range(len(solid.faces)), n)
        best: dict[str, Any] | None = None
        for offset in dict.fromkeys((round((low + high) / 2, 9), round(float(solid.mass.centre @ n), 9))):
            mirror = _mirrored(middles, n, offset)
            broken = [
                int(k) for k in np.nonzero(np.logical_not(_have_twins(mirror, middles, area, kinds, 10 * tol)))[0]
            ]
            reach = 0.03 * solid.diagonal
            # A face that a hole off its place shifts by a little still counts for nearness.
            far = (
                broken
                if len(broken) > 300
                else [k for k in broken if not _has_near(k, mirror[k], middles, area, kinds, reach)]
            )
            share = 1 - float(area[far].sum()) / float(area.sum())
            if best is None or share > best["share"]:
                best = {"normal": n, "offset_mm": offset, "share": share, "broken_by": broken}
        if best and (not best["broken_by"] or best["share"] > _NEAR):
            out.append(best)
    return sorted(out, key=lambda p: (bool(p["broken_by"]), -p["share"]))


def _keys(middles: Vec, area: Vec, kinds: Vec, cell: float, shift: float) -> Vec:
    """One comparable item a face, equal for faces of one kind, place and area."""
    table = np.c_[np.floor(middles / cell + shift), np.floor(area / (50 * cell) + shift), kinds].astype(np.int64)
    return np.ascontiguousarray(table).view([("", np.int64)] * 5).ravel()


def _have_twins(mirror: Vec, middles: Vec, area: Vec, kinds: Vec, cell: float) -> Vec:
    """Whether each mirrored face falls on a face of the same kind and area (n booleans)."""
    out = np.zeros(len(middles), dtype=bool)
    # Two grids, so that noise at a border of one does not hide a twin; uneven, so that round sizes lie on none.
    for shift in (0.3217, 0.7713):
        out |= np.isin(_keys(mirror, area, kinds, cell, shift), _keys(middles, area, kinds, cell, shift))
    return out


def _has_near(k: int, at: Vec, middles: Vec, area: Vec, kinds: Vec, reach: float) -> bool:
    close = (kinds == kinds[k]) & np.all(np.abs(middles - at) < reach, axis=1)
    return bool(np.any(close & (np.abs(area - area[k]) < 0.1 * area[k])))


def turned_profile(solid: Solid) -> dict[str, Any] | None:
    """The axis and the outer steps of a part most of whose surface turns about one line, or None."""
    round_faces = [f for f in solid.faces if f.kind in ("cylinder", "cone", "torus")]
    groups = sorted(axis_groups(round_faces), key=lambda g: -sum(f.area for f in g[2]))
    best: tuple[float, Vec, Vec, list[Face]] | None = None
    for base, axis, faces in groups[:3]:
        members = {f.index for f in faces}
        ends = {
            k
            for f in faces
            for _, k in solid.neighbours[f.index]
            if k not in members and solid.faces[k].kind == "plane" and parallel(solid.faces[k].axis, axis)
        }
        area = sum(f.area for f in faces) + sum(solid.faces[k].area for k in ends)
        if best is None or area > best[0]:
            best = (area, base, axis, [f for f in faces if not f.inner])
    if best is None or best[0] < 0.6 * solid.mass.area or not best[3]:
        return None
    _, base, axis, outer = best
    if sum(f.area for f in outer) < 0.15 * solid.mass.area:
        return None
    steps: list[dict[str, Any]] = []
    for f in outer:
        if f.kind == "torus":
            continue
        low, high = extent(solid, [f.index], axis)
        r0 = r1 = f.radius
        if f.kind == "cone":
            slope = math.tan(f.half_angle)
            apex = float(f.origin @ axis)
            r0, r1 = abs(low - apex) * slope, abs(high - apex) * slope
        step = {"from_mm": low, "to_mm": high, "diameters_mm": [2 * r0, 2 * r1]}
        if not any(abs(s["from_mm"] - low) < SAME and abs(s["to_mm"] - high) < SAME for s in steps):
            steps.append(step)
    steps.sort(key=lambda s: (s["from_mm"], s["to_mm"]))
    start = base - axis * float(base @ axis)
    return {"axis": axis, "point": start, "profile": steps}
