"""A view of a solid as clean lines: coincident ones counted once, visible before hidden."""

import gc
import math
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

import numpy as np
import shapely
from shapely import STRtree
from shapely import points as shapely_points
from shapely.geometry import LineString

from canonis.core.solid import LineClass, RawCurve, Solid, Vec
from canonis.core.tolerances import FITTED, NOISE, NOTHING, same
from canonis.core.view.clip import Clip
from canonis.core.view.engine import own_lines, raw_curves
from canonis.core.view.frames import ViewFrame
from canonis.core.view.raw import Engine, rounded
from canonis.core.view.thread_lines import crest_pieces, root_pieces
from canonis.core.view.threads import Thread
from canonis.core.view.visibility import CutFace, visible_pieces

__all__ = ["Line", "Projection", "project", "section", "together"]

#: Lines that fall on each other within this distance count once (COMMANDS.md), mm.
COINCIDENT = 0.02
#: How many chords of a free curve are looked at together.
_RUN = 12
_CLASSES: tuple[LineClass, ...] = ("visible", "hidden", "smooth")


@dataclass(frozen=True, eq=False)
class Line:
    """A drawn line in the plane of a view at 1:1, mm.

    An arc runs from `a0` to `a1`, radians, anticlockwise; an ellipse likewise by its parameter, `radius` being its
    larger half axis at the angle `turn`. `edges` and `faces` are what of the solid it shows.
    """

    kind: Literal["line", "arc", "ellipse", "curve"]
    points: Vec
    centre: Vec
    radius: float = 0.0
    a0: float = 0.0
    a1: float = 0.0
    minor: float = 0.0
    turn: float = 0.0
    edges: tuple[int, ...] = ()
    faces: tuple[int, ...] = ()

    @cached_property
    def length(self) -> float:
        """Length at 1:1, mm."""
        if self.kind == "arc":
            return self.radius * (self.a1 - self.a0)
        points = self.polyline(1e-5 * max(self.radius, 1e-3))
        return float(np.linalg.norm(np.diff(points, axis=0), axis=1).sum())

    @property
    def extent(self) -> Vec:
        """Points (n×2) between which the line lies; of arcs its ends and where it turns back along right or up."""
        if self.kind in ("line", "curve"):
            return self.points
        if self.kind == "ellipse":
            return self.polyline(1e-4 * max(self.radius, 1e-3))
        first, last = math.ceil(self.a0 / (math.pi / 2)), math.floor(self.a1 / (math.pi / 2))
        t = np.array([self.a0, self.a1, *(k * math.pi / 2 for k in range(first, min(last, first + 3) + 1))])
        return np.asarray(self.centre + self.radius * np.c_[np.cos(t), np.sin(t)])

    def polyline(self, deflection: float) -> Vec:
        """Points along the line, within `deflection` mm of the true curve."""
        if self.kind in ("line", "curve"):
            return self.points
        step = 2 * math.acos(max(-1.0, min(1.0, 1 - deflection / max(self.radius, deflection))))
        n = max(3, math.ceil((self.a1 - self.a0) / max(step, 1e-3)) + 1)
        t = np.linspace(self.a0, self.a1, n)
        if self.kind == "arc":
            return self.centre + self.radius * np.c_[np.cos(t), np.sin(t)]
        c, s = math.cos(self.turn), math.sin(self.turn)
        x, y = self.radius * np.cos(t), self.minor * np.sin(t)
        return self.centre + np.c_[x * c - y * s, x * s + y * c]


