"""Parts with known features: recipes in their own frame, and what must be found on them."""

import math
from typing import Any

Step = dict[str, Any]
R3 = math.sqrt(3)


def plane(origin: list[float], x: list[float], normal: list[float]) -> dict[str, Any]:
    return {"origin": origin, "x": x, "normal": normal}


def block(w: float, d: float, h: float, x: float = 0, y: float = 0, z: float = 0) -> Step:
    return {"op": "extrude", "profile": {"plane": "XY", "offset": z, "outer": {"rect": [x, y, w, d]}}, "distance": h}


def shape(outer: Any, z: float, distance: float, mode: str = "cut", **more: Any) -> Step:
    return {
        "op": "extrude",
        "profile": {"plane": plane([0, 0, z], [1, 0, 0], [0, 0, 1]), "outer": outer},
        "distance": distance,
        "mode": mode,
        **more,
    }


def dovetail(width: float, deep: float, top: float, sense: int) -> Step:
    """A dovetail at 60° along y about x = 40: cut into what ends at `top`, or standing on it."""
    half, wide, far = width / 2, width / 2 + deep / R3, top + sense * deep
    corners = [[40 - half, top], [40 + half, top], [40 + wide, far], [40 - wide, far]]
    return {
        "op": "extrude",
        "profile": {"plane": "XZ", "outer": {"polygon": corners}},
        "distance": -50,
        "mode": "add" if sense > 0 else "cut",
    }


def rod(d: float, h: float, z: float = 0, mode: str = "add") -> Step:
    return shape({"circle": [0, 0, d]}, z, h, mode)


def hole(at: list[list[float]], d: float, axis: Any = (0, 0, 1), **more: Any) -> Step:
    return {
        "op": "hole",
        "at": at,
        "axis": list(axis),
        "diameter": d,
        **({"through": True} if "depth" not in more else {}),
        **more,
    }


def turned(*points: tuple[float, float]) -> Step:
    """A body turned about z from (radius, height) corners."""
    path = [["M" if k == 0 else "L", *p] for k, p in enumerate(points)] + [["Z"]]
    axis = {"point": [0, 0, 0], "direction": [0, 0, 1]}
    return {"op": "revolve", "profile": {"plane": "XZ", "outer": {"path": path}}, "axis": axis, "angle": 360}


def ring(steps: list[str], count: int, at: tuple[float, float] = (0, 0), **more: Any) -> Step:
    return {"op": "ring", "steps": steps, "axis": {"point": [*at, 0], "direction": [0, 0, 1]}, "count": count, **more}


def near(*points: list[float]) -> dict[str, Any]:
    return {"near": list(points)}


def found(kind: str, count: int = 1, **keys: Any) -> dict[str, Any]:
    return {"kind": kind, "count": count, **keys}


def bore(count: int, d: float, at: list[list[float]] | None = None, **keys: Any) -> dict[str, Any]:
    through = "depth_mm" not in keys
    out = {"kind": "hole", "count": count, "diameter_mm": d, "through": through, **keys}
    return out | ({"positions_mm": at} if at else {})


def _at(radius: float, degrees: float, z: float) -> list[float]:
    """A place on a circle about z."""
    turn = math.radians(degrees)
    return [round(radius * math.cos(turn), 9), round(radius * math.sin(turn), 9), z]


def ball_race(r: float, z: float, tube: float) -> Step:
    """A half-round groove turned about z."""
    axis = {"point": [0, 0, 0], "direction": [0, 0, 1]}
    profile = {"plane": "XZ", "outer": {"circle": [r, z, 2 * tube]}}
    return {"op": "revolve", "profile": profile, "axis": axis, "angle": 360, "mode": "cut"}


PLATE = block(80, 50, 12)
CORNERS = [[10.0, 10.0, 12.0], [70.0, 10.0, 12.0], [10.0, 40.0, 12.0], [70.0, 40.0, 12.0]]
ARC = {
    "path": [
        ["M", 30, 0],
        ["A", 0, 30, 30, "ccw"],
        ["A", 0, 22, 4, "ccw"],
        ["A", 22, 0, 22, "cw"],
        ["A", 30, 0, 4, "ccw"],
        ["Z"],
    ]
}
ROUNDED = {
    "path": [
        ["M", 23, 15],
        ["L", 57, 15],
        ["A", 60, 18, 3, "ccw"],
        ["L", 60, 32],
        ["A", 57, 35, 3, "ccw"],
        ["L", 23, 35],
        ["A", 20, 32, 3, "ccw"],
        ["L", 20, 18],
        ["A", 23, 15, 3, "ccw"],
        ["Z"],
    ]
}


def _thread_profile(r: float, depth: float, width: float) -> dict[str, Any]:
    """A trapezoid in the axial plane whose foot reaches 0.2 mm into the core."""
    path = [
        ["M", r - 0.2, -width / 2],
        ["L", r + depth, -width / 4],
        ["L", r + depth, width / 4],
        ["L", r - 0.2, width / 2],
        ["Z"],
    ]
    return {"plane": plane([0, 0, 5], [1, 0, 0], [0, -1, 0]), "outer": {"path": path}}


