"""The features of a part as things that a line of a source can mean: their sizes measured afresh, with their rows.

Where they are comes from the recogniser as a hint; every size is taken from the faces again, by the gauge of its kind or
because the faces of the feature bear it out. What they do not bear out is left away.
"""

from collections.abc import Callable, Iterable, Sequence

import numpy as np

from canonis.core.proof.bored import GaugedSeat
from canonis.core.proof.circles import ring_centre
from canonis.core.proof.gauge import gauge_hole
from canonis.core.proof.kinds.chamfers import bevel_sizes
from canonis.core.proof.kinds.grooves import gauge_groove, gauge_round_groove
from canonis.core.proof.kinds.holes import LEAST_SEAT, equally_spaced, spoken
from canonis.core.proof.known import is_known, thing_of
from canonis.core.proof.match.cylinders import plain_cylinders
from canonis.core.proof.match.gathered import gathered
from canonis.core.proof.match.item import Item, Line, Size
from canonis.core.shape import (
    Parts,
    PartShape,
    Row,
    bore_of,
    chamfer_rows,
    groove_rows,
    hole_rows,
    is_full_turn,
    places,
    ring_rows,
    round_groove_rows,
    round_rows,
    slot_rows,
)
from canonis.core.solid import Face, Found, Member, Solid, Vec, edge_points
from canonis.core.tolerances import ALIGNED, NOISE, ZERO, parallel, square

__all__ = ["items_of"]

#: How near a size must be to what its faces show, mm or degrees.
_BORNE = 1e-3
#: Sizes that are numbers, and those in degrees: no distance bears these out.
_COUNTS, _ANGLES = ("sides", "starts", "walls", "faces"), ("angle", "sweep", "start", "draft")


def items_of(shape: PartShape, found: Sequence[Found]) -> list[Item]:
    """Everything of a part that has a size of its own."""
    out: list[Item] = []
    taken: set[int] = set()
    keyed = {f for x in found if thing_of(x.kind).claims_holes for m in x.members for f in m.faces}
    for one in found:
        made: Item | None = None
        faces = {f for m in one.members for f in m.faces}
        if one.kind == "hole":
            made = None if faces and faces <= keyed else _hole(shape, one)
        elif one.kind == "slot" and one.members[0].walls:
            made = None if faces & keyed else _slot(shape, one)
        elif thing_of(one.kind).breaks_edge:
            made = _blend(shape, one) if one.members and not any(one.members[0].place) else _form(shape, one)
        elif thing_of(one.kind).axes == "needed" and "diameter" in one.sizes:
            made = _shaft(shape, one)
        elif is_known(one.kind):
            made = _form(shape, one)
        if made is not None:
            out.append(made)
            if thing_of(made.kind).claims:
                taken |= made.faces
    return gathered([*out, *plain_cylinders(shape, taken)])


def _vec(t: Iterable[float]) -> Vec:
    return np.array(list(t), dtype=float)


def _hole(shape: PartShape, one: Found) -> Item | None:
    solid = shape.solid
    first = one.members[0]
    walls = [m.walls or m.faces for m in one.members]
    round_walls = [[f for f in w if solid.faces[f].kind == "cylinder"] for w in walls]
    if not all(round_walls):
        return None
    axis = _vec(first.axis)
    try:
        gauged = gauge_hole(solid, round_walls[0][0], axis, fixed=True)
    except (ArithmeticError, ValueError, IndexError, np.linalg.LinAlgError):
        return None
    rows: Parts = {}
    for w in round_walls:
        for name, more in hole_rows(shape, w[0], axis, fixed=True).items():
            rows.setdefault(name, []).extend(more)

    def size(name: str, value: float | bool) -> None:
        sizes[name] = Size(value, tuple(rows.get(name, ())))

    sizes: dict[str, Size] = {}
    size("diameter", gauged.diameter)
    if gauged.through:
        size("through", True)
        levels = np.concatenate([edge_points(solid, e) @ axis for f in first.faces for e in solid.faces[f].edges])
        size("length", float(np.ptp(levels)))
    elif gauged.depth is not None:
        size("depth", gauged.depth)
        size(
            "flat-bottom" if gauged.point == 180.0 else "point-angle",
            True if gauged.point == 180.0 else float(gauged.point or 0),
        )
    kinds = [_seats(size, *seats) for seats in (("", gauged.near), ("-far", gauged.far))]
    lines = tuple(
        Line(w[0], _vec(m.place), axis, solid.faces[w[0]].radius) for m, w in zip(one.members, round_walls, strict=True)
    )
    centre = _ring(shape, one, lines, axis, sizes)
    faces = frozenset(
        {f for m in one.members for f in m.faces} | {f for w in round_walls for f in _floors(shape, w[0], axis)}
    )
    return Item(
        one.label,
        "hole",
        len(one.members),
        sizes,
        axis,
        faces,
        lines,
        tuple(n.point for n in lines),
        centre,
        (kinds[0], kinds[1]),
        one.words,
    )


