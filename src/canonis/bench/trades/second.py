"""Fifty others: rounds and drafts of castings and mouldings, holes that meet, leaning faces, screws with their drives."""

import math
from collections.abc import Callable
from typing import Any

from canonis.bench.trades.workshop import (
    Edge,
    Hand,
    X,
    Y,
    Z,
    ball,
    bar,
    box,
    chamfered,
    common,
    cone,
    cut,
    fused,
    hexagon,
    prism,
    ring,
    rod,
    rounded,
    row,
    slot,
    turned,
    turned_about,
)

__all__ = ["HAND"]

L, D, R, A, C = "length", "diameter", "radius", "angle", "count"
HAND = Hand()


def upright(e: Edge) -> bool:
    return e.straight and e.way[2] > 0.9


def at_level(z: float) -> Callable[[Edge], bool]:
    return lambda e: abs(e.z - z) < 1e-3


def corners(w: float, d: float) -> Callable[[Edge], bool]:
    """The upright edges at the corners of a block from the origin."""
    return lambda e: upright(e) and min(abs(e.x), abs(e.x - w)) < 1e-3 and min(abs(e.y), abs(e.y - d)) < 1e-3


# Castings with rounds


@HAND.part(("corner", R, 10), ("plate", L, 100), ("boss", D, 30), ("fillet", R, 4), ("bore", D, 16))
def boss_plate() -> Any:
    body = rounded(box(100, 70, 12), 10, corners(100, 70))
    body = rounded(
        fused(body, rod(30, 20, (50, 35, 12))),
        4,
        lambda e: at_level(12)(e) and not e.straight and abs(e.x - 50) < 16 and abs(e.y - 35) < 16,
    )
    return cut(body, rod(16, 32, (50, 35, 0)), *[rod(9, 12, (x, y, 0)) for x in (12, 88) for y in (12, 58)])


@HAND.part(("width", L, 80), ("fillet", R, 6), ("web", L, 10), ("bore", D, 20), ("height", L, 60))
def rounded_angle() -> Any:
    body = fused(box(80, 50, 10), box(80, 10, 60))
    body = rounded(body, 6, lambda e: e.straight and e.way[0] > 0.9 and abs(e.y - 10) < 0.01 and abs(e.z - 10) < 0.01)
    body = rounded(body, 12, lambda e: e.straight and e.way[1] > 0.9 and abs(e.z - 60) < 0.01)
    return cut(body, rod(20, 10, (40, 0, 38), Y), *[rod(8, 10, (x, 34, 0)) for x in (15, 65)])


@HAND.part(("arm", L, 80), ("hub", D, 36), ("end", D, 22), ("thick", L, 12))
def cast_lever() -> Any:
    body = fused(rod(36, 24, (0, 0, -6)), rod(22, 12, (80, 0, 0)), prism([(0, -9), (80, -6), (80, 6), (0, 9)], 12))
    body = cut(body, rod(18, 24, (0, 0, -6)), rod(10, 12, (80, 0, 0)))
    return chamfered(body, 1, lambda e: not e.straight and abs(e.z - 18) < 0.01 and math.hypot(e.x, e.y) < 10)


@HAND.part(("bore", D, 40), ("height", L, 55), ("bolt", D, 10), ("gusset", L, 8))
def bearing_foot() -> Any:
    body = fused(box(120, 50, 14), rod(70, 50, (60, 0, 55), Y), box(70, 50, 41, (25, 0, 14)))
    body = cut(body, rod(40, 50, (60, 0, 55), Y), rod(52, 8, (60, 0, 55), Y), box(60, 50, 5, (30, 0, 0)))
    return cut(body, *[rod(10, 14, (x, 25, 0)) for x in (12, 108)], *[rod(18, 3, (x, 25, 11)) for x in (12, 108)])


