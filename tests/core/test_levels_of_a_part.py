"""What a part has that a line of a source can mean: its levels, pitches, angles and features, with their true values."""

import pytest

from canonis.core.features.recognition import recognise
from canonis.core.proof.match.candidates import pair_rows
from canonis.core.proof.match.items import items_of
from canonis.core.proof.match.levels import Levels
from canonis.core.shape.implied import shape_of
from canonis.core.study.hints import hints_of
from tests.conftest import block, model_of, recipe

UP = [0, 0, 1]


def levels_of(*steps):
    solid = model_of(recipe(*steps)).solids[0]
    shape, _ = shape_of(solid)
    return Levels(shape, items_of(shape, hints_of(recognise(solid)).features))


def holes(xs, y=20, **more):
    return {"op": "hole", "at": [[x, y, 12] for x in xs], "axis": UP, "diameter": 6, "through": True, **more}


def at(levels, way, value):
    found = levels.at(way, value)
    assert found is not None, (way, value)
    return found


def test_ends_axes_and_the_middle_are_levels():
    levels = levels_of(block(80, 50, 12), holes([20, 60]))
    assert [round(n.value, 6) for n in levels.along(0)] == [0, 20, 40, 60, 80]
    assert at(levels, 0, 20).kinds == {"axis"} and at(levels, 0, 20).needed and at(levels, 0, 20).radii == {3.0}
    assert levels.low[0] is at(levels, 0, 0) and levels.high[2] is at(levels, 2, 12) and levels.middle[1].value == 25
    assert not levels.middle[1].needed
    assert levels.words(levels.low[0]) == "left face" and levels.words(levels.high[2]) == "top face"
    assert levels.words(at(levels, 0, 20)).startswith("axis of H")


def test_equal_steps_are_one_pitch_and_members_of_a_ring_are_none():
    levels = levels_of(block(80, 50, 12), holes([10, 25, 40, 55]))
    (pitch,) = levels.pitches
    assert pitch.step == pytest.approx(15) and pitch.width == pytest.approx(6) and len(pitch.levels) == 4
    assert not levels_of(block(80, 50, 12), holes([10, 25, 41])).pitches
    ring = levels_of(
        block(80, 80, 12),
        holes([60], 40),
        {"op": "ring", "steps": ["s1"], "axis": {"point": [40, 40, 0], "direction": UP}, "count": 6, "angle": 360},
    )
    (item,) = [i for i in ring.items if i.kind == "hole"]
    assert item.value("pitch-circle") == pytest.approx(40) and item.value("equally-spaced") is True
    assert not ring.pitches and at(ring, 0, 40).needed and not at(ring, 0, 60).needed


def test_the_row_of_a_length_moves_as_the_length_does():
    levels = levels_of(block(80, 50, 12), holes([20]))
    rows = pair_rows(at(levels, 0, 0), at(levels, 0, 20))
    assert rows and all(sorted(r.values()) == [-1.0, 1.0] for r in rows)


def test_what_stands_on_both_sides_of_the_middle_is_told():
    levels = levels_of(block(80, 50, 12), holes([20, 60]))
    twin = levels.mirrored(at(levels, 0, 0), at(levels, 0, 20))
    assert twin == (at(levels, 0, 60).index, at(levels, 0, 80).index)
    assert levels.mirrored(at(levels, 0, 0), at(levels, 0, 80)) is None


def test_leaning_faces_give_both_their_angles_and_the_levels_of_their_corners():
    outline = {"polygon": [[0, 0], [60, 0], [60, 20], [40, 40], [0, 40]]}
    levels = levels_of({"op": "extrude", "distance": -30, "profile": {"plane": "XZ", "outer": outline}})
    assert {round(a.value, 6) for a in levels.angles} >= {45.0}
    assert "corner" in at(levels, 0, 40).kinds and "corner" in at(levels, 2, 20).kinds


@pytest.mark.parametrize(
    ("seat", "sizes"),
    [
        ({"counterbore": {"diameter": 11, "depth": 4}}, {"counterbore-diameter": 11, "counterbore-depth": 4}),
        ({"countersink": {"diameter": 12, "angle": 90}}, {"countersink-diameter": 12, "countersink-angle": 90}),
        ({"counterbore-far": {"diameter": 11, "depth": 4}}, {"counterbore-diameter": 11, "counterbore-depth": 4}),
    ],
)
def test_seats_are_measured_again_and_their_floors_are_no_levels_of_the_part(seat, sizes):
    levels = levels_of(block(80, 50, 12), holes([20, 60], **seat))
    (item,) = [i for i in levels.items if i.kind == "hole"]
    assert item.count == 2 and item.value("through") is True
    for name, value in sizes.items():
        assert item.value(name) == pytest.approx(value, abs=1e-6)
        assert item.sizes[name].rows
    assert [round(n.value, 6) for n in levels.along(2) if n.needed] == [0, 12]


def test_holes_in_one_line_are_counted_either_way():
    fork = [
        block(80, 40, 40),
        {
            "op": "extrude",
            "mode": "cut",
            "distance": -25,
            "profile": {
                "plane": {"origin": [0, 0, 40], "x": [1, 0, 0], "normal": UP},
                "outer": {"rect": [8, -1, 64, 42]},
            },
        },
    ]
    levels = levels_of(*fork, {"op": "hole", "at": [[80, 20, 30]], "axis": [1, 0, 0], "diameter": 10, "through": True})
    (item,) = [i for i in levels.items if i.kind == "hole"]
    assert {item.count, item.also} == {1, 2}
