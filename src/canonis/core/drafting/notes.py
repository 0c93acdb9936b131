"""The general notes of a sheet and the linked fields of its title block."""

from typing import Any

from canonis.core.layout.arrange import place_notes
from canonis.core.quantity.units import Unit
from canonis.core.quantity.written import write_mass
from canonis.core.sheet.document import Annotation, Note, SheetDocument, SheetPage

__all__ = ["default_notes", "link_title", "write_notes"]


def default_notes(header: dict[str, Any]) -> tuple[str, ...]:
    """The default notes in a specification's header, which stand there parted by semicolons."""
    return tuple(t.strip() for t in str(header.get("default", "")).split(";") if t.strip())


def _lines(document: SheetDocument, page: SheetPage) -> list[str]:
    lines = [f"DIMENSIONS IN {'MILLIMETRES' if document.unit is Unit.MM else 'INCHES'} UNLESS OTHERWISE NOTED (UON)."]
    if document.title.general:
        lines.append(f"GENERAL TOLERANCES {document.title.general} UON; CONFIRM WITH THE CONTRACT.")
    if page.copies > 1:
        lines.append(f"{page.copies} IDENTICAL PARTS IN THE MODEL.")
    return lines + [n.upper() for n in document.notes]


def write_notes(document: SheetDocument) -> SheetDocument:
    """The document with its general notes written anew from its title block and its list of notes.

    All notes of a sheet form one block: each that states something keeps its own line and id, spaced by
    empty lines.
    """
    marks: list[Annotation] = []
    for mark in document.annotations:
        if not isinstance(mark, Note):
            marks.append(mark)
            continue
        page = next(p for p in document.pages if p.number == mark.sheet)
        own = [a for a in document.annotations if isinstance(a, Note) and a.sheet == mark.sheet and a.refs]
        lines = _lines(document, page)
        if mark.refs:
            above = len(lines) + next(k for k, a in enumerate(own) if a.id == mark.id)
            kept = [t for t in mark.lines if t]
            marks.append(mark.model_copy(update={"lines": tuple([""] * above + kept)}))
        elif mark.id == f"N{mark.sheet}":
            made = {"lines": (*lines, *[""] * len(own)), "text": " ".join(lines)}
            marks.append(mark.model_copy(update=made))
        else:
            marks.append(mark)
    return document.model_copy(update={"annotations": tuple(marks)})


def link_title(document: SheetDocument, header: dict[str, Any], mass_g: float | None) -> SheetDocument:
    """Title block and notes as the source and the model have them now: they are linked, not typed.

    `header` is the header of the specification; `mass_g` the mass of the first sheet's solid in grams.
    """
    update: dict[str, Any] = {"mass": write_mass(mass_g, document.unit)}
    for name in ("owner", "number", "title", "material", "general"):
        if header.get(name):
            update[name] = str(header[name])
    title = document.title.model_copy(update=update)
    notes = document.notes
    if "default" in header:
        notes = default_notes(header)
    if title == document.title and notes == document.notes:
        return document
    document = write_notes(document.model_copy(update={"title": title, "notes": notes}))
    for page in document.pages:
        document = place_notes(document, page)
    return document
