"""The front view: the longest, most telling side in its natural position, with the reason in words."""

import math
from dataclasses import dataclass

import numpy as np

from canonis.core.features import Feature, axis_groups
from canonis.core.solid import Face, Solid, Vec
from canonis.core.tolerances import ALIGNED, NOISE, SAME, on_axis, parallel, same_way, square
from canonis.core.view import ViewFrame, front_frame

__all__ = ["FRONTS", "Front", "choose_front", "turned_axis"]

_AXES = {"-y": (0, -1, 0), "+y": (0, 1, 0), "+z": (0, 0, 1), "-z": (0, 0, -1), "+x": (1, 0, 0), "-x": (-1, 0, 0)}
#: The directions a front view may look from, by name.
FRONTS = tuple(_AXES)


@dataclass(frozen=True, eq=False)
class Front:
    """A chosen front view: the side it looks from, its frame, and the reason."""

    name: str
    frame: ViewFrame
    reason: str


def turned_axis(solid: Solid) -> Vec | None:
    """The axis of a turned part: more than 60 % of its surface turns about one line, else None."""
    turning = [
        f
        for f in solid.faces
        if f.kind in ("cylinder", "cone", "torus") and (f.sweep >= 1.9 * math.pi or f.kind == "torus")
    ]
    groups = [(point, axis, sum(f.area for f in members)) for point, axis, members in axis_groups(turning)]
    if not groups:
        return None
    point, axis, area = max(groups, key=lambda g: g[2])

    def away(p: Vec) -> float:
        rel = p - point
        return float(np.linalg.norm(rel - axis * float(rel @ axis)))

    def about(face: Face) -> bool:
        """Whether a face across the axis is bounded by a circle about it: slots and holes may run out in it."""
        rims = (solid.edges[e] for e in face.edges)
        return any(e.kind == "circle" and away(e.centre) < SAME for e in rims)

    ends = sum(f.area for f in solid.faces if f.kind == "plane" and parallel(f.axis, axis) and about(f))
    # What is drilled beside the axis says nothing of how the part was turned.
    drilled = sum(f.area for f in solid.faces if f.kind in ("cylinder", "cone") and f.inner and away(f.origin) > SAME)
    total = sum(f.area for f in solid.faces) - drilled
    return axis if area + ends > 0.6 * total and area > 0.25 * total and on_axis(axis, ALIGNED) else None


def _telling(solid: Solid, found: Feature, toward: Vec) -> float:
    """How much of the part's shape shows true along a direction."""
    rings = set()
    slopes = 0.0
    for edge in solid.edges:
        if edge.kind == "circle" and parallel(edge.axis, toward) and edge.dihedral != "seam":
            rings.add((round(edge.radius, 2), *np.round(edge.centre - toward * float(edge.centre @ toward), 2)))
        elif edge.kind == "line" and square(edge.axis, toward) and float(np.abs(edge.axis).max()) < 0.999:
            slopes += 0.5
    opening = sum(
        0.25 for g in found.holes for h in g.holes if float(h.axis @ toward) > 0.999 and (not h.through or h.seats)
    )
    # Of two sides that tell as much the one is shown that has bosses on it, or pockets in it.
    facing = sum(f.kind == "plane" and same_way(f.axis, toward) for f in solid.faces)
    return len(rings) + slopes + opening + 1e-3 * facing


def _frame(name: str, solid: Solid, turned: Vec | None) -> ViewFrame:
    toward = np.array(_AXES[name], dtype=float)
    up = np.array([0.0, 0, 1]) if abs(toward[2]) < 0.5 else np.array([0.0, 1, 0])
    right = np.cross(up, toward)
    size = solid.size
    if turned is not None and abs(float(turned @ toward)) < 0.1:
        right = turned * (1.0 if turned.sum() > 0 else -1.0)
        up = np.cross(toward, right)
    elif abs(toward[2]) > 0.5 and float(size @ np.abs(right)) < float(size @ np.abs(up)) * 0.98:
        # A flat part may be turned on its face: lay its longest side level.
        right, up = up, -right
    return front_frame(right, up)


def choose_front(solid: Solid, found: Feature, wanted: str | None = None) -> Front:
    """Choose the front view, or build the one a person asked for (`+x`, `-y`, …)."""
    turned = turned_axis(solid)
    own = _best_front(solid, found, turned)
    if wanted in _AXES and wanted != own.name:
        return Front(wanted, _frame(wanted, solid, turned), f"front view from {wanted.upper()}, as chosen")
    return own


def _best_front(solid: Solid, found: Feature, turned: Vec | None) -> Front:
    size = solid.size
    areas = {n: float(np.prod(size[np.abs(np.array(d)) < 0.5])) for n, d in _AXES.items()}
    best, best_score, facts = "-y", -1.0, (0.0, 0.0)
    for name, direction in _AXES.items():
        toward = np.array(direction, dtype=float)
        if turned is not None and abs(float(turned @ toward)) > 0.1:
            continue
        told = _telling(solid, found, toward)
        share = areas[name] / max(areas.values())
        score = told / 4 + 4 * share
        lying = float(size[2]) < 0.45 * float(min(size[0], size[1]))
        if abs(toward[2]) > 0.5 and not lying:
            # A part stands in its natural position unless it is flat.
            score *= 0.5
        if score > best_score + NOISE:
            best, best_score, facts = name, score, (told, share)
    if turned is not None:
        return Front(best, _frame(best, solid, turned), "turned part: its axis lies level in the front view")
    reason = f"front view from {best.upper()}: "
    reason += "the largest outline" if facts[1] > 0.98 else "the most telling outline"
    rings = int(facts[0])
    if rings:
        reason += f", {rings} round or sloped edges seen true" if rings > 1 else ", one round edge seen true"
    return Front(best, _frame(best, solid, turned), reason)
