"""What a person picked on a solid: a face, an edge, a vertex, an axis, a feature, a sharp edge or corner, a point."""

from dataclasses import dataclass, field
from typing import Any

import numpy as np

from canonis.core.faults import BadInput
from canonis.core.features import Feature
from canonis.core.solid import (
    Edge,
    Face,
    Solid,
    Vec,
    edge_samples,
    face_samples,
    point_shape,
    segment_shape,
    unit_vector,
)
from canonis.core.study.choices import Pick
from canonis.core.study.frames import sharp_corner
from canonis.core.tolerances import NOISE, parallel

__all__ = ["Target", "target_of"]


@dataclass(frozen=True, eq=False)
class Target:
    """A pick as geometry. `line` is a direction it runs along, `normal` one it faces; `whole` marks an endless line."""

    name: str
    shape: Any
    point: Vec
    line: Vec | None = None
    normal: Vec | None = None
    radius: float | None = None
    samples: Vec = field(default_factory=lambda: np.zeros((0, 3)))
    own: tuple[tuple[str, str, float], ...] = ()
    endless: bool = False


def _axis(solid: Solid, name: str, point: Vec, axis: Vec, radius: float | None) -> Target:
    reach = 3 * solid.diagonal
    middle = point + axis * float(((solid.box[0] + solid.box[1]) / 2 - point) @ axis)
    return Target(
        name,
        segment_shape(middle - axis * reach, middle + axis * reach),
        point,
        line=axis,
        radius=radius,
        own=() if radius is None else (("diameter", "mm", 2 * radius), ("radius", "mm", radius)),
        endless=True,
    )


def _face(solid: Solid, face: Face) -> Target:
    own: list[tuple[str, str, float]] = [("area", "mm2", face.area)]
    shape = solid.face_shapes[face.index]
    if face.kind == "plane":
        return Target(
            f"flat face {face.index + 1}",
            shape,
            face.centre,
            normal=face.axis,
            samples=face_samples(solid, face.index),
            own=(*own, ("perimeter", "mm", sum(solid.edges[e].length for e in face.edges))),
        )
    if face.kind in ("cylinder", "cone"):
        along = face.span[1] - face.span[0]
        if face.kind == "cylinder":
            own += [("diameter", "mm", 2 * face.radius), ("radius", "mm", face.radius), ("length", "mm", along)]
        else:
            slope = np.tan(face.half_angle)
            own += [
                ("large diameter", "mm", 2 * max(map(abs, face.span)) * slope),
                ("small diameter", "mm", 2 * min(map(abs, face.span)) * slope),
                ("included angle", "deg", 2 * np.degrees(face.half_angle)),
                ("length", "mm", along),
            ]
        if face.sweep < 2 * np.pi - NOISE:
            own.append(("sweep", "deg", float(np.degrees(face.sweep))))
        word = {True: "bore", False: "round face"}[face.inner] if face.kind == "cylinder" else "cone"
        return Target(
            f"{word} {face.index + 1}",
            shape,
            face.origin,
            line=face.axis,
            radius=face.radius if face.kind == "cylinder" else None,
            samples=face_samples(solid, face.index),
            own=tuple(own),
        )
    if face.kind == "torus":
        own += [("round radius", "mm", face.minor), ("ring radius", "mm", face.radius)]
    if face.kind == "sphere":
        own += [("diameter", "mm", 2 * face.radius), ("radius", "mm", face.radius)]
    line = face.axis if face.kind == "torus" else None
    point = face.origin if face.kind in ("torus", "sphere") else face.centre
    return Target(
        f"face {face.index + 1}",
        shape,
        point,
        line=line,
        samples=face_samples(solid, face.index),
        own=tuple((k, u, float(v)) for k, u, v in own),
    )


def _sharp_edge(solid: Solid, face: Face) -> tuple[Vec, Vec]:
    """Point and direction of the edge that a round or a chamfer took away: where its flat neighbours meet.

    Raises BadInput where there are not two flat neighbours that meet.
    """
    around: list[tuple[Face, Edge]] = []
    for e, k in solid.neighbours[face.index]:
        if solid.faces[k].kind == "plane" and solid.edges[e].kind == "line":
            around.append((solid.faces[k], solid.edges[e]))
    pairs = []
    for i, (a, ea) in enumerate(around):
        for b, eb in around[i + 1 :]:
            n = np.cross(a.axis, b.axis)
            # The blend runs between them: its edges with both run along the edge that was there.
            if float(np.linalg.norm(n)) > 0.05 and all(parallel(unit_vector(n), e.axis) for e in (ea, eb)):
                pairs.append((a, b))
    if not pairs:
        raise BadInput(
            "This face lies between no two flat faces that would meet in an edge; pick a round or a chamfer."
        )
    a, b = max(pairs, key=lambda p: min(p[0].area, p[1].area))
    way = unit_vector(np.cross(a.axis, b.axis))
    at = np.linalg.solve(np.array([a.axis, b.axis, way]), np.array([a.offset, b.offset, float(face.centre @ way)]))
    return at, way


