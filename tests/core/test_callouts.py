"""Callouts of every kind, made up from what the kinds say of themselves: what can be built can be written and reads back."""

from fractions import Fraction

import pytest
from hypothesis import HealthCheck, assume, given, reject, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from canonis.core.callout.callout import COMMON, Callout, kind_of, kinds
from canonis.core.callout.kinds.ends import ALL
from canonis.core.callout.part import Part
from canonis.core.callout.pen import Pen
from canonis.core.callout.reading import Unread, read
from canonis.core.callout.rules import HouseRules
from canonis.core.callout.speech import Speech
from canonis.core.callout.writing import say, write, write_line
from canonis.core.quantity.units import Unit

ANGLES = {"angle", "point-angle", "pitch-angle", "start-angle"}
COUNTS = {"teeth", "columns", "rows", "members"}
#: What is looked up in the table of a thread, and so not said.
TABLED = {"major", "pitch", "lead", "tap-drill"}
#: What parts that are words may say.
WORDED = {
    "parameter": ["Ra", "Rz", "Rq"], "process": ["GROUND", "AS CAST", "MILLED"], "side": ["TOP", "BOTH FACES"],
    "tolerance": ["flatness", "position", "perpendicularity", "total runout", "surface profile", "coaxiality"],
    "modifier": ["(M)", "(L)"], "datum-1": ["A", "A-B"], "datum-2": ["C", "C (M)"], "datum-3": ["D"],
}  # fmt: skip
NAMES = [k.name for k in kinds()]


def sizes(name, unit, *, exact=True):
    """A size with each sort of tolerance."""

    @st.composite
    def made(draw):
        whole = draw(st.integers(1, 4000))
        nominal = Fraction(whole, 40) if unit is Unit.MM else Fraction(whole, 64) * Fraction(254, 10)
        sort = draw(st.sampled_from(["none", "own", "equal", "limits", "max", "min", "fit"]))
        step = Fraction(1, 100) if unit is Unit.MM else Fraction(254, 10_000)
        high, low = step * draw(st.integers(1, 30)), step * draw(st.integers(0, 30))
        if sort == "equal":
            low = high
        if name in ANGLES or name.endswith("-angle"):
            nominal, sort = Fraction(draw(st.integers(1, 340)), 2), draw(st.sampled_from(["none", "equal"]))
            high = low = Fraction(1, 4)
            tolerance = {"lower": nominal - low, "upper": nominal + high, "tolerance": "own"} if sort == "equal" else {}
            return Part(name=name, nominal=nominal, angle=True, **tolerance)
        if sort == "fit" and 3 < nominal < 120 and "diameter" in name and unit is Unit.MM:
            from canonis.core.callout.fits import fit_limits

            nominal = Fraction(int(nominal))
            lower, upper = fit_limits("H7", nominal)
            return Part(name=name, nominal=nominal, lower=lower, upper=upper, tolerance="fit", fit="H7")
        if sort in ("none", "fit") or low >= nominal:
            return Part(name=name, nominal=nominal)
        if sort == "limits":
            middle = (nominal - low + nominal + high) / 2
            return Part(
                name=name,
                nominal=middle,
                lower=nominal - low,
                upper=nominal + high,
                tolerance="own",
                limits=True,
                decimals=draw(st.integers(0, 4)),
            )
        if sort == "max":
            return Part(name=name, nominal=nominal, upper=nominal, tolerance="own")
        if sort == "min":
            return Part(name=name, nominal=nominal, lower=nominal, tolerance="own")
        return Part(name=name, nominal=nominal, lower=nominal - low, upper=nominal + high, tolerance="own")

    return made()


def wider(part, steps):
    """The width of a counterbore in which others stand is larger than theirs."""
    if not part.name.startswith("counterbore") or not part.name.endswith("diameter") or not steps:
        return part
    more = steps * 100 * Fraction(254, 10)
    moved = {n: v + more for n in ("nominal", "lower", "upper") if (v := getattr(part, n)) is not None}
    return Part(
        name=part.name,
        **moved,
        tolerance=part.tolerance if not part.fit else "own",
        limits=part.limits,
        decimals=part.decimals,
    )


