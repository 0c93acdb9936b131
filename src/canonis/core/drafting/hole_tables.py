"""The hole tables of a sheet: one for each view in which places are told by rows."""

from canonis.core.drafting.desk import next_number
from canonis.core.sheet import HoleTable, Leader, SheetDocument, table_of
from canonis.core.sheet.document import Place

__all__ = ["with_tables"]


def with_tables(document: SheetDocument) -> SheetDocument:
    """The document with a table for every view that has places and none yet; a letter without places is no letter."""
    placed = {(a.view, a.tag.rstrip("0123456789")) for a in document.annotations if isinstance(a, Place)}
    number = next_number(document, "T")
    made: list[HoleTable] = []
    for view in document.views:
        if any(name == view.id for name, _ in placed) and table_of(document, view.id) is None:
            made.append(HoleTable(id=f"T{number + len(made)}", sheet=view.sheet, view=view.id))
    marks = tuple(
        a.model_copy(update={"letter": ""})
        if isinstance(a, Leader) and a.letter and (a.view, a.letter) not in placed
        else a
        for a in document.annotations
    )
    return document.model_copy(update={"annotations": (*marks, *made)})
