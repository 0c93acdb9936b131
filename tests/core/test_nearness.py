"""How near a size of the part is to what a line says: exact, rounded, inside limits, a named slip, or just near."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canonis.core.callout.rules import HouseRules
from canonis.core.proof.match.near import EXACT, LIMITS, NEAR, ROUNDED, SLIP, wanted
from canonis.core.quantity.units import Unit
from canonis.core.source.shorthand import read_line

MM, INCH = HouseRules(unit=Unit.MM), HouseRules(unit=Unit.INCH)


def want(text, rules=MM):
    c = read_line(text, rules)
    assert c.error is None and c.main is not None
    made = wanted(c.main, rules.unit)
    assert made is not None
    return made


@pytest.mark.parametrize(
    ("text", "size", "state", "slip"),
    [
        ("20", 20.0, EXACT, ""),
        ("20", 20.004, EXACT, ""),
        ("20", 20.006, NEAR, ""),
        ("19.05", 19.0546, EXACT, ""),
        ("4.76", 4.7645, EXACT, ""),
        ("38", 83.0, SLIP, "swapped"),
        ("38", 39.0, SLIP, "misread"),
        ("20", 40.0, SLIP, "twice"),
        ("24", 12.0, SLIP, "half"),
        ("20", 200.0, SLIP, "ten"),
        ("20", 508.0, SLIP, "inches"),
        ("20", 21.0, SLIP, "misread"),
        ("20", 19.0, SLIP, "off by one"),
        ("20 ±.5", 20.4, LIMITS, "inside"),
        ("20 ±.5", 20.6, NEAR, ""),
        ("20.5/19.5", 19.5, LIMITS, "inside"),
        ("20 MAX", 12.0, LIMITS, "inside"),
        ("20", 27.3, NEAR, ""),
    ],
)
def test_a_size_stands_to_a_line_as_a_person_would_say(text, size, state, slip):
    made = want(text).of(size)
    assert made.state == state, made
    assert slip in made.slip


def test_inches_know_fractions_and_what_two_places_hide():
    assert want(".69", INCH).of(11 / 16 * 25.4).state == ROUNDED
    assert want(".688", INCH).of(11 / 16 * 25.4).state in (EXACT, ROUNDED)
    one = want("1 1/4", INCH)
    assert one.of(1.25 * 25.4).state == EXACT and "1/16" in one.of((1.25 + 1 / 16) * 25.4).slip
    assert want("1.5", INCH).of(1.5).slip.startswith("inches and millimetres")


def test_angles_know_their_complements():
    angle = want("30°")
    assert (
        angle.of(30.0).state == EXACT
        and "complementary" in angle.of(60.0).slip
        and "supplementary" in angle.of(150.0).slip
    )
    assert angle.of(37.0).state == NEAR


@given(st.floats(0.5, 500), st.lists(st.floats(0.01, 2000), min_size=1, max_size=40))
def test_many_at_once_are_judged_as_each_alone(target, sizes):
    made = want(f"{target:.2f} ±.2")
    states, prices = made.many(np.array(sizes))
    for size, state, price in zip(sizes, states, prices, strict=True):
        alone = made.of(size)
        assert alone.state == state
        assert price == pytest.approx(alone.price)


@given(st.floats(1, 300), st.floats(1, 300))
def test_what_fits_costs_less_than_what_does_not(target, other):
    made = want(f"{target:.3f}")
    exact = made.of(float(f"{target:.3f}"))
    assert exact.state == EXACT and exact.price <= made.of(other).price
