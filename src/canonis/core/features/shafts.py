"""Outer cylinders of a full turn: bosses and turned diameters."""

from canonis.core.features.model import Shaft
from canonis.core.features.stacks import Run, Segment, coaxial_runs
from canonis.core.solid import Solid
from canonis.core.tolerances import parallel

__all__ = ["find_shafts"]


def _level(solid: Solid, run: Run, face: int) -> float | None:
    """Level along the axis of a flat face square to it, mm; None for another face."""
    f = solid.faces[face]
    if f.kind != "plane" or not parallel(f.axis, run.axis):
        return None
    return float((f.origin - run.base) @ run.axis)


def _ends(solid: Solid, run: Run, seg: Segment) -> dict[str, tuple[float, bool]]:
    """For the low and the high end of a cylinder: the level of the flat face there, and whether it stands on it.

    A fillet at the foot and a chamfer or a round at the top are seen through.
    """
    out: dict[str, tuple[float, bool]] = {}
    middle = (seg.a0 + seg.a1) / 2
    for f in seg.faces:
        for e, k in solid.neighbours[f]:
            edge, other = solid.edges[e], solid.faces[k]
            side = "high" if float((edge.middle - run.base) @ run.axis) > middle else "low"
            direct = _level(solid, run, k)
            if direct is not None and edge.dihedral in ("concave", "convex"):
                out[side] = (direct, edge.dihedral == "concave")
            elif other.kind in ("torus", "cone") and k not in seg.faces and parallel(other.axis, run.axis):
                foot = other.kind == "torus" and other.inner
                beyond = [x for x in (_level(solid, run, j) for _, j in solid.neighbours[k]) if x is not None]
                if beyond and (foot or not other.inner):
                    out.setdefault(side, (beyond[0], foot))
    return out


def find_shafts(solid: Solid) -> list[Shaft]:
    """Every outer cylinder, with its height; a boss stands on its base in a concave edge or a fillet."""
    out: list[Shaft] = []
    for run in coaxial_runs(solid, inner=False):
        alone = sum(s.kind == "cylinder" for s in run.segments) == 1 and len(run.segments) <= 2
        for seg in run.segments:
            if seg.kind != "cylinder":
                continue
            ends = _ends(solid, run, seg)
            stands = {side: ends.get(side, (0.0, False))[1] for side in ("low", "high")}
            boss = stands["low"] != stands["high"] and alone
            a0, a1 = seg.a0, seg.a1
            if boss:
                # A boss is as high as it stands out, its fillet and its chamfer with it.
                a0, a1 = ends.get("low", (a0, False))[0], ends.get("high", (a1, False))[0]
            low, high = run.base + run.axis * a0, run.base + run.axis * a1
            top, base = (high, low) if not stands["high"] else (low, high)
            axis = run.axis if not stands["high"] else -run.axis
            out.append(Shaft(f"B{len(out) + 1}", 2 * seg.radius, a1 - a0, axis, base, top, boss, tuple(seg.faces)))
    return out
