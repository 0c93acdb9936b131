"""The first complete draft of a solid: views, statements and their places, unasked."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from canonis.core.drafting.breaking import with_breaks
from canonis.core.drafting.choosing import detail_views, extra_views, open_turned
from canonis.core.drafting.completing import Datum, complete
from canonis.core.drafting.dimensions import Planner
from canonis.core.drafting.front import choose_front, turned_axis
from canonis.core.drafting.locating import Locations, located
from canonis.core.drafting.notes import write_notes
from canonis.core.drafting.seen import feature_views, spare_views
from canonis.core.drafting.twice import say_once
from canonis.core.faults import BadInput
from canonis.core.features.marks import marks_of
from canonis.core.features.model import Feature, Hole
from canonis.core.features.recognise import recognise
from canonis.core.layout.arrange import arrange
from canonis.core.quantity.units import Unit
from canonis.core.quantity.written import write_mass
from canonis.core.sheet.document import (
    MUTE,
    Annotation,
    Notation,
    Note,
    SheetDocument,
    SheetPage,
    TitleBlock,
)
from canonis.core.sheet.scene import Marks, Projections, Scene, build_scene, frame_of_view, projection_key
from canonis.core.sheet.views import Auxiliary, Detail, Parallel, Pictorial, Section, View
from canonis.core.solid.model import Face, Solid, Vec
from canonis.core.solid.reader import Model
from canonis.core.solid.references import face_reference
from canonis.core.view.frames import ViewFrame, frame_of
from canonis.core.view.parallel import project_all
from canonis.core.view.projection import Projection

__all__ = ["Draft", "DraftWish", "Projections", "draft_model", "scene_for"]

Progress = Callable[[str], None]


@dataclass(frozen=True)
class DraftWish:
    """What the user asks of a draft; `auto` and None leave the choice to the program."""

    style: str = "iso"
    projection: str | None = None
    unit: Unit | None = None
    size: str = "auto"
    scale: str = "auto"
    views: str = "all"
    front: str | None = None
    datum: str = "auto"
    hidden: str = "auto"
    notation: Notation = "symbols"
    density: float | None = None
    title: TitleBlock = field(default_factory=TitleBlock)
    notes: tuple[str, ...] = ()
    #: Modelled threads with all their helices, not by convention.
    helices: bool = False
    #: How locations are stated: ordinates from one datum, baseline, or chain.
    locations: Locations = "ordinate"


@dataclass(frozen=True, eq=False)
class Draft:
    """A drafted document with the scene it was drafted on, and what no view could show."""

    scene: Scene
    unseen: tuple[str, ...]
    #: What was recognised in each solid.
    features: tuple[Feature, ...] = ()

    @property
    def document(self) -> SheetDocument:
        """The sheet document."""
        return self.scene.document


def _corner(solid: Solid, front: ViewFrame, name: str) -> Vec:
    """A named corner of the box as seen in the front view: left/right, front/back, bottom/top."""
    words = set(name.split("-"))
    if not words <= {"left", "right", "front", "back", "bottom", "top"} or len(words) != 3:
        raise BadInput(f"Datum “{name}” is not a corner such as left-front-bottom, a point X,Y,Z or axis:H1.")
    point = np.zeros(3)
    for direction, positive in ((front.right, "right"), (front.up, "top"), (front.toward, "front")):
        k = int(np.argmax(np.abs(direction)))
        high = (positive in words) == (direction[k] > 0)
        point[k] = solid.box[1][k] if high else solid.box[0][k]
    return point


def _turned_face(solid: Solid) -> Face | None:
    """The widest full cylinder on the axis of a turned part; None for other parts and for cones alone."""
    axis = turned_axis(solid)
    if axis is None:
        return None
    middle = (solid.box[0] + solid.box[1]) / 2
    round_ = [
        f for f in solid.faces
        if f.kind == "cylinder" and f.sweep > 1.9 * math.pi and abs(float(f.axis @ axis)) > 1 - 1e-7
        and float(np.linalg.norm(np.cross(f.origin - middle, axis))) < 0.05 * solid.diagonal
    ]  # fmt: skip
    return max(round_, key=lambda f: (f.radius, f.area), default=None)


def _datum(solid: Solid, found: Feature, front: ViewFrame, name: str) -> tuple[Vec, dict[str, str]]:
    """The datum point and, for an axis, the references to measure from.

    `axis` is the axis of a turned part at the left end of its front view.
    """
    if name == "axis":
        holder = _turned_face(solid)
        if holder is None:
            raise BadInput("This part is not turned; name a hole as axis:H1, a corner or a point X,Y,Z.")
        k = int(np.argmax(np.abs(holder.axis)))
        point = _corner(solid, front, "left-front-bottom")
        across = [j for j in range(3) if j != k]
        point[across] = holder.origin[across]
        return point, {str(j): face_reference(holder) for j in across}
    if name.startswith("axis:"):
        group = next((g for g in found.holes if g.id == name[5:]), None)
        if group is None:
            raise BadInput(f"Datum “{name}” names no hole of this part; its holes are "
                           f"{', '.join(g.id for g in found.holes) or 'none'}.")  # fmt: skip
        hole = group.first
        k = int(np.argmax(np.abs(hole.axis)))
        ref = face_reference(solid.faces[hole.main_faces[0]])
        return hole.start, {str(j): ref for j in range(3) if j != k}
    if "," in name:
        try:
            values = [float(x) for x in name.split(",")]
        except ValueError:
            values = []
        if len(values) != 3 or not np.all(np.isfinite(values)):
            raise BadInput(f"Datum “{name}” is not three numbers X,Y,Z in mm.")
        return np.array(values), {}
    return _corner(solid, front, name), {}


def _ends_inside(hole: Hole, solid: Solid) -> bool:
    """Whether a hole that goes through ends in another bore or a pocket instead of on the far side of the part."""
    end = hole.start - hole.axis * hole.length
    k = int(np.argmax(np.abs(hole.axis)))
    far = float(solid.box[0][k] if hole.axis[k] > 0 else solid.box[1][k])
    return abs(float(end[k]) - far) > 1e-3


def _openings(found: Feature, toward: Vec, solid: Solid) -> int:
    """How many holes and slots can be seen only from one side."""
    holes = sum(
        float(h.axis @ toward) > 1 - 1e-6 and (not h.through or bool(h.seats) or _ends_inside(h, solid))
        for g in found.holes
        for h in g.holes
    )
    return holes + sum(float(s.axis @ toward) > 1 - 1e-6 and not s.through for s in found.slots)


def _views(front: ViewFrame, projection: str, solid: Solid, found: Feature, sheet: int, prefix: int) -> list[View]:
    """Front, top and side; the side is the one with more to show, by custom where both show the same."""
    side, other = ("left", "right") if projection == "first" else ("right", "left")
    if _openings(found, frame_of(other, front).toward, solid) > _openings(found, frame_of(side, front).toward, solid):
        side = other
    flat = "top"
    if (
        _openings(found, frame_of("bottom", front).toward, solid)
        > 0
        == _openings(found, frame_of("top", front).toward, solid)
    ):
        flat = "bottom"
    return [_view(front, kind, solid, sheet, prefix + k) for k, kind in enumerate(("front", flat, side), start=1)]


def _view(front: ViewFrame, kind: str, solid: Solid, sheet: int, number: int) -> View:
    frame = frame_of(kind, front)
    middle = (solid.box[0] + solid.box[1]) / 2

    def t(v: Vec) -> tuple[float, float, float]:
        clean = [0.0 if abs(c) < 1e-12 else float(c) for c in v]
        return (clean[0], clean[1], clean[2])

    shared: dict[str, Any] = {"id": f"V{number}", "sheet": sheet, "scale": 1.0, "origin": t(middle), "right": t(frame.right), "up": t(frame.up), "at": (0.0, 0.0)}  # fmt: skip
    return Pictorial(**shared) if kind == "pictorial" else Parallel(**shared, kind=kind)  # type: ignore[arg-type]


def _missing_views(planner: Planner, front: ViewFrame, number: int) -> list[View]:
    """Principal views that show holes and slots which no view shows yet (nothing on a far face is lost)."""
    out: list[View] = []
    have = {v.kind for v in planner.views}
    hidden = [g.first.axis for g in planner.found.holes if planner.hole_view(g) is None]
    hidden += [
        s.axis for s in planner.found.slots
        if not any(float(s.axis @ frame_of_view(v).toward) > 1 - 1e-6 or s.through for v in planner.views)
    ]  # fmt: skip
    for kind in ("left", "right", "bottom", "back", "top"):
        toward = frame_of(kind, front).toward
        if kind not in have and any(float(a @ toward) > 1 - 1e-6 for a in hidden):
            out.append(_view(front, kind, planner.solid, planner.sheet, number + len(out)))
    return out


def scene_for(
    document: SheetDocument, solids: tuple[Solid, ...], features: tuple[Feature, ...], cache: Projections | None = None
) -> Scene:
    """The scene of a stored document; projections missing from `cache` are computed into it."""
    cache = {} if cache is None else cache
    for page in document.pages:
        views = [v for v in document.views if v.sheet == page.number and not isinstance(v, Section | Detail)]
        _project_missing(
            views,
            solids[page.solid],
            page.solid,
            marks_of(solids[page.solid], features[page.solid]),
            cache,
            lambda _: None,
        )
    return build_scene(document, solids, tuple(map(marks_of, solids, features)), cache)


def _distinct(model: Model) -> list[tuple[int, int]]:
    """Index and number of copies of each different solid: equal volume, area and faces."""
    seen: list[tuple[tuple[float, ...], int, int]] = []
    for solid in model.solids:
        moments = np.sort(np.linalg.eigvalsh(solid.mass.moments))
        key = (solid.mass.volume, solid.mass.area, len(solid.faces), *moments)
        for k, (other, index, copies) in enumerate(seen):
            if np.allclose(other, key, rtol=1e-5):
                seen[k] = (other, index, copies + 1)
                break
        else:
            seen.append((key, solid.index, 1))
    return [(index, copies) for _, index, copies in seen]


def _own_title(model: Model, sheets: list[tuple[int, int]], number: int, wish: DraftWish) -> dict[str, str]:
    """What stands in the title block of a sheet whose solid is one of several: its own name, number and mass."""
    names = [model.solids[index].name for index, _ in sheets]
    solid = model.solids[sheets[number - 1][0]]
    name = solid.name or wish.title.title or "part"
    told = name if names.count(solid.name) == 1 else f"{name} {number} of {len(sheets)}"
    own = {"title": told}
    if wish.title.number:
        own["number_text"] = f"{wish.title.number}-{number}"
    if wish.density is not None:
        own["mass"] = write_mass(solid.mass.volume * wish.density / 1000, wish.unit or model.unit)
    return own


def draft_model(
    model: Model, wish: DraftWish, progress: Progress = lambda _: None, features: tuple[Feature, ...] | None = None
) -> Draft:
    """Draft a complete drawing of a model: a sheet for each different solid.

    Raises BadInput for a datum, size or scale that cannot be used.
    """
    unit = wish.unit or model.unit
    projection = wish.projection or ("third" if wish.style == "asme" else "first")
    found = features or tuple(recognise(s) for s in model.solids)
    cache: Projections = {}
    marks_by_solid = tuple(map(marks_of, model.solids, found))
    sheets = _distinct(model)
    pages: list[SheetPage] = []
    views: list[View] = []
    marks: list[Annotation] = []
    unseen: list[str] = []
    datums: dict[int, Datum] = {}
    planners: dict[int, Planner] = {}
    datum_name, chosen = "", None
    default_size = "A3" if wish.style == "iso" else "B"
    for number, (index, copies) in enumerate(sheets, start=1):
        solid = model.solids[index]
        front = choose_front(solid, found[index], wish.front)
        axis = turned_axis(solid) if _turned_face(solid) is not None else None
        wanted = wish.datum if wish.datum != "auto" else "left-front-bottom" if axis is None else "axis"
        corner, datum_refs = _datum(solid, found[index], front.frame, wanted)
        datums[number] = Datum(corner, datum_refs)
        known = max((int(v.id[1:]) for v in views), default=0)
        mine = _views(front.frame, projection, solid, found[index], number, known)

        pictorial = _view(front.frame, "pictorial", solid, number, 0)
        _project_missing([*mine, pictorial], solid, index, marks_by_solid[index], cache, progress)

        def shown(view: View, solid: Solid = solid, index: int = index) -> Projection:
            key = projection_key(index, view)
            if key not in cache:
                _project_missing([view], solid, index, marks_by_solid[index], cache, progress)
            return cache[key]

        planner = Planner(solid, found[index], mine, unit, corner, shown, number, datum_refs,
                          axis if wanted == "axis" else None, wish.notation)  # fmt: skip
        extra = _missing_views(planner, front.frame, known + len(mine) + 1)
        _project_missing(extra, solid, index, marks_by_solid[index], cache, progress)
        planner.views += extra
        planner.views.append(_view(front.frame, "pictorial", solid, number, known + len(planner.views) + 1))
        planner.views = [v.model_copy(update={"hidden": _hidden_wanted(shown(v), wish.hidden)}) for v in planner.views]
        if any(f.kind == "bend" for f in found[index].forms):
            # Where sheet is bent, thin lines mark the bends.
            planner.views = [v.model_copy(update={"transitions": "thin"}) for v in planner.views]
        planner._n = len(marks)
        planner.overall()
        planner.holes()
        planner.slots()
        planner.threads()
        planner.shafts()
        default = planner.rounds()
        planner.chamfers()
        planner.levels(slopes=wish.views != "auto")
        planner.settle()
        if wish.views == "auto":
            planner.views = _needed(planner)
            planner.views = [_opened(v, solid, axis) for v in planner.views]
        planner.centres()
        planner.marks = _notes(planner, default)
        planners[number] = planner
        if number == 1:
            datum_name, chosen = wanted, front
        at = (float(corner[0]), float(corner[1]), float(corner[2]))
        own = _own_title(model, sheets, number, wish) if len(sheets) > 1 else {}
        pages.append(
            SheetPage(number=number, size=default_size, scale=1.0, solid=index, copies=copies, datum=at, **own)
        )
        views += planner.views
        marks += planner.marks
        unseen += planner.unseen
    title = wish.title
    if wish.density is not None:
        mass = model.solids[sheets[0][0]].mass.volume * wish.density / 1000
        title = title.model_copy(update={"mass": write_mass(mass, unit)})
    title = title.model_copy(update={"title": title.title or model.solids[0].name})
    document = SheetDocument(
        style=wish.style, projection=projection, unit=unit, pages=tuple(pages), views=tuple(views),  # type: ignore[arg-type]
        annotations=tuple(marks), title=title, notes=wish.notes, datum_name=datum_name, notation=wish.notation,
        front=chosen.name if chosen else "",
        front_reason=chosen.reason if chosen else "", model_sha256=model.sha256,
    )  # fmt: skip
    document = write_notes(say_once(document, model.solids))
    if wish.helices:
        document = document.model_copy(update={"views": tuple(v.model_copy(update={"helices": True}) for v in views)})
    scene = build_scene(document, model.solids, marks_by_solid, cache)
    if wish.views == "auto":
        progress("Choosing sections and details")
        number = 1 + max((int(a.id[1:]) for a in document.annotations if a.id[1:].isdigit()), default=0)
        for page in document.pages:
            more = extra_views(scene, found[page.solid], page)
            document = document.model_copy(update={"views": (*document.views, *more)})
            document = _notes_to_true_views(document, scene.on(document), found[page.solid], page)
            document, number = complete(scene.on(document), page, datums[page.number], number)
            document = _centred(document, scene.on(document), planners[page.number], page)
            document = with_breaks(document, page.number, model.solids[page.solid])
            scene = scene.on(document)
        while spare := spare_views(scene, found):
            # A section may have made a view from another side needless.
            left = tuple(v for v in document.views if v.id != spare[-1].id)
            marks_left = tuple(a for a in document.annotations if a.view != spare[-1].id)
            document = document.model_copy(update={"views": left, "annotations": marks_left})
            scene = scene.on(document)
    document = located(scene, wish.locations)
    scene = scene.on(document)
    progress("Placing dimensions and notes")
    for number in [p.number for p in document.pages]:
        page = next(p for p in document.pages if p.number == number)
        document = arrange(scene, page, wish.size, wish.scale)
        scene = scene.on(document)
        page = next(p for p in document.pages if p.number == number)
        details = detail_views(scene, found[page.solid], page) if wish.views == "auto" else []
        if details:
            document = document.model_copy(update={"views": (*document.views, *details)})
            scene = scene.on(document)
            document = arrange(scene, page, wish.size, wish.scale)
            scene = scene.on(document)
    document = _with_reasons(document, scene, found)
    scene = scene.on(document)
    return Draft(scene, tuple(unseen), found)


def _centred(document: SheetDocument, scene: Scene, planner: Planner, page: SheetPage) -> SheetDocument:
    """Centre marks and centre lines in the sections and auxiliary views that came after the planner's own."""
    late: list[View] = [v for v in document.views if v.sheet == page.number and isinstance(v, Section | Auxiliary)]
    planner.project, planner.marks = scene.projection, []
    planner._n = 1 + max((int(a.id[1:]) for a in document.annotations if a.id[1:].isdigit()), default=0)
    planner.centres(late)
    there = {(a.view, r) for a in document.annotations if isinstance(a, MUTE) for r in a.refs}
    fresh = tuple(a for a in planner.marks if (a.view, a.refs[0]) not in there)
    return document.model_copy(update={"annotations": (*document.annotations, *fresh)})


