"""What can be stored and shown: text and numbers of any kind that people and files bring."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canonis.core.faults import BadInput
from canonis.core.plain import check_plain, cleaned, storable

json_values = st.recursive(
    st.none()
    | st.booleans()
    | st.integers()
    | st.floats()
    | st.text(st.characters(categories=["L", "N", "Cc", "Cs"]), max_size=5),
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text(max_size=3), inner, max_size=4),
    max_leaves=12,
)


@given(json_values)
def test_what_passes_can_be_written_as_json_and_utf8(value):
    try:
        check_plain(value)
    except BadInput as fault:
        assert len(str(fault).splitlines()) <= 1 or "name of a field" in str(fault)
        return
    text = json.dumps(value, allow_nan=False, ensure_ascii=False)
    assert "\x00" not in text and text.encode()


@pytest.mark.parametrize(
    "value",
    [
        "a\x00",
        "\ud800",
        float("nan"),
        float("inf"),
        2**53 + 1,
        {"a": ["\udfff"]},
        {"\x00": 1},
        {"a": {"b": [float("nan")]}},
    ],
)
def test_what_cannot_be_stored_is_refused(value):
    with pytest.raises(BadInput):
        check_plain(value)


def test_nesting_has_an_end():
    deep = []
    for _ in range(100):
        deep = [deep]
    with pytest.raises(BadInput, match="nested deeper"):
        check_plain(deep)


@given(st.text(st.characters(categories=["L", "N", "Cc", "Cs", "Z"])))
def test_names_from_files_are_one_line_that_can_be_stored(text):
    made = cleaned(text, 20)
    assert storable(made) and len(made) <= 20 and len(made.splitlines()) <= 1 and made == cleaned(made, 20)