@HAND.part(("wall", L, 5), ("ear", R, 8), ("bolt", D, 6.5))
def gear_cover() -> Any:
    body = fused(rod(60, 20, (30, 30, 0)), rod(44, 20, (70, 30, 0)), box(40, 44, 20, (30, 8, 0)))
    ears = [rod(16, 6, (x, y, 0)) for x, y in ((4, 52), (4, 8), (92, 46), (92, 14))]
    body = fused(body, *ears)
    body = cut(body, rod(50, 15, (30, 30, 0)), rod(34, 15, (70, 30, 0)), box(40, 34, 15, (30, 13, 0)))
    return cut(
        body, *[rod(6.5, 20, (x, y, 0)) for x, y in ((4, 52), (4, 8), (92, 46), (92, 14))], rod(16, 20, (30, 30, 0))
    )


@HAND.part(("block", L, 70), ("spigot", D, 30), ("port", D, 12), ("drain", D, 6), ("chamfer", L, 2))
def sump_block() -> Any:
    body = fused(box(70, 50, 40), rod(30, 15, (35, 25, 40)))
    body = cut(body, rod(18, 45, (35, 25, 10)), rod(12, 35, (0, 25, 20), X), rod(6, 25, (35, 0, 14), Y))
    return chamfered(body, 2, lambda e: e.straight and abs(e.z - 40) < 0.01)


@HAND.part(("base", D, 80), ("draft", A, 5), ("height", L, 40), ("bore", D, 25))
def drafted_pedestal() -> Any:
    body = fused(rod(80, 10), cone(60, 60 - 2 * 30 * math.tan(math.radians(5)), 30, (0, 0, 10)))
    return cut(body, rod(25, 40), ring(rod(8, 10, (35, 0, 0)), 4), ring(box(6, 12, 10, (34, -6, 0)), 1))


@HAND.part(("gap", L, 24), ("pin", D, 14), ("shank", D, 28), ("round", R, 20))
def yoke() -> Any:
    body = fused(box(50, 44, 40, (0, -22, -20)), rod(40, 44, (50, -22, 0), Y), rod(28, 40, (-40, 0, 0), X))
    body = cut(body, box(60, 24, 40, (15, -12, -20)), rod(14, 44, (50, -22, 0), Y), rod(12, 35, (-40, 0, 0), X))
    return cut(body, rod(5, 28, (-25, -14, 0), Y))


@HAND.part(("flange", L, 80), ("pilot", D, 50), ("bolt", D, 9), ("shaft", D, 20))
def motor_flange() -> Any:
    body = rounded(
        box(80, 80, 14, (-40, -40, 0)),
        8,
        lambda e: upright(e) and abs(abs(e.x) - 40) < 0.01 and abs(abs(e.y) - 40) < 0.01,
    )
    body = fused(body, rod(50, 4, (0, 0, 14)))
    body = cut(body, rod(20, 18), rod(32, 8), *[rod(9, 14, (sx * 28, sy * 28, 0)) for sx in (-1, 1) for sy in (-1, 1)])
    return cut(body, *[rod(15, 6, (sx * 28, sy * 28, 0)) for sx in (-1, 1) for sy in (-1, 1)])


@HAND.part(("wheel", D, 120), ("rim", L, 12), ("spokes", C, 5), ("hub", D, 32), ("bore", D, 16))
def hand_wheel() -> Any:
    body = turned([(16, 0), (32, 0), (32, 24), (16, 24)])
    rim = turned([(96, 6), (120, 6), (120, 18), (96, 18)])
    spokes = ring(box(36, 10, 8, (14, -5, 8)), 5)
    return cut(fused(body, rim, spokes), rod(16, 24), rod(8, 20, (54, 0, 6)), box(5, 3, 24, (6, -1.5, 0)))


# Pumps, valves, hydraulics


@HAND.part(("ports", C, 3), ("gallery", D, 10), ("block", L, 90), ("port", D, 16), ("spot", D, 24))
def gallery_block() -> Any:
    body = cut(
        box(90, 40, 35),
        rod(10, 80, (0, 20, 14), X),
        *row(rod(16, 12, (20, 20, 23)), 3, (25, 0, 0)),
        *row(rod(8, 20, (20, 20, 10)), 3, (25, 0, 0)),
    )
    body = cut(
        body, *row(rod(24, 1, (20, 20, 34)), 3, (25, 0, 0)), *[rod(7, 35, (x, y, 0)) for x in (7, 83) for y in (7, 33)]
    )
    return body


