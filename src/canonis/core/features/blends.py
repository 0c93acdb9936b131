"""Rounds and chamfers of the plain kinds."""

import math
from collections import defaultdict

import numpy as np

from canonis.core.features.model import Blend
from canonis.core.features.stacks import size_key
from canonis.core.shape import bevels, is_bend, places, surrounds
from canonis.core.solid import Face, Solid
from canonis.core.tolerances import ALIGNED, SAME, parallel, same_way

__all__ = ["find_chamfers", "find_rounds"]


def _smooth_neighbours(solid: Solid, face: Face) -> set[int]:
    return {other for e, other in solid.neighbours[face.index] if solid.edges[e].dihedral == "smooth"}


def find_rounds(solid: Solid, taken: set[int]) -> list[Blend]:
    """Constant-radius blends tangent to the faces on both sides, grouped by radius and side."""
    groups: dict[tuple[int, bool], list[int]] = defaultdict(list)
    corners: list[Face] = []
    for face in solid.faces:
        if face.index in taken:
            continue
        smooth = _smooth_neighbours(solid, face)
        if face.kind == "cylinder" and len(smooth) >= 2 and face.sweep < 1.5 * math.pi and not surrounds(solid, face):
            groups[(size_key(face.radius), not face.inner)].append(face.index)
        elif face.kind == "torus" and smooth and not is_bend(solid, face):
            groups[(size_key(face.minor), not face.inner)].append(face.index)
        elif face.kind == "sphere" and len(smooth) >= 2:
            corners.append(face)
    out = []
    for k, ((_, convex), faces) in enumerate(sorted(groups.items(), key=lambda g: (-len(g[1]), g[0]))):
        exact = solid.faces[faces[0]]
        size = exact.radius if exact.kind == "cylinder" else exact.minor
        balls = [c.index for c in corners if abs(c.radius - size) < SAME and c.inner is not convex]
        out.append(
            Blend(
                f"F{k + 1}", "fillet", size, size, 0.0, convex, len(places(solid, faces + balls)), tuple(faces + balls)
            )
        )
    return out


def _strip(solid: Solid, face: Face) -> tuple[float, float, float] | None:
    """Legs and angle of a planar strip that bevels the edge between two faces, or None."""
    sides = [
        (e, other)
        for e, other in solid.neighbours[face.index]
        if solid.edges[e].kind == "line" and solid.edges[e].dihedral == "convex" and solid.faces[other].kind == "plane"
    ]
    best = None
    for i, (ea, a) in enumerate(sides):
        for eb, b in sides[i + 1 :]:
            edge_a, edge_b = solid.edges[ea], solid.edges[eb]
            if not parallel(edge_a.axis, edge_b.axis) or a == b:
                continue
            na, nb = solid.faces[a].axis, solid.faces[b].axis
            # A bevel takes off a square corner: what lies between a slope and an end face is a face like any other.
            if abs(float(na @ nb)) > _SQUARISH:
                continue
            gap = edge_b.middle - edge_a.middle
            gap = gap - edge_a.axis * float(gap @ edge_a.axis)
            width = float(np.linalg.norm(gap))
            length = min(edge_a.length, edge_b.length)
            small = face.area < 0.45 * min(solid.faces[a].area, solid.faces[b].area)
            if width < 0.5 * length and small and width < 0.12 * solid.diagonal:
                # The legs run in the two neighbours: from the sharp corner to each edge of the strip.
                turn = math.acos(float(np.clip(na @ nb, -1, 1)))
                at_a = math.acos(float(np.clip(face.axis @ na, -1, 1)))
                leg_a = width * math.sin(turn - at_a) / math.sin(turn)
                leg_b = width * math.sin(at_a) / math.sin(turn)
                angle = math.degrees(at_a if leg_a > leg_b else turn - at_a)
                found = (max(leg_a, leg_b), min(leg_a, leg_b), angle)
                best = found if best is None or width < best[0] else best
    return best


def _rest_of(solid: Solid, bevel: int, taken: set[int]) -> list[int]:
    """Further pieces of a flat bevel that a cut parted, too short to be known by themselves: they lie in its plane, along the
    same two faces."""
    one = solid.faces[bevel]
    if one.kind != "plane":
        return []
    beside = {o for e, o in solid.neighbours[bevel] if solid.edges[e].dihedral == "convex"}
    return [
        f.index
        for f in solid.faces
        if f.kind == "plane"
        and f.index != bevel
        and f.index not in taken
        and same_way(f.axis, one.axis, ALIGNED)
        and abs(f.offset - one.offset) < SAME
        and len(beside & {o for _, o in solid.neighbours[f.index]}) > 1
    ]


def _cone(solid: Solid, face: Face) -> tuple[float, float, float] | None:
    """Legs and angle of a conical chamfer at the end of a shaft, or None."""
    edges = [solid.edges[e] for e, _ in solid.neighbours[face.index]]
    rims = [e for e in edges if e.kind == "circle"]
    # The mouth of a bore is a seat or a rim of the hole; the chamfered end of a slot covers half a turn.
    if (face.inner and face.sweep > 1.5 * math.pi) or len(rims) < 2 or any(e.dihedral == "concave" for e in rims):
        return None
    beside = {solid.faces[o].kind for _, o in solid.neighbours[face.index]}
    # Between two cones, or a cone and a shaft, it is a part of the shape; a bevel breaks the edge of an end face.
    if "cone" in beside or "plane" not in beside:
        return None
    radial = (face.span[1] - face.span[0]) * math.tan(face.half_angle)
    along = face.span[1] - face.span[0]
    if radial > RADIAL_SHARE * 2 * max(e.radius for e in rims) or along > 2 * radial * 2:
        return None
    long, short = max(radial, along), min(radial, along)
    return long, short, math.degrees(math.atan2(short, long))


#: How far from square the two faces beside a bevel may stand, as a cosine.
_SQUARISH = 0.35
#: A cone longer than this share of its diameter is a taper, not a chamfer.
RADIAL_SHARE = 0.15


def find_chamfers(solid: Solid, taken: set[int]) -> list[Blend]:
    """Planar and conical bevels between two faces, grouped by their legs."""
    groups: dict[tuple[int, int], list[tuple[int, tuple[float, float, float]]]] = defaultdict(list)
    for face in solid.faces:
        if face.index in taken or face.kind not in ("plane", "cone"):
            continue
        legs = _strip(solid, face) if face.kind == "plane" else _cone(solid, face)
        if legs:
            groups[(size_key(legs[0]), size_key(legs[1]))].append((face.index, legs))
    for members in groups.values():
        known = dict(members)
        rest = {f: legs for one, legs in members for f in _rest_of(solid, one, taken) if f not in known}
        members += rest.items()
    out = []
    for k, (_, members) in enumerate(sorted(groups.items(), key=lambda g: (-len(g[1]), g[0]))):
        long, short, angle = members[0][1]
        faces = tuple(f for f, _ in members)
        out.append(Blend(f"C{k + 1}", "chamfer", long, short, angle, True, len(bevels(solid, faces)), faces))
    return out
