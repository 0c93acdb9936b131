from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.quantity.units import Unit
from canonis.core.source.rules import GeneralTolerance, HouseRules
from canonis.core.source.shorthand import read_line

MM = HouseRules(unit=Unit.MM)
INCH = HouseRules(unit=Unit.INCH)
F = Fraction

#: Shorthand, kind, count, and the parts with their exact nominal (mm or degrees; None for yes).
TABLE = [
    ("96", "length", 1, {"length": F(96)}),
    ("2 11/16", "length", 1, {"length": F(43, 16)}),
    ("3/8", "length", 1, {"length": F(3, 8)}),
    ("12,5", "length", 1, {"length": F(25, 2)}),
    (".265", "length", 1, {"length": F("0.265")}),
    ("(80)", "length", 1, {"length": F(80)}),
    ("80 REF", "length", 1, {"length": F(80)}),
    ("⌀12", "diameter", 1, {"diameter": F(12)}),
    ("dia 12", "diameter", 1, {"diameter": F(12)}),
    ("12 DIA", "diameter", 1, {"diameter": F(12)}),
    ("4x ⌀8", "diameter", 4, {"diameter": F(8)}),
    ("⌀8 4 PLACES", "diameter", 4, {"diameter": F(8)}),
    ("⌀8 X4", "diameter", 4, {"diameter": F(8)}),
    ("R6", "radius", 1, {"radius": F(6)}),
    ("r 3.5", "radius", 1, {"radius": F("3.5")}),
    ("4× R.5", "radius", 4, {"radius": F("0.5")}),
    ("45°", "angle", 1, {"angle": F(45)}),
    ("37.5 deg", "angle", 1, {"angle": F("37.5")}),
    ("2 x 45°", "chamfer", 1, {"leg": F(2), "angle": F(45)}),
    ("2x45°", "chamfer", 1, {"leg": F(2), "angle": F(45)}),
    ("4x 2 x 45°", "chamfer", 4, {"leg": F(2), "angle": F(45)}),
    ("3 x 2 chamfer", "chamfer", 1, {"leg": F(3), "leg-b": F(2)}),
    ("4× 3 × 2 CHAMFER", "chamfer", 4, {"leg": F(3), "leg-b": F(2)}),
    ("⌀6.6 THRU", "hole", 1, {"diameter": F("6.6"), "through": None}),
    ("6.6 dia through all", "hole", 1, {"diameter": F("6.6"), "through": None}),
    ("⌀5 ↧8", "hole", 1, {"diameter": F(5), "depth": F(8)}),
    ("2X DIA 5 DEPTH 8", "hole", 2, {"diameter": F(5), "depth": F(8)}),
    ("⌀5 8 deep", "hole", 1, {"diameter": F(5), "depth": F(8)}),
    ("4x ⌀6.6 THRU ⌴⌀11 ↧6.5", "hole", 4,
     {"diameter": F("6.6"), "through": None, "counterbore-diameter": F(11), "counterbore-depth": F("6.5")}),
    ("4x dia 6.6 thru cbore 11 6.5 deep", "hole", 4,
     {"diameter": F("6.6"), "through": None, "counterbore-diameter": F(11), "counterbore-depth": F("6.5")}),
    ("⌀12 THRU ⌵⌀16 × 90°", "hole", 1,
     {"diameter": F(12), "through": None, "countersink-diameter": F(16), "countersink-angle": F(90)}),
    ("⌀12 thru csk 16 x 90 deg", "hole", 1,
     {"diameter": F(12), "through": None, "countersink-diameter": F(16), "countersink-angle": F(90)}),
    ("⌀9 THRU SF ⌀20 ↧1", "hole", 1,
     {"diameter": F(9), "through": None, "counterbore-diameter": F(20), "counterbore-depth": F(1)}),
    ("⌀9 THRU ⌴⌀15 ↧5 FAR SIDE", "hole", 1,
     {"diameter": F(9), "through": None, "counterbore-far-diameter": F(15), "counterbore-far-depth": F(5)}),
    ("4x ⌀3.3 THRU EQ SP ON ⌀20 PCD", "hole", 4,
     {"diameter": F("3.3"), "through": None, "pitch-circle": F(20), "equally-spaced": None}),
    ("⌀20 PCD", "pattern", 1, {"pitch-circle": F(20)}),
    ("slot 8 x 14 centres thru", "slot", 1, {"width": F(8), "centres": F(14), "through": None}),
    ("2× SLOT 8 WIDE ↧5 14 CENTRES", "slot", 2, {"width": F(8), "depth": F(5), "centres": F(14)}),
    ("ROUNDS AND FILLETS R5 UON", "round", 1, {"radius": F(5)}),
]  # fmt: skip


