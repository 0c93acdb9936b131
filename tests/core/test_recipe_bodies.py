"""The shaping steps of a recipe (draft, to a face, loft, sweep, helix, rib, shell, mirror) against closed forms."""

import json
import math
import re
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.faults import BadInput
from canonis.core.recipe.build import build_recipe
from tests.conftest import block, recipe


def last(*steps, unit="mm"):
    return build_recipe(recipe(*steps, unit=unit)).ledger[-1]


def frustum(a, b, c, d, h):
    """Volume of a frustum of two rectangles a×b and c×d, h apart (prismoidal formula)."""
    return h / 6 * (a * b + c * d + (a + c) * (b + d))


@settings(max_examples=12, deadline=None)
@given(st.floats(10, 40), st.floats(10, 40), st.floats(2, 20), st.floats(-10, 10).filter(lambda a: abs(a) > 0.2))
def test_a_drafted_extrusion_is_a_frustum(w, d, h, lean):
    step = {"op": "extrude", "profile": {"plane": "XY", "outer": {"rect": [0, 0, w, d]}}, "distance": h, "draft": lean}
    grow = 2 * h * math.tan(math.radians(lean))
    assert last(step)["volume_mm3"] == pytest.approx(frustum(w, d, w + grow, d + grow, h), rel=1e-9)


def test_draft_on_a_cylinder_makes_a_cone_and_both_ways_lean_both():
    boss = {"op": "extrude", "profile": {"plane": "XY", "outer": {"circle": [0, 0, 20]}}, "distance": 10, "draft": -5}
    r = 10 - 10 * math.tan(math.radians(5))
    cone = math.pi * 10 / 3 * (100 + 10 * r + r * r)
    assert last(boss)["volume_mm3"] == pytest.approx(cone, rel=1e-9)
    both = {**boss, "symmetric": 20}
    del both["distance"]
    assert last(both)["volume_mm3"] == pytest.approx(2 * cone, rel=1e-9)


def test_draft_step_leans_named_faces_about_the_neutral_plane():
    lean = {"op": "draft", "faces": {"normal": [1, 0, 0]}, "angle": 3, "direction": [0, 0, 1], "neutral": [0, 0, 0]}
    got = last(block(40, 30, 20), lean)["volume_mm3"]
    assert got == pytest.approx(40 * 30 * 20 + 20 * 20 * math.tan(math.radians(3)) / 2 * 30, rel=1e-9)


def test_extrude_to_a_flat_face_and_to_a_bore():
    post = {
        "op": "extrude",
        "profile": {
            "plane": {"origin": [0, 0, 30], "x": [1, 0, 0], "normal": [0, 0, 1]},
            "outer": {"circle": [20, 15, 10]},
        },
        "to": {"normal": [0, 0, 1], "at": 10},
    }
    assert last(block(40, 30, 10), post)["volume_mm3"] == pytest.approx(12000 + math.pi * 25 * 20, rel=1e-9)
    rod = {"op": "extrude", "profile": {"plane": "XY", "outer": {"circle": [0, 0, 20]}}, "symmetric": 40}
    arm = {
        "op": "extrude",
        "profile": {
            "plane": {"origin": [30, 0, 0], "x": [0, 1, 0], "normal": [1, 0, 0]},
            "outer": {"centre-rect": [0, 0, 6, 6]},
        },
        "to": {"near": [[10, 0, 0]]},
    }
    # Between x = sqrt(100 − y²) and x = 30, over |y| ≤ 3, 6 high.
    under = 3 * math.sqrt(91) + 100 * math.asin(0.3)
    assert last(rod, arm)["volume_mm3"] == pytest.approx(math.pi * 100 * 40 + 6 * (30 * 6 - under), rel=1e-7)


def test_a_ruled_loft_between_rectangles_is_a_frustum():
    at = lambda z, w, d: {"plane": "XY", "offset": z, "outer": {"centre-rect": [0, 0, w, d]}}  # noqa: E731
    step = {"op": "loft", "profiles": [at(0, 40, 30), at(20, 20, 10)], "ruled": True}
    assert last(step)["volume_mm3"] == pytest.approx(frustum(40, 30, 20, 10, 20), rel=1e-7)


def test_a_sweep_along_a_line_and_a_bend_is_area_times_path():
    disc = {"plane": {"origin": [0, 0, 0], "x": [0, 1, 0], "normal": [1, 0, 0]}, "outer": {"circle": [0, 0, 6]}}
    path = {"plane": "XY", "path": [["M", 0, 0], ["L", 30, 0], ["A", 40, 10, 10, "ccw"], ["L", 40, 30]]}
    got = last({"op": "sweep", "profile": disc, "path": path})["volume_mm3"]
    assert got == pytest.approx(math.pi * 9 * (30 + 10 * math.pi / 2 + 20), rel=1e-7)


@pytest.mark.parametrize("hand", ["right", "left"])
def test_a_helical_sweep_has_the_volume_of_its_path(hand):
    wire = {"plane": {"origin": [0, 0, 0], "x": [1, 0, 0], "normal": [0, -1, 0]}, "outer": {"circle": [10, 0, 2]}}
    helix = {"axis": {"point": [0, 0, 0], "direction": [0, 0, 1]}, "pitch": 6, "turns": 3, "diameter": 20, "hand": hand}
    got = last({"op": "sweep", "profile": wire, "path": {"helix": helix}})
    # The profile stands in the axial plane: area times the turn about the axis (Pappus), whatever the pitch.
    assert got["volume_mm3"] == pytest.approx(math.pi * 2 * math.pi * 10 * 3, rel=1e-3)
    assert got["centroid_mm"][2] == pytest.approx(9, abs=0.02)


