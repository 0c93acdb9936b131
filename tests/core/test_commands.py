"""Edits of a sheet as typed commands: what is one, what is none, and what each says of itself."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canonis.core.drafting.commands import read_command
from canonis.core.faults import BadInput

GOOD = [
    {"op": "move", "id": "D1", "dx": 3.5, "dy": -7}, {"op": "move", "id": "D1"}, {"op": "move-view", "id": "V2", "dx": 1},
    {"op": "remove", "id": "N1"}, {"op": "accept", "id": "D4"}, {"op": "tidy"},
    {"op": "add-linear", "view": "V1", "refs": ["a", "b"]}, {"op": "add-linear", "view": "V1", "refs": ["a", "b"], "direction": "y"},
    {"op": "set", "what": "hidden", "view": "V1", "value": False}, {"op": "set", "what": "size", "value": "A2"},
    {"op": "set", "what": "scale", "value": "1:2"}, {"op": "set", "what": "projection", "value": "third"},
    {"op": "set", "what": "revision", "value": "B"},
]  # fmt: skip

BAD = [
    ({"op": "fold"}, "no edit called “fold”"), ({}, "no edit"), ([], "no edit"), (None, "no edit"), ("tidy", "no edit"),
    ({"op": "set", "what": "colour", "value": 1}, "nothing called “colour”"), ({"op": "set"}, "nothing called"),
    ({"op": "set", "what": "approved_by", "value": "me"}, "nothing called “approved_by”"),
    ({"op": "set", "what": "created_by", "value": "me"}, "nothing called “created_by”"),
    ({"op": "set", "what": "date", "value": "today"}, "nothing called “date”"),
    ({"op": "move", "id": "D1", "dx": "3"}, None), ({"op": "move", "id": "D1", "dx": float("nan")}, "dx"),
    ({"op": "move", "id": "D1", "dx": float("inf")}, "dx"), ({"op": "move", "id": "D1", "dx": 5000}, "dx"),
    ({"op": "move"}, "id"), ({"op": "move", "id": ""}, "id"), ({"op": "move", "id": "x" * 41}, "id"),
    ({"op": "move", "id": "D1", "by": 3}, "by"), ({"op": "remove", "id": 5}, "id"), ({"op": "tidy", "now": True}, "now"),
    ({"op": "add-linear", "view": "V1", "refs": ["a"]}, "refs"), ({"op": "add-linear", "view": "V1", "refs": ["a", "b", "c"]}, "refs"),
    ({"op": "add-linear", "view": "V1", "refs": ["a", 5]}, "refs"), ({"op": "add-linear", "view": "V1", "refs": "ab"}, "refs"),
    ({"op": "add-linear", "view": "V1", "refs": ["a", "b"], "direction": "z"}, "direction"),
    ({"op": "set", "what": "projection", "value": "second"}, "value"), ({"op": "set", "what": "size", "value": 4}, "value"),
    ({"op": "set", "what": "hidden", "view": "V1", "value": "perhaps"}, "value"), ({"op": "set", "what": "hidden", "value": True}, "view"),
    ({"op": "set", "what": "revision", "value": "B" * 21}, "value"),
]  # fmt: skip


@pytest.mark.parametrize("data", GOOD, ids=json.dumps)
def test_a_command_comes_back_the_same(data):
    made = read_command(data)
    assert read_command(made.model_dump(mode="json")) == made
    assert {k: v for k, v in made.model_dump(mode="json").items() if k in data} == json.loads(json.dumps(data))


@pytest.mark.parametrize(("data", "word"), BAD, ids=[repr(b[0])[:60] for b in BAD])
def test_what_is_no_command_is_one_sentence(data, word):
    if word is None:
        # A number written as text is taken for what it says.
        assert read_command(data).dx == 3
        return
    with pytest.raises(BadInput, match=word) as refused:
        read_command(data)
    assert len(str(refused.value).splitlines()) == 1


anything = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=8),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=6), inner, max_size=3),
    max_leaves=6,
)
fields = st.dictionaries(
    st.sampled_from(["id", "dx", "dy", "view", "refs", "direction", "what", "value", "x"]), anything, max_size=5
)
ops = st.sampled_from(["move", "move-view", "remove", "add-linear", "accept", "tidy", "set", "fold"])


@given(st.builds(lambda op, more: {**more, "op": op}, ops, fields) | anything)
def test_anything_at_all_is_a_command_or_one_sentence(data):
    try:
        made = read_command(data)
    except BadInput as fault:
        assert len(str(fault).splitlines()) == 1
        return
    json.dumps(made.model_dump(mode="json"), allow_nan=False)
