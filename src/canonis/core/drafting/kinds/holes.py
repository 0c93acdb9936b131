"""Hole notes with their counts, pitch circles, and where the holes are."""

import math
from collections.abc import Iterator

import numpy as np

from canonis.core.callout import Callout, Part, turn
from canonis.core.drafting.desk import Candidate, Desk
from canonis.core.drafting.kinds.tables import letters
from canonis.core.drafting.registry import states
from canonis.core.features import Hole, HoleGroup, Pattern, of_hole
from canonis.core.sheet import Leader, View, frame_of_view
from canonis.core.solid import Face, Vec, face_reference
from canonis.core.tolerances import on_axis, parallel

__all__ = ["holes", "ringed"]

#: How far off its circle a member may stand, mm; how much spaces may differ, degrees.
_ROUND, _EVEN = 0.01, 1e-3


@states(20)
def holes(desk: Desk) -> Iterator[Candidate]:
    """For each group of equal holes its note, and its ring or the places of its members in the view of the note."""
    tabled = letters(desk)
    for n, group in enumerate(desk.found.holes):
        hole = group.first
        view = desk.best_view(group) or _nearest_view(desk, hole)
        ring = ring_of(desk, group)
        refs = tuple(desk.reference(h.main_faces[0]) for h in group.holes)
        seen = [h for h in group.holes if desk.hole_seen(view, h)]
        equal = ring is not None and ring.data["missing"] == 0
        says = of_hole(hole, len(group.holes), desk.unit, equally_spaced=equal)
        note = desk.note(view, refs, says, group.id, desk.reference((seen or [hole])[0].main_faces[0]))
        letter = tabled.get(group.id, "")
        yield Candidate(1e-4 * n, note.model_copy(update={"letter": letter}), note=True)
        if letter:
            continue
        if ring is not None and seen:
            yield from _ring(desk, view, group, refs, 1e-4 * n, ring)
            continue
        # The member nearest to the datum is placed first: of a pattern it is the only one.
        near = sorted(
            zip(group.holes, refs, strict=True), key=lambda p: float(np.linalg.norm(p[0].start - desk.datum.point))
        )
        for k, (h, ref) in enumerate(near):
            if on_axis(h.axis):
                yield from desk.locate(view, h.start, ref, group.id, 1.2 + 1e-4 * n + 1e-7 * k, seen=h in seen)


def ring_of(desk: Desk, group: HoleGroup) -> Pattern | None:
    """The ring that three or more holes stand on: equal spaces, some of which may be empty; in a round flange any angles
    about its axis, around a bore those with equal spaces between them."""
    if len(group.holes) < 3:
        return None
    if group.pattern is not None and group.pattern.kind != "circular":
        return None
    axis, starts = group.first.axis, np.array([h.start for h in group.holes])
    if group.pattern is not None:
        whole = not group.pattern.data["missing"]
        if whole or _evenly(starts - np.array(group.pattern.data["centre_mm"]), axis):
            return group.pattern
    own = {f for h in group.holes for f in h.faces}
    for face in desk.solid.faces:
        if face.kind != "cylinder" or face.index in own or face.sweep < 1.5 * math.pi or not parallel(face.axis, axis):
            continue
        centre = face.origin + axis * float((starts[0] - face.origin) @ axis)
        sizes = np.linalg.norm(starts - centre, axis=1)
        far = float(sizes.mean())
        if (
            float(np.ptp(sizes)) > _ROUND
            or (face.inner and face.radius > far)
            or (not face.inner and face.radius < far)
        ):
            continue
        if not face.inner or _evenly(starts - centre, axis):
            return Pattern("circular", {"diameter_mm": 2 * far, "centre_mm": centre.tolist(), "missing": 1})
    return None


def _evenly(spokes: Vec, axis: Vec) -> bool:
    """Whether directions across an axis turn by multiples of one angle, which are not the corners of a square."""
    right = spokes[0] / np.linalg.norm(spokes[0])
    turns = np.sort(np.degrees(np.arctan2(spokes @ np.cross(axis, right), spokes @ right)) % 360)
    gaps = np.diff(np.append(turns, turns[0] + 360))
    inner = np.delete(gaps, int(np.argmax(gaps)))
    steps = inner / float(inner.min())
    return float(np.abs(steps - np.round(steps)).max()) < _EVEN and abs(float(inner.min()) - 90) > _EVEN


def ringed(desk: Desk) -> set[int]:
    """The faces of holes on rings: a pitch circle states where they are, not levels that they share."""
    return {f for g in desk.found.holes if ring_of(desk, g) for h in g.holes for f in h.faces}


def _nearest_view(desk: Desk, hole: Hole) -> View:
    return max(desk.views, key=lambda v: float(hole.axis @ frame_of_view(v).toward))


def _ring(
    desk: Desk, view: View, group: HoleGroup, refs: tuple[str, ...], order: float, ring: Pattern
) -> Iterator[Candidate]:
    """The pitch circle, at which angles its members stand, and where its centre is."""
    centre = np.array(ring.data["centre_mm"])
    circle = desk.sizes.length("pitch-circle", ring.data["diameter_mm"])
    says = Callout(kind="pattern", parts=(circle, *_angles(desk, view, group, centre, ring)))
    yield Candidate(
        0.1 + order,
        Leader(
            id="",
            sheet=desk.sheet,
            view=view.id,
            refs=refs,
            says=says,
            unit=desk.unit,
            notation=desk.notation,
            feature=group.id,
        ),
        note=True,
    )
    holder = _round_at(desk, centre, group.first.axis)
    if holder is not None:
        yield from desk.locate(view, centre, face_reference(holder), group.id, 1.2 + order)
    else:
        # No bore marks the centre: the first hole is located itself.
        yield from desk.locate(view, group.first.start, refs[0], group.id, 1.2 + order)


def _angles(desk: Desk, view: View, group: HoleGroup, centre: Vec, ring: Pattern) -> list[Part]:
    """At which angles the members of a ring stand, anticlockwise from the level line of a view; nothing of equal spaces all
    around with a member on a centre line (ISO 129-1, 9.3)."""
    rel = np.array([h.start - centre for h in group.holes])
    if not ring.data["missing"] and any(np.sum(np.abs(r) < _ROUND) >= 2 for r in rel):
        return []
    frame = frame_of_view(view)
    turns = np.sort(np.round(np.degrees(np.arctan2(rel @ frame.up, rel @ frame.right)), 6) % 360)
    gaps = np.diff(np.append(turns, turns[0] + 360))
    widest = int(np.argmax(gaps))
    if not ring.data["missing"]:
        return [turn("start-angle", float(turns[0]))]
    inner = np.delete(gaps, widest)
    if float(np.ptp(inner)) < _EVEN:
        first = float(turns[(widest + 1) % len(turns)])
        return [turn("pitch-angle", float(inner.mean())), turn("start-angle", first)]
    return [turn(f"member-{n}-angle", float(t)) for n, t in enumerate(turns, 1)]


def _round_at(desk: Desk, centre: Vec, axis: Vec) -> Face | None:
    for face in desk.solid.faces:
        if face.kind == "cylinder" and face.sweep > 1.5 * math.pi and parallel(face.axis, axis):
            rel = face.origin - centre
            if float(np.linalg.norm(rel - face.axis * float(rel @ face.axis))) < 0.01:
                return face
    return None
