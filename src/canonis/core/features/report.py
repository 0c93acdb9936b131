"""Measurements and features as the JSON of `canonis measure`."""

from typing import Any

import numpy as np

from canonis.core.features.hints import hints
from canonis.core.features.model import Blend, Feature, Form, Hole, Pattern, Seat, Shaft, Slot
from canonis.core.features.patterns import find_pattern
from canonis.core.features.recognition import recognise
from canonis.core.features.stacks import size_key
from canonis.core.features.traits import levels, symmetry_planes, turned_profile
from canonis.core.quantity import Unit
from canonis.core.solid import Model, Solid, face_colours

__all__ = ["measure_model"]


def _n(x: float, digits: int = 9) -> float:
    value = round(float(x), digits)
    return 0.0 if value == 0 else value


def _vec(v: Any, digits: int = 9) -> list[float]:
    return [_n(c, digits) for c in v]


def _seat_keys(seats: tuple[Seat, ...], suffix: str) -> dict[str, Any]:
    out: dict[str, Any] = {}
    for seat in seats:
        if seat.kind == "counterbore":
            entry = {"diameter_mm": _n(seat.diameter), "depth_mm": _n(seat.depth)}
            if spot_face(seat):
                entry["spot_face"] = True
            out.setdefault(f"counterbore{suffix}", entry)
        elif seat.kind == "countersink":
            out.setdefault(f"countersink{suffix}", {"diameter_mm": _n(seat.diameter), "angle_deg": _n(seat.angle, 6)})
        elif seat.kind == "rim-round":
            out.setdefault(f"rim{suffix}", {"kind": "round", "size_mm": _n(seat.size)})
        else:
            out.setdefault(
                f"rim{suffix}", {"kind": "chamfer", "size_mm": _n(seat.size), "angle_deg": _n(seat.angle, 6)}
            )
    return out


def spot_face(seat: Seat) -> bool:
    """A shallow counterbore that only cleans the surface."""
    return seat.kind == "counterbore" and seat.depth < 0.08 * seat.diameter


def _hole_entry(hole: Hole) -> dict[str, Any]:
    entry: dict[str, Any] = {
        "axis": _vec(hole.axis),
        "diameter_mm": _n(hole.diameter),
        "through": hole.through,
        "depth_mm": None if hole.depth is None else _n(hole.depth),
        "bottom": hole.bottom,
        "counterbore": None,
        "countersink": None,
    }
    if hole.point_angle is not None:
        entry["point_angle_deg"] = _n(hole.point_angle, 6)
    return entry | _seat_keys(hole.seats, "") | _seat_keys(hole.far_seats, "_far")


def feature_list(solid: Solid, found: Feature) -> list[dict[str, Any]]:
    """The features of one solid as plain data."""
    out: list[dict[str, Any]] = []
    claimed = {f for form in found.forms for piece in form.pieces for f in piece.owns}
    for group in found.holes:
        if all(f in claimed for h in group.holes for f in h.faces):
            continue  # a ring groove in a face
        out.append(
            {"id": group.id, "kind": "hole", "count": len(group.holes)}
            | _hole_entry(group.first)
            | hints(solid, found, group)
            | {
                "positions_mm": [_vec(h.start, 6) for h in group.holes],
                "pattern": _pattern(group.pattern),
                "sure": "certain",
                "faces": sorted(f for h in group.holes for f in h.faces),
            }
        )
        for k, (width, depth, diameter) in enumerate(group.first.grooves):
            out.append(
                {
                    "id": f"{group.id}.G{k + 1}",
                    "kind": "groove",
                    "on": "bore",
                    "width_mm": _n(width),
                    "depth_mm": _n(depth),
                    "diameter_mm": _n(diameter),
                    "count": len(group.holes),
                }
            )
    out += _slot_entries(solid, found, claimed)
    out += [e for b in found.blends for e in _blend_entry(solid, b, claimed)]
    out += _shaft_entries(found, claimed)
    out += [_form_entry(form) for form in found.forms]
    for name, kind, faces in (("flat", "flat", found.flat), ("free", "free-form", found.free)):
        rest = sorted(set(faces) - claimed)
        if rest:
            out.append({"id": name, "kind": kind, "count": len(rest), "faces": rest})
    return out