def _bracket(w: float, t: float, r: float, a: float, b: float) -> Step:
    """A sheet bent by 90°: legs a and b over the outside, inner radius r."""
    o = r + t
    path = [
        ["M", 0, o],
        ["A", o, 0, o, "ccw"],
        ["L", a, 0],
        ["L", a, t],
        ["L", o, t],
        ["A", t, o, r, "cw"],
        ["L", t, b],
        ["L", 0, b],
        ["Z"],
    ]
    return {"op": "extrude", "profile": {"plane": "XZ", "outer": {"path": path}}, "distance": w}


def _spline(teeth: int, root: float, tip: float, width: float, length: float) -> list[Step]:
    tooth = {
        "op": "extrude",
        "name": "tooth",
        "profile": {"plane": "XY", "outer": {"rect": [0, -width / 2, tip, width]}},
        "distance": length,
    }
    keep = {
        "op": "extrude",
        "profile": {"plane": "XY", "outer": {"circle": [0, 0, 2 * tip]}},
        "distance": length,
        "mode": "keep",
    }
    return [rod(2 * root, length), tooth, ring(["tooth"], teeth), keep]


GROOVED = turned((0, 0), (15, 0), (15, 20), (12, 20), (12, 24), (15, 24), (15, 50), (0, 50))
SHAFT = rod(40, 80)


def _on_shaft(outer: Any, depth: float) -> Step:
    """A cut from the side of a shaft of ⌀40 along z: the profile's x runs along the shaft."""
    side = plane([20, 0, 0], [0, 0, 1], [1, 0, 0])
    return {"op": "extrude", "profile": {"plane": side, "outer": outer}, "distance": -depth, "mode": "cut"}


