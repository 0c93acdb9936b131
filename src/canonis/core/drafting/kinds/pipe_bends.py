"""Bends of round bars and pipes: the radius of the centre line, where a view shows the bend true."""

from collections.abc import Iterator

from canonis.core.callout import Callout
from canonis.core.drafting.desk import Candidate, Desk
from canonis.core.drafting.registry import states
from canonis.core.drafting.seen import lines_of
from canonis.core.shape import is_bend
from canonis.core.sheet import frame_of_view
from canonis.core.solid import Face
from canonis.core.tolerances import parallel, same_place

__all__ = ["pipe_bends"]


@states(125)
def pipe_bends(desk: Desk) -> Iterator[Candidate]:
    """BEND R … TO CL for each radius and view that looks along what they go about, with the count."""
    alike: dict[tuple[float, str], list[Face]] = {}
    for face in desk.solid.faces:
        if not is_bend(desk.solid, face):
            continue
        for view in desk.views:
            if parallel(face.axis, frame_of_view(view).toward) and (
                face.inner or lines_of(desk.scene, view, face.index)
            ):
                alike.setdefault((round(face.radius, 4), view.id), []).append(face)
    said: set[int] = set()
    for n, ((_, name), faces) in enumerate(sorted(alike.items(), key=lambda x: -len(x[1]))):
        mine = [f for f in faces if f.index not in said]
        outside = [f for f in mine if not f.inner]
        if not outside:
            continue
        said |= {f.index for f in mine}
        rings: list[Face] = []
        for f in mine:
            if not any(same_place(f.origin, r.origin) for r in rings):
                rings.append(f)
        says = Callout(kind="bend", count=len(rings), parts=(desk.sizes.length("radius", mine[0].radius),))
        view = next(v for v in desk.views if v.id == name)
        refs = tuple(dict.fromkeys(desk.reference(f.index) for f in [*outside, *mine]))
        yield Candidate(
            0.7 + 1e-4 * n, desk.note(view, refs, says, "size", desk.reference(outside[0].index)), note=True
        )