def _notes_to_true_views(document: SheetDocument, scene: Scene, found: Feature, page: SheetPage) -> SheetDocument:
    """Hole notes in the auxiliary view that shows their circle true, where they stood in one that does not."""
    axes = {g.id: g.first.axis for g in found.holes}
    folded = [v for v in document.views if isinstance(v, Auxiliary) and v.sheet == page.number]
    marks = []
    for mark in document.annotations:
        axis = axes.get(mark.feature or "") if mark.kind == "hole" and mark.sheet == page.number else None
        if (
            axis is not None
            and mark.view
            and abs(float(axis @ frame_of_view(document.view(mark.view)).toward)) < 1 - 1e-6
        ):
            home = next((v for v in folded if float(axis @ frame_of_view(v).toward) > 1 - 1e-6), None)
            mark = mark if home is None else mark.model_copy(update={"view": home.id})
        marks.append(mark)
    return document.model_copy(update={"annotations": tuple(marks)})


def _with_reasons(document: SheetDocument, scene: Scene, found: tuple[Feature, ...]) -> SheetDocument:
    """The document with the reason of every view that has none yet: what it alone shows true."""
    alone: dict[str, list[str]] = {}
    for page in document.pages:
        for name, views in feature_views(scene, page, found[page.solid]).items():
            if len(views) == 1:
                alone.setdefault(views[0], []).append(name)

    def reason(view: View) -> str:
        if view.reason:
            return view.reason
        if view.kind == "front":
            return document.front_reason
        if view.kind == "pictorial":
            return "pictorial: for a first look; nothing is dimensioned there"
        names = alone.get(view.id, [])
        stated = sum(a.view == view.id and not isinstance(a, MUTE) for a in document.annotations)
        if names:
            return f"alone shows {', '.join(names[:8])}{' and more' if len(names) > 8 else ''} true"
        return f"carries {stated} statements that are read best here" if stated else "shows the third side of the part"

    told = tuple(v.model_copy(update={"reason": reason(v)}) for v in document.views)
    return document.model_copy(update={"views": told})


