"""Random parts of two or three features that touch: cut into one another, stand on one another, share an edge.

Each comes with what is to be found of it: kind and size (diameter, width, radius or legs, mm) and how often.
"""

import math
import random
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

__all__ = ["Composition", "Expected", "compose"]


@dataclass(frozen=True)
class Expected:
    """A feature that is there: its kind, its sizes by name, how many."""

    kind: str
    sizes: dict[str, Any]
    count: int = 1


@dataclass
class Composition:
    """A part under construction: its recipe and what is to be found on it."""

    seed: int
    rng: random.Random
    steps: list[dict[str, Any]] = field(default_factory=list)
    expected: list[Expected] = field(default_factory=list)
    names: list[str] = field(default_factory=list)

    def size(self, low: float, high: float) -> float:
        """A size in half millimetres."""
        return self.rng.randint(round(2 * low), round(2 * high)) / 2

    def step(self, op: str, **data: Any) -> None:
        """A step of the recipe."""
        self.steps.append({"name": f"s{len(self.steps)}", "op": op, **data})

    def block(self, rect: list[float], z: float, h: float, mode: str = "add") -> None:
        """A box of material added on or cut into a level."""
        plane = {"origin": [0, 0, z], "x": [1, 0, 0], "normal": [0, 0, 1]}
        self.step("extrude", mode=mode, distance=h, profile={"plane": plane, "outer": {"rect": rect}})

    def drill(self, at: list[float], d: float, axis: list[float] | None = None, **more: Any) -> None:
        """A hole; through unless told otherwise."""
        end = {} if "depth" in more else {"through": True}
        self.step("hole", at=[at], axis=axis or [0, 0, 1], diameter=d, **end, **more)

    def expect(self, kind: str, count: int = 1, **sizes: Any) -> None:
        """Something that is to be found."""
        self.expected.append(Expected(kind, sizes, count))

    def recipe(self) -> dict[str, Any]:
        """The recipe of the part."""
        return {
            "schema": "canonis.recipe/1",
            "unit": "mm",
            "name": f"composition {self.seed}",
            "density": 2.7,
            "steps": self.steps,
        }


#: The host block: 120 × 80 × 30; each feature has a half of it, 60 × 80, from x0.
_H = 30.0
Make = Callable[[Composition, float], None]


def _boss_with_hole(c: Composition, x0: float) -> None:
    x, y, d, h = x0 + 30, c.size(35, 45), c.size(20, 30), c.size(8, 20)
    plane = {"origin": [0, 0, _H], "x": [1, 0, 0], "normal": [0, 0, 1]}
    c.step("extrude", distance=h, profile={"plane": plane, "outer": {"circle": [x, y, d]}})
    c.expect("boss", diameter_mm=d, height_mm=h)
    bore = c.size(5, 10)
    if c.rng.random() < 0.5:
        c.drill([x, y, _H + h], bore)
        c.expect("hole", diameter_mm=bore, through=True)
    else:
        depth = c.size(10, h + 15)
        c.drill([x, y, _H + h], bore, depth=depth, point=118)
        c.expect("hole", diameter_mm=bore, through=False, depth_mm=depth)
    if c.rng.random() < 0.5:
        r = c.size(2, 4)
        c.step("round", edges={"near": [[x - d / 2, y, _H]]}, radius=r)
        c.expect("fillet", radius_mm=r)
    elif c.rng.random() < 0.5:
        leg = c.size(1, 2)
        c.step("chamfer", edges={"near": [[x - d / 2, y, _H + h]]}, leg=leg)
        c.expect("chamfer", legs_mm=leg)


