"""The mass ledger of a nine-step part: it passes as specified, and ten planted slips are caught at their step and named."""

import copy
import json
import math

import pytest

from canonis.core.features.recognition import recognise
from canonis.core.quantity.units import Unit
from canonis.core.recipe.build import build_recipe
from canonis.core.solid.reader import solid_from_shape
from canonis.core.source.specification import read_specification
from canonis.core.study.ledger import State, expected_from, match_checkpoints, saved, walk
from tests.conftest import PARTS, block, recipe

BRASS = 8.5


@pytest.fixture(scope="module")
def drum():
    return json.loads((PARTS / "strike-drum.json").read_text())


@pytest.fixture(scope="module")
def spec():
    return read_specification((PARTS / "strike-drum.spec").read_text())


def states_of(data, values=None):
    built = build_recipe(data, values or {}, each=True)
    solids = [(n, solid_from_shape(s, n)) for n, s in built.stages]
    return [State(n, s, recognise(s)) for n, s in solids]


def step(data, name):
    return next(s for s in data["steps"] if s["name"] == name)


def ledger(data, spec, density=BRASS, checkpoints=None):
    return walk(states_of(data, spec.values(Unit.MM)), checkpoints or spec.checkpoints, density)


def test_the_part_as_specified_passes_every_checkpoint(drum, spec):
    got = ledger(drum, spec)
    assert len(got["rows"]) == 9 and got["first"] is None
    assert {r["state"] for r in got["rows"]} == {"proven"}
    blank, hub = got["rows"][:2]
    assert blank["volume_mm3"] == pytest.approx(math.pi * 60**2 * 40, rel=1e-9)
    assert hub["volume_more_mm3"] == pytest.approx(math.pi * 30**2 * 20, rel=1e-9)
    assert hub["mass_more_g"] == pytest.approx(math.pi * 30**2 * 20 * BRASS / 1000, rel=1e-9)
    assert any("hole ⌀25 through" in c["text"] for c in got["rows"][2]["changes"])
    assert any(c["kind"] == "keyway" for c in got["rows"][3]["changes"])
    assert any(c["kind"] == "groove" for c in got["rows"][4]["changes"])


def _one_pin_too_few(d):
    step(d, "pin ring")["skip"] = [4, 6]


def _bore_by_its_radius(d):
    step(d, "bore")["diameter"] = "#5 / 2"


def _pin_blind(d):
    del step(d, "pin hole")["through"]
    step(d, "pin hole")["depth"] = 20


def _hub_below(d):
    step(d, "hub")["profile"]["offset"] = "0 - #4"


def _hub_half(d):
    step(d, "hub")["distance"] = "#4 / 2"


def _edges_forgotten(d):
    # The step is there in name only.
    d["steps"][-1] = {
        "name": "edges",
        "op": "hole",
        "at": [[0, 0, 60]],
        "axis": [0, 0, 1],
        "diameter": 3,
        "through": True,
    }


def _seat_swapped(d):
    step(d, "screw holes")["counterbore"] = {"diameter": "#11.counterbore-depth", "depth": "#11.counterbore-diameter"}


def _blank_in_inches(d):
    step(d, "blank")["distance"] = "#2 * 25.4"


#: What goes wrong, at which step it must be caught, and the kind of slip that must be named first.
SLIPS = {
    "one pin hole too few": (_one_pin_too_few, "pin ring", "S10"),
    "bore modelled with its radius": (_bore_by_its_radius, "bore", "S04"),
    "pin hole to a fixed depth": (_pin_blind, "pin hole", "S11"),
    "hub on the wrong side": (_hub_below, "hub", "S17"),
    "hub half as high": (_hub_half, "hub", "S05"),
    "edges forgotten": (_edges_forgotten, "edges", "S10"),
    "counterbore swapped": (_seat_swapped, "screw holes", "S12"),
    "blank 25.4 times too long": (_blank_in_inches, "blank", "S06"),
}


@pytest.mark.parametrize("name", SLIPS)
def test_a_planted_slip_is_caught_at_its_step_and_named(drum, spec, name):
    plant, where, kind = SLIPS[name]
    data = copy.deepcopy(drum)
    plant(data)
    first = ledger(data, spec)["first"]
    assert first["name"] == where
    assert first["slips"] and first["slips"][0]["kind"] == kind, [s["text"] for s in first["slips"]]
    for slip in first["slips"]:
        assert slip["agree"] == slip["of"]


def test_another_density_is_caught_at_the_first_step_and_named(drum, spec):
    first = ledger(drum, spec, density=8.8)["first"]
    assert first["step"] == 0 and first["slips"][0]["kind"] == "S24" and "brass" in first["slips"][0]["text"]


def test_a_centre_read_in_another_frame_is_named(drum, spec):
    # The source counts from the lower left front corner; the figure was read from the file's origin.
    lines = [c.model_copy(update={"frame_name": "left-front-bottom"}) for c in spec.checkpoints]
    first = ledger(drum, spec, checkpoints=lines)["first"]
    assert first["step"] == 0 and first["slips"][0]["kind"] == "S22" and "origin" in first["slips"][0]["text"]


def test_without_checkpoints_the_twin_gives_what_is_expected(drum, spec):
    twin = build_recipe(drum, spec.values(Unit.MM))
    wanted = expected_from(twin.ledger)
    assert ledger(drum, spec, checkpoints=wanted)["first"] is None
    data = copy.deepcopy(drum)
    _hub_half(data)
    assert ledger(data, spec, checkpoints=wanted)["first"]["name"] == "hub"


def test_checkpoints_find_their_states_by_name_or_order(spec):
    names = [c.step for c in spec.checkpoints]
    assert [c.step for c in match_checkpoints([n.upper() for n in names], spec.checkpoints)] == names
    other = [f"state {k}" for k in range(9)]
    assert match_checkpoints(other, spec.checkpoints) == list(spec.checkpoints)
    assert match_checkpoints(other[:3], spec.checkpoints) == [None, None, None]


def test_material_saved_between_two_states():
    rows = walk(
        states_of(recipe(block(40, 30, 20), {"op": "shell", "open": {"normal": [0, 0, 1]}, "thickness": 2})), (), 1.0
    )["rows"]
    got = saved(rows)
    assert got["ratio"] == pytest.approx((24000 - 36 * 26 * 18) / 24000)
    assert got["parts_from_same"] == pytest.approx(1 / got["ratio"])
