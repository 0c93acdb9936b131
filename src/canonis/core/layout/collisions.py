"""Collisions counted from the compiled strokes: what a checker would send back."""

from typing import Any

import numpy as np
from shapely import STRtree
from shapely.geometry import LineString, Polygon, box

from canonis.core.sheet import (
    MUTE,
    CentreLine,
    CentreMark,
    Drawing,
    Leader,
    Linear,
    Note,
    Ordinate,
    Page,
    Picture,
    Region,
    Scene,
    Stroke,
    Text,
)
from canonis.core.solid import axis_of

__all__ = ["Shapes", "layout_report", "page_collisions"]

_DIMENSION_STYLES = ("narrow",)


class Shapes:
    """The outlines of texts and the lines of a page, each with what it is, to ask which meet."""

    def __init__(self, deflection: float = 0.02) -> None:
        """`deflection` is how far a chord may leave its arc, mm."""
        self.deflection = deflection
        self.texts: list[tuple[Text, Polygon]] = []
        self.lines: list[tuple[Stroke, LineString]] = []

    def picture(self, picture: Picture) -> None:
        """Nothing: a shade covers nothing."""

    def stroke(self, stroke: Stroke) -> None:
        """A line; a point is none."""
        points = stroke.polyline(self.deflection)
        if len(points) > 1:
            self.lines.append((stroke, LineString(points)))

    def region(self, region: Region) -> None:
        """Nothing: an arrowhead ends on a line."""

    def text(self, text: Text) -> None:
        """A text with its ink."""
        self.texts.append((text, Polygon(text.corners())))


def page_collisions(page: Page, crossings: bool = True) -> dict[str, list[tuple[str, str]]]:
    """Pairs of owners whose text meets text, text meets a line, and (`crossings`) leaders or extensions that cross."""
    held = Shapes()
    page.plot(held)
    texts, shapes = held.texts, [p for _, p in held.texts]
    strokes, lines = [s for s, _ in held.lines], [line for _, line in held.lines]
    out: dict[str, list[tuple[str, str]]] = {"text_on_text": [], "text_on_line": [], "crossings": []}
    if shapes:
        tree = STRtree(shapes)
        for i, j in zip(*tree.query(shapes, "intersects"), strict=True):
            if i < j:
                out["text_on_text"].append((texts[i][0].owner, texts[j][0].owner))
        for i, j in zip(*tree.query(lines, "intersects"), strict=True):
            out["text_on_line"].append((texts[j][0].owner, strokes[i].owner))
    thin = [(s, line) for s, line in zip(strokes, lines, strict=True) if s.style == "narrow" and s.owner != "title"]
    if thin and crossings:
        tree = STRtree([line for _, line in thin])
        for i, j in zip(*tree.query([line for _, line in thin], "crosses"), strict=True):
            if i < j and thin[i][0].owner != thin[j][0].owner:
                out["crossings"].append((thin[i][0].owner, thin[j][0].owner))
    return out


def _hidden_and_foreshortened(scene: Scene) -> tuple[list[str], list[str]]:
    """Dimensions whose level shows no visible line in their view, and those not seen at true length."""
    hidden, short = [], []
    for mark in scene.document.annotations:
        if isinstance(mark, (*MUTE, Note)) or mark.view is None:
            continue
        view = scene.document.view(mark.view)
        if view.kind == "pictorial":
            short.append(mark.id)
            continue
        if isinstance(mark, Linear | Ordinate):
            for ref in mark.refs:
                if scene.resolution(mark.sheet, ref).status == "lost":
                    continue
                anchor = scene.anchor(view, ref)
                level = None if anchor is None else anchor.level(mark.direction)
                if level is None:
                    short.append(mark.id)
                elif not {ref, axis_of(ref)} & _marked(scene, view.id) and not _level_seen(
                    scene, view, mark.direction, level, anchor
                ):
                    hidden.append(mark.id)
        elif isinstance(mark, Leader) and mark.kind == "hole" and not _rim_seen(scene, view, mark):
            hidden.append(mark.id)
    return sorted(set(hidden)), sorted(set(short))


def _rim_seen(scene: Scene, view: Any, mark: Leader) -> bool:
    """Whether some visible line passes within 0.05 mm of the leader's tip."""
    from canonis.core.sheet import leader_target

    target = leader_target(scene, view, mark.target or mark.refs[0])
    if target is None:
        return True
    tip = target.tip(np.array(view.at) + np.array(mark.at))
    ring = tip if target.radius <= 0 else None
    seen = scene.projection(view).visible
    flat = scene.plane(view, tip[None])[0]
    reach = (0.05 if ring is None else 3.0) / view.scale
    box_ = box(flat[0] - reach, flat[1] - reach, flat[0] + reach, flat[1] + reach)
    return any(LineString(line.polyline(0.005)).intersects(box_) for line in seen)


def _marked(scene: Scene, view: str) -> set[str]:
    """The axes that a view shows by centre marks and centre lines."""
    return {
        r
        for a in scene.document.annotations
        if a.view == view and isinstance(a, CentreMark | CentreLine)
        for r in a.refs
    }


def _level_seen(scene: Scene, view: Any, direction: str, level: float, anchor: Any) -> bool:
    k = 0 if direction == "x" else 1
    for line in scene.projection(view).visible:
        if anchor is not None and anchor.radius and line.kind == "arc":
            centre = (anchor.x, anchor.y)
            if centre[k] is not None and abs(line.centre[k] - level) < 0.02:
                return True
        if line.kind == "arc" and not line.edges and abs(line.centre[k] - level) < 0.02:
            # The tube of a ring that is cut or outlined: its middle.
            return True
        points = line.polyline(0.01)
        if float(np.abs(points[:, k] - level).min()) < 0.02:
            return True
    if anchor is not None and anchor.radius:
        # An axis seen from the side counts where both outlines of its cylinder are visible.
        sides = [level - anchor.radius, level + anchor.radius]
        lines = [x.points[:, k] for x in scene.projection(view).visible if x.kind == "line"]
        return all(any(float(np.abs(p - s).max()) < 0.02 for p in lines) for s in sides)
    return False


def layout_report(scene: Scene, drawing: Drawing) -> dict[str, Any]:
    """The `layout` entry of sheet.json, every figure counted from the compiled strokes."""
    totals: dict[str, list[tuple[str, str]]] = {"text_on_text": [], "text_on_line": [], "crossings": []}
    use = []
    for page in drawing.pages:
        for name, pairs in page_collisions(page).items():
            totals[name] += pairs
        used = 0.0
        for view in scene.document.views:
            if view.sheet == page.number:
                x0, y0, x1, y1 = scene.box(view)
                used += (x1 - x0) * (y1 - y0)
        use.append(round(used / (page.size_mm[0] * page.size_mm[1]), 3))
    hidden, short = _hidden_and_foreshortened(scene)
    return {
        "text_on_text": len(totals["text_on_text"]),
        "text_on_line": len(totals["text_on_line"]),
        "crossings": len(totals["crossings"]),
        "to_hidden": len(hidden),
        "foreshortened": len(short),
        "paper_use": use,
        "where": {
            "text_on_text": sorted(set(totals["text_on_text"])),
            "text_on_line": sorted(set(totals["text_on_line"])),
            "to_hidden": hidden,
            "foreshortened": short,
        },
    }