def _pocket_with_hole(c: Composition, x0: float) -> None:
    w, length, deep = c.size(20, 34), c.size(30, 50), c.size(6, 16)
    x, y = x0 + 30 - w / 2, 40 - length / 2
    c.block([x, y, w, length], _H - deep, deep, "cut")
    c.expect("pocket", depth_mm=deep)
    if c.rng.random() < 0.6:
        r = c.size(3, 6)
        c.step("round", edges={"near": [[a, b, _H - deep / 2] for a in (x, x + w) for b in (y, y + length)]}, radius=r)
        c.expect("corner", corner_radius_mm=r)
    bore = c.size(5, 9)
    seat: dict[str, Any] = {"counterbore": {"diameter": bore * 1.8, "depth": 3.0}} if c.rng.random() < 0.5 else {}
    c.drill([x0 + 30, 40, _H - deep], bore, **seat)
    sizes: dict[str, Any] = {"counterbore": bore * 1.8} if seat else {}
    c.expect("hole", diameter_mm=bore, through=True, **sizes)


def _channel_over_hole(c: Composition, x0: float) -> None:
    w, deep, bore = c.size(10, 16), c.size(5, 12), c.size(4, 8)
    c.drill([x0 + 30, 40, _H], bore)
    c.block([x0 + 30 - w / 2, -1, w, 82], _H - deep, deep + 1, "cut")
    c.expect("slot", width_mm=w, depth_mm=deep)
    c.expect("hole", diameter_mm=bore, through=True)


def _seat_cut_by_slot(c: Composition, x0: float) -> None:
    bore, wide, deep = c.size(6, 9), c.size(16, 20), c.size(4, 7)
    c.drill([x0 + 30, 40, _H], bore, counterbore={"diameter": wide, "depth": deep})
    w = c.size(4, bore - 1)
    c.block([x0 + 30 - w / 2, 40, w, 41], _H - 3, 4, "cut")
    c.expect("hole", diameter_mm=bore, through=True, counterbore=wide)
    c.expect("slot", width_mm=w)


def _slopes(c: Composition, x0: float) -> None:
    """Two slopes with a flat between them at the front edge: no bevel anywhere."""
    run, drop = c.size(12, 20), c.size(5, 9)
    flat = c.size(4, 8)
    points = [
        [0, 31],
        [-1, 31],
        [-1, 30 - 2 * drop],
        [0, 30 - 2 * drop],
        [run, 30 - drop],
        [run + flat, 30 - drop],
        [2 * run + flat, 30],
        [2 * run + flat, 31],
    ]
    plane = {"origin": [x0 + 10, 0, 0], "x": [0, 1, 0], "normal": [1, 0, 0]}
    c.step("extrude", mode="cut", distance=40, profile={"plane": plane, "outer": {"polygon": points}})
    bore = c.size(4, 7)
    c.drill([x0 + 30, 70, _H], bore)
    c.expect("hole", diameter_mm=bore, through=True)


def _rib_to_a_wall(c: Composition, x0: float) -> None:
    """A wall on the block and a rib that stays it."""
    t, h = c.size(6, 10), c.size(25, 35)
    c.block([x0 + 5, 80 - t, 50, t], _H, h)
    thick = c.size(4, 6)
    run = 30.0
    points = [[80 - t, _H], [80 - t - run, _H], [80 - t, _H + h - 5]]
    plane = {"origin": [x0 + 30 - thick / 2, 0, 0], "x": [0, 1, 0], "normal": [1, 0, 0]}
    c.step("extrude", distance=thick, profile={"plane": plane, "outer": {"polygon": points}})
    c.expect("rib", thickness_mm=thick)
    bore = c.size(5, 8)
    c.drill([x0 + 15, 80 - t, _H + 14], bore, [0, -1, 0], depth=t, point=0)
    c.expect("hole", diameter_mm=bore)