def target_of(pick: Pick, solids: tuple[Solid, ...], features: tuple[Feature, ...]) -> Target:
    """What a pick means on these solids.

    Raises BadInput when it is not there (the model has changed since).
    """
    if pick.solid >= len(solids):
        raise BadInput("That solid is not in this model; pick again.")
    solid = solids[pick.solid]
    if pick.kind == "point":
        if pick.at is None or not np.all(np.isfinite(pick.at)) or max(map(abs, pick.at)) > 1e7:
            raise BadInput("A point needs three numbers in mm.")
        at = np.array(pick.at)
        return Target("point", point_shape(at), at, samples=at[None])
    if pick.kind == "feature":
        return _feature(pick, solid, features[pick.solid])
    table: tuple[Any, ...] = solid.edges if pick.kind in ("edge", "vertex", "corner") else solid.faces
    if pick.index >= len(table):
        raise BadInput("What was picked is not in this model any more; pick again.")
    if pick.kind == "face":
        return _face(solid, solid.faces[pick.index])
    if pick.kind == "axis":
        face = solid.faces[pick.index]
        if face.kind not in ("cylinder", "cone", "torus"):
            raise BadInput("This face has no axis; pick a round one.")
        return _axis(
            solid,
            f"axis of face {face.index + 1}",
            face.origin,
            face.axis,
            face.radius if face.kind == "cylinder" else None,
        )
    if pick.kind == "sharp":
        at, way = _sharp_edge(solid, solid.faces[pick.index])
        return _axis(solid, f"sharp edge at face {pick.index + 1}", at, way, None)
    edge = solid.edges[pick.index]
    if pick.kind == "edge":
        own = [("length", "mm", edge.length)]
        if edge.kind == "circle":
            own += [("diameter", "mm", 2 * edge.radius), ("radius", "mm", edge.radius)]
            if edge.sweep < 2 * np.pi - NOISE:
                own.append(("sweep", "deg", float(np.degrees(edge.sweep))))
        line = edge.axis if edge.kind in ("line", "circle") else None
        point = edge.centre if edge.kind == "circle" else edge.middle
        return Target(
            f"{'circle' if edge.kind == 'circle' else 'edge'} {edge.index + 1}",
            solid.wire_pieces[edge.index],
            point,
            line=line,
            radius=edge.radius if edge.kind == "circle" else None,
            samples=edge_samples(solid, pick.index),
            own=tuple(own),
        )
    at = edge.start if pick.end == 0 else edge.end
    if pick.kind == "vertex":
        return Target(f"corner of edge {edge.index + 1}", point_shape(at), at, samples=at[None])
    found = sharp_corner(solid, at)
    if found is None:
        raise BadInput("No three flat faces meet near this corner; pick another.")
    return Target("sharp corner", point_shape(found[0]), found[0], samples=found[0][None])


def _feature(pick: Pick, solid: Solid, found: Feature) -> Target:
    for group in found.holes:
        if group.id == pick.id:
            if pick.member >= len(group.holes):
                raise BadInput(f"{pick.id} has {len(group.holes)} members; pick one of them.")
            hole = group.holes[pick.member]
            return _axis(solid, f"axis of {pick.id}", hole.start, hole.axis, hole.diameter / 2)
    for slot in found.slots:
        if slot.id == pick.id:
            at = (slot.ends[0] + slot.ends[1]) / 2
            return Target(f"middle of {pick.id}", point_shape(at), at, samples=at[None])
    for shaft in found.shafts:
        if shaft.id == pick.id:
            return _axis(solid, f"axis of {pick.id}", shaft.base, shaft.axis, shaft.diameter / 2)
    for form in found.forms:
        if form.id == pick.id:
            if pick.member >= len(form.pieces):
                raise BadInput(f"{pick.id} has {len(form.pieces)} members; pick one of them.")
            place = form.pieces[pick.member].place
            return Target(f"place of {pick.id}", point_shape(place), place, samples=place[None])
    raise BadInput(f"There is no feature {pick.id} with a place on this model; pick again.")
