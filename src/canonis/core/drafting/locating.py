"""How locations are stated, by the house rule: ordinates from one datum, baseline dimensions from it, or chains."""

from collections import defaultdict

from canonis.core.callout import a_length
from canonis.core.house import Locations
from canonis.core.sheet import Annotation, Linear, Ordinate, Scene, SheetDocument
from canonis.core.tolerances import NOISE

__all__ = ["located"]


def located(scene: Scene, style: Locations) -> SheetDocument:
    """The document with its rows of ordinates said as the house rule wants them: the same places by the same rank.

    Baseline: each place from the datum. Chain: each from its neighbour toward the datum, so that none closes.
    """
    document = scene.document
    if style in ("ordinate", "symmetric"):
        return document
    families: dict[tuple[str, str], list[Ordinate]] = defaultdict(list)
    for mark in document.annotations:
        if isinstance(mark, Ordinate) and mark.view:
            families[(mark.view, mark.direction)].append(mark)
    said: dict[str, list[Annotation]] = {}
    for row in families.values():
        for mark, made in zip(row, _row(scene, row, style), strict=True):
            said[mark.id] = [made] if made is not None else []
    marks = tuple(new for a in document.annotations for new in said.get(a.id, [a]))
    return document.model_copy(update={"annotations": marks})


def _row(scene: Scene, row: list[Ordinate], style: Locations) -> list[Annotation | None]:
    """What stands for each ordinate of a row; None for its zero."""
    view = scene.document.view(row[0].view or "")
    levels: dict[str, float] = {}
    for mark in row:
        for ref in mark.refs:
            anchor = scene.anchor(view, ref)
            level = None if anchor is None else anchor.level(mark.direction)
            if level is None:
                return list(row)
            levels[ref] = level
    datum = row[0].refs[0]
    zero = levels[datum]
    out: list[Annotation | None] = []
    for mark in row:
        ref = mark.refs[1]
        if mark.refs[0] == ref:
            out.append(None)
            continue
        start = datum
        if style == "chain":
            # The nearest place between it and the datum, on its side.
            between = [
                m.refs[1]
                for m in row
                if m.refs[1] not in (ref, datum)
                and min(zero, levels[ref]) + NOISE < levels[m.refs[1]] < max(zero, levels[ref]) - NOISE
            ]
            start = min(between, key=lambda r: abs(levels[r] - levels[ref]), default=datum)
        length = abs(levels[ref] - levels[start])
        out.append(
            Linear(
                id=mark.id,
                sheet=mark.sheet,
                view=mark.view,
                direction=mark.direction,
                side=mark.side,
                refs=(start, ref),
                says=a_length(length, scene.document.unit),
                unit=mark.unit,
                feature=mark.feature,
            )
        )
    return out
