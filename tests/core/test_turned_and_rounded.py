"""Parts that real shops make and that once came out wrong: each with its own cause, all to be said once, whole and proven."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.bench.draft import _POSES
from canonis.core.drafting.draft import DraftWish, draft_model
from canonis.core.features.recognition import recognise
from canonis.core.proof.check import check_sheet
from canonis.core.recipe.build import build_recipe
from canonis.core.shape.frame import own_frame
from canonis.core.shape.mirror import mirrored, mirrored_about
from canonis.core.shape.placing import places
from canonis.core.sheet.hatch import filled_outline
from canonis.core.solid.making import turned_about, write_step
from canonis.core.solid.reader import read_model
from tests.conftest import block, model_of, recipe
from tests.core.known_parts import hole, near, rod, shape, turned


def whole(*steps):
    """The texts by kind of a part's sheet, which says everything once, proven."""
    draft = draft_model(model_of(recipe(*steps)), DraftWish(views="auto"))
    check = check_sheet(draft.document, draft.scene.solids)
    wrong = [(s.text, s.state) for s in check.statements if s.state not in ("proven", "reference")]
    assert (wrong, check.complete["free"], check.complete["redundant"]) == ([], [], [])
    return [a.text for a in draft.document.annotations if a.text]


def arc(*path):
    return {
        "op": "revolve",
        "profile": {"plane": "XZ", "outer": {"path": [*path, ["Z"]]}},
        "angle": 360,
        "axis": {"point": [0, 0, 0], "direction": [0, 0, 1]},
    }


def test_a_plain_taper_is_whole():
    assert "⌀40" in whole(turned((0, 0), (20, 0), (15, 60), (0, 60)))


def test_a_hexagon_with_bevelled_ends_says_the_circle_of_each_end():
    across = 26.0
    corners = [[across / math.sqrt(3) * f(math.radians(60 * k)) for f in (math.cos, math.sin)] for k in range(6)]
    prism = shape({"path": [["M" if k == 0 else "L", *p] for k, p in enumerate(corners)] + [["Z"]]}, 0, 12, "add")
    # A cone of 30° to each end cuts the corners off.
    low = {**turned((13.1, 0), (18, 0), (18, 4.9 * math.tan(math.radians(30)))), "mode": "cut"}
    high = {**turned((13.1, 12), (18, 12), (18, 12 - 4.9 * math.tan(math.radians(30)))), "mode": "cut"}
    texts = whole(prism, hole([[0, 0, 12]], 13), low, high)
    assert "HEX 26 AF" in texts and texts.count("⌀26.2") == 2


def test_a_hollow_half_ball_with_a_hole_in_its_crown():
    ball = arc(["M", 0, 0], ["L", 40, 0], ["L", 40, 8], ["L", 30, 8], ["A", 0, 38, 30, "ccw"])
    inside = arc(["M", 0, 0], ["L", 24, 0], ["L", 24, 8], ["A", 0, 32, 24, "ccw"])
    texts = whole(ball, {**inside, "mode": "cut"}, hole([[0, 0, 38]], 8))
    # The ball inside goes over into the bore: its size follows.
    assert {"SR30", "⌀48 ↧8", "⌀8 THRU"} <= set(texts)


def test_a_pad_rounded_on_all_its_edges_is_rounded_in_one_place():
    pad = recipe(
        block(40, 30, 6),
        {"op": "round", "edges": near([0, 0, 3], [40, 0, 3], [40, 30, 3], [0, 30, 3]), "radius": 2},
        {"op": "round", "edges": near([20, 0, 6], [20, 30, 6], [0, 15, 6], [40, 15, 6]), "radius": 2},
    )
    solid = model_of(pad).solids[0]
    rounds = [f.index for f in solid.faces if f.kind in ("cylinder", "torus")]
    assert len(places(solid, rounds)) == 1
    assert "R2" in whole(*pad["steps"])


def test_two_slopes_that_end_at_one_level_are_both_placed():
    outline = [[0, 0], [60, 0], [60, 30], [45, 50], [15, 50], [0, 30]]
    path = [["M" if k == 0 else "L", *p] for k, p in enumerate(outline)] + [["Z"]]
    whole(shape({"path": path}, 0, 10, "add"))


