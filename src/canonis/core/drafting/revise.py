"""Edits of a sheet as small commands; each gives a new document and touches nothing else."""

from canonis.core.drafting import edits as edits
from canonis.core.drafting.draft import Projections
from canonis.core.drafting.edit import Edit
from canonis.core.drafting.edits.editor import Editor
from canonis.core.drafting.edits.registry import DOES
from canonis.core.drafting.new_views import NoRoom
from canonis.core.features import Feature
from canonis.core.layout import arrange
from canonis.core.sheet import SheetDocument
from canonis.core.solid import Solid

__all__ = ["apply_command"]


def apply_command(
    document: SheetDocument, command: Edit, solids: tuple[Solid, ...], features: tuple[Feature, ...], cache: Projections
) -> SheetDocument:
    """The document after one command.

    Raises BadInput with one sentence when the command cannot be carried out.
    """
    editor = Editor(document, solids, features, cache)
    try:
        DOES[type(command)](editor, command)
    except NoRoom as fault:
        # A full sheet is arranged anew with the view on it, larger or at a smaller scale where it must.
        page = next(p for p in fault.document.pages if p.number == fault.document.views[-1].sheet)
        return arrange(editor.scene(fault.document), page)
    if command.settles:
        # What a new view puts on its parent may stand where a note stood.
        known = {v.id: v for v in document.views}
        for number in {v.sheet for v in editor.document.views if known.get(v.id) != v}:
            editor.refresh(number, notes=command.settles == "notes")
    return editor.document
