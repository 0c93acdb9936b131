"""Holes with seats at either end."""

import math
from collections.abc import Callable
from typing import Any

import numpy as np

from canonis.core.faults import BadInput
from canonis.core.recipe.bench import FAR, Bench, Effect
from canonis.core.solid import Vec, face_of, line_edge, piercing, turned, unit_vector, wire_of
from canonis.core.tolerances import NOTHING, SAME

__all__ = ["hole"]


def _uphill(exits: Callable[[Vec, Vec], list[float]], start: Vec, axis: Vec, side: Vec, radius: float) -> float:
    """How far the material stands above the start point beside it, mm: on a slope or a round face the drill must
    clear that too. What is higher than the mouth is wide is another wall, and stays."""
    across = np.cross(axis, side)
    most = 0.0
    for k in range(12):
        turn = math.radians(30 * k)
        at = start + (side * math.cos(turn) + across * math.sin(turn)) * radius * 0.999
        met = [d for d in exits(at + axis * 1e-4, axis) if d > SAME]
        if len(met) % 2 == 1 and met[0] < 2 * radius:
            most = max(most, met[0])
    return most * 1.05 + 0.01 if most else 0.0


def _hole_outline(
    bench: Bench, step: dict[str, Any], depth: float, closed: bool, above: float
) -> list[tuple[float, float]]:
    """(radius, distance below the start) points of a hole's half section, seats included, from `above` the start."""
    r = bench.length(step["diameter"]) / 2
    points: list[tuple[float, float]] = []
    at = 0.0
    bore, sink = step.get("counterbore"), step.get("countersink")
    if sink:
        rs, half = bench.length(sink["diameter"]) / 2, math.radians(bench.number(sink["angle"]) / 2)
        floor = bench.length(bore["diameter"]) / 2 if bore else r
        at = (rs - floor) / math.tan(half)
        points += [(rs, 0.0), (floor, at)]
    if bore:
        rb, db = bench.length(bore["diameter"]) / 2, bench.length(bore["depth"])
        points += [(rb, at), (rb, db), (r, db)]
    if not points:
        points.append((r, 0.0))
    far_bore, far_sink = step.get("counterbore-far"), step.get("countersink-far")
    if not closed and (far_bore or far_sink):
        if far_sink:
            rs, half = bench.length(far_sink["diameter"]) / 2, math.radians(bench.number(far_sink["angle"]) / 2)
            points += [(r, depth - (rs - r) / math.tan(half)), (rs, depth), (0.0, depth)]
        else:
            assert far_bore is not None
            rb, db = bench.length(far_bore["diameter"]) / 2, bench.length(far_bore["depth"])
            points += [(r, depth - db), (rb, depth - db), (rb, depth + 1.0), (0.0, depth + 1.0)]
    else:
        points.append((r, depth))
        angle = bench.number(step.get("point", 0)) if closed else 0.0
        tip = r / math.tan(math.radians(angle / 2)) if angle else 0.0
        points.append((0.0, depth + tip))
    points.append((0.0, -above))
    if above:
        points.insert(0, (points[0][0], -above))
    clean = [points[0]]
    for p in points[1:]:
        if math.dist(p, clean[-1]) > NOTHING:
            clean.append(p)
    return clean


def hole(bench: Bench, step: dict[str, Any]) -> list[Effect]:
    """Holes at points of the start face; `axis` points out of the material there."""
    axis = bench.vector(step["axis"])
    side = unit_vector(np.cross(axis, [1.0, 0, 0] if abs(axis[0]) < 0.9 else [0, 1.0, 0]))
    out = []
    if bench.shape is None:
        raise BadInput("there is nothing to drill yet")
    if bench.length(step["diameter"]) <= 0:
        raise BadInput("the diameter must be positive")
    exits = piercing(bench.shape)
    for data in step["at"]:
        start = bench.point(data)
        through = bool(step.get("through"))
        if through:
            met = [d for d in exits(start - axis * 1e-4, -axis) if d > SAME]
            depth = (met[-1] if met else FAR) + (1e-4 if met else 0.0)
            has_far = "counterbore-far" in step or "countersink-far" in step
            if not has_far:
                # Where the axis leaves askew, the hole goes on until all of it is out.
                end, radius = start - axis * depth, bench.length(step["diameter"]) / 2
                depth += 1.0 + (_uphill(exits, end, -axis, side, radius) if met else 0.0)
        else:
            depth = bench.length(step["depth"])
        seats = [step[k]["diameter"] for k in ("counterbore", "countersink") if step.get(k)]
        mouth = max(bench.length(d) for d in [step["diameter"], *seats]) / 2
        outline = _hole_outline(bench, step, depth, not through, _uphill(exits, start, axis, side, mouth))
        corners = [start + side * r - axis * z for r, z in outline]
        wire = wire_of([line_edge(a, b) for a, b in zip(corners, [*corners[1:], corners[0]], strict=True)])
        out.append(("cut", turned(face_of(wire, []), start, axis, 360)))
    return out
