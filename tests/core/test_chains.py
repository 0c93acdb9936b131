"""Chain strips: missing members, loops that do not close, symmetry and spacing, tolerances that pile up."""

import contextlib
import math
from fractions import Fraction

import pytest
from hypothesis import assume, given, settings
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


# Levels on a line, told by a tree of distances in any order and either way, with more of them than are needed.


@st.composite
def told(draw):
    """True places of levels, a tree of pairs that tells all of them, and pairs beyond it."""
    count = draw(st.integers(3, 8))
    places = draw(
        st.lists(st.fractions(-300, 300, max_denominator=32), min_size=count, max_size=count, unique=True).map(tuple)
    )
    tree = [(draw(st.integers(0, k - 1)), k) for k in range(1, count)]
    pairs = [(a, b) for a in range(count) for b in range(a + 1, count)]
    more = draw(st.lists(st.sampled_from([p for p in pairs if p not in tree]), unique=True, max_size=3))
    return places, draw(st.permutations(tree)), more


def link(places, a, b, extra=F(0)):
    """One distance, from the lower level to the upper one."""
    if places[a] > places[b]:
        a, b = b, a
    size = places[b] - places[a] + extra
    return f"N{a} -{size.numerator}/{size.denominator}- N{b}"


@settings(max_examples=60, deadline=None)
@given(told())
def test_levels_come_out_where_they_are_and_what_is_said_twice_is_told(known):
    places, tree, more = known
    chain = solve("; ".join(link(places, a, b) for a, b in [*tree, *more]))
    assert not chain.gaps and not chain.free and len(chain.redundant) == len(more)
    first = next(iter(chain.levels))
    origin = places[int(first[1:])] - chain.levels[first]
    assert {name: value + origin for name, value in chain.levels.items()} == {f"N{k}": p for k, p in enumerate(places)}


@settings(max_examples=60, deadline=None)
@given(told(), st.fractions(F(1, 8), 5, max_denominator=16))
def test_a_distance_beyond_the_tree_that_is_wrong_leaves_a_gap_as_large_as_its_error(known, error):
    places, tree, more = known
    assume(more)
    right, (a, b) = more[:-1], more[-1]
    text = "; ".join([*(link(places, *p) for p in [*tree, *right]), link(places, a, b, error)])
    chain = solve(text)
    lower, upper = (a, b) if places[a] < places[b] else (b, a)
    assert chain.gaps
    for gap in chain.gaps:
        # Whichever of its distances a strip is grown by: each loop that does not close has the wrong one in it.
        assert abs(gap["gap_mm"]) == pytest.approx(float(error)) and f"N{lower}-N{upper}" in gap["loop"]
    assert len(chain.redundant) + len(chain.gaps) == len(more)


@settings(max_examples=60, deadline=None)
@given(told(), st.data())
def test_what_is_asked_for_between_two_levels_is_their_distance(known, data):
    places, tree, _ = known
    a, b = data.draw(st.sampled_from([(a, b) for a in range(len(places)) for b in range(len(places)) if a != b]))
    chain = solve("; ".join([*(link(places, *p) for p in tree), f"N{a} -?- N{b}"]))
    assert chain.solved == (f"N{a}-N{b}",)
    assert abs(chain.spans[0].value) == abs(places[b] - places[a])
    # The distances of the sum, each with its sign, make it.
    size = {
        f"N{min(p, key=lambda k: places[k])}-N{max(p, key=lambda k: places[k])}": abs(places[p[0]] - places[p[1]])
        for p in tree
    }
    assert sum(share * size[name] for name, share in chain.spans[0].terms) == chain.spans[0].value


@settings(max_examples=40, deadline=None)
@given(told(), st.integers(1, 7))
def test_a_tree_that_is_cut_leaves_levels_free(known, which):
    places, tree, _ = known
    left = [p for k, p in enumerate(tree) if k != which % len(tree)]
    chain = solve("; ".join(link(places, *p) for p in left))
    named = {f"N{k}" for p in left for k in p}
    assert set(chain.levels) | set(chain.free) == named
    assert not set(chain.levels) & set(chain.free)
