"""Rings with gaps and holes at any angles: said by angles on the pitch circle, and proven by them."""

import math

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from canonis.core.callout.rules import HouseRules
from canonis.core.drafting.basis import Basis
from canonis.core.proof.check import check_sheet
from canonis.core.shape.implied import shape_of
from canonis.core.sheet.wording import worded
from canonis.core.source.shorthand import read_line
from tests.conftest import block, draft_of, model_of, recipe
from tests.core.known_parts import hole, rod


def _flange(turns, *more):
    places = [[30 * math.cos(math.radians(t)), 30 * math.sin(math.radians(t)), 10] for t in turns]
    return recipe(rod(80, 10), *more, hole(places, 5))


def _ring(data):
    document = draft_of(data).document
    return document, next(a for a in document.annotations if a.kind == "bolt-circle")


def _said(text, count):
    """The angles at which a text says that holes stand."""
    reading = read_line(text, HouseRules())
    assert reading.error is None
    members = [float(p.nominal) for p in reading.parts if p.name.startswith("member-")]
    if members:
        return members
    start, apart = reading.size("start-angle"), reading.size("pitch-angle")
    step = 360 / count if apart is None else float(apart)
    return [(float(start or 0) + k * step) % 360 for k in range(count)]


@settings(max_examples=12, deadline=None)
@given(st.lists(st.integers(0, 35), min_size=3, max_size=6, unique=True), st.integers(0, 9))
def test_holes_on_a_round_flange_stand_where_the_text_says(tenths, turn):
    turns = sorted((10 * t + turn) % 360 for t in tenths)
    gaps = [(b - a) % 360 for a, b in zip(turns, (*turns[1:], turns[0]), strict=True)]
    # Closer ones run into each other; what lies on a grid is told by its rows.
    assume(min(gaps) >= 10)
    data = _flange(turns)
    document, *_ = (draft_of(data).document,)
    rings = [a for a in document.annotations if a.kind == "bolt-circle"]
    assume(rings)
    assert sorted(round(a, 6) for a in _said(rings[0].text, len(turns))) == pytest.approx(turns)
    check = check_sheet(document, model_of(data).solids)
    assert check.complete["ok"]
    assert {s.state for s in check.statements} <= {"proven", "reference"}


@pytest.mark.parametrize(
    ("turns", "text"),
    [
        ((0, 40, 80, 120, 160, 200, 240, 280), "⌀60 PCD 40° APART START 0°"),
        ((20, 35, 50, 65), "⌀60 PCD 15° APART START 20°"),
        ((0, 33, 75, 200), "⌀60 PCD AT 0°, 33°, 75°, 200°"),
        ((15, 75, 135, 195, 255, 315), "⌀60 PCD START 15°"),
        ((0, 60, 120, 180, 240, 300), "⌀60 PCD"),
    ],
)
def test_a_ring_says_no_more_than_it_must(turns, text):
    assert _ring(_flange(turns))[1].text == text


@pytest.mark.parametrize(
    ("turns", "wrong", "part"),
    [
        ((0, 40, 80, 120, 160, 200, 240, 280), "⌀60 PCD 45° APART START 0°", "pitch-angle"),
        ((20, 35, 50, 65), "⌀60 PCD 15° APART START 25°", "start-angle"),
        ((0, 33, 75, 200), "⌀60 PCD AT 0°, 33°, 57°, 200°", "member-3-angle"),
        ((0, 33, 75, 200), "⌀60 PCD AT 0°, 33°, 75°", "count"),
        ((20, 35, 50, 65), "⌀58 PCD 15° APART START 20°", "pitch-circle"),
    ],
)
def test_a_wrong_angle_is_contradicted(turns, wrong, part):
    data = _flange(turns)
    document, ring = _ring(data)
    changed = worded(ring, wrong)
    marks = tuple(changed if a.id == ring.id else a for a in document.annotations)
    check = check_sheet(document.model_copy(update={"annotations": marks}), model_of(data).solids)
    proof = next(s for s in check.statements if s.id == ring.id)
    assert proof.state == "contradicted"
    assert [p.name for p in proof.parts if not p.ok] == [part]


def test_angles_around_a_bore_only_where_they_are_even():
    # Three of the four corners around a bore in a square plate: by their places, not by angles.
    plate = {"op": "extrude", "profile": {"plane": "XY", "outer": {"rect": [-50, -50, 100, 100]}}, "distance": 10}
    corners = [[35, 35, 10], [-35, 35, 10], [-35, -35, 10]]
    data = recipe(plate, hole([[0, 0, 10]], 30), hole(corners, 5))
    assert not [a for a in draft_of(data).document.annotations if a.kind == "bolt-circle"]


def test_what_a_ring_brings_along_stays_with_the_sheet_that_states_it():
    """The centre of a ring is no unknown of the part: nothing of one sheet is left for the next, whatever became of it."""
    places = [[45 + 30 * math.cos(math.radians(t)), 45 + 30 * math.sin(math.radians(t)), 10] for t in range(0, 360, 60)]
    draft = draft_of(recipe(block(90, 90, 10), hole(places, 5)), views="auto")
    shape, _ = shape_of(draft.scene.solids[0])
    before = len(shape.unknowns)
    basis = Basis(draft.document, draft.document.pages[0], draft.scene.solids[0])
    (ring,) = (a for a in draft.document.annotations if a.kind == "bolt-circle")
    assert basis.rows(ring) and len(basis.shape.unknowns) > before
    check_sheet(draft.document, draft.scene.solids)
    assert len(shape.unknowns) == before
