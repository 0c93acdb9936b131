"""A document brought together with its solids: where each reference stands in each view."""

from collections.abc import Callable, Hashable
from dataclasses import dataclass, field, replace
from functools import lru_cache
from typing import Any, TypeVar
from weakref import WeakKeyDictionary

import numpy as np
import shapely

from canonis.core.shape import mouth_of
from canonis.core.sheet.cutting_line import aligned_halves, section_clip
from canonis.core.sheet.datum import settled
from canonis.core.sheet.document import SheetDocument
from canonis.core.sheet.marks import BoreMark, Marks
from canonis.core.sheet.views import Auxiliary, Detail, Parallel, Pictorial, Place, Section, Spot, View, Window
from canonis.core.solid import Resolution, Solid, Vec, end_level, parse, resolve_all
from canonis.core.tolerances import NOISE, parallel, square
from canonis.core.view import (
    Clip,
    Frame2,
    Patch,
    Projection,
    Strip,
    Thread,
    ViewFrame,
    face_region,
    project,
    section,
    shortened,
    squeezed,
    stretched,
    together,
    windowed,
)

__all__ = [
    "BREAK_GAP",
    "Anchor",
    "Projections",
    "Scene",
    "build_scene",
    "frame_of_view",
    "projection_key",
    "view_references",
]

_NEAR = 0.02
_Kept = TypeVar("_Kept")


def frame_of_view(view: View) -> ViewFrame:
    """The directions of a stored view."""
    return _frame(view.right, view.up)


@lru_cache(maxsize=1024)
def _frame(right: tuple[float, float, float], up: tuple[float, float, float]) -> ViewFrame:
    return ViewFrame(np.array(right), np.array(up))


#: What a projection depends on besides the solid's bytes: the solid, the directions, what is cut off, whether threads are
#: drawn as modelled.
ProjectionKey = tuple[int, tuple[float, ...], Clip | None, bool]
#: The projections made so far.
Projections = dict[ProjectionKey, Projection]


def projection_key(solid: int, view: View, clip: Clip | None = None) -> ProjectionKey:
    """What a projection depends on besides the solid's bytes; hidden lines are always computed but for pictorials."""
    return solid, tuple(round(c, 9) for c in (*view.right, *view.up)), clip, view.helices


#: Parts of projections by their window or by what is broken out of them.
_parts: WeakKeyDictionary[Projection, dict[Frame2 | tuple[Strip, ...], Projection]] = WeakKeyDictionary()
#: Distance of the two break lines on paper, mm.
BREAK_GAP = 4.0


@dataclass(frozen=True)
class Anchor:
    """A reference in the plane of a view, mm at 1:1 from the view's origin; None where it fixes no level."""

    x: float | None
    y: float | None
    radius: float = 0.0

    def level(self, direction: str) -> float | None:
        """The level along `x` or `y`."""
        return self.x if direction == "x" else self.y