PARTS: dict[str, tuple[list[Step], list[dict[str, Any]]]] = {
    "plain plate": ([PLATE], []),
    "counterbored corners": (
        [PLATE, hole(CORNERS, 6.6, counterbore={"diameter": 11, "depth": 6.5})],
        [bore(4, 6.6, CORNERS, axis=[0, 0, 1], counterbore={"diameter_mm": 11, "depth_mm": 6.5}, pattern="grid")],
    ),
    "countersunk row": (
        [PLATE, hole([[10, 25, 12], [30, 25, 12], [50, 25, 12]], 5, countersink={"diameter": 10, "angle": 90})],
        [bore(3, 5, axis=[0, 0, 1], countersink={"diameter_mm": 10, "angle_deg": 90}, pattern="linear")],
    ),
    "blind flat and drilled": (
        [PLATE, hole([[20, 25, 12]], 10, depth=6, point=0), hole([[50, 25, 12]], 6.8, depth=7, point=118)],
        [
            bore(1, 10, [[20, 25, 12]], axis=[0, 0, 1], depth_mm=6, bottom="flat"),
            bore(1, 6.8, [[50, 25, 12]], axis=[0, 0, 1], depth_mm=7, bottom="cone", point_angle_deg=118),
        ],
    ),
    "seats at both ends": (
        [
            PLATE,
            {
                **hole([[40, 25, 12]], 8, counterbore={"diameter": 16, "depth": 4}),
                "countersink-far": {"diameter": 12, "angle": 90},
            },
        ],
        [
            bore(
                1,
                8,
                counterbore={"diameter_mm": 16, "depth_mm": 4},
                countersink_far={"diameter_mm": 12, "angle_deg": 90},
            )
        ],
    ),
    "stacked seats": (
        [
            block(40, 40, 30),
            hole([[20, 20, 30]], 8),
            hole([[20, 20, 30]], 14, depth=12, point=0),
            hole([[20, 20, 30]], 20, depth=5, point=0),
        ],
        [bore(1, 8, counterbore={"diameter_mm": 20, "depth_mm": 5})],
    ),
    "hole ring": (
        [rod(80, 10), {"name": "h", **hole([[30, 0, 10]], 6)}, ring(["h"], 8)],
        [bore(8, 6, pattern="circular"), found("shaft", diameter_mm=80, height_mm=10)],
    ),
    "ring with one missing": (
        [rod(80, 10), {"name": "h", **hole([[30, 0, 10]], 6)}, ring(["h"], 8, skip=[3])],
        [bore(7, 6, pattern="circular"), found("shaft", diameter_mm=80)],
    ),
    "ring with one of another size": (
        [rod(80, 10), {"name": "h", **hole([[30, 0, 10]], 6)}, ring(["h"], 9), hole([[30, 0, 10]], 8)],
        [bore(8, 6, pattern="circular"), bore(1, 8), found("shaft", diameter_mm=80)],
    ),
    "holes on an arc": (
        [rod(80, 10), hole([_at(30, a, 10) for a in (20, 35, 50, 65)], 6)],
        [bore(4, 6), found("shaft", diameter_mm=80)],
    ),
    "holes at odd angles around a bore": (
        [rod(80, 10), hole([[0, 0, 10]], 20), hole([_at(30, a, 10) for a in (0, 33, 75, 200)], 6)],
        [bore(4, 6), bore(1, 20), found("shaft", diameter_mm=80)],
    ),
    "staggered holes": (
        [PLATE, hole([[10, 10, 12], [30, 10, 12], [50, 10, 12], [20, 20, 12], [40, 20, 12], [60, 20, 12]], 4)],
        [bore(6, 4, pattern="staggered")],
    ),
    "cross drilled": (
        [block(60, 40, 40), hole([[30, 20, 40]], 12), hole([[60, 20, 20]], 8, axis=(1, 0, 0))],
        [bore(1, 12), bore(1, 8)],
    ),
    "hole from a cylinder": (
        [rod(50, 60), hole([[25, 0, 30]], 8, axis=(1, 0, 0))],
        [bore(1, 8), found("shaft", diameter_mm=50, height_mm=60)],
    ),
    "hole in a slope": (
        [
            {
                "op": "extrude",
                "profile": {"plane": "XZ", "outer": {"polygon": [[0, 0], [60, 0], [60, 20], [0, 50]]}},
                "distance": -40,
            },
            hole([[30, 20, 35]], 10),
        ],
        [bore(1, 10)],
    ),
    "tube": (
        [rod(50, 30), hole([[0, 0, 30]], 40)],
        [bore(1, 40), found("shaft", diameter_mm=50, height_mm=30), found("wall", thickness_mm=5)],
    ),
    "bore with a groove": (
        [
            rod(50, 40),
            hole([[0, 0, 40]], 20),
            {
                "op": "revolve",
                "profile": {"plane": "XZ", "outer": {"rect": [8, 18, 5, 4]}},
                "axis": {"point": [0, 0, 0], "direction": [0, 0, 1]},
                "angle": 360,
                "mode": "cut",
            },
        ],
        [
            bore(1, 20),
            found("groove", on="bore", width_mm=4, depth_mm=3, diameter_mm=26),
            found("shaft", diameter_mm=50),
        ],
    ),
    "shaft groove": (
        [GROOVED],
        [
            found("groove", on="shaft", width_mm=4, depth_mm=3, diameter_mm=24),
            found("shaft", diameter_mm=30, height_mm=20),
            found("shaft", diameter_mm=30, height_mm=26),
        ],
    ),
    "two equal grooves": (
        [
            turned(
                (0, 0),
                (15, 0),
                (15, 10),
                (12, 10),
                (12, 14),
                (15, 14),
                (15, 30),
                (12, 30),
                (12, 34),
                (15, 34),
                (15, 50),
                (0, 50),
            )
        ],
        [
            found("groove", 2, on="shaft", width_mm=4, depth_mm=3, diameter_mm=24),
            found("shaft", 1, height_mm=10),
            found("shaft", 1, height_mm=16),
            found("shaft", 1, height_mm=16),
        ],
    ),
    "relief at a shoulder": (
        [turned((0, 0), (25, 0), (25, 10), (9, 10), (9, 13), (10, 13), (10, 50), (0, 50))],
        [
            found("groove", on="shaft", width_mm=3, depth_mm=1, diameter_mm=18, relief=True),
            found("shaft", diameter_mm=50),
            found("shaft", diameter_mm=20),
        ],
    ),
    "round groove in a bore": (
        [rod(60, 30), hole([[0, 0, 30]], 30), ball_race(15, 12, 2)],
        [
            found("groove", on="bore", bottom="round", diameter_mm=34, depth_mm=2),
            bore(1, 30),
            found("shaft", diameter_mm=60),
        ],
    ),
    "round groove in a face": (
        [rod(60, 30), ball_race(20, 30.5, 2)],
        [
            found("groove", on="face", bottom="round", diameter_mm=40, depth_mm=1.5),
            found("shaft", diameter_mm=60),
        ],
    ),
    "round groove": (
        [
            rod(30, 40),
            {
                "op": "revolve",
                "profile": {"plane": "XZ", "outer": {"circle": [15, 20, 4]}},
                "axis": {"point": [0, 0, 0], "direction": [0, 0, 1]},
                "angle": 360,
                "mode": "cut",
            },
        ],
        [
            found("groove", on="shaft", bottom="round", diameter_mm=26),
            found("shaft", diameter_mm=30),
            found("shaft", diameter_mm=30),
        ],
    ),
    "vee groove": (
        [turned((0, 0), (20, 0), (20, 10), (15, 15), (20, 20), (20, 30), (0, 30))],
        [
            found("groove", on="shaft", bottom="vee", diameter_mm=30, width_mm=10, angle_deg=90),
            found("shaft", diameter_mm=40),
            found("shaft", diameter_mm=40),
        ],
    ),
    "face groove": (
        [rod(60, 12), shape({"circle": [0, 0, 44]}, 12, -2), rod(36, 2, 10)],
        [found("groove", on="face", width_mm=4, depth_mm=2, diameter_mm=40), found("shaft", diameter_mm=60)],
    ),
    "straight slot through": (
        [PLATE, shape({"slot": [30, 25, 50, 25, 8]}, 12, -12)],
        [found("slot", width_mm=8, centres_mm=20, through=True)],
    ),
    "straight slot blind": (
        [PLATE, shape({"slot": [30, 25, 50, 25, 8]}, 12, -5)],
        [found("slot", width_mm=8, centres_mm=20, depth_mm=5, through=False)],
    ),
    "three slots": (
        [
            PLATE,
            {"name": "s", **shape({"slot": [15, 15, 15, 35, 6]}, 12, -12)},
            {"op": "row", "steps": ["s"], "direction": [1, 0, 0], "pitch": 20, "count": 3},
        ],
        [found("slot", 3, width_mm=6, centres_mm=20, through=True, pattern="linear")],
    ),
    "arc slot": (
        [rod(90, 8), shape(ARC, 8, -8)],
        [found("arc-slot", width_mm=8, radius_mm=26, sweep_deg=90, through=True), found("shaft", diameter_mm=90)],
    ),
    "blind arc slot": (
        [rod(90, 8), shape(ARC, 8, -3)],
        [found("arc-slot", width_mm=8, radius_mm=26, sweep_deg=90, depth_mm=3), found("shaft", diameter_mm=90)],
    ),
    "two arc slots": (
        [rod(90, 8), {"name": "a", **shape(ARC, 8, -8)}, ring(["a"], 2)],
        [found("arc-slot", 2, width_mm=8, radius_mm=26, sweep_deg=90), found("shaft", diameter_mm=90)],
    ),
    "open slot": (
        [PLATE, shape({"rect": [30, 0, 10, 50]}, 12, -5)],
        [found("slot", width_mm=10, depth_mm=5, length_mm=50, open=True)],
    ),
    "notch": (
        [PLATE, shape({"path": [["M", 80, 20], ["L", 65, 20], ["A", 65, 30, 5, "cw"], ["L", 80, 30], ["Z"]]}, 12, -12)],
        [found("slot", width_mm=10, open=True, through=True, length_mm=20)],
    ),
    "pocket": (
        [PLATE, shape(ROUNDED, 12, -5)],
        [
            found("pocket", depth_mm=5, corner_radius_mm=3, width_mm=20, length_mm=40, outline="rectangle", islands=0),
            found("fillet", 4, radius_mm=3, convex=False),
        ],
    ),
    "sharp pocket": (
        [PLATE, shape({"rect": [20, 15, 40, 20]}, 12, -5)],
        [found("pocket", depth_mm=5, corner_radius_mm=None, width_mm=20, length_mm=40)],
    ),
    "pocket with an island": (
        [PLATE, shape({"rect": [20, 10, 40, 30]}, 12, -5), shape({"circle": [40, 25, 10]}, 7, 5, "add")],
        [found("pocket", depth_mm=5, islands=1), found("boss", diameter_mm=10, height_mm=5)],
    ),
    "window": (
        [PLATE, shape({"rect": [20, 15, 40, 20]}, 12, -12)],
        [found("pocket", depth_mm=None, through=True, width_mm=20, length_mm=40)],
    ),
    "hexagon pocket": (
        [PLATE, shape({"regular": {"centre": [40, 25], "sides": 6, "across-flats": 17}}, 12, -6)],
        [found("pocket", outline="polygon", sides=6, across_flats_mm=17, across_corners_mm=34 / R3, depth_mm=6)],
    ),
    "pocket row": (
        [
            PLATE,
            {"name": "p", **shape({"rect": [8, 15, 12, 20]}, 12, -5)},
            {"op": "row", "steps": ["p"], "direction": [1, 0, 0], "pitch": 20, "count": 3},
        ],
        [found("pocket", 3, depth_mm=5, width_mm=12, length_mm=20, pattern="linear")],
    ),
    "boss": ([PLATE, shape({"circle": [40, 25, 20]}, 12, 15, "add")], [found("boss", diameter_mm=20, height_mm=15)]),
    "boss with hole": (
        [PLATE, shape({"circle": [40, 25, 20]}, 12, 15, "add"), hole([[40, 25, 27]], 8, depth=18, point=118)],
        [
            found("boss", diameter_mm=20, height_mm=15),
            bore(1, 8, [[40, 25, 27]], depth_mm=18, bottom="cone", axis=[0, 0, 1]),
        ],
    ),
    "four bosses": (
        [
            PLATE,
            {"name": "b", **shape({"circle": [10, 10, 8]}, 12, 6, "add")},
            {"op": "grid", "steps": ["b"], "directions": [[1, 0, 0], [0, 1, 0]], "pitch": [60, 30], "count": [2, 2]},
        ],
        [found("boss", 4, diameter_mm=8, height_mm=6, pattern="grid")],
    ),
    "square boss": (
        [PLATE, shape({"rect": [30, 15, 20, 20]}, 12, 8, "add")],
        [found("boss", height_mm=8, width_mm=20, length_mm=20, outline="rectangle")],
    ),
    "hexagon boss": (
        [PLATE, shape({"regular": {"centre": [40, 25], "sides": 6, "across-corners": 20}}, 12, 8, "add")],
        [found("boss", height_mm=8, sides=6, across_corners_mm=20, across_flats_mm=10 * R3)],
    ),
    "drafted boss": (
        [PLATE, shape({"circle": [40, 25, 20]}, 12, 10, "add", draft=-3)],
        [found("boss", diameter_mm=20, height_mm=10, draft_deg=3)],
    ),
    "lug": (
        [
            PLATE,
            {
                "op": "extrude",
                "profile": {
                    "plane": plane([0, 21, 0], [1, 0, 0], [0, -1, 0]),
                    "outer": {"path": [["M", 30, 12], ["L", 50, 12], ["L", 50, 30], ["A", 30, 30, 10, "ccw"], ["Z"]]},
                },
                "distance": -8,
            },
            hole([[40, 21, 30]], 8, axis=(0, -1, 0)),
        ],
        [found("lug", thickness_mm=8, height_mm=28, hole_diameter_mm=8), bore(1, 8)],
    ),
    "keyway with round ends": (
        [SHAFT, _on_shaft({"slot": [20, 0, 50, 0, 12]}, 5)],
        [
            found("keyway", form="parallel", on="shaft", width_mm=12, length_mm=42, from_axis_mm=15),
            found("shaft", diameter_mm=40),
        ],
    ),
    "keyway to the end": (
        [SHAFT, _on_shaft({"rect": [50, -6, 30, 12]}, 5)],
        [
            found("keyway", form="parallel", on="shaft", width_mm=12, length_mm=30, from_axis_mm=15),
            found("shaft", diameter_mm=40),
        ],
    ),
    "keyway with straight ends": (
        [SHAFT, _on_shaft({"rect": [20, -6, 30, 12]}, 5)],
        [
            found("keyway", form="parallel", on="shaft", width_mm=12, length_mm=30, from_axis_mm=15, ends="straight"),
            found("shaft", diameter_mm=40),
        ],
    ),
    "keyway in a bore": (
        [rod(60, 20), hole([[0, 0, 20]], 24), shape({"rect": [0, -4, 15.3, 8]}, 20, -20)],
        [
            bore(1, 24),
            found("keyway", form="parallel", on="bore", width_mm=8, from_axis_mm=15.3, length_mm=20),
            found("shaft", diameter_mm=60),
        ],
    ),
    "segment keyway": (
        [
            rod(24, 50),
            {
                "op": "extrude",
                "profile": {"plane": plane([0, 0, 0], [1, 0, 0], [0, -1, 0]), "outer": {"circle": [15, 25, 16]}},
                "symmetric": 5,
                "mode": "cut",
            },
        ],
        [found("keyway", form="segment", width_mm=5, radius_mm=8, from_axis_mm=7), found("shaft", diameter_mm=24)],
    ),
    "spline": (
        _spline(8, 16, 20, 6, 40),
        [found("spline", teeth=8, major_mm=40, minor_mm=32, tooth_width_mm=6, length_mm=40, internal=False)],
    ),
    "rounded edges": (
        [PLATE, {"op": "round", "edges": {"parallel": [0, 0, 1]}, "radius": 6}],
        [found("fillet", 4, radius_mm=6, convex=True)],
    ),
    "round chain": (
        [
            PLATE,
            {"op": "round", "edges": {"parallel": [0, 0, 1]}, "radius": 6},
            {"op": "round", "edges": {"on": {"normal": [0, 0, 1], "at": 12}}, "radius": 2},
        ],
        [
            found("fillet", 4, radius_mm=6, convex=True, chains=4),
            found("fillet", 8, radius_mm=2, convex=True, chains=1),
        ],
    ),
    "chamfers": (
        [PLATE, {"op": "chamfer", "edges": {"parallel": [0, 0, 1]}, "legs": [2, 2]}],
        [found("chamfer", 4, legs_mm=[2, 2], angle_deg=45)],
    ),
    "unequal chamfer": (
        [PLATE, {"op": "chamfer", "edges": near([40, 0, 12]), "legs": [3, 1.5]}],
        [found("chamfer", 1, legs_mm=[3, 1.5], angle_deg=math.degrees(math.atan(0.5)))],
    ),
    "partial chamfer": (
        [
            PLATE,
            {
                "op": "extrude",
                "profile": {
                    "plane": plane([20, 0, 12], [0, 1, 0], [1, 0, 0]),
                    "outer": {"polygon": [[0, 0], [2, 0], [0, -2]]},
                },
                "distance": 30,
                "mode": "cut",
            },
        ],
        [found("chamfer", 1, legs_mm=[2, 2], partial=1, partial_lengths_mm=[30])],
    ),
    "chamfered shaft end": (
        [rod(30, 40), {"op": "chamfer", "edges": near([15, 0, 40]), "legs": [2, 2]}],
        [found("chamfer", 1, legs_mm=[2, 2]), found("shaft", diameter_mm=30)],
    ),
    "stepped shaft": (
        [turned((0, 0), (20, 0), (20, 10), (12, 10), (12, 40), (8, 40), (8, 60), (0, 60))],
        [
            found("shaft", diameter_mm=40, height_mm=10),
            found("shaft", diameter_mm=24, height_mm=30),
            found("shaft", diameter_mm=16, height_mm=20),
        ],
    ),
    "taper": (
        [turned((0, 0), (10, 0), (10, 10), (20, 50), (20, 60), (0, 60))],
        [
            found("taper", large_mm=40, small_mm=20, length_mm=40, internal=False),
            found("shaft", diameter_mm=20),
            found("shaft", diameter_mm=40),
        ],
    ),
    "conical bore": (
        [
            rod(50, 30),
            {
                "op": "revolve",
                "profile": {"plane": "XZ", "outer": {"polygon": [[0, 0], [8, 0], [14, 30], [0, 30]]}},
                "axis": {"point": [0, 0, 0], "direction": [0, 0, 1]},
                "angle": 360,
                "mode": "cut",
            },
        ],
        [found("taper", large_mm=28, small_mm=16, length_mm=30, internal=True), found("shaft", diameter_mm=50)],
    ),
    "ball end": (
        [
            rod(16, 40),
            {
                "op": "revolve",
                "profile": {"plane": "XZ", "outer": {"path": [["M", 0, 30], ["A", 0, 54, 12, "ccw"], ["Z"]]}},
                "axis": {"point": [0, 0, 0], "direction": [0, 0, 1]},
                "angle": 360,
            },
        ],
        [found("sphere", diameter_mm=24, convex=True), found("shaft", diameter_mm=16)],
    ),
    "rib": (
        [
            block(60, 40, 6),
            {"op": "extrude", "profile": {"plane": "XY", "outer": {"rect": [0, 0, 6, 40]}}, "distance": 46},
            {
                "op": "rib",
                "profile": {"plane": plane([0, 20, 0], [1, 0, 0], [0, -1, 0]), "line": [[6, 36], [36, 6]]},
                "thickness": 5,
                "direction": [-0.7, 0, -0.7],
            },
        ],
        [found("rib", thickness_mm=5, web=False)],
    ),
    "web": (
        [block(60, 40, 6), block(6, 40, 36), block(6, 40, 36, 54), block(48, 4, 20, 6, 18, 6)],
        [found("rib", thickness_mm=4, web=True)],
    ),
    "three ribs": (
        [
            block(90, 30, 5),
            {"name": "r", **block(4, 20, 15, 10, 5, 5)},
            {"op": "row", "steps": ["r"], "direction": [1, 0, 0], "pitch": 25, "count": 3},
        ],
        [found("rib", 3, height_mm=15, thickness_mm=4, length_mm=20, pattern="linear")],
    ),
    "shell": (
        [block(60, 40, 30), {"op": "shell", "open": {"normal": [0, 0, 1]}, "thickness": 2}],
        [found("pocket", depth_mm=28, width_mm=36, length_mm=56), found("wall", thickness_mm=2)],
    ),
    "drafted block": (
        [{**block(60, 40, 20), "draft": -2}],
        [found("draft", angle_deg=2)],
    ),
    "drafted pocket": (
        [PLATE, shape({"rect": [20, 10, 40, 30]}, 12, -6, draft=-3)],
        [found("draft", angle_deg=3), found("pocket", depth_mm=6)],
    ),
    "bent bracket": (
        [_bracket(30, 2, 3, 40, 30)],
        [found("bend", inner_radius_mm=3, angle_deg=90, thickness_mm=2), found("wall", thickness_mm=2)],
    ),
    "male thread": (
        [
            rod(17, 40),
            {
                "op": "sweep",
                "profile": _thread_profile(8.5, 1.5, 1.6),
                "path": {
                    "helix": {
                        "axis": {"point": [0, 0, 5], "direction": [0, 0, 1]},
                        "pitch": 2.5,
                        "turns": 8,
                        "diameter": 17,
                    }
                },
            },
        ],
        [
            found("thread", internal=False, pitch_mm=2.5, major_mm=20, minor_mm=17, hand="right", starts=1),
            found("shaft", diameter_mm=17, height_mm=40),
        ],
    ),
    "left-hand thread": (
        [
            rod(17, 40),
            {
                "op": "sweep",
                "profile": _thread_profile(8.5, 1.5, 1.6),
                "path": {
                    "helix": {
                        "axis": {"point": [0, 0, 5], "direction": [0, 0, 1]},
                        "pitch": 2.5,
                        "turns": 8,
                        "diameter": 17,
                        "hand": "left",
                    }
                },
            },
        ],
        [
            found("thread", internal=False, pitch_mm=2.5, major_mm=20, minor_mm=17, hand="left", starts=1),
            found("shaft", diameter_mm=17, height_mm=40),
        ],
    ),
    "hole broken by a slot": (
        [block(60, 40, 30), hole([[60, 20, 15]], 10, axis=(1, 0, 0)), shape({"rect": [25, 0, 10, 40]}, 30, -20)],
        [bore(1, 10), found("slot", width_mm=10, depth_mm=20, open=True)],
    ),
}

