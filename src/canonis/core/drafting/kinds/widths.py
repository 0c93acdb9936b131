"""Widths of recesses and ribs across their two walls, and how deep keyways go, from the far side of their shaft or bore."""

from collections.abc import Iterator
from itertools import combinations

import numpy as np

from canonis.core.drafting.desk import NEAR, Candidate, Desk
from canonis.core.drafting.registry import states
from canonis.core.drafting.seen import lines_of
from canonis.core.features import Piece, floor_walls, form_of
from canonis.core.sheet import View, frame_of_view
from canonis.core.solid import Face, Vec, face_reference, side_reference
from canonis.core.tolerances import SAME, opposed, parallel, runs_along

__all__ = ["keyways", "widths"]

#: A slit is narrower than this share of the side of a square as large as its smaller wall.
_SLIT = 0.5
#: The width of a spline's tooth stands with its note; other widths come after places.
_PRICES = {"spline": 0.29}


@states(150)
def widths(desk: Desk) -> Iterator[Candidate]:
    """The distance of every two opposite walls of a feature, in the views that show both edge-on."""
    for n, (kind, a, b, run) in enumerate((*_pairs(desk), *_slits(desk), *_insides(desk))):
        refs = (face_reference(a), face_reference(b))
        for m, view in enumerate(desk.views):
            # What runs through is read from its end, where its depth is seen too.
            end = run is not None and parallel(run, frame_of_view(view).toward)
            price = _PRICES.get(kind, 1.6) + 1e-4 * n + 0.01 * m - (0.08 if end else 0.0)
            yield from _across(desk, view, kind, (a, b), refs, price)


def _insides(desk: Desk) -> Iterator[tuple[str, Face, Face, Vec | None]]:
    """Two facing walls that rise from a floor between them: the inside of a bracket, the wide part of a tee slot."""
    for f in desk.found.flat:
        floor = desk.solid.faces[f]
        if floor.kind != "plane" or not desk.square(floor.axis):
            continue
        rising = [(a, b) for a, b, _ in floor_walls(desk.solid, floor) if desk.square(a.axis)]
        if len(rising) == 1:
            a, b = rising[0]
            yield "inside", a, b, np.cross(floor.axis, a.axis)


def _slits(desk: Desk) -> Iterator[tuple[str, Face, Face, Vec | None]]:
    """Two flat walls close to each other that run between the same faces: a slit into a bore, say, with no floor."""
    flat = [desk.solid.faces[f] for f in desk.found.flat]
    square = [f for f in flat if f.kind == "plane" and desk.square(f.axis)]
    beside = {f.index: {o for _, o in desk.solid.neighbours[f.index]} for f in square}
    for n, a in enumerate(square):
        for b in square[n + 1 :]:
            if len(beside[a.index] & beside[b.index]) < 2 or not opposed(a.axis, b.axis):
                continue
            gap = float((b.centre - a.centre) @ a.axis)
            if SAME < gap < _SLIT * min(a.area, b.area) ** 0.5:
                ends = [
                    desk.solid.faces[k].axis
                    for k in beside[a.index] & beside[b.index]
                    if desk.solid.faces[k].kind == "plane"
                ]
                along = bool(ends) and all(parallel(e, ends[0]) for e in ends)
                yield "slit", a, b, ends[0] if along else None


def _pairs(desk: Desk) -> Iterator[tuple[str, Face, Face, Vec | None]]:
    """Opposite flat walls of walled features, square to the part, that are not the ends of the part itself."""
    for form in desk.found.forms:
        if not form_of(form.kind).walled:
            continue
        for piece in form.pieces:
            walls = [desk.solid.faces[f] for f in piece.faces]
            flat = [w for w in walls if w.kind == "plane" and desk.square(w.axis)]
            for a, b in combinations(flat, 2):
                k = int(np.argmax(np.abs(a.axis)))
                size = abs(float(a.origin[k] - b.origin[k]))
                if opposed(a.axis, b.axis) and SAME < size < float(desk.solid.size[k]) - SAME:
                    run = np.cross(piece.axis, a.axis) if piece.data.get("open") else None
                    yield form.kind, a, b, run


def _across(
    desk: Desk, view: View, kind: str, walls: tuple[Face, Face], refs: tuple[str, str], price: float
) -> Iterator[Candidate]:
    for k, (direction, way, _) in enumerate(desk.ways(view)):
        if not parallel(walls[0].axis, way):
            continue
        levels = [float(w.origin @ way) for w in walls]
        if not all(_edge_at(desk, view, w, k, level) for w, level in zip(walls, levels, strict=True)):
            continue
        ordered = refs if levels[0] < levels[1] else refs[::-1]
        yield Candidate(price, desk.length(view, direction, ordered, desk.sized(abs(levels[1] - levels[0])), kind))


