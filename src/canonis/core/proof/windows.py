"""Openings of straight sides that go through one wall with another behind it: sizes and places alone do not say how far they
go, so a view must show it."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from canonis.core.sheet import (
    Leader,
    Parallel,
    Scene,
    Section,
    SheetDocument,
    SheetPage,
    View,
    frame_of_view,
    view_references,
)
from canonis.core.solid import Edge, Face, Resolution, Solid, Vec, resolve_all
from canonis.core.tolerances import opposed, parallel, square

__all__ = ["OpenWall", "unshown"]

_SAME = 1e-6


@dataclass(frozen=True, eq=False)
class OpenWall:
    """An opening through a wall: its side faces, the unit way into the material, and its corners (n×3), mm in model axes."""

    sides: tuple[int, ...]
    way: Vec
    points: Vec

    @property
    def middle(self) -> Vec:
        """The middle of its box, mm."""
        return np.asarray((self.points.min(axis=0) + self.points.max(axis=0)) / 2)

    @property
    def far(self) -> float:
        """The level along its way at which it ends, mm."""
        return float((self.points @ self.way).max())


def unshown(
    document: SheetDocument, page: SheetPage, solid: Solid, found: Mapping[str, Resolution]
) -> tuple[OpenWall, ...]:
    """Openings through one wall of several of which no view of a page shows how far they go, and no note says it.

    `found` are the references of the page on its solid.
    """
    noted = {
        f
        for a in document.annotations
        if isinstance(a, Leader) and a.sheet == page.number
        for r in a.refs
        for f in found[r].faces
    }
    openings = _openings(solid)
    open_ = [w for w in openings if not noted & set(w.sides) and _closed_behind(w, openings, solid)]
    views = [v for v in document.views if v.sheet == page.number]
    return tuple(w for w in open_ if not any(_shows(document, solid, v, w) for v in views))


def _openings(solid: Solid) -> list[OpenWall]:
    made = (_opening(solid, face, loop) for face in solid.faces for loop in face.inner_loops)
    return [w for w in made if w is not None]


def _opening(solid: Solid, mouth: Face, loop: tuple[int, ...]) -> OpenWall | None:
    """The opening whose mouth a loop is; None for bosses, bores, blind ones and those whose sides lean."""
    edges = [solid.edges[e] for e in loop]
    if mouth.kind not in ("plane", "cylinder") or any(len(e.faces) != 2 or e.dihedral != "convex" for e in edges):
        return None
    sides = {f for e in edges for f in e.faces} - {mouth.index}
    flat = [solid.faces[f] for f in sides if solid.faces[f].kind == "plane"]
    way = _common_way(flat)
    if way is None or any(not _runs_along(solid.faces[f], way) for f in sides):
        return None
    rim = np.array([p for e in edges for p in (e.start, e.end, e.middle)])
    around = {e.index: e for f in sides for e in (solid.edges[i] for i in solid.faces[f].edges)}
    points = np.array([p for e in around.values() for p in (e.start, e.end, e.middle)])
    # Into the material: away from the mouth.
    if float((points.mean(axis=0) - rim.mean(axis=0)) @ way) < 0:
        way = -way
    ends = [e for e in around.values() if e.index not in loop and not set(e.faces) <= sides]
    if not ends or any(e.dihedral != "convex" for e in ends):
        return None
    return OpenWall(tuple(sorted(sides)), way, points)


def _common_way(flat: list[Face]) -> Vec | None:
    """The direction that all flat sides run along; None where they have none or more than one."""
    if len(flat) < 3:
        return None
    across = [np.cross(flat[0].axis, f.axis) for f in flat[1:]]
    widest = max(across, key=lambda c: float(np.linalg.norm(c)))
    length = float(np.linalg.norm(widest))
    return np.asarray(widest / length) if length > 0.1 else None


def _runs_along(face: Face, way: Vec) -> bool:
    if face.kind == "plane":
        return square(face.axis, way)
    return face.kind == "cylinder" and parallel(face.axis, way)


def _closed_behind(opening: OpenWall, others: list[OpenWall], solid: Solid) -> bool:
    """Whether material stands behind an opening, with no opening of the same outline through it."""
    for face in solid.faces:
        if face.kind == "plane" and opposed(face.axis, opening.way):
            level = float(face.origin @ opening.way)
            if level > opening.far + _SAME and _covers(solid, face, opening):
                return True
        if face.kind == "cylinder" and face.inner and square(face.axis, opening.way):
            # Across a tube the far wall is of the same round face as the near one.
            off = (opening.middle - face.origin) - face.axis * float((opening.middle - face.origin) @ face.axis)
            side = np.linalg.norm(off - opening.way * float(off @ opening.way))
            along = float((opening.middle - face.origin) @ face.axis)
            behind = float((face.origin - opening.middle) @ opening.way) > 0
            if behind and side < face.radius and face.span[0] < along < face.span[1]:
                return not any(_in_line(opening, w) for w in others)
    return False


def _in_line(opening: OpenWall, other: OpenWall) -> bool:
    """Whether another opening, farther along the way, has the middle of this one within its outline."""
    if other is opening or not parallel(other.way, opening.way):
        return False
    beyond = float(other.middle @ opening.way) > opening.far + _SAME
    return beyond and _inside(other.points, opening)


def _covers(solid: Solid, face: Face, opening: OpenWall) -> bool:
    """Whether the middle of an opening, moved along its way, meets a flat face between its border and its inner loops."""
    inner = {e for loop in face.inner_loops for e in loop}
    border = [solid.edges[e] for e in face.edges if e not in inner]
    if not _inside(_ends(border), opening):
        return False
    return not any(_inside(_ends([solid.edges[e] for e in loop]), opening) for loop in face.inner_loops)


def _ends(edges: list[Edge]) -> Vec:
    return np.array([p for e in edges for p in (e.start, e.end, e.middle)])


def _inside(points: Vec, opening: OpenWall) -> bool:
    """Whether the middle of an opening lies in the box of points, both seen along the opening's way."""
    if not len(points):
        return False
    first = np.eye(3)[int(np.argmin(np.abs(opening.way)))]
    u = np.cross(opening.way, first)
    plane = np.array([u, np.cross(opening.way, u)])
    flat, at = points @ plane.T, plane @ opening.middle
    return bool(np.all(flat.min(axis=0) < at) and np.all(at < flat.max(axis=0)))


def _shows(document: SheetDocument, solid: Solid, view: View, opening: OpenWall) -> bool:
    """Whether a view shows the sides of an opening from their side: by hidden lines, or because it is cut there."""
    frame = frame_of_view(view)
    if not square(frame.toward, opening.way):
        return False
    if isinstance(view, Parallel) and view.hidden and view.window is None:
        return True
    if not isinstance(view, Section) and not (isinstance(view, Parallel) and view.openings):
        return False
    index = next(p.solid for p in document.pages if p.number == view.sheet)
    refs = view_references(view) + [r for v in document.views if v.id == view.parent for r in view_references(v)]
    found = {(index, text): r for text, r in resolve_all(refs, solid).items()}
    solids = (solid,) * (index + 1)
    clip = Scene(document, solids, (), {}, found).clip(view)
    flat, levels = frame.flat(opening.middle[None, :]), opening.points @ frame.toward
    if clip is None:
        return False
    level = float(clip.ceiling(flat)[0])
    return float(levels.min()) < level < float(levels.max())