def _project_missing(
    views: Sequence[View], solid: Solid, index: int, marks: Marks, cache: Projections, progress: Progress
) -> None:
    """Project the views that are not in the cache yet, side by side."""
    todo = [v for v in views if projection_key(index, v) not in cache]
    if todo:
        progress(f"Projecting {len(todo)} views")
        wishes = [(frame_of_view(v), v.kind != "pictorial", () if v.helices else marks.threads) for v in todo]
        done = project_all(solid, wishes)
        cache.update({projection_key(index, v): p for v, p in zip(todo, done, strict=True)})


def _hidden_wanted(seen: Projection, rule: str) -> bool:
    """Hidden lines by the house rule: all, none, or (auto) kept where they are few enough to read."""
    if rule in ("all", "none"):
        return rule == "all"
    return len(seen.hidden) <= 40 or seen.length("hidden") <= seen.length("visible")


def _opened(view: View, solid: Solid, axis: Vec | None) -> View:
    """The front view of a turned part with a bore as a half section."""
    holder = _turned_face(solid) if axis is not None else None
    if view.kind != "front" or axis is None or holder is None:
        return view
    return open_turned(solid, axis, holder, view) or view


def _needed(planner: Planner) -> list[View]:
    used = {m.view for m in planner.marks}
    return [v for v in planner.views if v.id in used or v.kind in ("front", "pictorial")]


def _notes(planner: Planner, default: Note | None) -> list[Annotation]:
    """Statements, then the block of notes above the title block: the general note and those that state rounds."""
    marks = [m for m in planner.marks if not isinstance(m, Note)]
    own = ([default] if default else []) + [m for m in planner.marks if isinstance(m, Note)]
    general = Note(id=f"N{planner.sheet}", sheet=planner.sheet, at=(0, 0))
    return [*marks, general, *own]
