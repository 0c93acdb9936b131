"""A bore that rays look into: its axis, and how far its walls stand off at each height."""

from dataclasses import dataclass

import numpy as np

from canonis.core.solid import Rays, Solid, Vec, fit_cylinder

__all__ = ["Bore", "GaugedSeat", "closed_in", "opens_out"]


@dataclass(frozen=True)
class GaugedSeat:
    """A seat as the rays met it: cylinder (diameter, depth) or cone (diameter, included angle, radial leg)."""

    kind: str
    diameter: float
    depth: float
    angle: float
    leg: float


class Bore:
    def __init__(self, solid: Solid, face: int) -> None:
        self.solid = solid
        self.point, self.axis, self.radius, self.length = fit_cylinder(solid, face)
        # All along the axis, where the bore may go on behind what crosses it; beside it, as far as seats reach.
        self.rays = Rays(solid, self.point, np.abs(self.axis) * solid.diagonal + self.length + 6 * self.radius + 1)
        self.reach = 2 * solid.diagonal
        u = np.cross(self.axis, np.eye(3)[int(np.argmin(np.abs(self.axis)))])
        self.u = u / np.linalg.norm(u)
        self.w = np.cross(self.axis, self.u)
        # Opposite pairs: their mean is the level at the axis where a mouth opens to a sloped face.
        self.azimuths = [0.35 + k * np.pi / 2 for k in range(4)]

    def spoke(self, angle: float) -> Vec:
        return np.asarray(self.u * np.cos(angle) + self.w * np.sin(angle))

    def walls(self, z: float) -> list[float]:
        """Radius of the wall to each side where there is one, at `z` from the middle; none where it is open to two."""
        met = [self.rays.hits(self.point + self.axis * z, self.spoke(a), self.reach) for a in self.azimuths]
        found = [hits[0] for hits in met if hits]
        # A wall that another cut opens on one side is still a wall.
        return found if len(found) >= len(self.azimuths) - 1 else []

    def wall(self, z: float) -> float | None:
        """Radius of the wall around the axis at `z` from the middle; None where it is open to two sides."""
        found = self.walls(z)
        return float(np.median(found)) if found else None

    def round_at(self, z: float, radius: float) -> bool:
        """Whether a wall of this radius at `z` is round: between the usual rays it stands no farther off. The walls of a
        square pocket are met at one distance by four rays at right angles."""
        met = [self.rays.hits(self.point + self.axis * z, self.spoke(a + np.pi / 8), self.reach) for a in self.azimuths]
        found = [hits[0] for hits in met if hits]
        return 2 * sum(abs(w - radius) < 1e-3 * max(1.0, radius) for w in found) >= len(found)

    def follows(self, z: float, radius: float, off: float) -> bool:
        """Whether the wall at `z` has this radius; the seats of neighbours may have cut it away to two sides."""
        return 2 * sum(abs(w - radius) < off for w in self.walls(z)) >= len(self.azimuths)


def closed_in(bore: Bore, z: float) -> bool:
    """Whether the bore's own wall surrounds the axis at `z`, not that of a wider space it opens into."""
    met = 0
    for k in range(8):
        hits = bore.rays.hits(bore.point + bore.axis * z, bore.spoke(0.35 + k * np.pi / 4), bore.reach)
        met += bool(hits) and hits[0] < bore.radius * 1.001
    return met >= 5


def opens_out(bore: Bore, sense: float, start: float, end: float) -> bool:
    """Whether a bore ends in a wider space with a bent floor, the inside of a ball say: nothing there is as wide as it."""
    met = [bore.walls(sense * (start + (end - start) * share)) for share in (0.15, 0.4, 0.6)]
    wider = [bool(walls) and min(walls) > bore.radius * 1.01 for walls in met]
    alike = [bool(walls) and abs(float(np.median(walls)) - bore.radius) < 1e-3 * bore.radius for walls in met]
    return all(wider[:2]) and not any(alike)
