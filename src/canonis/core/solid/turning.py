"""A part that lies askew in its file, turned square, and how far a part reaches along any direction."""

from weakref import WeakKeyDictionary

import numpy as np
from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform
from OCP.gp import gp_Trsf
from OCP.TopAbs import TopAbs_SOLID
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS

from canonis.core.solid.model import Solid, Vec
from canonis.core.solid.probe import extreme_level
from canonis.core.solid.reader import solid_from_shape
from canonis.core.tolerances import ALIGNED, runs_along

__all__ = ["end_level", "squared"]

_ends: WeakKeyDictionary[Solid, dict[tuple[float, ...], float]] = WeakKeyDictionary()


def end_level(solid: Solid, d: Vec) -> float:
    """The level of the outermost point of a solid along a unit direction of its file, mm."""
    k = int(np.argmax(np.abs(d)))
    if runs_along(float(d[k]), ALIGNED):
        return float(solid.box[1][k]) if d[k] > 0 else -float(solid.box[0][k])
    known = _ends.setdefault(solid, {})
    key = tuple(np.round(d, 7) + 0.0)
    if key not in known:
        known[key] = extreme_level(solid, d)
    return known[key]


def squared(solid: Solid, frame: Vec) -> Solid:
    """A copy of a solid whose own axes, the rows of a right-handed `frame`, lie along x, y and z; faces keep their order."""
    turn = gp_Trsf()
    turn.SetValues(*(float(c) for row in np.c_[frame, np.zeros(3)] for c in row))
    made = BRepBuilderAPI_Transform(solid.shape, turn, True).Shape()
    bodies = TopExp_Explorer(made, TopAbs_SOLID)
    return solid_from_shape(TopoDS.Solid_s(bodies.Current()), solid.name, solid.index, merge=False)
