"""Which views beside the principal ones: a section, a half section, an auxiliary view, a detail, each with its reason."""

from dataclasses import dataclass

import numpy as np

from canonis.core.drafting.letters import next_letter
from canonis.core.drafting.new_views import auxiliary_of
from canonis.core.drafting.sectioning import section_of, triple
from canonis.core.drafting.seen import unseen_features
from canonis.core.features import Feature, Form, Hole, HoleGroup
from canonis.core.sheet import (
    SCALES,
    Detail,
    Opening,
    Parallel,
    Scene,
    Section,
    SheetDocument,
    SheetPage,
    Spot,
    View,
    Window,
    frame_of_view,
)
from canonis.core.sheet.views import Place
from canonis.core.solid import Face, Solid, Vec, face_reference
from canonis.core.tolerances import NOISE, SAME, on_axis, parallel, same, same_way, square
from canonis.core.view import frame_of

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
        f
        for f in solid.faces
        if f.inner
        and f.kind in ("cylinder", "cone", "torus")
        and parallel(f.axis, axis)
        and float(np.linalg.norm(np.cross(f.origin - holder.origin, axis))) < SAME
    ]
    frame = frame_of_view(view)
    if not inside or not square(axis, frame.toward):
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
        g
        for g in found.holes
        if any(s.kind != "rim" for s in (*g.first.seats, *g.first.far_seats)) or not g.first.through or g.first.grooves
    ]


def _bore_place(solid: Solid, hole: Hole) -> Place:
    return Place(ref=face_reference(solid.faces[hole.main_faces[0]]))


@dataclass(frozen=True, eq=False)
class _Inside:
    """Something inside the part: its name, a point of it, the direction it runs in, and a face that can hold a cut."""

    name: str
    point: Vec
    axis: Vec
    hold: Place | None
    reach: float


def _things(solid: Solid, groups: list[HoleGroup], forms: list[Form]) -> list[_Inside]:
    out = [_Inside(g.id, h.start, h.axis, _bore_place(solid, h), h.diameter) for g in groups for h in g.holes]
    return out + [_Inside(f.id, f.first.place, f.first.axis, None, 0.0) for f in forms]


def _lines(scene: Scene, parent: View, things: list[_Inside]) -> list[_Line]:
    """Cutting lines on one view: level and upright ones in whose plane something inside lies, and steps between two."""
    frame = frame_of_view(parent)
    origin = np.array(parent.origin)
    out: list[_Line] = []
    for k, across in ((0, frame.up), (1, frame.right)):
        rows: dict[float, list[_Inside]] = {}
        for thing in things:
            if square(thing.axis, across):
                rows.setdefault(round(float(thing.point @ across), 3), []).append(thing)
        near, far = Place(offset=-1.0), Place(offset=1.0)
        for level, row in rows.items():
            held = next((t.hold for t in row if t.hold is not None), None)
            held = held or Place(offset=round(level - float(origin @ across), 4))
            spots = (
                (Spot(x=near, y=held), Spot(x=far, y=held)) if k == 0 else (Spot(x=held, y=near), Spot(x=held, y=far))
            )
            out.append(_Line(parent, spots, "full", frozenset(t.name for t in row)))
        ended = {
            level: [t for t in row if t.hold is not None and parallel(t.axis, frame.toward)]
            for level, row in rows.items()
        }
        for one in ended.values():
            for other in ended.values():
                step = _step(parent, one, other, k) if one and other and one is not other else None
                if step is not None:
                    out.append(step)
    return out


