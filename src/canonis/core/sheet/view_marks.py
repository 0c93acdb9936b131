"""What belongs to a view beside its lines: hatching, cutting line, detail outline, viewing arrow, caption, break line."""

from collections.abc import Iterator

import numpy as np
import shapely

from canonis.core.sheet import glyphs
from canonis.core.sheet.dimension_marks import figure_width
from canonis.core.sheet.document import Linear, Ordinate
from canonis.core.sheet.hatch import filled_outline, hatch_angle, hatch_lines, hatch_pitch, is_thin
from canonis.core.sheet.pen import Pen
from canonis.core.sheet.scene import Scene, frame_of_view
from canonis.core.sheet.sizes import Look, scale_text
from canonis.core.sheet.strokes import Picture, Region
from canonis.core.sheet.views import Auxiliary, Detail, Parallel, Pictorial, Section, View
from canonis.core.solid import Vec
from canonis.core.tolerances import NOISE, NOTHING
from canonis.core.view import shade

__all__ = [
    "caption_lines",
    "draw_breaks",
    "draw_caption",
    "draw_cut_faces",
    "draw_on_parent",
    "draw_open_edges",
    "draw_window",
]

#: How far a cutting line runs past the outline (its letters stand clear of the first row), and how long its wide ends
#: are, mm on paper.
PAST, WIDE = 4.5, 7.0
#: Room that the letter of a cutting line takes along it, mm.
LETTER = 7.0
#: Size of a dot of a shaded picture: 300 to the inch, mm on paper.
DOT = 25.4 / 300


def caption_lines(scene: Scene, view: View) -> tuple[str, ...]:
    """What stands under a view, line by line."""
    if view.label:
        return (view.label,)
    inch = scene.document.style == "asme"
    page = next(p for p in scene.document.pages if p.number == view.sheet)
    other = abs(view.scale - page.scale) > 1e-9 * page.scale
    scale = scale_text(view.scale)
    if isinstance(view, Section):
        if inch:
            return (f"SECTION {view.letter}-{view.letter}", *((f"SCALE {scale}",) if other else ()))
        return (f"{view.letter}–{view.letter}" + (f" ({scale})" if other else ""),)
    if isinstance(view, Detail):
        return (f"DETAIL {view.letter}", f"SCALE {scale}") if inch else (f"{view.letter} ({scale})",)
    letter = view.letter if isinstance(view, Auxiliary | Parallel) else ""
    if letter:
        return (f"VIEW {letter}" if inch else letter,)
    return ()


def _rows_below(scene: Scene, view: View, look: Look) -> float:
    """How far the rows under a view reach, mm: its caption stands below them."""
    deep = 0.0
    for mark in scene.document.annotations:
        if mark.view == view.id and isinstance(mark, Linear | Ordinate) and mark.side == "below":
            past = figure_width(mark, look) if isinstance(mark, Ordinate) else 1.0
            deep = max(deep, mark.row + 1.5 + past)
    return deep


def draw_caption(pen: Pen, scene: Scene, view: View, look: Look) -> None:
    """The caption, centred under the view."""
    x0, y0, x1, _ = scene.box(view)
    height = look.caption if isinstance(view, Section | Detail | Auxiliary) else look.text
    y = y0 - 4 - height - _rows_below(scene, view, look)
    for k, text in enumerate(caption_lines(scene, view)):
        size = height if k == 0 else look.text
        pen.text(text, (x0 + x1) / 2 - glyphs.width(text, size) / 2, y, size)
        y -= 1.6 * look.text


def _areas(*shapes: shapely.Geometry) -> shapely.Geometry:
    """The areas among shapes: what is cut out of another may leave lines and points beside them, which bound nothing."""
    parts = [p for s in shapes for p in shapely.get_parts(s) if p.geom_type == "Polygon" and not p.is_empty]
    return shapely.union_all(parts) if parts else shapely.Polygon()


