"""The catalogue of slips: whatever a slip turns a true figure into is explained by that slip, and true figures by none."""

from fractions import Fraction

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from canonis.core.mass.comparison import agrees, differing
from canonis.core.slips.numbers import number_slips, swapped_digits
from canonis.core.slips.weights import centre_slips, mass_slips
from canonis.core.source.checkpoints import Checkpoint

SIZES = st.floats(0.5, 500)
DENSITIES = {"brass": 8.5, "steel": 7.85, "aluminium": 2.7}


def kinds(written, meant, **more):
    return [s.kind for s in number_slips(written, meant, **more)]


@given(SIZES)
def test_a_true_size_is_no_slip(size):
    assert not kinds(size, size)


@given(
    SIZES, st.sampled_from([("S05", 0.5), ("S05", 2.0), ("S06", 25.4), ("S06", 1 / 25.4), ("S07", 10.0), ("S07", 0.1)])
)
def test_each_factor_is_named(size, slip):
    kind, factor = slip
    assert kind in kinds(size * factor, size)


@given(st.floats(1, 89))
def test_angles_have_their_own_slips(angle):
    assume(abs(angle - 45) > 1e-3)
    assert "S08" in kinds(90 - angle, angle, angle=True) and "S08" in kinds(180 - angle, angle, angle=True)
    assert not {"S05", "S06", "S07"} & set(kinds(angle * 2, angle, angle=True))


@given(st.integers(10, 9999), st.data())
def test_swapped_digits_are_seen_both_ways(number, data):
    text = str(number)
    k = data.draw(st.integers(0, len(text) - 2))
    assume(text[k] != text[k + 1])
    other = text[:k] + text[k + 1] + text[k] + text[k + 2 :]
    assert text in swapped_digits(other)
    assert "S01" in kinds(float(other), float(text), typed=other, decimal=(other, text))


def test_fractions_slip_by_parts_of_an_inch():
    found = kinds(25.4 * 11 / 16, 25.4 * 9 / 16, typed="11/16", decimal=(".6875", ".5625"), fraction=Fraction(2, 16))
    assert "S09" in found


@given(st.floats(100, 1e6), st.sampled_from(sorted(DENSITIES)), st.sampled_from(sorted(DENSITIES)))
def test_another_material_is_named_and_the_right_one_is_not(volume, used, meant):
    wanted = volume * DENSITIES[meant] / 1000
    found = mass_slips(volume, DENSITIES[used], wanted, 1e-6 * wanted, DENSITIES)
    if used == meant:
        assert not found
    else:
        assert found[0].kind == "S24" and meant in found[0].text


@pytest.mark.parametrize("factor", [25.4**3, 25.4**-3, 1 / 453.59237, 1e-3])
def test_units_of_mass_are_named(factor):
    found = mass_slips(50_000.0, 2.7, 135.0 * factor, 1e-9, {"aluminium": 2.7})
    assert [s.kind for s in found] == ["S06"]


CENTRE = np.array([12.0, -7.5, 3.25])


@pytest.mark.parametrize(
    ("goal", "kind"),
    [
        ([12, 7.5, 3.25], "S23"),
        ([3.25, -7.5, 12], "S23"),
        ([12 / 25.4, -7.5 / 25.4, 3.25 / 25.4], "S06"),
        ([40, 20, 8], "S22"),
    ],
)
def test_a_centre_read_otherwise_is_named(goal, kind):
    seen = {"the corner left-front-bottom": np.array([40.0, 20.0, 8.0]), "another": np.array([1.0, 2.0, 3.0])}
    found = centre_slips(CENTRE, np.array(goal, dtype=float), 1e-6, seen)
    assert kind in [s.kind for s in found]
    assert not centre_slips(CENTRE, CENTRE, 1e-6, seen)


@given(st.floats(-1e6, 1e6), st.floats(0, 10))
def test_a_figure_agrees_within_half_its_last_place(value, half):
    assert agrees(value, value, half) and agrees(value + half * 0.99, value, half)
    assert not agrees(value + half * 1.01 + 1e-3, value, half)


def test_only_what_a_checkpoint_states_can_differ():
    point = Checkpoint(step="end", mass_g=100.0, mass_half=0.5, centre_mm=(1.0, 2.0, 3.0), centre_half=0.01)
    assert differing(point, 1.0, 1.0, 100.4, [1.0, 2.0, 3.0]) == []
    assert differing(point, 1.0, 1.0, 100.6, [1.0, 2.1, 3.0]) == ["mass", "centre"]
    assert differing(point, 1.0, 1.0, None, None) == []
