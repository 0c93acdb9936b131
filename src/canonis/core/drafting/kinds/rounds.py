"""Radii by leader, the commonest small one as a default note."""

from collections import defaultdict
from collections.abc import Iterable, Iterator

import numpy as np

from canonis.core.callout import Callout
from canonis.core.drafting.desk import Candidate, Desk
from canonis.core.drafting.registry import states
from canonis.core.features import Blend, of_blend, size_key
from canonis.core.sheet import Note, View, frame_of_view
from canonis.core.solid import Face, face_reference
from canonis.core.tolerances import SAME, parallel, same

__all__ = ["rounds", "seen_true"]


@states(180)
def rounds(desk: Desk) -> Iterator[Candidate]:
    """One note a size: in the notes for the commonest, at an arc seen true for the others."""
    by_size: dict[int, list[Blend]] = defaultdict(list)
    for b in desk.found.blends:
        if b.kind == "fillet":
            by_size[size_key(b.size)].append(b)
    groups = sorted(by_size.values(), key=lambda g: (-sum(b.count for b in g), g[0].size))
    default = _default(desk, groups)
    for n, group in enumerate(groups):
        faces = [f for b in group for f in b.faces if desk.solid.faces[f].kind in ("cylinder", "torus")]
        refs = tuple(dict.fromkeys(desk.reference(f) for f in faces))
        name = group[0].id
        if group is default:
            says = Callout(kind="round", general=True, parts=(desk.sizes.length("radius", group[0].size),))
            yield Candidate(0.5, _among_notes(desk, refs, says, name), note=True)
            continue
        whole = Blend(name, "fillet", group[0].size, group[0].size, 0.0, True, sum(b.count for b in group), ())
        says = of_blend(whole, desk.unit)
        best = next((b for b in (seen_true(desk, b.faces) for b in group) if b), None)
        if best is None and not _small(desk, group):
            # A wide arc that no view shows asks for a section.
            continue
        if best is None:
            # Seen true in no view: a line in the notes, with its count.
            says = says.changed(shown="WHERE SHOWN IN NO VIEW")
            yield Candidate(0.51 + 1e-4 * n, _among_notes(desk, refs, says, name), note=True)
            continue
        view, face = best
        # The outside of a bend follows from its inside and the thickness of the sheet, which come first.
        price = 0.6 if _outside_of_bends(desk, faces) else 0.51
        yield Candidate(price + 1e-4 * n, desk.note(view, refs, says, name, face_reference(face)), note=True)


def _among_notes(desk: Desk, refs: tuple[str, ...], says: Callout, name: str) -> Note:
    return Note(id="", sheet=desk.sheet, refs=refs, says=says, unit=desk.unit, at=(0, 0), feature=name)


def _outside_of_bends(desk: Desk, faces: list[int]) -> bool:
    """Whether rounds are the outer ones of bent sheet: around the same axis runs an inner one, its thickness smaller."""
    thick = [float(p.data["thickness_mm"]) for form in desk.found.forms if form.kind == "bend" for p in form.pieces]
    mine = [desk.solid.faces[f] for f in faces]

    def inside(face: Face) -> bool:
        return any(
            o.kind == "cylinder"
            and o.inner
            and parallel(o.axis, face.axis)
            and any(same(face.radius - o.radius, t) for t in thick)
            and float(np.linalg.norm(np.cross(o.origin - face.origin, face.axis))) < SAME
            for o in desk.solid.faces
        )

    return bool(thick) and all(f.kind == "cylinder" and not f.inner and inside(f) for f in mine)


def _default(desk: Desk, groups: list[list[Blend]]) -> list[Blend] | None:
    """The rounds that a default note states: many and small, or such as no view shows."""
    if not groups:
        return None
    common = groups[0]
    count = sum(b.count for b in common)
    if not _small(desk, common):
        return None
    many = count >= 4 and (len(groups) > 1 or count >= 6)
    return common if many or not any(seen_true(desk, b.faces) for b in common) else None


def _small(desk: Desk, group: list[Blend]) -> bool:
    """Whether rounds are small beside the part, such as a line in the notes can state."""
    return group[0].size < 0.12 * desk.solid.diagonal


def seen_true(desk: Desk, faces: Iterable[int]) -> tuple[View, Face] | None:
    """The first view that shows a round among some faces as an arc, and that face."""
    mine = tuple(faces)
    for view in desk.views:
        for f in mine:
            face = desk.solid.faces[f]
            if face.kind != "cylinder" or not parallel(face.axis, frame_of_view(view).toward):
                continue
            if desk.arcs_at(view, face.origin, [face.radius]):
                return view, face
    return None
