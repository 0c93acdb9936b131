"""What a workshop sees every day, put together here from the words of its trade: each sheet says it whole, once, proven."""

import math

import pytest

from canonis.core.drafting.draft import DraftWish, draft_model
from canonis.core.layout.collisions import layout_report
from canonis.core.proof.check import check_sheet
from canonis.core.sheet.compile import compile_sheet
from tests.conftest import block, model_of, recipe
from tests.core.known_parts import hole, near, plane, ring, rod, shape, turned

STEPPED = turned((0, 0), (10, 0), (10, 30), (16, 30), (16, 50), (8, 50), (8, 70), (0, 70))


def rounded(radius, *points):
    return {"op": "round", "edges": near(*points), "radius": radius}


def bevelled(leg, *points):
    return {"op": "chamfer", "edges": near(*points), "leg": leg}


def cut(frame, outer, distance):
    return {"op": "extrude", "profile": {"plane": frame, "outer": outer}, "distance": distance, "mode": "cut"}


def path(*corners):
    return {"path": [["M" if k == 0 else "L", *p] for k, p in enumerate(corners)] + [["Z"]]}


ACROSS = plane([-1, 0, 0], [0, 1, 0], [1, 0, 0])


def around(*points):
    """What a tool turned about z takes off between (radius, height) corners."""
    return {**turned(*points), "mode": "cut"}


def bent(wide, mode="add"):
    """A round bar along x, then around a bend of R20, then along z."""
    return {
        "op": "sweep",
        "profile": {"plane": "YZ", "outer": {"circle": [0, 0, wide]}},
        "path": {"plane": "XZ", "path": [["M", 0, 0], ["L", 40, 0], ["A", 60, 20, 20, "ccw"], ["L", 60, 50]]},
        "mode": mode,
    }


HEXAGON = shape(
    path(*([26 / 3**0.5 * f(math.radians(60 * k)) for f in (math.cos, math.sin)] for k in range(6))), 0, 12, "add"
)
WHEEL = [
    rod(60, 10),
    hole([[0, 0, 10]], 12),
    {"name": "gap", **shape(path([24, -2], [31, -4], [31, 4], [24, 2]), 0, 10, "cut")},
    ring(["gap"], 12),
]

