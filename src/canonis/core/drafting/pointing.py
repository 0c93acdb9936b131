"""Notes at faces that somebody names: the view that shows a face best, and the face that a pick in a view means."""

from collections.abc import Sequence

import numpy as np

from canonis.core.callout import Callout
from canonis.core.drafting.desk import Desk
from canonis.core.drafting.seen import lines_of
from canonis.core.sheet import Annotation, Leader, Linear, Ordinate, Scene, SheetDocument, View, frame_of_view
from canonis.core.solid import Face, resolve_all
from canonis.core.tolerances import SAME, parallel, runs_across, runs_along

__all__ = ["at_faces", "face_at", "with_exact_sizes"]


def at_faces(desk: Desk, says: Callout, faces: Sequence[int], feature: str) -> Leader | None:
    """A note at some faces of a part, in the view that shows the first of them best; None where none shows it."""
    shown = [(s, -n, v) for n, v in enumerate(desk.views) if (s := _shown(desk.scene, v, faces[0])) > 0]
    if not shown:
        return None
    view = max(shown, key=lambda s: s[:2])[2]
    return desk.note(view, tuple(desk.reference(f) for f in faces), says, feature)


def _shown(scene: Scene, view: View, index: int) -> float:
    """How well a view shows a face: one that is seen as a line or a circle before others, then by the length of its lines, mm."""
    face = scene.solids[scene.solid_of(view.sheet)].faces[index]
    length = sum(line.length for line in lines_of(scene, view, index))
    return length * (1000.0 if _as_a_line(face, view) else 1.0)


def _as_a_line(face: Face, view: View) -> bool:
    """Whether a view sees a flat face from its edge, or a round one from its end."""
    along = abs(float(face.axis @ frame_of_view(view).toward))
    return runs_across(along) if face.kind == "plane" else face.kind == "cylinder" and runs_along(along)


def face_at(scene: Scene, view: View, ref: str) -> int | None:
    """The face that somebody means who picks a line or a centre of a view: the one that is seen as that line; None where there
    is none any more."""
    found = resolve_all([ref], scene.solids[scene.solid_of(view.sheet)])[ref]
    if found.faces:
        return found.faces[0]
    if not found.edges:
        return None
    solid = scene.solids[scene.solid_of(view.sheet)]
    edge = solid.edges[found.edges[0]]
    if edge.kind == "circle":
        # Circles about one centre have one pick: what is bored there is meant before what stands around it.
        around = [
            f
            for f in solid.faces
            if f.kind == "cylinder"
            and parallel(f.axis, edge.axis)
            and f.sweep > 1.9 * np.pi
            and float(np.linalg.norm(np.cross(f.origin - edge.centre, edge.axis))) < SAME
        ]
        if around:
            return min(around, key=lambda f: (not f.inner, f.radius)).index
    faces = sorted(solid.edges[found.edges[0]].faces, key=lambda f: (not _as_a_line(solid.faces[f], view), f))
    return faces[0] if faces else None


def with_exact_sizes(document: SheetDocument, scene: Scene) -> SheetDocument:
    """The document with the lengths framed as exact (basic) that say where something with a tolerance of position is, but for those
    that have a tolerance of their own (ISO 1101)."""
    frames = [a for a in document.annotations if isinstance(a, Leader) and _of_position(a)]
    if not frames:
        return document
    toleranced = {(a.sheet, f) for a in frames for f in _faces(scene, a, a.refs)}
    marks: list[Annotation] = []
    for mark in document.annotations:
        if isinstance(mark, Linear | Ordinate) and mark.refs[0] != mark.refs[-1] and not mark.reference:
            refs = mark.refs[1:] if isinstance(mark, Ordinate) else mark.refs
            own = any(p.tolerance in ("own", "fit") for p in mark.says.parts)
            if not own and any((mark.sheet, f) in toleranced for f in _faces(scene, mark, refs)):
                mark = mark.saying(mark.says.changed(basic=True))
        marks.append(mark)
    return document.model_copy(update={"annotations": tuple(marks)})


def _of_position(mark: Leader) -> bool:
    part = mark.says.part("tolerance")
    return part is not None and part.designation == "position"


def _faces(scene: Scene, mark: Annotation, refs: Sequence[str]) -> list[int]:
    found = resolve_all(list(refs), scene.solids[scene.solid_of(mark.sheet)])
    return [f for r in refs for f in found[r].faces[:1]]
