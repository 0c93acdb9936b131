"""Views made, changed and taken away; each edit gives a new document and touches nothing else."""

import math
from collections.abc import Callable
from typing import Any

import numpy as np

from canonis.core.drafting.breaking import empty_stretch, with_break
from canonis.core.drafting.sectioning import form_of, on_plane, section_of, snap_levels, snapped, squared, triple
from canonis.core.drafting.view_commands import (
    AddAuxiliary,
    AddDetail,
    AddSection,
    AddView,
    OpenView,
    RemoveView,
    SetView,
    ShortenView,
    ViewCommand,
    ViewToSheet,
)
from canonis.core.faults import BadInput
from canonis.core.layout.free_spot import Rect, beside, elsewhere, taken_by
from canonis.core.layout.rows import place_rows
from canonis.core.sheet.compile import compile_annotation
from canonis.core.sheet.document import SheetDocument
from canonis.core.sheet.lengthwise import lengthwise
from canonis.core.sheet.scene import Scene, frame_of_view
from canonis.core.sheet.sizes import SCALES, look_of, parse_scale, size_mm
from canonis.core.sheet.strokes import Page
from canonis.core.sheet.views import (
    Auxiliary,
    Detail,
    Opening,
    Parallel,
    Pictorial,
    Place,
    Section,
    Spot,
    View,
    Window,
)
from canonis.core.solid.model import Vec
from canonis.core.solid.references import face_reference, parse
from canonis.core.view.frames import ViewFrame, frame_of

__all__ = ["BY_HAND", "LETTERS", "NoRoom", "apply_view_command", "auxiliary_of", "next_letter", "text_boxes"]

#: The reason of a view that somebody asked for.
BY_HAND = "asked for by hand"
#: Letters of sections, details and views by arrow; I, O and Q could be taken for others (ISO 128-3).
LETTERS = "ABCDEFGHJKLMNPRSTUVWXYZ"


class NoRoom(BadInput):
    """A view finds no free place on its sheet; `document` has it, without a place."""

    def __init__(self, message: str, document: SheetDocument) -> None:
        super().__init__(message)
        self.document = document


Scenes = Callable[[SheetDocument], Scene]


def _view(document: SheetDocument, name: str) -> View:
    try:
        return document.view(name)
    except KeyError:
        raise BadInput("That view is no longer on the sheet; reload to see the present one.") from None


def next_letter(document: SheetDocument) -> str:
    """The first letter that no view uses yet."""
    used = {getattr(v, "letter", "") for v in document.views}
    names = [*LETTERS, *(a + b for a in LETTERS for b in LETTERS)]
    return next(x for x in names if x not in used)


def _next_id(document: SheetDocument) -> str:
    return f"V{1 + max((int(v.id[1:]) for v in document.views if v.id[1:].isdigit()), default=0)}"


def text_boxes(scene: Scene, sheet: int) -> list[Rect]:
    """The boxes of all statements on a sheet, paper mm."""
    size = next(p.size for p in scene.document.pages if p.number == sheet)
    look = look_of(scene.document.style, size)
    page = Page(sheet, size, size_mm(size))
    for mark in scene.document.annotations:
        if mark.sheet == sheet:
            compile_annotation(page, scene, mark, look)
    out = []
    for text in page.texts:
        corners = text.corners()
        out.append((*corners.min(axis=0).tolist(), *corners.max(axis=0).tolist()))
    return [(a, b, c, d) for a, b, c, d in out]


def _placed(scenes: Scenes, document: SheetDocument, view: View, aligned: bool) -> SheetDocument:
    """The document with a new view in a free place.

    Raises BadInput when the sheet has none.
    """
    document = document.model_copy(update={"views": (*document.views, view)})
    scene = scenes(document)
    seen = scene.projection(view)
    if not seen.visible:
        raise BadInput("Nothing of the part is to be seen there; the sheet stays as it was.")
    # Rows make room for the letters on the parent before a free place is looked for.
    look = look_of(document.style, next(p.size for p in document.pages if p.number == view.sheet))
    rows = place_rows(scene, look)
    dressed = scene.on(
        document.model_copy(update={"annotations": tuple(rows.get(a.id, a) for a in document.annotations)})
    )
    taken = taken_by(scene, view.sheet, text_boxes(dressed, view.sheet), but=view.id)
    at = beside(scene, view, taken) if aligned else None
    stays = at is not None
    at = at or elsewhere(scene, view, taken)
    if at is None:
        raise NoRoom(
            "There is no room for that view on this sheet; take a larger sheet, a smaller scale or another sheet.",
            document,
        )
    made = view.model_copy(update={"at": at, "aligned": stays})
    return document.model_copy(update={"views": tuple(made if v.id == made.id else v for v in document.views)})


