"""Modelled threads: faces between helical edges about one axis."""

import math
from dataclasses import dataclass
from typing import Any

import numpy as np

from canonis.core.features.graph import plane_axes
from canonis.core.features.model import Piece
from canonis.core.features.registry import Claims, finds, form
from canonis.core.features.stacks import axis_groups
from canonis.core.solid import Solid, Vec, edge_points, face_normals
from canonis.core.tolerances import NOISE, SAME, parallel, same, same_place

__all__ = ["find_helices"]

form("thread", "T", alone=True)

#: A helical edge must climb at least this share of a turn to be trusted.
_LEAST_TURN = 0.2


@dataclass(frozen=True)
class _Helix:
    edge: int
    radius: float
    #: mm a turn, positive for a right hand.
    lead: float
    #: Height at angle zero, mm, modulo the lead.
    phase: float
    low: float
    high: float


def _fit(solid: Solid, index: int, base: Vec, axis: Vec) -> _Helix | None:
    """The helix about an axis that an edge follows, or None."""
    # Densely enough to follow an edge that winds many times.
    first = solid.edges[index].start - base
    reach = float(np.linalg.norm(first - axis * float(first @ axis)))
    turns = solid.edges[index].length / max(2 * math.pi * reach, 1e-6)
    points = edge_points(solid, index, 25 + min(2000, math.ceil(24 * turns)))
    u, _ = plane_axes(axis)
    v = np.cross(axis, u)
    rel = points - base
    height = rel @ axis
    x, y = rel @ u, rel @ v
    radius = np.hypot(x, y)
    mean = float(radius.mean())
    if mean < NOISE or float(np.ptp(radius)) > 2e-3 * mean + SAME:
        return None
    angle = np.unwrap(np.arctan2(y, x))
    turn = float(angle[-1] - angle[0])
    if abs(turn) < _LEAST_TURN * 2 * math.pi:
        return None
    slope, start = np.polyfit(angle, height, 1)
    if abs(slope) < NOISE or float(np.abs(height - (slope * angle + start)).max()) > 2e-3 * mean + SAME:
        return None
    lead = float(slope) * 2 * math.pi
    return _Helix(index, mean, lead, float(start) % abs(lead), float(height.min()), float(height.max()))


def _axes(solid: Solid) -> list[tuple[Vec, Vec]]:
    """Axes of revolution of the solid, and for a bare coil the direction of its length through its centre."""
    found = [(b, a) for b, a, _ in axis_groups([f for f in solid.faces if f.kind in ("cylinder", "cone")])]
    found += [(e.centre, e.axis) for e in solid.edges if e.kind == "circle" and e.radius > 0.2 * min(solid.size)]
    for k in range(3):
        d = np.eye(3)[k]
        found.append(((solid.box[0] + solid.box[1]) / 2, d))
    out: list[tuple[Vec, Vec]] = []
    for b, a in found:
        flat = b - a * float(b @ a)
        if not any(parallel(a, c) and same_place(flat, p - a * float(p @ a)) for p, c in out):
            out.append((b, a))
    return out[:40]


def _distinct(phases: list[float], lead: float) -> int:
    """Number of different heights modulo the lead."""
    seen: list[float] = []
    tol = 0.02 * lead
    for p in phases:
        if not any(min(abs(p - q), lead - abs(p - q)) < tol for q in seen):
            seen.append(p)
    return len(seen)


def find_helices(solid: Solid) -> list[Piece]:
    """Every modelled thread with pitch, diameters, length, hand and starts."""
    loose = {e for f in solid.faces if f.kind == "free" for e in f.edges if solid.edges[e].kind == "free"}
    if not loose:
        return []
    out: list[Piece] = []
    left = set(loose)
    for base, axis in _axes(solid):
        if not left:
            break
        base = base - axis * float(base @ axis)
        fits = [h for h in (_fit(solid, e, base, axis) for e in sorted(left)) if h]
        for internal in (False, True):
            piece = _thread(solid, base, axis, fits, internal)
            if piece:
                out.append(piece)
                left -= {e for f in piece.owns for e in solid.faces[f].edges}
    return out


