"""Hollows and islands bounded by a closed mouth or foot in a flat face: pockets, windows, arc slots, face grooves,
bosses of any outline and lugs."""

import math
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

import numpy as np

from canonis.core.features.graph import (
    ROUND_BLEND,
    across_loop,
    extent,
    flood,
    inner_loops,
    loop_side,
    plane_axes,
)
from canonis.core.features.model import Hole, Piece
from canonis.core.features.registry import Claims, finds, form
from canonis.core.features.stacks import same_axis
from canonis.core.features.walls import find_ribs
from canonis.core.solid import Face, Solid, Vec
from canonis.core.tolerances import FINE, SAME, opposed, parallel, same_way, square

__all__ = ["find_face_grooves", "find_hollows", "find_islands"]

form("arc-slot", "A", opens=True)
form("pocket", "P", walled=True, opens=True, plain=True)
form("lug", "L", walled=True, plain=True)
form("boss", "BX", walled=True, plain=True)


#: Walls may lean by up to 15° and still be walls (sine of the angle).
_MOST_DRAFT = 0.26


@dataclass(frozen=True)
class _Part:
    """What lies beyond a closed boundary of a flat face."""

    base: Face
    faces: tuple[int, ...]
    #: Faces whose own inner boundary it also touches: the far ends of a window.
    far: tuple[int, ...]


