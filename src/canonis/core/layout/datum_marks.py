"""Places for datum indicators: along the line of their face, clear of what is drawn already."""

from shapely import STRtree
from shapely.geometry import LineString, Polygon, box

from canonis.core.layout.leaders import shapes_of
from canonis.core.sheet import Annotation, DatumMark, Look, Page, Scene, SheetPage, datum_box, datum_foot, noted_by

__all__ = ["place_datum_marks"]

_ALONG = (0.5, 0.35, 0.65, 0.2, 0.8, 0.08, 0.92)
_REACH = (4.0, 8.0, 13.0, 19.0)


def place_datum_marks(scene: Scene, sheet: SheetPage, page: Page, look: Look) -> dict[str, Annotation]:
    """Each indicator of a flat face where it meets least; one that hangs on a note goes where the note goes."""
    marks = [a for a in scene.document.annotations if isinstance(a, DatumMark) and a.sheet == sheet.number]
    if not marks:
        return {}
    drawn: list[Polygon | LineString] = shapes_of(page)
    out: dict[str, Annotation] = {}
    for mark in marks:
        view = scene.document.view(mark.view or "")
        if noted_by(scene, mark) is not None:
            continue
        if mark.by_hand:
            out[mark.id] = mark
            continue
        tree = STRtree(drawn)
        best: tuple[float, DatumMark, Polygon] | None = None
        for reach in _REACH:
            for along in _ALONG:
                trial = mark.model_copy(update={"along": along, "reach": reach})
                spot = datum_foot(scene, view, trial, look)
                if spot is None:
                    break
                middle, half = datum_box(*spot, trial, look)
                shape = box(*(middle - half - 0.8), *(middle + half + 0.8))
                stem = LineString([spot[0] + spot[1] * 0.5, middle - spot[1] * half])
                met = 5 * len(tree.query(shape, "intersects")) + len(tree.query(stem, "intersects"))
                cost = met + 0.02 * reach + abs(along - 0.5)
                if best is None or cost < best[0]:
                    best = (cost, trial, shape)
        if best is not None:
            out[mark.id] = best[1]
            drawn = [*drawn, best[2]]
    return out