_RIB_BODY = [
    block(60, 40, 6),
    {"op": "extrude", "profile": {"plane": "XY", "outer": {"rect": [0, 0, 6, 40]}}, "distance": 46},
    {
        "op": "rib",
        "profile": {"plane": plane([0, 20, 0], [1, 0, 0], [0, -1, 0]), "line": [[6, 36], [36, 6]]},
        "thickness": 5,
        "direction": [-0.7, 0, -0.7],
    },
]
_BOSS = shape({"circle": [40, 25, 20]}, 12, 15, "add")
_SLOT = {"slot": [30, 25, 50, 25, 8]}
_CHAMFERED = {"op": "chamfer", "edges": near([-20, 0, 80]), "legs": [2, 2]}
_HELIX = {"axis": {"point": [0, 0, 5], "direction": [0, 0, 1]}, "pitch": 2.5, "turns": 8, "diameter": 20}


def rounded(radius: float, **edges: Any) -> Step:
    return {"op": "round", "edges": edges, "radius": radius}


def _start(k: int) -> Step:
    at = 5 + 2.5 * k
    profile = {**_thread_profile(8.5, 1.5, 1.6), "plane": plane([0, 0, at], [1, 0, 0], [0, -1, 0])}
    return {
        "op": "sweep",
        "profile": profile,
        "path": {
            "helix": {"axis": {"point": [0, 0, at], "direction": [0, 0, 1]}, "pitch": 5, "turns": 4, "diameter": 17}
        },
    }


