"""Holes with their seats, from coaxial stacks of inner cylinders and cones."""

import math
from typing import Any

import numpy as np

from canonis.core.features.model import Hole, HoleGroup, Seat
from canonis.core.features.patterns import find_pattern
from canonis.core.features.stacks import Run, Segment, coaxial_runs, same_axis, size_key
from canonis.core.shape import axis_meets, is_bend
from canonis.core.solid import Face, Rays, Solid, Vec
from canonis.core.tolerances import NOTHING, SAME, parallel, runs_along, same, same_place, same_way

__all__ = ["RIM_SHARE", "find_holes", "group_holes"]

#: A conical mouth whose radial leg is under this share of the hole's diameter is a rim (COMMANDS.md).
RIM_SHARE = 0.15
#: The floor of a wide bore that leads on into a narrow one is at least so blunt, degrees: a countersink of 82° is.
_FLOOR = 80.0


def _end_faces(solid: Solid, run: Run, seg: Segment, level: float) -> list[tuple[int, str]]:
    """Faces outside the run that meet `seg` at its end, with the dihedral of the meeting edge."""
    members = set(run.faces)
    middle = (seg.a0 + seg.a1) / 2
    out: list[tuple[int, str]] = []
    for f in seg.faces:
        for e, other in solid.neighbours[f]:
            if other in members:
                continue
            edge = solid.edges[e]
            at = float((edge.middle - run.base) @ run.axis)
            if (at > middle) == (level > middle):
                out.append((other, edge.dihedral))
    return out


def _closure(solid: Solid, run: Run, seg: Segment, level: float, radius: float) -> str | None:
    """What closes the stack at `level`: flat, cone, round, or None for an open end."""
    if seg.kind == "cone" and radius < SAME:
        return "cone"
    around = _end_faces(solid, run, seg, level)
    for other, dihedral in around:
        face = solid.faces[other]
        if (
            radius < seg.radius - SAME
            and face.kind == "cylinder"
            and face.inner
            and not same_axis(run.base, run.axis, face.origin, face.axis)
        ):
            return "cone"  # a drill point that another hole has opened
        if dihedral == "concave" and face.kind == "plane" and parallel(face.axis, run.axis):
            if abs(float((face.origin - run.base) @ run.axis) - level) < SAME:
                return "flat"
        elif dihedral in ("smooth", "concave") and face.kind in ("sphere", "torus") and face.inner:
            return "round"
    return None


def _same_surface(a: Face, b: Face) -> bool:
    """Whether two round faces are pieces of one surface."""
    return (
        a.kind == b.kind
        and same(a.half_angle, b.half_angle, NOTHING)
        and same_axis(a.origin, a.axis, b.origin, b.axis)
        and (abs(a.radius - b.radius) if a.kind == "cylinder" else float(np.linalg.norm(a.origin - b.origin))) < SAME
    )


def _opening(solid: Solid, run: Run, seg: Segment, level: float) -> float:
    """Where the axis meets the face an end opens to: `level` itself unless that face is one sloped plane or a round wall."""
    beside = [solid.faces[f] for f, _ in _end_faces(solid, run, seg, level)]
    if beside and all(f.kind in ("cylinder", "cone") and not f.inner and _same_surface(f, beside[0]) for f in beside):
        meets = axis_meets(beside[0], run.base, run.axis)
        near = min(meets, key=lambda x: abs(x - level), default=level)
        return near if abs(near - level) < 2 * seg.radius else level
    planes = [f for f in beside if f.kind == "plane"]
    sloped = [(p, float(p.axis @ run.axis)) for p in planes]
    if len({round(p.offset, 4) for p in planes}) != 1 or abs(sloped[0][1]) <= 0.05 or runs_along(sloped[0][1]):
        return level
    plane, lean = sloped[0]
    return (plane.offset - float(plane.axis @ run.base)) / lean