def draw_cut_faces(pen: Pen, scene: Scene, view: View, look: Look) -> None:
    """Hatching of the cut faces; faces too thin for it are filled."""
    whole = _areas(*(c.region for c in scene.projection(view).cut))
    plain = _areas(scene.plain(view).intersection(whole))
    if not plain.is_empty:
        # Ribs and webs cut lengthwise are outlined, not hatched (ISO 128-3).
        whole = _areas(whole.difference(plain))
        for edge in shapely.get_parts(plain.boundary.intersection(whole.boundary)):
            if edge.geom_type == "LineString" and edge.length * view.scale > 0.2:
                pen.line(*scene.paper(view, np.asarray(edge.coords)), style="visible", width=look.wide)
    placed = shapely.transform(whole, lambda p: scene.paper(view, p))
    parts = [p for p in shapely.get_parts(placed) if p.geom_type == "Polygon" and p.area > NOISE]
    angle = hatch_angle(scene.solid_of(view.sheet))
    pitch = hatch_pitch(max((p.area for p in parts), default=0.0))
    middle = np.array(view.at)
    for part in parts:
        if is_thin(part):
            pen.page.regions.append(Region(pen.owner, filled_outline(part)))
            continue
        for line in hatch_lines(part, angle, pitch, middle):
            pen.line(line[0], line[1], style="hatch")


def draw_shade(pen: Pen, scene: Scene, view: View) -> None:
    """The shading of a pictorial, at print resolution."""
    if not isinstance(view, Pictorial) or not view.shaded:
        return
    solid = scene.solids[scene.solid_of(view.sheet)]
    (x0, y0, x1, y1), png = shade(solid, frame_of_view(view), DOT / view.scale)
    low, high = scene.paper(view, np.array([[x0, y0], [x1, y1]]))
    pen.page.pictures.append(Picture(view.id, (float(low[0]), float(low[1]), float(high[0]), float(high[1])), png))


def draw_open_edges(pen: Pen, scene: Scene, view: View) -> None:
    """The centre line at which a half section of a view stops (ISO 128-3), past both ends of the outline."""
    if not isinstance(view, Parallel):
        return
    x0, y0, x1, y1 = scene.box(view)
    for opening in view.openings:
        held = {("y", s.y) for s in opening.outline if s.y.ref} | {("x", s.x) for s in opening.outline if s.x.ref}
        frame = frame_of_view(view)
        for way, place in sorted(held, key=lambda h: (h[0], h[1].ref)):
            level = scene.level(view, place, frame.right if way == "x" else frame.up)
            at = scene.paper(view, np.array([[level, level]]))[0]
            if way == "y":
                pen.line((x0 - 3, at[1]), (x1 + 3, at[1]), style="centre")
            else:
                pen.line((at[0], y0 - 3), (at[0], y1 + 3), style="centre")


def draw_breaks(pen: Pen, scene: Scene, view: View) -> None:
    """The two thin lines with zigzags between which a long part is broken (ISO 128-3)."""
    for strip, at in scene.broken_ends(view) if scene.strips(view) else ():
        placed = scene.paper(view, at)
        across = 1 - strip.along
        low, high = float(placed[:, across].min()) - 2.5, float(placed[:, across].max()) + 2.5
        here, middle = float(placed[0, strip.along]), (low + high) / 2
        h = min(3.0, (high - low) / 6)
        course = [
            (0.0, low),
            (0.0, middle - h),
            (-1.1, middle - h / 3),
            (1.1, middle + h / 3),
            (0.0, middle + h),
            (0.0, high),
        ]
        pen.line(*((here + d, c) if strip.along == 0 else (c, here + d) for d, c in course))


def draw_on_parent(pen: Pen, scene: Scene, view: View, look: Look) -> None:
    """What a view puts on its parent: a section its cutting line, a detail its outline, a view by arrow its arrow."""
    if isinstance(view, Section):
        _cutting_line(pen, scene, view, look)
    elif isinstance(view, Detail):
        _detail_outline(pen, scene, view, look)
    elif isinstance(view, Auxiliary) or (isinstance(view, Parallel) and view.letter):
        _arrow(pen, scene, view, look)


def _shown_on(scene: Scene, view: View) -> View | None:
    """The parent, where it is on the same sheet."""
    parent = next((v for v in scene.document.views if v.id == view.parent), None)
    return parent if parent is not None and parent.sheet == view.sheet else None


