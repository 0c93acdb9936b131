"""The first complete draft of a solid: views, statements and their places, unasked."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from canonis.core.drafting.askew import carried_back, square_frame, squared_references
from canonis.core.drafting.begun import Begun, begun, page_of
from canonis.core.drafting.breaking import with_breaks
from canonis.core.drafting.centring import centred
from canonis.core.drafting.choosing import detail_views, extra_views, open_turned
from canonis.core.drafting.completing import complete, stated
from canonis.core.drafting.datum_marks import with_datum_marks
from canonis.core.drafting.datums import turned_datum, turned_face
from canonis.core.drafting.hole_tables import with_tables
from canonis.core.drafting.house import estimated, said_typical, sizes_at_pictorial, through_all
from canonis.core.drafting.locating import located
from canonis.core.drafting.notes import write_notes
from canonis.core.drafting.principal import (
    hidden_wanted,
    missing_views,
    pictorial_view,
    principal_views,
    project_missing,
)
from canonis.core.drafting.restating import Said, restated
from canonis.core.drafting.seen import feature_views, spare_views, unseen_features
from canonis.core.drafting.struck import UNSTRUCK, Doubt, Struck
from canonis.core.drafting.wish import DraftWish
from canonis.core.features import Feature, marks_of, named_as, recognise
from canonis.core.house import Notes, Pictorials, Repeats, Thru, Unstated
from canonis.core.layout import arrange_over
from canonis.core.quantity import write_mass
from canonis.core.sheet import (
    MUTE,
    Auxiliary,
    Detail,
    Note,
    Projections,
    Scene,
    Section,
    SheetDocument,
    SheetPage,
    View,
    build_scene,
)
from canonis.core.solid import Model, Solid, Vec, squared

__all__ = ["Draft", "DraftWish", "Projections", "Scheme", "draft_model", "projection_of", "scene_for"]

Progress = Callable[[str], None]
#: Tells what a source states, for a sheet as it stands and what was recognised on its solids.
Scheme = Callable[[Scene, tuple[Feature, ...]], Sequence[Said]]


def _no_doubt(_: Scene, __: Sequence[str]) -> dict[str, str]:
    return {}


@dataclass(frozen=True, eq=False)
class Draft:
    """A drafted document with the scene it was drafted on, and what no view could show."""

    scene: Scene
    unseen: tuple[str, ...]
    #: What was recognised in each solid.
    features: tuple[Feature, ...] = ()
    #: The statements that carry lines of the source, with the texts of those lines.
    worded: Mapping[str, tuple[str, ...]] = field(default_factory=dict)

    @property
    def document(self) -> SheetDocument:
        """The sheet document."""
        return self.scene.document


def scene_for(
    document: SheetDocument, solids: tuple[Solid, ...], features: tuple[Feature, ...], cache: Projections | None = None
) -> Scene:
    """The scene of a stored document; projections missing from `cache` are computed into it."""
    cache = {} if cache is None else cache
    for page in document.pages:
        views = [v for v in document.views if v.sheet == page.number and not isinstance(v, Section | Detail)]
        project_missing(
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
    model: Model,
    wish: DraftWish,
    progress: Progress = lambda _: None,
    features: tuple[Feature, ...] | None = None,
    scheme: Scheme | None = None,
    *,
    doubt: Doubt = _no_doubt,
    struck: Struck = UNSTRUCK,
    projections: Projections | None = None,
) -> Draft:
    """Draft a complete drawing of a model: a sheet for each different solid.

    `scheme` tells what the source states of one of the solids; it is said on its sheet as the source says it, where `doubt`
    has nothing against it. `struck` is not said. `projections` are those of an earlier draft of the same model; what is made
    here is added.
    A part that lies askew in its file is drawn square to its own axes. Raises BadInput for a datum, size or scale that
    cannot be used.
    """
    frames = {s.index: frame for s in model.solids if (frame := square_frame(s)) is not None}
    kept: Projections = {} if projections is None else projections
    if not frames:
        return _drafted(model, wish, progress, features, scheme, doubt=doubt, struck=struck, projections=kept)
    upright = replace(
        model, solids=tuple(squared(s, frames[s.index]) if s.index in frames else s for s in model.solids)
    )
    first = frames.get(_distinct(model)[0][0])
    if first is not None and "," in wish.datum:
        wish = replace(wish, datum=turned_datum(wish.datum, first))
    if first is not None:
        wish = replace(wish, frame=squared_references(wish.frame, first))
    found = features or tuple(recognise(s) for s in model.solids)
    square = tuple(
        named_as(f, recognise(s)) if s.index in frames else f for f, s in zip(found, upright.solids, strict=True)
    )
    made = _drafted(upright, wish, progress, square, scheme, doubt=doubt, struck=struck, projections=kept)
    scene = scene_for(carried_back(made.document, frames), model.solids, found)
    return replace(made, scene=scene, features=found)


def _drafted(
    model: Model,
    wish: DraftWish,
    progress: Progress,
    features: tuple[Feature, ...] | None,
    scheme: Scheme | None,
    *,
    doubt: Doubt,
    struck: Struck,
    projections: Projections,
) -> Draft:
    found = features or tuple(recognise(s) for s in model.solids)
    sheets = [
        begun(model, found[index], (index, copies), number, wish, struck)
        for number, (index, copies) in enumerate(_distinct(model), start=1)
    ]
    document = _blank(model, wish, sheets)
    marks = tuple(map(marks_of, model.solids, found))
    scene = build_scene(document, model.solids, marks, projections)
    spare: dict[int, tuple[View, ...]] = {}
    for sheet in sheets:
        scene = _with_views(scene, sheet, wish, progress)
        scene = scene.on(centred(sheet.desk(scene), sheet.desk(scene).views, first=True))
        if wish.views == "auto":
            before = scene.document.views
            scene = _without_mute_views(scene, sheet)
            there = {v.id for v in scene.document.views}
            spare[sheet.number] = tuple(v for v in before if v.id not in there)
    if wish.helices:
        turned = tuple(v.model_copy(update={"helices": True}) for v in scene.document.views)
        scene = scene.on(scene.document.model_copy(update={"views": turned}))
    progress("Choosing sections and details")
    for sheet in sheets:
        scene = _completed(scene, sheet, wish.views == "auto", spare.get(sheet.number, ()))
    if wish.views == "auto":
        scene = _without_spare_views(scene, found)
    scene = scene.on(located(scene, wish.house.locations))
    for sheet in sheets:
        scene = _by_house(scene, sheet, wish)
    lines = [] if scheme is None else [x for x in scheme(scene, found) if x.text not in struck.lines]
    worded: dict[str, tuple[str, ...]] = {}
    own = next((s for s in sheets if lines and s.index == lines[0].solid), None)
    if own is not None:
        document, worded = restated(own.desk(scene), lines, doubt)
        scene = scene.on(
            estimated(document, own.number, frozenset(worded))
            if wish.house.unstated is Unstated.ESTIMATED
            else document
        )
    scene = scene.on(with_tables(scene.document))
    if wish.frame:
        scene = scene.on(with_datum_marks(sheets[0].desk(scene), wish.frame))
    scene = scene.on(write_notes(scene.document))
    progress("Placing dimensions and notes")
    for sheet in sheets:
        scene = _placed(scene, sheet, wish)
    scene = scene.on(_with_reasons(scene.document, scene, found))
    unseen = tuple(name for s in sheets for name in unseen_features(scene, page_of(scene, s.number), s.found))
    return Draft(scene, unseen, found, worded)


def _blank(model: Model, wish: DraftWish, sheets: list[Begun]) -> SheetDocument:
    """The document with its sheets and title block, without views."""
    unit = wish.unit or model.unit
    title = wish.title
    if wish.density is not None:
        title = title.model_copy(update={"mass": write_mass(sheets[0].solid.mass.volume * wish.density / 1000, unit)})
    pages = []
    for s in sheets:
        own = _own_title(model, [(x.index, x.copies) for x in sheets], s.number, wish) if len(sheets) > 1 else {}
        at = (float(s.datum.point[0]), float(s.datum.point[1]), float(s.datum.point[2]))
        size = "A3" if wish.style == "iso" else "B"
        refs = tuple(s.datum.ref(s.solid, way) for way in np.eye(3))
        page = SheetPage(
            number=s.number, size=size, scale=1.0, solid=s.index, copies=s.copies, datum=at, datum_refs=refs
        )
        pages.append(page.model_copy(update=own))
    return SheetDocument(
        style=wish.style,  # type: ignore[arg-type]
        projection=_projection(wish),  # type: ignore[arg-type]
        unit=unit,
        pages=tuple(pages),
        views=(),
        title=title.model_copy(update={"title": title.title or model.solids[0].name}),
        notes=wish.notes,
        datum_name=sheets[0].datum_name,
        notation="words" if wish.house.notation is Notes.WORDS else "symbols",
        house=wish.house,
        front=sheets[0].front.name,
        front_reason=sheets[0].front.reason,
    )


def projection_of(style: str) -> str:
    """The projection that goes with a style: third angle with ASME Y14.3, first with ISO 5456-2."""
    return "third" if style == "asme" else "first"


def _projection(wish: DraftWish) -> str:
    return wish.projection or projection_of(wish.style)


def _with_views(scene: Scene, sheet: Begun, wish: DraftWish, progress: Progress) -> Scene:
    """The scene with the principal views of a sheet and its pictorial."""
    solid, front = sheet.solid, sheet.front.frame
    known = max((int(v.id[1:]) for v in scene.document.views), default=0)
    mine = principal_views(front, _projection(wish), solid, sheet.found, sheet.number, known)

    def on(views: list[View]) -> Scene:
        project_missing(views, solid, sheet.index, scene.marks[sheet.index], scene.projections, progress)
        return scene.on(scene.document.model_copy(update={"views": (*scene.document.views, *views)}))

    mine += missing_views(sheet.desk(on(mine)), front, known + len(mine) + 1)
    mine.append(pictorial_view(front, solid, sheet.number, known + len(mine) + 1))
    shown = on(mine)
    # Where sheet is bent, thin lines mark the bends.
    bent = any(f.kind == "bend" for f in sheet.found.forms)
    looks: dict[str, Any] = {"transitions": "thin"} if bent else {}
    mine = [
        v.model_copy(update={"hidden": hidden_wanted(shown.projection(v), wish.house.hidden), **looks}) for v in mine
    ]
    return on(mine)


def _without_mute_views(scene: Scene, sheet: Begun) -> Scene:
    """The scene without the principal views that would say nothing of a sheet's features; the statements that tell so stay
    until everything is planned anew with all views and sections there."""
    document, _ = stated(sheet.desk, scene)
    used = {a.view for a in document.annotations if not isinstance(a, MUTE)}
    views = [
        _opened(v, sheet.solid, sheet.axis) if v.sheet == sheet.number else v
        for v in document.views
        if v.sheet != sheet.number or v.id in used or v.kind in ("front", "pictorial")
    ]
    there = {v.id for v in views}
    marks = tuple(a for a in document.annotations if a.view is None or a.view in there)
    return scene.on(document.model_copy(update={"views": tuple(views), "annotations": marks}))


def _opened(view: View, solid: Solid, axis: Vec | None) -> View:
    """The front view of a turned part with a bore as a half section."""
    holder = turned_face(solid) if axis is not None else None
    if view.kind != "front" or axis is None or holder is None:
        return view
    return open_turned(solid, axis, holder, view) or view


def _completed(scene: Scene, sheet: Begun, sections: bool, spare: tuple[View, ...]) -> Scene:
    """The scene with what is still free of a sheet said, in more views where they are wanted; `spare` are principal views that
    said nothing, but may carry a section."""
    page = page_of(scene, sheet.number)
    if sections:
        more = extra_views(scene, sheet.found, page)
        scene = scene.on(scene.document.model_copy(update={"views": (*scene.document.views, *more)}))
    late: list[View] = [v for v in sheet.desk(scene).views if isinstance(v, Section | Auxiliary)]
    scene = scene.on(centred(sheet.desk(scene), late, first=False))
    document, left = complete(scene, page, sheet.desk, sections)
    if left and spare:
        wider = scene.on(scene.document.model_copy(update={"views": (*scene.document.views, *spare)}))
        fuller, fewer = complete(wider, page, sheet.desk, sections)
        document = fuller if fewer < left else document
    scene = scene.on(_with_general_note(document, sheet.number))
    return scene.on(with_breaks(scene.document, sheet.number, sheet.solid)) if sections else scene


def _by_house(scene: Scene, sheet: Begun, wish: DraftWish) -> Scene:
    """The scene with what house rules change in the words of a sheet."""
    if wish.house.thru is Thru.ALL:
        scene = scene.on(through_all(sheet.desk(scene)))
    if wish.house.repeats is Repeats.TYPICAL:
        scene = scene.on(said_typical(scene.document))
    return scene.on(sizes_at_pictorial(sheet.desk(scene))) if wish.house.pictorial is Pictorials.REFERENCE else scene


def _without_spare_views(scene: Scene, found: tuple[Feature, ...]) -> Scene:
    """The scene without views that others have made needless."""
    while spare := spare_views(scene, found):
        left = tuple(v for v in scene.document.views if v.id != spare[-1].id)
        marks = tuple(a for a in scene.document.annotations if a.view != spare[-1].id)
        scene = scene.on(scene.document.model_copy(update={"views": left, "annotations": marks}))
    return scene


def _placed(scene: Scene, sheet: Begun, wish: DraftWish) -> Scene:
    """The scene with everything of a sheet in its place, over several where one is too crowded, and details of what is too
    small there."""
    bare = scene
    scene = scene.on(arrange_over(scene, page_of(scene, sheet.number), wish.size, wish.scale))
    page = page_of(scene, sheet.number)
    details = detail_views(scene, sheet.found, page) if wish.views == "auto" else []
    if not details:
        return scene
    if len(scene.document.pages) > len(bare.document.pages):
        # Spread out already: the details are counted in before it is laid out.
        scene = bare
    scene = scene.on(scene.document.model_copy(update={"views": (*scene.document.views, *details)}))
    return scene.on(arrange_over(scene, page, wish.size, wish.scale))


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


def _with_general_note(document: SheetDocument, number: int) -> SheetDocument:
    """Statements, then the block of notes above the title block: the general note and those that state rounds."""
    marks = [m for m in document.annotations if m.sheet == number]
    notes = [m for m in marks if isinstance(m, Note)]
    rest = [m for m in marks if not isinstance(m, Note)]
    others = [m for m in document.annotations if m.sheet != number]
    general = Note(id=f"N{number}", sheet=number, at=(0, 0))
    return document.model_copy(update={"annotations": (*others, *rest, general, *notes)})