@dataclass(frozen=True, eq=False)
class Projection:
    """All lines of one view by class, and the box of the visible ones (x0, y0, x1, y1), mm at 1:1."""

    visible: tuple[Line, ...]
    hidden: tuple[Line, ...]
    smooth: tuple[Line, ...]
    box: tuple[float, float, float, float]
    #: The cut faces of a section.
    cut: tuple[CutFace, ...] = ()
    #: The narrow lines of threads drawn by convention (ISO 6410-1).
    thread: tuple[Line, ...] = ()

    @cached_property
    def arcs(self) -> tuple[Vec, Vec]:
        """Centres (n×2) and radii (n) of the visible arcs."""
        arcs = [line for line in self.visible if line.kind == "arc"]
        return np.array([a.centre for a in arcs]).reshape(-1, 2), np.array([a.radius for a in arcs])

    @cached_property
    def outline_points(self) -> Vec:
        """Points (n×2) of visible lines where an extension line may start."""
        rows = [line.points[[0, -1]] if line.kind == "line" else line.polyline(0.01) for line in self.visible]
        return np.vstack(rows) if rows else np.zeros((0, 2))

    def circle_at(self, centre: Vec, radii: list[float]) -> bool:
        """Whether a visible arc has this centre and one of these radii (mm at 1:1, within 0.02)."""
        centres, sizes = self.arcs
        near = np.abs(centres - centre).max(axis=1) < COINCIDENT if len(centres) else np.zeros(0, dtype=bool)
        return bool(any(np.any(np.abs(sizes[near] - r) < COINCIDENT) for r in radii))

    def length(self, line_class: str) -> float:
        """Summed length of a class, mm at 1:1."""
        return sum(line.length for line in getattr(self, line_class))


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


_Span = tuple[float, float]
#: Stretches of one infinite line or full curve by class, each with the curve that claims it.
_Claims = dict[LineClass, list[tuple[float, float, RawCurve]]]


def _claim(
    by_class: _Claims, join: float
) -> dict[LineClass, list[tuple[float, float, tuple[int, ...], tuple[int, ...]]]]:
    """Give every stretch to the first class that has it, in the line order of ISO 128; with its edges and faces."""
    taken: list[_Span] = []
    result = {}
    for name in _CLASSES:
        rows = by_class.get(name, [])
        mine = _minus(_merged([(a, b) for a, b, _ in rows], join), taken)
        kept = [(a, b) for a, b in mine if b - a > join]
        result[name] = [(a, b, *_owners([c for lo, hi, c in rows if lo < b - join and a < hi - join])) for a, b in kept]
        taken = _merged(taken + mine, join)
    return result


def _owners(curves: list[RawCurve]) -> tuple[tuple[int, ...], tuple[int, ...]]:
    edges = dict.fromkeys(c.edge for c in curves if c.edge >= 0)
    return tuple(edges), tuple(dict.fromkeys(f for c in curves for f in c.faces))


def _straight(raw: list[RawCurve]) -> dict[LineClass, list[Line]]:
    rows = []
    for curve in raw:
        p, q = curve.points[0], curve.points[-1]
        d = q - p
        length = float(np.hypot(*d))
        if length < NOISE:
            continue
        d = d / length
        if d[0] < -NOTHING or (abs(d[0]) <= NOTHING and d[1] < 0):
            d = -d
        angle = math.atan2(d[1], d[0])
        rows.append((angle, float(p[0] * d[1] - p[1] * d[0]), d, p, q, curve))
    rows.sort(key=lambda r: (round(r[0], 5), r[1]))
    out: dict[LineClass, list[Line]] = {name: [] for name in _CLASSES}
    k = 0
    while k < len(rows):
        angle, offset, d, p0 = rows[k][:4]
        by_class: _Claims = {}
        while k < len(rows) and same(rows[k][0], angle, 2 * FITTED) and abs(rows[k][1] - offset) < COINCIDENT:
            t = sorted((float((rows[k][3] - p0) @ d), float((rows[k][4] - p0) @ d)))
            by_class.setdefault(rows[k][5].line_class, []).append((t[0], t[1], rows[k][5]))
            k += 1
        for name, found in _claim(by_class, 1e-4).items():
            out[name] += [
                Line("line", np.array([p0 + d * a, p0 + d * b]), np.zeros(2), edges=e, faces=f) for a, b, e, f in found
            ]
    return out


def _alike(a: RawCurve, b: RawCurve) -> bool:
    """Whether two arcs or ellipses are stretches of the same full curve."""
    turned = abs(math.remainder(a.turn - b.turn, math.pi)) * (a.radius - a.minor)
    return (
        float(np.abs(a.centre - b.centre).max()) < COINCIDENT / 2
        and abs(a.radius - b.radius) < 0.01
        and abs(a.minor - b.minor) < 0.01
        and turned < 0.01
    )


