"""Complete, said twice, implied: judged from the equations alone."""

import pytest

from canonis.core.proof.check import check_sheet
from canonis.core.quantity.units import Unit
from canonis.core.sheet.document import Linear
from canonis.core.sheet.wording import meaning, worded
from tests.conftest import block, draft_of, model_of, recipe
from tests.core.test_shape import PARTS, changes

WITH_HOLES = recipe(
    block(64, 40, 12),
    {"op": "hole", "at": [[18, 20, 12], [50, 20, 12]], "axis": [0, 0, 1], "diameter": 6, "through": True},
)


def judged(data, document=None):
    document = document or draft_of(data).document
    return check_sheet(document, model_of(data).solids, density=1.0)


def verdict(check):
    return check.complete["ok"], check.complete["free"], check.complete["redundant"]


def without(document, *ids):
    return document.model_copy(update={"annotations": tuple(a for a in document.annotations if a.id not in ids)})


@pytest.mark.parametrize("name", PARTS)
def test_a_draft_of_a_plain_part_is_complete_and_says_nothing_twice(name):
    check = judged(PARTS[name])
    assert verdict(check) == (True, [], [])
    assert {s.state for s in check.statements} <= {"proven", "reference"}


@pytest.mark.parametrize("name", PARTS)
def test_whatever_is_taken_away_is_reported_free(name):
    document = draft_of(PARTS[name]).document
    for mark in document.annotations:
        stated = mark.kind in ("linear", "ordinate", "hole", "diameter", "radius", "slot", "chamfer", "bolt-circle")
        if not stated or mark.reference or mark.text in ("0", ".000"):
            continue
        check = judged(PARTS[name], without(document, mark.id))
        assert check.complete["free"], f"“{mark.text}” was not missed"
        if mark.kind == "ordinate":
            assert any(f"= {mark.text}" in f or mark.text in f for f in check.complete["free"]), (
                mark.text,
                check.complete,
            )


def test_a_closing_member_is_named_with_its_loop():
    document = draft_of(WITH_HOLES).document
    x = next(a for a in document.annotations if a.kind == "ordinate" and a.text == "18")
    y = next(a for a in document.annotations if a.kind == "ordinate" and a.text == "50")
    view = x.view
    link = Linear(
        id="D900",
        view=view,
        direction=x.direction,
        side="below",
        refs=(x.refs[1], y.refs[1]),
        says=meaning("32", Unit.MM),
    )
    both = document.model_copy(update={"annotations": (*document.annotations, link)})
    (loop,) = judged(WITH_HOLES, both).complete["redundant"]
    assert all(f"“{t}”" in loop for t in ("18", "32", "50"))
    as_reference = document.model_copy(
        update={"annotations": (*document.annotations, link.model_copy(update={"reference": True}))}
    )
    assert judged(WITH_HOLES, as_reference).complete["ok"]
    # Without one of the others the chain is open again, and complete.
    assert verdict(judged(WITH_HOLES, without(both, y.id))) == (True, [], [])


def test_the_same_note_twice_is_said_twice():
    document = draft_of(WITH_HOLES).document
    note = next(a for a in document.annotations if a.kind == "hole").model_copy(update={"id": "D901"})
    check = judged(WITH_HOLES, document.model_copy(update={"annotations": (*document.annotations, note)}))
    assert check.complete["redundant"]


def test_two_holes_located_only_from_each_other_are_not_located():
    document = draft_of(WITH_HOLES).document
    x = [a for a in document.annotations if a.kind == "ordinate" and a.text in ("18", "50")]
    link = Linear(
        id="D900",
        view=x[0].view,
        direction=x[0].direction,
        side="below",
        refs=(x[0].refs[1], x[1].refs[1]),
        says=meaning("32", Unit.MM),
    )
    document = without(document, x[0].id, x[1].id)
    check = judged(WITH_HOLES, document.model_copy(update={"annotations": (*document.annotations, link)}))
    note = next(s for s in check.statements if s.kind == "hole")
    assert note.state == "unproven" and not note.part("location").ok
    assert len(check.complete["free"]) == 1 and "axis" in check.complete["free"][0]


def test_a_contradicted_statement_states_nothing():
    document = draft_of(WITH_HOLES).document
    marks = tuple(worded(a, "49") if a.text == "50" else a for a in document.annotations)
    check = judged(WITH_HOLES, document.model_copy(update={"annotations": marks}))
    assert any("50" in f for f in check.complete["free"])


@pytest.mark.parametrize("name", PARTS)
def test_no_size_of_a_part_can_change_in_silence(name):
    """Every number of the recipe, changed a little: some statement of the sheet moves, or the sheet is no longer complete."""
    document = draft_of(PARTS[name]).document
    tried = 0
    for path, other in changes(PARTS[name]):
        model = model_of(other)
        if abs(model.solids[0].mass.volume - model_of(PARTS[name]).solids[0].mass.volume) < 1e-6 and path[-1] != 0:
            continue
        check = check_sheet(document, model.solids, density=1.0)
        seen = [s for s in check.statements if s.state in ("contradicted", "lost", "unproven")]
        assert seen or not check.complete["ok"], path
        tried += 1
    assert tried > 2
