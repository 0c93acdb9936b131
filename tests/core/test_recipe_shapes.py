"""Every profile and step of a recipe against closed forms of volume and centre."""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.faults import BadInput
from canonis.core.recipe.build import build_recipe
from tests.conftest import block, drill, recipe


def ledger(*steps, unit="mm"):
    return build_recipe(recipe(*steps, unit=unit)).ledger


def volume(*steps, unit="mm"):
    return ledger(*steps, unit=unit)[-1]["volume_mm3"]


def prism(outer, distance=10, **more):
    return {
        "op": "extrude",
        "profile": {"plane": "XY", "outer": outer, **more.pop("profile", {})},
        "distance": distance,
        **more,
    }


@pytest.mark.parametrize(
    ("outer", "area"),
    [
        ({"rect": [1, 2, 30, 20]}, 600),
        ({"centre-rect": [0, 0, 30, 20]}, 600),
        ({"circle": [5, 5, 20]}, 100 * math.pi),
        ({"polygon": [[0, 0], [30, 0], [0, 40]]}, 600),
        ({"regular": {"centre": [0, 0], "sides": 6, "across-flats": 20}}, 200 * math.sqrt(3)),
        ({"regular": {"centre": [3, 4], "sides": 4, "across-flats": 20}}, 400),
        ({"slot": [0, 0, 30, 0, 8]}, 240 + 16 * math.pi),
        ({"slot": [0, 0, 0, 30, 8]}, 240 + 16 * math.pi),
        ({"path": [["M", 0, 0], ["L", 20, 0], ["A", 20, 10, 5, "ccw"], ["L", 0, 10], ["Z"]]}, 200 + 12.5 * math.pi),
        ({"path": [["M", 0, 0], ["L", 20, 0], ["A", 20, 10, 5, "cw"], ["L", 0, 10], ["Z"]]}, 200 - 12.5 * math.pi),
    ],
    ids=["rect", "centre-rect", "circle", "triangle", "hexagon", "square", "slot-x", "slot-y", "path-out", "path-in"],
)
def test_profiles_have_their_area(outer, area):
    assert volume(prism(outer)) == pytest.approx(area * 10, rel=1e-9)


def test_profiles_may_have_holes_and_several_outlines():
    ring = prism({"circle": [0, 0, 40]}, profile={"holes": [{"circle": [0, 0, 20]}]})
    assert volume(ring) == pytest.approx((400 - 100) * math.pi * 10, rel=1e-9)


@pytest.mark.parametrize("plane", ["XY", "XZ", "YZ", {"origin": [5, 6, 7], "x": [0.6, 0.8, 0], "normal": [0, 0, 1]}])
def test_planes_turn_nothing_but_the_place(plane):
    step = {"op": "extrude", "profile": {"plane": plane, "outer": {"rect": [0, 0, 12, 7]}}, "distance": 5}
    assert volume(step) == pytest.approx(420)


@pytest.mark.parametrize(
    ("how", "low", "high"),
    [
        ({"distance": 10}, 0, 10),
        ({"distance": -10}, -10, 0),
        ({"both": [4, 6]}, -6, 4),
        ({"symmetric": 10}, -5, 5),
        ({"distance": 10, "start": 3}, 3, 13),
    ],
)
def test_extrude_reaches_where_it_says(how, low, high):
    step = {"op": "extrude", "profile": {"plane": "XY", "outer": {"rect": [0, 0, 10, 10]}}, **how}
    made = ledger(step)[-1]
    assert made["volume_mm3"] == pytest.approx(100 * (high - low)) and made["centroid_mm"][2] == pytest.approx(
        (high + low) / 2
    )


@pytest.mark.parametrize("angle", [360, 180, 90, 30])
def test_revolve_is_the_theorem_of_the_centroid(angle):
    turned = {
        "op": "revolve",
        "axis": {"point": [0, 0, 0], "direction": [0, 1, 0]},
        "angle": angle,
        "profile": {"plane": "XY", "outer": {"rect": [10, 0, 6, 8]}},
    }
    assert volume(turned) == pytest.approx(48 * 13 * math.radians(angle), rel=1e-9)


def test_modes_add_cut_and_keep():
    base = block(40, 30, 10)
    more = prism({"rect": [30, 0, 20, 30]}, 10)
    assert volume(base, more) == pytest.approx(50 * 30 * 10)
    assert volume(base, {**more, "mode": "cut"}) == pytest.approx(30 * 30 * 10)
    assert volume(base, {**more, "mode": "keep"}) == pytest.approx(10 * 30 * 10)


@settings(max_examples=10, deadline=None)
@given(st.integers(3, 9), st.integers(3, 15), st.sampled_from([0, 90, 118]), st.booleans())
def test_holes_take_away_what_they_say(diameter, depth, point, through):
    step = {"op": "hole", "at": [[20, 15, 20]], "axis": [0, 0, 1], "diameter": diameter}
    step |= {"through": True} if through else {"depth": depth, "point": point}
    gone = math.pi * diameter**2 / 4 * 20 if through else drill(diameter, depth, point)
    assert volume(block(40, 30, 20), step) == pytest.approx(40 * 30 * 20 - gone, rel=1e-9)


