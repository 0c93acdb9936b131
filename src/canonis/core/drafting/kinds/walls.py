"""The thickness of a shell: one note for all its leaning walls, measured square to them."""

from collections import defaultdict
from collections.abc import Iterator

from canonis.core.callout import Callout
from canonis.core.drafting.desk import Candidate, Desk
from canonis.core.drafting.registry import states
from canonis.core.drafting.seen import lines_of
from canonis.core.features import size_key, wall_pairs
from canonis.core.sheet import Section, frame_of_view
from canonis.core.solid import Face
from canonis.core.tolerances import same, square

__all__ = ["walls"]


@states(140)
def walls(desk: Desk) -> Iterator[Candidate]:
    """WALL and a thickness for leaning walls, in a view that shows one of them cut through."""
    sheet = [float(p.data["thickness_mm"]) for form in desk.found.forms if form.kind == "bend" for p in form.pieces]
    groups: dict[int, list[tuple[Face, Face]]] = defaultdict(list)
    for pair in wall_pairs(desk.solid, 0.2 * desk.solid.diagonal):
        # Square walls are said by their levels, but for bent sheet, which is one thickness all over.
        if not desk.square(pair.a.axis) or any(same(pair.thickness, t) for t in sheet):
            groups[size_key(pair.thickness)].append((pair.a, pair.b))
    for n, pairs in enumerate(groups.values()):
        thickness = abs(float((pairs[0][0].centre - pairs[0][1].centre) @ pairs[0][0].axis))
        says = Callout(kind="wall", parts=(desk.sizes.length("thickness", thickness),))
        refs = tuple(desk.reference(f.index) for pair in pairs for f in pair)
        for m, view in enumerate(desk.views):
            toward = frame_of_view(view).toward
            cut = [
                a
                for a, b in pairs
                if square(a.axis, toward)
                and (isinstance(view, Section) or bool(sheet))
                and all(lines_of(desk.scene, view, f.index) for f in (a, b))
            ]
            if cut:
                yield Candidate(
                    0.58 + 1e-4 * n + 0.01 * m,
                    desk.note(view, refs, says, "wall", desk.reference(cut[0].index)),
                    note=True,
                )
                break
