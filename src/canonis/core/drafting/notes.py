"""The general notes of a sheet and the linked fields of its title block."""

from collections.abc import Sequence
from typing import Any

from canonis.core.callout import Callout, of_the_part
from canonis.core.layout import place_notes
from canonis.core.quantity import Unit, write_mass
from canonis.core.sheet import BLOCK_SIZE, Annotation, Leader, Note, SheetDocument, SheetPage, glyphs, meaning
from canonis.core.source import Specification, default_notes, source_notes

__all__ = ["link_title", "linked_fields", "write_notes"]

#: Fields of the title block that follow the source.
LINKED = ("owner", "number", "title", "material", "general")
#: The letter height at which notes are broken into lines, mm.
_SMALL = 2.5


def _lines(document: SheetDocument, page: SheetPage) -> list[str]:
    lines = [f"DIMENSIONS IN {'MILLIMETRES' if document.unit is Unit.MM else 'INCHES'} UNLESS OTHERWISE NOTED (UON)."]
    if document.title.general:
        lines.append(f"GENERAL TOLERANCES {document.title.general} UON; CONFIRM WITH THE CONTRACT.")
    if page.copies > 1:
        lines.append(f"{page.copies} IDENTICAL PARTS IN THE MODEL.")
    return [*lines, *(t for t in document.notes if not _is_drawn(document, t))]


def _is_drawn(document: SheetDocument, note: str) -> bool:
    """Whether what a note asks of the part is drawn at its place."""
    drawn = [a.says for a in document.annotations if isinstance(a, Leader) and of_the_part(a.states)]
    said = meaning(note, document.unit) if drawn else None
    return said is not None and any(said.stated.said == one.stated.said for one in drawn)


def _numbered(lines: list[str], first: int) -> list[str]:
    """Notes with their numbers; one that is wider than the title block goes on below."""
    out: list[str] = []
    for k, text in enumerate(lines, start=first):
        now = f"{k}."
        for word in text.split():
            if glyphs.width(f"{now} {word}", _SMALL) > BLOCK_SIZE[0] - 4 and now.strip() != f"{k}.":
                out.append(now)
                now = "   "
            now = f"{now} {word}"
        out.append(now)
    return out


def _plain(document: SheetDocument, before: SheetDocument) -> SheetDocument:
    """A document of before notes had numbers, with its notes as they were written then. Lines that its own list did not
    give (a caution, what somebody had put there) stay."""
    marks: list[Annotation] = []
    for mark in document.annotations:
        if isinstance(mark, Note) and not mark.refs and mark.id == f"N{mark.sheet}":
            page = next(p for p in document.pages if p.number == mark.sheet)
            gone = {t.upper() for t in _lines(before, page)}
            own = [t for t in mark.laid if t and t.upper() not in gone]
            empty = [t for t in mark.laid if not t]
            said = [t.upper() for t in _lines(document, page)] + own
            mark = mark.saying(Callout(detail="\n".join(said)), laid=(*said, *empty))
        marks.append(mark)
    return document.model_copy(update={"annotations": tuple(marks)})


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
        said = _lines(document, page)
        lines = _numbered(said, 1)
        if mark.refs:
            place = next(k for k, a in enumerate(own) if a.id == mark.id)
            numbered = _numbered([mark.text], len(said) + 1 + place)
            marks.append(mark.model_copy(update={"laid": tuple([""] * (len(lines) + place) + numbered)}))
        elif mark.id == f"N{mark.sheet}":
            marks.append(mark.saying(Callout(detail="\n".join(said)), laid=(*lines, *[""] * len(own))))
        else:
            marks.append(mark)
    return document.model_copy(update={"annotations": tuple(marks)})


def linked_fields(spec: Specification) -> dict[str, Any]:
    """The fields of a title block that the source gives, and that they are linked to it; what its drawing set gives
    (`shared` in the header) follows too, and is not said to be the source's."""
    given = {name: str(spec.header[name]) for name in LINKED if spec.header.get(name)}
    shared = str(spec.header.get("shared", "")).split()
    return {**given, "linked": tuple(name for name in given if name not in shared)}


def _told_apart(document: SheetDocument, number: str, masses: Sequence[float | None]) -> tuple[SheetPage, ...]:
    """The sheets with a number and a mass of their own for each solid, where they show several."""
    solids = list(dict.fromkeys(p.solid for p in document.pages))
    if len(solids) < 2:
        return document.pages
    return tuple(
        p.model_copy(
            update={
                "mass": write_mass(masses[p.solid], document.unit),
                "number_text": f"{number}-{solids.index(p.solid) + 1}" if number else "",
            }
        )
        for p in document.pages
    )


def link_title(document: SheetDocument, spec: Specification, masses: Sequence[float | None]) -> SheetDocument:
    """Title block and notes as the source and the model have them now: they are linked, not typed.

    `masses` are those of the model's solids in grams.
    """
    first = document.pages[0].solid
    update: dict[str, Any] = {"mass": write_mass(masses[first], document.unit)} | linked_fields(spec)
    plain = document.note_form == "plain"
    if plain:
        del update["linked"]
    title = document.title.model_copy(update=update)
    notes = document.notes
    if plain:
        notes = default_notes(spec) if "default" in spec.header else notes
    elif spec.header or spec.characteristics:
        notes = source_notes(spec)
    pages = _told_apart(document, title.number, masses)
    if title == document.title and notes == document.notes and pages == document.pages:
        return document
    made = document.model_copy(update={"title": title, "notes": notes, "pages": pages})
    if plain and (title.general, notes) == (document.title.general, document.notes):
        return made
    document = _plain(made, document) if plain else write_notes(made)
    for page in document.pages:
        document = place_notes(document, page)
    return document