def _seats(size: Callable[[str, float | bool], None], side: str, seats: Iterable[GaugedSeat]) -> tuple[str, ...]:
    """The kinds of the seats at one end of a bore; their sizes are told to `size` by name."""
    named: list[str] = []
    for seat in seats:
        if max(seat.leg, seat.depth) <= LEAST_SEAT:
            continue
        kind = spoken(seat)
        letter = ("", "-b", "-c")[min(named.count(kind), 2)]
        named.append(kind)
        if kind == "counterbore":
            size(f"counterbore{letter}{side}-diameter", seat.diameter)
            size(f"counterbore{letter}{side}-depth", seat.depth)
        elif kind == "countersink":
            size(f"countersink{side}-diameter", seat.diameter)
            size(f"countersink{side}-angle", seat.angle)
        elif kind == "rim":
            size(f"rim{side}-size", seat.leg)
            size(f"rim{side}-angle", 90 - seat.angle / 2)
        else:
            size(f"rim{side}-radius", seat.leg)
    return tuple(named)


def _ring(shape: PartShape, one: Found, lines: Sequence[Line], axis: Vec, sizes: dict[str, Size]) -> Vec | None:
    """The centre of the circle that equal holes stand on, with its size among the others; None where they stand on none."""
    if one.words.get("pattern") not in ("circular", None) or len(lines) < 3:
        return None
    flat = np.array([n.point - axis * float(n.point @ axis) for n in lines])
    centre = ring_centre(flat)
    spans = np.linalg.norm(flat - centre, axis=1)
    if float(np.ptp(spans)) >= 1e-2:
        return None
    before = len(shape.unknowns)
    ring = ring_rows(shape.overlay(), [n.face for n in lines], True)
    own = [r for r in ring.get("pitch-circle", []) if all(k < before for k in r)]
    sizes["pitch-circle"] = Size(2 * float(spans.mean()), tuple(own))
    if equally_spaced([n.point for n in lines], axis):
        sizes["equally-spaced"] = Size(True)
    return centre


def _floors(shape: PartShape, wall: int, axis: Vec) -> set[int]:
    """What the seats of a bore stand on, and what closes it."""
    bore = bore_of(shape, wall, axis, fixed=True)
    out: set[int] = set()
    for end in (bore.near, bore.far):
        out |= {s.floor for s in end.seats if s.floor is not None} | {s.wall for s in end.seats}
        out |= set(end.faces) if end.closed else set()
    return out


def _slot(shape: PartShape, one: Found) -> Item | None:
    solid, member = shape.solid, one.members[0]
    ends = [solid.faces[f] for f in member.walls if solid.faces[f].kind == "cylinder"]
    if len(ends) < 2:
        return None
    a, b = ends[0], ends[-1]
    axis = _vec(member.axis)
    way = b.origin - a.origin
    apart = float(np.linalg.norm(way - a.axis * float(way @ a.axis)))
    rows = slot_rows(shape, (a.index, b.index))
    sizes = {
        "width": Size(a.radius + b.radius, tuple(rows.get("width", ()))),
        "centres": Size(apart, tuple(rows.get("centres", ()))),
        "length": Size(apart + a.radius + b.radius, tuple(rows.get("length", ()))),
        "radius": Size(a.radius, tuple({k: v / 2 for k, v in r.items()} for r in rows.get("width", ()))),
    }
    if one.words.get("through"):
        sizes["through"] = Size(True)
    elif "depth" in one.sizes and _borne(solid, member.faces, one.sizes["depth"]):
        sizes["depth"] = Size(one.sizes["depth"], tuple(rows.get("depth", ())))
    lines = tuple(Line(f.index, f.origin, axis, f.radius) for f in (a, b))
    return Item(
        one.label, "slot", 1, sizes, axis, frozenset(member.faces), lines, (_vec(member.place),), words=one.words
    )


