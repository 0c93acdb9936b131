"""Drafts measured again: how far each face leans on the normal of the base plane."""

import math
from collections.abc import Mapping, Sequence

import numpy as np

from canonis.core.callout import Callout
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.planes import plane_of
from canonis.core.proof.registry import meant, measures, thing
from canonis.core.proof.statement import PartProof, compared, worst
from canonis.core.sheet import Leader
from canonis.core.solid import Member, Solid, Vec, face_normals

__all__ = ["measure_drafts"]


def _gauge(solid: Solid, member: Member, _: Mapping[str, float]) -> dict[str, float]:
    """How far the faces lean on the direction in which the shape is pulled."""
    leans = _leans(solid, member.faces, np.array(member.axis))
    return {"angle": float(np.median(leans))} if leans and max(leans) - min(leans) < 1e-2 else {}


thing("draft", claims=False, angled=True, conical=True, gauge=_gauge)
meant("draft", things={"draft": 0.0, "taper": 0.0}, unsized=True)


@measures("draft", on=("plane", "cone"))
def measure_drafts(m: Measurer, mark: Leader, alive: list[str], reading: Callout) -> list[PartProof]:
    """How far every named face leans on the normal of the base plane, which is named first, degrees."""
    solid = m.solid(mark.sheet)
    faces = m.faces(mark.sheet, alive)
    if len(faces) < 2 or len(faces) != len(mark.refs):
        return []
    pull = plane_of(solid, faces[0])[1]
    leans = _leans(solid, faces[1:], pull)
    return [worst([compared(reading, "angle", lean, m.document.unit) for lean in leans])]


def _leans(solid: Solid, faces: Sequence[int], pull: Vec) -> list[float]:
    """How far each face leans on a direction, at three of its points, degrees."""
    out = []
    for f in faces:
        _, normals = face_normals(solid, f, 5)
        out += [math.degrees(math.asin(min(1.0, abs(float(n @ pull))))) for n in normals[[0, len(normals) // 2, -1]]]
    return out
