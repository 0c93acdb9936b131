import math

import pytest

from canonis.core.faults import BadInput
from canonis.core.recipe.build import build_recipe
from canonis.core.recipe.numbers import evaluate
from tests.conftest import block, drill, recipe


def volumes(*steps, unit="mm"):
    return [s["volume_mm3"] for s in build_recipe(recipe(*steps, unit=unit)).ledger]


def test_extrude_forms():
    rect = {"plane": "XY", "outer": {"centre-rect": [0, 0, 20, 10]}}
    assert volumes({"op": "extrude", "profile": rect, "symmetric": 6})[-1] == pytest.approx(1200)
    assert volumes({"op": "extrude", "profile": rect, "both": [4, 1]})[-1] == pytest.approx(1000)
    ring = {"plane": "YZ", "outer": {"circle": [0, 0, 20]}, "holes": [{"circle": [0, 0, 10]}]}
    assert volumes({"op": "extrude", "profile": ring, "distance": 5})[-1] == pytest.approx(math.pi * 75 * 5, rel=1e-9)
    hexagon = {"plane": "XZ", "outer": {"regular": {"centre": [0, 0], "sides": 6, "across-flats": 10}}}
    assert volumes({"op": "extrude", "profile": hexagon, "distance": 2})[-1] == pytest.approx(
        math.sqrt(3) / 2 * 100 * 2, rel=1e-9
    )
    path = {"plane": "XY", "outer": {"path": [["M", 0, 0], ["L", 10, 0], ["A", 10, 10, 5, "ccw"], ["L", 0, 10], ["Z"]]}}
    assert volumes({"op": "extrude", "profile": path, "distance": 1})[-1] == pytest.approx(
        100 + math.pi * 12.5, rel=1e-9
    )


def test_modes_rows_and_mirrors():
    cut = {"op": "hole", "at": [[5, 5, 10]], "axis": [0, 0, 1], "diameter": 4, "depth": 5, "point": 118}
    row = {"op": "row", "steps": ["s1"], "direction": [1, 0, 0], "pitch": 10, "count": 3, "skip": [1]}
    mirror = {"op": "mirror", "steps": ["s1", "s2"], "plane": {"origin": [0, 15, 0], "normal": [0, 1, 0]}}
    got = volumes(block(40, 30, 10), cut, row, mirror)
    each = drill(4, 5, 118)
    assert got == pytest.approx([12000, 12000 - each, 12000 - 2 * each, 12000 - 4 * each], rel=1e-9)
    keep = {
        "op": "extrude",
        "profile": {"plane": "XY", "outer": {"circle": [20, 15, 20]}},
        "distance": 10,
        "mode": "keep",
    }
    assert volumes(block(40, 30, 10), keep)[-1] == pytest.approx(math.pi * 1000, rel=1e-9)


def test_rounds_and_chamfers_by_selectors():
    top = {"on": {"normal": [0, 0, 1], "at": 10}}
    got = volumes(block(40, 30, 10), {"op": "round", "edges": {"parallel": [0, 0, 1]}, "radius": 5})
    assert got[-1] == pytest.approx(12000 - (4 - math.pi) * 25 * 10, rel=1e-9)
    bevel = volumes(
        block(40, 30, 10), {"op": "chamfer", "edges": {"all": [top, {"near": [[20, 0, 10]]}]}, "leg": 2, "angle": 45}
    )
    assert bevel[-1] == pytest.approx(12000 - 2 * 40, rel=1e-9)


def test_expressions_and_characteristics():
    assert evaluate("3/8 + 1/16") == pytest.approx(0.4375)
    assert evaluate("2 7/8") == pytest.approx(2.875)
    assert evaluate("#12 / 2", {"12": 9.0}) == 4.5
    for bad in ("__import__('os')", "2 ** 9999", "1/0", "#77", "", "9" * 300):
        with pytest.raises(BadInput):
            evaluate(bad, {})


@pytest.mark.parametrize(
    ("step", "word"),
    [
        ({"op": "loft"}, "profiles"),
        ({"op": "extrude", "profile": {"outer": {"rect": [0, 0, 1, 1]}}}, "distance"),
        ({"op": "extrude"}, "profile"),
        ({"op": "round", "edges": {"parallel": [0, 0, 1]}, "radius": 500}, "500"),
        ({"op": "row", "steps": ["nope"]}, "nope"),
        ({"op": "hole", "at": [[1, 1]], "axis": [0, 0, 1], "diameter": 1, "depth": 1}, "three numbers"),
        ({"op": "hole", "at": 5, "axis": [0, 0, 1], "diameter": 1, "depth": 1}, "wrong form"),
        ({"op": "extrude", "profile": {"outer": {"rect": [0, 0, 1]}}, "distance": 1}, "profile"),
    ],
)
def test_errors_name_the_step_and_the_reason(step, word):
    with pytest.raises(BadInput, match=word) as fault:
        build_recipe(recipe(block(10, 10, 10), {"name": "the bad one", **step}))
    assert "the bad one" in str(fault.value)
