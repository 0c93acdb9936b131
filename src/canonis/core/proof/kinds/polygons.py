"""Regular polygons measured again: across every two flats, and at even angles."""

import math
from collections.abc import Sequence

import numpy as np

from canonis.core.callout import Callout
from canonis.core.proof.kinds.holes import equally_spaced
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.planes import plane_of
from canonis.core.proof.registry import meant, measures, thing
from canonis.core.proof.statement import PartProof, compared, worst
from canonis.core.sheet import Leader
from canonis.core.solid import Solid, Vec, edge_points, unit_vector
from canonis.core.tolerances import NOISE, opposed

__all__ = ["measure_polygons"]

thing("boss", turned=True, plain=("across-flats", "height"), words=("hex", "hexagon"), axes="needed", levelled=True)
thing("pocket", plain=("depth", "width", "length"), words=("pocket",), levelled=True)
meant("polygon", things={"boss": 0.0, "pocket": 0.0}, free_words=True)


@measures("polygon", on=("plane",))
def measure_polygons(m: Measurer, mark: Leader, alive: list[str], reading: Callout) -> list[PartProof]:
    """The distance of every two opposite flats, how many there are, and that they stand at equal angles."""
    solid = m.solid(mark.sheet)
    flats = [(f, *plane_of(solid, f)) for f in m.faces(mark.sheet, alive)]
    spans, matched = [], set()
    for k, (f, point, normal) in enumerate(flats):
        for g, other, opposite in flats[k + 1 :]:
            if opposed(normal, opposite):
                spans.append(abs(float((point - other) @ normal)))
                matched |= {f, g}
    if not spans or len(flats) < 3:
        return []
    parts = [worst([compared(reading, "across-flats", s, m.document.unit) for s in spans])]
    sides = reading.part("sides")
    first, second = flats[0][2], min((n for _, _, n in flats), key=lambda n: abs(float(n @ flats[0][2])))
    axis = np.cross(first, second)
    if float(np.linalg.norm(axis)) < NOISE:
        # Flats that are all parallel are no polygon.
        return []
    even = equally_spaced([n for _, _, n in flats], unit_vector(axis))
    count = len(flats)
    said = float(sides.nominal) if sides is not None and sides.nominal is not None else float(count)
    ok = said == count and even and len(matched) == count and _close(solid, flats, unit_vector(axis))
    return [*parts, *([PartProof("sides", said, float(count), ok)] if sides is not None or not ok else [])]


def _close(solid: Solid, flats: Sequence[tuple[int, Vec, Vec]], axis: Vec) -> bool:
    """Whether flats (face, point, normal) lie about their middle as the sides of a polygon do: each comes as near to the middle as a
    side goes. The sides of vanes that stand out from a hub stand at even angles too."""
    normals = np.array([n for _, _, n in flats])
    levels = np.array([float(p @ n) for _, p, n in flats])
    middle = np.linalg.lstsq(np.vstack([normals, axis]), np.append(levels, 0.0), rcond=None)[0]
    for f, point, normal in flats:
        along = np.cross(axis, normal)
        spots = [float((p - middle) @ along) for e in solid.faces[f].edges for p in edge_points(solid, e, 3)]
        half = abs(float((point - middle) @ normal)) * math.tan(math.pi / len(flats))
        if min(spots) > half or max(spots) < -half:
            return False
    return True
