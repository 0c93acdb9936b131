"""Angles between flat faces seen edge-on and axes that lie in a view, as arcs between their lines (ISO 129-1)."""

import math
import re
from dataclasses import dataclass

import numpy as np

from canonis.core.sheet.pen import Pen
from canonis.core.sheet.scene import Scene, frame_of_view
from canonis.core.sheet.sizes import Look
from canonis.core.sheet.views import View
from canonis.core.solid import Vec, edge_points
from canonis.core.tolerances import NOTHING, square

__all__ = ["Arc", "angle_arc", "draw_angle"]

#: The radius of an arc on paper, mm: within these bounds, half way out along the shorter of its two lines.
_LEAST, _MOST = 9.0, 30.0


@dataclass(frozen=True, eq=False)
class Arc:
    """An arc on paper: where its lines meet, its radius, from which angle to which (radians), and how far each line
    reaches from there (mm)."""

    vertex: Vec
    radius: float
    a0: float
    a1: float
    reach: tuple[tuple[float, float], tuple[float, float]]

    @property
    def middle(self) -> Vec:
        """The middle of the arc."""
        a = (self.a0 + self.a1) / 2
        return np.asarray(self.vertex + self.radius * np.array([math.cos(a), math.sin(a)]))


def angle_arc(scene: Scene, view: View, refs: tuple[str, ...], text: str = "") -> Arc | None:
    """The arc between two flat faces or axes; None when one is lost or not seen edge-on.

    Where `text` says what the angle lacks of 180°, the arc runs to the second face's line drawn out past the corner.
    """
    solid, frame = scene.solids[scene.solid_of(view.sheet)], frame_of_view(view)
    lines = []
    for ref in refs[:2]:
        found = scene.resolution(view.sheet, ref)
        if not found.faces:
            return None
        face = solid.faces[found.faces[0]]
        if face.kind not in ("plane", "cylinder") or not square(face.axis, frame.toward):
            return None
        along = frame.flat(face.axis if face.kind == "cylinder" else np.cross(frame.toward, face.axis))
        along = along / float(np.linalg.norm(along))
        if face.kind == "cylinder":
            ends = np.array([face.origin + face.axis * s for s in face.span])
        else:
            ends = np.vstack([edge_points(solid, e, 5) for e in face.edges])
        points = scene.paper(view, frame.flat(ends))
        lines.append((points.mean(axis=0), along, points))
    if len(lines) < 2:
        return None
    (p, d, pa), (q, e, pb) = lines
    det = float(d[0] * e[1] - d[1] * e[0])
    if abs(det) < NOTHING:
        return None
    r = q - p
    vertex = p + d * float((r[0] * e[1] - r[1] * e[0]) / det)
    ways, reach = [], []
    for points, way in ((pa, d), (pb, e)):
        t = (points - vertex) @ way
        if float(t.mean()) < 0:
            way, t = -way, -t
        ways.append(math.atan2(way[1], way[0]))
        reach.append((float(t.min()), float(t.max())))
    radius = float(np.clip(min(reach[0][1], reach[1][1]) * 0.6, _LEAST, _MOST))
    a0, a1 = ways
    turn = (a1 - a0) % (2 * math.pi)
    said = re.match(r"\d+(?:\.\d+)?", text.replace(",", "."))
    if said:
        inside = math.degrees(min(turn, 2 * math.pi - turn))
        if abs(float(said.group()) - inside) > abs(float(said.group()) - (180.0 - inside)):
            a1, reach[1] = a1 + math.pi, (-reach[1][1], -reach[1][0])
            turn = (a1 - a0) % (2 * math.pi)
    if turn > math.pi:
        a0, turn, reach = a1, 2 * math.pi - turn, reach[::-1]
    return Arc(vertex, radius, a0, a0 + turn, (reach[0], reach[1]))


def draw_angle(pen: Pen, arc: Arc, look: Look) -> None:
    """The arc with its arrows, and extension lines where a face does not reach it."""
    pen.arc(arc.vertex, arc.radius, arc.a0, arc.a1, width=look.narrow)
    for angle, (low, high), sense in ((arc.a0, arc.reach[0], -1.0), (arc.a1, arc.reach[1], 1.0)):
        way = np.array([math.cos(angle), math.sin(angle)])
        tip = arc.vertex + way * arc.radius
        if arc.radius > high or arc.radius < low:
            near = high if arc.radius > high else low
            past = 2.0 if arc.radius > high else -2.0
            pen.line(arc.vertex + way * near, arc.vertex + way * (arc.radius + past), width=look.narrow)
        if arc.radius * (arc.a1 - arc.a0) > 2.4 * look.arrow:
            pen.arrow(tip, sense * np.array([-way[1], way[0]]), look.arrow)