def _blind_slot_with_holes(c: Composition, x0: float) -> None:
    w, run, deep = c.size(10, 14), c.size(20, 30), c.size(4, 10)
    plane = {"origin": [0, 0, _H - deep], "x": [1, 0, 0], "normal": [0, 0, 1]}
    outer = {"slot": [x0 + 30, 40 - run / 2, x0 + 30, 40 + run / 2, w]}
    c.step("extrude", mode="cut", distance=deep, profile={"plane": plane, "outer": outer})
    bore = c.size(4, w - 4)
    c.drill([x0 + 30, 40 - run / 2, _H - deep], bore)
    c.expect("slot", width_mm=w, depth_mm=deep)
    c.expect("hole", diameter_mm=bore, through=True)


def _sink_on_edge_chamfer(c: Composition, x0: float) -> None:
    """A bevelled long edge beside a countersunk hole."""
    leg, bore = c.size(2, 5), c.size(5, 8)
    c.step("chamfer", edges={"near": [[x0 + 30, 0, _H]]}, leg=leg)
    c.drill([x0 + 30, 22, _H], bore, countersink={"diameter": bore * 2, "angle": 90})
    c.expect("chamfer", legs_mm=leg)
    c.expect("hole", diameter_mm=bore, through=True, countersink=bore * 2)


def _shelled_box(c: Composition, x0: float) -> None:
    """A box with rounds inside and outside, of one wall: no sheet was bent there."""
    w, d, h, t = 40.0, 50.0, c.size(15, 25), c.size(2, 4)
    r = c.size(5, 8)
    x, y = x0 + 10, 15.0

    def path(inset: float) -> dict[str, Any]:
        a, b, e, f, q = x + inset, y + inset, x + w - inset, y + d - inset, r - inset
        return {
            "path": [
                ["M", a + q, b],
                ["L", e - q, b],
                ["A", e, b + q, q, "ccw"],
                ["L", e, f - q],
                ["A", e - q, f, q, "ccw"],
                ["L", a + q, f],
                ["A", a, f - q, q, "ccw"],
                ["L", a, b + q],
                ["A", a + q, b, q, "ccw"],
                ["Z"],
            ]
        }

    plane = {"origin": [0, 0, _H], "x": [1, 0, 0], "normal": [0, 0, 1]}
    c.step("extrude", distance=h, profile={"plane": plane, "outer": path(0.0), "holes": [path(t)]})
    c.expect("fillet", radius_mm=r)
    c.expect("fillet", radius_mm=r - t)
    c.expect("boss")
    bore = c.size(4, 6)
    c.drill([x0 + 30, 40, _H], bore)
    c.expect("hole", diameter_mm=bore, through=True)


def _rounded_edge_with_slots(c: Composition, x0: float) -> None:
    """A rounded edge that a slot cuts in two: one round, two faces."""
    r, w = c.size(3, 6), c.size(5, 8)
    c.step("round", edges={"near": [[60, 0, _H]]}, radius=r)
    c.block([x0 + 30 - w / 2, -1, w, 15], _H - 12, 13, "cut")
    c.expect("fillet", radius_mm=r)
    c.expect("slot", width_mm=w)


def _arc_of_holes(c: Composition, x0: float) -> None:
    """Holes on an arc at angles that are not equal."""
    radius, bore = c.size(18, 24), c.size(4, 6)
    turns = sorted(c.rng.sample([20, 55, 80, 120, 150, 200, 245, 300], 3))
    for a in turns:
        x, y = x0 + 30 + radius * math.cos(math.radians(a)), 40 + radius * math.sin(math.radians(a))
        c.drill([x, y, _H], bore)
    hub = c.size(10, 14)
    c.drill([x0 + 30, 40, _H], hub)
    c.expect("hole", diameter_mm=bore, through=True)
    c.expect("hole", diameter_mm=hub, through=True)


def _hub_cut_at_its_side(c: Composition, x0: float) -> None:
    """A bored hub that a flat cuts away on one side, near its bore."""
    d, bore, h = c.size(30, 36), c.size(10, 14), c.size(12, 20)
    plane = {"origin": [0, 0, _H], "x": [1, 0, 0], "normal": [0, 0, 1]}
    c.step("extrude", distance=h, profile={"plane": plane, "outer": {"circle": [x0 + 30, 40, d]}})
    c.block([x0 + 30 + bore / 2 + 3, 20, 30, 40], _H, h + 1, "cut")
    c.drill([x0 + 30, 40, _H + h], bore)
    c.expect("hole", diameter_mm=bore, through=True)
    c.expect("boss")