def _step(parent: View, one: list[_Inside], other: list[_Inside], k: int) -> _Line | None:
    """A line that runs along one row and then, a step aside, along another; None where their holes stand abreast."""
    first_names, other_names = {t.name for t in one}, {t.name for t in other}
    if other_names <= first_names or first_names <= other_names:
        return None
    frame = frame_of_view(parent)
    way = frame.right if k == 0 else frame.up
    ends = max(float(t.point @ way) + t.reach for t in one)
    starts = min(float(t.point @ way) - t.reach for t in other)
    first, second = one[0].hold, other[0].hold
    if ends >= starts or first is None or second is None:
        return None
    bend = Place(offset=round((ends + starts) / 2 - float(np.array(parent.origin) @ way), 4))
    near, far = Place(offset=-1e4), Place(offset=1e4)
    course = [(near, first), (bend, first), (bend, second), (far, second)]
    spots = tuple(Spot(x=x, y=y) if k == 0 else Spot(x=y, y=x) for x, y in course)
    return _Line(parent, spots, "offset", frozenset(first_names | other_names))


def _sections(scene: Scene, found: Feature, page: SheetPage, views: list[View]) -> list[Section]:
    """The fewest cutting lines that show what is inside: each must show two things, or one that needs it alone."""
    solid = scene.solids[page.solid]
    unseen = set(unseen_features(scene, page, found))
    forms = [f for f in found.forms if f.id in unseen]
    alone = {g.id for g in _inner(found) if _telling(g)} | {f.id for f in forms}
    left = _things(solid, _inner(found), forms)
    flat = [v for v in views if isinstance(v, Parallel)]
    out: list[Section] = []
    document = scene.document
    while left and len(out) < _SECTIONS:
        lines = [line for v in flat for line in _lines(scene, v, left)]
        lines = [line for line in lines if len(line.shows) > 1 or line.shows & alone]
        # A cut on the front view lies beside it, where it is looked for first; a step costs a little. Of cuts that show as
        # much the one is better that runs along more axes: bosses and plain bores stand in it too.
        best = max(
            lines,
            key=lambda x: (
                len(x.shows)
                - (0.4 if x.form == "offset" else 0.0)
                + (0.1 if x.parent.kind == "front" else 0.0)
                + min(0.15 * _axes_in(scene, found, x), 0.6)
            ),
            default=None,
        )
        if best is None:
            break
        names = ", ".join(sorted(best.shows))
        many = "steps through" if best.form == "offset" else "runs through"
        reason = f"section: {many} {names}, whose inside no view from outside shows"
        made = section_of(
            scene,
            best.parent,
            best.spots,
            best.form,
            False,
            letter=next_letter(document),
            name=f"V{_number(document)}",
            reason=reason,
        )
        out.append(made)
        document = document.model_copy(update={"views": (*document.views, made)})
        left = [t for t in left if t.name not in best.shows]
    return out


def _axes_in(scene: Scene, found: Feature, line: _Line) -> int:
    """How many axes of bores and bosses lie in the plane of a straight cut."""
    if line.form != "full":
        return 0
    frame = frame_of_view(line.parent)
    points = np.array([scene.spot(line.parent, s) for s in line.spots])
    level = float(np.ptp(points[:, 1])) < NOISE
    across, at = (frame.up, float(points[0, 1])) if level else (frame.right, float(points[0, 0]))
    axes = [(h.start, h.axis) for g in found.holes for h in g.holes] + [(s.top, s.axis) for s in found.shafts]
    return sum(square(d, across) and same(float(p @ across), at) for p, d in axes)


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
    bottoms = {f for g in found.holes for h in g.holes for f in h.faces}
    for axis in [*(h.axis for g in found.holes for h in g.holes), *(s.axis for s in found.slots)]:
        if on_axis(axis) or any(parallel(axis, a) for a in axes):
            continue
        parent = next((v for v in views if isinstance(v, Parallel) and square(axis, frame_of_view(v).toward)), None)
        face = max(
            (f for f in solid.faces if f.kind == "plane" and same_way(f.axis, axis) and f.index not in bottoms),
            key=lambda f: f.area,
            default=None,
        )
        if parent is None or face is None:
            continue
        axes.append(axis)
        view = auxiliary_of(
            scene,
            parent,
            face_reference(face),
            face.axis,
            next_letter(document),
            name=f"V{_number(document)}",
            reason="auxiliary view: square to the sloped face, whose holes no principal view shows true",
        )
        out.append(_in_part(scene, view, solid, face))
        document = document.model_copy(update={"views": (*document.views, out[-1])})
    return out