def _add_section(document: SheetDocument, scenes: Scenes, command: AddSection) -> SheetDocument:
    parent = _view(document, command.view)
    if isinstance(parent, Pictorial | Detail):
        raise BadInput("A section is taken from a view square to the part; choose another view.")
    scene = scenes(document)
    frame = frame_of_view(parent)
    if command.across is not None:
        page = next(p for p in document.pages if p.number == parent.sheet)
        way, other = (frame.right, frame.up) if command.across == "x" else (frame.up, frame.right)
        base = float(np.array(page.datum) @ way) + command.level - float(np.array(parent.origin) @ way)
        flat = np.zeros(2)
        k = 0 if command.across == "x" else 1
        flat[k] = base + float(np.array(parent.origin) @ way)
        flat[1 - k] = float(np.array(parent.origin) @ other)
        near = [row for row in snap_levels(scene, parent)[k] if abs(row[0] - flat[k]) < 1e-4]
        held = Place(ref=near[0][1]) if near else Place(offset=round(base, 6))
        ends = (Place(offset=-1.0), Place(offset=1.0))
        line = tuple(Spot(x=held, y=e) if k == 0 else Spot(x=e, y=held) for e in ends)
    else:
        levels = snap_levels(scene, parent)
        spots = [snapped(scene, parent, on_plane(scene, parent, p), levels) for p in command.points]
        line = squared(scene, parent, spots)
    made = section_of(
        scene,
        parent,
        line,
        command.form or form_of(scene, parent, line),
        command.turned,
        next_letter(document),
        _next_id(document),
        BY_HAND,
    )
    whole = scenes(document.model_copy(update={"views": (*document.views, made)}))
    if all(c.region.is_empty for c in whole.projection(made).cut):
        raise BadInput("That cutting line misses the part; draw it through the part.")
    return _placed(scenes, document, made, True)


def _add_detail(document: SheetDocument, scenes: Scenes, command: AddDetail) -> SheetDocument:
    parent = _view(document, command.view)
    if isinstance(parent, Pictorial | Detail):
        raise BadInput("A detail is taken from a view square to the part; choose another view.")
    scene = scenes(document)
    if command.levels is not None:
        page, frame = next(p for p in document.pages if p.number == parent.sheet), frame_of_view(parent)
        flat = frame.flat(np.array(page.datum)) + np.array(command.levels)
    elif command.at is not None:
        flat = on_plane(scene, parent, command.at)
    else:
        raise BadInput("A detail needs its middle: a point on the sheet, or its levels from the datum.")
    spot = snapped(scene, parent, flat, snap_levels(scene, parent))
    reach = command.radius / parent.scale
    if command.scale == "auto":
        wanted = 22.0 / reach
        steps = sorted(n / d for n, d in SCALES[document.style])
        scale = max((s for s in steps if parent.scale < s <= wanted), default=parent.scale * 2)
    else:
        scale = parse_scale(command.scale)
    made = Detail(
        id=_next_id(document), sheet=parent.sheet, scale=scale, origin=parent.origin, right=parent.right, up=parent.up,
        at=parent.at, hidden=False, transitions=parent.transitions, parent=parent.id, aligned=False, letter=next_letter(document),
        window=Window(form=command.form, centre=spot, half=(reach, reach)), reason=BY_HAND,
    )  # fmt: skip
    return _placed(scenes, document, made, False)


def auxiliary_of(
    scene: Scene, parent: View, face: str, normal: Vec, letter: str, name: str, reason: str = ""
) -> Auxiliary:
    """A view square to a face that its parent shows from the side."""
    frame = frame_of_view(parent)
    toward = normal / float(np.linalg.norm(normal))
    # Folded about the line in which the face is seen: what is toward the viewer of the parent lies across it.
    across = np.cross(frame.toward, toward)
    up = across / float(np.linalg.norm(across))
    made = ViewFrame(np.cross(up, toward), up)
    if abs(float(up @ frame.up)) < abs(float(made.right @ frame.up)):
        made = ViewFrame(up, np.cross(toward, up))
    if float(made.up @ frame.up) < -1e-9:
        made = ViewFrame(-made.right, -made.up)
    return Auxiliary(
        id=name, sheet=parent.sheet, scale=parent.scale, origin=parent.origin, right=triple(made.right), up=triple(made.up),
        at=parent.at, hidden=False, parent=parent.id, aligned=False, letter=letter, face=face, reason=reason,
    )  # fmt: skip


