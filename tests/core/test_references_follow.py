"""References on revised parts: same, moved with its shift, resized with its growth, lost; whatever the order of faces."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.faults import BadInput
from canonis.core.solid.references import edge_reference, extreme_reference, face_reference, parse, resolve_all
from tests.conftest import block, model_of, recipe


def solid(*steps):
    return model_of(recipe(*steps)).solids[0]


def hole(x, y, d=8, **more):
    return {"op": "hole", "at": [[x, y, 20]], "axis": [0, 0, 1], "diameter": d, "through": True, **more}


def bores(of):
    return sorted(
        (f for f in of.faces if f.kind == "cylinder" and f.inner),
        key=lambda f: (round(float(f.origin[0]), 3), round(float(f.origin[1]), 3)),
    )


BASE = (block(100, 60, 20), hole(20, 20), hole(70, 40, 12))


def test_every_reference_of_a_part_is_itself():
    part = solid(*BASE)
    refs = [face_reference(f) for f in part.faces]
    refs += [edge_reference(e) for e in part.edges if e.kind in ("line", "circle")]
    refs += [edge_reference(e, p) for e in part.edges for p in ("start", "end", "middle")]
    refs += [edge_reference(e, "centre") for e in part.edges if e.kind == "circle"]
    found = resolve_all(refs, part)
    assert {r.status for r in found.values()} == {"same"}


def test_the_order_of_steps_and_faces_changes_nothing():
    one, two = solid(*BASE), solid(block(100, 60, 20), hole(70, 40, 12), hole(20, 20))
    refs = [face_reference(f) for f in one.faces]
    assert {r.status for r in resolve_all(refs, two).values()} == {"same"}


@settings(max_examples=8, deadline=None)
@given(st.integers(-6, 6), st.integers(-6, 6))
def test_a_hole_that_moves_says_how_far(dx, dy):
    before, after = solid(*BASE), solid(block(100, 60, 20), hole(20 + dx, 20 + dy), hole(70, 40, 12))
    ref = face_reference(bores(before)[0])
    found = resolve_all([ref], after)[ref]
    gone = float(np.hypot(dx, dy))
    assert found.status == ("same" if gone == 0 else "moved") and found.shift == pytest.approx(gone, abs=1e-6)


@pytest.mark.parametrize("size", [7.5, 8.4, 9])
def test_a_hole_that_grows_says_by_how_much(size):
    before, after = solid(*BASE), solid(block(100, 60, 20), hole(20, 20, size), hole(70, 40, 12))
    ref = face_reference(bores(before)[0])
    found = resolve_all([ref], after)[ref]
    assert found.status == "resized" and found.growth == pytest.approx((size - 8) / 2, abs=1e-6)


def test_a_hole_that_is_gone_is_lost_and_its_neighbour_is_not_taken_for_it():
    before, after = solid(*BASE), solid(block(100, 60, 20), hole(70, 40, 12))
    first, second = (face_reference(f) for f in bores(before))
    found = resolve_all([first, second], after)
    assert found[first].status == "lost" and found[second].status == "same"


def test_outer_faces_follow_the_size_of_the_part():
    before, after = solid(*BASE), solid(block(110, 60, 20), hole(20, 20), hole(70, 40, 12))
    right = extreme_reference(np.array([1.0, 0, 0]), 100.0)
    left = extreme_reference(np.array([-1.0, 0, 0]), 0.0)
    found = resolve_all([right, left], after)
    assert (found[right].status, found[right].shift, found[left].status) == ("moved", pytest.approx(10), "same")
    face = next(face_reference(f) for f in before.faces if f.kind == "plane" and f.axis[0] > 0.9)
    assert resolve_all([face], after)[face].status == "moved"


def test_twins_far_away_are_not_mixed_up():
    row = [hole(20 + 15 * k, 30, 6) for k in range(5)]
    before, after = solid(block(120, 60, 20), *row), solid(block(120, 60, 20), *row[:2], *row[3:])
    refs = [face_reference(f) for f in bores(before)]
    found = resolve_all(refs, after)
    assert [found[r].status for r in refs] == ["same", "same", "lost", "same", "same"]


def test_a_fixed_point_is_a_point_on_any_part():
    ref = "fixed;10,20,30"
    assert resolve_all([ref], solid(block(5, 5, 5)))[ref].status == "same"


@pytest.mark.parametrize(
    "text",
    [
        "",
        "plane",
        "plane;1,2;3",
        "bore;1,2,3;0,0,1;x;y",
        "blob;1",
        "point;1,2,nan",
        "point;" + "9" * 400 + ",1,1;",
        "plane;;;;",
    ],
)
def test_what_is_no_reference_is_refused(text):
    with pytest.raises(BadInput, match="not a geometric reference"):
        parse(text)


@given(st.text("planebore;shft,.0123456789-", max_size=60))
def test_any_text_is_a_reference_or_refused(text):
    try:
        made = parse(text)
    except BadInput as refused:
        assert "\n" not in str(refused)
    else:
        assert parse(str(made)).kind == made.kind
