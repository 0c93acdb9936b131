"""Compiled sheets and solids as plain data for the browser."""

from typing import Any
from weakref import WeakKeyDictionary

import numpy as np

from canonis.core.output.svg import picture_url, region_path, stroke_path
from canonis.core.sheet import (
    Auxiliary,
    LineStyle,
    Parallel,
    Pictorial,
    Picture,
    Region,
    Scene,
    Section,
    Stroke,
    Text,
    View,
    compile_sheet,
    dash_pattern,
    frame_of_view,
    lengthwise,
    scale_text,
    type_size,
    view_name,
    view_references,
)
from canonis.core.solid import Vec, edge_reference, face_reference
from canonis.core.tolerances import NOISE, parallel, same_place
from canonis.core.view import Projection

__all__ = ["screen_pages"]


def _n(x: float) -> float:
    return round(float(x), 3)


#: Pickable geometry in the plane of each projection met so far (kind, reference, points at 1:1).
_flat: WeakKeyDictionary[Projection, list[tuple[str, str, Vec]]] = WeakKeyDictionary()


def _flat_picks(scene: Scene, view: View) -> list[tuple[str, str, Vec]]:
    """Edges, points and centres of the visible lines of a view, nearest first, each place once."""
    seen = scene.projection(view)
    if seen in _flat:
        return _flat[seen]
    solid, frame = scene.solids[scene.solid_of(view.sheet)], frame_of_view(view)
    points = seen.outline_points
    out: list[tuple[str, str, Vec]] = []
    taken: set[tuple[Any, ...]] = set()

    def visible(p: Vec) -> bool:
        return bool(len(points)) and float(np.abs(points - p).max(axis=1).min()) < 0.02

    def fresh(*place: Any) -> bool:
        known = place in taken
        taken.add(place)
        return not known

    for edge in sorted(solid.edges, key=lambda e: (-float(e.middle @ frame.toward), e.index)):
        if edge.kind == "line" and edge.dihedral != "seam":
            ends = frame.flat(np.array([edge.start, edge.end]))
            key = tuple(np.round(np.sort(ends, axis=0).ravel(), 2))
            if same_place(ends[1], ends[0], NOISE) or not (visible(ends[0]) and visible(ends[1])):
                continue
            if not fresh(*key):
                continue
            out.append(("edge", edge_reference(edge), ends))
            for part, p in (("start", ends[0]), ("end", ends[1])):
                if fresh(round(float(p[0]), 2), round(float(p[1]), 2)):
                    out.append(("point", edge_reference(edge, part), p[None]))
        elif edge.kind == "circle" and parallel(edge.axis, frame.toward):
            centre = frame.flat(edge.centre)
            if seen.circle_at(centre, [edge.radius]) and fresh("centre", *np.round(centre, 2)):
                out.append(("centre", edge_reference(edge, "centre"), centre[None]))
    out += _cut_picks(scene, view, seen, fresh)
    _flat[seen] = out
    return out


def _cut_picks(scene: Scene, view: View, seen: Projection, fresh: Any) -> list[tuple[str, str, Vec]]:
    """Flat faces that a section cuts, by the line in which it cuts them."""
    if not seen.cut:
        return []
    solid = scene.solids[scene.solid_of(view.sheet)]
    out = []
    for line in seen.visible:
        if (
            line.kind == "line"
            and not line.edges
            and len(line.faces) == 1
            and solid.faces[line.faces[0]].kind == "plane"
        ):
            ends = line.points[[0, -1]]
            if fresh(*np.round(np.sort(ends, axis=0).ravel(), 2)):
                out.append(("edge", face_reference(solid.faces[line.faces[0]]), ends))
    return out


def _picks(scene: Scene, sheet: int) -> list[dict[str, Any]]:
    """What a dimension may be picked from, in paper mm; edges under 1 mm on paper are left out."""
    out: list[dict[str, Any]] = []
    for view in scene.document.views:
        if view.sheet != sheet or view.kind == "pictorial":
            continue
        for kind, ref, points in _flat_picks(scene, view):
            placed = scene.paper(view, points)
            if kind != "edge" or float(np.linalg.norm(placed[1] - placed[0])) >= 1.0:
                out.append({"view": view.id, "kind": kind, "ref": ref, "p": [_n(c) for c in placed.ravel()]})
    return out


