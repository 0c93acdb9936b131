"""Rows of notes that say several sizes of one feature at once: grooves, polygons, drafts, threads on plain holes."""

from collections.abc import Sequence
from itertools import pairwise

import numpy as np

from canonis.core.shape.part import PartShape
from canonis.core.shape.rows import Row, added, scaled
from canonis.core.shape.statements import ABOUT_CENTRE_LINE, ON_CENTRE_LINE, REGULAR, Parts, hole_rows, slot_rows
from canonis.core.shape.surfaces import around_flanks, is_full_turn, torus_floor
from canonis.core.solid import Face, Vec, unit_vector
from canonis.core.tolerances import NOISE, NOTHING, SAME, opposed, parallel

__all__ = [
    "arc_slot_rows",
    "dovetail_rows",
    "draft_rows",
    "groove_rows",
    "polygon_rows",
    "round_groove_rows",
    "spline_rows",
    "tapped_rows",
    "wall_rows",
]


def groove_rows(shape: PartShape, floor: int, walls: Sequence[int]) -> Parts:
    """Width between both walls, diameter of the floor, and how deep it is under the lower rim."""
    solid = shape.solid
    face = solid.faces[floor]
    radius = shape.motions[floor].radius
    if radius is None or len(walls) != 2:
        return {}
    a, b = (solid.faces[w] for w in walls)
    apart = added(shape.speed(a.index, a.centre), shape.speed(b.index, b.centre), 1.0)
    rows: Parts = {"diameter": [{radius: 2.0}], "width": [scaled(apart, -1.0)]}
    rims = [r for w in walls for r in [_rim(shape, w, face)] if r is not None]
    if rims:
        sense = 1.0 if not face.inner else -1.0
        lowest = min(rims, key=lambda r: abs(shape.unknowns[r].value - face.radius))
        rows["depth"] = [{lowest: sense, radius: -sense}] if lowest != radius else []
    return rows


def round_groove_rows(shape: PartShape, floor: int) -> Parts:
    """The radius of a round-bottomed groove, and the diameter of its bottom."""
    motion = shape.motions[floor]
    if motion.tube is None or motion.ring is None:
        return {}
    side = float(torus_floor(shape.solid, shape.solid.faces[floor]))
    wide = {motion.ring: 2.0} | ({motion.tube: 2.0 * side} if side else {})
    rows: Parts = {"radius": [{motion.tube: 1.0}], "diameter": [wide]}
    face = shape.solid.faces[floor]
    beside = (shape.solid.faces[o] for _, o in shape.solid.neighbours[floor])
    top = next((f for f in beside if f.kind == "plane" and parallel(f.axis, face.axis)), None)
    if top is not None and not side:
        under = added(shape.speed(top.index, top.centre), shape.axis_speed(floor, face.origin, top.axis), -1.0)
        rows["depth"] = [added(under, {motion.tube: 1.0})]
    return rows


def _rim(shape: PartShape, wall: int, floor: Face) -> int | None:
    """The radius of the cylinder beyond a wall of a groove."""
    for _, o in shape.solid.neighbours[wall]:
        face = shape.solid.faces[o]
        if (
            face.kind == "cylinder"
            and o != floor.index
            and parallel(face.axis, floor.axis)
            and face.inner is floor.inner
        ):
            return shape.motions[o].radius
    return None


def arc_slot_rows(shape: PartShape, ends: Sequence[int], walls: Sequence[int], toward: Vec) -> Parts:
    """Width at both ends, radius of the middle line, sweep, start, and depth of a slot along an arc; angles run
    anticlockwise for somebody who looks against `toward`."""
    solid, wall = shape.solid, walls[0]
    hub = solid.faces[wall]
    rows: Parts = {"width": [{r: 2.0} for f in ends if (r := shape.motions[f].radius) is not None], "radius": []}
    turns: list[Row] = []
    for f in ends:
        end = solid.faces[f]
        spoke = end.origin - hub.origin
        spoke = spoke - hub.axis * float(spoke @ hub.axis)
        size = float(np.linalg.norm(spoke))
        if size < NOISE:
            return {}
        spoke = spoke / size
        for rows_of, d in ((rows["radius"], spoke), (turns, np.cross(toward, spoke) / size)):
            rows_of.append(added(shape.axis_speed(f, end.origin, d), shape.axis_speed(wall, hub.origin, d), -1.0))
    outer, inner = (shape.motions[w].radius for w in walls)
    if outer is not None and inner is not None:
        rows["width"].append({outer: 1.0, inner: -1.0})
    # Both walls run about one centre, and about that of a round face on the same axis, as they are drawn.
    across = [u for u, _ in shape.motions[wall].axes]
    inside = solid.faces[walls[1]]
    for d in across:
        own = shape.axis_speed(wall, hub.origin, d)
        rows["radius"].append(added(shape.axis_speed(walls[1], inside.origin, d), own, -1.0))
    holder = _around(shape, hub.origin, hub.axis)
    if holder is not None:
        rows[ON_CENTRE_LINE] = [
            added(shape.axis_speed(holder.index, holder.origin, d), shape.axis_speed(wall, hub.origin, d), -1.0)
            for d in across
        ]
    rows["start-angle"] = turns[:1]
    rows["angle"] = [added(turns[1], turns[0], -1.0)]
    if depth := slot_rows(shape, (ends[0], ends[1])).get("depth"):
        rows["depth"] = depth
    return rows