#: The same kinds with rounds, chamfers and neighbours that hide their plain edges.
PARTS |= {
    "pocket with a rounded floor": (
        [PLATE, shape(ROUNDED, 12, -5), rounded(1, on={"normal": [0, 0, 1], "at": 7})],
        [
            found("pocket", depth_mm=5, corner_radius_mm=3, width_mm=20, length_mm=40),
            found("fillet", 8, radius_mm=1, convex=False),
            found("fillet", 4, radius_mm=3),
        ],
    ),
    "pocket with a rounded mouth": (
        [PLATE, shape(ROUNDED, 12, -5), rounded(1, near=[[40, 15, 12]])],
        [
            found("pocket", depth_mm=5, corner_radius_mm=3, width_mm=20, length_mm=40),
            found("fillet", 8, radius_mm=1, convex=True),
            found("fillet", 4, radius_mm=3),
        ],
    ),
    "pocket with a chamfered mouth": (
        [
            PLATE,
            shape({"rect": [20, 15, 40, 20]}, 12, -5),
            {"op": "chamfer", "edges": near([40, 15, 12], [40, 35, 12], [20, 25, 12], [60, 25, 12]), "legs": [1, 1]},
        ],
        [found("pocket", depth_mm=5, width_mm=20, length_mm=40), found("chamfer", 4, legs_mm=[1, 1])],
    ),
    "boss with a fillet at its foot": (
        [PLATE, _BOSS, rounded(2, near=[[30, 25, 12]])],
        [found("boss", diameter_mm=20, height_mm=15), found("fillet", radius_mm=2, convex=False)],
    ),
    "boss with a chamfered top": (
        [PLATE, _BOSS, {"op": "chamfer", "edges": near([30, 25, 27]), "legs": [1, 1]}],
        [found("boss", diameter_mm=20, height_mm=15), found("chamfer", legs_mm=[1, 1])],
    ),
    "chamfered slot": (
        [PLATE, shape(_SLOT, 12, -12), {"op": "chamfer", "edges": near([40, 21, 12]), "legs": [0.5, 0.5]}],
        [found("slot", width_mm=8, centres_mm=20, through=True), found("chamfer", 4, legs_mm=[0.5, 0.5], chains=1)],
    ),
    "slot with a rounded floor": (
        [PLATE, shape(_SLOT, 12, -5), rounded(1, near=[[40, 21, 7]])],
        [
            found("slot", width_mm=8, centres_mm=20, depth_mm=5, through=False),
            found("fillet", 4, radius_mm=1, convex=False),
        ],
    ),
    "groove with fillets": (
        [GROOVED, rounded(0.5, near=[[-12, 0, 20], [-12, 0, 24]])],
        [
            found("groove", on="shaft", width_mm=4, depth_mm=3, diameter_mm=24),
            found("fillet", 2, radius_mm=0.5),
            found("shaft", height_mm=20),
            found("shaft", height_mm=26),
        ],
    ),
    "groove with chamfers": (
        [GROOVED, {"op": "chamfer", "edges": near([-15, 0, 20], [-15, 0, 24]), "legs": [0.5, 0.5]}],
        [
            found("groove", on="shaft", width_mm=4, depth_mm=3, diameter_mm=24),
            found("chamfer", 2, legs_mm=[0.5, 0.5]),
            found("shaft", height_mm=19.5),
            found("shaft", height_mm=25.5),
        ],
    ),
    "rib with fillets": (
        [*_RIB_BODY, rounded(1, near=[[21, 17.5, 6], [21, 22.5, 6], [6, 17.5, 21], [6, 22.5, 21]])],
        [found("rib", thickness_mm=5, web=False), found("fillet", 4, radius_mm=1, convex=False)],
    ),
    "open slot with fillets": (
        [PLATE, shape({"rect": [30, 0, 10, 50]}, 12, -5), rounded(1.5, near=[[30, 25, 7], [40, 25, 7]])],
        [
            found("slot", width_mm=10, depth_mm=5, length_mm=50, open=True),
            found("fillet", 2, radius_mm=1.5, convex=False),
        ],
    ),
    "keyway in a chamfered shaft": (
        [SHAFT, _CHAMFERED, _on_shaft({"rect": [50, -6, 30, 12]}, 5)],
        [
            found("keyway", form="parallel", on="shaft", width_mm=12, from_axis_mm=15, length_mm=30),
            found("chamfer", legs_mm=[2, 2]),
            found("shaft", diameter_mm=40),
        ],
    ),
    "tray with rounded corners": (
        [
            block(60, 40, 30),
            rounded(6, parallel=[0, 0, 1]),
            {"op": "shell", "open": {"normal": [0, 0, 1]}, "thickness": 2},
        ],
        [
            found("pocket", depth_mm=28, width_mm=36, length_mm=56, corner_radius_mm=4),
            found("fillet", 4, radius_mm=4, convex=False),
            found("fillet", 4, radius_mm=6, convex=True),
            found("wall", thickness_mm=2),
        ],
    ),
    "ring of bosses with holes": (
        [
            rod(100, 10),
            {"name": "b", **shape({"circle": [35, 0, 16]}, 10, 8, "add")},
            {"name": "h", **hole([[35, 0, 18]], 6)},
            ring(["b", "h"], 5),
        ],
        [
            found("boss", 5, diameter_mm=16, height_mm=8, pattern="circular"),
            bore(5, 6, pattern="circular"),
            found("shaft", diameter_mm=100),
        ],
    ),
    "bolt blank": (
        [
            {
                "op": "extrude",
                "profile": {"plane": "XY", "outer": {"regular": {"centre": [0, 0], "sides": 6, "across-flats": 24}}},
                "distance": 10,
            },
            rod(16, 50, 10),
        ],
        [found("boss", diameter_mm=16, height_mm=50)],
    ),
    "inner spline": (
        [
            rod(60, 30),
            rod(32, 30, 0, "cut"),
            {
                "op": "extrude",
                "name": "t",
                "profile": {"plane": "XY", "outer": {"rect": [0, -3, 19, 6]}},
                "distance": 30,
                "mode": "cut",
            },
            ring(["t"], 8),
        ],
        [found("spline", internal=True, teeth=8, minor_mm=32), found("shaft", diameter_mm=60)],
    ),
    "hub with four ribs": (
        [rod(80, 6), rod(30, 40), {"name": "r", **block(25, 4, 20, 13, -2, 6)}, ring(["r"], 4)],
        [found("rib", 4, thickness_mm=4), found("shaft", diameter_mm=80), found("shaft", diameter_mm=30, height_mm=34)],
    ),
    "two-start thread": (
        [rod(17, 40), _start(0), _start(1)],
        [
            found("thread", internal=False, pitch_mm=2.5, starts=2, major_mm=20, minor_mm=17, hand="right"),
            found("shaft", diameter_mm=17),
        ],
    ),
    "inner thread": (
        [
            rod(40, 30),
            hole([[0, 0, 30]], 20),
            {
                "op": "sweep",
                "mode": "cut",
                "path": {"helix": _HELIX},
                "profile": {
                    "plane": plane([0, 0, 5], [1, 0, 0], [0, -1, 0]),
                    "outer": {"path": [["M", 9.8, -0.8], ["L", 11.5, -0.4], ["L", 11.5, 0.4], ["L", 9.8, 0.8], ["Z"]]},
                },
            },
        ],
        [
            found("thread", internal=True, pitch_mm=2.5, major_mm=23, minor_mm=20, starts=1, hand="right"),
            bore(1, 20),
            found("shaft", diameter_mm=40),
        ],
    ),
    "hole through a pocket": (
        [PLATE, shape({"rect": [20, 10, 40, 30]}, 12, -5), hole([[40, 25, 7]], 8)],
        [found("pocket", depth_mm=5, width_mm=30, length_mm=40), bore(1, 8)],
    ),
    "flange": (
        [
            turned((10, 0), (40, 0), (40, 8), (20, 8), (20, 40), (10, 40)),
            {"name": "h", **hole([[30, 0, 8]], 7)},
            ring(["h"], 6),
        ],
        [
            bore(6, 7, pattern="circular"),
            bore(1, 20),
            found("shaft", diameter_mm=80, height_mm=8),
            found("shaft", diameter_mm=40, height_mm=32),
        ],
    ),
    "crossing blind bores": (
        [
            block(60, 60, 60),
            hole([[30, 30, 60]], 16, depth=45, point=118),
            hole([[60, 30, 30]], 10, axis=(1, 0, 0), depth=40, point=118),
        ],
        [
            bore(1, 16, [[30, 30, 60]], depth_mm=45, bottom="cone", axis=[0, 0, 1]),
            bore(1, 10, [[60, 30, 30]], depth_mm=40, axis=[1, 0, 0]),
        ],
    ),
    "dovetail slot": (
        [block(80, 50, 30), dovetail(20, 8, top=30, sense=-1)],
        [found("dovetail", width_mm=20, angle_deg=60, depth_mm=8, length_mm=50, positions_mm=[[40, 25, 30]])],
    ),
    "dovetail tongue": (
        [block(80, 50, 20), dovetail(20, 8, top=20, sense=1)],
        [found("dovetail", width_mm=20, angle_deg=60, height_mm=8, length_mm=50, positions_mm=[[40, 25, 20]])],
    ),
    "drafted block on a plate": (
        [PLATE, shape({"rect": [20, 15, 40, 20]}, 12, 10, "add", draft=-5)],
        [found("boss", height_mm=10, draft_deg=5)],
    ),
}


if __name__ == "__main__":  # the recipes as files, for `./canonis bench draft FOLDER/*.json`
    import json
    import sys
    from pathlib import Path

    for name, (steps, *_) in PARTS.items():
        parts = [{"name": f"s{k}", **s} for k, s in enumerate(steps)]
        text = json.dumps({"schema": "canonis.recipe/1", "unit": "mm", "name": "trial", "density": 1.0, "steps": parts})
        Path(sys.argv[1]).mkdir(parents=True, exist_ok=True)
        Path(sys.argv[1], f"{name.replace(' ', '-').replace('/', '-')}.json").write_text(text)