def _add_auxiliary(document: SheetDocument, scenes: Scenes, command: AddAuxiliary) -> SheetDocument:
    parent = _view(document, command.view)
    if isinstance(parent, Pictorial | Detail):
        raise BadInput("An auxiliary view is folded from a view square to the part; choose another view.")
    scene = scenes(document)
    frame = frame_of_view(parent)
    ref = parse(command.ref)
    solid = scene.solids[scene.solid_of(parent.sheet)]
    faces = []
    if ref.kind == "line":
        p, q = (np.array(v) for v in ref.vectors)
        for edge in solid.edges:
            if edge.kind == "line" and float(np.linalg.norm(edge.middle - (p + q) / 2)) < 1e-4:
                faces = [solid.faces[f] for f in edge.faces]
    elif ref.kind == "plane":
        faces = [f for f in solid.faces if f.kind == "plane" and face_reference(f) == command.ref]
    level = [f for f in faces if f.kind == "plane" and abs(float(f.axis @ frame.toward)) < 1e-6]
    sloped = [f for f in level if min(abs(float(f.axis @ frame.right)), abs(float(f.axis @ frame.up))) > 1e-6]
    if not sloped:
        raise BadInput("Pick an edge of a sloped face that this view shows from the side.")
    made = auxiliary_of(
        scene,
        parent,
        face_reference(sloped[0]),
        sloped[0].axis,
        next_letter(document),
        _next_id(document),
        BY_HAND,
    )
    return _placed(scenes, document, made, False)


def _add_view(document: SheetDocument, scenes: Scenes, command: AddView) -> SheetDocument:
    front = next((v for v in document.views if v.kind == "front" and v.sheet == command.sheet), None)
    if front is None:
        raise BadInput("That sheet has no front view to place another by.")
    frame = frame_of_view(front)
    shared: dict[str, Any] = {"id": _next_id(document), "sheet": command.sheet, "origin": front.origin, "at": front.at,
                              "reason": BY_HAND}  # fmt: skip
    if command.kind == "pictorial":
        turned = corner_frame(frame, command.corner, command.below)
        made: View = Pictorial(
            **shared, scale=front.scale / 2 if front.scale > 0.5 else front.scale, right=triple(turned.right), up=triple(turned.up),
            corner=command.corner, below=command.below, hidden=False, aligned=False,
        )  # fmt: skip
        return _placed(scenes, document, made, False)
    if any(v.kind == command.kind and v.sheet == command.sheet for v in document.views):
        raise BadInput(f"The {command.kind} view is on the sheet already.")
    turned = frame_of(command.kind, frame)
    made = Parallel(
        **shared,
        kind=command.kind,
        scale=front.scale,
        right=triple(turned.right),
        up=triple(turned.up),
        parent=front.id,
    )
    return _placed(scenes, document, made, True)


def corner_frame(front: ViewFrame, corner: str, below: bool) -> ViewFrame:
    """The isometric frame from a corner of the part, named from the front view, above or below it (ISO 5456-3)."""
    depth, side = corner.split("-")
    x = front.right * (1.0 if side == "right" else -1.0)
    z = front.toward * (1.0 if depth == "front" else -1.0)
    toward = (x + z + front.up * (-1.0 if below else 1.0)) / math.sqrt(3)
    right = np.cross(front.up, toward)
    right = right / float(np.linalg.norm(right))
    return ViewFrame(right, np.cross(toward, right))


def _open_view(document: SheetDocument, scenes: Scenes, command: OpenView) -> SheetDocument:
    view = _view(document, command.view)
    if not isinstance(view, Parallel):
        raise BadInput("Only a principal view is broken open; choose one.")
    if not command.points:
        return _with(document, view.model_copy(update={"openings": ()}))
    if len(command.points) < 3:
        raise BadInput("An outline to break a view open needs three points or more.")
    scene = scenes(document)
    frame = frame_of_view(view)
    flats = [on_plane(scene, view, p) for p in command.points]
    origin = scene.origin(view)
    outline = tuple(
        Spot(x=Place(offset=round(float(f[0] - origin[0]), 4)), y=Place(offset=round(float(f[1] - origin[1]), 4)))
        for f in flats
    )
    solid = scene.solids[scene.solid_of(view.sheet)]
    if command.depth is not None:
        near = float(np.where(frame.toward > 0, solid.box[1], solid.box[0]) @ frame.toward)
        depth = Place(offset=round(near - command.depth - float(np.array(view.origin) @ frame.toward), 6))
    else:
        depth = _axis_below(scene, view, np.mean(flats, axis=0))
    made = view.model_copy(update={"openings": (*view.openings, Opening(outline=outline, depth=depth))})
    whole = scenes(_with(document, made))
    if all(c.region.is_empty for c in whole.projection(made).cut):
        raise BadInput("Nothing is cut there; draw the outline over material or go deeper.")
    return _with(document, made)


