"""Splines with parallel-sided teeth measured again."""

from collections.abc import Mapping, Sequence

from canonis.core.callout import Callout
from canonis.core.proof.kinds.holes import equally_spaced
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.planes import plane_of
from canonis.core.proof.registry import meant, measures, thing
from canonis.core.proof.statement import PartProof, compared
from canonis.core.shape import around_flanks
from canonis.core.sheet import Leader
from canonis.core.solid import Member, Solid, fit_cylinder
from canonis.core.tolerances import SAME, same

__all__ = ["measure_splines"]


def _sizes(solid: Solid, faces: Sequence[int]) -> tuple[dict[str, float], bool]:
    """Root, outside and number of teeth, and whether all are alike and evenly spaced."""
    faces = around_flanks(solid, faces)
    rounds = [f for f in faces if solid.faces[f].kind == "cylinder"]
    if not rounds:
        return {}, False
    fits = {f: fit_cylinder(solid, f) for f in rounds}
    wide, thin = max(f[2] for f in fits.values()), min(f[2] for f in fits.values())
    inner = solid.faces[rounds[0]].inner
    tips = [f for f in rounds if same(fits[f][2], thin if inner else wide)]
    base, axis = fits[tips[0]][0], fits[tips[0]][1]
    flat = [(f, *plane_of(solid, f)) for f in faces if solid.faces[f].kind == "plane"]
    beside = {f: [x for x in flat if any(o == x[0] for _, o in solid.neighbours[f])] for f in tips}
    floors = [x for x in flat if not any(x is y for pair in beside.values() for y in pair)]
    if floors:
        reach = [abs(float((p - base) @ n)) for _, p, n in floors]
        wide, thin = (max(wide, *reach), thin) if inner else (wide, min(thin, *reach))
    pairs = [p for p in beside.values() if len(p) == 2]
    widths = [abs(float((a[1] - b[1]) @ a[2])) for a, b in pairs]
    even = (
        bool(pairs)
        and len(pairs) == len(tips)
        and max(widths) - min(widths) < SAME
        and equally_spaced([solid.faces[f].centre for f in tips], axis)
    )
    return {"teeth": float(len(tips)), "minor": 2 * thin, "major": 2 * wide}, even


def _gauge(solid: Solid, member: Member, _: Mapping[str, float]) -> dict[str, float]:
    return _sizes(solid, member.faces)[0] if len(member.faces) > 3 else {}


thing("spline", keeps_faces=True, weight=1.0, gauge=_gauge)
meant("spline", things={"spline": 0.0})


@measures("spline", on=("plane", "cylinder"))
def measure_splines(m: Measurer, mark: Leader, alive: list[str], reading: Callout) -> list[PartProof]:
    """Root, outside and number of teeth; the flanks lie in planes at even angles, equally far apart at every tooth."""
    solid, unit = m.solid(mark.sheet), m.document.unit
    faces = m.faces(mark.sheet, alive)
    if len(faces) != len(mark.refs) or len(faces) < 4:
        return []
    sizes, even = _sizes(solid, faces)
    if not sizes:
        return []
    teeth = reading.part("teeth")
    said = float(teeth.nominal) if teeth is not None and teeth.nominal is not None else 0.0
    return [
        PartProof("teeth", said, sizes["teeth"], said == sizes["teeth"] and even),
        compared(reading, "minor", sizes["minor"], unit),
        compared(reading, "major", sizes["major"], unit),
    ]
