"""Outer cylinders of a full turn: bosses and turned diameters."""

from canonis.core.features.model import Shaft
from canonis.core.features.stacks import coaxial_runs
from canonis.core.solid.model import Solid

__all__ = ["find_shafts"]


def find_shafts(solid: Solid) -> list[Shaft]:
    """Every outer cylinder, with its height; a boss meets its base in a concave edge."""
    out: list[Shaft] = []
    for run in coaxial_runs(solid, inner=False):
        for seg in run.segments:
            if seg.kind != "cylinder":
                continue
            ends = {"low": False, "high": False}
            for f in seg.faces:
                for e, other in solid.neighbours[f]:
                    edge = solid.edges[e]
                    if edge.dihedral == "concave" and solid.faces[other].kind == "plane":
                        at = float((edge.middle - run.base) @ run.axis)
                        ends["high" if at > (seg.a0 + seg.a1) / 2 else "low"] = True
            boss = ends["low"] != ends["high"] and len(run.segments) == 1
            low, high = run.base + run.axis * seg.a0, run.base + run.axis * seg.a1
            top, base = (high, low) if not ends["high"] else (low, high)
            axis = run.axis if not ends["high"] else -run.axis
            out.append(
                Shaft(f"B{len(out) + 1}", 2 * seg.radius, seg.a1 - seg.a0, axis, base, top, boss, tuple(seg.faces))
            )
    return out
