"""The point that the levels of a sheet count from, read from what holds it on the model."""

from weakref import WeakKeyDictionary

import numpy as np

from canonis.core.sheet.document import SheetDocument, SheetPage
from canonis.core.solid import Solid, Vec, end_level, parse, resolve_all
from canonis.core.tolerances import NOISE

__all__ = ["settled"]

_levels: WeakKeyDictionary[Solid, dict[tuple[str, int], float | None]] = WeakKeyDictionary()


def settled(document: SheetDocument, solids: tuple[Solid, ...]) -> SheetDocument:
    """The document with its datums where their references stand on these solids, and its views moved along.

    A view's origin is an offset from the datum of its sheet: on a part that lies elsewhere in its file, or has grown at
    the datum's side, both follow. What the model has lost, and what nothing holds, stays where it was.
    """
    steps = {page.number: _step(page, solids[page.solid]) for page in document.pages if page.solid < len(solids)}
    moved = {number: step for number, step in steps.items() if float(np.abs(step).max()) > NOISE}
    if not moved:
        return document
    return document.model_copy(
        update={
            "pages": tuple(
                p.model_copy(update={"datum": _by(p.datum, moved[p.number])}) if p.number in moved else p
                for p in document.pages
            ),
            "views": tuple(
                v.model_copy(update={"origin": _by(v.origin, moved[v.sheet])}) if v.sheet in moved else v
                for v in document.views
            ),
        }
    )


def _by(point: tuple[float, float, float], step: Vec) -> tuple[float, float, float]:
    x, y, z = (float(c) for c in np.array(point) + step)
    return x, y, z


def _step(page: SheetPage, solid: Solid) -> Vec:
    """How far the datum of a page has moved along the axes of the file, mm."""
    step = np.zeros(3)
    for k, ref in enumerate(page.datum_refs):
        level = _level(solid, ref, k)
        if level is not None:
            step[k] = level - page.datum[k]
    return step


def _level(solid: Solid, ref: str, k: int) -> float | None:
    """The level of a reference along an axis of the file, mm; None where it fixes none."""
    known = _levels.setdefault(solid, {})
    if (ref, k) not in known:
        known[ref, k] = _found(solid, ref, k)
    return known[ref, k]


def _found(solid: Solid, ref: str, k: int) -> float | None:
    parsed = parse(ref)
    if parsed.kind == "fixed":
        return None
    if parsed.kind == "extreme":
        d = np.array(parsed.vectors[0])
        return float(d[k]) * end_level(solid, d)
    found = resolve_all([ref], solid)[ref]
    if found.status in ("lost", "ambiguous") or not found.faces:
        return None
    return float(solid.faces[found.faces[0]].origin[k])