def test_repeats_and_mirrors_repeat_exactly():
    base, one = (
        block(100, 60, 10),
        {"op": "hole", "at": [[35, 30, 10]], "axis": [0, 0, 1], "diameter": 6, "through": True},
    )
    hole = math.pi * 9 * 10
    whole = 100 * 60 * 10
    row = {"op": "row", "steps": ["s1"], "direction": [1, 0, 0], "pitch": 15, "count": 5}
    assert volume(base, one, row) == pytest.approx(whole - 5 * hole)
    assert volume(base, one, {**row, "skip": [2]}) == pytest.approx(whole - 4 * hole)
    grid = {"op": "grid", "steps": ["s1"], "directions": [[1, 0, 0], [0, 1, 0]], "pitch": [15, 12], "count": [4, 3]}
    assert volume(base, one, grid) == pytest.approx(whole - 12 * hole)
    ring = {
        "op": "ring",
        "steps": ["s1"],
        "axis": {"point": [50, 30, 0], "direction": [0, 0, 1]},
        "count": 6,
        "angle": 360,
    }
    assert volume(base, one, ring) == pytest.approx(whole - 6 * hole)
    half = {**ring, "count": 3, "angle": 180}
    assert volume(base, one, half) == pytest.approx(whole - 3 * hole)
    mirror = {"op": "mirror", "steps": ["s1"], "plane": "YZ", "offset": 50}
    made = ledger(base, one, mirror)[-1]
    assert made["volume_mm3"] == pytest.approx(whole - 2 * hole) and made["centroid_mm"][0] == pytest.approx(50)


@pytest.mark.parametrize("radius", [1, 2.5, 6])
def test_rounds_take_a_corner_each(radius):
    rounded = {"op": "round", "edges": {"parallel": [0, 0, 1]}, "radius": radius}
    assert volume(block(40, 30, 20), rounded) == pytest.approx(
        40 * 30 * 20 - 4 * (1 - math.pi / 4) * radius**2 * 20, rel=1e-9
    )


@pytest.mark.parametrize(
    ("legs", "gone"),
    [({"leg": 2}, 2.0), ({"legs": [3, 2]}, 3.0), ({"leg": 2, "angle": 30}, 2 * 2 * math.tan(math.pi / 6) / 2)],
)
def test_chamfers_take_a_triangle(legs, gone):
    bevel = {"op": "chamfer", "edges": {"near": [[20, 0, 20]]}, **legs}
    assert volume(block(40, 30, 20), bevel) == pytest.approx(40 * 30 * 20 - gone * 40, rel=1e-9)


@pytest.mark.parametrize(
    ("selector", "count"),
    [
        ({"parallel": [0, 0, 1]}, 4),
        ({"near": [[20, 0, 20]]}, 1),
        ({"near": [[20, 0, 20], [20, 30, 20]]}, 2),
        ({"on": {"normal": [0, 0, 1], "at": 20}}, 4),
        ({"all": [{"on": {"normal": [0, 0, 1], "at": 20}}, {"parallel": [1, 0, 0]}]}, 2),
        ({"any": [{"near": [[20, 0, 20]]}, {"near": [[20, 30, 0]]}]}, 2),
        ({"all": [{"parallel": [0, 0, 1]}, {"not": {"near": [[0, 0, 10]]}}]}, 3),
    ],
)
def test_selectors_find_their_edges(selector, count):
    bevel = {"op": "chamfer", "edges": selector, "leg": 0.001}
    # A chamfer too small to matter for the corners: each edge adds a face.
    assert ledger(block(40, 30, 20), bevel)[-1]["faces"] == 6 + count


def test_inch_recipes_are_exact():
    assert volume(block(2, 1, 0.5), unit="in") == pytest.approx(25.4**3)
    assert volume(block("1 1/2", "3/4 + 1/4", "1/2"), unit="in") == pytest.approx(0.75 * 25.4**3)


@pytest.mark.parametrize(
    ("step", "words"),
    [
        ({"op": "bend"}, "not a step"),
        ({"op": "extrude"}, "missing"),
        (prism({"rect": [0, 0, 0, 10]}), "Step"),
        (prism({"rect": [0, 0, 10, 10]}, 0), "zero"),
        (prism({"circle": [0, 0, -5]}), "Step"),
        (prism({"blob": 1}), "Step"),
        ({"op": "hole", "at": [[0, 0, 0]], "axis": [0, 0, 0], "diameter": 5, "depth": 3}, "direction"),
        ({"op": "row", "steps": ["nowhere"], "direction": [1, 0, 0], "pitch": 5, "count": 2}, "nowhere"),
        ({"op": "round", "edges": {"near": [[0, 0, 0]]}, "radius": 500}, "Step"),
        (prism({"rect": [0, 0, "ten", 10]}), "expression"),
        (prism({"rect": [0, 0, "1/0", 10]}), "expression"),
        (prism({"rect": [0, 0, "#99", 10]}), "#99"),
    ],
)
def test_errors_name_the_step(step, words):
    with pytest.raises(BadInput, match=words) as refused:
        build_recipe(recipe(block(40, 30, 20), step))
    assert "s1" in str(refused.value) and "\n" not in str(refused.value)
