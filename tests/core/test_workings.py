"""The workings pad: exact arithmetic with its steps, the trade's formulas, references, units."""

import math
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canonis.core.faults import BadInput
from canonis.core.quantity.units import MM_PER_INCH, Unit
from canonis.core.source.amounts import Amount
from canonis.core.source.specification import read_specification
from canonis.core.source.workings import Known, work_out

F = Fraction
MM = Known(
    Unit.MM,
    {"3": {"": Amount(F(25), 1)}, "5": {"": Amount(F(6), 1), "depth": Amount(F(12), 1)}},
    {"web": Amount(F(4), 1)},
)
INCH = Known(Unit.INCH)


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("3/8 + 1/16", F(7, 16)),
        ("2 1/2 - 2 * 3/8", F(7, 4)),
        ("(1 + 2) × 4 ÷ 8", F(3, 2)),
        ("-2 + 5", F(3)),
        ("2^3", F(8)),
        ("12,5 + 1", F(27, 2)),
        ("2 in + 3", F("53.8")),
        ("1' 2 1/2\"", F("368.3")),
        ("#3 / 2", F(25, 2)),
        ("#5.depth - #5", F(6)),
        ("web * 2", F(8)),
        ("10 mm / 2 mm", F(5)),
        ("(3 + 4) in", F("177.8")),
        ("comp(37.5)", F("52.5")),
        ("supp(60)", F(120)),
        ("leg(2, 45)", F(2)),
        ("rim(10, 1.5)", F(13)),
        ("slot(14, 8)", F(22)),
        ("centres(22, 8)", F(14)),
        ("pitch(12, 8)", F(20)),
        ("span(5, 20)", F(80)),
        ("middle(11.9, 12.1)", F(12)),
        ("keyaxis(22, 3.5)", F(15, 2)),
        ("sqrt(3^2 + 4^2)", F(5)),
        ("hyp(3, 4)", F(5)),
        ("sin(30)", F(1, 2)),
        ("cos(60°)", F(1, 2)),
        ("tan(45)", F(1)),
        ("tap drill M8", F("6.8")),
        ("clearance M6 close", F("6.4")),
        ("tapdrill M10", F("8.5")),
        ("box(2, 3, 4)", F(24)),
        ("mass(1000, 7.85)", F("7.85")),
        ("round(12.3456, 2)", F("12.35")),
        ("min(3, 1 in, 40)", F(3)),
        ("30°30' + 15°", F("45.5")),
    ],
)
def test_exact_values(text, value):
    known = Known(MM.unit, MM.characteristics, MM.workings)
    if text.startswith("min"):
        text = "min(3 mm, 1 in, 40 mm)"
    assert work_out(text, known).amount.value == value


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("chord(60, 6)", 30.0),
        ("chord(60, 90°)", 60 * math.sin(math.pi / 4)),
        ("sagitta(50, 60)", 10.0),
        ("arc(20, 90°)", 10 * math.pi),
        ("corners(19)", 19 / math.cos(math.pi / 6)),
        ("leg(2, 30°)", 2 * math.tan(math.pi / 6)),
        ("cyl(20, 50)", math.pi * 100 * 50),
        ("asin(0.5)", 30.0),
        ("pi * 2", 2 * math.pi),
        ("1 rad", 180 / math.pi),
    ],
)
def test_values_from_closed_forms(text, value):
    assert float(work_out(text, MM).amount.value) == pytest.approx(value, rel=1e-12)


def test_the_working_is_shown_line_by_line():
    made = work_out("wall = 2 1/2 - 2 * 3/8", INCH)
    assert made.name == "wall"
    assert made.steps == ("2 × 0.375 = 0.75", "2.5 − 0.75 = 1.75")
    assert work_out("1 1/2 in + 1/16", INCH).as_json(Unit.INCH)["shown"] == "1.5625 in (1 9/16)"


def test_points_of_a_pitch_circle():
    points = work_out("pcd(60, 6, 15°)", MM).points
    assert len(points) == 6 and all(math.hypot(*p) == pytest.approx(30) for p in points)
    assert math.degrees(math.atan2(points[0][1], points[0][0])) == pytest.approx(15)


@given(st.fractions(-100, 100, max_denominator=64), st.fractions(1, 100, max_denominator=64))
def test_inches_and_millimetres_are_exact(a, b):
    text = f"({a.numerator} / {a.denominator}) in + ({b.numerator} / {b.denominator}) mm"
    assert work_out(text, MM).amount.value == a * MM_PER_INCH + b


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("1 / 0", "divided by zero"),
        ("foo(2)", "no function foo"),
        ("2 +", "ends too early"),
        ("30° + 2 mm", "cannot be added"),
        ("#9 + 1", "#9 is not in the list"),
        ("#5.width", "has no width"),
        ("5 ^ 99", "out of reach"),
        ("2 ** 3", "cannot be read"),
        ("wall", "no working above"),
        ("tan(90)", "no value"),
        ("asin(2)", "no such angle"),
        ("tap drill M99", "no coarse pitch"),
        ("", "empty"),
        ("(" * 90 + "1" + ")" * 90, "deeply"),
        ("pcd(60, 2.5)", "whole number"),
        ("rim(10)", "takes hole, leg"),
        ("sagitta(10, 30)", "longer than the diameter"),
    ],
)
def test_what_cannot_be_worked_out_says_why(text, words):
    with pytest.raises(BadInput, match=words):
        work_out(text, MM)


@given(st.text("0123456789+-*/^().,'\"° #abcsinpd=mM", max_size=40))
def test_any_text_is_worked_out_or_refused(text):
    try:
        made = work_out(text, MM)
    except BadInput as refused:
        assert "\n" not in str(refused)
    else:
        assert math.isfinite(float(made.amount.value)) and made.steps


def test_a_working_feeds_a_line_and_goes_stale():
    text = "unit: mm\n[characteristics]\n1 | | 40\n2 | | {} | worked out | rest\n[workings]\nrest = #1 - 12.5\n"
    good, bad = read_specification(text.format("27.5")), read_specification(text.format("27"))
    assert good.characteristics[1].provenance == "worked out" and not [
        f for f in good.findings if f.severity == "error"
    ]
    assert [f.rule for f in bad.findings if f.severity == "error"] == ["working.stale"]
    lost = read_specification(text.format("27.5").replace("rest = ", "other = "))
    assert "working.lost" in [f.rule for f in lost.findings]
