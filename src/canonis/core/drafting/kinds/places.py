"""Where a face lies: from the datum, from the faces beside it, or by the ends of its edges."""

import math
from collections.abc import Iterator

import numpy as np

from canonis.core.drafting.desk import NEAR, Candidate, Desk
from canonis.core.drafting.registry import states
from canonis.core.drafting.seen import lines_of
from canonis.core.shape import is_blend
from canonis.core.sheet import Anchor, View, frame_of_view
from canonis.core.solid import Face, Vec, edge_reference, face_reference
from canonis.core.tolerances import FINE, NOISE, parallel, same, square
from canonis.core.view import Line

__all__ = ["corners", "places"]


@states(40, faces=True)
def places(desk: Desk) -> Iterator[Candidate]:
    """Levels of flat faces and axes from the datum, and their distances from the nearest flat faces."""
    for face in desk.asked("plane", "cylinder", "cone", "torus", "sphere"):
        if face.kind == "torus" and is_blend(desk.solid, face):
            # Tangency places it.
            continue
        ref = face_reference(face)
        for n, view in enumerate(desk.views):
            anchor = desk.scene.anchor(view, ref)
            if anchor is None:
                continue
            own = lines_of(desk.scene, view, face.index)
            toward = frame_of_view(view).toward
            for k, (direction, way, _) in enumerate(desk.ways(view)):
                level = anchor.level(direction)
                if level is None or not _shows(own, face, toward, k, level):
                    continue
                upright = desk.square(way)
                if upright:
                    yield from desk.ordinate(view, direction, level, ref, 3.0 + 0.02 * n, "level")
                # Along a slope only holes are placed; its ends are said where they are level or upright.
                if face.kind != "plane" or upright:
                    yield from _distances(desk, view, k, level, ref, (3.4 if upright else 5.6) + 0.02 * n)


def _shows(own: list[Line], face: Face, toward: Vec, k: int, level: float) -> bool:
    """Whether lines of a face stand at a level: its edge, or circles about its axis, or its two outlines."""
    if face.kind == "sphere":
        return any(
            x.kind == "arc" and abs(float(x.centre[k]) - level) < NEAR and abs(x.radius - face.radius) < NEAR
            for x in own
        )
    if face.kind == "torus" and square(face.axis, toward):
        # A groove is placed by its middle; the middle of a crowned end lies where nothing is.
        tubes = [x for x in own if x.kind == "arc" and abs(x.radius - face.minor) < NEAR]
        rims = [float(p[k]) for x in tubes for p in (x.polyline(0.1)[0], x.polyline(0.1)[-1])]
        inside = bool(rims) and min(rims) - NEAR < level < max(rims) + NEAR
        return inside and any(abs(float(x.centre[k]) - level) < NEAR for x in tubes)
    if face.kind == "plane":
        return any(x.kind == "line" and float(np.abs(x.points[:, k] - level).max()) < NEAR for x in own)
    if parallel(face.axis, toward):
        return any(x.kind == "arc" and abs(float(x.centre[k]) - level) < NEAR for x in own)
    # The axis of a corner round is not drawn from the side.
    return face.sweep > math.pi and (
        any(x.kind == "line" and not x.edges for x in own) or _outlined(own, face, k, level)
    )


def _outlined(own: list[Line], face: Face, k: int, level: float) -> bool:
    """Whether both outlines of a round face stand about a level, be it in one line with edges: a shank as thick as its eye."""
    sides = [
        [float(np.abs(x.points[:, k] - level - s * face.radius).max()) for x in own if x.kind == "line"]
        for s in (1, -1)
    ]
    return all(min(side, default=NEAR) < NEAR for side in sides)


def _distances(desk: Desk, view: View, k: int, level: float, ref: str, price: float) -> Iterator[Candidate]:
    """The distance to the flat faces and edges beside it, the nearest first."""
    direction, way, _ = desk.ways(view)[k]
    beside: dict[float, str] = {}
    known: set[float] = set()
    for line in desk.scene.projection(view).visible:
        if line.kind != "line" or float(np.ptp(line.points[:, k])) > NOISE:
            continue
        at = float(line.points[0, k])
        if same(at, level, FINE) or round(at, 4) in known:
            continue
        faces = [desk.solid.faces[f] for f in line.faces]
        flat = [f for f in faces if f.kind == "plane" and parallel(f.axis, way)]
        straight = [e for e in (desk.solid.edges[e] for e in line.edges) if e.kind == "line"]
        if flat or straight:
            known.add(round(at, 4))
            beside[at] = face_reference(flat[0]) if flat else edge_reference(straight[0])
    for n, at in enumerate(sorted(beside, key=lambda at: abs(at - level))[:3]):
        ends = (beside[at], ref) if at < level else (ref, beside[at])
        yield Candidate(price + 0.1 * n, desk.length(view, direction, ends, desk.sized(abs(at - level)), "level"))


@states(50, faces=True)
def corners(desk: Desk) -> Iterator[Candidate]:
    """Where the edges of flat faces end, from the datum, where they are seen as points."""
    for face in desk.asked("plane"):
        for e, _ in desk.solid.neighbours[face.index]:
            edge = desk.solid.edges[e]
            if edge.kind != "line" or edge.dihedral == "smooth":
                continue
            ref = edge_reference(edge)
            for n, view in enumerate(desk.views):
                anchor = desk.scene.anchor(view, ref)
                toward = frame_of_view(view).toward
                if anchor is None or not parallel(edge.axis, toward) or not _ends_at(desk, view, anchor):
                    continue
                for direction, way, _ in desk.ways(view):
                    level = anchor.level(direction)
                    if level is not None and desk.square(way):
                        # Of the two ends of a slope the one that somebody would have chosen.
                        odd = 0.0 if desk.meant(level - float(desk.datum.point @ way)) else 0.5
                        yield from desk.ordinate(view, direction, level, ref, 5.0 + odd + 0.02 * n, "level")


def _ends_at(desk: Desk, view: View, anchor: Anchor) -> bool:
    """Whether visible lines of a view end at a point."""
    points = desk.scene.projection(view).outline_points
    if anchor.x is None or anchor.y is None or not len(points):
        return False
    return bool(float(np.abs(points - np.array([anchor.x, anchor.y])).max(axis=1).min()) < NEAR)