def _edge_at(desk: Desk, view: View, face: Face, k: int, level: float) -> bool:
    """Whether a visible line of a flat face stands at a level of a view."""
    own = lines_of(desk.scene, view, face.index)
    return any(x.kind == "line" and float(np.abs(x.points[:, k] - level).max()) < NEAR for x in own)


@states(90)
def keyways(desk: Desk) -> Iterator[Candidate]:
    """The floor of a parallel keyway from the far side of its shaft or bore, where a view shows the round of that and the
    floor edge-on; and the length of one with round ends over both."""
    for form in desk.found.forms:
        if form.kind != "keyway" or form.first.data["form"] != "parallel":
            continue
        for piece in form.pieces:
            host, floor = _host(desk, piece), _floor(desk, piece)
            if host is not None and floor is not None:
                yield from _from_far_side(desk, piece, host, floor)
            ends = [f for f in (desk.solid.faces[f] for f in piece.faces) if f.kind == "cylinder"]
            if host is not None and len(ends) == 2:
                yield from _over_ends(desk, host.axis, ends, form.id)


def _host(desk: Desk, piece: Piece) -> Face | None:
    """The cylinder that a keyway is cut into."""
    radius, inner = float(piece.data["shaft_mm"]) / 2, piece.data["on"] == "bore"
    hosts = [
        f
        for f in desk.solid.faces
        if f.kind == "cylinder"
        and f.inner is inner
        and abs(f.radius - radius) < SAME
        and float(np.linalg.norm(np.cross(piece.place - f.origin, f.axis))) < SAME
    ]
    return max(hosts, key=lambda f: f.area, default=None)


def _floor(desk: Desk, piece: Piece) -> Face | None:
    floors = [desk.solid.faces[f] for f in piece.faces]
    return next((f for f in floors if f.kind == "plane" and parallel(f.axis, piece.axis)), None)


def _from_far_side(desk: Desk, piece: Piece, host: Face, floor: Face) -> Iterator[Candidate]:
    # In a shaft the floor looks out, away from the far side; in a bore it looks in, toward it.
    away = -floor.axis if piece.data["on"] == "shaft" else floor.axis
    refs = (side_reference(host, away), face_reference(floor))
    far = float(host.origin @ away) + host.radius
    size = abs(far - float(floor.origin @ away))
    for n, view in enumerate(desk.views):
        for k, (direction, way, _) in enumerate(desk.ways(view)):
            if not parallel(floor.axis, way) or not _edge_at(desk, view, floor, k, float(floor.origin @ way)):
                continue
            if _round_seen(desk, view, host, k, far * float(np.sign(away @ way))):
                yield Candidate(1.5 + 0.01 * n, desk.length(view, direction, refs, desk.sized(size), "keyway"))


def _round_seen(desk: Desk, view: View, host: Face, k: int, level: float) -> bool:
    """Whether the far side of a cylinder is seen at a level: on its circle from the end, or as its outline."""
    lines = lines_of(desk.scene, view, host.index)
    return any(float(np.abs(x.polyline(0.005)[:, k] - level).min()) < NEAR for x in lines)


def _over_ends(desk: Desk, run: Vec, ends: list[Face], name: str) -> Iterator[Candidate]:
    """The length over two round ends, and the place of the one nearer to the datum."""
    low, high = sorted(ends, key=lambda f: float(f.origin @ run))
    size = float((high.origin - low.origin) @ run) + low.radius + high.radius
    refs = (side_reference(low, -run), side_reference(high, run))
    for n, view in enumerate(desk.views):
        true = parallel(low.axis, frame_of_view(view).toward)
        for direction, way, _ in desk.ways(view):
            along = float(way @ run)
            if runs_along(along) and true and desk.arcs_at(view, low.origin, [low.radius]):
                yield Candidate(
                    1.55 + 0.01 * n,
                    desk.length(view, direction, refs if along > 0 else refs[::-1], desk.sized(size), "keyway"),
                )
                near = min(ends, key=lambda f: abs(float((f.origin - desk.datum.point) @ run)))
                yield from desk.locate(view, near.origin, face_reference(near), name, 1.56 + 0.01 * n)