def _round(raw: list[RawCurve]) -> dict[LineClass, list[Line]]:
    """Arcs and ellipses, those of the same full curve together."""
    out: dict[LineClass, list[Line]] = {name: [] for name in _CLASSES}
    groups: list[tuple[RawCurve, _Claims]] = []
    index: dict[tuple[int, ...], list[int]] = {}
    for curve in raw:
        base = (round(curve.centre[0] / 0.05), round(curve.centre[1] / 0.05), round(curve.radius / 0.05))
        near = [
            g
            for i in (-1, 0, 1)
            for j in (-1, 0, 1)
            for k in (-1, 0, 1)
            for g in index.get((base[0] + i, base[1] + j, base[2] + k), ())
        ]
        found = next((g for g in near if groups[g][0].kind == curve.kind and _alike(groups[g][0], curve)), None)
        if found is None:
            found = len(groups)
            groups.append((curve, {}))
            index.setdefault(base, []).append(found)
        turn = 2 * math.pi
        # The same ellipse may be written with its larger axis the other way.
        shift = math.pi if math.cos(curve.turn - groups[found][0].turn) < 0 else 0.0
        lo = (curve.a0 + shift) % turn
        hi = lo + min(turn, curve.a1 - curve.a0)
        pieces = [(lo, min(hi, turn), curve)] + ([(0.0, hi - turn, curve)] if hi > turn else [])
        groups[found][1].setdefault(curve.line_class, []).extend(pieces)
    for first, by_class in groups:
        for name, rows in _claim(by_class, 1e-4 / max(first.radius, 1e-3)).items():
            if len(rows) > 1 and rows[0][0] < NOTHING and rows[-1][1] > 2 * math.pi - NOTHING:
                a, b = rows.pop(0), rows.pop()
                rows.append((b[0], b[1] + a[1], tuple(dict.fromkeys(b[2] + a[2])), tuple(dict.fromkeys(b[3] + a[3]))))
            out[name] += [
                Line(first.kind, np.zeros((0, 2)), first.centre, first.radius, a, b, first.minor, first.turn, e, f)
                for a, b, e, f in rows
            ]
    return out


def _curves(raw: list[RawCurve], done: dict[LineClass, list[Line]]) -> dict[LineClass, list[Line]]:
    """Free curves, less the stretches that already stand under a line of an earlier class or under an earlier curve."""
    out: dict[LineClass, list[Line]] = {name: [] for name in _CLASSES}
    order = [c for name in _CLASSES for c in raw if c.line_class == name]
    if not order:
        return out
    rank = {name: k for k, name in enumerate(_CLASSES)}
    # Everything that may stand over a curve with its turn: lines of an earlier class, then curves in their order.
    over = [(LineString(x.polyline(0.005)), rank[n] * 1e6) for n in _CLASSES[:2] for x in done[n]]
    turns = [rank[c.line_class] * 1e6 + 1 + k for k, c in enumerate(order)]
    # In short runs: the search looks at boxes first.
    over += [
        (LineString(c.points[a : a + _RUN + 1]), turn)
        for c, turn in zip(order, turns, strict=True)
        for a in range(0, len(c.points) - 1, _RUN)
    ]
    middles = [(c.points[:-1] + c.points[1:]) / 2 for c in order]
    row = np.repeat(np.arange(len(order)), [len(m) for m in middles])
    first = np.cumsum([0, *(len(m) for m in middles)])
    near, by = STRtree([g for g, _ in over]).query(shapely_points(np.vstack(middles)), "dwithin", COINCIDENT)
    theirs, mine = np.array([t for _, t in over])[by], np.array(turns)[row[near]]
    own_class = np.floor(theirs / 1e6) == np.floor(mine / 1e6)
    # Visible lines do not take from visible curves: both are exact, and a curve may touch a line.
    hides = (theirs < mine) & ~(own_class & (theirs % 1e6 == 0))
    covered = np.zeros(len(row), dtype=bool)
    covered[near[hides]] = True
    for k, curve in enumerate(order):
        gone = covered[first[k] : first[k + 1]]
        edges = (curve.edge,) if curve.edge >= 0 else ()
        whole = Line("curve", curve.points, np.zeros(2), edges=edges, faces=curve.faces)
        ends = np.flatnonzero(np.diff(np.concatenate([[True], gone, [True]]).astype(int)))
        for a, b in zip(ends[::2], ends[1::2], strict=True):
            out[curve.line_class].append(replace(whole, points=curve.points[a : b + 1]))
    return out


