import copy

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.drafting.draft import DraftWish, draft_model
from canonis.core.features.recognition import recognise
from canonis.core.proof.check import check_sheet
from canonis.core.proof.gauge import gauge_hole
from canonis.core.sheet.wording import worded
from canonis.core.solid.reader import read_model
from canonis.core.source.specification import read_specification
from canonis.core.study.hints import hints_of
from tests.conftest import block, draft_of, model_of, real_part, recipe, step_bytes


@pytest.fixture(scope="module")
def cock(cock_step):
    return draft_of(cock_step, density=8.5)


def proved(document, data, spec=None, links=None):
    model = read_model(data, "m.step")
    hints = tuple(hints_of(recognise(s)) for s in model.solids)
    read = read_specification(spec) if spec else None
    return check_sheet(document, model.solids, read, density=8.5, links=links, hints=hints)


def with_text(document, mark_id, text):
    marks = tuple(worded(a, text) if a.id == mark_id else a for a in document.annotations)
    return document.model_copy(update={"annotations": marks})


def test_a_first_draft_proves_itself(cock, cock_step, cock_spec):
    check = proved(cock.document, cock_step, cock_spec)
    # Over its round end the height is the sum of the axis's level and the radius: a reference.
    assert [s.text for s in check.statements if s.state == "reference"] == ["70"]
    assert {s.state for s in check.statements} == {"proven", "reference"}
    assert {m.state for m in check.matches.values()} == {"proven"} and len(check.matches) == 20
    # This draft was made without the source, so its title block is empty; nothing else is to be said.
    assert check.complete["ok"] and {f.rule.split(".")[0] for f in check.findings} == {"title"}
    assert {r["state"] for r in check.ledger if r["kind"] == "mass"} == {"proven"}


def test_sums_are_written_out(cock, cock_step, cock_spec):
    matches = proved(cock.document, cock_step, cock_spec).matches
    assert matches["6"].how == "76" and matches["17"].how == "18 × 2 = 36"
    assert matches["3"].how == "52 + 18 = 70" and {m.state for m in matches.values()} == {"proven"}


def test_links_by_hand_win(cock, cock_step):
    spec = "unit: mm\n[characteristics]\n1 | | 13\n"
    row = next(a for a in cock.document.annotations if a.text == "40")
    linked = proved(cock.document, cock_step, spec, {"1": row.id}).matches["1"]
    assert linked.state == "differs" and linked.statements == (row.id,)
    assert proved(cock.document, cock_step, spec, {"1": None}).matches["1"].state == "no-place"


def test_the_flawed_model_is_found_out(cock, flawed_step, cock_spec):
    check = proved(cock.document, flawed_step, cock_spec)
    text = "\n".join(f.message for f in check.findings)
    assert "says 4×, the model has 3×" in text
    assert "counterbore depth 6.5, the model has 5.5" in text
    assert "pitch circle 20, the model has 21" in text
    assert any(f.rule == "mass.source" for f in check.findings)
    states = {m.number: m.state for m in check.matches.values()}
    assert states["5"] == states["15"] == "differs" and states["1"] == states["16"] == "proven"


def test_what_moved_changed_or_went_says_so(cock, cock_recipe):
    revised = copy.deepcopy(cock_recipe)
    for step in revised["steps"]:
        if step["name"] == "dowel holes":
            step["at"] = [[22, 23, 12], [74, 20, 12]]
    revised["steps"] = [s for s in revised["steps"] if s["name"] != "adjuster slot"]
    check = proved(cock.document, step_bytes(revised))
    by_text = {s.text: s for s in check.statements}
    assert by_text["SLOT 8 WIDE THRU 14 CENTRES"].state == "lost"
    moved = [s for s in check.statements if s.change == "moved" and s.state == "contradicted"]
    assert [s.text for s in moved] == ["20"] and moved[0].main.measured == pytest.approx(23)


@settings(max_examples=25, deadline=None)
@given(st.data())
def test_a_wrong_digit_in_any_text_is_caught(cock, data):
    """The text is what counts: a planted slip in it must be contradicted by the other route."""
    from canonis.core.proof.measure import Remeasurer, is_statement

    marks = [a for a in cock.document.annotations if is_statement(a) and any(c in "123456789" for c in a.text)]
    mark = data.draw(st.sampled_from(marks))
    spots = [k for k, c in enumerate(mark.text) if c.isdigit() and c != "0"]
    at = data.draw(st.sampled_from(spots))
    other = data.draw(st.sampled_from([c for c in "123456789" if c != mark.text[at]]))
    wrong = mark.text[:at] + other + mark.text[at + 1 :]
    assert Remeasurer(cock.document, cock.scene.solids).prove(worded(mark, wrong)).state == "contradicted"