@dataclass(eq=False)
class Scene:
    """Everything a compiler, a layout or a picker needs to know of a document on its solids."""

    document: SheetDocument
    solids: tuple[Solid, ...]
    marks: tuple[Marks, ...]
    projections: Projections
    resolutions: dict[tuple[int, str], Resolution]
    #: Where references stand in the planes of views, by solid, directions and reference.
    anchors: dict[tuple[object, ...], "Anchor | None"] = field(default_factory=dict)
    #: What is worked out of this document, for as long as it is the scene's.
    memo: dict[tuple[object, ...], Any] = field(default_factory=dict, init=False, repr=False)

    def kept(self, what: Hashable, about: object, make: Callable[[], _Kept]) -> _Kept:
        """What is made of a thing on this document, made once; the thing is known by itself, not by what it is like."""
        key = (what, id(about))
        if key not in self.memo:
            # It is held here, so that no other takes its place.
            self.memo[key] = (about, make())
        made: _Kept = self.memo[key][1]
        return made

    def on(self, document: SheetDocument) -> "Scene":
        """The same solids and what was found of them, under another state of the document."""
        return replace(self, document=document)

    def solid_of(self, sheet: int) -> int:
        """Index of the solid that a sheet shows."""
        return next(p.solid for p in self.document.pages if p.number == sheet)

    def projection(self, view: View) -> Projection:
        """The clean lines of a view, made when they are first asked for."""
        return self.kept("projection", view, lambda: self._projected(view))

    def _projected(self, view: View) -> Projection:
        if isinstance(view, Detail):
            return self._part(self.projection(self.parent(view)), view, view.window)
        whole = self._whole(view)
        if isinstance(view, Parallel | Auxiliary) and view.window is not None:
            return self._part(whole, view, view.window)
        strips = self.strips(view)
        if strips:
            known = _parts.setdefault(whole, {})
            if strips not in known:
                known[strips] = shortened(whole, strips)
            return known[strips]
        return whole

    def _whole(self, view: View) -> Projection:
        index = self.solid_of(view.sheet)
        frame, solid, threads = frame_of_view(view), self.solids[index], self.threads(view)
        if isinstance(view, Section) and view.form == "aligned":
            halves = aligned_halves(view, self.parent(view), self.course(view))
            key = projection_key(index, view, halves.clips[0])
            key = (key[0], (*key[1], *halves.key), *key[2:])
            if key not in self.projections:
                one, other = (
                    section(solid, f, c, threads=threads) for f, c in zip(halves.frames, halves.clips, strict=True)
                )
                self.projections[key] = together(one, other, halves.shift)
            return self.projections[key]
        clip = self.clip(view)
        key = projection_key(index, view, clip)
        if key not in self.projections:
            self.projections[key] = (
                project(solid, frame, view.kind != "pictorial", threads=threads)
                if clip is None
                else section(solid, frame, clip, threads=threads)
            )
        return self.projections[key]

    def strips(self, view: View) -> tuple[Strip, ...]:
        """What breaks take out of a view, mm at 1:1; those whose levels no longer stand in order are left out."""
        if not isinstance(view, Parallel | Section) or not view.breaks:
            return ()
        frame = frame_of_view(view)
        out = []
        for b in view.breaks:
            way = frame.right if b.along == "x" else frame.up
            low, high = self.level(view, b.low, way), self.level(view, b.high, way)
            if (high - low) * view.scale > 2 * BREAK_GAP:
                out.append(Strip("xy".index(b.along), round(low, 9), round(high, 9)))
        return tuple(out)

    def threads(self, view: View) -> tuple[Thread, ...]:
        """The threads that a view draws by convention."""
        return () if view.helices else self.marks[self.solid_of(view.sheet)].threads

    def _part(self, whole: Projection, view: View, window: Window) -> Projection:
        frame = self.window(view, window)
        known = _parts.setdefault(whole, {})
        if frame not in known:
            known[frame] = windowed(whole, frame)
        return known[frame]

    def window(self, view: View, window: Window) -> Frame2:
        """A window in the plane of a view, mm at 1:1."""
        x, y = self.spot(view, window.centre)
        return Frame2(window.form == "circle", (round(x, 9), round(y, 9)), window.half)

    def parent(self, view: View) -> View:
        """The view that this one hangs on.

        Raises KeyError when it is gone.
        """
        return self.document.view(view.parent or "")

    def level(self, view: View, place: Place, direction: Vec) -> float:
        """A level along a unit direction, mm. A reference that the model has lost keeps the place it had."""
        if not place.ref:
            return float(np.array(view.origin) @ direction) + place.offset
        point = self.point(view.sheet, place.ref)
        if point is None:
            parsed = parse(place.ref)
            point = np.array(parsed.vectors[1 if parsed.kind == "plane" else 0])
        return float(point @ direction) + place.offset

    def course(self, view: Section) -> Vec:
        """The points (n×2, mm at 1:1) of a section's cutting line in the plane of its parent."""
        parent = self.parent(view)
        return np.array([self.spot(parent, s) for s in view.line])

    def spot(self, view: View, spot: Spot) -> tuple[float, float]:
        """A point in the plane of a view, mm at 1:1."""
        frame = frame_of_view(view)
        return self.level(view, spot.x, frame.right), self.level(view, spot.y, frame.up)

    def plain(self, view: View) -> shapely.Geometry:
        """What of the cut faces of a section belongs to features that are not hatched lengthwise, mm at 1:1."""
        if not isinstance(view, Section) or not view.plain:
            return shapely.Polygon()
        solid, frame = self.solids[self.solid_of(view.sheet)], frame_of_view(view)
        faces = [f for r in view.plain for f in self.resolution(view.sheet, r).faces]
        sides = [face_region(solid, f, frame) for f in faces if abs(float(solid.faces[f].axis @ frame.toward)) > 0.999]
        return shapely.union_all(sides) if sides else shapely.Polygon()

    def clip(self, view: View) -> Clip | None:
        """What a view cuts off; None when nothing."""
        if isinstance(view, Section):
            return section_clip(view, self.parent(view), self.course(view))
        if isinstance(view, Parallel) and view.openings:
            frame = frame_of_view(view)
            return Clip(
                tuple(
                    Patch(tuple(self.spot(view, s) for s in o.outline), self.level(view, o.depth, frame.toward))
                    for o in view.openings
                )
            )
        return None

    def origin(self, view: View) -> Vec:
        """The view's origin in the plane of the projection, mm at 1:1; a detail's is the middle of what it shows."""
        return self.kept("origin", view, lambda: self._origin(view))

    def _origin(self, view: View) -> Vec:
        if isinstance(view, Detail):
            return np.array(self.spot(view, view.window.centre))
        return frame_of_view(view).flat(np.array(view.origin))

    def broken_ends(self, view: View) -> list[tuple[Strip, Vec]]:
        """For each side of each break the places (n×2, mm at 1:1) where lines of the view end at it."""
        ends = np.vstack([np.zeros((0, 2)), *(line.polyline(0.01)[[0, -1]] for line in self.projection(view).visible)])
        rows = [
            (s, ends[np.abs(ends[:, s.along] - level) < NOISE]) for s in self.strips(view) for level in (s.low, s.high)
        ]
        return [(s, at) for s, at in rows if len(at)]

    def box(self, view: View) -> tuple[float, float, float, float]:
        """Outline box of a view on paper, mm."""
        x0, y0, x1, y1 = self.projection(view).box
        low, high = self.paper(view, np.array([[x0, y0], [x1, y1]]))
        return (float(low[0]), float(low[1]), float(high[0]), float(high[1]))

    def paper(self, view: View, points: Vec) -> Vec:
        """Points of the projection's plane (n×2, 1:1) on paper."""
        return self._closed(view, np.asarray(points)) * view.scale + np.array(view.at)

    def _closed(self, view: View, points: Vec) -> Vec:
        """Points of the projection's plane from the view's origin, with breaks closed up, mm at 1:1."""
        origin = self.origin(view)
        strips = self.strips(view)
        if not strips:
            return np.asarray(points - origin)
        moved = squeezed(np.vstack([origin, points]), strips, BREAK_GAP / view.scale)
        return np.asarray(moved[1:] - moved[0])

    def plane(self, view: View, points: Vec) -> Vec:
        """Points on paper (n×2) in the projection's plane, mm at 1:1."""
        flat = (np.asarray(points) - np.array(view.at)) / view.scale
        origin = self.origin(view)
        strips = self.strips(view)
        if not strips:
            return np.asarray(flat + origin)
        gap = BREAK_GAP / view.scale
        return stretched(flat + squeezed(origin[None], strips, gap), strips, gap)

    def bore_at(self, sheet: int, face: int) -> BoreMark | None:
        """The bore whose wall is this face."""
        return self.marks[self.solid_of(sheet)].bores.get(face)

    def resolution(self, sheet: int, ref: str) -> Resolution:
        """What became of a reference on the sheet's solid."""
        index = self.solid_of(sheet)
        if (index, ref) not in self.resolutions:
            self.resolutions[(index, ref)] = resolve_all([ref], self.solids[index])[ref]
        return self.resolutions[(index, ref)]

    def point(self, sheet: int, ref: str) -> Vec | None:
        """A point of the referenced geometry in the solid's axes: axis middle, face middle, vertex."""
        solid = self.solids[self.solid_of(sheet)]
        found = self.resolution(sheet, ref)
        parsed = parse(ref)
        if found.status == "lost":
            return None
        if parsed.kind == "fixed":
            return np.array(parsed.vectors[0])
        if parsed.kind == "extreme":
            d = np.array(parsed.vectors[0])
            return d * end_level(solid, d)
        if found.faces:
            face = solid.faces[found.faces[0]]
            if parsed.kind == "mouth":
                opened = mouth_of(solid, face.index, np.array(parsed.vectors[2]))
                return None if opened is None else opened[1]
            if face.kind in ("cylinder", "cone"):
                out = np.array(parsed.vectors[2]) * face.radius if parsed.kind.endswith("-side") else 0.0
                return np.asarray(face.origin + face.axis * (face.span[0] + face.span[1]) / 2 + out)
            return face.origin if face.kind in ("torus", "sphere") else face.centre
        if found.edges:
            edge = solid.edges[found.edges[0]]
            if parsed.kind == "circle":
                return edge.centre
            if parsed.kind == "line":
                return edge.middle
            wanted = np.array(parsed.vectors[0])
            return min((edge.start, edge.end, edge.middle), key=lambda p: float(np.linalg.norm(p - wanted)))
        return None

    def anchor(self, view: View, ref: str) -> Anchor | None:
        """Where a reference fixes a level in a view, or None when it is lost or fixes none there."""
        if isinstance(view, Section) and view.form == "aligned":
            return self._anchor(view, ref)
        key = (self.solid_of(view.sheet), view.right, view.up, ref)
        if key not in self.anchors:
            self.anchors[key] = self._anchor(view, ref)
        return self.anchors[key]

    def _anchor(self, view: View, ref: str) -> Anchor | None:
        point = self.point(view.sheet, ref)
        if point is None:
            return None
        frame = frame_of_view(view)
        if (
            isinstance(view, Section)
            and view.form == "aligned"
            and not aligned_halves(view, self.parent(view), self.course(view)).stays(point)
        ):
            # It stands in the leg that was turned: its levels are not those of the part.
            return None
        parsed = parse(ref)
        x, y = (float(c) for c in frame.flat(point))
        if parsed.kind in ("plane", "extreme"):
            normal = np.array(parsed.vectors[0])
            along_x, along_y = parallel(normal, frame.right), parallel(normal, frame.up)
            return Anchor(x, None) if along_x else Anchor(None, y) if along_y else None
        if parsed.kind == "line":
            d = np.array(parsed.vectors[1]) - np.array(parsed.vectors[0])
            d = d / max(float(np.linalg.norm(d)), 1e-12)
            return Anchor(x if square(d, frame.right) else None, y if square(d, frame.up) else None)
        if parsed.kind in ("point", "fixed", "mouth"):
            return Anchor(x, y)
        if parsed.kind == "free":
            return None
        if parsed.kind == "sphere":
            return Anchor(x, y, self.radius(view.sheet, ref))
        if parsed.kind.endswith("-side"):
            way = np.array(parsed.vectors[2])
            along_x, along_y = parallel(way, frame.right), parallel(way, frame.up)
            return Anchor(x, None) if along_x else Anchor(None, y) if along_y else None
        axis = np.array(parsed.vectors[1])
        radius = self.radius(view.sheet, ref)
        if parallel(axis, frame.toward):
            return Anchor(x, y, radius)
        if parsed.kind in ("circle", "torus") and square(axis, frame.toward):
            # A circle seen from the side has a place along its axis as well, a ring that of its middle.
            return Anchor(x, y, 0.0)
        # An axis seen from the side fixes the level across it.
        across_x, across_y = square(axis, frame.right), square(axis, frame.up)
        return Anchor(x if across_x else None, y if across_y else None, radius)

    def radius(self, sheet: int, ref: str) -> float:
        """Present radius of the referenced round geometry, mm (0 where it has none)."""
        found = self.resolution(sheet, ref)
        solid = self.solids[self.solid_of(sheet)]
        if found.faces:
            face = solid.faces[found.faces[0]]
            return face.minor if face.kind == "torus" else face.radius
        return solid.edges[found.edges[0]].radius if found.edges else 0.0

    def foot(self, view: View, direction: str, level: float, side: str, anchor: Anchor) -> Vec:
        """Where an extension line starts, on paper: at the visible outline nearest the row, or at a centre."""
        if anchor.x is not None and anchor.y is not None:
            return self.paper(view, np.array([[anchor.x, anchor.y]]))[0]
        across = 1 if direction == "x" else 0
        outward = 1.0 if side in ("above", "right") else -1.0
        points = self.projection(view).outline_points
        near = points[np.abs(points[:, 1 - across] - level) < _NEAR, across]
        best = float((near * outward).max() * outward) if len(near) else None
        if best is None:
            box = self.projection(view).box
            best = box[across + 2] if outward > 0 else box[across]
        p = np.zeros(2)
        p[1 - across], p[across] = level, best
        return self.paper(view, p[None])[0]


