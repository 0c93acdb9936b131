"""The letters of a sheet: of its sections, details and views by arrow, of its datums and of the holes in a table."""

from collections.abc import Iterator

from canonis.core.sheet import DatumMark, SheetDocument

__all__ = ["LETTERS", "all_letters", "next_letter", "taken_letters"]

#: I, O and Q could be taken for others or for figures (ISO 128-3).
LETTERS = "ABCDEFGHJKLMNPRSTUVWXYZ"


def all_letters() -> Iterator[str]:
    """The letters in their order, and pairs of them after the last."""
    yield from LETTERS
    yield from (a + b for a in LETTERS for b in LETTERS)


def taken_letters(document: SheetDocument) -> set[str]:
    """What a view or a datum is called already: A names one thing on a drawing."""
    views = {getattr(v, "letter", "") for v in document.views}
    return (views | {a.letter for a in document.annotations if isinstance(a, DatumMark)}) - {""}


def next_letter(document: SheetDocument) -> str:
    """The first letter that neither a view nor a datum has."""
    taken = taken_letters(document)
    return next(x for x in all_letters() if x not in taken)