def _view_entry(scene: Scene, view: View) -> dict[str, Any]:
    """What the list of views says of one."""
    lost = [r for r in view_references(view) if scene.resolution(view.sheet, r).status == "lost"]
    return {
        "id": view.id,
        "kind": view.kind,
        "name": view_name(view),
        "hidden": view.hidden,
        "transitions": view.transitions,
        "scale": view.scale,
        "scale_text": scale_text(view.scale),
        "label": view.label or "",
        "reason": view.reason,
        "aligned": view.aligned,
        "sheet": view.sheet,
        "parent": view.parent,
        "partial": getattr(view, "window", None) is not None,
        "opened": bool(getattr(view, "openings", ())),
        "lost": len(lost),
        "broken": bool(getattr(view, "breaks", ())),
        "shaded": isinstance(view, Pictorial) and view.shaded,
        "helices": view.helices,
        "threads": len(scene.marks[scene.solid_of(view.sheet)].threads),
        "ribs": isinstance(view, Section) and bool(lengthwise(scene, view)),
        "hatched": not getattr(view, "plain", ()),
        "parent_of": isinstance(view, Parallel | Section | Auxiliary),
        "principal": isinstance(view, Parallel),
    }


class _Plotter:
    """Gathers what a page on the screen is made of."""

    def __init__(self, height: float) -> None:
        self.height = height
        # One path a (owner, style, width): the page stays light enough to pan and drag without delay.
        self.lines: dict[tuple[str, LineStyle, float], list[str]] = {}
        self.filled: dict[str, list[str]] = {}
        self.pictures: list[dict[str, Any]] = []
        self.texts: list[dict[str, Any]] = []

    def picture(self, picture: Picture) -> None:
        x0, y0, x1, y1 = picture.box
        self.pictures.append(
            {
                "o": picture.owner,
                "x": _n(x0),
                "y": _n(self.height - y1),
                "w": _n(x1 - x0),
                "h": _n(y1 - y0),
                "href": picture_url(picture),
            }
        )

    def stroke(self, stroke: Stroke) -> None:
        key = (stroke.owner, stroke.style, stroke.width)
        self.lines.setdefault(key, []).append(stroke_path(stroke, self.height))

    def region(self, region: Region) -> None:
        self.filled.setdefault(region.owner, []).append(region_path(region, self.height))

    def text(self, text: Text) -> None:
        place = {"x": _n(text.x), "y": _n(self.height - text.y), "h": _n(type_size(text.height)), "a": -text.angle}
        self.texts.append({"o": text.owner, "t": text.text} | place)


def screen_pages(scene: Scene, picks: bool = True) -> list[dict[str, Any]]:
    """Every sheet as strokes (SVG path data, y down), regions, texts, views and pickable geometry."""
    drawing = compile_sheet(scene)
    out = []
    for page in drawing.pages:
        height = page.size_mm[1]
        plotter = _Plotter(height)
        page.plot(plotter)
        views = []
        for v in scene.document.views:
            if v.sheet == page.number:
                x0, y0, x1, y1 = scene.box(v)
                views.append(_view_entry(scene, v) | {"box": [_n(x0), _n(height - y1), _n(x1), _n(height - y0)]})
        spots = _picks(scene, page.number) if picks else []
        for spot in spots:
            spot["p"] = [c if k % 2 == 0 else _n(height - c) for k, c in enumerate(spot["p"])]
        out.append(
            {
                "number": page.number,
                "size": page.size,
                "width": page.size_mm[0],
                "height": height,
                "strokes": [
                    {"o": o, "s": style, "w": w, "dash": list(dash_pattern(style, w)), "d": "".join(d)}
                    for (o, style, w), d in plotter.lines.items()
                ],
                "regions": [{"o": o, "d": "".join(d)} for o, d in plotter.filled.items()],
                "pictures": plotter.pictures,
                "texts": plotter.texts,
                "views": views,
                "picks": spots,
            }
        )
    return out
