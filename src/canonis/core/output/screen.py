"""Compiled sheets and solids as plain data for the browser."""

from typing import Any

import numpy as np

from canonis.core.output.svg import stroke_path
from canonis.core.sheet.compile import compile_sheet
from canonis.core.sheet.glyphs import type_size
from canonis.core.sheet.scene import Scene, frame_of_view
from canonis.core.sheet.strokes import dash_pattern
from canonis.core.solid.references import edge_reference

__all__ = ["screen_pages"]


def _n(x: float) -> float:
    return round(float(x), 3)


def _picks(scene: Scene, sheet: int) -> list[dict[str, Any]]:
    """Edges, points and centres of visible lines that a dimension may be picked from; paper mm, y down later."""
    out: list[dict[str, Any]] = []
    for view in scene.document.views:
        if view.sheet != sheet or view.kind == "pictorial":
            continue
        solid, frame = scene.solids[scene.solid_of(sheet)], frame_of_view(view)
        points = scene.projection(view).outline_points
        seen_at: set[tuple[Any, ...]] = set()

        def visible(p: Any, points: Any = points) -> bool:
            return bool(len(points)) and float(np.abs(points - p).max(axis=1).min()) < 0.02

        depth_order = sorted(solid.edges, key=lambda e: (-float(e.middle @ frame.toward), e.index))
        for edge in depth_order:
            if edge.kind == "line" and edge.dihedral != "seam":
                a, b = frame.flat(np.array([edge.start, edge.end]))
                key = tuple(np.round(np.sort(np.array([a, b]), axis=0).ravel(), 2))
                if float(np.linalg.norm(b - a)) * view.scale < 1.0 or key in seen_at or not (visible(a) and visible(b)):
                    continue
                seen_at.add(key)
                pa, pb = scene.paper(view, np.array([a, b]))
                out.append(
                    {"view": view.id, "kind": "edge", "ref": edge_reference(edge), "p": [_n(c) for c in (*pa, *pb)]}
                )
                for part, p in (("start", pa), ("end", pb)):
                    spot: tuple[float, ...] = (round(float(p[0]), 2), round(float(p[1]), 2))
                    if spot not in seen_at:
                        seen_at.add(spot)
                        out.append(
                            {
                                "view": view.id,
                                "kind": "point",
                                "ref": edge_reference(edge, part),
                                "p": [_n(c) for c in p],
                            }
                        )
            elif edge.kind == "circle" and abs(float(edge.axis @ frame.toward)) > 1 - 1e-6:
                centre = frame.flat(edge.centre)
                spot = (round(float(centre[0]), 2), round(float(centre[1]), 2), 0.5)
                if spot in seen_at or not scene.projection(view).circle_at(centre, [edge.radius]):
                    continue
                seen_at.add(spot)
                p = scene.paper(view, centre[None])[0]
                out.append(
                    {"view": view.id, "kind": "centre", "ref": edge_reference(edge, "centre"), "p": [_n(c) for c in p]}
                )
    return out


def screen_pages(scene: Scene, picks: bool = True) -> list[dict[str, Any]]:
    """Every sheet as strokes (SVG path data, y down), regions, texts, views and pickable geometry."""
    drawing = compile_sheet(scene)
    out = []
    for page in drawing.pages:
        height = page.size_mm[1]
        # One path a (owner, style, width): the page stays light enough to pan and drag without delay.
        groups: dict[tuple[str, str, float], list[str]] = {}
        for s in page.strokes:
            groups.setdefault((s.owner, s.style, s.width), []).append(stroke_path(s, height))
        filled: dict[str, list[str]] = {}
        for r in page.regions:
            d = "M" + "L".join(f"{_n(p[0])} {_n(height - p[1])}" for p in r.points) + "Z"
            filled.setdefault(r.owner, []).append(d)
        views = []
        for v in scene.document.views:
            if v.sheet == page.number:
                x0, y0, x1, y1 = scene.box(v)
                views.append({"id": v.id, "kind": v.kind, "hidden": v.hidden, "scale": v.scale,
                              "box": [_n(x0), _n(height - y1), _n(x1), _n(height - y0)]})  # fmt: skip
        spots = _picks(scene, page.number) if picks else []
        for spot in spots:
            spot["p"] = [c if k % 2 == 0 else _n(height - c) for k, c in enumerate(spot["p"])]
        out.append({
            "number": page.number, "size": page.size, "width": page.size_mm[0], "height": height,
            "strokes": [{"o": o, "s": style, "w": w, "dash": list(dash_pattern(style, w)), "d": "".join(d)}  # type: ignore[arg-type]
                        for (o, style, w), d in groups.items()],
            "regions": [{"o": o, "d": "".join(d)} for o, d in filled.items()],
            "texts": [{"o": t.owner, "t": t.text, "x": _n(t.x), "y": _n(height - t.y), "h": _n(type_size(t.height)), "a": -t.angle}
                      for t in page.texts if t.text.strip()],
            "views": views, "picks": spots,
        })  # fmt: skip
    return out
