"""Chain strips: missing members, loops that do not close, symmetry and spacing, tolerances that pile up."""

import contextlib
import math
from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.faults import BadInput
from canonis.core.quantity.units import Unit
from canonis.core.source.chains import solve_chain

F = Fraction


def solve(text, unit=Unit.MM, **lookup):
    return solve_chain("x", text, unit, lookup)


def test_the_missing_member_as_in_the_contract():
    chain = solve("A -1.0625- B -?- C; A -2.875- C", Unit.INCH)
    assert chain.as_json()["levels_mm"] == {"A": 0, "B": 26.9875, "C": 73.025}
    assert chain.solved == ("B-C",) and not chain.gaps
    assert chain.spans[0].terms == (("A-B", F(-1)), ("A-C", F(1)))


def test_a_loop_that_does_not_close_names_its_gap():
    chain = solve("A -10- B -20.5- C; A -30- C")
    assert chain.gaps[0]["loop"] == ["A-B", "B-C", "A-C"] and chain.gaps[0]["gap_mm"] == 0.5


@settings(max_examples=60, deadline=None)
@given(st.lists(st.fractions(1, 400, max_denominator=64), min_size=3, max_size=12), st.data())
def test_any_one_missing_member_is_found_exactly(sizes, data):
    missing = data.draw(st.integers(0, len(sizes) - 1))
    links = "".join(f" -{'?' if k == missing else s}- L{k + 1}" for k, s in enumerate(sizes))
    whole = sum(sizes)
    chain = solve(f"L0{links}; L0 -{whole.numerator}/{whole.denominator}- L{len(sizes)}")
    assert chain.spans[0].value == sizes[missing] and not chain.gaps and not chain.unsolved


@pytest.mark.parametrize(
    ("text", "span", "value"),
    [
        ("A -80- D; B = C about M; A = D about M; B -40- C; A -?- B", "A-B", 20),
        ("A -100- F; equal A B C D E F; B -?- D", "B-D", 40),
        ("A -40- C; A-B = half A-C; B -?- C", "B-C", 20),
        ("A -15- B; A-D = 3 A-B; A -?- D", "A-D", 45),
        ("A -15- B; C-D = double A-B; A -5- C; A -?- D", "A-D", 35),
        ("A -1 1/2 in- B -?- C; A -50.8- C", "B-C", F("12.7")),
        ("left end -12.5- bore  axis -?- right end; left end -40- right end", "bore axis-right end", F("27.5")),
        (
            "left end -80- right end; left end = right end about mid plane; left end -?- mid plane",
            "left end-mid plane",
            40,
        ),
        ("left end -40- right end; left end-bore = half left end-right end; bore -?- right end", "bore-right end", 20),
    ],
)
def test_symmetry_spacing_halves_and_doubles(text, span, value):
    chain = solve(text)
    assert {s.name: s.value for s in chain.spans}[span] == value and not chain.gaps


def test_what_says_nothing_new_and_what_hangs_free():
    chain = solve("A -10- B -20- C; A -30- C; D -5- E; B -?- D")
    assert chain.redundant in (("A-C",), ("B-C",)) and set(chain.free) == {"D", "E"} and chain.unsolved == ("B-D",)


def test_tolerances_pile_up_along_the_sum():
    chain = solve("A -10 ±.1- B -?- C; A -30 ±.2- C")
    span = chain.spans[0]
    assert span.worst == F("0.3") and span.likely == pytest.approx(math.hypot(0.1, 0.2))
    assert solve("A -10- B -?- C; A -30 ±.2- C").spans[0].worst is None


def test_lengths_of_the_list_may_be_members():
    chain = solve("A -#3- B -?- C; A -30- C", **{"3": (F(12), F("0.1"))})
    assert chain.spans[0].value == 18 and chain.used == ("3",)
    with pytest.raises(BadInput, match="#9 is not a length of the list"):
        solve("A -#9- B")


@pytest.mark.parametrize(
    ("text", "member", "reason"),
    [
        ("A -83- B -20- C; A -58- C", "A-B", "digits swapped"),
        ("A -40- B -12- C; A -32- C", "A-B", "whole written for its half"),
        ("A -508- B -12- C; A -32- C", "A-B", "inches and millimetres"),
        ("A -200- B -12- C; A -32- C", "A-B", "factor of ten"),
        ("A -12- B -38- C; A -51- C; B -39- C", "B-C", "digit misread"),
    ],
)
def test_the_likely_slip_is_named(text, member, reason):
    likely = solve(text).gaps[0]["likely"]
    assert likely["member"] == member and reason in likely["reason"]


@pytest.mark.parametrize(
    "text", ["-3- A", "A -3 B", "A -x- B", "A 3 B", "equal A B", "A -3/0- B", "A = about B", "A-B = xx C-D"]
)
def test_what_is_no_chain_is_refused_in_one_sentence(text):
    with pytest.raises(BadInput) as refused:
        solve(text)
    assert "\n" not in str(refused.value)


@given(st.text("AB C-?.;=0123456789/#±abouteqlhf", max_size=40))
def test_any_text_is_a_chain_or_refused(text):
    with contextlib.suppress(BadInput):
        assert solve(text).direction == "x"