def project(
    solid: Solid,
    frame: ViewFrame,
    hidden: bool = True,
    engine: Engine = own_lines,
    threads: tuple[Thread, ...] = (),
) -> Projection:
    """The clean lines of one view of a solid; its `threads` by convention."""
    with _undisturbed():
        if threads:
            return _conventional(solid, frame, None, hidden, threads)
        return _clean(engine(solid, frame, hidden))


def section(
    solid: Solid, frame: ViewFrame, clip: Clip, hidden: bool = True, threads: tuple[Thread, ...] = ()
) -> Projection:
    """The clean lines of what a clip leaves of a solid, with the cut faces."""
    with _undisturbed():
        return _conventional(solid, frame, clip, hidden, threads)


@contextmanager
def _undisturbed() -> Iterator[None]:
    """Without the collector of unused objects: thousands of small geometries come and go, and none of them in a ring."""
    was = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was:
            gc.enable()


def together(one: Projection, other: Projection, shift: Vec) -> Projection:
    """Two halves of a view as one; the second is moved by `shift` (mm at 1:1)."""

    def moved(lines: tuple[Line, ...]) -> tuple[Line, ...]:
        return tuple(
            replace(x, points=x.points + shift if len(x.points) else x.points, centre=x.centre + shift) for x in lines
        )

    cut = tuple(replace(c, region=shapely.transform(c.region, lambda p: p + shift)) for c in other.cut)
    x0, y0, x1, y1 = other.box
    low = np.minimum(one.box[:2], np.array([x0, y0]) + shift)
    high = np.maximum(one.box[2:], np.array([x1, y1]) + shift)
    return Projection(
        one.visible + moved(other.visible),
        one.hidden + moved(other.hidden),
        one.smooth + moved(other.smooth),
        (float(low[0]), float(low[1]), float(high[0]), float(high[1])),
        one.cut + cut,
        one.thread + moved(other.thread),
    )


def _conventional(
    solid: Solid, frame: ViewFrame, clip: Clip | None, hidden: bool, threads: tuple[Thread, ...]
) -> Projection:
    pieces = visible_pieces(solid, frame, clip, threads)
    raw = raw_curves(pieces, hidden)
    if not threads:
        return replace(_clean(raw), cut=pieces.cut)
    raw += raw_curves(crest_pieces(solid, frame, clip, threads), hidden)
    roots = raw_curves(root_pieces(solid, frame, clip, threads), hidden)
    made = _clean(raw + [c for c in roots if c.line_class == "hidden"])
    narrow = _clean([c for c in roots if c.line_class == "visible"]).visible
    return replace(made, cut=pieces.cut, thread=narrow)


def _clean(found: list[RawCurve]) -> Projection:
    raw = [rounded(c) for c in found]
    straight = _straight([c for c in raw if c.kind == "line"])
    bent = _round([c for c in raw if c.kind in ("arc", "ellipse")])
    done = {name: straight[name] + bent[name] for name in _CLASSES}
    curves = _curves([c for c in raw if c.kind == "curve"], done)
    lines = {name: tuple(done[name] + curves[name]) for name in _CLASSES}
    corners = [line.extent for name in _CLASSES[:2] for line in lines[name]]
    stacked = np.vstack(corners) if corners else np.zeros((1, 2))
    low, high = stacked.min(0), stacked.max(0)
    box = (float(low[0]), float(low[1]), float(high[0]), float(high[1]))
    return Projection(lines["visible"], lines["hidden"], lines["smooth"], box)
