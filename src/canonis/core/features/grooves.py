"""Grooves and reliefs turned into a shaft, and the splines on it."""

import math

import numpy as np

from canonis.core.features.graph import extent, plane_axes
from canonis.core.features.model import Piece
from canonis.core.features.registry import Claims, finds, form
from canonis.core.features.stacks import axis_groups, coaxial_runs, round_about, same_axis
from canonis.core.shape import torus_floor
from canonis.core.solid import Face, Solid, Vec
from canonis.core.tolerances import SAME, opposed, parallel, same, square

__all__ = ["find_grooves", "find_splines"]

form("groove", "G", walled=True)
form("spline", "N", alone=True, walled=True)

#: A gap wider than this share of the shaft's diameter is a neck, not a groove.
_NECK = 0.75


def _rim(solid: Solid, wall: Face, base: Vec, axis: Vec) -> float:
    """Radius of the shaft at a wall square to the axis, a chamfer or a round at the wall's edge undone, mm."""
    radii = [0.0]
    for e in wall.edges:
        edge = solid.edges[e]
        if edge.kind == "circle" and same_axis(base, axis, edge.centre, edge.axis):
            radii.append(edge.radius)
        else:
            rel = edge.middle - base
            radii.append(float(np.linalg.norm(rel - axis * float(rel @ axis))))
    for _, k in solid.neighbours[wall.index]:
        beside = solid.faces[k]
        small = beside.area < 0.5 * wall.area or beside.kind == "torus"
        if (
            beside.kind in ("cone", "torus")
            and not beside.inner
            and small
            and same_axis(base, axis, beside.origin, beside.axis)
        ):
            radii += [solid.edges[e].radius for e in beside.edges if solid.edges[e].kind == "circle"]
    return max(radii)


def _walls(solid: Solid, faces: list[int], axis: Vec) -> list[Face]:
    """Planes square to the axis that rise from a groove's floor, directly or over an inner round."""
    out: list[Face] = []
    for f in faces:
        for e, other in solid.neighbours[f]:
            face = solid.faces[other]
            if face.kind == "plane" and solid.edges[e].dihedral == "concave":
                out.append(face)
            elif face.kind == "torus" and face.inner:
                out += [solid.faces[k] for _, k in solid.neighbours[other] if solid.faces[k].kind == "plane"]
    return [w for k, w in enumerate(out) if w not in out[:k] and parallel(w.axis, axis)]


def find_grooves(solid: Solid) -> list[Piece]:
    """Flat-bottomed, round-bottomed and V grooves on outer cylinders; `relief` where one side is a shoulder."""
    out: list[Piece] = []
    for run in coaxial_runs(solid, inner=False):
        for seg in run.segments:
            if seg.kind != "cylinder":
                continue
            middle = (seg.a0 + seg.a1) / 2
            walls = _walls(solid, seg.faces, run.axis)
            levels = [(float((w.origin - run.base) @ run.axis), w) for w in walls]
            below = [(z, w) for z, w in levels if z < middle and float(w.axis @ run.axis) > 0]
            above = [(z, w) for z, w in levels if z > middle and float(w.axis @ run.axis) < 0]
            if not below or not above:
                continue
            (z0, low), (z1, high) = below[0], above[0]
            rims = [_rim(solid, w, run.base, run.axis) for w in (low, high)]
            depth, width = min(rims) - seg.radius, z1 - z0
            if depth < SAME or width > _NECK * 2 * min(rims) or width > 12 * depth:
                continue
            data = {
                "on": "shaft",
                "width_mm": width,
                "depth_mm": depth,
                "diameter_mm": 2 * seg.radius,
                "relief": abs(rims[0] - rims[1]) > 4 * depth,
            }
            if 1.15 < width / depth < 2.0 and not data["relief"]:
                data["seal_seat"] = True
            # A shoulder keeps its wall; of a plain groove both walls are its own.
            mine = [w for w, r in ((low, rims[0]), (high, rims[1])) if r < min(rims) + 2 * depth]
            own = (*seg.faces, *(w.index for w in mine))
            place = run.base + run.axis * (z0 + z1) / 2
            out.append(Piece("groove", data, run.axis, place, own, own))
    return out + _round_grooves(solid) + _vee_grooves(solid)


def _round_grooves(solid: Solid) -> list[Piece]:
    """Inner tori whose two rims are sharp: round-bottomed grooves around a shaft, in a bore or in a face."""
    out: list[Piece] = []
    tori = [f for f in solid.faces if f.kind == "torus" and f.inner]
    for base, axis, faces in axis_groups(tori):
        rings: dict[tuple[int, int, int], list[Face]] = {}
        for f in faces:
            rings.setdefault(
                (round(float(f.origin @ axis) * 1e3), round(f.radius * 1e3), round(f.minor * 1e3)), []
            ).append(f)
        for members in rings.values():
            edges = [
                solid.edges[e]
                for f in members
                for e, k in solid.neighbours[f.index]
                if k not in {m.index for m in members}
            ]
            rims = [e for e in edges if e.kind == "circle" and e.dihedral == "convex"]
            if len(rims) < 2 or any(e.dihedral in ("smooth", "concave") for e in edges):
                continue
            one = members[0]
            levels = [float((r.centre - base) @ axis) for r in rims]
            radii = [r.radius for r in rims]
            side = torus_floor(solid, one)
            bottom = one.radius + side * one.minor
            if side:
                width = max(levels) - min(levels)
                depth = min(radii) - bottom if side < 0 else bottom - max(radii)
            else:
                width = max(radii) - min(radii)
                around = (solid.faces[o] for f in members for _, o in solid.neighbours[f.index])
                top = next((f.axis for f in around if f.kind == "plane"), axis)
                # The rim stands over the middle of the tube, or under it.
                depth = one.minor + float((rims[0].centre - one.origin) @ top)
            data = {
                "on": {-1: "shaft", 0: "face", 1: "bore"}[side],
                "width_mm": width,
                "depth_mm": depth,
                "diameter_mm": 2 * bottom,
                "bottom": "round",
                "bottom_radius_mm": one.minor,
            }
            own = tuple(f.index for f in members)
            out.append(Piece("groove", data, axis, base + axis * float(one.origin @ axis), own, own))
    return out


