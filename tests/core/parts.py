"""Random parts for property tests: plates and steps with holes, slots, bosses, cuts and chamfers that do not overlap."""

import math
import random
from typing import Any


class _Plate:
    """Room on the top face of a block, handed out without overlaps."""

    def __init__(self, rng: random.Random, unit: str) -> None:
        self.rng, self.unit = rng, unit
        #: A millimetre in the part's unit.
        self.k = 1.0 if unit == "mm" else 1 / 25.4
        self.width, self.depth, self.height = (self.size(*b) for b in ((60, 160), (40, 100), (12, 50)))
        self.used: list[tuple[float, float, float]] = []

    def size(self, low: float, high: float) -> float:
        """A size between two bounds in mm: half millimetres or sixteenths of an inch."""
        value = self.rng.uniform(low, high)
        return round(value * 2) / 2 if self.unit == "mm" else round(value / 25.4 * 16) / 16

    def free(self, x: float, y: float, radius: float) -> bool:
        """Claim a disc if it lies inside the face and clear of all others."""
        edge = radius + 4 * self.k
        if not (edge < x < self.width - edge and edge < y < self.depth - edge):
            return False
        if any(math.hypot(a - x, b - y) < c + radius + 3 * self.k for a, b, c in self.used):
            return False
        self.used.append((x, y, radius))
        return True

    def spot(self, margin: float) -> tuple[float, float]:
        """Somewhere on the face, `margin` mm from its edges."""
        return self.size(margin, self.width / self.k - margin), self.size(margin, self.depth / self.k - margin)


def _top(plate: _Plate, outer: dict[str, Any], distance: float) -> dict[str, Any]:
    plane = {"origin": [0, 0, plate.height], "x": [1, 0, 0], "normal": [0, 0, 1]}
    return {
        "op": "extrude",
        "profile": {"plane": plane, "outer": outer},
        "distance": distance,
        "mode": "cut" if distance < 0 else "add",
    }


def _holes(plate: _Plate) -> dict[str, Any] | None:
    rng, d = plate.rng, plate.size(4, 12)
    step: dict[str, Any] = {"op": "hole", "axis": [0, 0, 1], "diameter": d}
    radius, seat = d / 2, rng.random()
    if seat < 0.25:
        step["counterbore"], radius = {"diameter": d * 1.6, "depth": plate.height * 0.2}, d * 0.8
    elif seat < 0.4:
        step["countersink"], radius = {"diameter": d * 1.5, "angle": 90}, d * 0.75
    if rng.random() < 0.6:
        step["through"] = True
    else:
        step |= {"depth": plate.height * 0.5, "point": rng.choice([0, 118])}
        if step["depth"] < d * 0.3:
            return None
    spots = [plate.spot(12) for _ in range(rng.randint(1, 4))]
    step["at"] = [[x, y, plate.height] for x, y in spots if plate.free(x, y, radius)]
    return step if step["at"] else None


def random_part(seed: int) -> dict[str, Any]:
    """A recipe of a random part; the same seed gives the same one."""
    rng = random.Random(seed)
    plate = _Plate(rng, rng.choice(["mm", "mm", "in"]))
    k = plate.k
    steps: list[dict[str, Any]] = [
        {
            "op": "extrude",
            "profile": {"plane": "XY", "outer": {"rect": [0, 0, plate.width, plate.depth]}},
            "distance": plate.height,
        }
    ]
    for _ in range(rng.randint(1, 4)):
        made = _holes(plate)
        if made:
            steps.append(made)
    if rng.random() < 0.4:
        x, y = plate.spot(16)
        if plate.free(x, y, 14 * k):
            deep = -plate.height * (0.4 if rng.random() < 0.5 else 3)
            steps.append(_top(plate, {"slot": [x - 6 * k, y, x + 6 * k, y, 6 * k]}, deep))
    if rng.random() < 0.3:
        x, y = plate.spot(14)
        if plate.free(x, y, 9 * k):
            steps.append(_top(plate, {"circle": [x, y, 16 * k]}, 10 * k))
    if rng.random() < 0.3:
        steps.append({"op": "chamfer", "edges": {"near": [[plate.width / 2, 0, plate.height]]}, "leg": 1.5 * k})
    named = [{"name": f"s{n}", **step} for n, step in enumerate(steps)]
    return {"schema": "canonis.recipe/1", "unit": plate.unit, "name": f"part {seed}", "density": 2.7, "steps": named}
