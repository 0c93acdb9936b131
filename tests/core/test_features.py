import json
import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.features.recognition import recognise
from canonis.core.features.report import measure_model
from canonis.core.solid.reader import read_model
from tests.conftest import block, holes_of, model_of, real_part, recipe

PLATE = block(80, 50, 12)
FOUR = [[10, 10, 12], [70, 10, 12], [10, 40, 12], [70, 40, 12]]


def hole(**keys):
    return {"op": "hole", "axis": [0, 0, 1], **keys}


def features(*steps):
    return measure_model(model_of(recipe(*steps)))["features"]


def test_counterbored_holes_as_in_the_contract():
    found = [
        f
        for f in features(PLATE, hole(at=FOUR, diameter=6.6, through=True, counterbore={"diameter": 11, "depth": 6.5}))
        if f["kind"] == "hole"
    ]
    assert len(found) == 1
    f = found[0]
    assert (f["count"], f["axis"], f["through"], f["depth_mm"]) == (4, [0, 0, 1], True, None)
    assert f["diameter_mm"] == pytest.approx(6.6)
    assert f["counterbore"]["diameter_mm"] == pytest.approx(11) and f["counterbore"]["depth_mm"] == pytest.approx(6.5)
    assert sorted(map(tuple, f["positions_mm"])) == sorted(map(tuple, map(lambda p: [float(c) for c in p], FOUR)))
    assert f["pattern"] == {"kind": "grid", "pitch_mm": [60, 30], "count": [2, 2], "missing": 0}


@settings(max_examples=20, deadline=None)
@given(st.floats(3, 9), st.floats(2, 9), st.sampled_from([0, 90, 118, 140]), st.floats(1.2, 2.2), st.floats(0.5, 1.8))
def test_blind_holes_with_seats(diameter, depth, point, share, seat_depth):
    wide = diameter * share
    steps = hole(
        at=[[40, 25, 12]],
        diameter=diameter,
        depth=depth,
        point=point,
        counterbore={"diameter": wide, "depth": min(seat_depth, depth / 2)},
    )
    (group,) = holes_of(recipe(block(80, 50, 30), {**steps, "at": [[40, 25, 30]]}))
    found = group.first
    assert not found.through and found.depth == pytest.approx(depth, abs=1e-6)
    assert found.bottom == ("cone" if point else "flat")
    if point:
        assert found.point_angle == pytest.approx(point, abs=1e-4)
    assert found.seats[0].diameter == pytest.approx(wide, abs=1e-6)
    assert found.start == pytest.approx([40, 25, 30], abs=1e-6)


def test_countersink_and_rim_are_told_apart():
    sunk = holes_of(
        recipe(PLATE, hole(at=[[20, 20, 12]], diameter=6, through=True, countersink={"diameter": 12, "angle": 90}))
    )[0].first
    assert sunk.seats[0].kind == "countersink" and sunk.seats[0].angle == pytest.approx(90)
    assert sunk.seats[0].diameter == pytest.approx(12)
    rim = holes_of(
        recipe(PLATE, hole(at=[[20, 20, 12]], diameter=6, through=True, countersink={"diameter": 7, "angle": 90}))
    )[0].first
    assert rim.seats[0].kind == "rim" and rim.seats[0].size == pytest.approx(0.5)


def test_seats_on_both_ends():
    one = hole(at=[[20, 20, 12]], diameter=6, through=True, counterbore={"diameter": 10, "depth": 3})
    found = holes_of(recipe(PLATE, {**one, "counterbore-far": {"diameter": 9, "depth": 2}}))[0].first
    assert found.seats[0].diameter == pytest.approx(10) and found.far_seats[0].diameter == pytest.approx(9)
    assert found.far_seats[0].depth == pytest.approx(2)


def test_a_ring_with_a_missing_member():
    first = hole(at=[[60, 25, 12]], diameter=5, through=True)
    ring = {
        "op": "ring",
        "steps": ["s1"],
        "axis": {"point": [40, 25, 12], "direction": [0, 0, 1]},
        "count": 6,
        "skip": [2],
    }
    (group,) = holes_of(recipe(PLATE, first, ring))
    assert group.pattern.kind == "circular" and group.pattern.data["missing"] == 1
    assert group.pattern.data["diameter_mm"] == pytest.approx(40)
    assert group.pattern.data["centre_mm"] == pytest.approx([40, 25, 12])


def test_a_bore_crossed_by_another_stays_one_hole():
    across = {"op": "hole", "at": [[40, 0, 15]], "axis": [0, -1, 0], "diameter": 14, "through": True}
    groups = holes_of(recipe(block(80, 50, 30), hole(at=[[40, 25, 30]], diameter=8, through=True), across))
    assert sorted((len(g.holes), round(g.first.diameter), g.first.through) for g in groups) == [
        (1, 8, True),
        (1, 14, True),
    ]


def test_rounds_chamfers_and_slots():
    rounds = {"op": "round", "edges": {"parallel": [0, 0, 1]}, "radius": 6}
    bevel = {"op": "chamfer", "edges": {"near": [[40, 0, 12]]}, "legs": [2, 2]}
    slot = {
        "op": "extrude",
        "profile": {"plane": "XY", "outer": {"slot": [30, 25, 50, 25, 8]}},
        "through": True,
        "mode": "cut",
    }
    found = {f["kind"]: f for f in features(PLATE, rounds, slot)}
    assert (
        found["fillet"]["radius_mm"] == pytest.approx(6) and found["fillet"]["count"] == 4 and found["fillet"]["convex"]
    )
    assert found["slot"]["width_mm"] == pytest.approx(8) and found["slot"]["centres_mm"] == pytest.approx(20)
    assert found["slot"]["through"]
    cut = {f["kind"]: f for f in features(PLATE, bevel)}["chamfer"]
    assert cut["legs_mm"] == pytest.approx([2, 2]) and cut["angle_deg"] == pytest.approx(45)


def test_a_boss_and_a_turned_part():
    boss = {
        "op": "extrude",
        "profile": {"plane": "XY", "offset": 12, "outer": {"circle": [40, 25, 30]}},
        "distance": 15,
    }
    found = {f["kind"]: f for f in features(PLATE, boss)}["boss"]
    assert found["diameter_mm"] == pytest.approx(30) and found["height_mm"] == pytest.approx(15)
    drum = {
        "op": "revolve",
        "profile": {"plane": "XZ", "outer": {"polygon": [[8, 0], [20, 0], [20, 10], [14, 10], [14, 30], [8, 30]]}},
        "axis": {"point": [0, 0, 0], "direction": [0, 0, 1]},
    }
    entry = measure_model(model_of(recipe(drum)))
    assert entry["solids"][0]["volume_mm3"] == pytest.approx(math.pi * (400 * 10 + 196 * 20 - 64 * 30), rel=1e-9)
    assert {round(f["diameter_mm"]) for f in entry["features"] if f["kind"] in ("boss", "shaft", "hole")} == {
        16,
        28,
        40,
    }


def test_every_face_has_one_owner(cock_step):
    solid = read_model(cock_step, "cock.step").solids[0]
    assert set(recognise(solid).owner) == {f.index for f in solid.faces}


def test_real_frame():
    report = measure_model(read_model(real_part("frame.step"), "frame.step"))
    assert report["solids"][0]["faces_unowned"] == 0
    holes = [f for f in report["features"] if f["kind"] == "hole"]
    assert sum(f["count"] for f in holes) == 36
    assert json.dumps(report)