def polygon_rows(shape: PartShape, flats: Sequence[int]) -> Parts:
    """Across the flats of a regular polygon with an even number of sides: every pair as wide, all at equal angles about one
    centre. It stands about the axis of a cylinder that it has in its middle."""
    faces = [shape.solid.faces[f] for f in flats]
    if len(faces) < 4 or len(faces) % 2:
        return {}
    pairs = [(a, b) for k, a in enumerate(faces) for b in faces[k + 1 :] if opposed(a.axis, b.axis)]
    if len(pairs) * 2 != len(faces):
        return {}
    widths = [added(shape.speed(a.index, a.centre), shape.speed(b.index, b.centre)) for a, b in pairs]
    sense = 1.0 if sum(float((a.centre - b.centre) @ a.axis) for a, b in pairs) > 0 else -1.0
    rows: Parts = {"across-flats": [scaled(w, sense) for w in widths]}
    middles = [
        scaled(added(shape.speed(a.index, a.centre), shape.speed(b.index, b.centre), -1.0), 0.5) for a, b in pairs
    ]
    across = np.array([a.axis for a, _ in pairs])
    # The middles of two pairs are those of all others.
    for k in range(2, len(pairs)):
        shares, *_ = np.linalg.lstsq(across[:2].T, across[k], rcond=None)
        row = added(added(middles[k], middles[0], -float(shares[0])), middles[1], -float(shares[1]))
        if row:
            rows["across-flats"].append(row)
    axis = unit_vector(np.cross(across[0], across[1]))
    leans = [_turn(shape, a.index, axis) for a, _ in pairs]
    rows[REGULAR] = [row for one, other in pairwise(leans) if (row := added(other, one, -1.0))]
    holder = _centre(shape, faces, axis)
    if holder is not None:
        point = holder.origin
        rows[ABOUT_CENTRE_LINE] = [
            row
            for m, n in zip(middles[:2], across[:2], strict=True)
            if (row := added(m, shape.axis_speed(holder.index, point, n), -1.0))
        ]
    return rows


def _centre(shape: PartShape, flats: Sequence[Face], axis: Vec) -> Face | None:
    """A cylinder that stands in the middle of a polygon."""
    return _around(shape, np.mean([f.centre for f in flats], axis=0), axis)


def _around(shape: PartShape, middle: Vec, axis: Vec) -> Face | None:
    """A whole cylinder about an axis through a point."""
    return next(
        (
            f
            for f in shape.solid.faces
            if f.kind == "cylinder"
            and is_full_turn(f)
            and parallel(f.axis, axis)
            and float(np.linalg.norm(np.cross(f.origin - middle, axis))) < SAME
        ),
        None,
    )


def _turn(shape: PartShape, face: int, axis: Vec) -> Row:
    """How a face turns about an axis."""
    row: Row = {}
    for about, unknown in shape.motions[face].turns:
        share = float(about @ axis)
        if abs(share) > NOTHING:
            row[unknown] = row.get(unknown, 0.0) + share
    return row


def draft_rows(shape: PartShape, base: int, faces: Sequence[int]) -> Parts:
    """How far flat faces and cones lean on the direction that a base plane is square to."""
    pull = shape.solid.faces[base].axis
    rows: list[Row] = []
    for f in faces:
        face = shape.solid.faces[f]
        half = shape.motions[f].half_angle
        if half is not None:
            rows.append({half: 1.0})
            continue
        about = np.cross(pull, face.axis)
        if float(np.linalg.norm(about)) < NOTHING:
            continue
        axis = unit_vector(about)
        row = added(_turn(shape, f, axis), _turn(shape, base, axis), -1.0)
        if row:
            rows.append(row)
    return {"angle": rows}