@st.composite
def callouts(draw, unit):
    kind = kind_of(draw(st.sampled_from(NAMES)))
    unsaid = TABLED if kind.name == "thread" else set()
    optional = sorted((kind.parts | (frozenset() if kind.of_the_part else COMMON)) - unsaid)
    names = set(draw(st.lists(st.sampled_from(optional), max_size=6, unique=True)))
    for group in kind.needs:
        if not names & set(group):
            names.add(draw(st.sampled_from(sorted(set(group) - unsaid))))
    for group in kind.apart:
        there = sorted(names & set(group))
        names -= set(there[1:])
    for _ in range(3):
        names |= {other for one, other in kind.together if one in names}
    assume(kind.fault(names) is None)
    parts = []
    for name in sorted(names):
        if name == "through":
            parts.append(Part(name=name, typed=draw(st.sampled_from(["", ALL]))))
        elif kind.is_flag(name):
            parts.append(Part(name=name))
        elif name in COUNTS:
            parts.append(Part(name=name, nominal=Fraction(draw(st.integers(2, 40))), plain=True))
        elif name == "sides":
            parts.append(Part(name=name, nominal=Fraction(draw(st.sampled_from([3, 4, 5, 6, 8]))), plain=True))
        elif name == "ratio":
            parts.append(Part(name=name, nominal=Fraction(1, draw(st.integers(2, 50))), plain=True))
        elif name in WORDED and kind.name in ("surface-texture", "tolerance-frame"):
            parts.append(Part(name=name, designation=draw(st.sampled_from(WORDED[name]))))
        elif name == "roughness":
            # An inch sheet says it in microinches.
            step = Fraction(1, 20) if unit is Unit.MM else Fraction(254, 10_000)
            parts.append(Part(name=name, nominal=step * draw(st.integers(1, 500)), plain=True))
        elif name == "zone":
            step = Fraction(1, 1000) if unit is Unit.MM else Fraction(254, 100_000)
            parts.append(Part(name=name, nominal=step * draw(st.integers(1, 2000))))
        elif name == "thread":
            parts.append(Part(name=name, designation=draw(st.sampled_from(["M8", "M12 × 1.5", "3/8-16 UNC", "G1/2"]))))
        else:
            parts.append(wider(draw(sizes(name, unit)), 2 - ("-b" in name) - 2 * ("-c" in name)))
    marks = draw(st.sets(st.sampled_from(["basic", "typical", "estimated", "reference"])))
    count = 1 if kind.name == "round" else draw(st.sampled_from([1, 1, 2, 4, 12]))
    marked = dict.fromkeys(marks, True)
    try:
        return Callout(kind=kind.name, count=count, parts=tuple(parts), general=kind.name == "round", **marked)
    except ValidationError:
        reject()


def told(c):
    """What a callout says, without what a table adds to it."""
    return c.changed(parts=tuple(p for p in c.parts if c.kind != "thread" or p.name not in TABLED)).said


@pytest.mark.parametrize("unit", list(Unit))
@pytest.mark.parametrize("notation", ["symbols", "words"])
def test_what_can_be_built_can_be_written_and_reads_back_with_every_tolerance(unit, notation):
    @settings(max_examples=250, suppress_health_check=[HealthCheck.filter_too_much])
    @given(callouts(unit))
    def same(c):
        text = write_line(c, Pen(unit, notation))
        try:
            again = read(text, HouseRules(unit=unit))
        except Unread as fault:
            raise AssertionError(f"{text!r}: {fault}") from None
        assert told(again) == told(c), text
        # On a sheet it says the same, but for what the sheet says beside it.
        sheet = " ".join(write(c.stated, Pen(unit, notation, sheet=True)))
        assert told(read(sheet, HouseRules(unit=unit))) == told(c.stated), sheet
        assert say(c, Speech(unit, c.count)) and "?" not in say(c, Speech(unit, c.count))

    same()


def test_a_hole_with_a_rim_inside_its_counterbore_reads_back():
    text = "⌀6 THRU ⌴⌀11 ↧4 RIM 0.5 × 45° RIM 0.3 × 45°"
    c = read(text, HouseRules())
    assert [c.size(n) for n in ("rim-size", "rim-b-size")] == [Fraction(1, 2), Fraction(3, 10)]
    assert write_line(c, Pen()) == text
    assert write(c, Pen(notation="words")) == ("6 DIA THRU", "CBORE 11 DIA 4 DEEP", "RIM 0.5 × 45°", "RIM 0.3 × 45°")


@pytest.mark.parametrize(
    ("kind", "names", "why"),
    [
        ("hole", ("depth",), "needs its diameter"),
        ("hole", ("diameter", "depth", "through"), "cannot have depth and through"),
        ("hole", ("diameter", "counterbore-depth"), "needs its counterbore diameter"),
        ("slot", ("width", "radius"), "has no radius"),
        ("radius", ("radius", "radius"), "is given twice"),
        ("dent", (), "no kind of callout"),
    ],
)
def test_what_cannot_be_written_cannot_be_built(kind, names, why):
    parts = tuple(Part(name=n) if n == "through" else Part(name=n, nominal=Fraction(5)) for n in names)
    with pytest.raises(ValidationError, match=why):
        Callout(kind=kind, parts=parts)