def test_a_statement_without_location_is_not_proven(cock, cock_step):
    gone = tuple(a for a in cock.document.annotations if a.text != "76")
    check = proved(cock.document.model_copy(update={"annotations": gone}), cock_step)
    note = next(s for s in check.statements if s.text.startswith("4× ⌀6.6"))
    assert note.state == "unproven" and not note.part("location").ok


def test_a_second_statement_of_one_size_is_redundant(cock, cock_step):
    twin = next(a for a in cock.document.annotations if a.text == "96").model_copy(update={"id": "D900"})
    both = cock.document.model_copy(update={"annotations": (*cock.document.annotations, twin)})
    assert proved(both, cock_step).complete["redundant"]
    marked = both.model_copy(
        update={"annotations": (*cock.document.annotations, twin.model_copy(update={"reference": True}))}
    )
    assert not proved(marked, cock_step).complete["redundant"]


@settings(max_examples=20, deadline=None)
@given(st.floats(3, 8), st.floats(3, 9), st.sampled_from([0, 90, 118]), st.floats(1.3, 2), st.floats(0.8, 2))
def test_the_gauge_agrees_with_the_recipe(diameter, depth, point, share, seat):
    hole = {
        "op": "hole",
        "at": [[20, 15, 20]],
        "axis": [0, 0, 1],
        "diameter": diameter,
        "depth": depth,
        "point": point,
        "counterbore": {"diameter": diameter * share, "depth": min(seat, depth / 2)},
    }
    solid = model_of(recipe(block(40, 30, 20), hole)).solids[0]
    face = min((f for f in solid.faces if f.kind == "cylinder"), key=lambda f: f.radius)
    got = gauge_hole(solid, face.index, np.array([0.0, 0, 1]))
    assert not got.through and got.depth == pytest.approx(depth, abs=1e-4)
    assert got.diameter == pytest.approx(diameter, abs=1e-6)
    assert got.near[0].diameter == pytest.approx(diameter * share, abs=1e-5)
    assert got.near[0].depth == pytest.approx(min(seat, depth / 2), abs=1e-4)


@settings(max_examples=12, deadline=None)
@given(st.floats(0, 180), st.floats(8.5, 14))
def test_a_countersink_keeps_its_diameter_between_those_that_cut_into_it(turn, pitch):
    way = np.array([np.cos(np.radians(turn)), np.sin(np.radians(turn))])
    at = [[*(float(c) for c in 40 + k * pitch * way), 12] for k in (-1, 0, 1)]
    part = recipe(
        block(80, 80, 12),
        {
            "op": "hole",
            "at": at,
            "axis": [0, 0, 1],
            "diameter": 5.5,
            "through": True,
            "countersink": {"diameter": 11, "angle": 90},
        },
    )
    model = model_of(part)
    (group,) = recognise(model.solids[0]).holes
    for one in group.holes:
        (seat,) = gauge_hole(model.solids[0], one.main_faces[0], one.axis, True).near
        assert (seat.diameter, seat.angle) == (pytest.approx(11, rel=1e-6), pytest.approx(90))


def test_through_is_proven_against_the_far_face():
    def text(through):
        hole = {"op": "hole", "at": [[20, 15, 12]], "axis": [0, 0, 1], "diameter": 8, "point": 0}
        return step_bytes(recipe(block(40, 30, 12), hole | ({"through": True} if through else {"depth": 11})))

    draft = draft_of(text(True))
    check = proved(draft.document, text(False))
    note = next(s for s in check.statements if "THRU" in s.text)
    assert note.state == "contradicted" and not note.part("through").ok


def test_the_other_density_is_named():
    data = step_bytes(recipe(block(40, 30, 12)))
    draft = draft_of(data)
    spec = f"material: brass\n[checkpoints]\nend | {40 * 30 * 12 * 7.85 / 1000:.2f} g\n"
    messages = [f.message for f in proved(draft.document, data, spec).findings]
    assert any("steel" in m and "7.85" in m for m in messages)


def test_the_centre_in_its_own_frame():
    data = step_bytes(recipe(block(40, 30, 12)))
    draft = draft_of(data)
    good = "[checkpoints]\nend | | 10.0, 5.0, 6.0 | 10, 10, 0\n"
    assert not [f for f in proved(draft.document, data, good).findings if f.rule == "centre.source"]
    slip = "[checkpoints]\nend | | 20.0, 15.0, 6.0 | 10, 10, 0\n"
    found = [f for f in proved(draft.document, data, slip).findings if f.rule == "centre.source"]
    assert found and "file's own frame" in found[0].message


@pytest.mark.parametrize("name", ["component8.step", "screw.step"])
def test_real_parts_prove_themselves(name):
    model = read_model(real_part(name), name)
    draft = draft_model(model, DraftWish())
    check = check_sheet(draft.document, model.solids)
    assert {s.state for s in check.statements} <= {"proven", "reference"}
