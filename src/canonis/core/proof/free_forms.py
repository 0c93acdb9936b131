"""Notes that leave faces to the model: nothing is measured, the faces must be the ones that the note was written on."""

from typing import TYPE_CHECKING

from canonis.core.proof.statement import PartProof, StatementProof
from canonis.core.sheet.document import Leader

if TYPE_CHECKING:
    from canonis.core.proof.measure import Remeasurer

__all__ = ["prove_free_form"]


def prove_free_form(m: "Remeasurer", mark: Leader) -> StatementProof:
    """Holds while every face that it names is there, unchanged, and of free form: any other has sizes to be stated."""
    text = mark.text
    if mark.says.part("by-the-model") is None:
        return StatementProof(mark.id, mark.kind, text, "unproven", (), "a note on free-form faces says BY THE MODEL")
    solid = m.solid(mark.sheet)
    found = [m.resolution(mark.sheet, r) for r in mark.refs]
    change = next((s for s in ("lost", "ambiguous", "resized", "moved") if s in {f.status for f in found}), "same")
    if any(not f.faces for f in found):
        return StatementProof(mark.id, mark.kind, text, "lost", (), "a face of it is gone", None, "lost")
    free = sum(solid.faces[f.faces[0]].kind == "free" for f in found)
    ok = free == len(found) and change == "same"
    part = PartProof("free-form-faces", float(len(found)), float(free), ok)
    return StatementProof(mark.id, mark.kind, text, "proven" if ok else "contradicted", (part,), "", mark.says, change)