@HAND.part(("cone", A, 90), ("stem", D, 8), ("head", D, 20), ("length", L, 60), ("groove", L, 3))
def poppet() -> Any:
    return turned([(0, 0), (20, 0), (20, 4), (8, 10), (8, 45), (6, 45), (6, 48), (8, 48), (8, 59), (6, 60), (0, 60)])


@HAND.part(("cylinder", D, 60), ("bore", D, 40), ("port", D, 10), ("lugs", C, 2), ("length", L, 80))
def ram_barrel() -> Any:
    body = fused(rod(60, 80), *[box(20, 16, 20, (s * 38 - 10, -8, 30)) for s in (-1, 1)], rod(20, 35, (0, 0, 15), Y))
    return cut(
        body,
        rod(40, 70, (0, 0, 10)),
        rod(10, 40, (0, 0, 15), Y),
        *[rod(8, 20, (s * 40, 0, 30)) for s in (-1, 1)],
        rod(44, 6, (0, 0, 60)),
    )


@HAND.part(("piston", D, 40), ("ring", L, 4), ("pin", D, 12), ("length", L, 44))
def piston() -> Any:
    body = turned(
        [
            (0, 44),
            (0, 36),
            (32, 36),
            (32, 0),
            (40, 0),
            (40, 32),
            (35, 32),
            (35, 36),
            (40, 36),
            (40, 39),
            (35, 39),
            (35, 42),
            (40, 42),
            (40, 44),
        ]
    )
    body = fused(body, *[rod(20, 8, (0, s * 12 - 4, 16), Y) for s in (-1, 1)])
    return cut(body, rod(12, 50, (0, -25, 16), Y))


@HAND.part(("rotor", D, 50), ("slots", C, 8), ("slot", L, 3), ("bore", D, 18), ("width", L, 20))
def vane_rotor() -> Any:
    body = cut(rod(50, 20), ring(box(12, 3, 20, (15, -1.5, 0)), 8), rod(18, 20))
    return cut(body, box(5, 6, 20, (6, -3, 0)), rod(32, 2), rod(32, 2, (0, 0, 18)))


@HAND.part(("angle", A, 45), ("body", D, 44), ("bore", D, 20), ("length", L, 80))
def wye_fitting() -> Any:
    way = (math.sqrt(0.5), 0, math.sqrt(0.5))
    body = fused(rod(44, 80), rod(30, 55, (0, 0, 25), way))
    return cut(body, rod(20, 80), rod(16, 60, (0, 0, 25), way))


@HAND.part(("lens", D, 60), ("seat", D, 50), ("hole", D, 30), ("ears", L, 84), ("thick", L, 8))
def gasket_flange() -> Any:
    body = fused(
        rod(60, 8),
        rod(20, 8, (32, 0, 0)),
        rod(20, 8, (-32, 0, 0)),
        prism([(-32, 10), (-32, -10), (0, -30), (32, -10), (32, 10), (0, 30)], 8),
    )
    return cut(body, rod(30, 8), rod(50, 2, (0, 0, 6)), *[rod(9, 8, (s * 32, 0, 0)) for s in (-1, 1)])


# Fixtures and machine parts


@HAND.part(("dovetail", A, 60), ("slide", L, 90), ("height", L, 30), ("gib", L, 4), ("slot", L, 10))
def dovetail_slide() -> Any:
    h = 10 / math.tan(math.radians(60))
    body = cut(box(90, 60, 30), prism([(20, -1), (40, -1), (40 + h * 1.1, 10), (20 - h * 1.1, 10)], 90, "yz", 0))
    return cut(body, *[rod(6, 30, (x, 30, 0)) for x in (20, 70)], slot(10, 20, 8, (45, 30, 22)))


@HAND.part(("slot", L, 9), ("nose", R, 15), ("height", L, 25), ("relief", L, 2))
def stop_block() -> Any:
    body = fused(box(40, 30, 25), rod(30, 25, (40, 15, 0)))
    return cut(body, slot(9, 16, 25, (22, 15, 0)), slot(15, 16, 10, (22, 15, 15)), box(2, 30, 2))


