"""Places for notes with leaders: candidate spots scored by overlap, crossings, length and angle."""

import math
from collections.abc import Collection, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from shapely import STRtree, box, linestrings
from shapely.geometry import LineString, Point, Polygon

from canonis.core.layout.collisions import Shapes
from canonis.core.sheet import (
    SHOULDER,
    SHOULDER_GAP,
    Annotation,
    DatumMark,
    HoleTable,
    Leader,
    Linear,
    Look,
    Page,
    Picture,
    Region,
    Scene,
    SheetDocument,
    SheetPage,
    Stroke,
    Target,
    Text,
    View,
    angle_arc,
    block_rect,
    compile_annotation,
    frame_rect,
    leader_box,
    leader_target,
    noted_by,
    pitch_circle,
    pointed,
)
from canonis.core.sheet.symbols import symbol_of
from canonis.core.solid import Vec
from canonis.core.tolerances import NOISE, NOTHING

__all__ = ["place_leaders", "shapes_of"]

_ANGLES = np.radians(np.arange(0, 360, 15) + 7.5)
_REACH = np.concatenate([np.arange(7, 40, 3.0), np.arange(40, 130, 6.0)])
#: Clear distance around a placed note, mm.
_CLEAR = 1.4
#: Triangle and stem of a datum indicator between a note and its frame, mm.
_HANGING = 8.5
#: What it costs a leader to come through the material to an arc, and to a flat face, mm of leader.
_THROUGH, _INSIDE = 18.0, 25.0


class _Obstacles:
    """What a note must not touch (`solid`) and what a leader should not cross (`thin`)."""

    def __init__(self, page: Page, sheet: SheetPage, rows: Mapping[str, str]) -> None:
        #: Direction of the dimension line of each linear dimension, by id.
        self.rows = rows
        self.shapes: list[Any] = []
        self.weights: list[float] = []
        self._tree: STRtree | None = None
        x0, y0, x1, y1 = block_rect(sheet.size)
        self.add(box(x0, y0, x1, y1), 1e6)
        self.frame = frame_rect(sheet.size)
        #: Beside and below the texts of a note no other one stands so near that both would be read as one.
        self.notes = False
        page.plot(self)

    def add(self, shape: Any, weight: float) -> None:
        self.shapes.append(shape)
        self.weights.append(weight)
        self._tree = None

    def picture(self, picture: Picture) -> None:
        """Nothing: the lines of a shaded view are in the way, not its shades."""

    def stroke(self, stroke: Stroke) -> None:
        """A line is crossed where it must be."""
        weight = {"visible": 4.0, "hidden": 1.0, "smooth": 1.0, "centre": 1.5, "frame": 1e6}.get(stroke.style, 12.0)
        points = stroke.polyline(0.05)
        along = 0 if self.rows.get(stroke.owner) == "x" else 1
        if stroke.owner in self.rows and float(np.ptp(points[:, 1 - along])) < NOISE:
            # ISO 129-1: dimension lines are not crossed by other lines where it can be avoided.
            weight = 50.0
        if len(points) > 1 and stroke.owner not in ("title",):
            self.add(LineString(points), weight)

    def region(self, region: Region) -> None:
        """An arrowhead."""
        self.add(Polygon(region.points), 60.0)

    def text(self, text: Text) -> None:
        """A text is never crossed."""
        corners = text.corners()
        self.add(Polygon(corners), 1e6)
        if self.notes:
            (x0, y0), (x1, y1) = corners.min(axis=0), corners.max(axis=0)
            dx, dy = (k * text.height for k in _ASIDE)
            # A leader may pass there.
            self.add(box(x0 - dx, y0 - dy, x1 + dx, y1 + dy), 0.0)

    @property
    def tree(self) -> STRtree:
        if self._tree is None:
            self._tree = STRtree(self.shapes)
        return self._tree


def shapes_of(page: Page) -> list[Any]:
    """What is drawn on a page and must not be covered: texts and lines."""
    shapes = Shapes(0.05)
    page.plot(shapes)
    return [*(s for _, s in shapes.texts), *(s for _, s in shapes.lines)]


#: Space between notes beside and above each other, in letter heights.
_ASIDE = 1.0, 0.6
#: Where on the line of a flat face a symbol may stand.
_ALONG = (0.5, 0.35, 0.65, 0.2, 0.8)


