"""Fifty parts of trades that no other bench has: castings, valve bodies, fixtures, pipework, plates of electronics, wooden joints,
sheet metal, screws. Each is a composition of features that touch, made by the kernel alone, with some sizes that define it."""

from typing import Any

from canonis.bench.trades.workshop import (
    Hand,
    X,
    Y,
    ball,
    both,
    box,
    chamfered,
    common,
    cone,
    cut,
    fused,
    hexagon,
    moved,
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


# Castings


@HAND.part(("bore", D, 30), ("base length", L, 120), ("height", L, 45), ("bolt", D, 13), ("hub", D, 54))
def pillow_block() -> Any:
    base = box(120, 40, 12, (-60, -20, 0))
    body = fused(base, box(54, 40, 45, (-27, -20, 0)), rod(54, 40, (0, -20, 45), Y))
    body = cut(body, rod(30, 40, (0, -20, 45), Y), *[rod(13, 12, (s * 46, 0, 0)) for s in (-1, 1)])
    return cut(body, rod(6, 30, (0, 0, 60)))


@HAND.part(("bore", D, 20), ("arm", L, 90), ("small bore", D, 12), ("rib", L, 6), ("hub", D, 40))
def bell_crank() -> Any:
    body = fused(rod(40, 30), rod(24, 14, (90, 0, 0)), rod(24, 14, (0, 70, 0)))
    body = fused(body, box(90, 16, 10, (0, -8, 0)), box(16, 70, 10, (-8, 0, 0)))
    body = fused(body, prism([(0, 0), (60, 0), (0, 50)], 6))
    return cut(body, rod(20, 30), rod(12, 14, (90, 0, 0)), rod(12, 14, (0, 70, 0)))


@HAND.part(
    ("flange", D, 100),
    ("bore", D, 36),
    ("bolt circle", "pitch-circle", 80),
    ("bolts", C, 4),
    ("wall", L, 8),
)
def pump_cover() -> Any:
    body = turned([(0, 0), (100, 0), (100, 12), (60, 12), (60, 40), (52, 48), (0, 48)])
    body = cut(
        body,
        turned([(0, -1), (44, -1), (44, 30), (36, 38), (20, 38), (20, 60), (0, 60)]),
        ring(rod(9, 12, (40, 0, 0)), 4),
    )
    return fused(body, ring(prism([(28, 12), (48, 12), (28, 36)], 5, "xz", -2.5), 4))


@HAND.part(("bore", D, 25), ("web", L, 8), ("rim", D, 140), ("holes", C, 6), ("groove", L, 12))
def pulley_cast() -> Any:
    body = turned(
        [
            (25, 0),
            (50, 0),
            (50, 8),
            (116, 8),
            (116, 0),
            (140, 0),
            (140, 32),
            (116, 32),
            (116, 16),
            (50, 16),
            (50, 32),
            (25, 32),
        ]
    )
    body = cut(body, turned([(124, 10), (142, 10), (142, 22), (124, 22)]), ring(rod(18, 30, (41.5, 0, 0)), 6))
    return cut(body, box(8, 8, 32, (10, -4, 0)))


@HAND.part(("length", L, 150), ("slot", L, 14), ("height", L, 60), ("rib", L, 10), ("bore", D, 22))
def angle_plate_ribbed() -> Any:
    body = fused(box(150, 80, 14), box(150, 14, 60), prism([(14, 14), (70, 14), (14, 55)], 10, "yz", 70))
    body = cut(body, *[slot(14, 20, 14, (x, 50, 0)) for x in (30, 120)])
    return cut(body, *[rod(22, 14, (x, 0, 40), Y) for x in (40, 110)])


@HAND.part(("bore", D, 40), ("flange", L, 90), ("height", L, 70), ("bolts", D, 11))
def square_flange_elbow() -> Any:
    body = fused(
        box(90, 90, 12, (-45, -45, 0)),
        rod(60, 50),
        ball(60, (0, 0, 50)),
        rod(60, 60, (0, 0, 50), X),
        rod(90, 12, (60, 0, 50), X),
    )
    body = cut(body, rod(40, 50, (0, 0, 0)), ball(40, (0, 0, 50)), rod(40, 72, (0, 0, 50), X))
    body = cut(body, *[rod(11, 12, (sx * 33, sy * 33, 0)) for sx in (-1, 1) for sy in (-1, 1)])
    return cut(body, ring(rod(9, 12, (60, 0, 85), X), 4, X, (0, 0, 50)))


@HAND.part(("bore", D, 16), ("fork", L, 20), ("pin", D, 10), ("shank", D, 26))
def clevis() -> Any:
    body = fused(rod(26, 50, (0, 0, 0), X), box(35, 32, 26, (40, -16, -13)), rod(26, 32, (75, -16, 0), Y))
    body = cut(body, box(60, 20, 40, (48, -10, -20)), rod(10, 40, (75, -20, 0), Y), rod(16, 35, (0, 0, 0), X))
    return chamfered(
        body, 1.5, lambda e: abs(e.x) < 0.01 and not e.straight and e.length < 1e-3 and abs(e.y) + abs(e.z) > 10
    )


@HAND.part(("bore", D, 28), ("base", L, 110), ("slot", L, 11), ("split", L, 3), ("clamp", D, 9))
def split_clamp_bracket() -> Any:
    body = fused(
        box(110, 30, 10, (-55, -15, 0)),
        box(20, 30, 40, (-10, -15, 0)),
        rod(46, 30, (0, -15, 52), Y),
        box(18, 30, 26, (-9, -15, 66)),
    )
    body = cut(body, rod(28, 30, (0, -15, 52), Y), box(3, 30, 40, (-1.5, -15, 60)), rod(9, 18, (-9, 0, 84), X))
    return cut(body, *[slot(11, 10, 10, (s * 40, 0, 0)) for s in (-1, 1)])


# Valves and pumps


@HAND.part(("port", D, 22), ("body", L, 80), ("bonnet", D, 48), ("seat", D, 18))
def globe_valve_body() -> Any:
    body = fused(box(80, 44, 44, (-40, -22, 0)), rod(48, 24, (0, 0, 40)), rod(64, 8, (0, 0, 56)))
    body = cut(
        body, rod(22, 32, (-40, 0, 22), X), rod(22, 32, (8, 0, 22), X), rod(34, 30, (0, 0, 34)), rod(18, 24, (0, 0, 12))
    )
    return cut(body, ring(rod(6.6, 8, (27, 0, 56)), 4))


@HAND.part(("width", L, 60), ("cross bore", D, 12), ("port", D, 18), ("depth", L, 40), ("height", L, 50))
def manifold_block() -> Any:
    body = cut(
        box(60, 40, 50),
        rod(12, 60, (0, 20, 25), X),
        *[rod(18, 14, (x, 20, 36)) for x in (15, 45)],
        *[rod(9, 25, (x, 20, 25)) for x in (15, 45)],
    )
    body = cut(body, rod(10, 20, (30, 0, 25), Y), *[rod(5.5, 40, (x, 0, z), Y) for x in (6, 54) for z in (8, 42)])
    return chamfered(body, 2, lambda e: e.straight and e.way[2] > 0.9 and e.length > 40)


@HAND.part(("spool", D, 20), ("lands", L, 12), ("length", L, 96), ("neck", D, 12), ("hole", D, 4))
def valve_spool() -> Any:
    body = turned(
        [
            (0, 0),
            (12, 0),
            (14, 1),
            (14, 8),
            (20, 8),
            (20, 20),
            (12, 20),
            (12, 34),
            (20, 34),
            (20, 46),
            (12, 46),
            (12, 60),
            (20, 60),
            (20, 72),
            (14, 72),
            (14, 95),
            (12, 96),
            (0, 96),
        ]
    )
    body = cut(body, rod(4, 50, (0, 0, 0)), rod(4, 30, (-15, 0, 27), X))
    return cut(body, box(30, 3, 16, (-15, -1.5, 84)))


@HAND.part(("ball", D, 50), ("port", D, 32), ("slot", L, 8), ("height", L, 44))
def ball_of_valve() -> Any:
    body = common(ball(50), box(60, 60, 44, (-30, -30, -22)))
    return cut(body, rod(32, 60, (-30, 0, 0), X), box(20, 8, 6, (-10, -4, 16)))


@HAND.part(("bore", D, 24), ("flange", D, 76), ("bolts", C, 3), ("gland", D, 34), ("depth", L, 18))
def gland_follower() -> Any:
    body = turned([(24, 0), (34, 0), (34, 18), (76, 18), (76, 28), (24, 28)])
    body = cut(body, ring(slot(9, 5, 40, (29, 0, 0)), 3))
    return cut(body, *[rod(4, 60, (0, 0, 23), X)])


@HAND.part(("impeller", D, 90), ("hub", D, 26), ("bore", D, 12), ("vanes", C, 6), ("vane", L, 4))
def impeller_open() -> Any:
    body = fused(
        rod(90, 5), turned([(0, 0), (26, 0), (26, 22), (20, 30), (0, 30)]), ring(box(31, 4, 13, (12, -2, 5)), 6)
    )
    return cut(body, rod(12, 30), box(4, 4, 30, (4, -2, 0)))


# Fixtures


@HAND.part(("block", L, 70), ("vee", A, 90), ("height", L, 45), ("relief", L, 3), ("clamp", L, 10))
def vee_block() -> Any:
    body = cut(
        box(70, 60, 45), prism([(35 - 20, 46), (35 + 20, 46), (35, 26)], 60, "xz", 0), box(3, 60, 6, (33.5, 0, 22))
    )
    body = cut(body, *[box(10, 60, 8, (x, 0, 12)) for x in (0, 60)])
    return cut(body, rod(8, 60, (35, 0, 8), Y))


@HAND.part(("plate", L, 160), ("tee slot", L, 12), ("head", L, 20), ("dowel", D, 10), ("slots", C, 3))
def tee_slot_plate() -> Any:
    body = cut(
        box(160, 120, 30),
        *[row(box(160, 12, 16, (0, 14, 14)), 3, (0, 40, 0)), row(box(160, 20, 8, (0, 10, 8)), 3, (0, 40, 0))],
    )
    return cut(body, *[rod(10, 30, (x, y, 0)) for x in (15, 145) for y in (40, 80)])


@HAND.part(("head", D, 24), ("shank", D, 16), ("length", L, 40), ("bore", D, 10), ("flat", L, 3))
def drill_bush_headed() -> Any:
    body = turned([(10, 0), (16, 0), (16, 30), (24, 30), (24, 40), (12, 40), (10, 39)])
    return cut(body, box(10, 30, 5, (9, -15, 35)))


@HAND.part(("clamp", L, 90), ("slot", L, 13), ("nose", A, 45), ("thick", L, 16), ("heel", L, 10))
def strap_clamp() -> Any:
    body = cut(box(90, 32, 16), slot(13, 30, 16, (40, 16, 0)), prism([(78, 16), (90, 4), (91, 17)], 32, "xz", 0))
    return cut(body, box(10, 32, 4, (0, 0, 0)), rod(8, 10, (8, 16, 6)))


@HAND.part(("jaw", L, 100), ("step", L, 4), ("seat", D, 14), ("hole", D, 9))
def soft_jaw() -> Any:
    body = cut(
        box(100, 25, 40),
        box(100, 5, 4, (0, 20, 36)),
        *[rod(9, 25, (x, 0, 18), Y) for x in (25, 75)],
        *[rod(14, 8, (x, 0, 18), Y) for x in (25, 75)],
    )
    return cut(body, box(3, 25, 40, (48.5, 18, 0)))


@HAND.part(("pin", D, 12), ("head", D, 20), ("taper", A, 30), ("length", L, 46), ("groove", L, 2))
def locating_pin() -> Any:
    body = turned(
        [
            (0, 0),
            (9, 0),
            (11, 1),
            (11, 18),
            (9.6, 18),
            (9.6, 20),
            (20, 20),
            (20, 26),
            (12, 26),
            (12, 40),
            (5.57, 46),
            (0, 46),
        ]
    )
    return cut(body, *[box(20, 10, 20, (-10, s * 9 - 5, 26)) for s in (-1, 1)])


@HAND.part(("base", L, 140), ("height", L, 100), ("bore", D, 35))
def boring_fixture() -> Any:
    body = fused(box(140, 90, 16), box(20, 90, 84, (60, 0, 16)), prism([(80, 16), (130, 16), (80, 66)], 12, "xz", 39))
    body = cut(
        body,
        rod(35, 30, (55, 45, 65), X),
        rod(50, 5, (60, 45, 65), X),
        *[rod(11, 16, (x, y, 0)) for x in (15, 125) for y in (12, 78)],
    )
    return cut(body, *[rod(8, 16, (x, 45, 0)) for x in (15, 125)])


# Gears, chains, drives


@HAND.part(("teeth", C, 12), ("bore", D, 16), ("hub", D, 30), ("length", L, 26))
def ratchet_wheel() -> Any:
    tooth = prism([(24, -1), (33, 0), (24, 12)], 10)
    body = fused(rod(54, 10), ring(tooth, 12), rod(30, 26))
    return cut(body, rod(16, 26), box(10, 5, 26, (0, -2.5, 0)))


@HAND.part(("slots", C, 6), ("bore", D, 20), ("slot", L, 10), ("thick", L, 12))
def geneva_wheel() -> Any:
    body = cut(
        rod(120, 12),
        ring(box(40, 10, 12, (30, -5, 0)), 6),
        ring(rod(10, 12, (30, 0, 0)), 6),
        [turned_about(t, 30) for t in ring(rod(50, 12, (66, 0, 0)), 6)],
    )
    return cut(fused(body, rod(36, 24)), rod(20, 24), rod(5, 40, (0, 0, 18), X))


@HAND.part(("pin", D, 6), ("pitch", L, 25.4), ("thick", L, 3), ("eye", R, 11))
def chain_link_plate() -> Any:
    body = fused(rod(22, 3), rod(22, 3, (25.4, 0, 0)), box(25.4, 16, 3, (0, -8, 0)))
    return cut(body, rod(6, 3), rod(6, 3, (25.4, 0, 0)), rod(7, 3, (12.7, 0, 0)))


@HAND.part(("bore", D, 14), ("jaws", C, 3), ("outside", D, 55), ("length", L, 40), ("hub", D, 30))
def jaw_coupling() -> Any:
    body = fused(rod(55, 20), rod(30, 24, (0, 0, -20)))
    jaw = common(turned([(27, 20), (55, 20), (55, 32), (27, 32)]), prism([(0, 0), (60, -30), (60, 30)], 12, at=20))
    return cut(
        fused(body, ring(jaw, 3)), rod(14, 60, (0, 0, -20)), box(10, 5, 60, (0, -2.5, -20)), rod(5, 20, (0, 0, -10), Y)
    )


@HAND.part(("splines", C, 6), ("major", D, 30), ("length", L, 120), ("keyway", L, 6))
def splined_shaft() -> Any:
    body = turned([(0, 0), (20, 0), (20, 30), (26, 30), (26, 70), (30, 70), (30, 112), (22, 112), (22, 120), (0, 120)])
    gaps = ring(cut(box(12, 9.7, 42, (13, -4.85, 70)), rod(26, 42, (0, 0, 70))), 6)
    body = cut(body, gaps)
    return cut(body, turned_about(slot(6, 16, 5, (50, 0, 9.5)), -90, Y))


@HAND.part(("cam", D, 40), ("shaft", D, 18), ("width", L, 15), ("key", L, 5))
def eccentric_shaft() -> Any:
    body = fused(rod(18, 80), rod(40, 15, (8, 0, 30)), rod(26, 10, (0, 0, 20)))
    return cut(body, turned_about(slot(5, 10, 4, (-65, 0, 6)), 90, Y), chamfer_ring(18, 1, 80))


def chamfer_ring(d: float, leg: float, z: float) -> Any:
    """What a chamfer takes from the end of a bar."""
    return cut(rod(d + 4, leg, (0, 0, z - leg)), cone(d, d - 2 * leg, leg, (0, 0, z - leg)))


# Pipework


@HAND.part(("pipe", D, 42), ("bore", D, 36), ("branch", D, 30), ("length", L, 120), ("height", L, 60))
def tee_fitting() -> Any:
    body = fused(rod(42, 120, (-60, 0, 0), X), rod(30, 60, (0, 0, 0)), *[rod(50, 12, (x, 0, 0), X) for x in (-60, 48)])
    return cut(body, rod(36, 120, (-60, 0, 0), X), rod(24, 60, (0, 0, 0)))


@HAND.part(("hex", L, 27), ("bore", D, 10), ("length", L, 50), ("thread", D, 20), ("cone", A, 60))
def hex_nipple() -> Any:
    body = fused(
        common(hexagon(27, 12, (0, 0, 19)), turned([(0, 19), (26, 19), (31, 21), (31, 29), (26, 31), (0, 31)])),
        rod(20, 50),
    )
    body = cut(body, rod(10, 50), cone(16, 10, 5.196, (0, 0, 0)))
    return cut(body, turned([(17, 16), (22, 16), (22, 19), (17, 19)]))


@HAND.part(("bore", D, 52), ("flange", D, 130), ("bolts", C, 8), ("hub", D, 70), ("face", D, 84))
def slip_on_flange() -> Any:
    body = turned([(52, 0), (84, 0), (84, 2), (130, 2), (130, 18), (70, 18), (66, 30), (52, 30)])
    return cut(body, ring(rod(14, 30, (52, 0, 0)), 8))


@HAND.part(("big", D, 60), ("small", D, 40), ("length", L, 80), ("wall", L, 4))
def reducer() -> Any:
    return turned([(52, 0), (60, 0), (60, 20), (40, 60), (40, 80), (32, 80), (32, 60), (52, 20)])


@HAND.part(("saddle", R, 30), ("width", L, 110), ("bolt", D, 9), ("thick", L, 5), ("strap", L, 25))
def pipe_saddle() -> Any:
    body = fused(common(rod(70, 25, (0, 0, 0), Y), box(80, 25, 40, (-40, 0, 0))), box(110, 25, 5, (-55, 0, 0)))
    body = cut(body, rod(60, 25, (0, 0, 0), Y))
    return cut(body, *[rod(9, 5, (s * 45, 12.5, 0)) for s in (-1, 1)])


@HAND.part(("tail", D, 13), ("barbs", C, 3), ("hex", L, 22), ("bore", D, 8), ("length", L, 58))
def hose_tail() -> Any:
    barb = [(x, z) for k in range(3) for x, z in ((13, 30 + 8 * k), (16, 30 + 8 * k), (13, 38 + 8 * k))]
    body = turned([(0, 0), (20, 0), (20, 12), (18, 12), (18, 14), (13, 14), *barb, (12, 58), (0, 58)])
    return cut(fused(body, hexagon(22, 10, (0, 0, 14))), rod(8, 58))


# Plates of electronics, mouldings


@HAND.part(("plate", L, 120), ("window", L, 40), ("mounting", D, 3.2), ("thick", L, 2))
def front_panel() -> Any:
    body = cut(
        box(120, 80, 2), box(40, 20, 2, (15, 45, 0)), *[rod(3.2, 2, (x, y, 0)) for x in (5, 115) for y in (5, 75)]
    )
    body = cut(
        body,
        *row(rod(6, 2, (70, 20, 0)), 3, (15, 0, 0)),
        prism([(70, 50), (95, 50), (93, 60), (72, 60)], 2),
        rod(13, 2, (30, 20, 0)),
    )
    return rounded(
        body,
        4,
        lambda e: (
            e.straight
            and e.way[2] > 0.9
            and min(abs(e.x), abs(e.x - 120)) < 0.01
            and min(abs(e.y), abs(e.y - 80)) < 0.01
        ),
    )


@HAND.part(("box", L, 80), ("wall", L, 2), ("boss", D, 6), ("hole", D, 2.5), ("height", L, 25))
def moulded_box() -> Any:
    body = rounded(box(80, 50, 25), 4, lambda e: e.straight and e.way[2] > 0.9)
    inner = rounded(box(76, 46, 25, (2, 2, 2)), 2, lambda e: e.straight and e.way[2] > 0.9)
    body = cut(body, inner)
    body = fused(body, *[rod(6, 20, (x, y, 2)) for x in (8, 72) for y in (8, 42)])
    return cut(body, *[rod(2.5, 15, (x, y, 7)) for x in (8, 72) for y in (8, 42)], box(20, 2, 10, (30, 0, 8)))


@HAND.part(("heat sink", L, 60), ("fins", C, 9), ("fin", L, 2), ("base", L, 5), ("pitch", L, 7))
def finned_sink() -> Any:
    body = fused(box(58, 60, 5), *row(box(2, 60, 20, (0, 0, 5)), 9, (7, 0, 0)))
    return cut(body, *[rod(4, 5, (x, y, 0)) for x in (5.5, 52.5) for y in (10, 50)])


@HAND.part(("knob", D, 30), ("bore", D, 6), ("flutes", C, 10), ("height", L, 18), ("skirt", D, 36))
def fluted_knob() -> Any:
    body = fused(rod(30, 18), rod(36, 4))
    body = cut(body, ring(rod(5, 20, (16, 0, 4)), 10))
    return cut(body, cut(rod(6, 12), box(6, 6, 12, (2, -3, 0))))


@HAND.part(("bezel", L, 70), ("window", L, 50), ("lip", L, 2), ("clip", L, 8), ("height", L, 12))
def bezel() -> Any:
    body = cut(box(70, 46, 12), box(66, 42, 10, (2, 2, 2)), box(50, 30, 4, (10, 8, 0)), box(54, 34, 1, (8, 6, 1)))
    return cut(body, *[box(8, 60, 3, (x, -5, 7)) for x in (15, 47)])


@HAND.part(("standoff", L, 12), ("hex", L, 5.5), ("bore", D, 2.5), ("stud", D, 3))
def standoff() -> Any:
    return cut(fused(hexagon(5.5, 12), rod(3, 18)), rod(2.5, 8))


# Wooden joints


@HAND.part(("rail", L, 200), ("tenon", L, 40), ("thick", L, 8), ("width", L, 60))
def tenoned_rail() -> Any:
    body = cut(
        box(200, 60, 24),
        box(40, 60, 8, (0, 0, 0)),
        box(40, 60, 8, (0, 0, 16)),
        box(40, 10, 24, (0, 0, 0)),
        box(40, 10, 24, (0, 50, 0)),
    )
    return cut(body, box(160, 6, 8, (40, 0, 8)), rod(8, 24, (20, 30, 0)))


@HAND.part(("post", L, 50), ("mortise", L, 40), ("height", L, 180), ("chamfer", L, 5))
def mortised_post() -> Any:
    body = cut(
        box(50, 50, 180), box(8, 30, 40, (21, 0, 120)), box(30, 8, 40, (20, 21, 120)), box(10, 50, 10, (40, 0, 0))
    )
    return chamfered(body, 5, lambda e: e.straight and e.z > 179 and e.way[2] < 0.1)


@HAND.part(("board", L, 120), ("slope", A, 80), ("thick", L, 15))
def dovetailed_board() -> Any:
    tail = prism([(0, -1), (20, -1), (20 - 2.645, 15), (2.645, 15)], 15, "xy")
    return cut(box(120, 100, 15), *row(moved(tail, (8, 0, 0)), 3, (42, 0, 0)), box(120, 6, 6, (0, 94, 0)))


@HAND.part(("length", L, 150), ("halving", L, 40), ("depth", L, 20), ("rebate", L, 10))
def halved_rail() -> Any:
    body = cut(
        box(150, 40, 40), box(40, 40, 20, (55, 0, 20)), box(150, 10, 10, (0, 0, 0)), box(30, 40, 20, (120, 0, 20))
    )
    return cut(body, rod(10, 40, (135, 20, 0)), rod(16, 6, (135, 20, 14)))


# Sheet metal


@HAND.part(("thick", L, 2), ("leg", L, 40), ("other", L, 30), ("inside", R, 3), ("hole", D, 5))
def bent_angle() -> Any:
    body = fused(
        cut(common(rod(10, 60, (0, 5, 5), X), box(60, 5, 5)), rod(6, 60, (0, 5, 5), X)),
        box(60, 35, 2, (0, 5, 0)),
        box(60, 2, 25, (0, 0, 5)),
    )
    return cut(body, *[rod(5, 2, (x, 28, 0)) for x in (12, 48)], slot_in_wall(30, 18), box(6, 8, 2, (0, 32, 0)))


def slot_in_wall(x: float, z: float) -> Any:
    """A round-ended slot through the upright leg."""
    return turned_about(slot(6, 14, 12, (x, z, -6)), 90, X)


@HAND.part(("channel", L, 100), ("web", L, 40), ("flange", L, 25), ("thick", L, 3), ("notch", L, 10))
def bent_channel() -> Any:
    outer = rounded(box(100, 40, 25), 5, lambda e: e.straight and e.way[0] > 0.9 and e.z < 0.1)
    inner = rounded(box(100, 34, 25, (0, 3, 3)), 2, lambda e: e.straight and e.way[0] > 0.9 and e.z < 3.1)
    body = cut(outer, inner)
    return cut(
        body, box(10, 40, 12, (0, 0, 13)), *[rod(6, 3, (x, 20, 0)) for x in (20, 80)], rod(8, 60, (50, -5, 15), Y)
    )


@HAND.part(("louvre", L, 60), ("gusset", L, 4), ("hole", D, 7))
def gusset_plate() -> Any:
    body = prism([(0, 0), (80, 0), (80, 15), (20, 60), (0, 60)], 4)
    body = cut(body, *[rod(7, 4, (x, y, 0)) for x, y in ((12, 12), (62, 10), (12, 48))], rod(20, 4, (30, 25, 0)))
    return rounded(body, 6, lambda e: e.straight and e.way[2] > 0.9 and e.x > 79)


@HAND.part(("disc", D, 80), ("hole", D, 30), ("slots", C, 4), ("thick", L, 1.5), ("tab", L, 8))
def tabbed_washer() -> Any:
    body = cut(fused(rod(80, 1.5), ring(box(8, 12, 1.5, (38, -6, 0)), 4)), rod(30, 1.5))
    return cut(body, turned_all(slot(5, 8, 1.5, (27, 0, 0))), box(8, 6, 1.5, (11, -3, 0)))


def turned_all(tool: Any) -> list[Any]:
    """Four of a thing, between the tabs."""
    return [turned_about(t, 45) for t in ring(tool, 4)]


# Screws and turned goods


@HAND.part(("head", D, 30), ("shank", D, 12), ("square", L, 12), ("length", L, 60))
def coach_bolt() -> Any:
    body = fused(common(ball(45, (0, 0, -14.5)), rod(30, 8)), box(12, 12, 8, (-6, -6, -8)), rod(12, 60, (0, 0, -60)))
    return cut(body, turned([(10, -60), (14, -60), (14, -35), (10, -35)]))


@HAND.part(("wings", L, 40), ("bore", D, 8), ("height", L, 18))
def wing_nut() -> Any:
    body = fused(
        turned([(0, 0), (18, 0), (16, 12), (0, 12)]),
        *both(prism([(0, 2), (8, 2), (20, 10), (20, 18), (14, 18), (5, 10)], 4, "xz", -2), X),
    )
    return cut(body, rod(8, 20))


@HAND.part(("handle", L, 90), ("neck", D, 10), ("grip", D, 22), ("thread", D, 8), ("flats", L, 9))
def turned_handle() -> Any:
    body = turned([(0, 0), (8, 0), (8, 15), (14, 15), (14, 20), (10, 30), (22, 70), (22, 80), (14, 90), (0, 90)])
    return cut(body, *[box(20, 4, 5, (-10, s * 6.5 - 2, 15)) for s in (-1, 1)], rod(4, 12, (0, 0, 78)))