def _blend(shape: PartShape, one: Found) -> Item | None:
    solid = shape.solid
    faces = [m.faces[0] for m in one.members]
    axis = solid.faces[faces[0]].axis
    points = tuple(solid.faces[f].centre for f in faces)
    if one.kind == "chamfer":
        legs = bevel_sizes(solid, faces[0])
        if legs is None:
            return None
        rows: Parts = {}
        for f in faces:
            for name, more in chamfer_rows(shape, f).items():
                rows.setdefault(name, []).extend(more)
        sizes = {
            "leg": Size(legs[0], tuple(rows.get("leg", ()))),
            "leg-b": Size(legs[1], tuple(rows.get("leg-b", ()))),
            "angle": Size(legs[2], tuple(rows.get("leg-b", ()))),
        }
        return Item(one.label, "chamfer", len(faces), sizes, axis, frozenset(faces), points=points, weight=0.7)
    round_faces = [f for f in faces if solid.faces[f].kind in ("cylinder", "torus")]
    if not round_faces:
        return None
    first = solid.faces[round_faces[0]]
    size = first.minor if first.kind == "torus" else first.radius
    both: Parts = {"radius": [], "diameter": []}
    for f in round_faces:
        for name, more in round_rows(shape, f).items():
            both[name].extend(more)
    sizes = {"radius": Size(size, tuple(both["radius"])), "diameter": Size(2 * size, tuple(both["diameter"]))}
    return Item(
        one.label,
        "fillet",
        len(places(solid, round_faces)),
        sizes,
        axis,
        frozenset(faces),
        points=points,
        words=one.words,
        weight=0.7,
        also=len(round_faces),
    )


def _shaft(shape: PartShape, one: Found) -> Item | None:
    member = one.members[0]
    mine = [shape.solid.faces[f] for f in member.faces if shape.solid.faces[f].kind == "cylinder"]
    if not mine:
        return None
    face = mine[0]
    rows = round_rows(shape, face.index)
    sizes = {
        "diameter": Size(2 * face.radius, tuple(rows.get("diameter", ()))),
        "radius": Size(face.radius, tuple(rows.get("radius", ()))),
    }
    if "height" in one.sizes and _borne(shape.solid, member.faces, one.sizes["height"]):
        sizes["height"] = Size(one.sizes["height"])
    axis = _vec(member.axis)
    line = Line(face.index, face.origin, axis, face.radius)
    return Item(
        one.label, one.kind, 1, sizes, axis, frozenset(member.faces), (line,), (_vec(member.place),), words=one.words
    )


def _form(shape: PartShape, one: Found) -> Item | None:
    solid = shape.solid
    member = one.members[0]
    sizes: dict[str, Size] = {}
    known = thing_of(one.kind)
    counts = {name: value for name, value in one.sizes.items() if name in _COUNTS}
    gauged = known.gauge(solid, member, counts) if known.gauge is not None else {}
    for name, value in one.sizes.items():
        if name in gauged:
            sizes[name] = Size(gauged[name], _rows_of(shape, member, name, gauged[name]))
        elif name in counts:
            sizes[name] = Size(value)
        elif name not in _ANGLES and _borne(solid, member.faces, value):
            sizes[name] = Size(float(value), _rows_of(shape, member, name, value))
    if one.kind == "taper" and "angle" in sizes:
        sizes["half-angle"] = Size(float(sizes["angle"].value) / 2)
    if one.kind == "keyway":
        sizes |= _across(shape, member)
    if one.kind == "groove":
        sizes |= _groove(shape, one, member)
    faces = frozenset(f for m in one.members for f in m.faces)
    lines: tuple[Line, ...] = ()
    if thing_of(one.kind).turned:
        lines = tuple(
            Line(f.index, f.origin, f.axis, f.radius)
            for m in one.members
            for f in (solid.faces[k] for k in m.faces)
            if f.kind == "cylinder" and (one.kind != "boss" or is_full_turn(f))
        )[:4]
    weight = thing_of(one.kind).weight
    if one.kind == "boss" and one.words.get("outline") == "polygon":
        weight = 1.0
    return Item(
        one.label,
        one.kind,
        len(one.members),
        sizes,
        _vec(member.axis),
        faces,
        lines,
        tuple(_vec(m.place) for m in one.members),
        words=one.words,
        weight=weight,
    )


def _groove(shape: PartShape, one: Found, member: Member) -> dict[str, Size]:
    """The sizes of a groove with the rows that fix them: its depth follows from its bottom and the rim beside it."""
    solid = shape.solid
    if one.words.get("bottom") == "round":
        rows = round_groove_rows(shape, member.faces[0])
        sizes = gauge_round_groove(solid, member.faces[0])
    else:
        faces = [solid.faces[f] for f in member.faces]
        floor = next((f.index for f in faces if f.kind == "cylinder"), None)
        walls = [f.index for f in faces if f.kind == "plane"]
        if floor is None:
            return {}
        rows = groove_rows(shape, floor, walls)
        sizes = gauge_groove(solid, floor, walls)
    return {name: Size(value, tuple(rows.get(name, ()))) for name, value in sizes.items()}