def _cutting_line(pen: Pen, scene: Scene, view: Section, look: Look) -> None:
    parent = _shown_on(scene, view)
    if parent is None:
        return
    frame = frame_of_view(parent)
    points = scene.paper(parent, scene.course(view))
    toward = frame_of_view(view).toward
    # The arrows point the way one looks: away from the viewer of the section.
    look_at = -np.array([toward @ frame.right, toward @ frame.up])
    if float(np.linalg.norm(look_at)) < NOISE:
        return
    look_at = look_at / np.linalg.norm(look_at)
    x0, y0, x1, y1 = scene.box(parent)
    out = _through(points, (x0, y0, x1, y1), view.form == "half", _beside(scene, view, parent, points))
    pen.line(*out, style="cutting", width=pen.narrow)
    ends = [(0, 1), (len(out) - 1, len(out) - 2)]
    for end, inner in ends:
        d = out[inner] - out[end]
        d = d / max(float(np.linalg.norm(d)), 1e-9)
        pen.line(out[end], out[end] + d * WIDE, style="visible", width=look.wide)
        if view.form == "half" and end == len(out) - 1:
            continue
        tip, way = out[end], look_at
        if view.form == "aligned":
            # Each leg is looked at squarely, from the side of the first.
            square = np.array([-d[1], d[0]])
            way = square if float(square @ look_at) > 0 else -square
        tail = tip - way * (9.0 + _clear_of_rows(scene, parent, tip, way, look))
        pen.line(tail, tip - way * look.arrow * 0.8, width=look.narrow)
        pen.arrow(tip, way, look.arrow)
        w, h = glyphs.width(view.letter, look.caption), look.caption
        at = tail - way * (h * 0.75) - np.array([w / 2, h / 2])
        pen.text(view.letter, float(at[0]), float(at[1]), h)
    for k in range(1, len(out) - 1):
        for other in (k - 1, k + 1):
            d = out[other] - out[k]
            d = d / max(float(np.linalg.norm(d)), 1e-9)
            reach = min(WIDE / 2, float(np.linalg.norm(out[other] - out[k])) / 2)
            pen.line(out[k], out[k] + d * reach, style="visible", width=look.wide)


def _clear_of_rows(scene: Scene, parent: View, tip: Vec, way: Vec, look: Look) -> float:
    """How much longer the tail of a viewing arrow is so that its letter stands between the extension lines of a side, mm."""
    k = int(np.argmax(np.abs(way)))
    x0, y0, x1, y1 = scene.box(parent)
    low, high = ((x0, x1), (y0, y1))[1 - k]
    side = (("left", "right"), ("below", "above"))[1 - k][int(tip[1 - k] > (low + high) / 2)]
    lines = scene.kept("extension lines", parent, lambda: list(_extension_lines(scene, parent)))
    levels = [level for at, level, where in lines if at == k and where == side]
    for longer in (0.0, 1.5, 3.0, 4.5, 6.0, 8.0, 10.0, 12.0):
        centre = float(tip[k]) - float(way[k]) * (9.0 + longer + 0.75 * look.caption)
        if all(abs(level - centre) > look.caption / 2 + 0.7 for level in levels):
            return longer
    return 0.0


def _extension_lines(scene: Scene, parent: View) -> Iterator[tuple[int, float, str]]:
    """The extension lines of a view's lengths and ordinates: along x (0) or y (1), where on paper, and to which side."""
    for mark in scene.document.annotations:
        if not isinstance(mark, Linear | Ordinate) or mark.view != parent.id:
            continue
        for ref in mark.refs[-1:] if isinstance(mark, Ordinate) else mark.refs:
            anchor = scene.anchor(parent, ref)
            level = None if anchor is None else anchor.level(mark.direction)
            if level is not None:
                k = 0 if mark.direction == "x" else 1
                yield k, float(scene.paper(parent, np.array([[level, level]]))[0][k]), mark.side


def _beside(scene: Scene, view: Section, parent: View, points: Vec) -> float:
    """How much further a cutting line runs out because the letters of earlier ones stand where its own would, mm."""
    box = scene.box(parent)
    out = _through(points, box, view.form == "half", 0.0)
    near = 0
    for other in scene.document.views:
        if other.id == view.id:
            break
        if isinstance(other, Section) and other.parent == parent.id and other.sheet == view.sheet:
            theirs = _through(scene.paper(parent, scene.course(other)), box, other.form == "half", 0.0)
            apart = np.linalg.norm(out[[0, -1]][:, None] - theirs[[0, -1]][None], axis=2).min()
            near += bool(apart < 1.8 * LETTER)
    return near * LETTER


