"""Steps that make a body from profiles: extrude, revolve, loft, sweep, rib."""

import math
from typing import Any

import numpy as np

from canonis.core.faults import BadInput
from canonis.core.recipe.bench import FAR, Bench, Effect
from canonis.core.recipe.profiles import Plane, open_path, plane_of, profile_faces
from canonis.core.recipe.selectors import select_faces
from canonis.core.solid import (
    Vec,
    beyond_cylinder,
    beyond_plane,
    common,
    difference,
    drafted,
    face_of,
    helical_sweep,
    helix_wire,
    line_edge,
    lofted,
    moved,
    outer_wire,
    piece_touching,
    prism,
    side_faces,
    swept,
    turned,
    unit_vector,
    wire_of,
)
from canonis.core.tolerances import NOTHING, same, square

__all__ = ["extrude", "loft", "revolve", "rib", "sweep"]


def _reach(bench: Bench, step: dict[str, Any]) -> tuple[float, float]:
    """How far below and above the profile's plane an extrusion goes, mm."""
    if step.get("through"):
        return -FAR, FAR
    if "both" in step:
        high, low = (bench.length(v) for v in step["both"])
        return -low, high
    if "symmetric" in step:
        high = bench.length(step["symmetric"]) / 2
        return -high, high
    if "distance" in step:
        high = bench.length(step["distance"])
        return 0.0, high
    raise BadInput("extrude needs distance, both, symmetric, to or through")


def _up_to(bench: Bench, step: dict[str, Any], plane: Plane, faces: list[Any], base: Vec) -> list[Any]:
    """Prisms from the profile to the face that `to` selects."""
    solid = bench.solid()
    picked = sorted(select_faces(step["to"], solid, bench.number, bench.scale, bench.made))
    if len(picked) != 1:
        raise BadInput(f"“to” must select one face; it selects {len(picked)}")
    face = solid.faces[picked[0]]
    start = plane.origin + base
    if face.kind == "plane":
        away = float((face.origin - start) @ face.axis)
        along = float(plane.normal @ face.axis)
        if abs(along) < NOTHING:
            raise BadInput("the face “to” runs along the extrusion and is never met")
        sign = 1.0 if away / along >= 0 else -1.0
        stop = beyond_plane(face.origin, face.axis, plane.normal * sign)
    elif face.kind == "cylinder":
        # Where it lies decides which way to go: toward the axis of the cylinder.
        sign = 1.0 if float((face.origin - start) @ plane.normal) >= 0 else -1.0
        stop = beyond_cylinder(face.origin, face.axis, face.radius)
    else:
        raise BadInput("“to” must select a flat or cylindrical face")
    out = []
    for one in faces:
        long = prism(moved(one, base), plane.normal * sign * 4 * solid.diagonal)
        inside = face.kind == "cylinder" and face.inner
        kept = common(long, stop) if inside else difference(long, stop)
        out.append(piece_touching(kept, start))
    return out


def extrude(bench: Bench, step: dict[str, Any]) -> list[Effect]:
    """A profile carried along its normal: one way, both ways, to a face, or through all, with draft if asked."""
    plane, faces = profile_faces(step["profile"], bench.number, bench.scale)
    mode = step.get("mode", "add")
    shift = plane.normal * bench.length(step.get("start", 0))
    if "to" in step:
        return [(mode, body) for body in _up_to(bench, step, plane, faces, shift)]
    low, high = _reach(bench, step)
    if same(high, low, NOTHING):
        raise BadInput("the distance is zero")
    out: list[Effect] = []
    lean = bench.number(step.get("draft", 0))
    if not -80 < lean < 80:
        raise BadInput("a draft must lie between −80° and 80°")
    for face in faces:
        parts = [(low, high)] if not lean or low == 0 else [(0.0, high), (0.0, low)]
        for a, b in parts:
            body = prism(moved(face, shift + plane.normal * a), plane.normal * (b - a))
            if lean:
                pull = plane.normal * math.copysign(1.0, b - a)
                body = drafted(body, side_faces(body, pull), pull, plane.origin + shift, lean)
            out.append((mode, body))
    return out


