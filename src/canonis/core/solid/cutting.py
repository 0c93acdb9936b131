"""A plane through a solid by the kernel's own algorithm: what tests and benchmarks compare sections with."""

import numpy as np
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace
from OCP.BRepGProp import BRepGProp
from OCP.gp import gp_Dir, gp_Pln, gp_Pnt
from OCP.GProp import GProp_GProps

from canonis.core.solid.model import Solid, Vec

__all__ = ["kernel_cut_area"]


def kernel_cut_area(solid: Solid, normal: Vec, depth: float) -> float:
    """Area (mm²) in which the plane at `depth` (mm) along a unit normal cuts a solid, by the kernel's algorithm."""
    far = 3 * solid.diagonal + 2 * float(np.abs(np.concatenate(solid.box)).max())
    place = gp_Pln(gp_Pnt(*map(float, normal * depth)), gp_Dir(*map(float, normal)))
    sheet = BRepBuilderAPI_MakeFace(place, -far, far, -far, far).Face()
    props = GProp_GProps()
    BRepGProp.SurfaceProperties_s(BRepAlgoAPI_Common(solid.shape, sheet).Shape(), props, 1e-9)
    return float(props.Mass())
