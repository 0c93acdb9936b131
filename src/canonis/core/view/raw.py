"""What finds the curves of a view, and free curves that are arcs."""

from collections.abc import Callable

import numpy as np

from canonis.core.solid import RawCurve, Solid
from canonis.core.tolerances import NOTHING, SAME
from canonis.core.view.frames import ViewFrame

__all__ = ["Engine", "rounded"]

#: What finds the curves of a view: the solid, the directions of the view, whether hidden lines are wanted.
Engine = Callable[[Solid, ViewFrame, bool], list[RawCurve]]


def rounded(curve: RawCurve) -> RawCurve:
    """A free curve that is an arc within 0.002 mm, as that arc."""
    if curve.kind != "curve" or len(curve.points) < 5:
        return curve
    points = curve.points
    shift = points.mean(0)
    rel = points - shift
    scale = float(np.abs(rel).max())
    system = np.c_[2 * rel / scale, np.ones(len(rel))]
    solution, _, rank, _ = np.linalg.lstsq(system, (rel**2).sum(1) / scale**2, rcond=None)
    if rank < 3:
        return curve
    centre = solution[:2] * scale
    radius = float(np.sqrt(max(0.0, solution[2] + solution[:2] @ solution[:2])) * scale)
    out = rel - centre
    if radius > 20 * scale or float(np.abs(np.linalg.norm(out, axis=1) - radius).max()) > 2 * SAME:
        return curve
    turns = np.unwrap(np.arctan2(out[:, 1], out[:, 0]))
    if not (np.all(np.diff(turns) > -NOTHING) or np.all(np.diff(turns) < NOTHING)):
        return curve
    lo, hi = float(turns.min()), float(turns.max())
    return RawCurve(
        curve.line_class,
        "arc",
        centre=centre + shift,
        radius=radius,
        a0=lo,
        a1=min(hi, lo + 2 * np.pi),
        edge=curve.edge,
        faces=curve.faces,
    )