def _shorten_view(document: SheetDocument, scenes: Scenes, command: ShortenView) -> SheetDocument:
    view = _view(document, command.view)
    if not isinstance(view, Parallel | Section):
        raise BadInput("Only principal views and sections are shortened; choose one.")
    if command.whole:
        return _with(document, view.model_copy(update={"breaks": ()}))
    scene, frame = scenes(document), frame_of_view(view)
    solid = scene.solids[scene.solid_of(view.sheet)]
    if command.levels is not None:
        page = next(p for p in document.pages if p.number == view.sheet)
        way = frame.right if command.along == "x" else frame.up
        base = float(np.array(page.datum) @ way)
        stretch: tuple[float, float] | None = (base + min(command.levels), base + max(command.levels))
    else:
        longest = max((frame.right, frame.up), key=lambda d: float(solid.size @ np.abs(d)))
        way, stretch = longest, empty_stretch(solid, longest)
    if stretch is None:
        raise BadInput("The part goes on the same nowhere for long; say from where to where it is to be broken.")
    made = with_break(view, stretch, way)
    trial = scene.on(_with(document, made))
    if not trial.strips(made):
        raise BadInput("That stretch is too short to save any room; take a longer one.")
    if not trial.projection(made).visible or len(trial.broken_ends(made)) < 2:
        raise BadInput("Nothing of the part crosses that break; set its two levels inside the view.")
    return _with(document, made)


def _axis_below(scene: Scene, view: View, flat: Vec) -> Place:
    """The level of the nearest axis that lies in the plane of the view; the middle of the part when there is none."""
    frame = frame_of_view(view)
    solid = scene.solids[scene.solid_of(view.sheet)]
    best: tuple[float, str] | None = None
    for face in solid.faces:
        if face.kind == "cylinder" and face.inner and abs(float(face.axis @ frame.toward)) < 1e-6:
            a = frame.flat(np.array([face.origin + face.axis * s for s in face.span]))
            d = a[1] - a[0]
            t = float(np.clip((flat - a[0]) @ d / max(float(d @ d), 1e-12), 0, 1))
            away = float(np.linalg.norm(a[0] + d * t - flat))
            if best is None or away < best[0]:
                best = (away, face_reference(face))
    return Place(ref=best[1]) if best else Place()


def _with(document: SheetDocument, view: View) -> SheetDocument:
    return document.model_copy(update={"views": tuple(view if v.id == view.id else v for v in document.views)})


def _hangs_on(document: SheetDocument, name: str) -> set[str]:
    """The view and all that hangs on it."""
    out = {name}
    while True:
        more = {v.id for v in document.views if v.parent in out and not isinstance(v, Parallel)} - out
        if not more:
            return out
        out |= more


def _remove_view(document: SheetDocument, command: RemoveView) -> SheetDocument:
    view = _view(document, command.id)
    gone = _hangs_on(document, view.id)
    left = tuple(v for v in document.views if v.id not in gone)
    if not any(isinstance(v, Parallel | Section) and v.sheet == view.sheet for v in left) and len(document.pages) == 1:
        raise BadInput("A sheet keeps at least one view; add another before this one goes.")
    marks = tuple(a for a in document.annotations if a.view not in gone)
    return document.model_copy(update={"views": left, "annotations": marks})


def _to_sheet(document: SheetDocument, scenes: Scenes, command: ViewToSheet) -> SheetDocument:
    view = _view(document, command.id)
    if view.sheet == command.sheet:
        return document
    source = next(p for p in document.pages if p.number == view.sheet)
    pages = document.pages
    if command.sheet not in {p.number for p in pages}:
        if command.sheet != max(p.number for p in pages) + 1:
            raise BadInput(f"The next new sheet is {max(p.number for p in pages) + 1}.")
        pages = (*pages, source.model_copy(update={"number": command.sheet}))
    target = next(p for p in pages if p.number == command.sheet)
    if target.solid != source.solid:
        raise BadInput("That sheet shows another solid; the view stays with its own.")
    if sum(v.sheet == view.sheet for v in document.views) == 1:
        raise BadInput("A sheet keeps at least one view; move another one there first.")
    width, height = size_mm(target.size)
    moved = view.model_copy(
        update={"sheet": command.sheet, "at": (round(width / 2, 3), round(height / 2, 3)), "aligned": False}
    )
    marks = tuple(
        a.model_copy(update={"sheet": command.sheet}) if a.view == view.id else a for a in document.annotations
    )
    others = tuple(v for v in document.views if v.id != view.id)
    document = document.model_copy(update={"pages": pages, "views": others, "annotations": marks})
    return _replaced(scenes, document, moved)