def _through(points: Vec, box: tuple[float, float, float, float], half: bool, further: float) -> Vec:
    """The course on paper with its ends past the outline of the parent; a half section's last end stays."""
    out = np.array(points, dtype=float)
    x0, y0, x1, y1 = box
    for end, inner in ((0, 1), (-1, -2)):
        if half and end == -1:
            continue
        d = out[end] - out[inner]
        d = d / max(float(np.linalg.norm(d)), 1e-9)
        reach = [
            ((x1 if d[0] > 0 else x0) - out[inner][0]) / d[0] if abs(d[0]) > NOTHING else np.inf,
            ((y1 if d[1] > 0 else y0) - out[inner][1]) / d[1] if abs(d[1]) > NOTHING else np.inf,
        ]
        out[end] = out[inner] + d * (max(0.0, min(reach)) + PAST + further)
    return out


def _detail_outline(pen: Pen, scene: Scene, view: Detail, look: Look) -> None:
    parent = _shown_on(scene, view)
    if parent is None:
        return
    window = scene.window(view, view.window)
    centre = scene.paper(parent, np.array([window.centre]))[0]
    half = np.array(window.half) * parent.scale
    if window.circle:
        pen.arc(centre, float(half[0]), width=pen.narrow)
        away = np.full(2, 0.7071 * (float(half[0]) + 1.2))
    else:
        (x, y), (w, h) = centre, half
        pen.line((x - w, y - h), (x + w, y - h), (x + w, y + h), (x - w, y + h), (x - w, y - h), width=pen.narrow)
        away = half + 1.2
    size = np.array([glyphs.width(view.letter, look.caption), look.caption])
    lines = list(_extension_lines(scene, parent))

    def crossed(corner: Vec) -> bool:
        return any(corner[k] - 0.7 < level < corner[k] + size[k] + 0.7 for k, level, _ in lines)

    # Up and to the right, or where no extension line runs through the letter.
    spots = [
        centre + np.array([x, y]) * away + np.minimum([x, y], 0) * size for x, y in ((1, 1), (-1, 1), (1, -1), (-1, -1))
    ]
    corner = next((s for s in spots if not crossed(s)), spots[0])
    pen.text(view.letter, float(corner[0]), float(corner[1]), look.caption)


def _arrow(pen: Pen, scene: Scene, view: Auxiliary | Parallel, look: Look) -> None:
    """The arrow that shows on the parent from where a view is taken, with its letter."""
    parent = _shown_on(scene, view)
    if parent is None:
        return
    frame = frame_of_view(parent)
    toward = frame_of_view(view).toward
    look_at = -np.array([toward @ frame.right, toward @ frame.up])
    if float(np.linalg.norm(look_at)) < NOISE:
        return
    look_at = look_at / np.linalg.norm(look_at)
    x0, y0, x1, y1 = scene.box(parent)
    target = np.array([(x0 + x1) / 2, (y0 + y1) / 2])
    if isinstance(view, Auxiliary):
        point = scene.point(view.sheet, view.face)
        if point is not None:
            target = scene.paper(parent, frame.flat(point)[None])[0]
    # From outside, clear of the outline.
    away = max(
        0.0,
        min(
            ((x0 if look_at[0] > 0 else x1) - target[0]) / -look_at[0] if abs(look_at[0]) > NOTHING else np.inf,
            ((y0 if look_at[1] > 0 else y1) - target[1]) / -look_at[1] if abs(look_at[1]) > NOTHING else np.inf,
        ),
    )
    tip = target - look_at * (min(away, 0.5 * away + 12.0) + 3.0)
    tail = tip - look_at * 12.0
    pen.line(tail, tip - look_at * look.arrow * 0.8, width=look.narrow)
    pen.arrow(tip, look_at, look.arrow)
    at = (
        tail
        - look_at * (look.caption * 0.8)
        - np.array([glyphs.width(view.letter, look.caption) / 2, look.caption / 2])
    )
    pen.text(view.letter, float(at[0]), float(at[1]), look.caption)


def draw_window(pen: Pen, scene: Scene, view: View) -> None:
    """The edge of what a detail or a partial view shows, a thin line where it runs through the part."""
    # An auxiliary view of a face shows all of it: its own outline is its edge.
    window = None if isinstance(view, Section | Auxiliary) else getattr(view, "window", None)
    if window is None:
        return
    frame = scene.window(view, window)
    centre = scene.paper(view, np.array([frame.centre]))[0]
    half = np.array(frame.half) * view.scale
    if frame.circle:
        pen.arc(centre, float(half[0]), width=pen.narrow)
        return
    (x, y), (w, h) = centre, half
    pen.line((x - w, y - h), (x + w, y - h), (x + w, y + h), (x - w, y + h), (x - w, y - h), width=pen.narrow)
