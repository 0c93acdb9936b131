"""Measurements and features as the JSON of `canonis measure`."""

from typing import Any

import numpy as np

from canonis.core.features.model import Feature, Hole, Seat
from canonis.core.features.recognise import recognise
from canonis.core.solid.model import Solid
from canonis.core.solid.reader import Model

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
        "axis": _vec(hole.axis), "diameter_mm": _n(hole.diameter), "through": hole.through,
        "depth_mm": None if hole.depth is None else _n(hole.depth), "bottom": hole.bottom,
        "counterbore": None, "countersink": None,
    }  # fmt: skip
    if hole.point_angle is not None:
        entry["point_angle_deg"] = _n(hole.point_angle, 6)
    return entry | _seat_keys(hole.seats, "") | _seat_keys(hole.far_seats, "_far")


def feature_list(solid: Solid, found: Feature) -> list[dict[str, Any]]:
    """The features of one solid as plain data."""
    out: list[dict[str, Any]] = []
    for group in found.holes:
        out.append(
            {"id": group.id, "kind": "hole", "count": len(group.holes)} | _hole_entry(group.first)
            | {"positions_mm": [_vec(h.start, 6) for h in group.holes],
               "pattern": None if group.pattern is None else {"kind": group.pattern.kind, **group.pattern.data},
               "faces": sorted(f for h in group.holes for f in h.faces)}
        )  # fmt: skip
        for k, (width, depth, diameter) in enumerate(group.first.grooves):
            out.append(
                {"id": f"{group.id}.G{k + 1}", "kind": "groove", "on": "bore", "width_mm": _n(width),
                 "depth_mm": _n(depth), "diameter_mm": _n(diameter), "count": len(group.holes)}
            )  # fmt: skip
    for slot in found.slots:
        out.append(
            {"id": slot.id, "kind": "slot", "width_mm": _n(slot.width), "centres_mm": _n(slot.centres),
             "depth_mm": None if slot.depth is None else _n(slot.depth), "through": slot.through, "count": slot.count,
             "axis": _vec(slot.axis), "positions_mm": [_vec(e, 6) for e in slot.ends], "faces": sorted(slot.faces)}
        )  # fmt: skip
    for blend in found.blends:
        entry: dict[str, Any] = {"id": blend.id, "kind": blend.kind, "count": blend.count, "faces": sorted(blend.faces)}
        if blend.kind == "fillet":
            entry |= {"radius_mm": _n(blend.size), "convex": blend.convex}
        else:
            entry |= {"legs_mm": [_n(blend.size), _n(blend.size_b)], "angle_deg": _n(blend.angle, 6)}
        out.append(entry)
    for shaft in found.shafts:
        out.append(
            {"id": shaft.id, "kind": "boss" if shaft.boss else "shaft", "diameter_mm": _n(shaft.diameter),
             "height_mm": _n(shaft.height), "count": 1, "axis": _vec(shaft.axis), "faces": sorted(shaft.faces)}
        )  # fmt: skip
    if found.flat:
        out.append({"id": "flat", "kind": "flat", "count": len(found.flat), "faces": sorted(found.flat)})
    if found.free:
        out.append({"id": "free", "kind": "free-form", "count": len(found.free), "faces": sorted(found.free)})
    return out


def solid_entry(solid: Solid, found: Feature, density: float | None) -> dict[str, Any]:
    """Mass properties of one solid; mass and inertia are null without a density (g/cm³)."""
    gram = None if density is None else density / 1000.0
    m = solid.mass
    inertia = None if gram is None else [[_n(x * gram, 6) for x in row] for row in np.asarray(m.moments)]
    return {
        "name": solid.name, "valid": solid.valid, "faces": len(solid.faces), "edges": len(solid.edges),
        "bbox_mm": [_vec(solid.box[0]), _vec(solid.box[1])], "volume_mm3": m.volume, "area_mm2": m.area,
        "mass_g": None if gram is None else m.volume * gram, "centroid_mm": _vec(m.centre), "inertia_g_mm2": inertia,
        "faces_unowned": len(solid.faces) - len(found.owner),
    }  # fmt: skip


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
        solids.append(entry)
        for feature in feature_list(solid, found):
            tag = {"solid": solid.index} if len(model.solids) > 1 else {}
            features.append(feature | tag)
    return {
        "schema": "canonis.measure/1",
        "file": {
            "name": model.name, "sha256": model.sha256, "unit": str(model.unit), "step_schema": model.step_schema
        },
        "solids": solids,
        "features": features,
    }  # fmt: skip
