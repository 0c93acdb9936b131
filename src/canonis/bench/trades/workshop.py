"""A small workshop on the kernel alone, in which parts of other trades are made: bodies, holes, rounds. Lengths mm, Z up."""

import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common, BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakePolygon, BRepBuilderAPI_Transform
from OCP.BRepFilletAPI import BRepFilletAPI_MakeChamfer, BRepFilletAPI_MakeFillet
from OCP.BRepPrimAPI import (
    BRepPrimAPI_MakeBox,
    BRepPrimAPI_MakeCone,
    BRepPrimAPI_MakeCylinder,
    BRepPrimAPI_MakePrism,
    BRepPrimAPI_MakeRevol,
    BRepPrimAPI_MakeSphere,
    BRepPrimAPI_MakeTorus,
)
from OCP.gp import gp_Ax1, gp_Ax2, gp_Ax3, gp_Dir, gp_Pnt, gp_Trsf, gp_Vec
from OCP.ShapeUpgrade import ShapeUpgrade_UnifySameDomain
from OCP.TopAbs import TopAbs_EDGE
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS

__all__ = [
    "Edge",
    "Hand",
    "X",
    "Y",
    "Z",
    "ball",
    "bar",
    "both",
    "box",
    "chamfered",
    "common",
    "cone",
    "cut",
    "fused",
    "hexagon",
    "mirrored",
    "moved",
    "prism",
    "ring",
    "rod",
    "rounded",
    "row",
    "slot",
    "turned",
    "turned_about",
    "tyre",
]

Point = tuple[float, float, float]
X, Y, Z = (1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)
_O = (0.0, 0.0, 0.0)


def _ax(at: Point, way: Point) -> gp_Ax2:
    return gp_Ax2(gp_Pnt(*at), gp_Dir(*way))


def box(x: float, y: float, z: float, at: Point = _O) -> Any:
    """A block of three sizes with its least corner at a point."""
    return BRepPrimAPI_MakeBox(gp_Pnt(*at), x, y, z).Shape()


def rod(d: float, h: float, at: Point = _O, way: Point = Z) -> Any:
    """A round bar by its diameter."""
    return BRepPrimAPI_MakeCylinder(_ax(at, way), d / 2, h).Shape()


def cone(d: float, e: float, h: float, at: Point = _O, way: Point = Z) -> Any:
    """A cone from one diameter to another."""
    return BRepPrimAPI_MakeCone(_ax(at, way), d / 2, e / 2, h).Shape()


def ball(d: float, at: Point = _O) -> Any:
    """A ball by its diameter."""
    return BRepPrimAPI_MakeSphere(gp_Pnt(*at), d / 2).Shape()


def tyre(d: float, thick: float, at: Point = _O, way: Point = Z) -> Any:
    """A torus by the diameter of its middle circle and its thickness."""
    return BRepPrimAPI_MakeTorus(_ax(at, way), d / 2, thick / 2).Shape()


def _face(points: Iterable[Point]) -> Any:
    wire = BRepBuilderAPI_MakePolygon()
    for p in points:
        wire.Add(gp_Pnt(*p))
    wire.Close()
    return BRepBuilderAPI_MakeFace(wire.Wire()).Face()


def prism(points: Sequence[tuple[float, float]], h: float, plane: str = "xy", at: float = 0.0) -> Any:
    """An outline in the plane xy, xz or yz at a level, drawn out by `h` along the third axis."""
    third = {"xy": 2, "xz": 1, "yz": 0}[plane]

    def three(a: float, b: float, c: float) -> Point:
        """Two places in the plane and one along the third axis."""
        return (a, b, c) if third == 2 else (a, c, b) if third == 1 else (c, a, b)

    return BRepPrimAPI_MakePrism(_face([three(a, b, at) for a, b in points]), gp_Vec(*three(0, 0, h))).Shape()


def turned(points: Sequence[tuple[float, float]], at: Point = _O, way: Point = Z, angle: float = 360.0) -> Any:
    """A profile of diameters and levels turned about Z, then laid along `way` from a point."""
    face = _face([(d / 2, 0.0, z) for d, z in points])
    shape = BRepPrimAPI_MakeRevol(face, gp_Ax1(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1)), math.radians(angle)).Shape()
    if way == Z:
        return moved(shape, at)
    lay = gp_Trsf()
    lay.SetDisplacement(gp_Ax3(), gp_Ax3(gp_Pnt(*at), gp_Dir(*way)))
    return BRepBuilderAPI_Transform(shape, lay, True).Shape()


def moved(shape: Any, by: Point) -> Any:
    """A shape elsewhere."""
    lay = gp_Trsf()
    lay.SetTranslation(gp_Vec(*by))
    return BRepBuilderAPI_Transform(shape, lay, True).Shape()


def turned_about(shape: Any, degrees: float, way: Point = Z, at: Point = _O) -> Any:
    """A shape turned about an axis through a point."""
    lay = gp_Trsf()
    lay.SetRotation(gp_Ax1(gp_Pnt(*at), gp_Dir(*way)), math.radians(degrees))
    return BRepBuilderAPI_Transform(shape, lay, True).Shape()