@HAND.part(("wedge", A, 10), ("length", L, 80), ("width", L, 30), ("slot", L, 8), ("height", L, 24))
def wedge_block() -> Any:
    body = prism([(0, 0), (80, 0), (80, 24), (0, 24 - 80 * math.tan(math.radians(10)))], 30, "xz", 0)
    return cut(body, slot(8, 24, 40, (44, 15, -5)), box(6, 30, 4, (0, 0, 0)))


@HAND.part(("base", L, 100), ("post", D, 24), ("tee", L, 14), ("clamp", D, 8), ("height", L, 60))
def indicator_post() -> Any:
    body = fused(box(100, 40, 12), rod(24, 48, (25, 20, 12)), box(30, 24, 16, (60, 8, 12)))
    return cut(
        body,
        rod(8, 24, (25, 8, 48), Y),
        rod(8, 16, (75, 20, 16)),
        slot(14, 16, 12, (52, 20, 0)),
        rod(10, 30, (60, 20, 20), X),
    )


@HAND.part(("plate", L, 110), ("grid", L, 20), ("hole", D, 6), ("corner", R, 5))
def grid_plate() -> Any:
    body = rounded(box(110, 90, 8), 5, corners(110, 90))
    holes = [
        rod(6, 8, (15 + 20 * i, 15 + 20 * j, 0))
        for i in range(5)
        for j in range(4)
        if not (i in (2, 3) and j in (1, 2))
    ]
    return cut(body, *holes, rounded(box(30, 30, 8, (50, 30, 0)), 3, upright))


@HAND.part(("jaw", L, 60), ("vee", A, 120), ("tongue", L, 12), ("screw", D, 9), ("height", L, 32))
def vee_jaw() -> Any:
    body = fused(box(60, 28, 32), box(60, 6, 12, (0, 28, 10)))
    body = cut(body, prism([(30 - 8 * math.sqrt(3), -0.0), (30 + 8 * math.sqrt(3), 0.0), (30, 8)], 32, "xy", 0))
    return cut(body, *[rod(9, 34, (x, 0, 16), Y) for x in (10, 50)], *[rod(15, 9, (x, 0, 16), Y) for x in (10, 50)])


@HAND.part(("collet", D, 30), ("taper", A, 15), ("slits", C, 3), ("slit", L, 2), ("length", L, 50))
def collet() -> Any:
    small = 30 - 2 * 20 * math.tan(math.radians(15))
    body = turned([(12, 0), (small, 0), (30, 20), (30, 24), (22, 24), (22, 50), (12, 50)])
    return cut(body, ring(box(20, 2, 34, (0, -1, 0)), 3), box(4, 4, 12, (9, -2, 38)))


@HAND.part(("spindle", D, 40), ("flange", D, 80), ("bolts", C, 6), ("bore", D, 18))
def spindle_nose() -> Any:
    body = turned([(18, 0), (40, 0), (40, 60), (80, 60), (80, 76), (50, 76), (46, 88), (18, 88)])
    return cut(body, ring(rod(8.5, 16, (32, 0, 60)), 6), *[box(12, 50, 6, (-6, 34 * s - 25, 70)) for s in (1,)])


@HAND.part(("cam", D, 60), ("bore", D, 20), ("key", L, 6), ("thick", L, 12))
def plate_cam() -> Any:
    body = fused(rod(60, 12), rod(30, 12, (25, 0, 0)), prism([(0, 30), (0, -30), (25 + 15 * 0.6, -12), (34, 12)], 12))
    return cut(body, rod(20, 12), box(6, 6, 12, (-3, 6.8, 0)))


# Mouldings and electronics


@HAND.part(("tray", L, 100), ("wall", L, 3), ("rib", L, 2), ("height", L, 20))
def ribbed_tray() -> Any:
    body = cut(rounded(box(100, 70, 20), 6, upright), rounded(box(94, 64, 20, (3, 3, 3)), 3, upright))
    body = fused(body, box(2, 64, 8, (32, 3, 3)), box(2, 64, 8, (66, 3, 3)))
    return cut(body, *[rod(4, 3, (x, 35, 0)) for x in (17, 50, 83)])