def _parts(solid: Solid, side: str) -> list[_Part]:
    loops = inner_loops(solid)
    barrier = {e for _, loop in loops for e in loop}
    by_edge: dict[int, int] = {e: f for f, loop in loops for e in loop}
    out: list[_Part] = []
    done: set[frozenset[int]] = set()
    for face, loop in loops:
        base = solid.faces[face]
        if base.kind != "plane" or loop_side(solid, face, loop) != side:
            continue
        found = flood(solid, across_loop(solid, face, loop), barrier, max(60, len(solid.faces) // 2))
        if found is None or face in found or frozenset(found) in done:
            continue
        done.add(frozenset(found))
        edges = {e for f in found for e in solid.faces[f].edges}
        touched = {by_edge[e] for e in edges if e in by_edge and by_edge[e] not in found} - {face}
        out.append(_Part(base, tuple(sorted(found)), tuple(sorted(touched))))
    return out


def _walls(solid: Solid, faces: Iterable[int], axis: Vec) -> tuple[list[Face], list[Face]]:
    """Flat and cylindrical faces that run along an axis, flat ones with a draft too."""
    mine = [solid.faces[f] for f in faces]
    flats = [f for f in mine if f.kind == "plane" and abs(float(f.axis @ axis)) < _MOST_DRAFT]
    return flats, [f for f in mine if f.kind == "cylinder" and parallel(f.axis, axis)]


def _floor(solid: Solid, faces: Iterable[int], axis: Vec) -> Face | None:
    """The deepest flat face that looks along the axis."""
    floors = [f for f in (solid.faces[k] for k in faces) if f.kind == "plane" and same_way(f.axis, axis)]
    return min(floors, key=lambda f: float(f.origin @ axis), default=None)


def _ends_of(f: Face, axis: Vec) -> Vec:
    """Axis point of a cylinder, level zero along `axis`."""
    return f.origin - axis * float(f.origin @ axis)


def _arc_slot(cylinders: list[Face], flats: list[Face], axis: Vec) -> dict[str, Any] | None:
    """Sizes of a slot along an arc: two walls about one axis and two half-round ends."""
    if flats or len(cylinders) != 4:
        return None
    pairs = [
        (a, b)
        for a in cylinders
        for b in cylinders
        if a.inner and not b.inner and a.radius > b.radius and same_axis(a.origin, a.axis, b.origin, b.axis)
    ]
    if len(pairs) != 1:
        return None
    outer, inner = pairs[0]
    ends = [c for c in cylinders if c not in (outer, inner)]
    width = outer.radius - inner.radius
    if any(not e.inner or abs(2 * e.radius - width) > 2 * SAME for e in ends):
        return None
    u, v = plane_axes(axis)
    centre = _ends_of(outer, axis)
    turns = []
    for e in ends:
        rel = _ends_of(e, axis) - centre
        turns.append(math.degrees(math.atan2(float(rel @ v), float(rel @ u))) % 360)
    # The slot runs from the first end to the second the way its outer wall does.
    rel = outer.centre - centre
    middle = math.degrees(math.atan2(float(rel @ v), float(rel @ u))) % 360
    a, b = turns if (middle - turns[0]) % 360 <= (turns[1] - turns[0]) % 360 else turns[::-1]
    return {
        "width_mm": width,
        "radius_mm": (outer.radius + inner.radius) / 2,
        "sweep_deg": (b - a) % 360,
        "start_deg": a,
        "centre": centre,
    }


def _at_level(f: Face, axis: Vec, level: float) -> tuple[Vec, float]:
    """The line in which a wall meets the plane at a level, as unit normal and offset in that plane."""
    along = float(f.axis @ axis)
    flat = f.axis - axis * along
    size = float(np.linalg.norm(flat))
    return flat / size, (f.offset - along * level) / size


def _outline(flats: list[Face], cylinders: list[Face], axis: Vec, level: float) -> dict[str, Any]:
    """Outline of a hollow or island at a level from its walls: rectangle, polygon, round or free."""
    walls: list[tuple[Vec, float]] = []
    for f in flats:
        normal, offset = _at_level(f, axis, level)
        if not any(same_way(normal, n) and abs(offset - o) < SAME for n, o in walls):
            walls.append((normal, offset))
    corners = sorted({round(c.radius, 6) for c in cylinders if c.sweep < math.pi - 0.02})
    out: dict[str, Any] = {"outline": "free", "corner_radius_mm": corners[0] if len(corners) == 1 else None}
    lean = {round(abs(math.degrees(math.asin(float(np.clip(f.axis @ axis, -1, 1))))), 4) for f in flats} - {0.0}
    if len(lean) == 1:
        out["draft_deg"] = lean.pop()
    if not walls and len(cylinders) and all(same_axis(cylinders[0].origin, axis, c.origin, c.axis) for c in cylinders):
        return out | {"outline": "round", "diameter_mm": 2 * cylinders[0].radius}
    if len(walls) == 4:
        for k in (1, 2, 3):
            (a, b), rest = (walls[0], walls[k]), [walls[j] for j in (1, 2, 3) if j != k]
            if opposed(a[0], b[0]) and opposed(rest[0][0], rest[1][0]) and square(a[0], rest[0][0]):
                sizes = sorted((abs(a[1] + b[1]), abs(rest[0][1] + rest[1][1])))
                return out | {"outline": "rectangle", "width_mm": sizes[0], "length_mm": sizes[1]}
    if len(walls) in (3, 5, 6, 8, 12) and not cylinders:
        n = len(walls)
        around = sorted(math.atan2(float(w[0] @ plane_axes(axis)[1]), float(w[0] @ plane_axes(axis)[0])) for w in walls)
        gaps = np.diff([*around, around[0] + 2 * math.pi])
        middle = np.linalg.lstsq(
            np.array([w[0] for w in walls] + [axis]), np.array([w[1] for w in walls] + [0.0]), rcond=None
        )[0]
        reach = [abs(w[1] - float(w[0] @ middle)) for w in walls]
        sides = [_beside_middle(f, axis, middle, min(reach) * math.tan(math.pi / n)) for f in flats]
        if np.ptp(gaps) < FINE and max(reach) - min(reach) < SAME and all(sides):
            size = 2 * float(np.mean(reach))
            return out | {
                "outline": "polygon",
                "sides": n,
                "across_flats_mm": size,
                "across_corners_mm": size / math.cos(math.pi / n),
            }
    return out


def _beside_middle(face: Face, axis: Vec, middle: Vec, half: float) -> bool:
    """Whether a flat face is the side of a polygon about a point, sides being twice `half` long, rather than the side of something
    that stands out from there: the vane of a wheel."""
    way = np.cross(axis, face.axis)
    way = way / float(np.linalg.norm(way))
    return abs(float((face.centre - middle) @ way)) < half


def _middle(solid: Solid, faces: Iterable[int], axis: Vec, level: float) -> Vec:
    """Middle of the box of some faces across an axis, put at a level along it."""
    u, v = plane_axes(axis)
    mine = list(faces)
    return axis * level + sum((d * sum(extent(solid, mine, d)) / 2 for d in (u, v)), np.zeros(3))


def find_hollows(solid: Solid, taken: set[int]) -> list[Piece]:
    """Pockets, windows, arc slots and face grooves sunk from a flat face. `taken`: faces of holes and slots."""
    out: list[Piece] = []
    for part in _parts(solid, "in"):
        axis = part.base.axis
        rest = [f for f in part.faces if f not in taken]
        flats, cylinders = _walls(solid, rest, axis)
        if not flats and not cylinders:
            continue
        if len(rest) < len(part.faces) and len(rest) < 2:
            continue
        floor = _floor(solid, part.faces, axis)
        through = any(parallel(solid.faces[f].axis, axis) and solid.faces[f].kind == "plane" for f in part.far) and (
            floor is None or all(float(solid.faces[f].axis @ axis) < 0 for f in part.far)
        )
        if floor is None and not through:
            continue
        level = part.base.offset
        depth = None if through else level - float(floor.origin @ axis) if floor else None
        where = {"depth_mm": depth, "through": through}
        # Walls, floors and steps; a chamfer of the mouth keeps its own feature.
        level_faces = [f for f in rest if solid.faces[f].kind == "plane" and parallel(solid.faces[f].axis, axis)]
        own = tuple({*(f.index for f in (*flats, *cylinders)), *level_faces})
        arc = _arc_slot(cylinders, flats, axis)
        if arc:
            centre = arc.pop("centre") + axis * level
            data = arc | where
            out.append(Piece("arc-slot", data, axis, centre, part.faces, own))
        elif flats:
            # Corner rounds keep their own feature; walls, floor and steps make the pocket.
            walls = tuple(f for f in own if f not in {c.index for c in cylinders if c.sweep < math.pi - 0.02})
            islands = sum(loop_side(solid, floor.index, loop) == "out" for loop in floor.inner_loops) if floor else 0
            data = where | _outline(flats, cylinders, axis, level) | {"islands": islands}
            at = _middle(solid, [f.index for f in flats], axis, level)
            out.append(Piece("pocket", data, axis, at, part.faces, walls))
    return out


def find_islands(solid: Solid, taken: set[int]) -> list[Piece]:
    """Bosses that are not plain cylinders, and lugs (thin ones with a hole across), standing on a flat face."""
    out: list[Piece] = []
    for part in _parts(solid, "out"):
        axis = part.base.axis
        rest = [f for f in part.faces if f not in taken]
        mine = [solid.faces[f] for f in rest]
        flats, cylinders = _walls(solid, rest, axis)
        tops = [f for f in mine if f.kind == "plane" and same_way(f.axis, axis)]
        cones = [
            f for f in mine if f.kind == "cone" and parallel(f.axis, axis) and not f.inner and f.sweep > ROUND_BLEND
        ]
        level = part.base.offset
        _, high = extent(solid, part.faces, axis)
        height = high - level
        if height < SAME:
            continue
        if cones and not flats and not [c for c in cylinders if not c.inner]:
            cone = max(cones, key=lambda c: c.area)
            size = 2 * max(abs(s) for s in cone.span) * math.tan(cone.half_angle)
            data: dict[str, Any] = {
                "diameter_mm": size,
                "height_mm": height,
                "draft_deg": math.degrees(cone.half_angle),
            }
            own = (*(c.index for c in cones), *(t.index for t in tops))
            out.append(Piece("boss", data, axis, _ends_of(cone, axis) + axis * level, part.faces, own))
            continue
        outer = [c for c in cylinders if not c.inner]
        if not flats or (len(flats) < 2 and not outer):
            continue
        own = tuple({f.index for f in (*flats, *outer, *tops)} - {c.index for c in outer if c.sweep < math.pi - 0.02})
        at = _middle(solid, [f.index for f in (*flats, *outer)], axis, level)
        across = _across(solid, part.faces, taken, axis)
        outline = _outline(flats, [c for c in outer if c.sweep < math.pi - 0.02], axis, level)
        thin = _thickness(flats)
        if across is None and outline["outline"] == "rectangle" and _is_rib(outline, height):
            data = {
                "thickness_mm": outline["width_mm"],
                "height_mm": height,
                "web": False,
                "length_mm": outline["length_mm"],
            }
            out.append(Piece("rib", data, axis, at, part.faces, own))
        elif across is not None and thin is not None:
            data = {"thickness_mm": thin, "height_mm": height, "hole_diameter_mm": across}
            own = tuple(f.index for f in mine if f.kind == "plane" or (f.kind == "cylinder" and not f.inner))
            out.append(Piece("lug", data, axis, at, part.faces, own))
        else:
            out.append(Piece("boss", {"height_mm": height} | outline, axis, at, part.faces, own))
    return out


def _is_rib(outline: dict[str, Any], height: float) -> bool:
    """Whether a rectangular island is thin enough to be a rib rather than a boss."""
    return float(outline["width_mm"]) < 0.4 * min(float(outline["length_mm"]), height)


def _across(solid: Solid, faces: Iterable[int], taken: set[int], axis: Vec) -> float | None:
    """Diameter of a hole that crosses the island square to its axis, mm."""
    bores = {
        other
        for f in faces
        for _, other in solid.neighbours[f]
        if solid.faces[other].kind == "cylinder" and solid.faces[other].inner and other in taken
    }
    sizes = [2 * solid.faces[b].radius for b in bores if square(solid.faces[b].axis, axis)]
    return max(sizes, default=None)


def _thickness(flats: list[Face]) -> float | None:
    """Smallest distance between two walls that look away from each other, mm."""
    gaps = [
        abs(a.offset + b.offset)
        for i, a in enumerate(flats)
        for b in flats[i + 1 :]
        if opposed(a.axis, b.axis) and float((a.origin - b.origin) @ a.axis) > 0
    ]
    return min(gaps, default=None)


def find_face_grooves(solid: Solid, holes: Iterable[Hole]) -> list[Piece]:
    """Ring grooves in a flat face: a flat-bottomed bore whose floor leaves a round island about the same axis."""
    out: list[Piece] = []
    for hole in holes:
        if hole.through or hole.bottom != "flat" or hole.seats:
            continue
        bore = solid.faces[hole.main_faces[0]]
        for floor in {k for f in hole.faces for _, k in solid.neighbours[f] if solid.faces[k].inner_loops}:
            face = solid.faces[floor]
            if face.kind != "plane" or not same_way(face.axis, hole.axis):
                continue
            for loop in face.inner_loops:
                islands = [solid.faces[k] for k in across_loop(solid, floor, loop)]
                if loop_side(solid, floor, loop) != "out" or any(
                    c.kind != "cylinder" or c.inner or not same_axis(c.origin, c.axis, bore.origin, bore.axis)
                    for c in islands
                ):
                    continue
                inner = islands[0].radius
                data = {
                    "on": "face",
                    "width_mm": hole.diameter / 2 - inner,
                    "depth_mm": hole.depth,
                    "diameter_mm": hole.diameter / 2 + inner,
                    "outer_diameter_mm": hole.diameter,
                    "inner_diameter_mm": 2 * inner,
                }
                own = (*hole.faces, floor, *(c.index for c in islands))
                out.append(Piece("groove", data, hole.axis, hole.start, own, own))
    return out


@finds(50)
def _rings(c: Claims) -> list[Piece]:
    return c.rings


@finds(70)
def _hollows(c: Claims) -> list[Piece]:
    # A threaded bore is a hole with a thread, whatever its mouth looks like.
    return [p for p in find_hollows(c.solid, c.holes | c.slots | c.taken) if not set(p.faces) & c.threads]


@finds(80)
def _islands(c: Claims) -> list[Piece]:
    c.ribs = find_ribs(c.solid, c.holes | c.slots | c.taken)
    # A hub with ribs around it is no boss of one odd outline.
    return [
        island
        for island in find_islands(c.solid, c.holes | c.slots)
        if island.data.get("outline") != "free" or not any(set(r.faces) <= set(island.faces) for r in c.ribs)
    ]
