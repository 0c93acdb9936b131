"""Everything of a sheet is stated, in sections cut for it where no view shows it."""

from collections.abc import Callable, Iterator
from itertools import islice

import numpy as np

from canonis.core.drafting.basis import Basis
from canonis.core.drafting.centring import centred
from canonis.core.drafting.desk import Desk
from canonis.core.drafting.kinds import of_faces, of_features
from canonis.core.drafting.kinds.holes import ringed
from canonis.core.drafting.kinds.tables import table_faces
from canonis.core.drafting.letters import next_letter
from canonis.core.drafting.planning import plan
from canonis.core.drafting.sectioning import section_of
from canonis.core.drafting.seen import lines_of
from canonis.core.shape import Unknown
from canonis.core.sheet import MUTE, Parallel, Scene, Section, SheetDocument, SheetPage, Spot, frame_of_view
from canonis.core.sheet.views import Place
from canonis.core.tolerances import runs_across, runs_along

__all__ = ["complete", "stated"]

#: Sets a desk for a sheet as a scene has it, for some faces or for all.
DeskOn = Callable[[Scene, frozenset[int] | None], Desk]
#: A document with all that could be said, and what stays free.
Plan = tuple[SheetDocument, list[tuple[Unknown, set[int]]]]
#: At most so many sections are added for what no view shows, and so many are tried for each.
_SECTIONS, _TRIALS = 4, 8
#: So many of them are planned with before it is given up.
_CUTS = 3


def stated(desk_on: DeskOn, scene: Scene) -> Plan:
    """The document with all that its views can say of a sheet, planned from nothing, and what stays free with the faces that
    it moves; the same views are planned with once."""
    desk = desk_on(scene, None)
    marks = tuple(a for a in scene.document.annotations if a.sheet != desk.sheet or isinstance(a, MUTE))
    scene = scene.on(scene.document.model_copy(update={"annotations": marks}))
    key = (scene.document.views, marks)
    if key not in desk.plans:
        desk.plans[key] = _planned(desk_on, scene)
    made, free = desk.plans[key]
    return scene.document.model_copy(update={"annotations": made.annotations}), free


def _planned(desk_on: DeskOn, scene: Scene) -> Plan:
    desk = desk_on(scene, None)
    # Members of a ring stand where the ring says, those of a table where its rows say, not level with one another.
    basis = Basis(scene.document, desk.page, desk.solid, ringed(desk) | table_faces(desk))
    document = plan(desk_on(scene, None), basis, of_features())
    touched = frozenset(f for _, moves in basis.free() for f in basis.faces_of(moves))
    if touched:
        document = plan(desk_on(scene.on(document), touched), basis, of_faces())
    return document, [(u, basis.faces_of(moves)) for u, moves in basis.free()]


def complete(scene: Scene, page: SheetPage, desk_on: DeskOn, sections: bool) -> tuple[SheetDocument, int]:
    """The document with everything of a sheet stated where a view shows it, and how much stays free but for free forms.

    With `sections` one is added where a flat face is seen true but its level is hidden in every view.
    """
    document, free = stated(desk_on, scene)
    for _ in range(_SECTIONS if sections else 0):
        faces = [f for u, moved in free for f in _wanted(scene, page, u, moved)]
        for made in islice(_cuts_for(scene.on(document), page, faces), _CUTS):
            trial = scene.on(document.model_copy(update={"views": (*document.views, made)}))
            trial = trial.on(centred(desk_on(trial, None), [made], first=False))
            more, left = stated(desk_on, trial)
            if len(left) < len(free):
                document, free = more, left
                break
        else:
            # What they were cut for cannot be stated there either.
            break
    return document, sum(u.kind != "free" for u, _ in free)


def _wanted(scene: Scene, page: SheetPage, free: Unknown, moved: set[int]) -> set[int]:
    """The faces that a section could show of something free: of the point of a cone the flat faces that move with it, of the
    middle of a round also the round."""
    if free.kind == "free":
        return set()
    if free.holder in ("apex", "centre"):
        kinds = ("plane",) if free.holder == "apex" else ("plane", "torus")
        return {f for f in moved if scene.solids[page.solid].faces[f].kind in kinds}
    return free.faces or moved


def _cuts_for(scene: Scene, page: SheetPage, faces: list[int]) -> list[Section]:
    """Sections through the largest of some faces in which it is seen edge-on (a flat one) or true (a round one); those first
    that show most of them."""
    cuts = list(_cuts_through(scene, page, faces))
    return [made for made, _ in sorted(cuts, key=lambda c: -len(c[1]))]


def _cuts_through(scene: Scene, page: SheetPage, faces: list[int]) -> Iterator[tuple[Section, set[int]]]:
    """Sections with which of some faces each shows."""
    document, solid = scene.document, scene.solids[page.solid]
    views = [v for v in document.views if v.sheet == page.number and isinstance(v, Parallel)]
    tries = 0
    planes: set[tuple[float, ...]] = set()
    for k in sorted(set(faces), key=lambda f: -solid.faces[f].area):
        face = solid.faces[k]
        if face.kind not in ("plane", "cylinder", "torus", "cone", "sphere"):
            continue
        middle = face.origin if face.kind == "sphere" else face.centre
        for view in views:
            frame = frame_of_view(view)
            at = frame.flat(middle) - frame.flat(np.array(view.origin))
            for level, toward in ((True, frame.up), (False, frame.right)):
                along = float(face.axis @ toward)
                shown = runs_across(along) if face.kind != "cylinder" or face.sweep > 1.9 * np.pi else runs_along(along)
                shown = shown or face.kind == "sphere"
                # One plane is cut once, on the first view where its line is seen.
                plane = (*np.round(np.abs(toward), 6), round(abs(float(middle @ toward)), 3))
                if not shown or plane in planes or tries >= _TRIALS:
                    continue
                planes.add(plane)
                tries += 1
                held = Place(offset=round(float(at[1 if level else 0]), 4))
                ends = (Place(offset=-1.0), Place(offset=1.0))
                line = tuple(Spot(x=e, y=held) if level else Spot(x=held, y=e) for e in ends)
                number = 1 + max((int(v.id[1:]) for v in document.views if v.id[1:].isdigit()), default=0)
                made = section_of(
                    scene,
                    view,
                    line,
                    "full",
                    False,
                    letter=next_letter(document),
                    name=f"V{number}",
                    reason="section: shows what is hidden in every other view",
                )
                trial = scene.on(document.model_copy(update={"views": (*document.views, made)}))
                if any(not c.region.is_empty for c in trial.projection(made).cut) and lines_of(trial, made, k):
                    yield made, {f for f in faces if lines_of(trial, made, f)}