def test_a_shell_leaves_a_wall():
    tray = {"op": "shell", "open": {"normal": [0, 0, 1]}, "thickness": 2}
    assert last(block(40, 30, 20), tray)["volume_mm3"] == pytest.approx(40 * 30 * 20 - 36 * 26 * 18, rel=1e-9)


def test_a_rib_fills_the_corner_under_its_line():
    foot, wall = (
        block(40, 30, 5),
        {"op": "extrude", "profile": {"plane": "XY", "outer": {"rect": [0, 0, 5, 30]}}, "distance": 40},
    )
    rib = {
        "op": "rib",
        "profile": {"plane": {"origin": [0, 15, 0], "x": [1, 0, 0], "normal": [0, -1, 0]}, "line": [[5, 30], [30, 5]]},
        "thickness": 4,
        "direction": [-0.6, 0, -0.8],
    }
    bare = last(foot, wall)["volume_mm3"]
    assert last(foot, wall, rib)["volume_mm3"] - bare == pytest.approx(25 * 25 / 2 * 4, rel=1e-9)


def test_the_whole_body_mirrored():
    half = last(block(40, 30, 20), {"op": "mirror", "whole": True, "plane": "YZ"})
    assert half["volume_mm3"] == pytest.approx(2 * 24000) and half["centroid_mm"][0] == pytest.approx(0, abs=1e-9)


def test_polygons_across_flats_and_across_corners():
    area = lambda data: last({"op": "extrude", "profile": {"plane": "XY", "outer": {"regular": data}}, "distance": 1})  # noqa: E731
    around = area({"centre": [0, 0], "sides": 6, "across-corners": 20})["volume_mm3"]
    inside = area({"centre": [0, 0], "sides": 6, "across-flats": 20})["volume_mm3"]
    assert around == pytest.approx(3 * math.sqrt(3) / 2 * 100) and inside / around == pytest.approx(4 / 3)


@pytest.mark.parametrize(
    ("step", "reason"),
    [
        (
            {
                "op": "extrude",
                "profile": {"plane": "XY", "outer": {"regular": {"centre": [0, 0], "sides": 6}}},
                "distance": 1,
            },
            "across-flats or across-corners",
        ),
        ({"op": "shell", "open": {"normal": [0, 0, 1]}, "thickness": 0}, "thickness must be positive"),
        ({"op": "shell", "open": {"normal": [0, 0, 1]}, "thickness": 25}, "shell of 25"),
        (
            {
                "op": "draft",
                "faces": {"normal": [0.6, 0.8, 0]},
                "angle": 3,
                "direction": [0, 0, 1],
                "neutral": [0, 0, 0],
            },
            "finds no face",
        ),
        ({"op": "loft", "profiles": [{"plane": "XY", "outer": {"circle": [0, 0, 5]}}]}, "at least two profiles"),
        (
            {"op": "extrude", "profile": {"plane": "XY", "outer": {"circle": [0, 0, 5]}}, "to": {"normal": [1, 0, 0]}},
            "never met",
        ),
        (
            {
                "op": "sweep",
                "profile": {"plane": "XY", "outer": {"circle": [0, 0, 5]}},
                "path": {
                    "helix": {
                        "axis": {"point": [0, 0, 0], "direction": [1, 0, 0]},
                        "pitch": 0,
                        "turns": 3,
                        "diameter": 20,
                    }
                },
            },
            "axis",
        ),
        ({"op": "melt"}, "is not a step; there are extrude"),
    ],
)
def test_wrong_steps_say_what_is_wrong(step, reason):
    with pytest.raises(BadInput, match=reason) as fault:
        last(block(40, 30, 20), step)
    assert str(fault.value).startswith("Step “s1”")


def test_the_recipe_of_the_documentation_builds():
    text = (Path(__file__).parents[2] / "docs" / "recipes.md").read_text()
    data = json.loads(re.search(r"```json\n(.*?)```", text, re.S).group(1))
    ledger = build_recipe(data, {"1": 80.0, "2": 6.0}).ledger
    plate = 80 * 50 * 12
    pins, slot, corners = 2 * math.pi * 9 * 12, (20 * 8 + math.pi * 16) * 5, (4 - math.pi) * 36 * 12
    volumes = [plate, plate - pins, plate - pins - slot, plate - pins - slot - corners]
    assert [row["volume_mm3"] for row in ledger] == pytest.approx(volumes, rel=1e-9)
    assert [row["name"] for row in ledger] == ["plate", "pins", "slot", "corners"]


@pytest.mark.parametrize("lean", [0, 25])
def test_a_drill_on_a_slope_clears_what_stands_above_its_point(lean):
    rise = 60 * math.tan(math.radians(lean))
    wedge = {
        "op": "extrude",
        "profile": {"plane": "XZ", "outer": {"polygon": [[0, 0], [60, 0], [60, 20 + rise], [0, 20]]}},
        "distance": -40,
    }
    drill = {"op": "hole", "at": [[30, 20, 20 + rise / 2]], "axis": [0, 0, 1], "diameter": 10, "through": True}
    # A drill takes its full diameter from the slope to the far side: as much as on a level face half-way up.
    before, after = (row["volume_mm3"] for row in build_recipe(recipe(wedge, drill)).ledger)
    assert before - after == pytest.approx(math.pi * 25 * (20 + rise / 2), rel=1e-7)