def _unequal_bevels(c: Composition, x0: float) -> None:
    """Two bevels of different legs on edges that meet, and a hole near them."""
    a, b, leg = c.size(2, 3), c.size(4, 6), c.size(1, 2)
    c.step("chamfer", edges={"near": [[x0 + 30, 80, _H]]}, legs=[b, a])
    c.expect("unequal", legs_mm=b)
    x = 0.0 if x0 < 30 else 120.0
    c.step("chamfer", edges={"near": [[x, 40, _H]]}, leg=leg)
    c.expect("chamfer", legs_mm=leg)
    bore = c.size(4, 7)
    c.drill([x0 + 30, 60, _H], bore)
    c.expect("hole", diameter_mm=bore, through=True)


def _askew_hole(c: Composition, x0: float) -> None:
    """A hole that leans on the face it is drilled from, with a seat or without, and a square one beside it."""
    lean, bore = math.radians(c.rng.randint(12, 40)), c.size(4, 7)
    way = c.rng.choice([(1, 0), (-1, 0), (0, 1), (0, -1)])
    axis = [math.sin(lean) * way[0], math.sin(lean) * way[1], math.cos(lean)]
    seat: dict[str, Any] = {"counterbore": {"diameter": bore + 5, "depth": 4.0}} if c.rng.random() < 0.4 else {}
    end: dict[str, Any] = {"depth": c.size(12, 18)} if c.rng.random() < 0.6 else {}
    c.drill([x0 + 30, 40, _H], bore, axis, **seat, **end)
    sizes: dict[str, Any] = {"counterbore": bore + 5} if seat else {}
    c.expect("hole", diameter_mm=bore, through=not end, **sizes)
    other = c.size(8, 10)
    c.drill([x0 + 12, 12, _H], other)
    c.expect("hole", diameter_mm=other, through=True)


def _filleted_seat(c: Composition, x0: float) -> None:
    """A counterbore with a fillet on its floor, or with the edge of the bore in it broken."""
    bore, wide, deep, r = c.size(8, 12), c.size(24, 30), c.size(6, 12), c.size(1, 2)
    c.drill([x0 + 30, 40, _H], bore, counterbore={"diameter": wide, "depth": deep})
    c.expect("hole", diameter_mm=bore, through=True, counterbore=wide)
    # The fillet of the floor, or the broken edge of the bore.
    at = wide / 2 if c.rng.random() < 0.6 else bore / 2
    c.step("round", edges={"near": [[x0 + 30 - at, 40, _H - deep]]}, radius=r)
    c.expect("fillet", radius_mm=r)


def _tee_slot(c: Composition, x0: float) -> None:
    """A slot that is wider below, across the block, and a hole into it."""
    neck, wide, low, high = c.size(8, 12), c.size(18, 26), c.size(5, 8), c.size(6, 9)
    c.block([x0 + 30 - neck / 2, -1, neck, 82], _H - high, high + 1, "cut")
    c.block([x0 + 30 - wide / 2, -1, wide, 82], _H - high - low, low, "cut")
    bore = c.size(4, neck - 3)
    c.drill([x0 + 30, 40, _H - high - low], bore)
    c.expect("hole", diameter_mm=bore, through=True)


