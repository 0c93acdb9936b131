"""A part with more to say than one sheet carries: its views over several, a crowded view repeated zone by zone."""

import itertools
from collections.abc import Sequence

import numpy as np

from canonis.core.layout.arrangement import arranged, no_room
from canonis.core.sheet import (
    MUTE,
    Annotation,
    HoleTable,
    Ordinate,
    Parallel,
    Scene,
    SheetDocument,
    SheetPage,
    View,
    frame_of_view,
)
from canonis.core.sheet.document import Place

__all__ = ["arrange_over"]

#: A sheet on which more than so many notes find no place, or texts lie on others, is too crowded.
_CROWDED = 3
#: A view is repeated on at most so many sheets.
_MOST = 24
#: No view carries more statements than this.
_SAID = 500


def arrange_over(scene: Scene, sheet: SheetPage, size: str = "auto", scale: str = "auto") -> SheetDocument:
    """The document with everything of a sheet in its place, on further sheets where one is too crowded.

    Sections, details and auxiliary views go to a sheet of their own first, then each principal view; last a view is
    repeated, each time with the statements of one zone. Raises BadInput when a single view fits nowhere.
    """
    whole = arranged(scene, sheet, size, scale)
    if whole is not None and whole.wrong <= _CROWDED:
        return whole.document
    if any(isinstance(a, HoleTable) and a.sheet == sheet.number for a in scene.document.annotations):
        # Tables go to a sheet of their own before any view does.
        document, page = _tables_moved(scene.document, sheet)
        tabled = arranged(scene.on(document), page, size, scale)
        if tabled is not None:
            return arrange_over(scene.on(tabled.document), sheet, size, scale)
    views = [v for v in scene.document.views if v.sheet == sheet.number]
    principal = [v for v in views if isinstance(v, Parallel)]
    rest = [v for v in views if not isinstance(v, Parallel)]
    # What stands on the first sheet has the pictorial beside it.
    hung = [v for v in rest if v.kind != "pictorial"]
    first = [v for v in rest if v.kind == "pictorial"]
    ways: list[list[Sequence[View]]] = []
    if hung and principal:
        ways.append([[*principal, *first], hung])
    if len(principal) > 1:
        ways.append([[principal[0], *first], *([v] for v in principal[1:]), *([hung] if hung else [])])
    best = whole
    for groups in ways:
        made = _laid(scene, sheet, groups, size, scale)
        if made is not None and (best is None or made[1] < best.wrong) and made[1] <= _CROWDED:
            return made[0]
    zoned = _zoned(
        scene,
        sheet,
        [v for v in principal if v.kind == "front"] + [v for v in principal if v.kind != "front"],
        first,
        hung,
        size=size,
        scale=scale,
    )
    if zoned is not None and (best is None or zoned[1] < best.wrong):
        return zoned[0]
    if best is None:
        raise no_room(size, scale)
    return best.document


def _next_page(document: SheetDocument) -> int:
    return 1 + max(p.number for p in document.pages)


def _moved(document: SheetDocument, sheet: SheetPage, views: Sequence[View]) -> tuple[SheetDocument, SheetPage]:
    """The document with some views and what stands in them on a new sheet."""
    page = sheet.model_copy(update={"number": _next_page(document)})
    names = {v.id for v in views}
    return document.model_copy(
        update={
            "pages": (*document.pages, page),
            "views": tuple(v.model_copy(update={"sheet": page.number}) if v.id in names else v for v in document.views),
            "annotations": tuple(
                a.model_copy(update={"sheet": page.number}) if a.view in names and not isinstance(a, HoleTable) else a
                for a in document.annotations
            ),
        }
    ), page


def _tables_moved(document: SheetDocument, sheet: SheetPage) -> tuple[SheetDocument, SheetPage]:
    """The document with the hole tables of a sheet on a new one."""
    page = sheet.model_copy(update={"number": _next_page(document)})
    marks = tuple(
        a.model_copy(update={"sheet": page.number}) if isinstance(a, HoleTable) and a.sheet == sheet.number else a
        for a in document.annotations
    )
    return document.model_copy(update={"pages": (*document.pages, page), "annotations": marks}), page


def _laid(
    scene: Scene, sheet: SheetPage, groups: Sequence[Sequence[View]], size: str, scale: str
) -> tuple[SheetDocument, int] | None:
    """Each group of views on a sheet of its own, the first on the sheet there is; None where one does not fit."""
    document, pages = scene.document, [sheet]
    for views in groups[1:]:
        document, page = _moved(document, sheet, views)
        pages.append(page)
    wrong = 0
    for page in pages:
        made = arranged(scene.on(document), page, size, scale)
        if made is None:
            return None
        document, wrong = made.document, wrong + made.wrong
    return document, wrong


