"""Places that persons chose for lines of the source, kept when a sheet is drafted anew: ids of statements are labels that
a draft gives afresh."""

from collections.abc import Mapping

from canonis.core.proof import write_chosen
from canonis.core.sheet import Annotation, SheetDocument

__all__ = ["as_places", "relinked"]

Links = dict[str, str | None]


def as_places(links: Mapping[str, str | None], document: SheetDocument | None) -> Links:
    """Links to statements of a sheet as links to what those name, so that they mean the same on any sheet of the part."""
    marks = {} if document is None else {a.id: a for a in document.annotations}
    return {number: _place(marks[link]) if link in marks else link for number, link in links.items()}


def relinked(links: Mapping[str, str | None], before: SheetDocument | None, after: SheetDocument) -> Links:
    """Links as they stand on a new draft: to the statement that says the same there, else to the place that it named."""
    marks = {} if before is None else {a.id: a for a in before.annotations}
    out: Links = {}
    for number, link in links.items():
        old = marks.get(link or "")
        if old is None:
            out[number] = link
            continue
        same = next((a.id for a in after.annotations if (a.kind, set(a.refs)) == (old.kind, set(old.refs))), None)
        out[number] = same or _place(old)
    return out


def _place(mark: Annotation) -> str | None:
    """What a statement names, as the ledger writes a place."""
    if not mark.refs:
        return mark.id
    length = mark.kind in ("linear", "ordinate")
    return write_chosen("edge" if length else "", "", mark.refs[:2] if length else mark.refs)
