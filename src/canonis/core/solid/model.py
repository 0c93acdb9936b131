"""A solid as tables of faces and edges: what every rule of the job looks at.

Coordinates are millimetres in the file's own axes; angles are radians inside the tables.
"""

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

__all__ = ["Edge", "Face", "KernelShapes", "MassProperties", "Solid", "Vec", "unit_vector"]

Vec = NDArray[np.float64]
SurfaceKind = Literal["plane", "cylinder", "cone", "sphere", "torus", "free"]
CurveKind = Literal["line", "circle", "ellipse", "free"]
Dihedral = Literal["convex", "concave", "smooth", "seam"]


def unit_vector(v: Vec) -> Vec:
    """`v` scaled to length one."""
    return np.asarray(v / np.linalg.norm(v))


@dataclass(frozen=True, eq=False)
class Face:
    """One face: its surface in canonical parameters, its side and its extent.

    `axis` is the outward normal of a plane and the axis direction of a surface of revolution.
    `inner` tells that the material lies outside the surface of revolution (a bore).
    `inner_loops` are the boundaries inside its outer one, as edge indices.
    `span` is the extent along `axis` measured from `origin`; `sweep` the angle covered, radians.
    """

    index: int
    kind: SurfaceKind
    origin: Vec
    axis: Vec
    radius: float
    half_angle: float
    minor: float
    inner: bool
    area: float
    span: tuple[float, float]
    sweep: float
    centre: Vec
    edges: tuple[int, ...]
    inner_loops: tuple[tuple[int, ...], ...] = ()

    @property
    def offset(self) -> float:
        """Signed distance of a plane from the origin along its normal, mm."""
        return float(self.origin @ self.axis)


@dataclass(frozen=True, eq=False)
class Edge:
    """One edge with its curve and the two faces that meet there."""

    index: int
    kind: CurveKind
    start: Vec
    end: Vec
    middle: Vec
    centre: Vec
    axis: Vec
    radius: float
    sweep: float
    length: float
    faces: tuple[int, ...]
    dihedral: Dihedral


@dataclass(frozen=True, eq=False)
class MassProperties:
    """Volume mm³, area mm², centre mm, and the second moments of volume about the centre, mm⁵."""

    volume: float
    area: float
    centre: Vec
    moments: Vec


class KernelShapes:
    """The kernel's own shapes of a solid: the body, its faces and its edges, got when they are first asked for.

    They stay in the process that has the kernel: pickled, a holder is empty until `keeping` gives it a loader again.
    """

    def __init__(self, load: Callable[[], tuple[Any, tuple[Any, ...], tuple[Any, ...]]] | None = None) -> None:
        self.load = load

    @cached_property
    def _got(self) -> tuple[Any, tuple[Any, ...], tuple[Any, ...]]:
        if self.load is None:
            raise RuntimeError("this solid was unpacked without its kernel shapes")
        return self.load()

    body = property(lambda self: self._got[0])
    faces = property(lambda self: self._got[1])
    edges = property(lambda self: self._got[2])

    def __reduce__(self) -> tuple[type["KernelShapes"], tuple[()]]:
        return KernelShapes, ()


@dataclass(frozen=True, eq=False)
class Solid:
    """One solid of a file, with the kernel's shapes kept behind `shape`, `face_shapes` and `wire_pieces`."""

    name: str
    index: int
    valid: bool
    faces: tuple[Face, ...]
    edges: tuple[Edge, ...]
    box: tuple[Vec, Vec]
    mass: MassProperties
    raw_faces: int = 0
    raw_edges: int = 0
    #: The file had its faces look inward; they were turned.
    turned_over: bool = False
    kernel: KernelShapes = field(default_factory=KernelShapes, repr=False)

    @property
    def shape(self) -> Any:
        """The kernel's solid."""
        return self.kernel.body

    @property
    def face_shapes(self) -> tuple[Any, ...]:
        """The kernel's faces, by index."""
        return self.kernel.faces  # type: ignore[no-any-return]

    @property
    def wire_pieces(self) -> tuple[Any, ...]:
        """The kernel's edges, by index."""
        return self.kernel.edges  # type: ignore[no-any-return]

    @cached_property
    def neighbours(self) -> dict[int, list[tuple[int, int]]]:
        """For each face, its (edge index, other face index) pairs."""
        table: dict[int, list[tuple[int, int]]] = {f.index: [] for f in self.faces}
        for edge in self.edges:
            if len(edge.faces) == 2:
                a, b = edge.faces
                table[a].append((edge.index, b))
                table[b].append((edge.index, a))
        return table

    @property
    def size(self) -> Vec:
        """Extent along x, y and z, mm."""
        return self.box[1] - self.box[0]

    @property
    def diagonal(self) -> float:
        """Length of the box diagonal, mm."""
        return float(np.linalg.norm(self.size))
