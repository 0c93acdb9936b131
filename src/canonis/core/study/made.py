"""What a step of a model made, as the plain observables that the catalogue of slips judges."""

import math
from collections.abc import Iterator
from itertools import permutations

import numpy as np

from canonis.core.features import Blend, Feature, Hole, HoleGroup
from canonis.core.slips import Bore, BoreGroup, BoreSeat, Edges, Figures, ModelState
from canonis.core.solid import Rays, Solid, Vec
from canonis.core.source import Checkpoint
from canonis.core.tolerances import NOISE

__all__ = ["bore_of", "figures_of", "state_of"]


def figures_of(checkpoint: Checkpoint) -> Figures:
    """What a checkpoint states."""
    return Figures(
        checkpoint.mass_g,
        checkpoint.mass_half,
        checkpoint.volume_mm3,
        checkpoint.volume_half,
        checkpoint.centre_mm,
        checkpoint.centre_half,
    )


def bore_of(hole: Hole, way_out: float | None = None) -> Bore:
    """A hole as the catalogue sees it."""
    near, far = (
        tuple(BoreSeat(s.kind, s.diameter, s.depth, s.angle) for s in seats) for seats in (hole.seats, hole.far_seats)
    )
    return Bore(hole.start, hole.axis, hole.diameter, hole.depth, hole.length, hole.point_angle, near, far, way_out)


def state_of(name: str, solid: Solid, found: Feature, added: frozenset[str] | None = None) -> ModelState:
    """A model state with the holes, rounds and chamfers of `added` in it (labels), of none when it is not given."""
    new = added or frozenset()
    bores = tuple(_group(solid, g) for g in found.holes if g.id in new)
    edges = tuple(e for b in found.blends if b.id in new for e in _edges(solid, b))
    return ModelState(name, solid.mass.volume, solid.mass.centre, solid.box, bores, edges, bool(new))


def _group(solid: Solid, group: HoleGroup) -> BoreGroup:
    way_out = _way_out(solid, group.first)
    return BoreGroup(group.id, tuple(bore_of(h, way_out) for h in group.holes), tuple(_free_places(group)))


def _way_out(solid: Solid, hole: Hole) -> float | None:
    """Depth at which a blind hole would come out of the part, from its start face, mm."""
    if hole.depth is None:
        return None
    rays = Rays(solid, hole.start, 2 * solid.diagonal)
    tip = hole.depth + (hole.diameter / 2 / math.tan(math.radians(hole.point_angle / 2)) if hole.point_angle else 0.0)
    hits = [d for d in rays.hits(hole.start - hole.axis * (tip + 1e-3), -hole.axis, 2 * solid.diagonal) if d > NOISE]
    return tip + 1e-3 + hits[-1] if hits else None


def _edges(solid: Solid, blend: Blend) -> Iterator[Edges]:
    volume, moment = 0.0, np.zeros(3)
    for f in blend.faces:
        face = solid.faces[f]
        length = max((solid.edges[e].length for e in face.edges if solid.edges[e].kind == "line"), default=0.0)
        if face.kind not in ("cylinder", "plane") or not length:
            continue
        section = (1 - math.pi / 4) * blend.size**2 if blend.kind == "fillet" else blend.size * blend.size_b / 2
        v = section * length * (1 if blend.convex else -1)
        volume, moment = volume + v, moment + v * face.centre
    if volume:
        word = "rounds" if blend.kind == "fillet" else "chamfers"
        yield Edges(blend.id, word, blend.size, volume, moment)


def _free_places(group: HoleGroup) -> list[Vec]:
    """Places of a ring, a row or a grid that its members leave free, and the rectangle's fourth corner."""
    at = [h.start for h in group.holes]
    data = group.pattern.data if group.pattern else {}
    out: list[Vec] = []
    if data.get("missing") and "centre_mm" in data:
        centre = np.array(data["centre_mm"])
        slots = len(at) + int(data["missing"])
        arm = at[0] - centre
        for k in range(slots):
            turn = 2 * math.pi * k / slots
            place = centre + arm * math.cos(turn) + np.cross(group.first.axis, arm) * math.sin(turn)
            if not any(np.linalg.norm(place - p) < 1e-2 for p in at):
                out.append(place)
    if 3 <= len(at) <= _MOST_CORNERS:
        seen = {tuple(np.round(p, 3)) for p in at}
        for a, b, c in permutations(at, 3):
            square = abs(float((b - a) @ (c - a))) < 1e-3 * max(
                1.0, float(np.linalg.norm(b - a) * np.linalg.norm(c - a))
            )
            place = b + c - a
            if square and tuple(np.round(place, 3)) not in seen and len(out) < _MOST_PLACES:
                seen.add(tuple(np.round(place, 3)))
                out.append(place)
    return out


#: Fourth corners are looked for among this many members at most, and this many free places tried.
_MOST_CORNERS, _MOST_PLACES = 40, 12
