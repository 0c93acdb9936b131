from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canonis.core.quantity.units import Unit, to_mm
from canonis.core.quantity.written import fraction_of, half_last_place, write_angle, write_length, write_mass


@pytest.mark.parametrize(
    ("mm", "unit", "text"),
    [
        (0.5, "mm", "0.5"),
        (12.0, "mm", "12"),
        (12.500, "mm", "12.5"),
        (12.7, "in", ".500"),
        (46.0375, "in", "1.8125"),
        (0.0, "mm", "0"),
        (0.0, "in", ".000"),
        (76.2, "in", "3.000"),
        (-3.25, "mm", "-3.25"),
        (6.3504, "mm", "6.35"),
    ],
)
def test_written_forms_follow_the_style(mm, unit, text):
    assert write_length(mm, Unit(unit)) == text


@given(st.integers(1, 400_000))
def test_metric_lengths_survive_writing_and_reading(thousandths):
    assert fraction_of(write_length(thousandths / 1000, Unit.MM)) == Fraction(thousandths, 1000)


@given(st.integers(1, 500_000))
def test_inch_lengths_survive_writing_and_reading(tenths_of_thou):
    mm = float(to_mm(Fraction(tenths_of_thou, 10_000), Unit.INCH))
    assert fraction_of(write_length(mm, Unit.INCH)) == Fraction(tenths_of_thou, 10_000)


@given(st.integers(0, 40), st.integers(1, 63), st.sampled_from([2, 4, 8, 16, 32, 64]))
def test_mixed_numbers_are_exact(whole, top, bottom):
    assert fraction_of(f"{whole} {top}/{bottom}") == whole + Fraction(top, bottom)
    assert fraction_of(f"{whole}-{top}/{bottom}") == whole + Fraction(top, bottom)


def test_rounding_room_is_half_the_last_place():
    assert half_last_place("12") == 0.5
    assert half_last_place("12.50") == pytest.approx(0.005)
    assert half_last_place(".3125") == pytest.approx(0.00005)


def test_angles_and_masses():
    assert write_angle(45.0) == "45°" and write_angle(37.5) == "37.5°"
    assert write_mass(495.72, Unit.MM) == "495.7 g" and write_mass(453.59237, Unit.INCH) == "1.000 lb"
    assert write_mass(None, Unit.MM) == "–"


@given(st.floats(-10_000, 10_000, allow_nan=False), st.sampled_from([Unit.MM, Unit.INCH]))
def test_what_is_written_is_within_the_styles_resolution(mm, unit):
    text = write_length(mm, unit)
    room, scale = (0.0005, 1.0) if unit is Unit.MM else (0.00005, 25.4)
    assert abs(float(fraction_of(text.lstrip("-"))) - abs(mm) / scale) <= room * 1.000001 + 1e-9
    assert text.count(".") <= 1 and not text.startswith("-0.000") and text not in ("-0", "-.000", "")


@given(st.floats(0.001, 10_000), st.sampled_from([Unit.MM, Unit.INCH]))
def test_metric_texts_drop_zeros_and_inch_texts_keep_theirs(mm, unit):
    text = write_length(mm, unit)
    if unit is Unit.MM:
        assert not ("." in text and text.endswith("0")) and not text.endswith(".") and not text.startswith(".")
    else:
        assert not text.startswith("0.") and len(text.split(".")[1]) in (3, 4)


@given(st.floats(0, 10_000), st.integers(0, 4), st.sampled_from([Unit.MM, Unit.INCH]))
def test_asked_for_decimals_are_given(mm, decimals, unit):
    text = write_length(mm, unit, decimals)
    assert len(text.partition(".")[2]) == decimals or not text.strip("0.")


@given(st.floats(0.01, 359.99))
def test_angles_survive_writing_and_reading(degrees):
    text = write_angle(degrees)
    assert text.endswith("°") and abs(float(text[:-1]) - degrees) <= 0.005 + 1e-9


@given(st.floats(0.1, 1e6))
def test_masses_carry_their_unit_and_three_figures_at_least(grams):
    metric, inch = write_mass(grams, Unit.MM), write_mass(grams, Unit.INCH)
    value, unit = metric.split()
    assert float(value) * {"g": 1, "kg": 1000}[unit] == pytest.approx(grams, abs=0.051 if unit == "g" else 0.51)
    assert inch.endswith(" lb") and float(inch.split()[0]) == pytest.approx(grams / 453.59237, abs=0.00051)


@given(st.integers(1, 10**6), st.integers(0, 6))
def test_half_of_the_last_place_is_what_rounding_may_hide(digits, decimals):
    text = f"{digits / 10**decimals:.{decimals}f}"
    room = half_last_place(text)
    assert room == pytest.approx(0.5 * 10.0**-decimals)
    assert f"{float(text) + room * 0.98:.{decimals}f}" == text