def test_a_pocket_that_an_eccentric_hole_goes_on_from_is_a_blind_hole():
    texts = whole(block(60, 40, 20), hole([[30, 20, 20]], 24, depth=6), hole([[30.4, 20, 20]], 18))
    assert "⌀24 ↧6" in texts and "⌀18 THRU" in texts


def test_a_hole_into_a_box_is_said_from_outside_and_its_inner_rim_as_the_far_side():
    texts = whole(
        block(60, 40, 30),
        {"op": "shell", "thickness": 4, "open": near([0, 20, 15])},
        hole([[30, 20, 30]], 12, depth=4),
        {"op": "round", "edges": near([36, 20, 26]), "radius": 1},
    )
    assert any(t.startswith("⌀12 THRU") and t.endswith("FAR SIDE") for t in texts)


def test_a_bore_goes_on_behind_a_groove_that_is_wider_than_what_is_left_beside_it():
    ring = turned((10, 0), (14, 0), (14, 30), (10, 30))
    race = {
        "op": "revolve",
        "profile": {"plane": "XZ", "outer": {"circle": [9.5, 3.5, 5]}},
        "mode": "cut",
        "angle": 360,
        "axis": {"point": [0, 0, 0], "direction": [0, 0, 1]},
    }
    texts = whole(ring, race, {"op": "round", "edges": near([10, 0, 0]), "radius": 0.4})
    assert any(t.startswith("⌀20 THRU") and "R0.4" in t for t in texts)


@pytest.mark.parametrize("pose", range(5))
def test_a_rod_that_tapers_lies_with_its_bores_level(pose):
    arm = [[0, -12], [80, -6], [80, 6], [0, 12]]
    path = [["M" if k == 0 else "L", *p] for k, p in enumerate(arm)] + [["Z"]]
    rod_ = recipe(
        shape({"circle": [0, 0, 34]}, 0, 14, "add"),
        shape({"circle": [80, 0, 20]}, 0, 14, "add"),
        shape({"path": path}, 2, 10, "add"),
        hole([[0, 0, 14]], 16),
        hole([[80, 0, 14]], 8),
    )
    built, (axis, degrees) = build_recipe(rod_), _POSES[pose]
    made = built.shape if axis is None else turned_about(built.shape, np.zeros(3), np.array(axis, dtype=float), degrees)
    solid = read_model(write_step(made, "rod", built.unit), "rod.step").solids[0]
    starts = [h.start for g in recognise(solid).holes for h in g.holes]
    along = (starts[1] - starts[0]) / np.linalg.norm(starts[1] - starts[0])
    assert float(np.abs(own_frame(solid) @ along).max()) > 1 - 1e-6


def test_symmetry_is_told_from_the_middle_of_a_part():
    solid = model_of(recipe(block(60, 40, 10), hole([[20, 12, 10], [20, 28, 10]], 6))).solids[0]
    assert [mirrored(solid, k) for k in range(3)] == [False, True, True]
    assert [mirrored_about(solid, d) for d in np.eye(3)] == [False, True, True]
    assert not mirrored_about(solid, np.array([math.sqrt(0.5), math.sqrt(0.5), 0]))


@settings(max_examples=40)
@given(
    st.lists(st.tuples(st.integers(0, 3), st.integers(0, 2), st.floats(0.5, 4)), max_size=6, unique_by=lambda h: h[:2])
)
def test_a_thin_cut_is_filled_but_for_its_openings(openings):
    plate = shapely.box(0, 0, 44, 34)
    for column, row, radius in openings:
        plate = plate.difference(shapely.Point(7 + 10 * column, 7 + 10 * row).buffer(radius))
    points = filled_outline(plate)
    x, y = points[:, 0], points[:, 1]
    area = 0.5 * float(np.sum(x * np.roll(y, -1) - y * np.roll(x, -1)))
    assert area == pytest.approx(plate.area, rel=1e-9)


def test_a_ring_with_equal_beads_says_their_radius_once():
    beads = [
        {
            "op": "revolve",
            "profile": {"plane": "XZ", "outer": {"circle": [20, z, 6]}},
            "angle": 360,
            "axis": {"point": [0, 0, 0], "direction": [0, 0, 1]},
        }
        for z in (12, 24, 36)
    ]
    draft = draft_model(model_of(recipe(rod(40, 48), *beads)), DraftWish(views="auto"))
    assert [a.text for a in draft.document.annotations if a.kind == "radius"] == ["3× R3"]
