"""Edits of a source by several people, and lists in and out: nothing is lost."""

import copy

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.faults import BadInput
from canonis.core.source.editing import apply_edits, from_specification, new_source
from canonis.core.source.exchange import read_csv, write_csv


def insert(line_id, text, after=None):
    return {"op": "insert", "id": line_id, "after": after, "line": {"text": text}}


@pytest.fixture
def source():
    made, conflicts, _ = apply_edits(new_source(), [insert("a", "96"), insert("b", "R6", "a"), insert("c", "12", "b")])
    assert not conflicts
    return made


def texts(source):
    return [line["text"] for line in source["lines"]]


def test_lines_are_numbered_and_stand_where_they_were_put(source):
    made, *_ = apply_edits(source, [insert("d", "40", "a"), {"op": "move", "id": "c", "after": None}])
    assert texts(made) == ["12", "96", "40", "R6"]
    assert [line["number"] for line in made["lines"]] == ["3", "1", "4", "2"]
    assert texts(source) == ["96", "R6", "12"], "the given source is left as it was"


def test_two_people_on_different_lines_both_keep_their_work(source):
    first, *_ = apply_edits(source, [{"op": "set", "id": "a", "rev": 1, "fields": {"text": "97"}}])
    both, conflicts, _ = apply_edits(
        first, [{"op": "set", "id": "b", "rev": 1, "fields": {"text": "R7"}}, insert("d", "5", "c")]
    )
    assert not conflicts and texts(both) == ["97", "R7", "12", "5"]


def test_two_people_on_one_line_see_both_sides(source):
    first, *_ = apply_edits(source, [{"op": "set", "id": "a", "rev": 1, "fields": {"text": "97"}}])
    second, conflicts, _ = apply_edits(first, [{"op": "set", "id": "a", "rev": 1, "fields": {"text": "98"}}])
    assert texts(second) == ["97", "R6", "12"]
    assert (conflicts[0]["yours"], conflicts[0]["theirs"]["text"], conflicts[0]["rev"]) == ({"text": "98"}, "97", 2)
    # Nothing is deleted that someone else has just changed, and a deleted line says so.
    kept, conflicts, _ = apply_edits(first, [{"op": "remove", "id": "a", "rev": 1}])
    assert len(kept["lines"]) == 3 and conflicts
    gone, *_ = apply_edits(source, [{"op": "remove", "id": "a", "rev": 1}])
    _, conflicts, _ = apply_edits(gone, [{"op": "set", "id": "a", "rev": 1, "fields": {"text": "98"}}])
    assert conflicts[0]["theirs"] is None and conflicts[0]["yours"] == {"text": "98"}


def test_an_edit_sent_twice_changes_nothing_more(source):
    ops = [insert("d", "40", "a"), {"op": "set", "id": "a", "rev": 1, "fields": {"text": "97"}}]
    once, *_ = apply_edits(source, ops)
    twice, conflicts, _ = apply_edits(once, ops)
    assert twice == once and not conflicts


def test_blocks_have_their_own_revision():
    chains = [{"direction": "x", "text": "A -1- B"}]
    first, *_ = apply_edits(new_source(), [{"op": "put", "what": "chains", "rev": 0, "value": chains}])
    second, conflicts, _ = apply_edits(
        first,
        [
            {"op": "put", "what": "chains", "rev": 0, "value": []},
            {"op": "put", "what": "workings", "rev": 0, "value": ["1 + 1"]},
        ],
    )
    assert second["chains"] == chains and second["workings"] == ["1 + 1"] and conflicts[0]["what"] == "chains"


@pytest.mark.parametrize(
    "op",
    [
        {"op": "paint"},
        {"op": "insert", "id": "no spaces allowed"},
        {"op": "set", "id": "a", "rev": 1, "fields": {"text": 5}},
        {"op": "set", "id": "a", "rev": 1, "fields": {"provenance": "guessed"}},
        {"op": "set", "id": "a", "rev": 1, "fields": {"flag": {"print_id": 1, "x": 4, "y": 0}}},
        {"op": "set", "id": "a", "rev": 1, "fields": {"flag": {"page": 1}}},
        {"op": "put", "what": "walls", "value": []},
        {"op": "put", "what": "chains", "value": "x"},
        {"op": "put", "what": "rules", "value": {"limits": "tight"}},
        {"op": "put", "what": "head", "value": {"density": "-3"}},
        {"op": "set", "id": "a", "rev": 1, "fields": {"text": "5\x00"}},
        {"op": "set", "id": "a", "rev": 1, "fields": {"text": "\ud800"}},
        {"op": "set", "id": "a", "rev": 1, "fields": [5]},
        {"op": "insert", "id": "q", "line": "96"},
        {"op": "put", "what": "chains", "value": [5]},
        {"op": "put", "what": {"x": 1}},
        {"op": "set", "id": "a", "rev": 1, "fields": {"flag": {"print_id": 1, "page": 1, "x": float("nan"), "y": 0}}},
        {"op": "put", "what": "head", "value": {"unit": "cubits"}},
        {"op": "put", "what": "head", "value": {"general": "tight"}},
    ],
)
def test_an_edit_that_makes_no_sense_is_refused_alone(source, op):
    before = copy.deepcopy(source)
    made, conflicts, refused = apply_edits(source, [insert("y", "1"), op, insert("z", "2", "c")])
    assert [r["index"] for r in refused] == [1] and "\n" not in refused[0]["message"] and not conflicts
    assert texts(made) == ["1", "96", "R6", "12", "2"] and source == before


line_texts = st.text(st.characters(blacklist_categories=("Cs", "Cc")), max_size=40)


@settings(max_examples=60, deadline=None)
@given(
    st.lists(
        st.tuples(line_texts, line_texts, st.sampled_from(["read", "worked out", "estimated"]), st.booleans()),
        min_size=1,
        max_size=12,
    )
)
def test_csv_comes_back_the_same(rows):
    lines = [
        {
            "number": str(k),
            "where": where,
            "text": text,
            "provenance": came,
            "working": "",
            "flag": {"print_id": 3, "page": 1, "x": 0.1 * k % 1, "y": 1 / 3} if flagged else None,
        }
        for k, (where, text, came, flagged) in enumerate(rows, start=1)
    ]
    assert read_csv(write_csv(lines)) == lines


def test_csv_of_other_programs():
    assert [r["text"] for r in read_csv("96\nR6\n")] == ["96", "R6"]
    assert read_csv("1;sheet 1;⌀6,6 THRU\n2;sheet 1;R6\n")[0]["text"] == "⌀6,6 THRU"
    assert read_csv("Number\tText\n7\t12 ±.1\n")[0] == {
        "number": "7",
        "where": "",
        "text": "12 ±.1",
        "provenance": "read",
        "working": "",
        "flag": None,
    }
    for bad in ("", '"open', "number,shorthand,provenance\n1,2,guessed\n", "shorthand,print\n1,x\n"):
        with pytest.raises(BadInput):
            read_csv(bad)


def test_a_specification_becomes_a_source(cock_spec):
    source = from_specification(cock_spec + "[workings]\nrest = 96 - 20\n[chains]\nx: A -10- B\n")
    assert len(source["lines"]) == 20 and source["head"]["unit"] == "mm" and source["head"]["material"] == "brass"
    assert source["workings"] == ["rest = 96 - 20"] and source["chains"] == [{"direction": "x", "text": "A -10- B"}]
