"""Many holes without a pattern: their places in a table, a row each, instead of ordinates."""

from collections import defaultdict
from collections.abc import Iterator

from canonis.core.drafting.desk import Candidate, Desk
from canonis.core.drafting.letters import all_letters
from canonis.core.drafting.registry import states
from canonis.core.features import HoleGroup
from canonis.core.sheet import View, frame_of_view
from canonis.core.sheet.document import Place
from canonis.core.tolerances import on_axis

__all__ = ["letters", "table_faces", "tables"]


@states(40)
def tables(desk: Desk) -> Iterator[Candidate]:
    """A row for each hole of a view with many that stand in no pattern."""
    for view, groups in _tabled(desk):
        frame = frame_of_view(view)
        origins = tuple(desk.datum.ref(desk.solid, way) for way in (frame.right, frame.up))
        for n, (letter, group) in enumerate(groups):
            order = sorted(
                group.holes, key=lambda h: (round(float(h.start @ frame.right), 3), float(h.start @ frame.up))
            )
            for k, hole in enumerate(order, start=1):
                away = hole.start - desk.datum.point
                x, y = (desk.sizes.length(n, float(away @ w)) for n, w in (("x", frame.right), ("y", frame.up)))
                yield Candidate(
                    0.05 + 1e-4 * n + 1e-8 * k,
                    Place(
                        id="",
                        sheet=desk.sheet,
                        view=view.id,
                        refs=(*origins, desk.reference(hole.main_faces[0])),
                        x=x,
                        y=y,
                        unit=desk.unit,
                        tag=f"{letter}{k}",
                        feature=group.id,
                    ),
                    note=True,
                )


def letters(desk: Desk) -> dict[str, str]:
    """The letters of the groups whose places stand in a table, by their names."""
    return {group.id: letter for _, groups in _tabled(desk) for letter, group in groups}


def table_faces(desk: Desk) -> set[int]:
    """The faces of holes whose places stand in a table: nothing draws them level with one another."""
    return {f for _, groups in _tabled(desk) for _, group in groups for h in group.holes for f in h.faces}


def _tabled(desk: Desk) -> Iterator[tuple[View, list[tuple[str, HoleGroup]]]]:
    """The views with so many holes in no pattern, and their groups with a letter each."""
    if desk.table_from is None:
        return
    by_view: dict[str, list[HoleGroup]] = defaultdict(list)
    for group in desk.found.holes:
        view = desk.best_view(group)
        if view is None or group.pattern is not None or not on_axis(group.first.axis):
            continue
        frame = frame_of_view(view)
        if desk.square(frame.right) and desk.square(frame.up):
            by_view[view.id].append(group)
    free = all_letters()
    for view in desk.views:
        groups = by_view[view.id]
        if _worth_it(groups, view, desk.table_from):
            yield view, [(next(free), g) for g in groups]


def _worth_it(groups: list[HoleGroup], view: View, least: int) -> bool:
    """Whether so many holes need at least an ordinate each: where they stand in line, rows of ordinates are shorter."""
    holes = [h for g in groups for h in g.holes]
    if len(holes) < least:
        return False
    frame = frame_of_view(view)
    levels = sum(len({round(float(h.start @ way), 3) for h in holes}) for way in (frame.right, frame.up))
    return levels >= len(holes)
