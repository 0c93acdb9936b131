"""A free place on a sheet for a view: beside its parent in projection, or wherever there is room."""

import numpy as np

from canonis.core.layout.rows import margins
from canonis.core.sheet import (
    Look,
    Scene,
    View,
    block_rect,
    caption_lines,
    frame_of_view,
    frame_rect,
    look_of,
    revision_rect,
)
from canonis.core.solid import Vec
from canonis.core.tolerances import NOISE

__all__ = ["Rect", "beside", "elsewhere", "taken_by"]

Rect = tuple[float, float, float, float]
#: Air around a view, mm.
AIR = 9.0


def _clear(a: Rect, taken: list[Rect], air: float) -> bool:
    return all(a[0] >= t[2] + air or t[0] >= a[2] + air or a[1] >= t[3] + air or t[1] >= a[3] + air for t in taken)


def _inside(a: Rect, frame: Rect) -> bool:
    return a[0] >= frame[0] + 3 and a[1] >= frame[1] + 3 and a[2] <= frame[2] - 3 and a[3] <= frame[3] - 3


def taken_by(scene: Scene, sheet: int, page_texts: list[Rect], but: str = "") -> list[Rect]:
    """What stands on a sheet: views, their texts, notes and the title block."""
    page = next(p for p in scene.document.pages if p.number == sheet)
    boxes = [scene.box(v) for v in scene.document.views if v.sheet == sheet and v.id != but]
    revisions = revision_rect(scene.document, page.size)
    return [*boxes, *page_texts, block_rect(page.size), *([revisions] if revisions else [])]


def _extent(scene: Scene, view: View) -> tuple[Rect, Vec]:
    """The view's outline with its caption, relative to where its origin stands."""
    x0, y0, x1, y1 = scene.box(view)
    look: Look = look_of(scene.document.style, next(p.size for p in scene.document.pages if p.number == view.sheet))
    lines = caption_lines(scene, view)
    below = 5 + look.caption + 1.6 * look.text * (len(lines) - 1) if lines else 0.0
    ax, ay = view.at
    room = {"left": 0.0, "right": 0.0, "above": 0.0, "below": 0.0}
    if any(a.view == view.id for a in scene.document.annotations):
        room = margins(scene, view, look)
    left, right = x0 - room["left"], x1 + room["right"]
    return (left - ax, y0 - below - room["below"] - ay, right - ax, y1 + room["above"] - ay), np.array([ax, ay])


def beside(scene: Scene, view: View, taken: list[Rect]) -> tuple[float, float] | None:
    """Where a view goes in projection with its parent, the nearest free place; None when there is none on the sheet."""
    parent = scene.parent(view)
    if parent.sheet != view.sheet:
        return None
    frame = frame_of_view(parent)
    toward = frame_of_view(view).toward
    way = np.array([toward @ frame.right, toward @ frame.up])
    if float(np.linalg.norm(way)) < NOISE:
        return None
    way = way / float(np.linalg.norm(way))
    if scene.document.projection == "first":
        way = -way
    if min(abs(way[0]), abs(way[1])) > 0.02:
        return None
    (x0, y0, x1, y1), _ = _extent(scene, view)
    page = next(p for p in scene.document.pages if p.number == view.sheet)
    # The origin of both is one point of the solid: across the way they stand level.
    start = scene.paper(parent, frame.flat(np.array(view.origin))[None])[0]
    for away in np.arange(5.0, 900.0, 3.0):
        at = start + way * away
        here = (at[0] + x0, at[1] + y0, at[0] + x1, at[1] + y1)
        if _clear(here, taken, AIR) and _inside(here, frame_rect(page.size)):
            return round(float(at[0]), 3), round(float(at[1]), 3)
    return None


def elsewhere(scene: Scene, view: View, taken: list[Rect]) -> tuple[float, float] | None:
    """The free place on the sheet with the most air about it; None when there is none."""
    (x0, y0, x1, y1), _ = _extent(scene, view)
    page = next(p for p in scene.document.pages if p.number == view.sheet)
    fx0, fy0, fx1, fy1 = frame_rect(page.size)
    parent = next((v for v in scene.document.views if v.id == view.parent and v.sheet == view.sheet), None)
    home = None if parent is None else np.array(scene.box(parent)).reshape(2, 2).mean(axis=0)
    best: tuple[float, tuple[float, float]] | None = None
    for i in range(29):
        for j in range(29):
            cx = fx0 + 4 - x0 + (fx1 - fx0 - 8 - (x1 - x0)) * i / 28
            cy = fy0 + 4 - y0 + (fy1 - fy0 - 8 - (y1 - y0)) * j / 28
            here = (cx + x0, cy + y0, cx + x1, cy + y1)
            if not _inside(here, (fx0 - 1, fy0 - 1, fx1 + 1, fy1 + 1)):
                continue
            air = min(
                (max(max(t[0] - here[2], here[0] - t[2]), max(t[1] - here[3], here[1] - t[3])) for t in taken),
                default=50.0,
            )
            # Near its parent, with air about it.
            middle = np.array([(here[0] + here[2]) / 2, (here[1] + here[3]) / 2])
            worth = min(air, 14.0) - (0.0 if home is None else 0.03 * float(np.linalg.norm(middle - home)))
            if air >= 4.0 and (best is None or worth > best[0]):
                best = (worth, (round(float(cx), 3), round(float(cy), 3)))
    return best[1] if best else None
