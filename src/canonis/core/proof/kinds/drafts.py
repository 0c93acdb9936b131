"""Drafts measured again: how far each face leans on the normal of the base plane."""

import math

from canonis.core.callout.callout import Callout
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.planes import plane_of
from canonis.core.proof.registry import meant, measures, thing
from canonis.core.proof.statement import PartProof, compared, worst
from canonis.core.sheet.document import Leader
from canonis.core.solid.probe import face_normals

__all__ = ["measure_drafts"]

thing("draft", as_told=True, claims=False, angled=True, conical=True)
meant("draft", things={"draft": 0.0, "taper": 0.0}, unsized=True)


@measures("draft", on=("plane", "cone"))
def measure_drafts(m: Measurer, mark: Leader, alive: list[str], reading: Callout) -> list[PartProof]:
    """How far every named face leans on the normal of the base plane, which is named first, degrees."""
    solid = m.solid(mark.sheet)
    faces = m.faces(mark.sheet, alive)
    if len(faces) < 2 or len(faces) != len(mark.refs):
        return []
    pull = plane_of(solid, faces[0])[1]
    leans = []
    for f in faces[1:]:
        _, normals = face_normals(solid, f, 5)
        leans += [math.degrees(math.asin(min(1.0, abs(float(n @ pull))))) for n in normals[[0, len(normals) // 2, -1]]]
    return [worst([compared(reading, "angle", lean, m.document.unit) for lean in leans])]
