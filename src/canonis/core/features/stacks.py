"""Coaxial stacks: the inner cylinders and cones of one axis, in order, as runs of segments."""

import math
from dataclasses import dataclass, field

import numpy as np

from canonis.core.solid import Edge, Face, Solid, Vec
from canonis.core.tolerances import SAME, faces_along, parallel, same_place

__all__ = ["Run", "Segment", "axis_groups", "coaxial_runs", "round_about", "same_axis", "size_key", "upward"]


def size_key(x: float) -> int:
    """A size as a bucket of 0.0001 mm; the shift keeps decimal and inch values away from bucket borders."""
    return math.floor(x * 1e4 + 0.3217)


@dataclass
class Segment:
    """A piece of a stack: radius `r0` at `a0` to `r1` at `a1` along the axis (a0 < a1)."""

    kind: str
    a0: float
    a1: float
    r0: float
    r1: float
    faces: list[int]
    sweep: float
    area: float = 0.0

    @property
    def radius(self) -> float:
        """The larger radius of the piece, mm."""
        return max(self.r0, self.r1)


@dataclass
class Run:
    """Touching segments along one axis. `base` is the axis point nearest the origin."""

    base: Vec
    axis: Vec
    segments: list[Segment] = field(default_factory=list)

    @property
    def faces(self) -> list[int]:
        """Indices of all faces of the run."""
        return [f for s in self.segments for f in s.faces]


def same_axis(p: Vec, d: Vec, q: Vec, e: Vec) -> bool:
    """Whether two axis lines are one line, within tolerance."""
    if not parallel(d, e):
        return False
    rel = q - p
    return same_place(rel, d * float(rel @ d))


def round_about(face: Face, base: Vec, axis: Vec) -> bool:
    """Whether a face is a round one about an axis line."""
    return face.kind == "cylinder" and same_axis(base, axis, face.origin, face.axis)


def _base(face: Face) -> Vec:
    return face.origin - face.axis * float(face.origin @ face.axis)


def _segment(face: Face, base: Vec, axis: Vec) -> Segment:
    shift, sign = float((face.origin - base) @ axis), float(np.sign(face.axis @ axis))
    ends = sorted((shift + sign * face.span[0], shift + sign * face.span[1]))
    if face.kind == "cylinder":
        return Segment("cylinder", ends[0], ends[1], face.radius, face.radius, [face.index], face.sweep, face.area)
    slope = math.tan(face.half_angle)
    near, far = abs(face.span[0]) * slope, abs(face.span[1]) * slope
    r0, r1 = (near, far) if sign > 0 else (far, near)
    return Segment("cone", ends[0], ends[1], r0, r1, [face.index], face.sweep, face.area)


def _joined(segments: list[Segment]) -> list[Segment]:
    """Halves and split pieces of one surface become one segment."""
    out: list[Segment] = []
    for seg in sorted(segments, key=lambda s: (s.kind, round(s.r0, 3), round(s.r1, 3), s.a0)):
        last = out[-1] if out else None
        alike = last and last.kind == seg.kind and abs(last.r0 - seg.r0) < SAME and abs(last.r1 - seg.r1) < SAME
        if last and alike and seg.a0 < last.a1 + SAME:
            last.a0, last.a1 = min(last.a0, seg.a0), max(last.a1, seg.a1)
            last.faces += seg.faces
            last.sweep += seg.sweep
            last.area += seg.area
        else:
            out.append(seg)
    return sorted(out, key=lambda s: (s.a0, s.a1))


def _winding(seg: Segment, others: list[Segment], inner: bool) -> bool:
    """Whether a cylinder is the winding strip of a thread: little of its length is there, and the bore or the shaft
    itself runs beside it."""
    if seg.kind != "cylinder" or seg.area > 0.45 * 2 * math.pi * seg.radius * (seg.a1 - seg.a0):
        return False
    return any(
        o is not seg
        and o.kind == "cylinder"
        and min(o.a1, seg.a1) - max(o.a0, seg.a0) > 0.5 * (seg.a1 - seg.a0)
        and ((o.radius < seg.radius) if inner else (o.radius > seg.radius))
        for o in others
    )


def _crossed(solid: Solid, face_ids: list[int], axis: Vec, level: float, base: Vec) -> bool:
    """Whether the rim of these faces near `level` opens into another bore."""
    for f in face_ids:
        for e, other in solid.neighbours[f]:
            edge: Edge = solid.edges[e]
            near = abs(float((edge.middle - base) @ axis) - level) < 0.6 * max(edge.length / math.pi, SAME)
            face = solid.faces[other]
            if near and face.kind == "cylinder" and face.inner and abs(float(face.axis @ axis)) < 0.99:
                return True
    return False


def _slotted(solid: Solid, low: Segment, high: Segment, axis: Vec, base: Vec) -> bool:
    """Whether a slot no longer than the bores beside it parts two pieces of one bore: flat walls square to it."""
    if high.a0 - low.a1 > (low.a1 - low.a0) + (high.a1 - high.a0):
        return False
    for seg, level, sign in ((low, low.a1, 1.0), (high, high.a0, -1.0)):
        walls = [
            solid.faces[k]
            for f in seg.faces
            for e, k in solid.neighbours[f]
            if solid.edges[e].kind == "circle" and abs(float((solid.edges[e].centre - base) @ axis) - level) < SAME
        ]
        if not any(w.kind == "plane" and faces_along(float(w.axis @ axis) * sign) for w in walls):
            return False
    return True