@HAND.part(("cap", D, 30), ("wall", L, 2), ("height", L, 18), ("flutes", C, 12), ("pip", D, 4))
def bottle_cap() -> Any:
    body = cut(rod(30, 18), rod(26, 16))
    body = fused(body, rod(4, 3, (0, 0, 13)))
    return cut(body, ring(rod(3, 14, (15.8, 0, 0)), 12))


@HAND.part(("pins", C, 5), ("pitch", L, 5), ("pin", L, 1), ("height", L, 14))
def pin_header() -> Any:
    body = cut(box(30, 10, 10), box(27, 7, 8, (1.5, 1.5, 2)))
    return fused(body, *row(box(1, 1, 10, (4.5, 4.5, -4)), 5, (5, 0, 0)))


@HAND.part(("grille", L, 60), ("slots", C, 7), ("slot", L, 3), ("pitch", L, 7), ("thick", L, 3))
def vent_grille() -> Any:
    body = rounded(box(70, 50, 3), 5, corners(70, 50))
    return cut(
        body,
        *row(turned_about(slot(3, 24, 3, (14, 25, 0)), 90, Z, (14, 25, 0)), 7, (7, 0, 0)),
        *[rod(3.5, 3, (x, y, 0)) for x in (5, 65) for y in (5, 45)],
    )


@HAND.part(("bracket", L, 30), ("clip", L, 6), ("hook", L, 2), ("base", L, 24), ("thick", L, 2.5))
def snap_clip() -> Any:
    body = fused(
        box(30, 24, 2.5),
        *[box(2, 8, 16, (x, 8, 2.5)) for x in (2, 26)],
        prism([(4, 14), (6, 14), (4, 18.5)], 8, "xz", 8),
        prism([(26, 14), (24, 14), (26, 18.5)], 8, "xz", 8),
    )
    return cut(body, rod(4, 3, (15, 12, 0)))


@HAND.part(("spreader", L, 50), ("step", L, 3), ("hole", D, 3.2), ("fins", C, 6), ("height", L, 15))
def spreader_block() -> Any:
    body = fused(box(50, 40, 4), box(30, 20, 3, (10, 10, -3)), *row(rod(6, 11, (7.5, 8, 4)), 6, (7, 0, 0)))
    return cut(body, *[rod(3.2, 4, (x, 34, 0)) for x in (6, 44)])


@HAND.part(("lens", D, 24), ("holder", L, 36), ("slot", L, 4), ("seat", D, 28), ("screw", D, 3))
def lens_holder() -> Any:
    body = fused(box(36, 12, 40, (-18, -6, -22)), rod(36, 12, (0, -6, 18), Y))
    body = cut(body, rod(24, 12, (0, -6, 18), Y), rod(28, 4, (0, -6, 18), Y), box(4, 12, 20, (-2, -6, 30)))
    return cut(body, rod(3, 40, (-20, 0, -14), X), *[rod(5, 10, (s * 10, 0, -22)) for s in (-1, 1)])


# Pipework


@HAND.part(("pipe", D, 30), ("bore", D, 24), ("flange", D, 70), ("bolts", C, 4), ("length", L, 90))
def flanged_spool() -> Any:
    body = turned([(24, 0), (70, 0), (70, 10), (36, 10), (30, 16), (30, 74), (36, 80), (70, 80), (70, 90), (24, 90)])
    return cut(body, ring(rod(9, 90, (27, 0, 0)), 4))


@HAND.part(("union", L, 32), ("cone", A, 74), ("length", L, 30), ("seat", D, 26))
def flare_nut() -> Any:
    body = common(hexagon(32, 24), turned([(0, 0), (34, 0), (37, 2), (37, 22), (34, 24), (0, 24)]))
    return cut(
        fused(body, rod(26, 6, (0, 0, 24))),
        rod(14, 30),
        rod(24, 16),
        cone(24, 14, 5 / math.tan(math.radians(37)), (0, 0, 16)),
    )