def _vee_grooves(solid: Solid) -> list[Piece]:
    """Two outer cones that meet at their small ends."""
    out: list[Piece] = []
    for run in coaxial_runs(solid, inner=False):
        for a, b in zip(run.segments, run.segments[1:], strict=False):
            if a.kind != "cone" or b.kind != "cone" or a.r1 >= a.r0 or b.r0 >= b.r1 or not same(a.r1, b.r0):
                continue
            lean = [math.degrees(math.atan2(s.a1 - s.a0, abs(s.r1 - s.r0))) for s in (a, b)]
            width = b.a1 - a.a0
            data = {
                "on": "shaft",
                "width_mm": width,
                "depth_mm": min(a.r0, b.r1) - a.r1,
                "diameter_mm": 2 * a.r1,
                "bottom": "vee",
                "angle_deg": sum(lean),
            }
            if width > _NECK * 2 * a.r0:
                continue
            own = (*a.faces, *b.faces)
            out.append(Piece("groove", data, run.axis, run.base + run.axis * a.a1, own, own))
    return out


def find_splines(solid: Solid) -> list[Piece]:
    """Equal teeth around a shaft or in a bore: tips and roots on two coaxial cylinders, flanks between them."""
    out: list[Piece] = []
    parts = [f for f in solid.faces if f.kind == "cylinder" and f.sweep < 0.8 * math.pi]
    for base, axis, faces in axis_groups(parts):
        for internal in (False, True):
            rings: dict[int, list[Face]] = {}
            for f in faces:
                if f.inner is internal:
                    rings.setdefault(round(f.radius * 1e3), []).append(f)
            many = sorted((r for r in rings.values() if len(r) >= 6), key=lambda r: r[0].radius)
            if not many:
                continue
            tips = many[0] if internal else many[-1]
            n = len(tips)
            flanks = [_flanks(solid, t, axis) for t in tips]
            if any(len(set(f)) < 2 for f in flanks) or not _even(solid, tips, base, axis):
                continue
            walls = sorted({k for f in flanks for k in f})
            roots = sorted(
                {
                    k
                    for w in walls
                    for e, k in solid.neighbours[w]
                    if solid.edges[e].dihedral == "concave"
                    and solid.faces[k].kind in ("cylinder", "plane")
                    and not parallel(solid.faces[k].axis if solid.faces[k].kind == "plane" else np.zeros(3), axis)
                }
            )
            if not roots:
                continue
            r_root = [
                solid.faces[k].radius
                if round_about(solid.faces[k], base, axis)
                else float(abs(solid.faces[k].offset - float(solid.faces[k].axis @ base)))
                for k in roots
            ]
            low, high = extent(solid, [t.index for t in tips], axis)
            a, b = (solid.faces[k] for k in flanks[0][:2])
            even_flanks = opposed(a.axis, b.axis)
            straight = even_flanks and all(round_about(solid.faces[k], base, axis) for k in roots)
            if not straight and not (internal and _parallel_gap(solid, roots[0], walls)):
                # Where the teeth taper, or their roots are flat, they are members of a ring and no spline.
                continue
            tip_r, root_r = tips[0].radius, (max(r_root) if internal else min(r_root))
            data = {
                "internal": internal,
                "teeth": n,
                "major_mm": 2 * max(tip_r, root_r),
                "minor_mm": 2 * min(tip_r, root_r),
                "length_mm": high - low,
                "tooth_width_mm": abs(a.offset + b.offset) if even_flanks else None,
            }
            own = tuple(sorted({*(t.index for t in tips), *walls, *roots}))
            out.append(Piece("spline", data, axis, base + axis * low, own, own))
    return out


def _flanks(solid: Solid, tip: Face, axis: Vec) -> list[int]:
    """The flat faces beside the tip of a tooth that run along the axis."""
    beside = (k for _, k in solid.neighbours[tip.index])
    return [k for k in beside if solid.faces[k].kind == "plane" and square(solid.faces[k].axis, axis)]


def _parallel_gap(solid: Solid, root: int, walls: list[int]) -> bool:
    """Whether the walls on both sides of a root are parallel."""
    sides = [solid.faces[k] for _, k in solid.neighbours[root] if k in walls]
    return any(opposed(a.axis, b.axis) for k, a in enumerate(sides) for b in sides[k + 1 :])


def _even(solid: Solid, tips: list[Face], base: Vec, axis: Vec) -> bool:
    """Whether faces stand at even angles about an axis."""
    u, v = plane_axes(axis)
    angles = np.sort([math.atan2(float((t.centre - base) @ v), float((t.centre - base) @ u)) for t in tips])
    gaps = np.diff(np.append(angles, angles[0] + 2 * math.pi))
    return float(np.ptp(gaps)) < SAME


@finds(20)
def _splines(c: Claims) -> list[Piece]:
    return find_splines(c.solid)


@finds(40)
def _grooves(c: Claims) -> list[Piece]:
    return find_grooves(c.solid)