def _in_part(scene: Scene, view: View, solid: Solid, face: Face) -> View:
    """An auxiliary view of its face alone."""
    from canonis.core.solid import edge_points

    frame = frame_of_view(view)
    points = np.vstack([frame.flat(edge_points(solid, e, 9)) for e in face.edges])
    low, high = points.min(axis=0), points.max(axis=0)
    margin = 0.08 * float((high - low).max())
    middle = (low + high) / 2 - frame.flat(np.array(view.origin))
    half = (high - low) / 2 + margin
    window = Window(
        form="box",
        centre=Spot(x=Place(offset=round(float(middle[0]), 4)), y=Place(offset=round(float(middle[1]), 4))),
        half=(round(float(half[0]), 4), round(float(half[1]), 4)),
    )
    return view.model_copy(update={"window": window})


def extra_views(scene: Scene, found: Feature, page: SheetPage) -> list[View]:
    """Sections and auxiliary views that a sheet needs beside its principal views."""
    solid = scene.solids[page.solid]
    views = [v for v in scene.document.views if v.sheet == page.number]
    sloped = _askew(scene, found, views, solid)
    document = scene.document.model_copy(update={"views": (*scene.document.views, *sloped)})
    wide = scene.on(document)
    opened = any(isinstance(v, Parallel) and v.openings for v in views)
    made: list[View] = [*sloped, *([] if opened else _sections(wide, found, page, views))]
    return [*made, *_far_faces(scene, made, found, page)]


def _far_faces(scene: Scene, made: list[View], found: Feature, page: SheetPage) -> list[View]:
    """Principal views from sides that no view looks at yet, where they alone show a feature."""
    document = scene.document.model_copy(update={"views": (*scene.document.views, *made)})
    out: list[View] = []
    front = next((v for v in document.views if v.kind == "front" and v.sheet == page.number), None)
    if front is None:
        return out
    for _ in range(2):
        now = scene.on(document)
        unseen = set(unseen_features(now, page, found))
        if not unseen:
            break
        have = {v.kind for v in document.views if v.sheet == page.number}
        best: tuple[int, View, SheetDocument] | None = None
        for kind in ("bottom", "right", "left", "back", "top"):
            if kind in have:
                continue
            frame = frame_of(kind, frame_of_view(front))
            view = Parallel(
                id=f"V{_number(document)}",
                sheet=page.number,
                kind=kind,
                scale=front.scale,
                origin=front.origin,
                at=front.at,  # type: ignore[arg-type]
                right=triple(frame.right),
                up=triple(frame.up),
                hidden=False,
                parent=front.id,
            )
            trial = document.model_copy(update={"views": (*document.views, view)})
            shows = unseen - set(unseen_features(scene.on(trial), page, found))
            if shows and (best is None or len(shows) > best[0]):
                reason = f"alone shows {', '.join(sorted(shows)[:6])} true"
                view = view.model_copy(update={"reason": reason})
                best = (len(shows), view, document.model_copy(update={"views": (*document.views, view)}))
        if best is None:
            break
        out.append(best[1])
        document = best[2]
    return out


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
        view = next((v for v in views if square(piece.axis, frame_of_view(v).toward)), None)
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
            id=f"V{_number(document)}",
            sheet=page.number,
            scale=scale,
            origin=view.origin,
            right=view.right,
            up=view.up,
            at=view.at,
            hidden=False,
            parent=view.id,
            aligned=False,
            letter=next_letter(document),
            window=Window(
                centre=Spot(x=Place(offset=round(float(flat[0]), 4)), y=Place(offset=round(float(flat[1]), 4))),
                half=(reach, reach),
            ),
            reason=f"detail: the groove {form.id} would be under {SMALL:g} mm on paper",
        )
        out.append(made)
        document = document.model_copy(update={"views": (*document.views, made)})
    return out