@HAND.part(("bore", D, 34), ("bolt", D, 7), ("width", L, 20))
def half_clamp() -> Any:
    body = fused(
        common(rod(50, 20, (0, 0, 0), Y), box(60, 20, 30, (-30, 0, 1))),
        *[box(20, 20, 8, (s * 32 - 10, 0, 1)) for s in (-1, 1)],
    )
    body = cut(body, rod(34, 20, (0, 0, 0), Y))
    return cut(body, *[rod(7, 8, (s * 34, 10, 1)) for s in (-1, 1)])


@HAND.part(("cross", L, 100), ("pipe", D, 40), ("bore", D, 30), ("collar", D, 50), ("collar length", L, 12))
def cross_fitting() -> Any:
    arms = [rod(40, 100, (-50, 0, 0), X), rod(40, 100, (0, -50, 0), Y)]
    collars = [
        rod(50, 12, (-50, 0, 0), X),
        rod(50, 12, (38, 0, 0), X),
        rod(50, 12, (0, -50, 0), Y),
        rod(50, 12, (0, 38, 0), Y),
    ]
    return cut(fused(*arms, *collars), rod(30, 100, (-50, 0, 0), X), rod(30, 100, (0, -50, 0), Y))


# Wood


@HAND.part(("stile", L, 180), ("mortise", L, 36), ("groove", L, 6), ("width", L, 50))
def door_stile() -> Any:
    return cut(
        box(50, 24, 180),
        box(30, 8, 36, (20, 8, 130)),
        box(8, 6, 180, (42, 9, 0)),
        box(12, 8, 10, (38, 8, 166)),
        rod(18, 12, (25, 0, 90), Y),
    )


@HAND.part(("board", L, 120), ("fingers", C, 5), ("finger", L, 12), ("thick", L, 12), ("width", L, 120))
def finger_board() -> Any:
    return cut(box(140, 120, 12), *row(box(12, 12, 12, (0, 12, 0)), 5, (0, 24, 0)), box(140, 6, 5, (0, 0, 7)))


@HAND.part(("leg", L, 45), ("taper", L, 25), ("height", L, 200), ("mortise", L, 30), ("dowel", D, 8))
def tapered_leg() -> Any:
    body = prism([(0, 0), (45, 0), (45, 200), (0, 200), (0, 150)], 45, "xz", 0)
    body = cut(body, prism([(-1, -1), (20, -1), (-1, 151)], 50, "xz", -1))
    return cut(body, box(20, 10, 30, (25, 17, 160)), rod(8, 25, (22, 0, 175), Y))


@HAND.part(("peg rail", L, 200), ("peg", D, 14), ("pitch", L, 40), ("height", L, 40))
def peg_rail() -> Any:
    body = chamfered(box(200, 18, 40), 6, lambda e: e.straight and e.way[0] > 0.9 and abs(e.y) < 0.01)
    return fused(
        cut(body, *[rod(5, 18, (x, 0, 30), Y) for x in (40, 160)]), *row(rod(14, 40, (20, -34, 16), Y), 5, (40, 0, 0))
    )


# Sheet metal


@HAND.part(("hat", L, 80), ("height", L, 20), ("top", L, 30), ("thick", L, 2), ("hole", D, 6))
def hat_section() -> Any:
    body = prism(
        [(0, 0), (22, 0), (22, 18), (48, 18), (48, 0), (70, 0), (70, 2), (50, 2), (50, 20), (20, 20), (20, 2), (0, 2)],
        80,
        "xz",
        0,
    )
    return cut(body, *[rod(6, 2, (x, y, 0)) for x in (10, 60) for y in (20, 60)], slot(8, 10, 5, (35, 40, 16)))


