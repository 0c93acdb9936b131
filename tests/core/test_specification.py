import json
from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.faults import BadInput
from canonis.core.quantity.units import Unit
from canonis.core.source.chains import solve_chain
from canonis.core.source.specification import read_specification

TEXT = """number: WB-9
unit: in
limits: middle
general: .XX ±.01  .XXX ±.005     # the block
colour: green
[characteristics]
1 | sheet 1 | 2.875
# a comment
2 | | 4x ⌀.265 THRU ⌴⌀.438 ↧.250
3 | | 4x wobble
a line without bars
[chains]
x: A -1.0625- B -?- C; A -2.875- C
[checkpoints]
blank | 412.7 g | 1.4375, .8, .55 | 0,0,0
"""


def test_text_is_read_whole():
    spec = read_specification(TEXT).as_json()
    assert [c["number"] for c in spec["characteristics"]] == ["1", "2", "3"]
    parts = {p["name"]: p for p in spec["characteristics"][1]["parts"]}
    assert parts["counterbore-diameter"]["nominal_mm"] == pytest.approx(11.1252)
    assert parts["diameter"]["lower_mm"] == pytest.approx(6.604)
    assert spec["characteristics"][2]["error"]["column"] == 4
    assert spec["chains"][0]["levels_mm"] == {"A": 0, "B": 26.9875, "C": 73.025}
    assert spec["chains"][0]["solved"] == ["B-C"] and spec["chains"][0]["gaps"] == []
    assert spec["checkpoints"][0]["mass_g"] == pytest.approx(412.7)
    assert spec["checkpoints"][0]["centre_mm"][0] == pytest.approx(1.4375 * 25.4)
    kept = [f["message"] for f in spec["findings"] if f["rule"] == "source.unread"]
    assert any("Line 5" in m and "colour" in m for m in kept) and any("Line 11" in m for m in kept)


def test_json_says_the_same():
    data = {
        "schema": "canonis.source/1",
        "unit": "in",
        "general": ".XX ±.01  .XXX ±.005",
        "characteristics": [{"number": "2", "where": "", "text": "4x ⌀.265 THRU ⌴⌀.438 ↧.250"}],
        "chains": ["x: A -1.0625- B -?- C; A -2.875- C"],
        "checkpoints": ["blank | 412.7 g | 1.4375, .8, .55 | 0,0,0"],
    }
    a, b = read_specification(json.dumps(data)), read_specification(TEXT)
    assert a.characteristics[0].parts == b.characteristics[1].parts
    assert a.chains == b.chains and a.checkpoints == b.checkpoints


@settings(deadline=None)
@given(st.lists(st.integers(1, 5000), min_size=2, max_size=9), st.data())
def test_chains_close_exactly_or_name_the_gap(sizes, data):
    names = [f"L{k}" for k in range(len(sizes) + 1)]
    missing = data.draw(st.integers(0, len(sizes) - 1))
    slip = data.draw(st.sampled_from([0, 1, 7]))
    strand = names[0] + "".join(
        f" -{'?' if k == missing else f'{s / 100:.2f}'}- {names[k + 1]}" for k, s in enumerate(sizes)
    )
    total = sum(sizes) / 100
    chain = solve_chain("x", f"{strand}; {names[0]} -{total:.2f}- {names[-1]}", Unit.MM)
    assert chain.levels[names[missing + 1]] - chain.levels[names[missing]] == Fraction(sizes[missing], 100)
    whole = names[0] + "".join(f" -{s / 100:.2f}- {names[k + 1]}" for k, s in enumerate(sizes))
    checked = solve_chain("x", f"{whole}; {names[0]} -{total + slip / 100:.2f}- {names[-1]}", Unit.MM)
    assert [round(g["gap_mm"], 6) for g in checked.gaps] == ([slip / 100] if slip else [])


@pytest.mark.parametrize(
    ("text", "word"),
    [
        ("unit: furlong\n", "furlong"),
        ("limits: sideways\n", "sideways"),
        ("density: heavy\n", "heavy"),
        ("{]", "JSON"),
        ('{"schema": "other"}', "schema"),
        ("general: whatever\n", "whatever"),
        ("a\x00b", "text"),
    ],
)
def test_bad_headers_are_one_sentence(text, word):
    with pytest.raises(BadInput, match=word):
        read_specification(text)


def test_contradictions_inside_a_line():
    spec = read_specification("[characteristics]\n1 | | ⌀11 THRU ⌴⌀6.6 ↧5\n1 | | ⌀5 ↧8 ⌴⌀9 ↧9\n2 | | R3 TYP\n")
    named = {f.rule for f in spec.findings if not f.rule.startswith("missing.")}
    assert named == {"seat.size", "seat.depth", "number.twice", "count.typ"}


@settings(max_examples=100, deadline=None)
@given(st.text(max_size=200))
def test_any_text_gives_a_reading_or_one_sentence(text):
    try:
        read_specification(text).as_json()
    except BadInput as fault:
        assert "\n" not in str(fault).strip() or len(str(fault)) < 400


def test_a_bare_thru_belongs_to_the_hole_above_it():
    text = "unit: mm\n[characteristics]\n1 | | 2x ⌀8\n2 | | THRU\n3 | | M6\n4 | | through all\n5 | | 40\n6 | | THRU\n7 | | ⌀5 ↧8\n8 | | THRU\n"
    lines = {c.number: c for c in read_specification(text).characteristics}
    assert (
        lines["1"].kind == "hole" and lines["1"].part("through") and lines["1"].count == 2 and lines["2"].error is None
    )
    assert lines["3"].kind == "thread" and lines["3"].part("through") and lines["4"].error is None
    # Under a length, or a hole that has its depth, it says nothing that can be read.
    assert lines["6"].error and lines["8"].error and not lines["7"].part("through")
