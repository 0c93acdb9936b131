"""Parts that are hard on whoever draws them: many holes, free-form surfaces, a modelled thread, a housing."""

import math
from typing import Any

__all__ = ["HEAVY", "plate_of_holes"]

Step = dict[str, Any]


def _recipe(name: str, *steps: Step) -> dict[str, Any]:
    numbered = [{"name": f"step {k}", **s} for k, s in enumerate(steps, start=1)]
    return {"schema": "canonis.recipe/1", "unit": "mm", "name": name, "density": 2.7, "steps": numbered}


def plate_of_holes(count: int) -> dict[str, Any]:
    """A plate with so many holes of three sizes."""
    side = math.ceil(math.sqrt(count))
    holes = [{"circle": [10 + 20 * (k % side), 10 + 20 * (k // side), 8 + 2 * (k % 3)]} for k in range(count)]
    profile = {"plane": "XY", "outer": {"rect": [0, 0, 20 * side, 20 * side]}, "holes": holes}
    return _recipe(f"plate {count}", {"op": "extrude", "profile": profile, "distance": 12})


def _blade(z: float, w: float, d: float, turn: float) -> Step:
    """A cross-section of a twisted blade: a closed outline of two arcs, turned about the z axis."""
    c, s = math.cos(math.radians(turn)), math.sin(math.radians(turn))
    r = round((w * w / 4 + d * d) / (2 * d), 6)
    return {
        "plane": {"origin": [0, 0, z], "x": [c, s, 0], "normal": [0, 0, 1]},
        "outer": {"path": [["M", -w / 2, 0], ["A", w / 2, 0, r, "cw"], ["A", -w / 2, 0, r * 1.4, "cw"], ["Z"]]},
    }


def _bottle() -> dict[str, Any]:
    """A vessel with a waist, shelled and rounded all over: free-form walls inside and out."""

    def at(inset: float, low: float) -> list[Step]:
        return [
            {
                "plane": {"origin": [0, 0, z], "x": [1, 0, 0], "normal": [0, 0, 1]},
                "outer": {
                    "path": [
                        ["M", -w + r, -d],
                        ["L", w - r, -d],
                        ["A", w, -d + r, r, "ccw"],
                        ["L", w, d - r],
                        ["A", w - r, d, r, "ccw"],
                        ["L", -w + r, d],
                        ["A", -w, d - r, r, "ccw"],
                        ["L", -w, -d + r],
                        ["A", -w + r, -d, r, "ccw"],
                        ["Z"],
                    ]
                },
            }
            for z, w, d, r in (
                (low, 40 - inset, 25 - inset, 8 - inset),
                (40, 30 - inset, 18 - inset, 8 - inset),
                (90, 42 - inset, 28 - inset, 12 - inset),
                (130 + inset, 20 - inset, 20 - inset, 14 - inset),
            )
        ]

    bolt = {"op": "hole", "at": [[0, -30, 20]], "axis": [0, -1, 0], "diameter": 9, "depth": 40}
    return _recipe(
        "vessel", {"op": "loft", "profiles": at(0, 0)}, {"op": "loft", "profiles": at(2, 3), "mode": "cut"}, bolt
    )


def _turbine() -> dict[str, Any]:
    hub = {"op": "extrude", "profile": {"plane": "XY", "outer": {"circle": [0, 0, 60]}}, "distance": 70}
    blade = {
        "name": "blade",
        "op": "loft",
        "profiles": [
            {
                **_blade(z, 46, 7, turn),
                "plane": {
                    "origin": [z, 0, 35],
                    "x": [0, math.cos(math.radians(turn)), math.sin(math.radians(turn))],
                    "normal": [1, 0, 0],
                },
            }
            for z, turn in ((24, 20), (60, 42), (110, 60))
        ],
    }
    axis = {"point": [0, 0, 0], "direction": [0, 0, 1]}
    bore = {"op": "hole", "at": [[0, 0, 70]], "axis": [0, 0, 1], "diameter": 24, "through": True}
    return _recipe("impeller", hub, blade, {"op": "ring", "steps": ["blade"], "axis": axis, "count": 9}, bore)


def _screw() -> dict[str, Any]:
    rod = {"op": "extrude", "profile": {"plane": "XY", "outer": {"circle": [0, 0, 20]}}, "distance": 60}
    head = {
        "op": "extrude",
        "profile": {
            "plane": {"origin": [0, 0, 60], "x": [1, 0, 0], "normal": [0, 0, 1]},
            "outer": {"regular": {"centre": [0, 0], "sides": 6, "across-flats": 30}},
        },
        "distance": 13,
    }
    tooth = {
        "plane": {"origin": [0, 0, -2], "x": [1, 0, 0], "normal": [0, -1, 0]},
        "outer": {"polygon": [[8.6, -0.15], [11, -1.5], [11, 1.5], [8.6, 0.15]]},
    }
    helix = {"axis": {"point": [0, 0, -2], "direction": [0, 0, 1]}, "pitch": 3, "turns": 14, "diameter": 20}
    return _recipe("screw", rod, head, {"op": "sweep", "profile": tooth, "path": {"helix": helix}, "mode": "cut"})


def _housing() -> dict[str, Any]:
    """A cast housing: shelled, drafted, ribs, bosses with tapped holes on three sides, rounds all over."""
    steps: list[Step] = [
        {
            "op": "extrude",
            "profile": {
                "plane": "XY",
                "outer": {
                    "path": [
                        ["M", 12, 0],
                        ["L", 148, 0],
                        ["A", 160, 12, 12, "ccw"],
                        ["L", 160, 98],
                        ["A", 148, 110, 12, "ccw"],
                        ["L", 12, 110],
                        ["A", 0, 98, 12, "ccw"],
                        ["L", 0, 12],
                        ["A", 12, 0, 12, "ccw"],
                        ["Z"],
                    ]
                },
            },
            "distance": 70,
            "draft": -1,
        },
        {"op": "shell", "open": {"normal": [0, 0, -1], "at": 0}, "thickness": 5},
    ]
    for x in (30, 80, 130):
        for y in (30, 80):
            steps.append(
                {
                    "op": "extrude",
                    "profile": {
                        "plane": {"origin": [0, 0, 66], "x": [1, 0, 0], "normal": [0, 0, 1]},
                        "outer": {"circle": [x, y, 22]},
                    },
                    "distance": 14,
                }
            )
            steps.append(
                {
                    "op": "hole",
                    "at": [[x, y, 80]],
                    "axis": [0, 0, 1],
                    "diameter": 8.5,
                    "depth": 12,
                    "point": 118,
                    "countersink": {"diameter": 11, "angle": 90},
                }
            )
    for x in (40, 80, 120):
        steps.append({"op": "hole", "at": [[x, -2, 35]], "axis": [0, -1, 0], "diameter": 14, "through": True})
    for k in range(10):
        steps.append(
            {
                "op": "extrude",
                "profile": {
                    "plane": {"origin": [0, 0, 4], "x": [1, 0, 0], "normal": [0, 0, 1]},
                    "outer": {"rect": [14 + 14 * k, 3, 4, 104]},
                },
                "distance": 62,
            }
        )
    return _recipe("housing", *steps)


#: By name.
HEAVY: dict[str, dict[str, Any]] = {
    "plate of 400 holes": plate_of_holes(400),
    "vessel": _bottle(),
    "impeller": _turbine(),
    "screw": _screw(),
    "housing": _housing(),
}
