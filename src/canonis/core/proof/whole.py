"""What the sheet as a whole states: title block, notes, projection, scales, datums. Each is a statement and is checked."""

from collections import defaultdict
from dataclasses import replace
from typing import Any

import numpy as np

from canonis.core.faults import BadInput
from canonis.core.finding import Finding, Severity
from canonis.core.quantity import Unit, write_mass
from canonis.core.shape import shape_of
from canonis.core.sheet import Note, Ordinate, Parallel, SheetDocument, View
from canonis.core.solid import Solid, density_of
from canonis.core.source import Specification, source_notes
from canonis.core.tolerances import ALIGNED, NOISE, on_axis, parallel, same, same_way

__all__ = ["check_whole"]

#: Fields of the title block that the source states, with their names for people.
_LINKED = {
    "owner": "owner",
    "number": "number",
    "title": "title",
    "material": "material",
    "general": "general tolerance",
}
#: Where a principal view stands from the front view in third angle: right (+1) or left, above (+1) or below (ISO 5456-2).
_THIRD = {"right": (1, 0), "left": (-1, 0), "top": (0, 1), "bottom": (0, -1)}
_APART = 1.0  # mm on paper


def check_whole(
    document: SheetDocument, solids: tuple[Solid, ...], spec: Specification | None, density: float | None
) -> list[Finding]:
    """Findings on everything that is stated once for the whole sheet."""
    return [
        *_title(document, solids[document.pages[0].solid], spec, density),
        *_notes(document.joined(), spec),
        *_projection(document),
        *_scales(document),
        *_datums(document),
        *_askew(document, solids),
    ]


def _finding(rule: str, subject: str, expected: Any, found: Any, message: str, severity: Severity = "error") -> Finding:
    return Finding(rule, severity, subject, message, expected, found)


def _title(document: SheetDocument, solid: Solid, spec: Specification | None, density: float | None) -> list[Finding]:
    out = []
    title = document.title
    for name, words in _LINKED.items():
        wanted = str(spec.header.get(name, "")) if spec else ""
        stated = str(getattr(title, name))
        if wanted and stated != wanted:
            given = f"“{stated}”" if stated else "nothing"
            found = _finding(
                f"title.{name}",
                f"title block, {words}",
                wanted,
                stated,
                f"The title block gives {given} as {words}; the source says “{wanted}”.",
            )
            out.append(found if stated else replace(found, severity="warning"))
    if density is None and title.material.strip() and not _is_known(title.material):
        words = f"The material “{title.material}” is not in the list, so nothing is weighed with it; give its density in the source."
        out.append(_finding("material.unknown", "title block", None, title.material, words, "warning"))
    if title.mass.strip(" –-"):
        used = density
        if used is None:
            try:
                used = density_of(title.material) if title.material else None
            except BadInput:
                used = None
        if used is None:
            out.append(
                _finding(
                    "title.mass",
                    "title block",
                    None,
                    title.mass,
                    f"The title block gives a mass of {title.mass}, but no material or density stands behind it.",
                    "warning",
                )
            )
        else:
            wanted = write_mass(solid.mass.volume * used / 1000, document.unit)
            if title.mass != wanted:
                out.append(
                    _finding(
                        "title.mass",
                        "title block",
                        wanted,
                        title.mass,
                        f"The title block gives a mass of {title.mass}; the model weighs {wanted} at {used:g} g/cm³.",
                    )
                )
    return out


def _is_known(material: str) -> bool:
    try:
        return density_of(material) > 0
    except BadInput:
        return False


def _notes(document: SheetDocument, spec: Specification | None) -> list[Finding]:
    """General notes: the unit they name, the general tolerance, and what the source asks to be noted."""
    out = []
    for page in document.pages:
        text = " ".join(
            [m.text for m in document.annotations if isinstance(m, Note) and m.sheet == page.number and not m.refs]
        ).upper()
        for unit, word in ((Unit.MM, "MILLIMETRES"), (Unit.INCH, "INCHES")):
            if f"DIMENSIONS IN {word}" in text and document.unit is not unit:
                mine = "MILLIMETRES" if document.unit is Unit.MM else "INCHES"
                out.append(
                    _finding(
                        "note.unit",
                        f"notes of sheet {page.number}",
                        mine,
                        word,
                        f"The notes say that dimensions are in {word.lower()}; they are in {mine.lower()}.",
                    )
                )
        wanted = list(document.notes)
        if spec is not None:
            wanted = list(source_notes(spec)) or wanted
        if document.title.general:
            wanted.append(document.title.general)
        for note in wanted:
            if note.upper() not in text:
                out.append(
                    _finding(
                        "note.missing",
                        f"notes of sheet {page.number}",
                        note,
                        None,
                        f"“{note}” belongs in the notes of sheet {page.number} and is not there.",
                    )
                )
    return out