def _targets(scene: Scene, view: View, mark: Leader) -> list[tuple[Leader, Target]]:
    """What a note may point at, each with the note as it then is."""

    def at(ref: str, along: float = mark.along) -> Leader:
        return mark.model_copy(update={"target": ref, "along": along})

    if mark.kind == "bolt-circle":
        ring = pitch_circle(scene, view, mark.refs)
        return [(at(""), ring)] if ring else []
    if mark.kind == "angle" and len(mark.refs) > 1:
        arc = angle_arc(scene, view, mark.refs, mark.text)
        return [(at(mark.refs[0]), Target(arc.middle, 0.0))] if arc else []
    refs = mark.spots
    if mark.kind == "radius" and len(refs) > 1:
        refs = tuple(r for r in refs if _on_an_arc(scene, view, r)) or refs
    # A few instances are enough to find a good spot; spread them over the group.
    if len(refs) > 4:
        refs = tuple(refs[round(k * (len(refs) - 1) / 3)] for k in range(4))
    ways = _ALONG if symbol_of(mark) is not None else (mark.along,)
    found = [(one, pointed(scene, view, one)) for r in refs for one in (at(r, along) for along in ways)]
    return [(one, target) for one, target in found if target is not None]


def _on_an_arc(scene: Scene, view: View, ref: str) -> bool:
    """Whether a round is seen true, as the arc that a radius points at."""
    target = leader_target(scene, view, ref)
    if target is None or target.outward is None or target.radius <= 0:
        return False
    return scene.projection(view).circle_at(scene.plane(view, target.centre[None])[0], [target.radius / view.scale])


@dataclass(frozen=True, eq=False)
class _Elbows:
    """Places for the elbow of a leader (n×2, mm on paper), with where each lands, what it costs to come through something, and which
    of the `notes` it makes."""

    at: Vec
    tips: Vec
    through: Vec
    which: list[int]
    notes: list[Leader]

    @property
    def right(self) -> Vec:
        """Whether the text stands to the right of each."""
        return np.asarray(self.at[:, 0] >= self.tips[:, 0] - NOTHING)


def _elbows(scene: Scene, view: View, mark: Leader) -> _Elbows | None:
    """Elbows all around whatever a note may point at."""
    rows: list[tuple[Vec, Vec, Vec]] = []
    notes: list[Leader] = []
    for one, target in _targets(scene, view, mark):
        dirs = np.c_[np.cos(_ANGLES), np.sin(_ANGLES)]
        starts = np.array(target.starts)
        reach = target.radius + _REACH
        through = np.zeros(len(dirs))
        if target.outward is not None:
            starts = target.tip(target.centre)[None]
            lean = dirs @ target.outward
            dirs, lean = dirs[np.abs(lean) > 0.5], lean[np.abs(lean) > 0.5]
            # Through an arc a leader may come, through the material at a flat face only where there is no other room.
            through = np.where((lean < 0) == target.hollow, 0.0, _THROUGH if target.radius > 0 else _INSIDE)
            reach = _REACH
        spread = (dirs[:, None, :] * reach[None, :, None]).reshape(-1, 2)
        elbows = (starts[:, None, :] + spread[None, :, :]).reshape(-1, 2)
        rows.append((elbows, target.tips(elbows), np.tile(np.repeat(through, len(reach)), len(starts))))
        notes.append(one)
    if not rows:
        return None
    which = [k for k, r in enumerate(rows) for _ in r[0]]
    at, tips = (np.vstack([r[k] for r in rows]) for k in (0, 1))
    return _Elbows(at, tips, np.concatenate([r[2] for r in rows]), which, notes)


def _place(
    scene: Scene, view: View, mark: Leader, look: Look, obstacles: _Obstacles, hung: bool
) -> tuple[Leader, float] | None:
    """A note where it costs least, and what that is; None where there is no room."""
    width, above, below = leader_box(mark, look)
    if hung:
        # The indicator of a datum axis hangs below its note.
        width, below = max(width, 2 * look.text), below + 2 * look.text + _HANGING
    elbows = _elbows(scene, view, mark)
    if elbows is None:
        return None
    sign = np.where(elbows.right, 1.0, -1.0)
    x_near = elbows.at[:, 0] + sign * (SHOULDER + SHOULDER_GAP)
    x0 = np.where(elbows.right, x_near, x_near - width) - _CLEAR
    x1 = np.where(elbows.right, x_near + width, x_near) + _CLEAR
    top = elbows.at[:, 1] + above + _CLEAR
    bottom = elbows.at[:, 1] - below - _CLEAR - 0.3 * look.text
    fx0, fy0, fx1, fy1 = obstacles.frame
    inside = (x0 > fx0 + 2) & (x1 < fx1 - 2) & (bottom > fy0 + 2) & (top < fy1 - 2)
    span = elbows.at - elbows.tips
    steep = np.abs(np.arctan2(np.abs(span[:, 1]), np.abs(span[:, 0])) - math.radians(50))
    ox0, oy0, ox1, oy1 = scene.box(view)
    over_view = (x1 > ox0) & (x0 < ox1) & (top > oy0) & (bottom < oy1)
    cost = np.linalg.norm(span, axis=1) + elbows.through + 14 * steep
    cost = cost + np.where(over_view, 24.0, 0.0) + np.where(inside, 0.0, 1e9)
    best = _cheapest(elbows, cost, np.stack([x0, bottom, x1, top], axis=1), obstacles)
    if best is None:
        return None
    i = best[1]
    at = elbows.at[i] - np.array(view.at)
    place = {"at": (round(float(at[0]), 3), round(float(at[1]), 3)), "right": bool(elbows.right[i])}
    return elbows.notes[elbows.which[i]].model_copy(update=place), best[0]


