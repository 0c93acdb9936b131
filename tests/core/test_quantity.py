from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canonis.core.quantity.units import Unit, to_mm
from canonis.core.quantity.written import fraction_of, half_last_place, write_angle, write_length, write_mass


@pytest.mark.parametrize(
    ("mm", "unit", "text"),
    [(0.5, "mm", "0.5"), (12.0, "mm", "12"), (12.500, "mm", "12.5"), (12.7, "in", ".500"), (46.0375, "in", "1.8125"),
     (0.0, "mm", "0"), (0.0, "in", ".000"), (76.2, "in", "3.000"), (-3.25, "mm", "-3.25"), (6.3504, "mm", "6.35")],
)  # fmt: skip
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