def _boss_with_a_cross_hole(c: Composition, x0: float) -> None:
    """A round or tapered boss that is drilled from its side, with a seat or without."""
    d, h, bore = c.size(26, 34), c.size(20, 28), c.size(4, 6)
    plane = {"origin": [0, 0, _H], "x": [1, 0, 0], "normal": [0, 0, 1]}
    taper = c.rng.choice([0, 0, -2, -4])
    more = {"draft": taper} if taper else {}
    c.step("extrude", distance=h, profile={"plane": plane, "outer": {"circle": [x0 + 30, 40, d]}}, **more)
    up = h / 2
    # Where the axis of the hole meets the wall.
    wall = 40 - d / 2 + up * math.tan(math.radians(-taper))
    pick = c.rng.random()
    seat: dict[str, Any] = {}
    sizes: dict[str, Any] = {}
    if pick > 0.7:
        seat, sizes = {"countersink": {"diameter": bore * 2, "angle": 90}}, {"countersink": bore * 2}
    elif pick > 0.4:
        seat, sizes = {"counterbore": {"diameter": bore + 4, "depth": 4.0}}, {"counterbore": bore + 4}
    end: dict[str, Any] = {"depth": c.size(9, 11)} if c.rng.random() < 0.5 else {}
    c.drill([x0 + 30, wall, _H + up], bore, [0, -1, 0], **seat, **end)
    c.expect("hole", diameter_mm=bore, through=not end, **sizes)
    c.expect("boss", diameter_mm=d)


def _turn(c: Composition, outline: list[list[float]]) -> None:
    """A body turned about the x axis from its outline, (x, radius) corner by corner."""
    axis = {"point": [0, 0, 0], "direction": [1, 0, 0]}
    c.step("revolve", angle=360, axis=axis, profile={"plane": "XY", "outer": {"polygon": outline}})


def _bores(c: Composition) -> None:
    """A turned body with a bore: a groove inside, a groove in its face, or a cone at the bottom."""
    d, l, bore = c.size(50, 70), c.size(40, 60), c.size(16, 24)
    outer = [[0.0, bore / 2], [0.0, d / 2], [l, d / 2], [l, bore / 2]]
    pick = c.rng.random()
    w = c.size(3, 5)
    if pick < 0.35:
        c.names.append("groove in a bore")
        deep, at = c.size(1.5, 3), l / 2
        outer += [[at + w, bore / 2], [at + w, bore / 2 + deep], [at, bore / 2 + deep], [at, bore / 2]]
        c.expect("hole", diameter_mm=bore, through=True)
        c.expect("groove", width_mm=w, diameter_mm=bore + 2 * deep)
    elif pick < 0.7:
        c.names.append("groove in a face")
        deep, inner = c.size(3, 6), bore / 2 + 4
        outer = [
            [0.0, bore / 2],
            [0.0, inner],
            [deep, inner],
            [deep, inner + w],
            [0.0, inner + w],
            [0.0, d / 2],
            [l, d / 2],
            [l, bore / 2],
        ]
        c.expect("hole", diameter_mm=bore, through=True)
        c.expect("groove", width_mm=w)
    else:
        c.names.append("bore with a cone bottom")
        deep = c.size(20, 30)
        outer = [[0.0, bore / 2], [0.0, d / 2], [l, d / 2], [l, 0.0], [deep + bore / 2, 0.0], [deep, bore / 2]]
        c.expect("hole", diameter_mm=bore, through=False, depth_mm=deep)
    _turn(c, outer)
    c.expect("shaft", diameter_mm=d)
    cross = c.size(4, 6)
    c.drill(
        [l * 0.75, 0, d / 2], cross, depth=(d - bore) / 2 - 3 if c.rng.random() < 0.5 else (d - bore) / 2 + 1, point=0
    )
    c.expect("hole", diameter_mm=cross)


