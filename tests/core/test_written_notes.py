"""A draft never writes what its own proof cannot read: every note that can be written is read back, part by part."""

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.callout.pen import Pen
from canonis.core.callout.rules import HouseRules
from canonis.core.callout.writing import write_line
from canonis.core.features.callouts import of_blend, of_hole, of_shaft, of_slot
from canonis.core.features.model import Blend, Hole, Seat, Shaft, Slot
from canonis.core.quantity.units import Unit
from canonis.core.source.shorthand import read_line

UP = np.array([0.0, 0, 1])
SIZE = st.floats(1, 90).map(lambda x: round(x, 3))
UNIT = st.sampled_from([Unit.MM, Unit.INCH])
COUNT = st.integers(1, 24)


def seats(wide):
    bore = st.builds(Seat, st.just("counterbore"), SIZE.map(lambda x: wide + x), SIZE)
    sink = st.builds(
        Seat,
        st.just("countersink"),
        SIZE.map(lambda x: wide + x),
        st.just(0.0),
        st.sampled_from([60.0, 82.0, 90.0, 120.0]),
    )
    rim = st.builds(Seat, st.just("rim"), SIZE, st.just(0.0), st.sampled_from([30.0, 45.0, 60.0]), SIZE)
    rounded = st.builds(Seat, st.just("rim-round"), SIZE, st.just(0.0), st.just(0.0), SIZE)
    one = st.one_of(bore, sink)
    return st.one_of(
        st.just(()),
        st.tuples(one),
        st.tuples(st.one_of(rim, rounded)),
        st.tuples(one, st.one_of(rim, rounded)),
        st.tuples(bore, sink),
    )


@st.composite
def holes(draw):
    diameter, through = draw(SIZE), draw(st.booleans())
    depth = None if through else draw(SIZE)
    far = draw(seats(diameter)) if through else ()
    return Hole(UP, np.zeros(3), diameter, through, depth, None, None, draw(seats(diameter)), far, (), ())


def read(says, unit, notation="symbols"):
    reading = read_line(write_line(says, Pen(unit, notation, sheet=True)), HouseRules(unit=unit))
    assert reading.said == says.said
    return reading


@settings(max_examples=300, deadline=None)
@given(holes(), COUNT, UNIT, st.booleans(), st.sampled_from(["symbols", "words"]))
def test_every_hole_note_is_read_back(hole, count, unit, spaced, notation):
    reading = read(of_hole(hole, count, unit, equally_spaced=spaced), unit, notation)
    assert reading.error is None and reading.kind == "hole" and reading.count == count
    half = 0.5e-3 if unit is Unit.MM else 0.5e-4 * 25.4
    assert abs(float(reading.part("diameter").nominal) - hole.diameter) <= half + 1e-9
    assert bool(reading.part("through")) is hole.through
    assert bool(reading.part("equally-spaced")) is spaced
    for side, mine in (("", hole.seats), ("-far", hole.far_seats)):
        for seat in mine:
            name = {"rim-round": f"rim{side}-radius", "rim": f"rim{side}-size"}.get(
                seat.kind, f"{seat.kind}{side}-diameter"
            )
            wanted = seat.size if seat.kind.startswith("rim") else seat.diameter
            assert abs(float(reading.part(name).nominal) - wanted) <= half + 1e-9


@settings(max_examples=100, deadline=None)
@given(st.sampled_from(["fillet", "chamfer"]), SIZE, SIZE, COUNT, UNIT)
def test_every_note_of_a_round_or_bevel_is_read_back(kind, a, b, count, unit):
    long, short = max(a, b), min(a, b)
    reading = read(of_blend(Blend("F1", kind, long, short, 45.0, True, count, ()), unit), unit)
    assert reading.error is None and reading.count == count
    assert reading.part("radius" if kind == "fillet" else "leg") is not None


@settings(max_examples=100, deadline=None)
@given(SIZE, SIZE, st.one_of(st.none(), SIZE), COUNT, UNIT, st.sampled_from(["symbols", "words"]))
def test_every_note_of_a_slot_is_read_back(width, centres, depth, count, unit, notation):
    slot = Slot("S1", width, centres, depth is None, depth, UP, (np.zeros(3), np.ones(3)), (), (0, 1))
    reading = read(of_slot(slot, count, unit), unit, notation)
    assert reading.error is None and reading.kind == "slot" and reading.count == count
    assert {"width", "centres", "through" if depth is None else "depth"} <= {p.name for p in reading.parts}


@given(SIZE, COUNT, UNIT)
def test_every_diameter_is_read_back(diameter, count, unit):
    shaft = Shaft("D1", diameter, 5.0, UP, np.zeros(3), UP, False, ())
    reading = read(of_shaft(shaft, count, unit), unit)
    assert reading.error is None and reading.count == count and reading.part("diameter") is not None