def _rounded(solid: Solid, run: Run, seg: Segment, level: float) -> tuple[float, list[int]]:
    """Radius and faces of a round that breaks the rim at an end; 0 where there is none."""
    found = []
    for other, dihedral in _end_faces(solid, run, seg, level):
        face = solid.faces[other]
        if face.kind != "torus" or face.inner or dihedral != "smooth":
            continue
        aside = face.origin - run.base
        if (
            abs(float(aside @ run.axis) - level) < SAME
            and same_place(aside, run.axis * float(aside @ run.axis))
            and parallel(face.axis, run.axis)
        ):
            found.append(face)
    return (found[0].minor, [f.index for f in found]) if found else (0.0, [])


def _seats(stack: list[Segment], mouth: float, main_r: float, inward: float) -> tuple[list[Seat], list[Segment]]:
    """Seats met from the mouth inwards until the main bore, and their segments."""
    seats: list[Seat] = []
    used: list[Segment] = []
    for k, seg in enumerate(stack):
        near_r, far_r = (seg.r0, seg.r1) if inward > 0 else (seg.r1, seg.r0)
        if seg.kind == "cylinder":
            if seg.radius < main_r + SAME:
                break
            end = seg.a1 if inward > 0 else seg.a0
            seats.append(Seat("counterbore", 2 * seg.radius, depth=abs(end - mouth)))
        else:
            if near_r < far_r + SAME:
                break
            angle = 2 * math.degrees(math.atan2(near_r - far_r, seg.a1 - seg.a0))
            after_bore = k > 0 and stack[k - 1].kind == "cylinder" and abs(stack[k - 1].radius - near_r) < SAME
            if after_bore and angle < _FLOOR:
                # A bore that tapers into another is a profile of its own: no tool makes both ends of it at once.
                return [], []
            if after_bore:
                pass  # the conical floor of a drilled step, not a seat of its own
            elif near_r - far_r < RIM_SHARE * 2 * far_r:
                seats.append(Seat("rim", 2 * near_r, angle=90 - angle / 2, size=near_r - far_r))
            else:
                seats.append(Seat("countersink", 2 * near_r, depth=seg.a1 - seg.a0, angle=angle))
        used.append(seg)
    return seats, used


def _with_walls(solid: Solid, run: Run, seg: Segment) -> tuple[int, ...]:
    """The faces of an inner groove: its floor and the flat walls beside it."""
    walls = [
        o
        for f in seg.faces
        for _, o in solid.neighbours[f]
        if solid.faces[o].kind == "plane" and parallel(solid.faces[o].axis, run.axis)
    ]
    return (*seg.faces, *dict.fromkeys(walls))


def _weight(seats: list[Seat]) -> tuple[int, float]:
    """How much an end says that the hole is made from there: by a seat, and by how wide it is."""
    real = [s.diameter for s in seats if s.kind not in ("rim", "rim-round")]
    return (1 if real else 0, max((s.diameter for s in seats), default=0.0))


def _starts_high(solid: Solid, run: Run, high: list[Seat], low: list[Seat], *, levels: tuple[float, float]) -> bool:
    """Whether a through hole starts at its upper end: the start face carries the larger seat, opens to a face of the part
    and is free before it; a plain one starts at the canonical upper end. `levels` are the lower and the upper end."""
    lo, hi = levels

    def outside(seg: Segment, level: float) -> int:
        """Whether an end opens to a face of the part rather than into another bore."""
        return int(all(not solid.faces[f].inner for f, _ in _end_faces(solid, run, seg, level)))

    def free(level: float, out: Vec) -> int:
        """Whether nothing of the part stands before a rim: the inside of a box is not where a hole is drilled from."""
        if _weight(high)[0] or _weight(low)[0]:
            return 1
        rays = Rays(solid, run.base + run.axis * level, 2 * np.abs(run.axis) * solid.diagonal + 1e-3)
        return int(not rays.hits(run.base + run.axis * level + out * 1e-3, out, 2 * solid.diagonal))

    first, last = run.segments[0], run.segments[-1]
    rank_high = (_weight(high)[0], outside(last, hi), free(hi, run.axis), _weight(high))
    rank_low = (_weight(low)[0], outside(first, lo), free(lo, -run.axis), _weight(low))
    return rank_high >= rank_low