def dovetail_rows(shape: PartShape, faces: Sequence[int]) -> Parts:
    """Width of a dovetail at its narrow end, how far both walls lean on the wide face, and how far apart both ends are; faces in the
    order wide, walls, narrow."""
    wide, *walls, narrow = (shape.solid.faces[f] for f in faces)
    up = wide.axis
    level = shape.speed(narrow.index, narrow.centre)
    rise = scaled(level, float(np.sign(narrow.axis @ up)))
    ends: list[Row] = []
    leans: list[Row] = []
    for wall in walls:
        flat = wall.axis - up * float(wall.axis @ up)
        across = unit_vector(flat)
        lean = float(wall.axis @ across)
        # Where the plane of the wall meets that of the narrow end moves with both.
        spot = wall.centre + across * ((wall.offset - float(wall.axis @ wall.centre)) / lean)
        spot = spot + (up - across * float(wall.axis @ up) / lean) * float((narrow.centre - spot) @ up)
        moved = added(shape.speed(wall.index, spot), rise, -float(wall.axis @ up))
        ends.append(scaled(moved, 1.0 / lean))
        axis = unit_vector(np.cross(up, wall.axis))
        leans.append(added(_turn(shape, wall.index, axis), _turn(shape, wide.index, axis), -1.0))
    apart = added(rise, shape.speed(wide.index, wide.centre), -1.0)
    sense = 1.0 if float((narrow.centre - wide.centre) @ up) > 0 else -1.0
    height = [scaled(apart, sense)]
    # Both walls look at each other in a slot, away from each other on a tongue.
    return {
        "width": [scaled(added(ends[0], ends[1]), -sense)],
        "angle": [r for r in leans if r],
        "depth": height,
        "height": height,
    }


def spline_rows(shape: PartShape, faces: Sequence[int]) -> Parts:
    """Root and outside of a spline by its flanks, and that its parallel-sided teeth are alike, evenly spaced and point to the
    axis."""
    solid = shape.solid
    if len(faces) < 4:
        return {}
    faces = around_flanks(solid, faces)
    rounds = [solid.faces[f] for f in faces if solid.faces[f].kind == "cylinder"]
    if not rounds:
        return {}
    wide, thin = max(f.radius for f in rounds), min(f.radius for f in rounds)
    rows: Parts = {"major": [], "minor": [], "teeth": []}
    for face in rounds:
        size = shape.motions[face.index].radius
        if size is not None:
            rows["major" if face.radius > (wide + thin) / 2 else "minor"].append({size: 2.0})
    inner = rounds[0].inner
    tips = [f for f in rounds if (f.radius < (wide + thin) / 2) is inner] if wide - thin > NOISE else rounds
    axis = tips[0].axis
    teeth: list[tuple[Row, Row]] = []
    for tip in tips:
        flanks = sorted({o for _, o in solid.neighbours[tip.index] if o in faces and solid.faces[o].kind == "plane"})
        if len(flanks) != 2:
            continue
        a, b = (solid.faces[f] for f in flanks)
        width = added(shape.speed(a.index, a.centre), shape.speed(b.index, b.centre))
        middle = scaled(added(shape.speed(a.index, a.centre), shape.speed(b.index, b.centre), -1.0), 0.5)
        off = added(middle, shape.axis_speed(tip.index, tip.origin, a.axis), -1.0)
        rows["teeth"] += [off] if off else []
        teeth.append((width, _turn(shape, a.index, axis)))
    for width, turn in teeth[1:]:
        for row in (added(width, teeth[0][0], -1.0), added(turn, teeth[0][1], -1.0)):
            rows["teeth"] += [row] if row else []
    flat = [solid.faces[f] for f in faces if solid.faces[f].kind == "plane"]
    roots = [f for f in flat if not any(o == t.index for t in tips for _, o in solid.neighbours[f.index])]
    rows["minor" if not inner else "major"] += [
        scaled(
            added(shape.speed(f.index, f.centre), shape.axis_speed(tips[0].index, tips[0].origin, f.axis), -1.0), 2.0
        )
        for f in roots
    ]
    return rows


def wall_rows(shape: PartShape, a: int, b: int) -> Parts:
    """The thickness between two flat faces that look away from each other, and that they are parallel."""
    one, other = shape.solid.faces[a], shape.solid.faces[b]
    rows = [added(shape.speed(a, one.centre), shape.speed(b, other.centre))]
    mine, theirs = shape.motions[a].turns, shape.motions[b].turns
    if [k for _, k in mine] != [k for _, k in theirs] or any(
        float(np.abs(u - v).max()) > NOTHING for (u, _), (v, _) in zip(mine, theirs, strict=True)
    ):
        rows += [row for u in shape.frame if (row := added(_turn(shape, a, u), _turn(shape, b, u), -1.0))]
    return {"thickness": [row for row in rows if row]}


def tapped_rows(shape: PartShape, face: int, out: Vec, drilled: bool, fixed: bool = False) -> Parts:
    """What a thread note says of the plain hole that it is cut into: of its drill, or of the hole itself where the note
    names no drill."""
    rows = hole_rows(shape, face, out, fixed)
    if not drilled:
        return {"thread": rows.get("diameter", [])} | {k: v for k, v in rows.items() if k != "diameter"}
    renamed = {"diameter": "drill-diameter", "depth": "drill-depth", "through": "drill-through"}
    return {renamed.get(k, k): v for k, v in rows.items()}