def _zoned(
    scene: Scene,
    sheet: SheetPage,
    principal: Sequence[View],
    first: Sequence[View],
    hung: Sequence[View],
    *,
    size: str,
    scale: str,
) -> tuple[SheetDocument, int] | None:
    """Each principal view by itself; one that is too crowded is repeated, each time with what is said in a zone of it."""
    document, wrong = scene.document, 0
    pages: list[SheetPage] = []
    for n, view in enumerate(principal):
        views = [view, *first] if n == 0 else [view]
        page = sheet
        if n:
            document, page = _moved(document, sheet, views)
        pages.append(page)
    if hung:
        document, page = _moved(document, sheet, hung)
        pages.append(page)
    for page in pages:
        made = _page_in_zones(scene.on(document), page, size, scale)
        if made is None:
            return None
        document, wrong = made[0], wrong + made[1]
    return document, wrong


def _page_in_zones(scene: Scene, page: SheetPage, size: str, scale: str) -> tuple[SheetDocument, int] | None:
    """One sheet arranged; where its only principal view is too crowded, that view again on more and more sheets."""
    best: tuple[SheetDocument, int] | None = None
    shared = sum(a.sheet == page.number and _shared_out(a) for a in scene.document.annotations)
    count = 1 + shared // _SAID
    # Where there is very much to say, two ways are tried: what is left may lie closer than text can.
    for _ in range(2 if count > 1 else _MOST):
        document, pages = _repeated(scene, page, count)
        wrong = 0
        for one in pages:
            made = arranged(scene.on(document), one, size, scale)
            if made is None:
                break
            document, wrong = made.document, wrong + made.wrong
        else:
            if best is None or wrong < best[1]:
                best = document, wrong
            if wrong <= _CROWDED * count:
                return best
        count += max(1, count // 2)
        if count > min(_MOST, shared):
            break
    return best


def _repeated(scene: Scene, page: SheetPage, count: int) -> tuple[SheetDocument, list[SheetPage]]:
    """The document with the principal view of a sheet on `count` sheets, its statements shared out by zones."""
    document = scene.document
    view = next((v for v in document.views if v.sheet == page.number and isinstance(v, Parallel)), None)
    if view is None or count == 1:
        return document, [page]
    mine: list[Annotation] = [a for a in document.annotations if a.view == view.id and not isinstance(a, HoleTable)]
    shown = [a for a in mine if isinstance(a, MUTE)]
    datum = [a for a in mine if isinstance(a, Ordinate) and a.feature == "datum"]
    held = [a for a in mine if not isinstance(a, MUTE) and not _shared_out(a)]
    apart = {a.id for a in (*shown, *datum, *held)}
    said = [a for a in mine if a.id not in apart]
    zones = _zones(scene, view, said, count)
    pages, views = [page], list(document.views)
    names = {a.id for a in mine}
    marks = [a for a in document.annotations if a.id not in names] + shown + datum + held + zones[0]
    number = 1 + max((int(a.id[1:]) for a in document.annotations if a.id[1:].isdigit()), default=0)
    for zone in zones[1:]:
        another = page.model_copy(update={"number": max(p.number for p in (*document.pages, *pages)) + 1})
        again = view.model_copy(
            update={
                "id": f"V{1 + max(int(v.id[1:]) for v in views)}",
                "sheet": another.number,
                "reason": f"the {view.kind} view again: what one sheet cannot carry",
            }
        )
        pages.append(another)
        views.append(again)
        copies: list[Annotation] = []
        for mark in (*shown, *datum):
            copies.append(mark.model_copy(update={"id": f"{mark.id[0]}{number}"}))
            number += 1
        marks += [a.model_copy(update={"sheet": another.number, "view": again.id}) for a in (*copies, *zone)]
    made = document.model_copy(
        update={"pages": (*document.pages, *pages[1:]), "views": tuple(views), "annotations": tuple(marks)}
    )
    return made, pages


def _shared_out(mark: Annotation) -> bool:
    """Whether a statement may stand on any of the sheets that repeat a view: what a hole table says stays with its view."""
    return not isinstance(mark, (*MUTE, Place)) and not getattr(mark, "letter", "")


def _zones(scene: Scene, view: View, said: list[Annotation], count: int) -> list[list[Annotation]]:
    """Statements in `count` strips across the longer side of a view, as many in each."""
    x0, y0, x1, y1 = scene.projection(view).box
    k = 0 if x1 - x0 >= y1 - y0 else 1

    frame = frame_of_view(view)

    def along(mark: Annotation) -> float:
        points = [p for ref in mark.refs[-2:] if (p := scene.point(view.sheet, ref)) is not None]
        return float(np.mean([frame.flat(p)[k] for p in points])) if points else 0.0

    ordered = sorted(said, key=along)
    bounds = [round(len(ordered) * n / count) for n in range(count + 1)]
    return [ordered[a:b] for a, b in itertools.pairwise(bounds)]