def _about_a_narrower(seg: Segment, others: list[Segment]) -> bool:
    """Whether a narrower bore runs along inside a wide one for all its length: what parts them is the inner wall of a ring."""
    return seg.kind == "cylinder" and any(
        o is not seg
        and o.kind == "cylinder"
        and o.radius < seg.radius - SAME
        and o.a0 < seg.a0 + SAME
        and o.a1 > seg.a1 - SAME
        for o in others
    )


def upward(axis: Vec) -> Vec:
    """The same direction whichever way the axis was written: its largest component positive."""
    k = int(np.argmax(np.round(np.abs(axis), 6)))
    return axis if axis[k] > 0 else -axis


def axis_groups(faces: list[Face]) -> list[tuple[Vec, Vec, list[Face]]]:
    """Faces of revolution by their common axis line: (a point of it, its direction, the faces), in face order."""
    groups: list[tuple[Vec, Vec, list[Face]]] = []
    cells: dict[tuple[int, ...], list[int]] = {}
    for face in faces:
        axis = upward(face.axis)
        base = face.origin - axis * float(face.origin @ axis)
        # Cells are far wider than the tolerance; a base near a border is looked for on both sides of it.
        low, high = np.floor(base - 2 * SAME), np.floor(base + 2 * SAME)
        keys = {
            (int(x), int(y), int(z)) for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])
        }
        near = sorted({g for key in keys for g in cells.get(key, ())})
        found = next((g for g in near if same_axis(groups[g][0], groups[g][1], face.origin, face.axis)), None)
        if found is None:
            found = len(groups)
            groups.append((_base(face), axis, []))
            for key in keys:
                cells.setdefault(key, []).append(found)
        groups[found][2].append(face)
    return groups


def _grooved(solid: Solid, one: Segment, other: Segment) -> bool:
    """Whether a round-bottomed groove lies between two stretches of one bore."""
    beside = [
        {k for f in seg.faces for e, k in solid.neighbours[f] if solid.edges[e].dihedral == "convex"}
        for seg in (one, other)
    ]
    return any(solid.faces[k].kind == "torus" and solid.faces[k].inner for k in beside[0] & beside[1])


def _floors(solid: Solid, seg: Segment, inner: bool) -> set[int]:
    """Flat faces beside a piece of a stack, at once or over a fillet (`inner`) or a round."""
    out: set[int] = set()
    for f in seg.faces:
        for e, k in solid.neighbours[f]:
            over = solid.faces[k]
            if over.kind == "plane":
                out.add(k)
            elif over.kind == "torus" and over.inner is inner and solid.edges[e].dihedral == "smooth":
                out |= {n for _, n in solid.neighbours[k] if solid.faces[n].kind == "plane"}
    return out


def _floor_between(solid: Solid, one: Segment, other: Segment, base: Vec, axis: Vec) -> float | None:
    """The level of a floor square to the axis on which the wider of two bores stands, be it over a fillet, and through which
    the narrower goes on, be it over a round; None where there is none."""
    wide, narrow = (one, other) if one.radius > other.radius else (other, one)
    for k in sorted(_floors(solid, wide, True) & _floors(solid, narrow, False)):
        floor = solid.faces[k]
        if parallel(floor.axis, axis):
            level = float((floor.origin - base) @ axis)
            if one.a1 - SAME < level < other.a0 + SAME:
                return level
    return None


def coaxial_runs(solid: Solid, inner: bool = True) -> list[Run]:
    """All runs of full-turn cylinders and cones that share an axis, on the inner or the outer side."""
    groups = axis_groups([f for f in solid.faces if f.kind in ("cylinder", "cone") and f.inner is inner])
    runs: list[Run] = []
    for base, axis, members in groups:
        segments = _joined([_segment(f, base, axis) for f in members])
        # Slot ends and corner rounds cover half a turn or less; a keyed bore covers most of one.
        segments = [s for s in segments if s.sweep > 1.5 * math.pi]
        segments = [s for s in segments if not _winding(s, segments, inner)]
        rings = [s for s in segments if inner and _about_a_narrower(s, segments)]
        runs += [Run(base, axis, [s]) for s in rings]
        segments = [s for s in segments if s not in rings]
        run: Run | None = None
        for seg in segments:
            last = run.segments[-1] if run else None
            if run and last and seg.a0 < last.a1 + SAME:
                run.segments.append(seg)
                continue
            floor = _floor_between(solid, last, seg, base, axis) if inner and run and last else None
            if floor is not None and run and last:
                # The wider bore reaches to the floor that its fillet stands on.
                last.a1, seg.a0 = max(last.a1, floor), min(seg.a0, floor)
                run.segments.append(seg)
                continue
            split = (
                inner
                and run
                and last
                and last.kind == seg.kind == "cylinder"
                and abs(last.r1 - seg.r0) < SAME
                and (
                    (
                        _crossed(solid, last.faces, axis, last.a1, base)
                        and _crossed(solid, seg.faces, axis, seg.a0, base)
                    )
                    or _slotted(solid, last, seg, axis, base)
                    or _grooved(solid, last, seg)
                )
            )
            if split and last:
                last.a1, last.faces = seg.a1, last.faces + seg.faces
                continue
            run = Run(base, axis, [seg])
            runs.append(run)
    return runs
