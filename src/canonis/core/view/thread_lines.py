"""The conventional lines of modelled threads (ISO 6410-1): crest wide, root narrow, the end of the full thread wide."""

import math
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from canonis.core.solid import Solid, Vec, solid_mesh
from canonis.core.tolerances import ALIGNED, NOISE, NOTHING, ZERO, runs_along
from canonis.core.view.clip import Clip
from canonis.core.view.curves import CONIC, Maker
from canonis.core.view.frames import ViewFrame
from canonis.core.view.rays import Rays
from canonis.core.view.threads import Thread
from canonis.core.view.visibility import Pieces

__all__ = ["crest_pieces", "root_pieces"]

_SQUARE = 1e-9
#: Places looked at along a line, and how often a change between two is halved.
_PLACES, _HALVINGS = 160, 30
#: From where to where the narrow circle runs, seen end-on: open in one quarter, its ends clear of the centre lines, radians.
_OPEN = (math.pi / 2 + 0.12, 2 * math.pi - 0.12)


#: Points that stand for points of a line when one asks whether it is seen.
_Look = Callable[[Vec], Vec]


def _off(shift: Vec) -> _Look:
    return lambda points: points + shift


def _at_radius(thread: Thread, radius: float, shift: Vec) -> _Look:
    def look(points: Vec) -> Vec:
        away = points - thread.middle
        height = np.outer(away @ thread.way, thread.way)
        spoke = away - height
        return np.asarray(
            thread.middle + height + spoke * (radius / np.linalg.norm(spoke, axis=1, keepdims=True)) + shift
        )

    return look


@dataclass(eq=False)
class _Lines:
    """Lines being put together: the curve in the model's axes, and from where its points are looked at from."""

    maker: Maker
    #: The face that the next lines are said to show.
    face: int = -1
    #: For each curve, from where points (n×3) of it are looked at; None: seen wherever it is drawn.
    looks: list[_Look | None] = field(default_factory=list)

    def line(self, p: Vec, q: Vec, look: _Look | None) -> None:
        self.maker.line(p, q, faces=(self.face, -1))
        self.looks.append(look)

    def circle(self, c: Vec, a: Vec, b: Vec, lo: float, hi: float, look: _Look | None) -> None:
        self.maker.conic(c, a, b, lo, hi, faces=(self.face, -1))
        self.looks.append(look)


def crest_pieces(solid: Solid, frame: ViewFrame, clip: Clip | None, threads: tuple[Thread, ...]) -> Pieces:
    """The wide lines: outlines of the plain tube, its chamfers and its ends, and where a cut runs along it."""
    lines = _Lines(Maker())
    step = solid_mesh(solid).deflection
    for t in threads:
        lines.face = min(t.faces)
        out = -step if t.internal else step
        r = t.edge
        _outlines(lines, t, frame, (t.crest[0], r, t.crest[1], r), out)
        for cone in t.cones:
            _outlines(lines, t, frame, cone, out)
        u, v = t.across()
        for z, sense in zip(t.crest, (-1.0, 1.0), strict=True):
            # Looked at a little off the end and off the wall.
            lines.circle(
                t.middle + t.way * z, u * r, v * r, 0.0, 2 * math.pi, _at_radius(t, r + out, t.way * step * sense * 0.5)
            )
        for depth in _cuts(t, frame, clip):
            for p, q in _along(t, frame, depth, r, t.crest):
                lines.line(p, q, None)
            if t.internal:
                for z, stop in zip(t.crest, t.stops, strict=True):
                    if stop and depth is not None:
                        ends = _along(t, frame, depth, t.major, (z, z))
                        if len(ends) == 2:
                            lines.line(ends[0][0], ends[1][0], None)
    return _decided(solid, frame, clip, threads, lines)


def root_pieces(solid: Solid, frame: ViewFrame, clip: Clip | None, threads: tuple[Thread, ...]) -> Pieces:
    """The narrow lines: the root along the thread, and three quarters of a circle where it is seen end-on."""
    lines = _Lines(Maker())
    step = solid_mesh(solid).deflection
    for t in threads:
        lines.face = min(t.faces)
        along = float(t.way @ frame.toward)
        if runs_along(along, ALIGNED):
            z = t.crest[1] if along > 0 else t.crest[0]
            u, v = frame.right * t.other, frame.up * t.other
            # Seen when the crest is: a chamfer before it does not hide it.
            look = _at_radius(t, t.minor - step if t.internal else t.major + step, frame.toward * step)
            lines.circle(t.middle + t.way * z, u, v, *_OPEN, look)
            continue
        for depth in _cuts(t, frame, clip):
            for p, q in _along(t, frame, depth, t.other, t.crest):
                lines.line(p, q, None)
        if t.internal and clip is not None and clip.patches:
            continue
        aside = np.cross(t.way, frame.toward)
        aside = aside / float(np.linalg.norm(aside))
        # Seen where the crest before it is seen.
        square = math.sqrt(max(0.0, 1 - along * along))
        up = 0.0 if t.internal else math.sqrt(max(0.0, t.major**2 - t.minor**2)) / square + step
        for side in (1.0, -1.0):
            foot = t.middle + aside * side * t.other
            lines.line(foot + t.way * t.crest[0], foot + t.way * t.crest[1], _off(frame.toward * up))
    return _decided(solid, frame, clip, threads, lines)