PARTS = {
    "a shaft with filleted shoulders": (
        [STEPPED, rounded(1, [-10, 0, 30]), bevelled(1, [-8, 0, 70]), bevelled(1, [-10, 0, 0])],
        ["⌀32", "70", "2× 1 × 45°"],
    ),
    "a shaft with a cross hole and a flat": (
        [STEPPED, hole([[16, 0, 40]], 6, [1, 0, 0]), shape({"rect": [7, -20, 20, 40]}, 50, 20)],
        ["⌀6 THRU", "⌀32", "40"],
    ),
    "a tube with a slot across": (
        [
            rod(40, 50),
            rod(24, 50, mode="cut"),
            cut(plane([0, -30, 25], [0, 0, 1], [0, 1, 0]), {"slot": [-8, 0, 8, 0, 8]}, 60),
        ],
        ["⌀40", "⌀24 THRU"],
    ),
    "a bush with a stepped bore": (
        [rod(40, 50), hole([[0, 0, 50]], 16, counterbore={"diameter": 28, "depth": 20}), bevelled(1, [-20, 0, 50])],
        ["⌀16 THRU ⌴⌀28 ↧20", "⌀40", "1 × 45°"],
    ),
    "a counterbore with a fillet on its floor": (
        [
            block(60, 40, 20),
            hole([[30, 20, 20]], 10, counterbore={"diameter": 20, "depth": 6}),
            rounded(1.5, [20, 20, 14]),
        ],
        ["⌀10 THRU ⌴⌀20 ↧6", "R1.5"],
    ),
    "a counterbore with a broken edge inside": (
        [
            block(60, 40, 20),
            hole([[30, 20, 20]], 10, counterbore={"diameter": 20, "depth": 6}),
            rounded(1.5, [35, 20, 14]),
        ],
        ["⌀10 THRU ⌴⌀20 ↧6", "R1.5"],
    ),
    "a blind bore with a fillet on its floor": (
        # The depth of a hole is that of its full diameter.
        [block(60, 40, 20), hole([[30, 20, 20]], 20, depth=10), rounded(2, [20, 20, 10]), rounded(1, [20, 20, 20])],
        ["⌀20 ↧8 RIM R1", "R2"],
    ),
    "a boss with a fillet at its foot": (
        [
            block(60, 40, 10),
            shape({"circle": [30, 20, 20]}, 10, 12, "add"),
            rounded(2, [20, 20, 10]),
            hole([[30, 20, 22]], 8),
        ],
        ["⌀8 THRU", "⌀20", "R2"],
    ),
    "an angle bracket": (
        [
            block(60, 40, 8),
            block(8, 40, 40),
            rounded(4, [8, 20, 8]),
            rounded(10, [60, 0, 4], [60, 40, 4]),
            hole([[50, 10, 8], [50, 30, 8]], 5),
            hole([[8, 20, 28]], 9, [1, 0, 0], counterbore={"diameter": 15, "depth": 3}),
        ],
        ["2× ⌀5 THRU", "⌀9 THRU ⌴⌀15 ↧3", "R4", "2× R10"],
    ),
    "a clevis": (
        [block(30, 30, 30), shape({"rect": [10, -1, 10, 32]}, 12, 20), hole([[30, 15, 22]], 8, [1, 0, 0])],
        ["⌀8 THRU", "10"],
    ),
    "a link with two eyes": (
        [
            shape(
                {
                    "path": [
                        ["M", 0, -8],
                        ["L", 50, -8],
                        ["A", 50, 8, 8, "ccw"],
                        ["L", 0, 8],
                        ["A", 0, -8, 8, "ccw"],
                        ["Z"],
                    ]
                },
                0,
                6,
                "add",
            ),
            hole([[0, 0, 6], [50, 0, 6]], 6),
        ],
        ["2× ⌀6 THRU", "2× R8", "6"],
    ),
    "a hub with a keyed bore": (
        [
            rod(80, 10),
            rod(40, 30),
            hole([[0, 0, 30]], 20),
            shape({"rect": [-3, 0, 6, 12.8]}, 0, 30),
            hole([[30, 0, 10], [0, 30, 10], [-30, 0, 10], [0, -30, 10]], 7),
        ],
        ["⌀20 THRU", "4× ⌀7 THRU EQ SP", "⌀60 PCD", "⌀80", "6", "22.8"],
    ),
    "a screw with a hexagon head": (
        [
            shape({"regular": {"centre": [0, 0], "sides": 6, "across-flats": 19}}, 0, 8, "add"),
            rod(12, 50, 8),
            bevelled(1, [-6, 0, 58]),
        ],
        ["HEX 19 AF", "⌀12", "1 × 45°"],
    ),
    "a block with a tee slot": (
        [block(60, 30, 25), shape({"rect": [-1, 11, 62, 8]}, 10, 15), shape({"rect": [-1, 6, 62, 18]}, 10, 6)],
        ["60", "30", "25", "8", "18"],
    ),
    "a block with a dovetail": (
        [block(60, 40, 20), cut(ACROSS, path([14, 20], [26, 20], [30, 12], [10, 12]), 62)],
        ["60", "40", "20"],
    ),
    "a vee block": (
        [
            block(60, 40, 30),
            cut(ACROSS, path([5, 30], [35, 30], [20, 15]), 62),
            shape({"rect": [-1, 19, 62, 2]}, 13, 10),
        ],
        ["60", "40", "30", "2"],
    ),
    "a pulley": (
        [
            rod(80, 20),
            hole([[0, 0, 20]], 16),
            {
                "op": "revolve",
                "profile": {"plane": "XZ", "outer": path([40, 4], [40, 16], [30, 12], [30, 8])},
                "angle": 360,
                "axis": {"point": [0, 0, 0], "direction": [0, 0, 1]},
                "mode": "cut",
            },
        ],
        ["2× ⌀80", "⌀60", "⌀16 THRU"],
    ),
    "a nut turned over its corners": (
        [HEXAGON, hole([[0, 0, 12]], 13), around((14.9, -1), (20, -1), (20, 13), (14.9, 13))],
        ["HEX 26 AF", "⌀29.8", "⌀13 THRU"],
    ),
    "a nut with bevelled corners": (
        [HEXAGON, hole([[0, 0, 12]], 13), around((13, 12), (18, 12), (18, 9)), around((13, 0), (18, 0), (18, 3))],
        ["HEX 26 AF", "⌀13 THRU"],
    ),
    "a nut on a flange": (
        [HEXAGON, rod(40, 4), hole([[0, 0, 12]], 13)],
        ["HEX 26 AF", "⌀40", "⌀13 THRU", "12"],
    ),
    "a wheel with twelve teeth": (WHEEL, ["12 TEETH EQ SP", "⌀60", "⌀12 THRU", "10"]),
    "a disc with sixteen round notches": (
        [rod(80, 6), hole([[0, 0, 6]], 20), {"name": "n", **hole([[40, 0, 6]], 8)}, ring(["n"], 16)],
        ["16 TEETH EQ SP", "⌀80", "⌀20 THRU", "R4"],
    ),
    "a knob with six round notches": (
        [rod(60, 10), hole([[0, 0, 10]], 12), {"name": "n", **hole([[30, 0, 10]], 12)}, ring(["n"], 6)],
        ["6 LOBES EQ SP", "⌀60", "⌀12 THRU", "R6"],
    ),
    "a bent bar": ([bent(8)], ["⌀8", "BEND R20 TO CL"]),
    "a bent pipe": ([bent(12), bent(9, "cut")], ["⌀12", "⌀9", "BEND R20 TO CL"]),
}


@pytest.mark.parametrize("name", PARTS)
def test_an_everyday_part_is_said_whole_and_once(name):
    steps, wanted = PARTS[name]
    draft = draft_model(model_of(recipe(*steps)), DraftWish(views="auto"))
    check = check_sheet(draft.document, draft.scene.solids)
    wrong = [(s.text, s.state) for s in check.statements if s.state not in ("proven", "reference")]
    assert (wrong, check.complete["free"], check.complete["redundant"]) == ([], [], [])
    report = layout_report(draft.scene, compile_sheet(draft.scene))
    assert (report["text_on_text"], report["text_on_line"], report["to_hidden"]) == (0, 0, 0), report["where"]
    texts = [a.text for a in draft.document.annotations if a.text]
    said = [next((t for t in texts if t == w or (w.startswith("R") and w in t)), None) for w in wanted]
    assert None not in said, (wanted, texts)