_FLAT: tuple[tuple[str, Make], ...] = (
    ("boss with a hole", _boss_with_hole), ("pocket with a hole", _pocket_with_hole), ("channel over a hole", _channel_over_hole),
    ("seat cut by a slot", _seat_cut_by_slot), ("slopes with a flat", _slopes), ("rib to a wall", _rib_to_a_wall),
    ("blind slot with a hole", _blind_slot_with_holes), ("sink beside a bevel", _sink_on_edge_chamfer), ("shelled box", _shelled_box), ("rounded edge cut by a slot", _rounded_edge_with_slots),
    ("askew hole", _askew_hole), ("filleted seat", _filleted_seat), ("tee slot", _tee_slot), ("boss with a cross hole", _boss_with_a_cross_hole),
    ("arc of holes", _arc_of_holes), ("hub cut at its side", _hub_cut_at_its_side), ("unequal bevels", _unequal_bevels),
)  # fmt: skip


def _turned(c: Composition) -> None:
    """A stepped shaft with a groove or an undercut at its shoulder, a keyway, a bevelled end, a bore with a groove."""
    d1, d2 = c.size(40, 56), c.size(24, 34)
    l1, l2 = c.size(30, 50), c.size(40, 60)
    points = [[0.0, 0.0], [0.0, d1 / 2], [l1, d1 / 2]]
    w, floor = c.size(2, 4), d2 - 2 * c.size(1, 2)
    if c.rng.random() < 0.5:
        points += [[l1, floor / 2], [l1 + w, floor / 2], [l1 + w, d2 / 2]]
        c.names.append("undercut")
        c.expect("groove", width_mm=w, diameter_mm=floor)
    else:
        at = l1 + c.size(10, 15)
        points += [[l1, d2 / 2], [at, d2 / 2], [at, floor / 2], [at + w, floor / 2], [at + w, d2 / 2]]
        c.names.append("groove")
        c.expect("groove", width_mm=w, diameter_mm=floor)
    leg = c.size(1, 2)
    if c.rng.random() < 0.6:
        points += [[l1 + l2 - leg, d2 / 2], [l1 + l2, d2 / 2 - leg]]
        c.expect("chamfer", legs_mm=leg)
    else:
        points += [[l1 + l2, d2 / 2]]
    points += [[l1 + l2, 0.0]]
    _turn(c, points)
    c.expect("shaft", diameter_mm=d1)
    c.expect("shaft", diameter_mm=d2)
    pick = c.rng.random()
    if pick < 0.4:
        bore, deep = c.size(8, 14), c.size(15, 25)
        c.drill([0, 0, 0], bore, [-1, 0, 0], depth=deep, point=118)
        c.names.append("blind bore")
        c.expect("hole", diameter_mm=bore, through=False, depth_mm=deep)
    elif pick < 0.7:
        key, run, deep = c.size(5, 8), c.size(14, 20), c.size(3, 4)
        mid = l1 + l2 - 14 - run / 2 - key / 2
        if mid - run / 2 - key / 2 > l1 + w + 18:
            plane = {"origin": [0, 0, d2 / 2 - deep], "x": [1, 0, 0], "normal": [0, 0, 1]}
            outer = {"slot": [mid - run / 2, 0, mid + run / 2, 0, key]}
            c.step("extrude", mode="cut", distance=deep + 5, profile={"plane": plane, "outer": outer})
            c.names.append("keyway")
            c.expect("keyway", width_mm=key)
    else:
        bore = c.size(5, 8)
        c.drill([l1 / 2, 0, d1 / 2], bore)
        c.names.append("cross hole")
        c.expect("hole", diameter_mm=bore, through=True)


def compose(seed: int) -> Composition:
    """The composition of a seed; the same one each time."""
    rng = random.Random(seed)
    c = Composition(seed, rng)
    if rng.random() < 0.35:
        (_turned if rng.random() < 0.5 else _bores)(c)
        return c
    c.block([0, 0, 120, 80], 0, _H)
    picked = rng.sample(_FLAT, 2)
    while {name for name, _ in picked} >= {"sink beside a bevel", "rounded edge cut by a slot"}:
        # Both would take the same edge.
        picked = rng.sample(_FLAT, 2)
    for k, (name, make) in enumerate(picked):
        c.names.append(name)
        make(c, 60.0 * k)
    return c
