"""A stored source with everything it means, and expressions worked out in it."""

import json

import pytest

from canonis.core.source.editing import add_lines, apply_edits, new_source
from canonis.core.source.reading import read_stored, work_out_in


def spec(source, **header):
    data = {"schema": "canonis.source/1", "unit": "mm", **header, "characteristics": source["lines"]}
    return json.dumps(data | {k: source[k] for k in ("chains", "workings", "checkpoints")})


@pytest.fixture
def source():
    made = add_lines(new_source(), [{"text": "96"}, {"text": "4x ⌀6.6 THRU"}, {"text": "⌀20 PCF"}], "a")
    blocks = [
        {"op": "put", "what": "workings", "rev": 0, "value": ["rest = #1 - 20", "rest / 0"]},
        {"op": "put", "what": "chains", "rev": 0, "value": [{"direction": "x", "text": "A -10- B -?- C; A -#1- C"}]},
        {"op": "put", "what": "checkpoints", "rev": 0, "value": ["blank | 412.7 g", "nonsense | heavy"]},
    ]
    made, conflicts, refused = apply_edits(made, blocks)
    assert not conflicts and not refused
    return made


def test_every_line_keeps_its_place_its_rev_and_says_what_it_means(source):
    read = read_stored(source, spec(source))
    assert [(x["id"], x["rev"], x["text"]) for x in read["lines"]] == [
        ("a-1", 1, "96"),
        ("a-2", 1, "4x ⌀6.6 THRU"),
        ("a-3", 1, "⌀20 PCF"),
    ]
    assert read["lines"][1]["words"].startswith("four holes") and read["lines"][2]["error"]["column"] == 5
    assert read["readiness"][0].startswith("1 line not read") and read["fault"] == ""


def test_blocks_that_cannot_be_read_stay_with_nothing_beside_them(source):
    read = read_stored(source, spec(source))
    assert [w["text"] for w in read["workings"]] == ["rest = #1 - 20", "rest / 0"]
    assert read["workings"][0]["made"]["value"] == 76 and read["workings"][1]["made"] is None
    assert read["checkpoints"][0]["read"]["mass_g"] == pytest.approx(412.7) and read["checkpoints"][1]["read"] is None
    assert read["chains"][0]["solved"]["levels_mm"]["C"] == pytest.approx(96)
    assert json.loads(json.dumps(read)) == read, "it goes to the browser as it is"


def test_a_tolerance_block_that_no_longer_fits_shows_the_list_with_the_reason(source):
    read = read_stored(source, spec(source, general="tight"))
    assert [x["text"] for x in read["lines"]] == ["96", "4x ⌀6.6 THRU", "⌀20 PCF"] and read["fault"]
    assert read["readiness"] == [read["fault"]] and not read["findings"]


@pytest.mark.parametrize(
    ("text", "value"), [("#1 + 4", 100), ("rest", 76), ("W1 / 2", 38), ("3/8 in", 9.525), ("sqrt(3^2 + 4^2)", 5)]
)
def test_expressions_may_name_lines_and_workings(source, text, value):
    assert work_out_in(spec(source), text)["value"] == pytest.approx(value)


@pytest.mark.parametrize("text", ["", "3 +", "#9", "1 / 0", "rest rest", "((((", "9" * 5000, "a" * 5000])
def test_what_is_typed_half_way_comes_back_with_its_fault(source, text):
    made = work_out_in(spec(source), text)
    assert set(made) == {"fault"} and len(made["fault"].splitlines()) == 1


def test_thousands_of_lines_stand_in_their_order():
    rows = [{"text": str(k)} for k in range(1, 2001)]
    made = add_lines(add_lines(new_source(), rows[:1000], "a"), rows[1000:], "b")
    assert [x["text"] for x in made["lines"]] == [r["text"] for r in rows]
    assert [x["number"] for x in made["lines"]] == [str(k) for k in range(1, 2001)]
    assert len({x["id"] for x in made["lines"]}) == 2000
