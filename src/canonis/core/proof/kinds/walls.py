"""The thickness of walls measured again, square to them."""

from canonis.core.callout import Callout
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.planes import plane_of
from canonis.core.proof.registry import meant, measures, thing
from canonis.core.proof.statement import PartProof, compared, worst
from canonis.core.sheet import Leader
from canonis.core.tolerances import ALIGNED, opposed

__all__ = ["measure_walls"]

thing("wall", plain=("thickness",), claims=False)
thing("rib", plain=("thickness", "height"), words=("rib",), levelled=True)
thing("lug", plain=("thickness",), levelled=True)
meant("wall", places="length")


@measures("wall", on=("plane",))
def measure_walls(m: Measurer, mark: Leader, alive: list[str], reading: Callout) -> list[PartProof]:
    """The thickness of every wall that is named by both its faces, square to them."""
    solid = m.solid(mark.sheet)
    # A long face may back several others: it is named once for each.
    faces = m.faces(mark.sheet, mark.refs) if set(alive) == set(mark.refs) else []
    if not faces or len(faces) != len(mark.refs) or len(faces) % 2:
        return []
    found = []
    for k in range(0, len(faces), 2):
        point, normal = plane_of(solid, faces[k])
        other, opposite = plane_of(solid, faces[k + 1])
        parallel = opposed(normal, opposite, ALIGNED)
        found.append(
            compared(reading, "thickness", abs(float((point - other) @ normal)) if parallel else None, m.document.unit)
        )
    return [worst(found)]