@HAND.part(("tray", L, 90), ("thick", L, 1.5), ("bend", R, 3), ("relief", L, 4), ("height", L, 15))
def folded_tray() -> Any:
    outer = rounded(box(90, 60, 15), 4.5, lambda e: e.straight and e.z < 0.1 and e.way[0] > 0.9)
    inner = rounded(box(90, 57, 15, (0, 1.5, 1.5)), 3, lambda e: e.straight and e.way[0] > 0.9 and e.z < 1.6)
    return cut(
        outer, inner, *[box(4, 60, 20, (x, 0, 4.5)) for x in (20, 66)], *row(rod(5, 1.5, (25, 30, 0)), 3, (20, 0, 0))
    )


@HAND.part(("shim", L, 60), ("thick", L, 1), ("corner", R, 3), ("width", L, 30))
def slotted_shim() -> Any:
    body = rounded(box(60, 30, 1), 3, corners(60, 30))
    return cut(
        body, *[fused(box(20, 8, 1, (40, y - 4, 0)), rod(8, 1, (40, y, 0))) for y in (8, 22)], rod(10, 1, (18, 15, 0))
    )


@HAND.part(("tabs", C, 3), ("plate", L, 100), ("tab", L, 12), ("thick", L, 3), ("lightening", D, 24))
def tabbed_plate() -> Any:
    body = fused(box(100, 50, 3), *row(box(12, 6, 3, (14, 50, 0)), 3, (30, 0, 0)))
    return cut(body, *row(rod(24, 3, (20, 24, 0)), 3, (30, 0, 0)), *[rod(4, 3, (x, 6, 0)) for x in (6, 94)])


# Screws and turned goods


@HAND.part(("head", D, 18), ("shank", D, 10), ("length", L, 40))
def socket_button() -> Any:
    body = fused(common(ball(22, (0, 0, -5)), rod(18, 6)), rod(10, 40, (0, 0, -40)))
    return cut(body, hexagon(6, 4, (0, 0, 2)), chamfer_of(10, 1, -40))


def chamfer_of(d: float, leg: float, z: float) -> Any:
    """What a chamfer takes from the lower end of a bar."""
    return cut(rod(d + 4, leg, (0, 0, z)), cone(d - 2 * leg, d, leg, (0, 0, z)))


@HAND.part(("head", L, 16), ("square", L, 16), ("shank", D, 12), ("length", L, 50), ("point", D, 8))
def square_set_screw() -> Any:
    body = fused(
        common(bar(4, 16, 10), turned([(0, 0), (22.6, 0), (22.6, 8), (16, 10), (0, 10)])), rod(12, 50, (0, 0, -50))
    )
    return cut(body, turned([(8, -50), (14, -50), (14, -46), (8, -46)]), turned([(10, -3), (14, -3), (14, 0), (10, 0)]))


@HAND.part(("eye", D, 30), ("hole", D, 16), ("shank", D, 12), ("length", L, 60), ("thick", L, 12))
def eye_bolt() -> Any:
    return cut(fused(rod(30, 12, (0, -6, 0), Y), rod(12, 60, (0, 0, -60))), rod(16, 12, (0, -6, 0), Y))


@HAND.part(("knurl", D, 24), ("neck", D, 12), ("bore", D, 6), ("height", L, 20), ("slot", L, 3))
def thumb_nut() -> Any:
    body = turned([(6, 0), (12, 0), (12, 6), (22, 6), (24, 7), (24, 19), (22, 20), (6, 20)])
    return cut(body, ring(rod(2, 14, (12.4, 0, 6)), 18), box(30, 3, 3, (-15, -1.5, 17)))


@HAND.part(("shaft", D, 30), ("length", L, 140), ("keyway", L, 8), ("centre", D, 6), ("relief", L, 3))
def geared_shaft() -> Any:
    body = turned(
        [(0, 0), (20, 0), (20, 25), (18, 25), (18, 28), (30, 28), (30, 80), (25, 80), (25, 137), (22, 140), (0, 140)]
    )
    body = cut(body, turned_about(slot(8, 24, 6, (-108, 0, 8.5)), 90, Y), rod(6, 8, (0, 0, 0)), rod(6, 8, (0, 0, 132)))
    return cut(body, *[box(30, 6, 12, (-15, s * 11 - 3, 4)) for s in (-1, 1)])
