"""Holes that open to all sorts of faces, with all sorts of seats: stated, placed and proven; askew ones by angle and mouth."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.drafting.draft import DraftWish, draft_model
from canonis.core.features.recognition import recognise
from canonis.core.proof.check import check_sheet
from canonis.core.quantity.written import write_angle, write_length
from canonis.core.shape.openings import mouth_of
from canonis.core.sheet.wording import worded
from canonis.core.solid.references import mouth_reference, resolve_all
from tests.conftest import block, model_of, recipe
from tests.core.known_parts import hole, rod, turned

WEDGE = {
    "op": "extrude", "distance": 40,
    "profile": {"plane": "XZ", "outer": {"path": [["M", 0, 0], ["L", 60, 0], ["L", 60, 20], ["L", 0, 40], ["Z"]]}},
}  # fmt: skip
#: What a hole is drilled into, where, and the way out there.
WALLS = {
    "a round wall": ([rod(30, 60)], [15, 0, 30], [1, 0, 0]),
    "a round wall beside its axis": ([rod(30, 60)], [math.sqrt(15**2 - 4**2), 4, 30], [1, 0, 0]),
    "a tapered wall": ([turned((0, 0), (20, 0), (15, 60), (0, 60))], [17.5, 0, 30], [1, 0, 0]),
    "the wall of a tube": ([rod(40, 60), rod(24, 60, mode="cut")], [20, 0, 30], [1, 0, 0]),
    "a slope, upright": ([WEDGE], [30, -20, 30], [0, 0, 1]),
    "a slope, square to it": ([WEDGE], [30, -20, 30], [1 / math.sqrt(10), 0, 3 / math.sqrt(10)]),
}
SEATS = {
    "plain": ({}, ""),
    "countersunk": ({"countersink": {"diameter": 9, "angle": 90}}, " ⌵⌀9 × 90°"),
    "counterbored": ({"counterbore": {"diameter": 10, "depth": 4}}, " ⌴⌀10 ↧4"),
}


def proven(*steps):
    """The texts of a part's sheet, which is complete and proven, by kind."""
    draft = draft_model(model_of(recipe(*steps)), DraftWish(views="auto"))
    check = check_sheet(draft.document, draft.scene.solids)
    wrong = [(s.text, s.state) for s in check.statements if s.state not in ("proven", "reference")]
    assert (wrong, check.complete["free"], check.complete["redundant"]) == ([], [], [])
    return draft, {
        k: [a.text for a in draft.document.annotations if a.kind == k] for k in ("hole", "angle", "ordinate")
    }


@pytest.mark.parametrize("deep", [None, 11], ids=["through", "blind"])
@pytest.mark.parametrize("seat", SEATS)
@pytest.mark.parametrize("wall", WALLS)
def test_a_hole_says_its_seat_and_its_depth_from_where_its_axis_comes_out(wall, seat, deep):
    (steps, at, axis), (seats, words) = WALLS[wall], SEATS[seat]
    if wall == "the wall of a tube" and deep:
        deep = 6  # the wall is 8 thick
    _, texts = proven(*steps, hole([at], 5, axis, **seats, **({} if deep is None else {"depth": deep})))
    assert f"⌀5 {'THRU' if deep is None else f'↧{deep}'}{words}" in texts["hole"]


@settings(max_examples=6)
@given(lean=st.integers(12, 55), x=st.integers(22, 38), y=st.integers(8, 32))
def test_an_askew_hole_is_said_by_its_angle_and_where_it_comes_out(lean, x, y):
    axis = [math.sin(math.radians(lean)), 0, math.cos(math.radians(lean))]
    draft, texts = proven(block(60, 40, 30), hole([[x, y, 30]], 5, axis, depth=14))
    assert texts["angle"] == [write_angle(90.0 - lean)]
    assert {write_length(float(x), draft.document.unit), write_length(float(y), draft.document.unit)} <= set(
        texts["ordinate"]
    )


def test_an_askew_hole_in_a_shaft_leans_on_its_axis():
    _, texts = proven(rod(30, 60), hole([[15, 0, 30]], 5, [1, 0, 0.5]))
    assert texts["angle"] == [write_angle(math.degrees(math.atan2(1, 0.5)))] and "30" in texts["ordinate"]


def test_a_hole_askew_in_two_ways_is_told_to_be_loose():
    draft = draft_model(
        model_of(recipe(block(60, 40, 30), hole([[30, 20, 30]], 5, [0.3, 0.2, 1], depth=9))), DraftWish()
    )
    check = check_sheet(draft.document, draft.scene.solids)
    assert not check.complete["ok"] and any("angle of a leaning direction" in f for f in check.complete["free"])
    assert {"30", "20"} <= {a.text for a in draft.document.annotations if a.kind == "ordinate"}


def test_a_wrong_angle_and_a_wrong_mouth_are_told():
    axis = [math.sin(math.radians(30)), 0, math.cos(math.radians(30))]
    draft, _ = proven(block(60, 40, 30), hole([[28, 17, 30]], 5, axis, depth=14))
    for kind, right, wrong in (("angle", "60°", "61°"), ("ordinate", "28", "28.5"), ("ordinate", "17", "16")):
        mark = next(a for a in draft.document.annotations if a.kind == kind and a.text == right)
        changed = worded(mark, wrong)
        marks = tuple(changed if a.id == mark.id else a for a in draft.document.annotations)
        check = check_sheet(draft.document.model_copy(update={"annotations": marks}), draft.scene.solids)
        assert next(s for s in check.statements if s.id == mark.id).state == "contradicted"


def test_a_mouth_follows_its_hole_to_a_changed_model():
    axis = [0.5, 0, 1]
    old = model_of(recipe(block(60, 40, 30), hole([[30, 20, 30]], 5, axis, depth=14))).solids[0]
    new = model_of(recipe(block(60, 40, 34), hole([[33, 20, 34]], 5, axis, depth=14))).solids[0]
    wall = recognise(old).holes[0].first.main_faces[0]
    up = np.array([0.0, 0, 1])
    ref = mouth_reference(old.faces[wall], up)
    assert np.allclose(mouth_of(old, wall, up)[1], [30, 20, 30])
    there = resolve_all([ref], new)[ref]
    assert there.status == "moved" and np.allclose(mouth_of(new, there.faces[0], up)[1], [33, 20, 34])
    assert mouth_of(old, wall, -up) is None