def _pattern(pattern: Pattern | None) -> dict[str, Any] | None:
    return None if pattern is None else {"kind": pattern.kind, **pattern.data}


def _slot_entries(solid: Solid, found: Feature, claimed: set[int]) -> list[dict[str, Any]]:
    """Closed straight slots, equal ones of one direction together."""
    groups: dict[tuple[Any, ...], list[Slot]] = {}
    for slot in found.slots:
        if set(slot.faces) & claimed:
            continue
        way = slot.ends[1] - slot.ends[0]
        k = int(np.argmax(np.round(np.abs(way), 6)))
        way = way / np.linalg.norm(way) * (1 if way[k] > 0 else -1)
        key = (
            size_key(slot.width),
            size_key(slot.centres),
            slot.depth is None or size_key(slot.depth),
            *np.round(slot.axis, 5),
            *np.round(way, 4),
        )
        groups.setdefault(key, []).append(slot)
    out = []
    for slots in groups.values():
        first = slots[0]
        middles = np.array([(s.ends[0] + s.ends[1]) / 2 for s in slots])
        out.append(
            {
                "id": first.id,
                "kind": "slot",
                "width_mm": _n(first.width),
                "centres_mm": _n(first.centres),
                "depth_mm": None if first.depth is None else _n(first.depth),
                "through": first.through,
                "count": len(slots),
                "axis": _vec(first.axis),
                "positions_mm": [_vec(e, 6) for s in slots for e in s.ends],
                "pattern": _pattern(find_pattern(middles, first.axis)),
                "faces": sorted(f for s in slots for f in s.faces),
                "sure": "certain",
            }
        )
    return out


def _blend_entry(solid: Solid, blend: Blend, claimed: set[int]) -> list[dict[str, Any]]:
    faces = sorted(set(blend.faces) - claimed)
    corners = [f for f in faces if solid.faces[f].kind == "sphere"]
    count = len(faces) - len(corners)
    if not count:
        return []
    entry: dict[str, Any] = {
        "id": blend.id,
        "kind": blend.kind,
        "count": count,
        "faces": faces,
        "sure": "certain",
        "chains": len(_chains(solid, faces)),
    }
    if blend.kind == "fillet":
        return [entry | {"radius_mm": _n(blend.size), "convex": blend.convex}]
    partial = [f for f in faces if any(solid.edges[e].dihedral == "concave" for e in solid.faces[f].edges)]
    entry |= {"legs_mm": [_n(blend.size), _n(blend.size_b)], "angle_deg": _n(blend.angle, 6)}
    if partial:
        lengths = [max(solid.edges[e].length for e in solid.faces[f].edges) for f in partial]
        entry |= {"partial": len(partial), "partial_lengths_mm": [_n(x, 6) for x in lengths]}
    return [entry]


def _chains(solid: Solid, faces: list[int]) -> list[set[int]]:
    """Runs of faces that touch one another."""
    left, out = set(faces), []
    while left:
        run, stack = set(), [min(left)]
        while stack:
            f = stack.pop()
            if f in left:
                left.discard(f)
                run.add(f)
                stack += [k for _, k in solid.neighbours[f] if k in left]
        out.append(run)
    return out


def _shaft_entries(found: Feature, claimed: set[int]) -> list[dict[str, Any]]:
    """Round bosses, equal ones that stand in one plane together, and turned diameters."""
    groups: dict[tuple[Any, ...], list[Shaft]] = {}
    for shaft in found.shafts:
        if set(shaft.faces) <= claimed:
            continue
        key: tuple[Any, ...] = (shaft.id,)
        if shaft.boss:
            key = (
                size_key(shaft.diameter),
                size_key(shaft.height),
                *np.round(shaft.axis, 5),
                round(float(shaft.base @ shaft.axis), 2),
            )
        groups.setdefault(key, []).append(shaft)
    out = []
    for shafts in groups.values():
        first = shafts[0]
        places = np.array([s.base for s in shafts])
        out.append(
            {
                "id": first.id,
                "kind": "boss" if first.boss else "shaft",
                "diameter_mm": _n(first.diameter),
                "height_mm": _n(first.height),
                "count": len(shafts),
                "axis": _vec(first.axis),
                "positions_mm": [_vec(p, 6) for p in places],
                "pattern": _pattern(find_pattern(places, first.axis)),
                "faces": sorted(f for s in shafts for f in s.faces),
                "sure": "certain",
            }
        )
    return out


