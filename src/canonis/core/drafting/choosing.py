"""Which views beside the principal ones: a section, a half section, an auxiliary view, a detail, each with its reason."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from canonis.core.drafting.view_edits import auxiliary_of, next_letter, section_of
from canonis.core.features.model import Feature, Hole, HoleGroup
from canonis.core.sheet.document import SheetDocument, SheetPage
from canonis.core.sheet.scene import Scene, frame_of_view
from canonis.core.sheet.sizes import SCALES
from canonis.core.sheet.views import Detail, Opening, Parallel, Place, Section, Spot, View, Window
from canonis.core.solid.model import Face, Solid, Vec
from canonis.core.solid.references import face_reference

__all__ = ["detail_views", "extra_views", "open_turned"]

#: What is smaller than this on paper asks for a detail, mm (FIELD_GUIDE.md, step 6).
SMALL = 3.0
#: At most so many sections and details are drawn unasked.
_SECTIONS, _DETAILS = 2, 2


def open_turned(solid: Solid, axis: Vec, holder: Face, view: Parallel) -> Parallel | None:
    """The front view of a turned part as a half section, when there is something inside; None when there is not.

    The half below the axis is cut, so that one view shows outside and inside; it stops at the centre line.
    """
    inside = [
        f for f in solid.faces
        if f.inner and f.kind in ("cylinder", "cone", "torus") and abs(float(f.axis @ axis)) > 1 - 1e-7
        and float(np.linalg.norm(np.cross(f.origin - holder.origin, axis))) < 1e-3
    ]  # fmt: skip
    frame = frame_of_view(view)
    if not inside or abs(float(axis @ frame.toward)) > 1e-6:
        return None
    ref = face_reference(holder)
    far = 2 * solid.diagonal
    level = Place(ref=ref)
    along_x = abs(float(axis @ frame.right)) > 0.999
    if along_x:
        outline = tuple(
            Spot(x=Place(offset=x), y=y)
            for x, y in ((-far, Place(offset=-far)), (far, Place(offset=-far)), (far, level), (-far, level))
        )
    else:
        outline = tuple(
            Spot(x=x, y=Place(offset=y))
            for x, y in ((level, -far), (Place(offset=far), -far), (Place(offset=far), far), (level, far))
        )
    reason = "half section: the bore inside is seen in one view with the outside; it stops at the centre line"
    return view.model_copy(
        update={"openings": (Opening(outline=outline, depth=level),), "hidden": False, "reason": reason}
    )


@dataclass(frozen=True)
class _Line:
    """A cutting line that is thought of: the parent, the course, what it shows."""

    parent: View
    spots: tuple[Spot, ...]
    form: str
    shows: frozenset[str]


def _inner(found: Feature) -> list[HoleGroup]:
    """Holes with something inside that no view from outside shows: seats, a blind end, a groove."""
    return [
        g for g in found.holes
        if any(s.kind != "rim" for s in (*g.first.seats, *g.first.far_seats)) or not g.first.through or g.first.grooves
    ]  # fmt: skip


def _bore_place(solid: Solid, hole: Hole) -> Place:
    return Place(ref=face_reference(solid.faces[hole.main_faces[0]]))


def _lines(scene: Scene, parent: View, groups: list[HoleGroup]) -> list[_Line]:
    """Cutting lines on one view: level and upright ones through the axes of holes, and steps between two."""
    frame = frame_of_view(parent)
    solid = scene.solids[scene.solid_of(parent.sheet)]
    members = [
        (g.id, h, frame.flat(h.start)) for g in groups for h in g.holes if abs(float(h.axis @ frame.toward)) > 1 - 1e-6
    ]
    out: list[_Line] = []
    for k in (0, 1):
        rows: dict[float, list[tuple[str, Hole, Vec]]] = {}
        for name, hole, at in members:
            rows.setdefault(round(float(at[1 - k]), 3), []).append((name, hole, at))
        far = Place(offset=1.0)
        for row in rows.values():
            held = _bore_place(solid, row[0][1])
            near = Place(offset=-1.0)
            spots = (
                (Spot(x=near, y=held), Spot(x=far, y=held)) if k == 0 else (Spot(x=held, y=near), Spot(x=held, y=far))
            )
            out.append(_Line(parent, spots, "full", frozenset(n for n, _, _ in row)))
        for a in rows.values():
            for b in rows.values():
                step = _step(solid, scene, parent, a, b, k)
                if step is not None:
                    out.append(step)
    return out


def _step(solid: Solid, scene: Scene, parent: View, a: list[Any], b: list[Any], k: int) -> _Line | None:
    """A line that runs along row `a` and then, one step aside, along row `b`; None where their holes stand abreast."""
    if {n for n, _, _ in b} <= {n for n, _, _ in a} or {n for n, _, _ in a} <= {n for n, _, _ in b}:
        return None
    ends_a = max(float(at[k]) + h.diameter for _, h, at in a)
    starts_b = min(float(at[k]) - h.diameter for _, h, at in b)
    if ends_a >= starts_b:
        return None
    frame = frame_of_view(parent)
    way = frame.right if k == 0 else frame.up
    bend = Place(offset=round((ends_a + starts_b) / 2 - float(np.array(parent.origin) @ way), 4))
    first, second = _bore_place(solid, a[0][1]), _bore_place(solid, b[0][1])
    near, far = Place(offset=-1e4), Place(offset=1e4)
    course = [(near, first), (bend, first), (bend, second), (far, second)]
    spots = tuple(Spot(x=x, y=y) if k == 0 else Spot(x=y, y=x) for x, y in course)
    return _Line(parent, spots, "offset", frozenset(n for n, _, _ in (*a, *b)))


def _sections(scene: Scene, found: Feature, views: list[View]) -> list[Section]:
    """The fewest cutting lines that show the inside of the holes: each must show two kinds of hole, or a deep one."""
    left = {g.id: g for g in _inner(found)}
    flat = [v for v in views if isinstance(v, Parallel)]
    out: list[Section] = []
    document = scene.document
    while left and len(out) < _SECTIONS:
        groups = list(left.values())
        lines = [line for v in flat for line in _lines(scene, v, groups)]
        worth = {line: len(line.shows) - (0.4 if line.form == "offset" else 0.0) for line in lines}
        best = max(lines, key=lambda line: worth[line], default=None)
        if best is None or (len(best.shows) < 2 and not any(_telling(left[n]) for n in best.shows)):
            break
        names = ", ".join(sorted(best.shows))
        many = "steps through" if best.form == "offset" else "runs through"
        reason = f"section: {many} {names}, whose seats and bottoms no view from outside shows"
        made = section_of(
            scene, best.parent, best.spots, best.form, False, next_letter(document), f"V{_number(document)}", reason
        )
        out.append(made)
        document = document.model_copy(update={"views": (*document.views, made)})
        left = {n: g for n, g in left.items() if n not in best.shows}
    return out


def _telling(group: HoleGroup) -> bool:
    """Whether one hole alone is worth a section: a stack of seats, seats at both ends, or grooves."""
    hole = group.first
    seats = [s for s in (*hole.seats, *hole.far_seats) if s.kind != "rim"]
    return bool(hole.grooves) or len(seats) > 1 or (bool(seats) and not hole.through)


def _number(document: SheetDocument) -> int:
    return 1 + max((int(v.id[1:]) for v in document.views if v.id[1:].isdigit()), default=0)


def _askew(scene: Scene, found: Feature, views: list[View], solid: Solid) -> list[View]:
    """Auxiliary views square to sloped faces that carry holes or slots."""
    document = scene.document
    out: list[View] = []
    axes: list[Vec] = []
    for axis in [*(h.axis for g in found.holes for h in g.holes), *(s.axis for s in found.slots)]:
        if float(np.abs(axis).max()) > 1 - 1e-6 or any(abs(float(axis @ a)) > 1 - 1e-6 for a in axes):
            continue
        parent = next(
            (v for v in views if isinstance(v, Parallel) and abs(float(axis @ frame_of_view(v).toward)) < 1e-6), None
        )
        face = max(
            (f for f in solid.faces if f.kind == "plane" and float(f.axis @ axis) > 1 - 1e-6),
            key=lambda f: f.area,
            default=None,
        )
        if parent is None or face is None:
            continue
        axes.append(axis)
        view = auxiliary_of(
            scene, parent, face_reference(face), face.axis, next_letter(document), f"V{_number(document)}",
            "auxiliary view: square to the sloped face, whose holes no principal view shows true",
        )  # fmt: skip
        out.append(_in_part(scene, view, solid, face))
        document = document.model_copy(update={"views": (*document.views, out[-1])})
    return out


def _in_part(scene: Scene, view: View, solid: Solid, face: Face) -> View:
    """An auxiliary view of its face alone."""
    from canonis.core.solid.probe import edge_points

    frame = frame_of_view(view)
    points = np.vstack([frame.flat(edge_points(solid, e, 9)) for e in face.edges])
    low, high = points.min(axis=0), points.max(axis=0)
    margin = 0.08 * float((high - low).max())
    middle = (low + high) / 2 - frame.flat(np.array(view.origin))
    half = (high - low) / 2 + margin
    window = Window(
        form="box", centre=Spot(x=Place(offset=round(float(middle[0]), 4)), y=Place(offset=round(float(middle[1]), 4))),
        half=(round(float(half[0]), 4), round(float(half[1]), 4)),
    )  # fmt: skip
    return view.model_copy(update={"window": window})


def extra_views(scene: Scene, found: Feature, page: SheetPage) -> list[View]:
    """Sections and auxiliary views that a sheet needs beside its principal views."""
    solid = scene.solids[page.solid]
    views = [v for v in scene.document.views if v.sheet == page.number]
    sloped = _askew(scene, found, views, solid)
    document = scene.document.model_copy(update={"views": (*scene.document.views, *sloped)})
    wide = Scene(document, scene.solids, scene.bores, scene.projections, scene.resolutions)
    opened = any(isinstance(v, Parallel) and v.openings for v in views)
    return [*sloped, *([] if opened else _sections(wide, found, views))]


def detail_views(scene: Scene, found: Feature, page: SheetPage) -> list[Detail]:
    """Details of grooves too small to be read at the scale of the sheet."""
    solid = scene.solids[page.solid]
    document = scene.document
    views = [v for v in document.views if v.sheet == page.number and isinstance(v, Parallel | Section)]
    out: list[Detail] = []
    for form in found.forms:
        if form.kind != "groove" or len(out) >= _DETAILS:
            continue
        width = float(form.first.data.get("width_mm") or 0.0)
        piece = form.first
        view = next((v for v in views if abs(float(piece.axis @ frame_of_view(v).toward)) < 1e-6), None)
        if view is None or not 0 < width * page.scale < SMALL:
            continue
        deep = float(piece.data.get("depth_mm") or width)
        frame = frame_of_view(view)
        bottom = next((solid.faces[f] for f in piece.faces if solid.faces[f].kind in ("cylinder", "torus")), None)
        if bottom is None:
            continue
        spoke = frame.up if abs(float(piece.axis @ frame.right)) > 0.5 else frame.right
        middle = bottom.origin + bottom.axis * sum(bottom.span) / 2 if bottom.kind == "cylinder" else bottom.origin
        flat = frame.flat(middle + spoke * (bottom.radius + deep / 2)) - frame.flat(np.array(view.origin))
        reach = 1.1 * max(width, deep) + 0.6
        steps = sorted(n / d for n, d in SCALES[document.style])
        scale = max((s for s in steps if page.scale < s <= 20.0 / reach), default=2 * page.scale)
        made = Detail(
            id=f"V{_number(document)}", sheet=page.number, scale=scale, origin=view.origin, right=view.right, up=view.up, at=view.at,
            hidden=False, parent=view.id, aligned=False, letter=next_letter(document),
            window=Window(centre=Spot(x=Place(offset=round(float(flat[0]), 4)), y=Place(offset=round(float(flat[1]), 4))), half=(reach, reach)),
            reason=f"detail: the groove {form.id} would be under {SMALL:g} mm on paper",
        )  # fmt: skip
        out.append(made)
        document = document.model_copy(update={"views": (*document.views, made)})
    return out