def _hole(solid: Solid, run: Run) -> list[Hole]:
    segments = run.segments
    lo, hi = segments[0].a0, segments[-1].a1
    low_end = _closure(solid, run, segments[0], lo, segments[0].r0)
    high_end = _closure(solid, run, segments[-1], hi, segments[-1].r1)
    cylinders = [s for s in segments if s.kind == "cylinder"]
    if not cylinders or (low_end and high_end):
        return []
    main_r = min(s.radius for s in cylinders)
    mains = [s for s in cylinders if s.radius < main_r + SAME]
    through = low_end is None and high_end is None
    first_main, last_main = segments.index(mains[0]), segments.index(mains[-1])
    inside = [s for s in segments[first_main:last_main] if s.kind == "cylinder" and s.radius > main_r + SAME]
    top, bottom = _opening(solid, run, segments[-1], hi), _opening(solid, run, segments[0], lo)
    round_high, rim_high = _rounded(solid, run, segments[-1], hi)
    round_low, rim_low = _rounded(solid, run, segments[0], lo)
    # The start face lies where the round ends.
    top, bottom = top + round_high, bottom - round_low
    high = _seats(segments[::-1], top, main_r, -1)
    low = _seats(segments, bottom, main_r, +1)
    for seats, size, seg in ((high[0], round_high, segments[-1]), (low[0], round_low, segments[0])):
        if size:
            seats.insert(0, Seat("rim-round", 2 * (seg.radius + size), size=size))

    start_high = _starts_high(solid, run, high[0], low[0], levels=(lo, hi)) if through else high_end is None
    mouth = top if start_high else bottom
    axis = run.axis if start_high else -run.axis
    near, far = (high[0], low[0]) if start_high else (low[0], high[0])
    closed = low_end or high_end
    depth = None
    if not through:
        depth = mouth - min(s.a0 for s in mains) if start_high else max(s.a1 for s in mains) - mouth
    point_angle = None
    if closed == "cone":
        tip = segments[0] if start_high else segments[-1]
        point_angle = 2 * math.degrees(math.atan2(abs(tip.r0 - tip.r1), tip.a1 - tip.a0))
    return [
        Hole(
            axis=axis,
            start=run.base + run.axis * mouth,
            diameter=2 * main_r,
            through=through,
            depth=depth,
            bottom=closed if closed in ("flat", "cone") else None,
            point_angle=point_angle,
            seats=tuple(near),
            far_seats=tuple(far) if through else (),
            faces=(*run.faces, *rim_high, *rim_low),
            main_faces=tuple(f for s in mains for f in s.faces),
            grooves=tuple((s.a1 - s.a0, s.radius - main_r, 2 * s.radius) for s in inside),
            groove_faces=tuple(_with_walls(solid, run, s) for s in inside),
            length=hi - lo,
        )
    ]


def find_holes(solid: Solid) -> list[Hole]:
    """Every hole of a solid, one entry an instance. The inside of a bent pipe is none: no drill goes around a bend."""
    bends = {f.index for f in solid.faces if f.inner and is_bend(solid, f)}
    beside = {o for f in bends for _, o in solid.neighbours[f]}
    return [
        hole for run in coaxial_runs(solid) for hole in _hole(solid, run) if not beside.intersection(hole.main_faces)
    ]


def _order(hole: Hole) -> tuple[float, ...]:
    return tuple(round(float(c), 4) for c in hole.start)


def _parallel(a: Vec, b: Vec) -> bool:
    return same_way(a, b)


def group_holes(holes: list[Hole]) -> list[HoleGroup]:
    """Equal holes with the same axis direction that start from the same plane, as one feature each."""
    groups: list[list[Hole]] = []
    by_key: dict[tuple[Any, ...], list[list[Hole]]] = {}
    for hole in sorted(holes, key=lambda h: (-size_key(h.diameter), _order(h))):
        alike = by_key.setdefault(hole.key(), [])
        for group in alike:
            one = group[0]
            if _parallel(one.axis, hole.axis) and abs(float((hole.start - one.start) @ one.axis)) < 0.01:
                group.append(hole)
                break
        else:
            groups.append([hole])
            alike.append(groups[-1])
    return [
        HoleGroup(f"H{k + 1}", tuple(g), find_pattern(np.array([h.start for h in g]), g[0].axis))
        for k, g in enumerate(groups)
    ]
