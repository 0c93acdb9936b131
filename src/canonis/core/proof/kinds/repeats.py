"""Forms that repeat all around an axis measured again: every member's edges lie where a turn carries those of the one that is
named."""

import math
from collections.abc import Mapping, Sequence

import numpy as np

from canonis.core.callout import Callout
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.registry import meant, measures, thing
from canonis.core.proof.statement import PartProof
from canonis.core.shape import turned_points
from canonis.core.sheet import Leader
from canonis.core.solid import Member, Solid, Vec, edge_points, fit_cylinder
from canonis.core.tolerances import SAME

__all__ = ["measure_repeats"]

#: A member more may stand between those that are named: the turns by these parts of a step are looked at too.
_BETWEEN = (2, 3, 5)


def _marks(solid: Solid, edges: Sequence[int]) -> Vec:
    """The middles and ends of edges (n×3), mm."""
    return np.vstack([edge_points(solid, e, 3) for e in edges])


def _lands(marks: Vec, everywhere: Vec, base: Vec, axis: Vec, turn: float) -> bool:
    """Whether a turn carries points onto points of the part."""
    spots = turned_points(marks, base, axis, turn)
    return all(float(np.abs(everywhere - spot).max(axis=1).min()) < SAME for spot in spots)


def _members(solid: Solid, about: int, faces: Sequence[int], said: int) -> int:
    """How many members there are, by how many turns carry the edges of the named faces onto edges of the part."""
    base, axis, _, _ = fit_cylinder(solid, about)
    marks = _marks(solid, sorted({e for f in faces for e in solid.faces[f].edges}))
    everywhere = _marks(solid, range(len(solid.edges)))
    there = sum(_lands(marks, everywhere, base, axis, math.tau * k / said) for k in range(said))
    for k in _BETWEEN:
        if there == said and _lands(marks, everywhere, base, axis, math.tau / (said * k)):
            return said * k
    return there


def _gauge(solid: Solid, member: Member, told: Mapping[str, float]) -> dict[str, float]:
    said = int(told.get("members", 0))
    about, *faces = member.faces
    if said < 2 or not faces or solid.faces[about].kind != "cylinder":
        return {}
    return {"members": float(_members(solid, about, faces, said))}


thing("repeat", keeps_faces=True, plain=(), gauge=_gauge)
meant("repeat", things={"repeat": 0.0})


@measures("repeat")
def measure_repeats(m: Measurer, mark: Leader, alive: list[str], reading: Callout) -> list[PartProof]:
    """How many members there are, all alike and evenly about the axis of the first face that the note names."""
    solid = m.solid(mark.sheet)
    faces = m.faces(mark.sheet, alive)
    part = reading.part("members")
    if part is None or part.nominal is None or len(faces) != len(mark.refs) or len(faces) < 2:
        return []
    said = int(part.nominal)
    if solid.faces[faces[0]].kind != "cylinder" or said < 2:
        return []
    found = _members(solid, faces[0], faces[1:], said)
    # Lobes are round all over; what has flats is a tooth.
    round_ = all(solid.faces[f].kind != "plane" for f in faces[1:])
    named = [PartProof("lobes", True, round_, round_)] if reading.part("lobes") else []
    return [PartProof("members", float(said), float(found), said == found), *named]
