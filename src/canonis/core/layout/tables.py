"""Places for hole tables, and for the tags beside the holes."""

import numpy as np
from shapely import STRtree, box

from canonis.core.layout.free_spot import Rect
from canonis.core.layout.leaders import shapes_of
from canonis.core.sheet import (
    TAG,
    Annotation,
    HoleTable,
    Look,
    Page,
    Scene,
    SheetDocument,
    SheetPage,
    centre_of,
    frame_rect,
    glyphs,
    table_size,
)
from canonis.core.sheet.document import Place
from canonis.core.solid import Vec

__all__ = ["place_tables", "place_tags"]

#: A table has at most so many columns of rows; air around it, mm.
_MOST, _AIR = 24, 6.0
#: Ways from a hole to its tag, and how far beyond the rim its middle stands, mm.
_WAYS = np.radians([45, 135, 315, 225, 0, 180, 90, 270])
_REACH = (2.6, 4.2, 6.0, 8.5)


def place_tables(scene: Scene, sheet: SheetPage, taken: list[Rect]) -> SheetDocument | None:
    """The document with the tables of a sheet in free places, in as few columns as fit; None where one has no room."""
    document = scene.document
    for table in [a for a in document.annotations if isinstance(a, HoleTable) and a.sheet == sheet.number]:
        spot = None
        for columns in range(1, _MOST + 1):
            trial = table.model_copy(update={"columns": columns, "at": (0.0, 0.0)})
            size = table_size(scene.on(_with(document, trial)), trial)
            spot = _free(sheet, size, taken)
            if spot is not None:
                made = trial.model_copy(update={"at": (spot[0], spot[3])})
                document = _with(document, made)
                taken.append(spot)
                break
        if spot is None:
            return None
    return document


def _with(document: SheetDocument, mark: Annotation) -> SheetDocument:
    marks = tuple(mark if a.id == mark.id else a for a in document.annotations)
    return document.model_copy(update={"annotations": marks})


def _free(sheet: SheetPage, size: tuple[float, float], taken: list[Rect]) -> Rect | None:
    """A free place for a rectangle: the rightmost and highest on a grid of the sheet."""
    x0, y0, x1, y1 = frame_rect(sheet.size)
    w, h = size[0], size[1] + 2 * _AIR
    for x in np.arange(x1 - w - _AIR, x0 + _AIR, -8.0):
        for y in np.arange(y1 - h, y0, -8.0):
            here = (float(x), float(y) + _AIR, float(x) + w, float(y) + h - _AIR)
            if all(
                here[0] >= t[2] + _AIR or t[0] >= here[2] + _AIR or here[1] >= t[3] + _AIR or t[1] >= here[3] + _AIR
                for t in taken
            ):
                return here
    return None


def place_tags(scene: Scene, sheet: SheetPage, page: Page, look: Look) -> dict[str, Annotation]:
    """Each tag beside its hole, where it meets no line and no text; what is drawn on the page is in the way."""
    places = [a for a in scene.document.annotations if isinstance(a, Place) and a.sheet == sheet.number]
    if not places:
        return {}
    tree = STRtree(shapes_of(page))
    tags = np.zeros((len(places), 4))
    out: dict[str, Annotation] = {}
    for place in places:
        view = scene.document.view(place.view or "")
        centre = centre_of(scene, view, place)
        if centre is None or place.by_hand:
            out[place.id] = place
            continue
        half = glyphs.width(place.tag, TAG) / 2
        rim = scene.radius(place.sheet, place.refs[-1]) * view.scale
        offsets = [
            np.array([np.cos(a), np.sin(a)]) * (rim + reach) + np.array([np.cos(a) * half * 0.8, 0.0])
            for reach in _REACH
            for a in _WAYS
        ]
        rects = [
            (
                float(p[0]) - half - 0.3,
                float(p[1]) - TAG / 2 - 0.3,
                float(p[0]) + half + 0.3,
                float(p[1]) + TAG / 2 + 0.3,
            )
            for p in (centre + o for o in offsets)
        ]
        met = np.bincount(tree.query([box(*r) for r in rects], "intersects")[0], minlength=len(rects))
        best = int(np.argmin(met + 5 * _meetings(np.array(rects), tags[: len(out)])))
        tags[len(out)] = rects[best]
        x, y = offsets[best]
        out[place.id] = place.model_copy(update={"offset": (round(float(x), 3), round(float(y), 3))})
    return out


def _meetings(rects: Vec, others: Vec) -> Vec:
    """How many of the others each rectangle (n×4) meets."""
    a, b = rects[:, None], others[None]
    apart = (a[..., 0] >= b[..., 2]) | (b[..., 0] >= a[..., 2]) | (a[..., 1] >= b[..., 3]) | (b[..., 1] >= a[..., 3])
    return np.asarray((~apart).sum(axis=1))
