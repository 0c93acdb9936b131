"""Notes that leave faces to the model: nothing is measured, the faces must be the ones that the note was written on."""

from canonis.core.callout import Callout
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.registry import measures
from canonis.core.proof.statement import PartProof
from canonis.core.sheet import Leader

__all__ = ["measure_free_forms"]


@measures("free-form")
def measure_free_forms(m: Measurer, mark: Leader, alive: list[str], reading: Callout) -> list[PartProof]:
    """Whether every face that a note names is there, unchanged, and of free form: any other has sizes to be stated."""
    solid = m.solid(mark.sheet)
    free = sum(solid.faces[f].kind == "free" for f in m.faces(mark.sheet, alive))
    same = all(m.resolution(mark.sheet, r).status == "same" for r in mark.refs)
    ok = free == len(mark.refs) and same
    return [
        PartProof("free-form-faces", float(len(mark.refs)), float(free), ok),
        PartProof("by-the-model", True, ok, ok),
    ]