def _flanks(
    solid: Solid, base: Vec, axis: Vec, by_edge: dict[int, _Helix], internal: bool
) -> tuple[list[int], set[int]]:
    """The free-form faces along helices that look to the axis, or away from it, and their helical edges."""
    faces: list[int] = []
    mine: set[int] = set()
    for f in solid.faces:
        helical = [e for e in f.edges if e in by_edge]
        if f.kind != "free" or not helical:
            continue
        points, normals = face_normals(solid, f.index, 3)
        rel = points - base
        out_way = rel - np.outer(rel @ axis, axis)
        facing_out = float((normals * out_way).sum())
        radii = {round(by_edge[e].radius, 3) for e in helical}
        if len(radii) < 2 and not faces and len(helical) < 2:
            continue
        if (facing_out < 0) is internal:
            faces.append(f.index)
            mine |= set(helical)
    return faces, mine


def _thread(solid: Solid, base: Vec, axis: Vec, fits: list[_Helix], internal: bool) -> Piece | None:
    by_edge = {h.edge: h for h in fits}
    faces, mine = _flanks(solid, base, axis, by_edge, internal)
    helices = [by_edge[e] for e in mine]
    if len(helices) < 2:
        return None
    lead = float(np.median([abs(h.lead) for h in helices]))
    helices = [h for h in helices if abs(abs(h.lead) - lead) < 0.02 * lead]
    # Short remnants where the thread runs into an end say nothing of its diameters.
    longest = max(h.high - h.low for h in helices)
    helices = [h for h in helices if _length_at(helices, h.radius) > 0.3 * longest]
    crest, root = max(h.radius for h in helices), min(h.radius for h in helices)
    if crest - root < SAME or len(helices) < 2:
        return None
    at_crest = [h for h in helices if abs(h.radius - (root if internal else crest)) < 0.02 * (crest - root) + SAME]
    phases = _distinct([h.phase for h in at_crest], lead)
    edges_at_crest = {h.edge for h in at_crest}
    # A crest with a width is bounded by two helical edges a start.
    flat = any(len(edges_at_crest & set(f.edges)) >= 2 and _at_one_radius(by_edge, f.edges) for f in solid.faces)
    starts = max(1, phases // 2 if flat else phases)
    low, high = min(h.low for h in helices), max(h.high for h in helices)
    right = sum(1 if h.lead > 0 else -1 for h in helices) > 0
    ridge = [f.index for f in solid.faces if _at_one_radius(by_edge, f.edges) and len(set(f.edges) & mine) >= 2]
    # The strip at the major diameter is the thread's; that at the minor one is the bore or the core itself.
    strips = [
        f for f in ridge if all(same(by_edge[e].radius, crest, 2 * SAME) for e in solid.faces[f].edges if e in by_edge)
    ]
    winding = {*faces, *strips}
    # The small flat ends where the winding stops.
    tips = {
        k
        for f in winding
        for _, k in solid.neighbours[f]
        if solid.faces[k].kind == "plane"
        and solid.faces[k].area < 2 * (crest - root) * lead
        and abs(float(solid.faces[k].axis @ axis)) < 0.5
    }
    own = tuple(sorted(winding | tips))
    data: dict[str, Any] = {
        "internal": internal,
        "pitch_mm": lead / starts,
        "major_mm": 2 * crest,
        "minor_mm": 2 * root,
        "length_mm": high - low,
        "hand": "right" if right else "left",
        "starts": starts,
    }
    return Piece("thread", data, axis, base + axis * low, own, own, "likely")


def _length_at(helices: list[_Helix], radius: float) -> float:
    """Climb of all helical edges at one radius together, mm."""
    return sum(h.high - h.low for h in helices if same(h.radius, radius, 2 * SAME))


def _at_one_radius(by_edge: dict[int, _Helix], edges: tuple[int, ...]) -> bool:
    radii = [by_edge[e].radius for e in edges if e in by_edge]
    return len(radii) >= 2 and max(radii) - min(radii) < SAME


@finds(10)
def _threads(c: Claims) -> list[Piece]:
    found = find_helices(c.solid)
    c.threads.update(f for p in found for f in p.owns)
    return found
