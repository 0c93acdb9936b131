"""Flat profiles of a recipe as kernel faces."""

import math
from collections.abc import Callable
from typing import Any

import numpy as np

from canonis.core.faults import BadInput
from canonis.core.solid import Vec, arc_edge, circle_wire, face_of, line_edge, unit_vector, wire_of
from canonis.core.tolerances import NOTHING

__all__ = ["Plane", "open_path", "plane_of", "profile_faces"]

Number = Callable[[Any], float]


class Plane:
    """A sketch plane: origin, x and normal; y = normal × x."""

    def __init__(self, origin: Vec, x: Vec, normal: Vec) -> None:
        self.origin, self.normal = origin, unit_vector(normal)
        self.x = unit_vector(x - self.normal * float(x @ self.normal))
        self.y = np.cross(self.normal, self.x)

    def at(self, u: float, v: float) -> Vec:
        """A point of the plane."""
        return np.asarray(self.origin + self.x * u + self.y * v)


_NAMED = {
    "XY": ((1, 0, 0), (0, 0, 1)),
    "XZ": ((1, 0, 0), (0, -1, 0)),
    "YZ": ((0, 1, 0), (1, 0, 0)),
}


def plane_of(data: dict[str, Any], number: Number, scale: float) -> Plane:
    """The plane of a profile; named planes take an `offset` along their normal."""
    plane = data.get("plane", "XY")
    if isinstance(plane, str):
        if plane not in _NAMED:
            raise BadInput(f"plane “{plane}” is not XY, XZ or YZ")
        x, n = (np.array(v, dtype=float) for v in _NAMED[plane])
        return Plane(n * number(data.get("offset", 0)) * scale, x, n)
    try:
        origin, x, normal = (np.array([number(c) for c in plane[k]]) for k in ("origin", "x", "normal"))
    except (KeyError, TypeError):
        raise BadInput("a plane needs origin, x and normal") from None
    return Plane(origin * scale, x, normal)


def _polygon(plane: Plane, points: list[tuple[float, float]]) -> Any:
    if len(points) < 3:
        raise BadInput("an outline needs at least three points")
    corners = [plane.at(*p) for p in points]
    return wire_of([line_edge(a, b) for a, b in zip(corners, [*corners[1:], corners[0]], strict=True)])


def _arc_middle(a: tuple[float, float], b: tuple[float, float], r: float, turn: str) -> tuple[float, float]:
    """The middle of the shorter arc of radius `r` from a to b, turning clockwise or anticlockwise."""
    dx, dy = b[0] - a[0], b[1] - a[1]
    chord = math.hypot(dx, dy)
    if chord < NOTHING or chord > 2 * r * (1 + NOTHING):
        raise BadInput(f"an arc of radius {r:g} cannot span {chord:g}")
    sagitta = r - math.sqrt(max(0.0, r * r - chord * chord / 4))
    # Anticlockwise bulges to the right of the chord.
    side = 1.0 if turn == "ccw" else -1.0
    return ((a[0] + b[0]) / 2 + side * dy / chord * sagitta, (a[1] + b[1]) / 2 - side * dx / chord * sagitta)


def open_path(plane: Plane, steps: list[Any], number: Number, s: float) -> Any:
    """A wire of lines and arcs in a plane, closed only where the steps say so. `s` is mm per recipe unit."""
    edges: list[Any] = []
    start = here = (0.0, 0.0)
    for step in steps:
        op, *args = step
        if op == "M":
            start = here = (number(args[0]) * s, number(args[1]) * s)
        elif op in ("L", "A"):
            to = (number(args[0]) * s, number(args[1]) * s)
            if op == "L":
                edges.append(line_edge(plane.at(*here), plane.at(*to)))
            else:
                middle = _arc_middle(here, to, number(args[2]) * s, args[3])
                edges.append(arc_edge(plane.at(*here), plane.at(*middle), plane.at(*to)))
            here = to
        elif op == "Z":
            if math.dist(here, start) > NOTHING:
                edges.append(line_edge(plane.at(*here), plane.at(*start)))
        else:
            raise BadInput(f"path step “{op}” is not M, L, A or Z")
    return wire_of(edges)


def _wire(shape: dict[str, Any], plane: Plane, number: Number, s: float) -> Any:
    if len(shape) != 1:
        raise BadInput("an outline has exactly one kind, such as rect or circle")
    kind, data = next(iter(shape.items()))
    if kind == "path":
        return open_path(plane, data, number, s)
    if kind == "regular":
        cx, cy = (number(c) * s for c in data["centre"])
        n = round(number(data["sides"]))
        if n < 3:
            raise BadInput("a regular polygon needs at least three sides")
        # Across flats is the circle inside it, across corners the circle around it.
        if ("across-flats" in data) == ("across-corners" in data):
            raise BadInput("a regular polygon needs across-flats or across-corners, one of the two")
        corners = "across-corners" in data
        r = number(data["across-corners" if corners else "across-flats"]) * s / 2
        r = r if corners else r / math.cos(math.pi / n)
        if r <= 0:
            raise BadInput("a regular polygon needs a positive size")
        turn = math.pi / n - math.pi / 2
        return _polygon(
            plane,
            [
                (cx + r * math.cos(turn + 2 * math.pi * k / n), cy + r * math.sin(turn + 2 * math.pi * k / n))
                for k in range(n)
            ],
        )
    if kind == "polygon":
        return _polygon(plane, [(number(x) * s, number(y) * s) for x, y in data])
    v = [number(x) * s for x in data]
    if kind in ("rect", "centre-rect"):
        x, y, w, h = v if kind == "rect" else (v[0] - v[2] / 2, v[1] - v[3] / 2, v[2], v[3])
        if w <= 0 or h <= 0:
            raise BadInput("a rectangle needs a positive width and height")
        return _polygon(plane, [(x, y), (x + w, y), (x + w, y + h), (x, y + h)])
    if kind == "circle":
        if v[2] <= 0:
            raise BadInput("a circle needs a positive diameter")
        return circle_wire(plane.at(v[0], v[1]), plane.normal, v[2] / 2)
    if kind == "slot":
        a, b, r = np.array(v[:2]), np.array(v[2:4]), v[4] / 2
        d = unit_vector(b - a)
        side = np.array([-d[1], d[0]])
        p = [a + side * r, a - d * r, a - side * r, b - side * r, b + d * r, b + side * r]
        at = [plane.at(*q) for q in p]
        return wire_of(
            [
                arc_edge(at[0], at[1], at[2]),
                line_edge(at[2], at[3]),
                arc_edge(at[3], at[4], at[5]),
                line_edge(at[5], at[0]),
            ]
        )
    raise BadInput(f"outline “{kind}” is not known")


def profile_faces(data: dict[str, Any], number: Number, scale: float) -> tuple[Plane, list[Any]]:
    """The plane and the faces of a profile; several outers make several faces. `scale` is mm per recipe unit."""
    plane = plane_of(data, number, scale)
    outer = data.get("outer")
    if not outer:
        raise BadInput("a profile needs an outer outline")
    outers = outer if isinstance(outer, list) else [outer]
    holes = data.get("holes", [])
    try:
        faces = [face_of(_wire(o, plane, number, scale), []) for o in outers]
        if holes:
            wires = [_wire(h, plane, number, scale) for h in holes]
            faces = [face_of(_wire(outers[0], plane, number, scale), wires), *faces[1:]]
    except (TypeError, ValueError, KeyError, IndexError, StopIteration):
        raise BadInput("the profile cannot be read; see the recipe format") from None
    return plane, faces