def _replaced(scenes: Scenes, document: SheetDocument, view: View) -> SheetDocument:
    trial = document.model_copy(update={"views": (*document.views, view)})
    scene = scenes(trial)
    at = elsewhere(scene, view, taken_by(scene, view.sheet, [], but=view.id))
    made = view.model_copy(update={"at": at}) if at else view
    return document.model_copy(update={"views": (*document.views, made)})


def _set_view(document: SheetDocument, scenes: Scenes, command: SetView) -> SheetDocument:
    view = _view(document, command.id)
    change: dict[str, Any] = {}
    if command.hatched is not None and isinstance(view, Section):
        change["plain"] = () if command.hatched else lengthwise(scenes(document), view)
    if command.shaded is not None and isinstance(view, Pictorial):
        change["shaded"] = command.shaded
    for name in ("hidden", "transitions", "aligned", "helices"):
        if getattr(command, name) is not None:
            change[name] = getattr(command, name)
    if command.label is not None:
        change["label"] = command.label.strip() or None
    if command.scale is not None:
        if isinstance(view, Parallel):
            raise BadInput("Principal views share the scale of their sheet; set that of the page.")
        change["scale"] = parse_scale(command.scale)
    if command.aligned is not None and isinstance(view, Parallel):
        # A view that leaves its place in the projection says by an arrow and a letter from where it is taken.
        front = next(
            (v for v in document.views if v.kind == "front" and v.sheet == view.sheet and v.id != view.id), None
        )
        change["letter"] = "" if command.aligned or front is None else view.letter or next_letter(document)
        change["parent"] = front.id if front is not None else None
    if command.window is not None:
        if isinstance(view, Section | Detail | Pictorial):
            raise BadInput("That view is not shown in part; take a detail of it.")
        change["window"] = _window(scenes(document), view, command.window) if command.window else None
    if command.turned is not None and isinstance(view, Section):
        parent = document.view(view.parent or "")
        again = section_of(
            scenes(document), parent, view.line, view.form, command.turned, view.letter, view.id, view.reason
        )
        change |= {"right": again.right, "up": again.up}
    document = _with(document, view.model_copy(update=change))
    if command.order is not None:
        others = [v for v in document.views if v.id != view.id]
        others.insert(min(command.order, len(others)), document.view(view.id))
        document = document.model_copy(update={"views": tuple(others)})
    return document


def _window(scene: Scene, view: View, box: tuple[float, ...]) -> Window:
    if len(box) != 4:
        raise BadInput("A partial view is a box of four numbers: left, bottom, right, top.")
    p, q = on_plane(scene, view, (box[0], box[1])), on_plane(scene, view, (box[2], box[3]))
    middle, half = (p + q) / 2, np.abs(q - p) / 2
    if float(half.min()) * view.scale < 2:
        raise BadInput("That box is too small to show anything; draw a larger one.")
    frame = frame_of_view(view)
    origin = frame.flat(np.array(view.origin))
    centre = Spot(
        x=Place(offset=round(float(middle[0] - origin[0]), 4)), y=Place(offset=round(float(middle[1] - origin[1]), 4))
    )
    return Window(form="box", centre=centre, half=(round(float(half[0]), 4), round(float(half[1]), 4)))


def apply_view_command(document: SheetDocument, command: ViewCommand, scenes: Scenes) -> SheetDocument:
    """The document after one edit of its views; `scenes` gives the scene of a document.

    Raises BadInput with one sentence when the edit cannot be carried out.
    """
    if isinstance(command, AddSection):
        return _add_section(document, scenes, command)
    if isinstance(command, AddDetail):
        return _add_detail(document, scenes, command)
    if isinstance(command, AddAuxiliary):
        return _add_auxiliary(document, scenes, command)
    if isinstance(command, AddView):
        return _add_view(document, scenes, command)
    if isinstance(command, ShortenView):
        return _shorten_view(document, scenes, command)
    if isinstance(command, OpenView):
        return _open_view(document, scenes, command)
    if isinstance(command, RemoveView):
        return _remove_view(document, command)
    if isinstance(command, ViewToSheet):
        return _to_sheet(document, scenes, command)
    return _set_view(document, scenes, command)