def _fronts(document: SheetDocument) -> list[tuple[View, list[View]]]:
    """The front view of each sheet with the other principal views there."""
    out: list[tuple[View, list[View]]] = []
    for page in document.pages:
        views = [v for v in document.views if v.sheet == page.number]
        front = next((v for v in views if v.kind == "front"), None)
        if front is not None:
            out.append((front, [v for v in views if v.kind in _THIRD]))
    return out


def _projection(document: SheetDocument) -> list[Finding]:
    """Views must stand where the stated projection puts them, and look from where their names say."""
    out = []
    sense = 1 if document.projection == "third" else -1
    for front, others in _fronts(document):
        right, up = np.array(front.right), np.array(front.up)
        toward = np.cross(right, up)
        looks = {"right": right, "left": -right, "top": up, "bottom": -up}
        for view in others:
            x, y = (sense * c for c in _THIRD[view.kind])
            dx, dy = view.at[0] - front.at[0], view.at[1] - front.at[1]
            wrong = (x and dx * x < _APART) or (y and dy * y < _APART)
            turned = not same_way(np.cross(view.right, view.up), looks[view.kind])
            if wrong or turned:
                out.append(
                    _finding(
                        "projection.place",
                        view.id,
                        document.projection,
                        None,
                        f"View {view.id} ({view.kind}) does not stand where {document.projection} angle projection puts it: "
                        "top and bottom or left and right look swapped.",
                    )
                )
        if not same(float(toward @ toward), 1, NOISE):
            out.append(
                _finding(
                    "projection.frame",
                    front.id,
                    None,
                    None,
                    f"View {front.id} has no right angle between its directions.",
                )
            )
    return out


def _askew(document: SheetDocument, solids: tuple[Solid, ...]) -> list[Finding]:
    """A part that lies turned in its file must be looked at along its own directions, or its sizes are foreshortened (S20)."""
    out = []
    for front, _ in _fronts(document):
        page = next(p for p in document.pages if p.number == front.sheet)
        shape, _ = shape_of(solids[page.solid])
        # A part without two flat directions at right angles has no way of its own to lie.
        flat = {
            k
            for x in shape.unknowns
            if x.holder == "plane" and x.direction is not None
            for k in range(3)
            if parallel(shape.frame[k], x.direction, ALIGNED)
        }
        along = all(on_axis(shape.frame @ np.array(d), ALIGNED) for d in (front.right, front.up))
        if len(flat) > 1 and not along:
            out.append(
                _finding(
                    "view.askew",
                    front.id,
                    None,
                    None,
                    f"View {front.id} looks at the part askew: the part lies turned in its file, so that its sizes are "
                    "not shown true. Turn the model and draft again.",
                )
            )
    return out


def _scales(document: SheetDocument) -> list[Finding]:
    """Principal views are drawn at the scale that the title block states."""
    out = []
    for view in document.views:
        page = next(p for p in document.pages if p.number == view.sheet)
        if isinstance(view, Parallel) and abs(view.scale - page.scale) > 1e-9 * page.scale:
            out.append(
                _finding(
                    "scale.view",
                    view.id,
                    page.scale,
                    view.scale,
                    f"View {view.id} ({view.kind}) is drawn at {view.scale:g} times its size; the sheet says {page.scale:g}.",
                )
            )
    return out


def _datums(document: SheetDocument) -> list[Finding]:
    """The ordinates of one family count from one datum (S21)."""
    families: dict[tuple[str | None, str], dict[str, list[str]]] = defaultdict(lambda: defaultdict(list))
    for mark in document.annotations:
        if isinstance(mark, Ordinate) and mark.refs:
            families[(mark.view, mark.direction)][mark.refs[0]].append(mark.id)
    out = []
    for (view, direction), by_datum in families.items():
        if len(by_datum) < 2:
            continue
        main = max(by_datum, key=lambda r: len(by_datum[r]))
        for ref, ids in by_datum.items():
            if ref != main:
                out.append(
                    _finding(
                        "datum.two",
                        ids[0],
                        None,
                        None,
                        f"The ordinates of view {view} along {direction} count from two datums: {', '.join(ids)} from another one.",
                    )
                )
    return out