def _form_entry(form: Form) -> dict[str, Any]:
    first = form.first
    sizes = {
        k: _vec(v) if isinstance(v, np.ndarray) else _n(v) if isinstance(v, float) else v for k, v in first.data.items()
    }
    entry = {
        "id": form.id,
        "kind": first.kind,
        "count": len(form.pieces),
        "axis": _vec(first.axis),
        "positions_mm": [_vec(p.place, 6) for p in form.pieces],
        "pattern": _pattern(form.pattern),
        "faces": sorted({f for p in form.pieces for f in p.faces}),
        "sure": first.sure,
    }
    return entry | sizes


def solid_entry(solid: Solid, found: Feature, density: float | None) -> dict[str, Any]:
    """Mass properties of one solid; mass and inertia are null without a density (g/cm³)."""
    gram = None if density is None else density / 1000.0
    m = solid.mass
    turned = turned_profile(solid)
    inertia = None if gram is None else [[_n(x * gram, 6) for x in row] for row in np.asarray(m.moments)]
    return {
        "name": solid.name,
        "valid": solid.valid,
        "faces": len(solid.faces),
        "edges": len(solid.edges),
        "bbox_mm": [_vec(solid.box[0]), _vec(solid.box[1])],
        "volume_mm3": m.volume,
        "area_mm2": m.area,
        "mass_g": None if gram is None else m.volume * gram,
        "centroid_mm": _vec(m.centre),
        "inertia_g_mm2": inertia,
        "faces_unowned": len(solid.faces) - len(found.owner),
        "levels": [
            {"direction": _vec(n), "levels_mm": [_n(x, 6) for x in found_levels]} for n, found_levels in levels(solid)
        ],
        "symmetry": [
            {
                "normal": _vec(p["normal"]),
                "offset_mm": _n(p["offset_mm"], 6),
                "complete": not p["broken_by"],
                "share": round(p["share"], 6),
                "broken_by": _breakers(found, p["broken_by"]),
                "broken_faces": p["broken_by"],
            }
            for p in symmetry_planes(solid)
        ],
        "turned": None
        if turned is None
        else {
            "axis": _vec(turned["axis"]),
            "point_mm": _vec(turned["point"]),
            "profile": [
                {k: _vec(v, 6) if isinstance(v, list) else _n(v, 6) for k, v in step.items()}
                for step in turned["profile"]
            ],
        },
    }


def _breakers(found: Feature, faces: list[int]) -> list[str]:
    """Features that break a symmetry; the flat faces that they lie in only where nothing else does."""
    names = {found.owner[f] for f in faces}
    return sorted(names - {"flat"} or names)


def in_frame(point: Any, frame: tuple[Any, Any, Any] | None) -> list[float]:
    """A point of the file's axes expressed in a frame (origin, x direction, y direction)."""
    if frame is None:
        return _vec(point)
    origin, x, y = (np.asarray(v, dtype=float) for v in frame)
    x = x / np.linalg.norm(x)
    y = y - x * float(y @ x)
    y = y / np.linalg.norm(y)
    rel = np.asarray(point, dtype=float) - origin
    return _vec([rel @ x, rel @ y, rel @ np.cross(x, y)])


def measure_model(
    model: Model, density: float | None = None, frame: tuple[Any, Any, Any] | None = None
) -> dict[str, Any]:
    """The whole of `canonis measure`: file, solids, features."""
    solids, features = [], []
    for solid in model.solids:
        found = recognise(solid)
        entry = solid_entry(solid, found, density)
        entry["centroid_mm"] = in_frame(solid.mass.centre, frame)
        colours = face_colours(solid, model.painted, 25.4 if model.unit is Unit.INCH else 1.0)
        if colours:
            entry["colours"] = colours
        solids.append(entry)
        for feature in feature_list(solid, found):
            tag = {"solid": solid.index} if len(model.solids) > 1 else {}
            features.append(feature | tag)
    return {
        "schema": "canonis.measure/1",
        "file": {"name": model.name, "sha256": model.sha256, "unit": str(model.unit), "step_schema": model.step_schema},
        "solids": solids,
        "features": features,
    }