@pytest.mark.parametrize(("text", "kind", "count", "parts"), TABLE, ids=[t[0] for t in TABLE])
def test_reading(text, kind, count, parts):
    read = read_line(text, MM)
    assert read.error is None, read.error
    assert (read.kind, read.count) == (kind, count)
    assert {p.name: p.nominal for p in read.parts} == parts
    assert read.words


@pytest.mark.parametrize(
    ("text", "lower", "upper"),
    [("12 ±.1", "11.9", "12.1"), ("12 +0.2 -0.1", "11.9", "12.2"), ("12 +.2/-.1", "11.9", "12.2"), ("12.2/11.9", "11.9", "12.2"),
     ("11.9/12.2", "11.9", "12.2"), ("⌀12 +/-.05", "11.95", "12.05")],
)  # fmt: skip
def test_own_tolerances(text, lower, upper):
    part = read_line(text, MM).parts[0]
    assert (part.lower, part.upper, part.tolerance) == (F(lower), F(upper), "own")


def test_targets_follow_the_house_rule():
    for rule, target in (("middle", "12.05"), ("nominal", "12"), ("upper", "12.2"), ("lower", "11.9")):
        assert read_line("12 +0.2 -0.1", HouseRules(limits=rule)).parts[0].target == F(target)


def test_units_are_exact_and_may_be_overridden():
    assert read_line("2 11/16", INCH).parts[0].nominal == F(43, 16) * F(254, 10)
    assert read_line("1.5 in", MM).parts[0].nominal == F("38.1")
    assert read_line("10 mm", INCH).parts[0].nominal == 10


def test_general_tolerances():
    iso = HouseRules(general=GeneralTolerance.read("ISO 2768-m", Unit.MM))
    assert read_line("45", iso).parts[0].upper == F("45.3")
    assert read_line("R6.5", iso).parts[0].upper == F("7.5")
    block = HouseRules(unit=Unit.INCH, general=GeneralTolerance.read(".XX ±.01  .XXX ±.005", Unit.INCH))
    assert read_line("1.500", block).parts[0].lower == F("1.495") * F(254, 10)
    assert read_line("1.5", block).parts[0].lower is None


@pytest.mark.parametrize(
    ("text", "column", "word"),
    [("4x ⌀6.6 thr", 9, "THRU"), ("⌀6.6 THRU ⌴⌀11", 15, "early"), ("abc", 1, "abc"), ("", 1, "empty"), ("⌀", 2, "early"),
     ("R0", 1, "zero"), ("1.5x ⌀6", 1, "count")],
)  # fmt: skip
def test_errors_stand_at_the_character(text, column, word):
    error = read_line(text, MM).error
    assert error is not None and error.column == column and word in error.message


@settings(max_examples=300, deadline=None)
@given(st.text(alphabet="0123456789 .,/xX×⌀R°±()+-↧⌴⌵THRUdeepcboresk#'\"\\\n\x00é", max_size=60) | st.text(max_size=40))
def test_any_text_is_read_or_explained(text):
    read = read_line(text, MM)
    assert (read.error is None) != (not read.parts) or read.kind == "radius"
    if read.error:
        assert 1 <= read.error.column <= len(text) + 1 and read.error.message


@settings(deadline=None)
@given(st.integers(1, 20), st.integers(100, 5000), st.integers(50, 5000))
def test_our_own_hole_notes_read_back(count, d, depth):
    text = f"{count}× ⌀{d / 100:g} ↧{depth / 100:g}" if count > 1 else f"⌀{d / 100:g} ↧{depth / 100:g}"
    read = read_line(text, MM)
    assert read.count == count and float(read.part("diameter").nominal) == pytest.approx(d / 100)
    assert float(read.part("depth").nominal) == pytest.approx(depth / 100)
