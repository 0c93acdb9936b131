"""Mass checkpoints: cells, units, frames by name, pasted tables."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canonis.core.faults import BadInput
from canonis.core.quantity.units import Unit
from canonis.core.source.checkpoints import read_checkpoint, read_table


def test_all_cells_with_their_units_and_decimals():
    read = read_checkpoint("bored | 1.25 lb | 1.4375, .8, .55 | 0,0,0 | 12.5 in3 | 40 in²", Unit.INCH)
    assert read.mass_g == pytest.approx(1.25 * 453.59237) and read.mass_half == pytest.approx(0.005 * 453.59237)
    assert read.centre_mm == pytest.approx((36.5125, 20.32, 13.97)) and read.centre_half == pytest.approx(0.05 * 25.4)
    assert read.volume_mm3 == pytest.approx(12.5 * 16387.064) and read.area_mm2 == pytest.approx(40 * 645.16)


@pytest.mark.parametrize(
    ("centre", "half"),
    [
        ("0, 12.31, 4.02", 0.005),
        ("48, 24.9, 15.8", 0.05),
        ("0; 0; 6.125", 0.0005),
        ("0, 0, 5", 0.5),
        ("48.0, 24.94, 15.8", 0.05),
    ],
)
def test_a_bare_number_is_as_exact_as_those_beside_it(centre, half):
    assert read_checkpoint(f"end | 5 g | {centre}", Unit.MM).centre_half == pytest.approx(half)


@pytest.mark.parametrize(
    ("frame", "origin"),
    [
        ("0,0,0", (0, 0, 0)),
        ("10, 5, 0", (10, 5, 0)),
        ("left-front-bottom", (1, 2, 3)),
        ("sharp right-back-top corner", (9, 8, 7)),
        ("axis H1", (4, 4, 4)),
        ("axis of h1", (4, 4, 4)),
        ("", (0, 0, 0)),
    ],
)
def test_frames_in_numbers_and_by_name(frame, origin):
    read = read_checkpoint(f"end | 5 g | 1, 1, 1 | {frame}", Unit.MM)
    assert read.origin((1, 2, 3), (9, 8, 7), {"H1": (4, 4, 4)}) == origin


def test_a_frame_may_have_directions():
    assert read_checkpoint("end | | 1,1,1 | 0,0,0;0,1,0;0,0,1", Unit.MM).frame_axes == ((0, 1, 0), (0, 0, 1))


@pytest.mark.parametrize(
    "line",
    [
        "end | heavy",
        "end | 5 g | 1, 2",
        "end | 5 g | 1,2,3 | left-front",
        "end | 5 g | | | 12 stones",
        "end | 5 g | a,b,c",
    ],
)
def test_bad_cells_are_refused_in_one_sentence(line):
    with pytest.raises(BadInput) as refused:
        read_checkpoint(line, Unit.MM)
    assert "\n" not in str(refused.value)


def test_an_axis_that_is_not_there_is_said():
    with pytest.raises(BadInput, match="axis of H9"):
        read_checkpoint("end | 5 g | 1,1,1 | axis H9", Unit.MM).origin((0, 0, 0), (1, 1, 1), {})


def test_a_pasted_table_with_names_and_units():
    pasted = "Step\tMass [g]\tVolume (mm3)\tX\tY\tZ\nblank\t412.70\t152852\t48\t25\t12\nbored\t401.1\t148555\t48\t24.9\t12.1\n"
    lines = read_table(pasted)
    assert lines == [
        "blank | 412.70 g | 48, 25, 12 |  | 152852 mm3",
        "bored | 401.1 g | 48, 24.9, 12.1 |  | 148555 mm3",
    ]
    assert read_checkpoint(lines[0], Unit.MM).volume_mm3 == 152852


def test_pasted_tables_without_names():
    assert read_table("blank  412.7 g  48  25  12\nend  401 g  48  24  12") == [
        "blank | 412.7 g | 48, 25, 12",
        "end | 401 g | 48, 24, 12",
    ]
    assert (
        read_table("| blank | 412.7 g | 48, 25, 12 | 0,0,0 |".strip("| "))[0] == "blank | 412.7 g | 48, 25, 12 | 0,0,0"
    )
    for nothing in ("", "   ", "just words"):
        with pytest.raises(BadInput):
            read_table(nothing)


@given(st.text(max_size=60))
def test_any_cell_text_is_read_or_refused(text):
    for job in (lambda: read_checkpoint(text, Unit.MM), lambda: read_table(text)):
        try:
            job()
        except BadInput as refused:
            assert "\n" not in str(refused) or "\n" in text
