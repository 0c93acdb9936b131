"""When a tick holds and when it falls; and a choice of a place as text."""

import json

import pytest

from canonis.core.proof.match.chosen import chosen_from, write_chosen
from canonis.core.proof.ticks import tick_falls, tick_of

ROW = {
    "number": "7",
    "text": "20",
    "place": '["edge", "", "a", "b"]',
    "model": 20.0,
    "drawn": 20.0,
    "state": "proven",
    "same_places": [],
}


def test_a_tick_holds_while_nothing_changed():
    assert tick_falls(tick_of(ROW), ROW) == ""
    # Written anew on another model, at the same place.
    moved = {**ROW, "place": '["edge", "", "c", "d"]', "same_places": [ROW["place"]]}
    assert tick_falls(tick_of(ROW), moved) == ""
    assert tick_falls(tick_of({**ROW, "drawn": None}), ROW) == ""


@pytest.mark.parametrize(
    ("change", "why"),
    [
        ({"text": "21"}, "changed"),
        ({"model": 20.1}, "model"),
        ({"drawn": 20.1}, "sheet"),
        ({"place": "elsewhere"}, "place"),
        ({"state": "differs"}, "differs"),
        ({"state": "no-place"}, "lost"),
        ({"model": None}, "model"),
    ],
)
def test_a_tick_falls_where_something_changed(change, why):
    assert why in tick_falls(tick_of(ROW), {**ROW, **change})


def test_a_place_is_read_back_as_it_was_written():
    refs = ("plane;0,0,1;1,2,3;3;44", "extreme;1,0,0;5")
    made = chosen_from(write_chosen("edge", "", refs))
    assert made is not None and (made.kind, made.name, made.refs) == ("edge", "", refs)


@pytest.mark.parametrize(
    "text",
    [
        "",
        "D7",
        "[]",
        '["edge"]',
        '["edge", ""]',
        "{}",
        '["edge", "", "no reference"]',
        "[1, 2, 3]",
        json.dumps(["a"] * 2000),
    ],
)
def test_what_is_no_place_is_none(text):
    assert chosen_from(text) is None