def mirrored(shape: Any, way: Point, at: Point = _O) -> Any:
    """A shape seen in a mirror across a direction."""
    lay = gp_Trsf()
    lay.SetMirror(_ax(at, way))
    return BRepBuilderAPI_Transform(shape, lay, True).Shape()


def both(shape: Any, way: Point, at: Point = _O) -> list[Any]:
    """A thing and its mirror image."""
    return [shape, mirrored(shape, way, at)]


def ring(shape: Any, n: int, way: Point = Z, at: Point = _O) -> list[Any]:
    """A thing n times all around an axis."""
    return [turned_about(shape, 360.0 * k / n, way, at) for k in range(n)]


def row(shape: Any, n: int, step: Point) -> list[Any]:
    """A thing n times along a line."""
    return [moved(shape, (k * step[0], k * step[1], k * step[2])) for k in range(n)]


def bar(sides: int, af: float, h: float, at: Point = _O) -> Any:
    """A bar of so many sides by its width across flats, along Z, with a flat square to X."""
    r = af / 2 / math.cos(math.pi / sides)
    points = [
        (
            at[0] + r * math.cos(math.pi / sides + k * math.tau / sides),
            at[1] + r * math.sin(math.pi / sides + k * math.tau / sides),
        )
        for k in range(sides)
    ]
    return prism(points, h, at=at[2])


def hexagon(af: float, h: float, at: Point = _O) -> Any:
    """A hexagonal bar."""
    return bar(6, af, h, at)


def slot(width: float, centres: float, h: float, at: Point = _O) -> Any:
    """A round-ended slot along X about a point, as deep as `h` along Z."""
    x, y, z = at
    ends = [rod(width, h, (x + s * centres / 2, y, z)) for s in (-1, 1)]
    return fused(box(centres, width, h, (x - centres / 2, y - width / 2, z)), *ends)


def _clean(shape: Any) -> Any:
    one = ShapeUpgrade_UnifySameDomain(shape, True, True, False)
    one.Build()
    return one.Shape()


def _flat(tools: Iterable[Any]) -> list[Any]:
    return [t for tool in tools for t in (tool if isinstance(tool, list) else [tool])]


def fused(shape: Any, *tools: Any) -> Any:
    """Shapes as one."""
    for tool in _flat(tools):
        shape = BRepAlgoAPI_Fuse(shape, tool).Shape()
    return _clean(shape)


def cut(shape: Any, *tools: Any) -> Any:
    """A shape without others."""
    for tool in _flat(tools):
        shape = BRepAlgoAPI_Cut(shape, tool).Shape()
    return _clean(shape)


def common(shape: Any, tool: Any) -> Any:
    """What two shapes have in common."""
    return _clean(BRepAlgoAPI_Common(shape, tool).Shape())


@dataclass(frozen=True)
class Edge:
    """An edge as a choice sees it: its middle, the way it runs at its first end, whether it is straight."""

    x: float
    y: float
    z: float
    way: Point
    straight: bool
    length: float


def _edges(shape: Any, wanted: Callable[[Edge], bool]) -> list[Any]:
    out: list[Any] = []
    explorer = TopExp_Explorer(shape, TopAbs_EDGE)
    while explorer.More():
        edge = TopoDS.Edge_s(explorer.Current())
        explorer.Next()
        curve = BRepAdaptor_Curve(edge)
        a, b = curve.FirstParameter(), curve.LastParameter()
        p, q, m = curve.Value(a), curve.Value(b), curve.Value((a + b) / 2)
        d = gp_Vec(p, q)
        size = d.Magnitude()
        way = (abs(d.X()) / size, abs(d.Y()) / size, abs(d.Z()) / size) if size > 1e-7 else (0.0, 0.0, 0.0)
        told = Edge(m.X(), m.Y(), m.Z(), way, curve.GetType().name == "GeomAbs_Line", size)
        if wanted(told) and not any(edge.IsSame(e) for e in out):
            out.append(edge)
    return out


def rounded(shape: Any, radius: float, wanted: Callable[[Edge], bool]) -> Any:
    """A shape with a radius on the edges that are wanted."""
    make = BRepFilletAPI_MakeFillet(shape)
    for e in _edges(shape, wanted):
        make.Add(radius, e)
    return make.Shape()


def chamfered(shape: Any, leg: float, wanted: Callable[[Edge], bool]) -> Any:
    """A shape with a bevel on the edges that are wanted."""
    make = BRepFilletAPI_MakeChamfer(shape)
    for e in _edges(shape, wanted):
        make.Add(leg, e)
    return make.Shape()


Size = tuple[str, str, float]


class Hand:
    """Parts of one hand: how each is made, and sizes that define it (what, its kind, its value)."""

    def __init__(self) -> None:
        self.parts: dict[str, tuple[Callable[[], Any], tuple[Size, ...]]] = {}

    def part(self, *sizes: Size) -> Callable[[Callable[[], Any]], Callable[[], Any]]:
        """Enter what makes a part, under the name of the function."""

        def enter(make: Callable[[], Any]) -> Callable[[], Any]:
            self.parts[make.__name__.replace("_", "-")] = make, sizes
            return make

        return enter
