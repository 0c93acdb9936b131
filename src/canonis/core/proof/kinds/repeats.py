"""Forms that repeat measured again: every member's edges lie where a turn or a shift carries those of the one that is named."""

import itertools
import math
from collections.abc import Callable, Mapping, Sequence

import numpy as np

from canonis.core.callout import Callout
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.registry import meant, measures, thing
from canonis.core.proof.statement import PartProof, compared
from canonis.core.shape import turned_points
from canonis.core.sheet import Leader
from canonis.core.solid import Face, Member, Solid, Vec, contains, edge_points, fit_cylinder, nearest, point_shape
from canonis.core.tolerances import SAME

__all__ = ["measure_repeats"]

#: Carries points (n×3, mm) by so many steps.
_Motion = Callable[[Vec, float], Vec]

#: A member more may stand between those that are named: the turns by these parts of a step are looked at too.
_BETWEEN = (2, 3, 5)
#: Of a member's edges so much may be cut away by something else.
_CUT = 0.45


def _marks(solid: Solid, edges: Sequence[int]) -> Vec:
    """The middles and ends of edges (n×3), mm."""
    return np.vstack([edge_points(solid, e, 3) for e in edges])


def _lands(marks: Vec, everywhere: Vec, step: _Motion, times: float) -> bool:
    """Whether so many steps carry points onto points of the part."""
    return all(float(np.abs(everywhere - spot).max(axis=1).min()) < SAME for spot in step(marks, times))


def _remains(solid: Solid, faces: Sequence[int], step: _Motion, times: float) -> bool:
    """Whether a member stands where so many steps lead, though something else is cut into it: of the edges of each of its faces more
    than half lie on a face of the part there, and what does not is in the air."""
    for f in faces:
        spots = step(_marks(solid, solid.faces[f].edges), times)
        off = [spot for spot in spots if not _on_a_face(solid, solid.faces[f].kind, spot)]
        if len(off) > _CUT * len(spots) or any(contains(solid.shape, spot) for spot in off):
            return False
    return True


def _on_a_face(solid: Solid, kind: str, spot: Vec) -> bool:
    """Whether a point lies on a face of a kind."""
    point = point_shape(spot)
    return any(
        nearest(point, solid.face_shapes[f.index])[0] < SAME
        for f in solid.faces
        if f.kind == kind and abs(_beside(f, spot)) < SAME
    )


def _beside(face: Face, spot: Vec) -> float:
    """How far a point lies from the endless surface of a flat or round face, mm; 0 for others."""
    arm = spot - face.origin
    if face.kind == "plane":
        return float(arm @ face.axis)
    return float(np.linalg.norm(np.cross(arm, face.axis))) - face.radius if face.kind == "cylinder" else 0.0


def _around(solid: Solid, about: int, said: int) -> _Motion:
    """A turn by a part of a whole one about a round face."""
    base, axis, _, _ = fit_cylinder(solid, about)
    return lambda points, times: turned_points(points, base, axis, math.tau * times / said)


def _along(solid: Solid, other: int, one: int) -> _Motion | None:
    """A shift that carries a face onto another, by the boxes of their edges; None where they are no copies."""
    ends = [(m.min(axis=0), m.max(axis=0)) for m in (_marks(solid, solid.faces[f].edges) for f in (one, other))]
    way, far = (b - a for a, b in zip(*ends, strict=True))
    if float(np.abs(far - way).max()) > SAME or float(np.linalg.norm(way)) < SAME:
        return None
    return lambda points, times: points + times * way


def _members(solid: Solid, faces: Sequence[int], step: _Motion, said: int, *, around: bool) -> int:
    """How many members there are, by how many steps carry the edges of the named faces onto edges of the part: all around, or on
    both sides of the named one without a gap, and those between them."""
    marks = _marks(solid, sorted({e for f in faces for e in solid.faces[f].edges}))
    everywhere = _marks(solid, range(len(solid.edges)))

    def there(times: float) -> bool:
        return _lands(marks, everywhere, step, times)

    if around:
        found = sum(there(k) or _remains(solid, faces, step, k) for k in range(said))
    else:
        ways = (itertools.count(1), itertools.count(-1, -1))
        found = 1 + sum(1 for way in ways for _ in itertools.takewhile(there, way))
    for k in _BETWEEN:
        if found == said and there(1 / k):
            return said * k if around else (said - 1) * k + 1
    return found


def _gauge(solid: Solid, member: Member, told: Mapping[str, float]) -> dict[str, float]:
    said = int(told.get("members", 0))
    about, *faces = member.faces
    if said < 2 or not faces:
        return {}
    around = "pitch" not in told
    step = _step(solid, about, faces[0], said, around)
    if step is None:
        return {}
    found = {"members": float(_members(solid, faces, step, said, around=around))}
    return found if around else found | {"pitch": _reach(step)}


def _step(solid: Solid, about: int, lead: int, said: int, around: bool) -> _Motion | None:
    if not around:
        return _along(solid, about, lead)
    return _around(solid, about, said) if solid.faces[about].kind == "cylinder" else None


def _reach(step: _Motion) -> float:
    """How far a shift goes, mm."""
    return float(np.linalg.norm(step(np.zeros((1, 3)), 1.0)))


thing("repeat", keeps_faces=True, plain=(), gauge=_gauge)
meant("repeat", things={"repeat": 0.0})


@measures("repeat")
def measure_repeats(m: Measurer, mark: Leader, alive: list[str], reading: Callout) -> list[PartProof]:
    """How many members there are, all alike: evenly about the axis of the first face that the note names, or along a line, in steps
    from the member that is named to the first face."""
    solid = m.solid(mark.sheet)
    faces = m.faces(mark.sheet, alive)
    part = reading.part("members")
    if part is None or part.nominal is None or len(faces) != len(mark.refs) or len(faces) < 2:
        return []
    said, around = int(part.nominal), reading.part("pitch") is None
    step = _step(solid, faces[0], faces[1], said, around) if said > 1 else None
    if step is None:
        return []
    found = _members(solid, faces[1:], step, said, around=around)
    parts = [PartProof("members", float(said), float(found), said == found)]
    if not around:
        parts.append(compared(reading, "pitch", _reach(step), m.document.unit))
    if reading.part("places"):
        # Whether they stand apart is seen; that there are so many alike is what is said of them.
        parts.append(PartProof("places", True, said == found, said == found))
    # Lobes are round all over; what has flats is a tooth.
    round_ = all(solid.faces[f].kind != "plane" for f in faces[1:])
    return [*parts, *([PartProof("lobes", True, round_, round_)] if reading.part("lobes") else [])]