def _outlines(
    lines: _Lines, thread: Thread, frame: ViewFrame, cone: tuple[float, float, float, float], out: float
) -> None:
    """The two outlines of a tube or a frustum about the thread's axis."""
    z0, r0, z1, r1 = cone
    along = float(thread.way @ frame.toward)
    square = math.sqrt(max(0.0, 1 - along * along))
    slope = (r1 - r0) / (z1 - z0) if abs(z1 - z0) > ZERO else math.inf
    if square < NOISE or abs(slope * along) > square:
        return
    forth = frame.toward - thread.way * along
    forth = forth / float(np.linalg.norm(forth))
    aside = np.cross(thread.way, forth)
    # Where the normal of the wall stands square to the view.
    turn = math.asin(max(-1.0, min(1.0, slope * along / square)))
    for side in (1.0, -1.0):
        spoke = aside * (side * math.cos(turn)) + forth * math.sin(turn)
        p, q = (thread.middle + thread.way * z + spoke * r for z, r in ((z0, r0), (z1, r1)))
        lines.line(p, q, _off(spoke * out))


def _cuts(thread: Thread, frame: ViewFrame, clip: Clip | None) -> list[float]:
    """The depths of the planes of a clip that run along the thread and through it."""
    if clip is None or abs(float(thread.way @ frame.toward)) > _SQUARE:
        return []
    level = float(thread.middle @ frame.toward)
    return sorted({p.depth for p in clip.patches if abs(p.depth - level) < thread.major})


def _along(
    thread: Thread, frame: ViewFrame, depth: float, radius: float, span: tuple[float, float]
) -> list[tuple[Vec, Vec]]:
    """The two lines in which a plane along a thread cuts the wall of a radius."""
    off = depth - float(thread.middle @ frame.toward)
    if abs(off) >= radius:
        return []
    half = math.sqrt(radius**2 - off**2)
    aside = np.cross(thread.way, frame.toward)
    aside = aside / float(np.linalg.norm(aside))
    feet = [thread.middle + frame.toward * off + aside * side * half for side in (1.0, -1.0)]
    return [(foot + thread.way * span[0], foot + thread.way * span[1]) for foot in feet]


def _decided(solid: Solid, frame: ViewFrame, clip: Clip | None, threads: tuple[Thread, ...], lines: _Lines) -> Pieces:
    """The stretches of the lines, seen or hidden; what a clip cuts off is left out."""
    curves = lines.maker.made()
    axes = np.array([frame.right, frame.up, frame.toward])
    rays = Rays(solid, frame, clip, threads)
    flat = curves.turned(axes) if len(curves) else curves

    def state(curve: NDArray[np.int64], t: Vec) -> NDArray[np.int64]:
        """0 gone, 1 hidden, 2 seen."""
        points = curves.at(curve, t)
        there = np.ones(len(curve), dtype=bool) if clip is None else clip.leaves(points @ axes.T)
        free = np.array([look is None for look in lines.looks])[curve]
        starts = points.copy()
        for k in np.unique(curve).tolist():
            look = lines.looks[k]
            if look is not None:
                starts[curve == k] = look(points[curve == k])
        seen = rays.met(starts)[0] < 0
        if clip is not None:
            # A line of the cut lies in its plane, where that is the plane of the cut.
            level = clip.ceiling(points @ axes[:2].T)
            there &= ~free | (np.abs(level - points @ frame.toward) < 1e-6 * max(1.0, solid.diagonal))
        return np.where(there, np.where(seen | free, 2, 1), 0)

    which, low, high, seen = [], [], [], []
    for k in range(len(curves)):
        n = _PLACES if curves.kind[k] == CONIC else _PLACES // 2
        t = np.linspace(curves.lo[k], curves.hi[k], n + 1)
        inside = np.clip(t, curves.lo[k] + 1e-9, curves.hi[k] - 1e-9)
        now = state(np.full(len(t), k), inside)
        change = np.nonzero(now[1:] != now[:-1])[0]
        a, b, first = t[change], t[change + 1], now[change]
        for _ in range(_HALVINGS if len(change) else 0):
            m = (a + b) / 2
            same = state(np.full(len(m), k), m) == first
            a, b = np.where(same, m, a), np.where(same, b, m)
        ends = [float(curves.lo[k]), *((a + b) / 2).tolist(), float(curves.hi[k])]
        kinds = [int(now[0]), *now[change + 1].tolist()]
        for p, q, kind in zip(ends[:-1], ends[1:], kinds, strict=True):
            if kind and q - p > NOTHING:
                which.append(k)
                low.append(p)
                high.append(q)
                seen.append(kind == 2)
    yes = np.ones(len(which), dtype=bool)
    return Pieces(flat, np.array(which, dtype=np.int64), np.array(low), np.array(high), yes, np.array(seen, dtype=bool))
