"""What a hole probably is for: a tapped hole by its drill, a centre drill, the odd member of a ring."""

import math
from typing import Any

import numpy as np

from canonis.core.callout import tapped_as
from canonis.core.features.graph import plane_axes
from canonis.core.features.model import Feature, Hole, HoleGroup
from canonis.core.features.stacks import same_axis
from canonis.core.solid import Solid
from canonis.core.tolerances import parallel

__all__ = ["hints"]


def _centre_drill(solid: Solid, hole: Hole) -> bool:
    """A small drilled hole with a 60° seat in the end of a shaft, on its axis (ISO 866, ISO 2540)."""
    sinks = [s for s in hole.seats if s.kind == "countersink" and abs(s.angle - 60) < 0.5]
    if hole.through or not sinks or hole.bottom != "cone":
        return False
    for f in solid.faces:
        if (
            f.kind == "cylinder"
            and not f.inner
            and f.radius > hole.diameter
            and same_axis(hole.start, hole.axis, f.origin, f.axis)
        ):
            return True
    return False


def _ring_mates(found: Feature, group: HoleGroup) -> list[dict[str, Any]]:
    """Other hole features that stand on the free places of this group's pitch circle."""
    pattern = group.pattern
    if pattern is None or pattern.kind != "circular" or not pattern.data["missing"]:
        return []
    centre, radius = np.array(pattern.data["centre_mm"]), pattern.data["diameter_mm"] / 2
    axis, slots = group.first.axis, len(group.holes) + pattern.data["missing"]
    u, v = plane_axes(axis)

    def angle(hole: Hole) -> float:
        rel = hole.start - centre
        return math.degrees(math.atan2(float(rel @ v), float(rel @ u)))

    out = []
    for other in found.holes:
        if other is group or not parallel(other.first.axis, axis):
            continue
        on = 0
        for h in other.holes:
            rel = h.start - centre
            flat = rel - axis * float(rel @ axis)
            step = (angle(h) - angle(group.first)) % (360 / slots)
            off = min(step, 360 / slots - step)
            on += abs(float(np.linalg.norm(flat)) - radius) < 0.01 and math.radians(off) * radius < 0.02
        if on:
            out.append({"feature": other.id, "count": on})
    return out


def _mirror(group: HoleGroup) -> dict[str, Any] | None:
    """The plane across which members in no other pattern mirror one another: its normal and its offset, mm."""
    if group.pattern is not None or len(group.holes) < 3:
        return None
    at = np.array([h.start for h in group.holes])
    for normal in plane_axes(group.first.axis):
        levels = at @ normal
        offset = (float(levels.max()) + float(levels.min())) / 2
        image = at - 2 * np.outer(levels - offset, normal)
        if all(float(np.linalg.norm(at - p, axis=1).min()) < 0.01 for p in image):
            return {"normal": [float(c) + 0.0 for c in normal], "offset_mm": round(offset, 6)}
    return None


def hints(solid: Solid, found: Feature, group: HoleGroup) -> dict[str, Any]:
    """Extra keys of a hole's entry: `tapped_guess`, `centre_drill`, `differing`, `mirrored`; absent where nothing is to be said."""
    out: dict[str, Any] = {}
    hole = group.first
    guess = tapped_as(hole.diameter) if not any(s.kind == "counterbore" for s in hole.seats) else []
    if guess:
        out["tapped_guess"] = guess
    if _centre_drill(solid, hole):
        out["centre_drill"] = True
    mirror = _mirror(group)
    if mirror:
        out["mirrored"] = mirror
    mates = _ring_mates(found, group)
    if mates:
        out["differing"] = mates
    return out