def view_references(view: View) -> list[str]:
    """What the place and the cuts of a view are held by."""
    spots: list[Spot] = []
    places: list[Place] = []
    if isinstance(view, Section):
        spots += view.line
    if isinstance(view, Section | Parallel):
        places += [p for b in view.breaks for p in (b.low, b.high)]
    if isinstance(view, Parallel):
        spots += [s for o in view.openings for s in o.outline]
        places += [o.depth for o in view.openings]
    window = None if isinstance(view, Section | Pictorial) else view.window
    if window is not None:
        spots.append(window.centre)
    refs = [p.ref for p in (*places, *(p for s in spots for p in (s.x, s.y))) if p.ref]
    if isinstance(view, Section):
        refs += view.plain
    if isinstance(view, Auxiliary):
        refs.append(view.face)
    return refs


def build_scene(
    document: SheetDocument,
    solids: tuple[Solid, ...],
    marks: tuple[Marks, ...],
    projections: Projections,
) -> Scene:
    """Resolve every reference of the document on its solids, its datums among them."""
    document = settled(document, solids)
    resolutions: dict[tuple[int, str], Resolution] = {}
    for page in document.pages:
        texts = [r for a in document.annotations if a.sheet == page.number for r in a.refs]
        texts += [r for v in document.views if v.sheet == page.number for r in view_references(v)]
        texts += [t for a in document.annotations if a.sheet == page.number and (t := getattr(a, "target", ""))]
        for text, found in resolve_all(texts, solids[page.solid]).items():
            resolutions[(page.solid, text)] = found
    return Scene(document, solids, marks, projections, resolutions)
