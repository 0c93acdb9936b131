"""A view of a solid as clean lines: coincident ones counted once, visible before hidden."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Literal

import numpy as np
from shapely import STRtree
from shapely import points as shapely_points
from shapely.geometry import LineString

from canonis.core.solid.hidden_lines import RawCurve, hidden_lines
from canonis.core.solid.model import Solid, Vec
from canonis.core.view.frames import ViewFrame

__all__ = ["Engine", "Line", "Projection", "project"]

#: Lines that fall on each other within this distance count once (COMMANDS.md), mm.
COINCIDENT = 0.02
_CLASSES = ("visible", "hidden", "smooth")


@dataclass(frozen=True, eq=False)
class Line:
    """A drawn line in the plane of a view at 1:1, mm; arcs run from `a0` to `a1`, radians, anticlockwise."""

    kind: Literal["line", "arc", "curve"]
    points: Vec
    centre: Vec
    radius: float = 0.0
    a0: float = 0.0
    a1: float = 0.0

    @property
    def length(self) -> float:
        """Length at 1:1, mm."""
        if self.kind == "arc":
            return self.radius * (self.a1 - self.a0)
        return float(np.linalg.norm(np.diff(self.points, axis=0), axis=1).sum())

    def polyline(self, deflection: float) -> Vec:
        """Points along the line, within `deflection` mm of the true curve."""
        if self.kind != "arc":
            return self.points
        step = 2 * math.acos(max(-1.0, min(1.0, 1 - deflection / max(self.radius, deflection))))
        n = max(3, math.ceil((self.a1 - self.a0) / max(step, 1e-3)) + 1)
        t = np.linspace(self.a0, self.a1, n)
        return self.centre + self.radius * np.c_[np.cos(t), np.sin(t)]


@dataclass(frozen=True, eq=False)
class Projection:
    """All lines of one view by class, and the box of the visible ones (x0, y0, x1, y1), mm at 1:1."""

    visible: tuple[Line, ...]
    hidden: tuple[Line, ...]
    smooth: tuple[Line, ...]
    box: tuple[float, float, float, float]

    @cached_property
    def arcs(self) -> tuple[Vec, Vec]:
        """Centres (n×2) and radii (n) of the visible arcs."""
        arcs = [line for line in self.visible if line.kind == "arc"]
        return np.array([a.centre for a in arcs]).reshape(-1, 2), np.array([a.radius for a in arcs])

    @cached_property
    def outline_points(self) -> Vec:
        """Points (n×2) of visible lines where an extension line may start."""
        rows = [
            line.polyline(0.01) if line.kind == "arc" else line.points if line.kind == "curve" else line.points[[0, -1]]
            for line in self.visible
        ]
        return np.vstack(rows) if rows else np.zeros((0, 2))

    def circle_at(self, centre: Vec, radii: list[float]) -> bool:
        """Whether a visible arc has this centre and one of these radii (mm at 1:1, within 0.02)."""
        centres, sizes = self.arcs
        near = np.abs(centres - centre).max(axis=1) < COINCIDENT if len(centres) else np.zeros(0, dtype=bool)
        return bool(any(np.any(np.abs(sizes[near] - r) < COINCIDENT) for r in radii))

    def length(self, line_class: str) -> float:
        """Summed length of a class, mm at 1:1."""
        return sum(line.length for line in getattr(self, line_class))


#: A hidden-line engine: kernel shape, right, toward, whether hidden lines are wanted.
Engine = Callable[[Any, Vec, Vec, bool], list[RawCurve]]


def _minus(intervals: list[tuple[float, float]], taken: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """Parts of the intervals (merged) that are not in `taken` (merged)."""
    out = []
    for lo, hi in intervals:
        at = lo
        for a, b in taken:
            if b <= at or a >= hi:
                continue
            if a > at:
                out.append((at, a))
            at = max(at, b)
        if at < hi:
            out.append((at, hi))
    return out


def _merged(intervals: list[tuple[float, float]], join: float) -> list[tuple[float, float]]:
    out: list[tuple[float, float]] = []
    for lo, hi in sorted(intervals):
        if out and lo <= out[-1][1] + join:
            out[-1] = (out[-1][0], max(out[-1][1], hi))
        else:
            out.append((lo, hi))
    return out


def _claim(by_class: dict[str, list[tuple[float, float]]], join: float) -> dict[str, list[tuple[float, float]]]:
    """Give every stretch to the first class that has it, in the line order of ISO 128."""
    taken: list[tuple[float, float]] = []
    result = {}
    for name in _CLASSES:
        mine = _minus(_merged(by_class.get(name, []), join), taken)
        result[name] = [(a, b) for a, b in mine if b - a > join]
        taken = _merged(taken + mine, join)
    return result


def _straight(raw: list[RawCurve]) -> dict[str, list[Line]]:
    rows = []
    for curve in raw:
        p, q = curve.points[0], curve.points[-1]
        d = q - p
        length = float(np.hypot(*d))
        if length < 1e-6:
            continue
        d = d / length
        if d[0] < -1e-9 or (abs(d[0]) <= 1e-9 and d[1] < 0):
            d = -d
        angle = math.atan2(d[1], d[0])
        rows.append((angle, float(p[0] * d[1] - p[1] * d[0]), d, p, q, curve.line_class))
    rows.sort(key=lambda r: (round(r[0], 5), r[1]))
    out: dict[str, list[Line]] = {name: [] for name in _CLASSES}
    k = 0
    while k < len(rows):
        angle, offset, d, p0 = rows[k][:4]
        by_class: dict[str, list[tuple[float, float]]] = {}
        while k < len(rows) and abs(rows[k][0] - angle) < 2e-5 and abs(rows[k][1] - offset) < COINCIDENT:
            t = sorted((float((rows[k][3] - p0) @ d), float((rows[k][4] - p0) @ d)))
            by_class.setdefault(rows[k][5], []).append((t[0], t[1]))
            k += 1
        for name, intervals in _claim(by_class, 1e-4).items():
            out[name] += [Line("line", np.array([p0 + d * a, p0 + d * b]), np.zeros(2)) for a, b in intervals]
    return out


def _arcs(raw: list[RawCurve]) -> dict[str, list[Line]]:
    out: dict[str, list[Line]] = {name: [] for name in _CLASSES}
    groups: list[tuple[Vec, float, dict[str, list[tuple[float, float]]]]] = []
    index: dict[tuple[int, int, int], list[int]] = {}
    for curve in raw:
        key = (round(curve.centre[0] / 0.05), round(curve.centre[1] / 0.05), round(curve.radius / 0.05))
        found = None
        for g in index.get(key, []):
            if np.abs(groups[g][0] - curve.centre).max() < COINCIDENT / 2 and abs(groups[g][1] - curve.radius) < 0.01:
                found = g
        if found is None:
            found = len(groups)
            groups.append((curve.centre, curve.radius, {}))
            index.setdefault(key, []).append(found)
        turn = 2 * math.pi
        lo = curve.a0 % turn
        hi = lo + min(turn, curve.a1 - curve.a0)
        pieces = [(lo, min(hi, turn))] + ([(0.0, hi - turn)] if hi > turn else [])
        groups[found][2].setdefault(curve.line_class, []).extend(pieces)
    for centre, radius, by_class in groups:
        for name, intervals in _claim(by_class, 1e-4 / max(radius, 1e-3)).items():
            if len(intervals) > 1 and intervals[0][0] < 1e-9 and intervals[-1][1] > 2 * math.pi - 1e-9:
                first = intervals.pop(0)
                intervals[-1] = (intervals[-1][0], intervals[-1][1] + first[1])
            out[name] += [Line("arc", np.zeros((0, 2)), centre, radius, a, b) for a, b in intervals]
    return out


def _curves(raw: list[RawCurve], done: dict[str, list[Line]]) -> dict[str, list[Line]]:
    """Free curves, less the stretches that already stand under a line of an earlier class."""
    out: dict[str, list[Line]] = {name: [] for name in _CLASSES}
    standing: list[LineString] = []
    for name in _CLASSES:
        mine = [c for c in raw if c.line_class == name]
        if name != "visible":
            standing += [LineString(line.polyline(0.005)) for line in done["visible"]] if name == "hidden" else []
        for curve in mine:
            points = curve.points
            if standing:
                tree = STRtree(standing)
                inside = tree.query(shapely_points((points[:-1] + points[1:]) / 2), "dwithin", COINCIDENT)[0]
                covered = np.zeros(len(points) - 1, dtype=bool)
                covered[np.unique(inside)] = True
            else:
                covered = np.zeros(len(points) - 1, dtype=bool)
            start = None
            for k in range(len(points)):
                free = k < len(points) - 1 and not covered[k]
                if free and start is None:
                    start = k
                if not free and start is not None:
                    out[name].append(Line("curve", points[start : k + 1], np.zeros(2)))
                    start = None
            standing.append(LineString(points))
    return out


def _rounded(curve: RawCurve) -> RawCurve:
    """A free curve that is an arc within 0.002 mm, as that arc."""
    if curve.kind != "curve" or len(curve.points) < 5:
        return curve
    points = curve.points
    shift = points.mean(0)
    rel = points - shift
    scale = float(np.abs(rel).max())
    system = np.c_[2 * rel / scale, np.ones(len(rel))]
    solution, _, rank, _ = np.linalg.lstsq(system, (rel**2).sum(1) / scale**2, rcond=None)
    if rank < 3:
        return curve
    centre = solution[:2] * scale
    radius = float(np.sqrt(max(0.0, solution[2] + solution[:2] @ solution[:2])) * scale)
    out = rel - centre
    if radius > 20 * scale or float(np.abs(np.linalg.norm(out, axis=1) - radius).max()) > 0.002:
        return curve
    turns = np.unwrap(np.arctan2(out[:, 1], out[:, 0]))
    if not (np.all(np.diff(turns) > -1e-9) or np.all(np.diff(turns) < 1e-9)):
        return curve
    lo, hi = float(turns.min()), float(turns.max())
    return RawCurve(curve.line_class, "arc", np.zeros(2), centre + shift, radius, lo, min(hi, lo + 2 * math.pi))


def project(solid: Solid, frame: ViewFrame, hidden: bool = True, engine: Engine = hidden_lines) -> Projection:
    """The clean lines of one view of a solid."""
    raw = [_rounded(c) for c in engine(solid.shape, frame.right, frame.toward, hidden)]
    straight = _straight([c for c in raw if c.kind == "line"])
    arcs = _arcs([c for c in raw if c.kind == "arc"])
    done = {name: straight[name] + arcs[name] for name in _CLASSES}
    curves = _curves([c for c in raw if c.kind == "curve"], done)
    lines = {name: tuple(done[name] + curves[name]) for name in _CLASSES}
    corners = [line.polyline(0.01) for name in ("visible", "hidden") for line in lines[name]]
    stacked = np.vstack(corners) if corners else np.zeros((1, 2))
    low, high = stacked.min(0), stacked.max(0)
    box = (float(low[0]), float(low[1]), float(high[0]), float(high[1]))
    return Projection(lines["visible"], lines["hidden"], lines["smooth"], box)
