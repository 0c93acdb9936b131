"""Round-bottomed grooves: radius, bottom and middle, around shafts, in bores and in faces."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.drafting.draft import DraftWish, draft_model
from canonis.core.proof.check import check_sheet
from canonis.core.sheet.wording import worded
from tests.conftest import draft_of, model_of, recipe
from tests.core.known_parts import ball_race, hole, rod


def _sheet(*steps):
    model = model_of(recipe(*steps))
    return draft_model(model, DraftWish(views="auto")).document, model.solids


def _groove(document):
    return next(a for a in document.annotations if a.kind == "groove")


@settings(max_examples=10, deadline=None)
@given(st.integers(2, 6), st.integers(-3, 3), st.integers(12, 28), st.sampled_from(["shaft", "bore", "face"]))
def test_a_race_is_said_by_its_radius_its_bottom_and_its_middle(halves, lift, at, where):
    tube, off = halves / 2, lift * halves / 20
    body = {
        "shaft": (rod(30, 40), ball_race(15 + off, at, tube)),
        "bore": (rod(70, 40), hole([[0, 0, 40]], 30), ball_race(15 + off, at, tube)),
        "face": (rod(70, 40), ball_race(20, 40 + off, tube)),
    }[where]
    document, solids = _sheet(*body)
    bottom = {"shaft": 2 * (15 + off - tube), "bore": 2 * (15 + off + tube), "face": 40.0}[where]
    text = f"GROOVE R{tube:g} × ⌀{round(bottom, 3):g}" + (f" ↧{round(tube - off, 3):g}" if where == "face" else "")
    assert _groove(document).text == text
    check = check_sheet(document, solids)
    assert check.complete["ok"]
    assert {s.state for s in check.statements} <= {"proven", "reference"}
    if where != "face":
        rows = [a.text for a in document.annotations if a.kind == "ordinate" and a.refs[-1].startswith("torus")]
        assert rows == [f"{at}"]


@pytest.mark.parametrize(
    ("wrong", "part"),
    [
        ("GROOVE R2.5 × ⌀26", "radius"),
        ("GROOVE R2 × ⌀34", "diameter"),
        ("2× GROOVE R2 × ⌀26", "count"),
    ],
)
def test_a_race_that_is_not_so_is_contradicted(wrong, part):
    document, solids = _sheet(rod(30, 40), ball_race(15, 20, 2))
    mark = _groove(document)
    marks = tuple(worded(a, wrong) if a.id == mark.id else a for a in document.annotations)
    check = check_sheet(document.model_copy(update={"annotations": marks}), solids)
    proof = next(s for s in check.statements if s.id == mark.id)
    assert proof.state == "contradicted" and [p.name for p in proof.parts if not p.ok] == [part]


def test_a_bore_with_a_race_stays_one_bore():
    data = recipe(rod(60, 30), hole([[0, 0, 30]], 30), ball_race(15, 12, 2))
    group = draft_of(data).features[0].holes
    assert [(g.first.diameter, len(g.holes), g.first.through) for g in group] == [(30.0, 1, True)]