def _across(shape: PartShape, member: Member) -> dict[str, Size]:
    """A keyway's bottom from the far side of the bore or shaft that it is cut into, which is what one can measure."""
    solid = shape.solid
    near = {o for f in member.faces for _, o in solid.neighbours[f]} - set(member.faces)
    hosts = [solid.faces[o] for o in sorted(near) if solid.faces[o].kind == "cylinder"]
    for f in (solid.faces[k] for k in member.faces):
        for host in hosts:
            if f.kind != "plane" or not square(f.axis, host.axis):
                continue
            apart = float((f.origin - host.origin) @ f.axis)
            # The floor looks to the axis in a bore, away from it on a shaft; a side wall stands too near to it.
            if (apart < 0) is not host.inner or abs(apart) < host.radius / 2:
                continue
            radius = shape.motions[host.index].radius
            n = f.axis if apart > 0 else -f.axis
            sense = float(n @ f.axis)
            row = {k: v * sense for k, v in shape.speed(f.index, f.centre).items()}
            for k, v in shape.axis_speed(host.index, f.centre, n).items():
                row[k] = row.get(k, 0.0) - v
            if radius is not None:
                row[radius] = row.get(radius, 0.0) + 1.0
            return {"across": Size(abs(apart) + host.radius, (row,))}
    return {}


def _rows_of(shape: PartShape, member: Member, name: str, value: float) -> tuple[Row, ...]:
    """The row of a size that two flat faces or one round face of the feature make, where there is one."""
    solid = shape.solid
    faces = [solid.faces[f] for f in member.faces]
    for f in faces:
        if f.kind in ("cylinder", "torus") and name in ("diameter", "radius", "major", "minor"):
            rows = round_rows(shape, f.index)
            size = f.minor if f.kind == "torus" else f.radius
            for part, factor in (("diameter", 2.0), ("radius", 1.0)):
                if abs(factor * size - value) < _BORNE and part in rows:
                    return tuple(rows[part])
    flat = [f for f in faces if f.kind == "plane"]
    for i, a in enumerate(flat):
        for b in flat[i + 1 :]:
            if parallel(a.axis, b.axis, ALIGNED) and abs(abs(float((a.origin - b.origin) @ a.axis)) - value) < _BORNE:
                sense = 1.0 if float((a.origin - b.origin) @ a.axis) > 0 else -1.0
                share = float(np.sign(a.axis @ b.axis))
                one, other = shape.speed(a.index, a.centre), shape.speed(b.index, b.centre)
                row = {k: sense * v for k, v in one.items()}
                for k, v in other.items():
                    row[k] = row.get(k, 0.0) - sense * share * v
                return ({k: v for k, v in row.items() if abs(v) > ZERO},)
    return ()


def _borne(solid: Solid, faces: Sequence[int], value: float) -> bool:
    """Whether faces of a feature, or flat faces beside them, show a size: apart, across, round or from an axis."""
    mine = [solid.faces[f] for f in faces]
    near = {o for f in faces for _, o in solid.neighbours[f]} - set(faces)
    all_faces = [*mine, *(solid.faces[o] for o in sorted(near) if solid.faces[o].kind in ("plane", "cylinder"))][:60]

    def like(x: float) -> bool:
        return abs(x - value) < _BORNE * max(1.0, abs(value) / 100)

    for f in all_faces:
        if f.kind in ("cylinder", "sphere", "torus") and (like(f.radius) or like(2 * f.radius) or like(f.minor)):
            return True
        if f.kind == "cylinder" and like(f.span[1] - f.span[0]):
            return True
    for i, a in enumerate(all_faces):
        for b in all_faces[i + 1 :]:
            if any(like(x) for x in _apart(a, b)):
                return True
    return False


def _apart(a: Face, b: Face) -> list[float]:
    """Distances that people take between two faces."""
    if a.kind == b.kind == "plane":
        return [abs(float((a.origin - b.origin) @ a.axis))] if parallel(a.axis, b.axis) else []
    if a.kind == "plane" or b.kind == "plane":
        flat, other = (a, b) if a.kind == "plane" else (b, a)
        if other.kind == "cylinder" and abs(float(flat.axis @ other.axis)) < NOISE:
            d = abs(float((other.origin - flat.origin) @ flat.axis))
            return [d, d + other.radius, abs(d - other.radius)]
        return []
    if a.kind == b.kind == "cylinder" and parallel(a.axis, b.axis):
        gap = a.origin - b.origin
        d = float(np.linalg.norm(gap - a.axis * float(gap @ a.axis)))
        return [
            d,
            d + a.radius + b.radius,
            abs(d - a.radius - b.radius),
            abs(a.radius - b.radius),
            abs(a.radius + b.radius),
        ]
    return []
