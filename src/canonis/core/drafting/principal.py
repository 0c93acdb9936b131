"""The principal views of a sheet: front, plan and side, more where something is seen from one side only, and the pictorial."""

from collections.abc import Callable, Sequence
from typing import Any

import numpy as np

from canonis.core.drafting.desk import Desk
from canonis.core.drafting.front import turned_axis
from canonis.core.features import Feature, Hole
from canonis.core.house import Hidden
from canonis.core.sheet import Marks, Parallel, Pictorial, Projections, View, frame_of_view, projection_key
from canonis.core.solid import Rays, Solid, Vec
from canonis.core.tolerances import ZERO, parallel, same, same_way, square
from canonis.core.view import Projection, ViewFrame, frame_of, project_all

__all__ = ["hidden_wanted", "missing_views", "pictorial_view", "principal_views", "project_missing"]


#: A line of sight passes a flat this far outside it, mm; so many flats are looked at.
_BESIDE, _MOST_FLATS = 0.01, 60


def _ends_inside(hole: Hole, solid: Solid) -> bool:
    """Whether a hole that goes through ends in another bore or a pocket instead of on the far side of the part."""
    end = hole.start - hole.axis * hole.length
    k = int(np.argmax(np.abs(hole.axis)))
    far = float(solid.box[0][k] if hole.axis[k] > 0 else solid.box[1][k])
    return not same(float(end[k]), far)


def _openings(found: Feature, toward: Vec, solid: Solid) -> int:
    """How many holes and slots can be seen only from one side."""
    holes = sum(
        same_way(h.axis, toward) and (not h.through or bool(h.seats) or _ends_inside(h, solid))
        for g in found.holes
        for h in g.holes
    )
    return holes + sum(same_way(s.axis, toward) and not s.through for s in found.slots)


def _sides_seen(solid: Solid, found: Feature, toward: Vec) -> int:
    """How many flats and teeth along a line of sight are seen on edge: no collar stands before them and hides them."""
    rays = Rays(solid, (solid.box[0] + solid.box[1]) / 2, solid.diagonal)
    flats = [f for f in solid.faces if f.kind == "plane" and square(f.axis, toward)][:_MOST_FLATS]
    spots = [f.centre + f.axis * _BESIDE for f in flats]
    for form in found.forms:
        for piece in form.pieces if form.kind == "repeat" else ():
            edges = {e for f in piece.owns for e, _ in solid.neighbours[f]}
            # The rim of a socket is seen from where it opens, the end of a tooth from both sides.
            spots += [solid.edges[e].middle + toward * _BESIDE for e in sorted(edges)[:_MOST_FLATS]]
    return sum(not rays.hits(spot, toward, solid.diagonal) for spot in spots)


def _tells_more(solid: Solid, found: Feature, one: ViewFrame, other: ViewFrame) -> bool:
    """Whether one of two opposite views shows more than the other: openings; of the ends of a turned part flats."""
    openings = _openings(found, one.toward, solid) - _openings(found, other.toward, solid)
    axis = turned_axis(solid)
    if openings or axis is None or not parallel(axis, one.toward):
        return openings > 0
    return _sides_seen(solid, found, one.toward) > _sides_seen(solid, found, other.toward)


def principal_views(
    front: ViewFrame, projection: str, solid: Solid, found: Feature, sheet: int, prefix: int
) -> list[View]:
    """Front, top and side; the side is the one with more to show, by custom where both show the same."""
    side, other = ("left", "right") if projection == "first" else ("right", "left")
    if _tells_more(solid, found, frame_of(other, front), frame_of(side, front)):
        side = other
    flat = "top"
    if (
        _openings(found, frame_of("bottom", front).toward, solid)
        > 0
        == _openings(found, frame_of("top", front).toward, solid)
    ):
        flat = "bottom"
    return [_view(front, kind, solid, sheet, prefix + k) for k, kind in enumerate(("front", flat, side), start=1)]


def _view(front: ViewFrame, kind: str, solid: Solid, sheet: int, number: int) -> View:
    frame = frame_of(kind, front)
    middle = (solid.box[0] + solid.box[1]) / 2

    def t(v: Vec) -> tuple[float, float, float]:
        clean = [0.0 if abs(c) < ZERO else float(c) for c in v]
        return (clean[0], clean[1], clean[2])

    shared: dict[str, Any] = {
        "id": f"V{number}",
        "sheet": sheet,
        "scale": 1.0,
        "origin": t(middle),
        "right": t(frame.right),
        "up": t(frame.up),
        "at": (0.0, 0.0),
    }
    return Pictorial(**shared) if kind == "pictorial" else Parallel(**shared, kind=kind)  # type: ignore[arg-type]


def missing_views(desk: Desk, front: ViewFrame, number: int) -> list[View]:
    """Principal views that show holes, slots and angular bosses which no view shows yet (nothing on a far face is lost)."""
    out: list[View] = []
    have = {v.kind for v in desk.views}
    hidden = [g.first.axis for g in desk.found.holes if desk.best_view(g) is None]
    hidden += [
        s.axis
        for s in desk.found.slots
        if not any(same_way(s.axis, frame_of_view(v).toward) or s.through for v in desk.views)
    ]
    hidden += [
        p.axis
        for form in desk.found.forms
        for p in form.pieces
        if form.kind == "boss"
        and p.data.get("outline") in ("polygon", "free")
        and not any(same_way(p.axis, frame_of_view(v).toward) for v in desk.views)
    ]
    for kind in ("left", "right", "bottom", "back", "top"):
        toward = frame_of(kind, front).toward
        if kind not in have and any(same_way(a, toward) for a in hidden):
            out.append(_view(front, kind, desk.solid, desk.sheet, number + len(out)))
    return out


def pictorial_view(front: ViewFrame, solid: Solid, sheet: int, number: int) -> View:
    """The pictorial of a sheet, seen from above its front view's right corner."""
    return _view(front, "pictorial", solid, sheet, number)


def project_missing(
    views: Sequence[View], solid: Solid, index: int, marks: Marks, cache: Projections, progress: Callable[[str], None]
) -> None:
    """Project the views that are not in the cache yet, side by side."""
    todo = [v for v in views if projection_key(index, v) not in cache]
    if todo:
        progress(f"Projecting {len(todo)} views")
        wishes = [(frame_of_view(v), v.kind != "pictorial", () if v.helices else marks.threads) for v in todo]
        done = project_all(solid, wishes)
        cache.update({projection_key(index, v): p for v, p in zip(todo, done, strict=True)})


def hidden_wanted(seen: Projection, rule: Hidden) -> bool:
    """Hidden lines by the house rule: all, none, or (auto) kept where they are few enough to read."""
    if rule is not Hidden.AUTO:
        return rule is Hidden.ALL
    return len(seen.hidden) <= 40 or seen.length("hidden") <= seen.length("visible")
