"""Hole notes with their counts, pitch circles, and where the holes are."""

import math
from collections.abc import Iterator

import numpy as np

from canonis.core.drafting.desk import ALONG, Candidate, Desk
from canonis.core.drafting.kinds.tables import letters
from canonis.core.features.model import Feature, Hole, HoleGroup, Pattern
from canonis.core.features.words import hole_lines
from canonis.core.sheet.document import Leader
from canonis.core.sheet.scene import frame_of_view
from canonis.core.sheet.views import View
from canonis.core.solid.model import Face, Vec
from canonis.core.solid.references import face_reference

__all__ = ["holes", "ring_of", "ringed"]


def holes(desk: Desk) -> Iterator[Candidate]:
    """For each group of equal holes its note, and its ring or the places of its members in the view of the note."""
    tabled = letters(desk)
    for n, group in enumerate(desk.found.holes):
        hole = group.first
        view = desk.best_view(group) or _nearest_view(desk, hole)
        ring = ring_of(group)
        refs = tuple(desk.reference(h.main_faces[0]) for h in group.holes)
        seen = [h for h in group.holes if desk.hole_seen(view, h)]
        equal = ring is not None and ring.data["missing"] == 0
        lines = hole_lines(hole, len(group.holes), desk.unit, " EQ SP" if equal else "", desk.notation)
        note = desk.note("hole", view, refs, lines, group.id, desk.reference((seen or [hole])[0].main_faces[0]))
        letter = tabled.get(group.id, "")
        yield Candidate(1e-4 * n, note.model_copy(update={"letter": letter}), note=True)
        if letter:
            continue
        if ring is not None and seen:
            yield from _ring(desk, view, group, refs, 1e-4 * n)
            continue
        # The member nearest to the datum is placed first: of a pattern it is the only one.
        near = sorted(
            zip(group.holes, refs, strict=True), key=lambda p: float(np.linalg.norm(p[0].start - desk.datum.point))
        )
        for k, (h, ref) in enumerate(near):
            if float(np.abs(h.axis).max()) > ALONG:
                yield from desk.locate(view, h.start, ref, group.id, 1.2 + 1e-4 * n + 1e-7 * k, h in seen)


def ring_of(group: HoleGroup, whole: bool = False) -> Pattern | None:
    """The ring that three or more holes stand on; only one without gaps where it is to be `whole`."""
    ring = group.pattern
    if ring is None or ring.kind != "circular" or len(group.holes) < 3:
        return None
    return None if whole and ring.data["missing"] else ring


def ringed(found: Feature) -> set[int]:
    """The faces of holes on whole rings: a pitch circle states where they are, not levels that they share."""
    return {f for g in found.holes if ring_of(g, whole=True) for h in g.holes for f in h.faces}


def _nearest_view(desk: Desk, hole: Hole) -> View:
    return max(desk.views, key=lambda v: float(hole.axis @ frame_of_view(v).toward))


def _ring(desk: Desk, view: View, group: HoleGroup, refs: tuple[str, ...], order: float) -> Iterator[Candidate]:
    """The pitch circle, where its centre is, and where its members stand if they are not equally spaced."""
    assert group.pattern is not None
    data = group.pattern.data
    text = f"⌀{desk.written(data['diameter_mm'])} PCD"
    yield Candidate(0.1 + order, Leader(
        id="", sheet=desk.sheet, kind="bolt-circle", view=view.id, refs=refs, lines=(text,), text=text, feature=group.id,
    ), note=True)  # fmt: skip
    centre = np.array(data["centre_mm"])
    holder = _round_at(desk, centre, group.first.axis)
    if holder is not None:
        yield from desk.locate(view, centre, face_reference(holder), group.id, 1.2 + order)
    rel = np.array([h.start - centre for h in group.holes])
    on_axis = [k for k, r in enumerate(rel) if np.sum(np.abs(r) < 0.01) >= 2]
    if data["missing"]:
        # Not equally spaced all around: where each one stands on the circle must be said.
        for h, ref in zip(group.holes, refs, strict=True):
            yield from desk.locate(view, h.start, ref, group.id, 1.2 + order)
    elif holder is None or not on_axis:
        # No bore marks the centre, or no hole stands on a centre line: locate the first hole itself.
        yield from desk.locate(view, group.first.start, refs[0], group.id, 1.2 + order)


def _round_at(desk: Desk, centre: Vec, axis: Vec) -> Face | None:
    for face in desk.solid.faces:
        if face.kind == "cylinder" and face.sweep > 1.5 * math.pi and abs(float(face.axis @ axis)) > ALONG:
            rel = face.origin - centre
            if float(np.linalg.norm(rel - face.axis * float(rel @ face.axis))) < 0.01:
                return face
    return None
