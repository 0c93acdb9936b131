"""The source's own scheme on the sheet: its lines in its own form, tolerances included."""

import numpy as np
import pytest

from canonis.bench.scheme import said_of
from canonis.core.drafting.draft import DraftWish, draft_model
from canonis.core.features.recognise import recognise
from canonis.core.proof.check import check_sheet
from canonis.core.quantity.units import Unit
from canonis.core.solid.reader import read_model
from canonis.core.solid.references import parse
from canonis.core.source.rules import HouseRules
from canonis.core.source.shorthand import read_line
from canonis.core.source.specification import read_specification
from canonis.core.study.hints import hints_of
from canonis.core.study.scheme import scheme_of
from tests.conftest import block, model_of, recipe

PLATE = recipe(
    block(90, 60, 20),
    {"op": "hole", "at": [[20, 15, 20], [65, 15, 20]], "axis": [0, 0, 1], "diameter": 8, "through": True},
    {"op": "hole", "at": [[40, 42, 20]], "axis": [0, 0, 1], "diameter": 6.8, "depth": 16, "point": 118},
)  # fmt: skip


def sheet(data, *lines, **header):
    rows = "".join(f"{key.replace('_', '-')}: {value}\n" for key, value in header.items())
    body = "\n".join(f"{k} | | {text}" for k, text in enumerate(lines, start=1))
    spec = read_specification(f"unit: mm\n{rows}[characteristics]\n{body}\n")
    model = model_of(data)
    found = tuple(recognise(s) for s in model.solids)
    hints = tuple(hints_of(f) for f in found)
    draft = draft_model(
        model, DraftWish(views="auto"), features=found, scheme=lambda scene, _: scheme_of(spec, scene, hints)
    )
    check = check_sheet(draft.document, model.solids, spec, hints=hints)
    return {a.text for a in draft.document.annotations if a.refs}, check


WHOLE = ("90 ±0.2", "60", "20 +0.1/-0.3", "2x ⌀8 H7 THRU", "20", "45 ±0.05 CRS", "15.0", "M8 ↧12", "40", "42")


def test_lines_of_the_source_stand_on_the_sheet_as_it_says_them():
    texts, check = sheet(PLATE, *WHOLE)
    assert texts >= {"90 ±0.2", "60", "20 +0.1 -0.3", "2× ⌀8 H7 (+0.015/0) THRU", "20", "45 ±0.05", "15.0", "40", "42"}
    # A thread on a hole of its drill: the note says both (ISO 6410-1).
    assert "M8 ↧12 DRILL ⌀6.8 ↧16" in texts
    assert (check.complete["free"], check.complete["redundant"]) == ([], [])
    assert {s.state for s in check.statements} <= {"proven", "reference"}


def test_a_line_that_contradicts_the_part_leaves_the_drafted_size():
    texts, check = sheet(PLATE, "91", *WHOLE[1:])
    assert "90" in texts and "91" not in texts
    assert {s.state for s in check.statements} <= {"proven", "reference"}
    assert check.matches["1"].state == "differs"


def test_what_the_source_leaves_open_is_marked_where_the_house_estimates():
    def drafted(**house):
        rows = "".join(f"{key}: {value}\n" for key, value in house.items())
        spec = read_specification(f"unit: mm\n{rows}[characteristics]\n1 | | 90 ±0.2\n2 | | 60\n3 | | 2x ⌀8 THRU\n")
        model = model_of(PLATE)
        found = tuple(recognise(s) for s in model.solids)
        hints = tuple(hints_of(f) for f in found)
        wish = DraftWish(views="auto", estimated=house.get("unstated") == "estimated")
        draft = draft_model(model, wish, features=found, scheme=lambda scene, _: scheme_of(spec, scene, hints))
        check = check_sheet(draft.document, model.solids)
        assert {s.state for s in check.statements} <= {"proven", "reference"}
        return {a.text for a in draft.document.annotations if a.refs}

    assert not [t for t in drafted() if "EST" in t]
    marked = drafted(unstated="estimated")
    assert {"90 ±0.2", "⌀6.8 ↧16 EST"} <= marked and "2× ⌀8 THRU EST" not in marked


@pytest.mark.parametrize(
    ("text", "error"), [("⌀20 H7 (+0.021/0)", False), ("⌀20 H7 (+0.018/0)", True), ("⌀20 g6 (-0.007/-0.02)", False)]
)
def test_deviations_beside_a_fit_must_be_those_of_its_table(text, error):
    read = read_line(text, HouseRules(unit=Unit.MM))
    assert (read.error is not None) is error


@pytest.mark.parametrize("seed", [0, 3, 5, 10, 17, 24, 33])
def test_a_sufficient_source_comes_out_as_it_is_written(seed):
    rows, wrong = said_of(seed)
    assert [text for text, ok in rows if not ok] == []
    assert {k: v for k, v in wrong.items() if v and k != "seconds"} == {}


def test_a_distance_of_holes_stands_where_they_are_seen_from_the_end(cock_step, cock_spec):
    spec = read_specification(cock_spec)
    model = read_model(cock_step, "cock.step")
    found = tuple(recognise(s) for s in model.solids)
    hints = tuple(hints_of(f) for f in found)
    draft = draft_model(
        model, DraftWish(views="auto"), features=found, scheme=lambda scene, _: scheme_of(spec, scene, hints)
    )
    lengths = {a.text: a for a in draft.document.annotations if a.kind == "linear" and len(a.refs) == 2}
    for text in ("52", "76"):
        view = draft.document.view(lengths[text].view)
        for ref in lengths[text].refs:
            axis = np.array(parse(ref).vectors[1])
            assert abs(float(axis @ np.cross(np.array(view.right), np.array(view.up)))) > 1 - 1e-9
