"""Frames: an origin and directions, from the file, a corner (also a sharp one), an axis, three points or three faces."""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from canonis.core.faults import BadInput
from canonis.core.solid import Solid, Vec, unit_vector
from canonis.core.tolerances import NOISE, NOTHING, same_place

__all__ = ["FILE", "Frame", "box_corners", "corner_frame", "frame_of_faces", "frame_of_points", "sharp_corner"]


@dataclass(frozen=True, eq=False)
class Frame:
    """Origin (mm) and three unit directions in the file's axes, right-handed, and how the frame is called."""

    name: str
    origin: Vec
    x: Vec
    y: Vec
    z: Vec

    @property
    def matrix(self) -> Vec:
        """Rows x, y, z: turns a vector of the file into the frame."""
        return np.array([self.x, self.y, self.z])

    def point(self, p: Vec) -> Vec:
        """A point of the file's axes in this frame, mm."""
        return np.asarray(self.matrix @ (np.asarray(p, dtype=float) - self.origin))

    def vector(self, v: Vec) -> Vec:
        """A direction of the file's axes in this frame."""
        return np.asarray(self.matrix @ np.asarray(v, dtype=float))

    def as_json(self) -> dict[str, Any]:
        """The frame as plain data."""
        return {
            "name": self.name,
            **{k: [round(float(c), 9) + 0.0 for c in getattr(self, k)] for k in ("origin", "x", "y", "z")},
        }


FILE = Frame("the file's frame", np.zeros(3), *np.eye(3))


def _right_handed(name: str, origin: Vec, x: Vec, y: Vec) -> Frame:
    x = unit_vector(np.asarray(x, dtype=float))
    y = np.asarray(y, dtype=float) - x * float(np.asarray(y) @ x)
    if float(np.linalg.norm(y)) < NOTHING:
        raise BadInput("The frame's two directions must not be parallel; pick another direction.")
    y = unit_vector(y)
    return Frame(name, np.asarray(origin, dtype=float), x, y, np.cross(x, y))


def frame_of_points(points: Sequence[Vec], name: str = "three points") -> Frame:
    """Origin in the first point, x toward the second, y toward the third's side.

    Raises BadInput when they lie on one line.
    """
    if len(points) != 3:
        raise BadInput("A frame by points needs three of them: the origin, one along x, one toward y.")
    a, b, c = (np.asarray(p, dtype=float) for p in points)
    if same_place(b, a, NOTHING) or float(np.linalg.norm(np.cross(b - a, c - a))) < NOTHING:
        raise BadInput("The three points lie on one line; pick another third point.")
    return _right_handed(name, a, b - a, c - a)


def frame_of_faces(solid: Solid, faces: Sequence[int], name: str = "three faces") -> Frame:
    """Origin where three flat faces meet, extended past any round; x, y, z square off their normals, into the part.

    Raises BadInput when a face is not flat or the three do not meet in one point.
    """
    if len(faces) != 3 or len(set(faces)) != 3:
        raise BadInput("A frame by faces needs three different flat faces.")
    flat = [solid.faces[f] for f in faces]
    if any(f.kind != "plane" for f in flat):
        raise BadInput("A frame by faces needs flat faces; one of them is round.")
    normals = np.array([f.axis for f in flat])
    if abs(float(np.linalg.det(normals))) < NOISE:
        raise BadInput("The three faces do not meet in one point; two of them are parallel.")
    origin = np.linalg.solve(normals, np.array([f.offset for f in flat]))
    middle = (solid.box[0] + solid.box[1]) / 2
    # Each axis runs along the edge in which the other two faces meet, toward the part.
    ways = []
    for k in range(3):
        way = unit_vector(np.cross(normals[(k + 1) % 3], normals[(k + 2) % 3]))
        ways.append(way if float(way @ (middle - origin)) > 0 else -way)
    return _right_handed(name, origin, ways[0], ways[1])


def sharp_corner(solid: Solid, near: Vec, reach: float | None = None) -> tuple[Vec, tuple[int, int, int]] | None:
    """The corner nearest a point at which three flat faces would meet had no round or chamfer taken it away.

    Faces count that come within `reach` mm (default 15 % of the diagonal) of the corner.
    """
    reach = 0.15 * solid.diagonal if reach is None else reach
    middles = [(f, _distance_to_face(solid, f.index, near)) for f in solid.faces if f.kind == "plane"]
    close = [f for f, d in sorted(middles, key=lambda m: m[1])[:9] if _distance_to_face(solid, f.index, near) < reach]
    best: tuple[float, Vec, tuple[int, int, int]] | None = None
    for trio in itertools.combinations(close, 3):
        normals = np.array([f.axis for f in trio])
        if abs(float(np.linalg.det(normals))) < 0.05:
            continue
        corner = np.linalg.solve(normals, np.array([f.offset for f in trio]))
        # A big face before a chamfer: of corners equally near, the one between the larger faces is meant.
        cost = float(np.linalg.norm(corner - near)) + 0.02 * solid.diagonal * sum(1 / (1 + f.area) for f in trio)
        size = min(f.area for f in trio)
        cost += reach * (0.0 if size > 1e-3 * solid.mass.area else 1.0)
        if best is None or cost < best[0]:
            best = (cost, corner, (trio[0].index, trio[1].index, trio[2].index))
    return None if best is None else (best[1], best[2])


def _distance_to_face(solid: Solid, face: int, point: Vec) -> float:
    """Distance from a point to the nearest edge end or middle of a face, mm."""
    edges = [solid.edges[e] for e in solid.faces[face].edges]
    return min((float(np.linalg.norm(p - point)) for e in edges for p in (e.start, e.end, e.middle)), default=np.inf)


def box_corners(solid: Solid) -> dict[str, Vec]:
    """The eight outer corners of the part by name, in the file's axes: left is −x, front −y, bottom −z."""
    low, high = solid.box
    out = {}
    for i, side in enumerate(("left", "right")):
        for j, depth in enumerate(("front", "back")):
            for k, height in enumerate(("bottom", "top")):
                out[f"{side}-{depth}-{height}"] = np.array([(low, high)[i][0], (low, high)[j][1], (low, high)[k][2]])
    return out


def corner_frame(solid: Solid, name: str) -> Frame:
    """The file's directions from a named outer corner; rounds and chamfers do not move it.

    Raises BadInput for a corner that is none.
    """
    corners = box_corners(solid)
    if name not in corners:
        raise BadInput(f"“{name}” is no corner such as left-front-bottom.")
    return Frame(f"corner {name}", corners[name], *np.eye(3))