def _cheapest(elbows: _Elbows, cost: Vec, boxes: Vec, obstacles: _Obstacles) -> tuple[float, int] | None:
    """The cost and the number of the elbow whose text (boxes n×4) meets nothing and whose leader crosses least."""
    order = np.argsort(cost, kind="stable")
    order = order[cost[order] < 1e8]
    best: tuple[float, int] | None = None
    weights = np.array(obstacles.weights)
    for block in range(0, len(order), 96):
        some = order[block : block + 96]
        if best is not None and cost[some[0]] > best[0]:
            break
        hit = obstacles.tree.query(box(*boxes[some].T), "intersects")[0]
        free = np.ones(len(some), dtype=bool)
        free[np.unique(hit)] = False
        some = some[free]
        if not len(some):
            continue
        at, tips = elbows.at[some], elbows.tips[some]
        shoulder = at + np.c_[np.where(elbows.right[some], 1.0, -1.0) * SHOULDER, np.zeros(len(some))]
        # Leave the rim itself out: a leader must touch what it points at.
        d = (at - tips) / np.maximum(np.linalg.norm(at - tips, axis=1), 1e-9)[:, None]
        paths = linestrings(np.stack([tips + d * 0.3, at, shoulder], axis=1))
        which, what = obstacles.tree.query(paths, "intersects")
        extra = np.bincount(which, weights=weights[what], minlength=len(some)) if len(which) else np.zeros(len(some))
        total = cost[some] + extra
        k = int(np.argmin(total))
        if total[k] < 1e5 and (best is None or total[k] < best[0]):
            best = (float(total[k]), int(some[k]))
    return best


def _with(document: SheetDocument, mark: Leader) -> SheetDocument:
    """A document with a note in its new place."""
    marks = tuple(mark if a.id == mark.id else a for a in document.annotations)
    return document.model_copy(update={"annotations": marks})


def _stays(mark: Leader, new: Collection[str] | None) -> bool:
    """Whether a note keeps its place."""
    return mark.by_hand or (new is not None and mark.id not in new)


def place_leaders(
    scene: Scene, sheet: SheetPage, page: Page, look: Look, new: Collection[str] | None = None
) -> tuple[dict[str, Annotation], int]:
    """Places for all notes of one sheet that nobody placed by hand, and how many found none; with `new` only for those of these ids.

    `page` holds everything else that is drawn there; the notes are drawn into it as they are placed.
    """
    rows = {a.id: a.direction for a in scene.document.annotations if isinstance(a, Linear)}
    obstacles = _Obstacles(page, sheet, rows)
    out: dict[str, Annotation] = {}
    failed = 0
    # Notes that stand in a hole table have no leader.
    tabled = {a.view for a in scene.document.annotations if isinstance(a, HoleTable)}
    hanging: dict[str, list[DatumMark]] = {}
    for a in scene.document.annotations:
        if isinstance(a, DatumMark) and a.sheet == sheet.number and (note := noted_by(scene, a)) is not None:
            hanging.setdefault(note.id, []).append(a)
    marks = [
        a
        for a in scene.document.annotations
        if a.sheet == sheet.number and isinstance(a, Leader) and not (a.letter and a.view in tabled)
    ]
    # Arcs and bevels first, since they can be pointed at from one side only; then long notes.
    narrow = ("radius", "chamfer")
    marks.sort(
        key=lambda m: (
            not _stays(m, new),
            m.kind not in narrow,
            -len(m.lines) * max((len(t) for t in m.lines), default=0),
            m.id,
        )
    )
    for mark in marks:
        view = scene.document.view(mark.view or "")
        placed = mark
        if not _stays(mark, new):
            found = _place(scene, view, mark, look, obstacles, mark.id in hanging)
            if found is None:
                failed += 1
            else:
                placed = found[0]
        before, obstacles.notes = page.mark, True
        compile_annotation(page, scene, placed, look)
        page.plot(obstacles, before)
        if symbol_of(placed) is not None and (spot := pointed(scene, view, placed)) is not None:
            # No other one ends where it does.
            obstacles.add(Point(spot.centre).buffer(_CLEAR), 30.0)
        out[mark.id] = placed
        for hung in hanging.get(mark.id, ()):
            # The indicator of a datum axis hangs below its note.
            before, obstacles.notes = page.mark, False
            compile_annotation(page, scene.on(_with(scene.document, placed)), hung, look)
            page.plot(obstacles, before)
    return out, failed
