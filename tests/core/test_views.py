"""Projections against closed forms: lengths, places, visibility, and the lines that are written out."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.output.sheet_json import lines_json
from canonis.core.view.frames import PRINCIPAL, frame_of, front_frame
from canonis.core.view.projection import project
from tests.conftest import block, draft_of, model_of, recipe

FRONT = front_frame(np.array([1.0, 0, 0]), np.array([0.0, 0, 1]))


def seen(solid, kind):
    return project(solid, frame_of(kind, FRONT))


def test_principal_views_look_from_their_side():
    toward = {k: tuple(np.round(frame_of(k, FRONT).toward, 9)) for k in PRINCIPAL}
    assert toward == {
        "front": (0, -1, 0),
        "back": (0, 1, 0),
        "top": (0, 0, 1),
        "bottom": (0, 0, -1),
        "left": (-1, 0, 0),
        "right": (1, 0, 0),
    }
    for kind in PRINCIPAL:
        frame = frame_of(kind, FRONT)
        assert np.cross(frame.right, frame.up) == pytest.approx(frame.toward)


@settings(max_examples=8, deadline=None)
@given(st.integers(20, 60), st.integers(20, 60), st.integers(5, 20), st.integers(4, 9))
def test_a_plate_with_a_hole_shows_its_lengths(w, d, h, r2):
    hole = {"op": "hole", "at": [[w / 2, d / 2, h]], "axis": [0, 0, 1], "diameter": 2 * r2, "through": True}
    solid = model_of(recipe(block(w, d, h), hole)).solids[0]
    top = seen(solid, "top")
    assert top.length("visible") == pytest.approx(2 * (w + d) + 2 * math.pi * r2, rel=1e-6)
    for kind, wide in (("front", w), ("left", d)):
        view = seen(solid, kind)
        assert view.length("visible") == pytest.approx(2 * (wide + h)) and view.length("hidden") == pytest.approx(
            2 * h, abs=1e-3
        )


def test_a_cylinder_shows_outlines_and_no_seam():
    rod = {"op": "extrude", "profile": {"plane": "XY", "outer": {"circle": [0, 0, 20]}}, "distance": 50}
    solid = model_of(recipe(rod)).solids[0]
    assert seen(solid, "front").length("visible") == pytest.approx(2 * (20 + 50), rel=1e-6)
    assert seen(solid, "front").length("hidden") == pytest.approx(0, abs=1e-6)
    assert seen(solid, "top").length("visible") == pytest.approx(20 * math.pi, rel=1e-6)


def test_tangent_edges_are_smooth_and_not_counted():
    rounded = {"op": "round", "edges": {"near": [[0, 0, 10]]}, "radius": 5}
    solid = model_of(recipe(block(40, 30, 20), rounded)).solids[0]
    front = seen(solid, "front")
    # One corner of the outline is replaced by the round: its two tangent lines are transitions, not edges.
    assert front.length("visible") == pytest.approx(2 * (40 + 20))
    top = seen(solid, "top")
    assert top.length("visible") == pytest.approx(2 * (40 + 30) - 10 + 5 * math.pi / 2, rel=1e-6)


def test_a_step_hides_what_lies_behind_it():
    step = {
        "op": "extrude",
        "profile": {
            "plane": {"origin": [0, 0, 20], "x": [1, 0, 0], "normal": [0, 0, 1]},
            "outer": {"rect": [10, 0, 20, 30]},
        },
        "distance": -8,
        "mode": "cut",
    }
    solid = model_of(recipe(block(40, 30, 20), step)).solids[0]
    left = seen(solid, "left")
    # The channel's floor shows as one hidden line from the side.
    assert left.length("visible") == pytest.approx(2 * (30 + 20)) and left.length("hidden") == pytest.approx(
        30, abs=1e-3
    )


def test_lines_that_fall_on_each_other_count_once():
    both = {
        "op": "extrude",
        "profile": {"plane": "XY", "outer": {"rect": [0, 0, 40, 30]}, "holes": [{"rect": [10, 10, 20, 10]}]},
        "distance": 12,
    }
    solid = model_of(recipe(both)).solids[0]
    front = seen(solid, "front")
    assert front.length("visible") == pytest.approx(2 * (40 + 12)) and front.length("hidden") == pytest.approx(
        2 * 12, abs=1e-3
    )


def test_views_of_opposite_sides_mirror_each_other():
    hole = {"op": "hole", "at": [[8, 10, 12]], "axis": [0, 0, 1], "diameter": 5, "through": True}
    solid = model_of(recipe(block(40, 30, 12), hole)).solids[0]
    for a, b in (("front", "back"), ("left", "right"), ("top", "bottom")):
        one, two = seen(solid, a), seen(solid, b)
        assert one.length("visible") + one.length("hidden") == pytest.approx(
            two.length("visible") + two.length("hidden"), abs=1e-3
        )
    assert {round(float(c[0]), 6) for c in seen(solid, "top").arcs[0]} == {8.0}
    assert {round(float(c[0]), 6) for c in seen(solid, "back").arcs[0]} == set()


def test_written_lines_stay_within_a_thousandth_of_their_curves():
    hole = {"op": "hole", "at": [[20, 15, 12]], "axis": [0, 0, 1], "diameter": 16, "through": True}
    draft = draft_of(recipe(block(40, 30, 12), hole))
    data = lines_json(draft.scene)
    along = next(v.id for v in draft.document.views if abs(np.cross(v.right, v.up)[2]) > 0.99)
    view = next(v for v in data["views"] if v["id"] == along)
    circles = [np.array(line) for line in view["visible"] if len(line) > 8]
    assert circles
    for points in circles:
        middle = (points[:-1] + points[1:]) / 2
        # The view's origin is the middle of the part, where the hole stands.
        assert (
            np.abs(np.linalg.norm(points, axis=1) - 8).max() < 1e-5
            and np.abs(np.linalg.norm(middle, axis=1) - 8).max() < 1e-3
        )
    total = sum(float(np.linalg.norm(np.diff(np.array(line), axis=0), axis=1).sum()) for line in view["visible"])
    assert total == pytest.approx(140 + 16 * math.pi, rel=1e-4)


def test_a_flat_or_turned_part_needs_fewer_views():
    disc = {
        "op": "extrude",
        "profile": {"plane": "XY", "outer": {"circle": [0, 0, 60]}, "holes": [{"circle": [0, 0, 20]}]},
        "distance": 8,
    }
    few = draft_of(recipe(disc), views="auto").document
    all_ = draft_of(recipe(disc)).document
    assert len(few.views) < len(all_.views) and len([v for v in all_.views if v.kind != "pictorial"]) >= 3
    assert {v.kind for v in few.views} >= {"front", "pictorial"}
