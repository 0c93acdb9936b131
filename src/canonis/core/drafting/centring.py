"""Centre marks and centre lines, lines of symmetry, and the diagonals on flats of turned parts (ISO 128-3)."""

import math
from collections.abc import Iterable

import numpy as np

from canonis.core.drafting.desk import NEAR, Desk, next_number, radii_of
from canonis.core.drafting.seen import lines_of
from canonis.core.shape import mirrored, mouths
from canonis.core.sheet import (
    MUTE,
    Annotation,
    CentreLine,
    CentreMark,
    FlatCross,
    SheetDocument,
    SymmetryLine,
    View,
    frame_of_view,
)
from canonis.core.solid import Vec, extreme_reference, mouth_reference
from canonis.core.tolerances import NOISE, parallel, runs_along, same, same_way, square

__all__ = ["centred"]


def centred(desk: Desk, views: Iterable[View], first: bool) -> SheetDocument:
    """The document with the centre lines of some views; lines of symmetry and flats are drawn with the `first` ones."""
    document = desk.scene.document
    marks = [m for view in views for m in _centres(desk, view)]
    if first:
        marks += [*_symmetry(desk), *_flats(desk)]
    there = {(a.view, r) for a in document.annotations if isinstance(a, MUTE) for r in a.refs}
    fresh = [m for m in marks if (m.view, m.refs[0]) not in there]
    number = next_number(document, "M")
    named = tuple(m.model_copy(update={"id": f"M{number + k}"}) for k, m in enumerate(fresh))
    return document.model_copy(update={"annotations": (*document.annotations, *named)})


def _centres(desk: Desk, view: View) -> list[Annotation]:
    """Centre marks on everything round seen true; centre lines on what is seen from the side."""
    frame = frame_of_view(view)
    marks: list[Annotation] = []
    marked: set[tuple[float, float]] = set()
    lined: set[tuple[float, ...]] = set()
    round_ = [(h.main_faces, h.axis, h.start, radii_of(h), False) for g in desk.found.holes for h in g.holes]
    round_ += [(s.faces, s.axis, s.top, [s.diameter / 2], True) for s in desk.found.shafts]
    round_ += [
        ((f,), s.axis, e, [s.width / 2], True)
        for s in desk.found.slots
        for f, e in zip(s.end_faces, s.ends, strict=True)
    ]
    for cone in (f for f in desk.solid.faces if f.kind == "cone" and f.sweep > 1.9 * math.pi):
        edges = [desk.solid.edges[e] for e in cone.edges]
        rims = [e for e in edges if e.kind == "circle" and parallel(e.axis, cone.axis)]
        if rims and cone.index not in desk.threaded:
            round_.append(((cone.index,), cone.axis, rims[0].centre, [e.radius for e in rims], not cone.inner))
    for faces, axis, start, radii, outside in round_:
        flat = frame.flat(start)
        ref = desk.reference(faces[0])
        along = abs(float(axis @ frame.toward))
        if runs_along(along):
            key = (round(float(flat[0]), 2), round(float(flat[1]), 2))
            if key not in marked and desk.arcs_at(view, start, radii):
                marked.add(key)
                marks.append(CentreMark(id="", sheet=desk.sheet, view=view.id, refs=(ref,)))
        elif along < NOISE and (view.hidden or view.kind == "section" or outside):
            if view.kind == "section" and not _outlined(desk, view, faces):
                continue
            across = flat - frame.flat(axis) * float(flat @ frame.flat(axis))
            line = (*np.round(across, 2), *np.round(np.abs(frame.flat(axis)), 3))
            if line not in lined:
                lined.add(line)
                marks.append(CentreLine(id="", sheet=desk.sheet, view=view.id, refs=(ref,)))
    marks += [CentreMark(id="", sheet=desk.sheet, view=view.id, refs=(ref,)) for ref in _askew_mouths(desk, view)]
    return marks


def _askew_mouths(desk: Desk, view: View) -> list[str]:
    """The mouths of holes that run askew to a view, on faces that it shows as they lie."""
    toward = frame_of_view(view).toward
    out = []
    for hole in (h for g in desk.found.holes for h in g.holes):
        wall = hole.main_faces[0]
        if (
            abs(float(hole.axis @ toward)) > 0.05
            and not parallel(hole.axis, toward)
            and lines_of(desk.scene, view, wall)
        ):
            facing = [n for _, _, n in mouths(desk.solid, wall) if same_way(n, toward)]
            out += [mouth_reference(desk.solid.faces[wall], n) for n in facing]
    return list(dict.fromkeys(out))


def _outlined(desk: Desk, view: View, faces: tuple[int, ...]) -> bool:
    """Whether a view cuts or outlines one of some faces."""
    return any(not x.edges and set(x.faces) & set(faces) for x in desk.scene.projection(view).visible)


def _symmetry(desk: Desk) -> list[Annotation]:
    """Lines of symmetry where holes or slots stand in pairs about the middle of a part that is its own mirror image."""
    marks: list[Annotation] = []
    if desk.turned is not None:
        return marks
    box = desk.solid.box
    places = [h.start for g in desk.found.holes for h in g.holes] + [e for s in desk.found.slots for e in s.ends]
    for k in range(3):
        low, high = float(box[0][k]), float(box[1][k])
        off = {round(abs(float(p[k]) - (low + high) / 2), 3) for p in places}
        if not off - {0.0} or not mirrored(desk.solid, k):
            continue
        d = np.eye(3)[k]
        refs = (extreme_reference(-d, -low), extreme_reference(d, high))
        # Holes on the line itself have marks of their own there.
        # Where places are told from centre lines, those are drawn through all the part.
        free = desk.locations == "symmetric" or not any(same(float(p[k]), (low + high) / 2) for p in places)
        for view in desk.views:
            frame = frame_of_view(view)
            for direction, way in (("x", frame.right), ("y", frame.up)):
                if abs(float(way @ d)) > 0.999 and free and any(_seen_true(desk, view, p) for p in places):
                    marks.append(
                        SymmetryLine(
                            id="", sheet=desk.sheet, view=view.id, refs=refs, direction="x" if direction == "x" else "y"
                        )
                    )
    return marks


def _seen_true(desk: Desk, view: View, place: Vec) -> bool:
    """Whether a circle or an arc about a place is seen true in a view."""
    centres, _ = desk.scene.projection(view).arcs
    flat = frame_of_view(view).flat(place)
    return bool(len(centres)) and float(np.abs(centres - flat).max(axis=1).min()) < NEAR


def _flats(desk: Desk) -> list[Annotation]:
    """Crossed diagonals on flats of turned parts, where they are seen true."""
    marks: list[Annotation] = []
    if desk.turned is None:
        return marks
    for face in desk.solid.faces:
        if face.kind != "plane" or not square(face.axis, desk.turned):
            continue
        sides = {desk.solid.faces[o].kind for _, o in desk.solid.neighbours[face.index]}
        if ("cylinder" not in sides and "cone" not in sides) or face.index in _in_recess(desk) | desk.threaded:
            continue
        for view in desk.views:
            if same_way(face.axis, frame_of_view(view).toward):
                marks.append(FlatCross(id="", sheet=desk.sheet, view=view.id, refs=(desk.reference(face.index),)))
    return marks


def _in_recess(desk: Desk) -> set[int]:
    """Faces of slots, keyways, grooves and pockets: their floors are no flats."""
    kinds = ("keyway", "groove", "pocket", "slot", "arc-slot")
    out = {f for s in desk.found.slots for f in s.faces}
    return out | {f for form in desk.found.forms if form.kind in kinds for p in form.pieces for f in p.faces}
