"""The source's own scheme on the sheet: its lines in its own form, tolerances included."""

import numpy as np
import pytest

from canonis.bench.scheme import said_of
from canonis.core.callout.rules import HouseRules
from canonis.core.drafting.draft import DraftWish, draft_model
from canonis.core.features.recognition import recognise
from canonis.core.house import House
from canonis.core.proof.check import check_sheet
from canonis.core.quantity.units import Unit
from canonis.core.solid.reader import read_model
from canonis.core.solid.references import parse
from canonis.core.source.shorthand import read_line
from canonis.core.source.specification import read_specification
from canonis.core.study.hints import hints_of
from canonis.core.study.scheme import scheme_of
from tests.conftest import block, model_of, recipe
from tests.core.known_parts import PARTS

PLATE = recipe(
    block(90, 60, 20),
    {"op": "hole", "at": [[20, 15, 20], [65, 15, 20]], "axis": [0, 0, 1], "diameter": 8, "through": True},
    {"op": "hole", "at": [[40, 42, 20]], "axis": [0, 0, 1], "diameter": 6.8, "depth": 16, "point": 118},
)


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
        wish = DraftWish(views="auto", house=House.read(house))
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


DRILLED = recipe(
    block(60, 40, 20),
    {"op": "hole", "at": [[20, 20, 20], [45, 20, 20]], "axis": [0, 0, 1], "diameter": 6.8, "depth": 16, "point": 118},
)


@pytest.mark.parametrize(
    ("line", "state"), [("2x M8 ↧12", "proven"), ("2x M12 ↧12", "differs"), ("2x M8 ↧18", "differs")]
)
def test_a_thread_must_fit_the_hole_that_it_is_noted_on(line, state):
    texts, check = sheet(DRILLED, "60", "40", "20", line, "20", "25 CRS", "20")
    assert check.matches["4"].state == state
    assert any("M8" in t and "DRILL ⌀6.8 ↧16" in t for t in texts) is (state == "proven")
    assert {s.state for s in check.statements} <= {"proven", "reference"}


def test_a_thread_on_a_hole_of_its_own_size_has_no_drill():
    data = recipe(
        block(60, 40, 20), {"op": "hole", "at": [[20, 20, 20]], "axis": [0, 0, 1], "diameter": 8, "through": True}
    )
    lines = ("60", "40", "20", "M8 THRU", "20", "20")
    for rule in ("nominal", "tap-drill"):
        texts, check = sheet(data, *lines, threads=rule)
        assert "M8 THRU" in texts and check.matches["4"].state == "proven"
        assert {s.state for s in check.statements} <= {"proven", "reference"}


def test_a_hole_through_one_wall_of_a_frame_is_thru():
    data = recipe(
        block(60, 40, 30),
        {
            "op": "extrude",
            "mode": "cut",
            "distance": 42,
            "profile": {
                "plane": {"origin": [0, -1, 0], "x": [1, 0, 0], "normal": [0, 1, 0]},
                "outer": {"rect": [10, -20, 40, 12]},
            },
        },
        {"op": "hole", "at": [[30, 20, 30]], "axis": [0, 0, 1], "diameter": 8, "depth": 10, "point": 0},
    )
    lines = ("60", "40", "30", "⌀8 THRU", "30", "20")
    # A hole through one wall of a frame: to the next face it is through.
    for rule in ("wall", "next"):
        _, check = sheet(data, *lines, thru=rule)
        assert check.matches["4"].state == "proven", rule


def test_one_datum_keeps_the_places_that_the_sheet_counts_from():
    # The source takes the second hole from the right edge; re-based it is stated from the left.
    lines = ("90", "60", "20", "2x ⌀8 THRU", "20", "25 FROM RIGHT", "15", "⌀6.8 ↧16", "40", "42")
    kept, _ = sheet(PLATE, *lines)
    one, check = sheet(PLATE, *lines, datums="one")
    assert "25" in kept and "25" not in one
    assert {s.state for s in check.statements} <= {"proven", "reference"}
    assert (check.complete["free"], check.complete["redundant"]) == ([], [])


@pytest.mark.parametrize(("rule", "count"), [("each", 2), ("end", 1)])
def test_masses_are_compared_after_every_step_or_at_the_end(rule, count):
    spec = read_specification(
        f"unit: mm\nmass-check: {rule}\n[characteristics]\n1 | | 90\n[checkpoints]\nstep | block\nmass | 1\n\nstep | finished\nmass | 2\n"
    )
    assert [c.step for c in spec.weighed] == [c.step for c in spec.checkpoints][-count:]


@pytest.mark.parametrize(
    ("part", "lines", "said"),
    [
        ("bore with a groove", ("⌀20 H7 THRU", "GROOVE 4 WIDE × ⌀26 ±0.2", "⌀50", "40"), "GROOVE 4 × ⌀26 ±0.2"),
        ("round groove", ("⌀30", "40", "GROOVE R2.0 × ⌀26 ±0.1"), "GROOVE R2.0 × ⌀26 ±0.1"),
        ("round groove in a face", ("⌀60", "30", "GROOVE R2 × ⌀40 1.5 ±0.1 DEEP"), "GROOVE R2 × ⌀40 ↧1.5 ±0.1"),
        (
            "ring with one missing",
            ("⌀80", "10", "7x ⌀6 THRU ON ⌀60 ±0.1 PCD 45° ±0.5° APART"),
            "⌀60 ±0.1 PCD 45° ±0.5° APART START 180°",
        ),
        (
            "holes on an arc",
            ("⌀80", "10", "4x ⌀6 THRU ON ⌀60.0 PCD 15° APART START 20°"),
            "⌀60.0 PCD 15° APART START 20°",
        ),
        ("two-start thread", ("M20×Ph5P2.5", "40"), "M20×Ph5P2.5 24 LONG"),
        ("left-hand thread", ("M20x2.5 LH", "40"), "M20x2.5 LH 21.5 LONG"),
    ],
)
def test_grooves_rings_and_threads_in_the_words_of_the_source(part, lines, said):
    texts, check = sheet(recipe(*PARTS[part][0]), *lines)
    assert said in texts
    assert {m.state for m in check.matches.values()} == {"proven"}
    assert (check.complete["free"], check.complete["redundant"]) == ([], [])