def revolve(bench: Bench, step: dict[str, Any]) -> list[Effect]:
    """A profile turned about an axis by `angle` degrees."""
    _, faces = profile_faces(step["profile"], bench.number, bench.scale)
    axis = step["axis"]
    point, direction = bench.point(axis["point"]), bench.vector(axis["direction"])
    angle = bench.number(step.get("angle", 360))
    return [(step.get("mode", "add"), turned(f, point, direction, angle)) for f in faces]


def loft(bench: Bench, step: dict[str, Any]) -> list[Effect]:
    """A body blended through several profiles; `ruled` joins them straight."""
    wires = []
    for data in step["profiles"]:
        _, faces = profile_faces(data, bench.number, bench.scale)
        if len(faces) != 1:
            raise BadInput("each profile of a loft needs one outline")
        wires.append(outer_wire(faces[0]))
    return [(step.get("mode", "add"), lofted(wires, bool(step.get("ruled", False))))]


def sweep(bench: Bench, step: dict[str, Any]) -> list[Effect]:
    """A profile carried along a path of lines and arcs, or along a helix."""
    _, faces = profile_faces(step["profile"], bench.number, bench.scale)
    path, mode = step["path"], step.get("mode", "add")
    if "helix" not in path:
        wire = open_path(plane_of(path, bench.number, bench.scale), path["path"], bench.number, bench.scale)
        return [(mode, swept(wire, f)) for f in faces]
    helix = path["helix"]
    axis = helix["axis"]
    point, direction = bench.point(axis["point"]), bench.vector(axis["direction"])
    hand = helix.get("hand", "right")
    if hand not in ("right", "left"):
        raise BadInput("the hand of a helix is right or left")
    plane = plane_of(step["profile"], bench.number, bench.scale)
    # The helix starts where the profile's plane meets its diameter, on the x side of that plane.
    away = plane.x - direction * float(plane.x @ direction)
    if float(np.linalg.norm(away)) < NOTHING:
        raise BadInput("the profile's x direction must point away from the helix axis")
    lift = direction * float((plane.origin - point) @ direction)
    start = point + lift + unit_vector(away) * bench.length(helix["diameter"]) / 2
    pitch, turns = bench.length(helix["pitch"]), bench.number(helix["turns"])
    spine, guide = helix_wire(point, direction, start, pitch, turns, hand == "right")
    return [(mode, helical_sweep(spine, guide, outer_wire(f))) for f in faces]


def rib(bench: Bench, step: dict[str, Any]) -> list[Effect]:
    """A thin wall between an open line and the body it grows towards, half its thickness on either side."""
    if bench.shape is None:
        raise BadInput("there is no body yet for the rib to stand on")
    data = step["profile"]
    plane = plane_of(data, bench.number, bench.scale)
    corners = [plane.at(*p) for p in _line(data, bench)]
    toward = bench.vector(step["direction"])
    if not square(toward, plane.normal):
        raise BadInput("a rib's direction must lie in the plane of its line")
    thick = bench.length(step["thickness"])
    if thick <= 0:
        raise BadInput("the thickness must be positive")
    far = toward * 4 * bench.solid().diagonal
    outline = [*corners, *[c + far for c in reversed(corners)]]
    face = face_of(wire_of([line_edge(a, b) for a, b in zip(outline, [*outline[1:], outline[0]], strict=True)]), [])
    slab = prism(moved(face, -plane.normal * thick / 2), plane.normal * thick)
    middle = (corners[0] + corners[1]) / 2 + toward * 1e-4
    return [("add", piece_touching(difference(slab, bench.shape), middle))]


def _line(data: dict[str, Any], bench: Bench) -> list[tuple[float, float]]:
    points = [(bench.length(x), bench.length(y)) for x, y in data["line"]]
    if len(points) < 2:
        raise BadInput("a rib's line needs at least two points")
    return points
