"""What people do to a step of a model, on a plate whose volumes are known by closed forms."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canonis.core.slips.bores import Bore, BoreSeat, taken
from canonis.core.slips.steps import BoreGroup, Figures, ModelState, step_slips

SINK = BoreSeat("countersink", 14, angle=90)
DEEP = BoreSeat("counterbore", 15, depth=9)


def drilled(places, *, diameter=8.0, depth=None, point=None, seats=(), far=(), out=20.0):
    """Bores of a plate of 20 mm from its upper face."""
    return [
        Bore(
            np.array([x, y, 20.0]),
            np.array([0, 0, 1.0]),
            diameter,
            depth,
            depth or 20.0,
            point,
            seats,
            far,
            out if depth else None,
        )
        for x, y in places
    ]


def state(bores, *, w=120.0, d=80.0, label="H1", free=()):
    """The plate after it was drilled, with what the bores take away."""
    box = (np.zeros(3), np.array([w, d, 20.0]))
    volume, moment = w * d * 20.0, w * d * 20.0 * np.array([w / 2, d / 2, 10.0])
    for bore in bores:
        v, s = taken(bore)
        volume, moment = volume - v, moment - s
    groups = (BoreGroup(label, tuple(bores), tuple(np.array([*p, 20.0]) for p in free)),) if bores else ()
    return ModelState("drilled", volume, moment / volume, box, groups, new=bool(bores))


def figures(meant, density=2.7):
    """What a source says of the part that was meant, to four places."""
    m = meant.volume * density / 1000
    return Figures(m, 5e-5, None, 0.0, tuple(meant.centre), 5e-5)


CORNERS = [(12.0, 10.0), (108.0, 10.0), (12.0, 70.0), (97.0, 63.0)]
MODELLED = {
    "S04": (drilled(CORNERS, diameter=4.0), drilled(CORNERS)),
    "S07": (drilled(CORNERS, diameter=1.2), drilled(CORNERS, diameter=12.0)),
    "S11": (drilled(CORNERS, depth=15.0), drilled(CORNERS)),
    "S05": (drilled(CORNERS, depth=6.0), drilled(CORNERS, depth=12.0)),
    "S12": (
        drilled(CORNERS, seats=(BoreSeat("counterbore", 15, depth=9),)),
        drilled(CORNERS, seats=(BoreSeat("counterbore", 9, depth=15),)),
    ),
    "S14": (drilled(CORNERS, seats=(SINK,)), drilled(CORNERS, seats=(BoreSeat("countersink", 14, angle=82),))),
    "S10": (drilled(CORNERS), drilled(CORNERS[:3])),
}


@pytest.mark.parametrize("kind", MODELLED)
def test_a_slip_of_a_step_is_named_with_all_its_figures(kind):
    now, meant = (state(bores) for bores in MODELLED[kind])
    found = step_slips(now, state([]), figures(meant), 2.7, {"brass": 8.5}, lambda p: p)
    assert found and found[0].kind == kind, [f.text for f in found]
    assert all(f.agree == f.of for f in found)


@pytest.mark.parametrize(
    ("change", "said"),
    [({"seats": (DEEP,), "far": (DEEP,)}, "both faces"), ({}, "without its counterbores"), ({"seats": (DEEP,)}, "")],
)
def test_seats_left_out_or_doubled(change, said):
    now = state(drilled(CORNERS, seats=(DEEP,)))
    found = step_slips(now, state([]), figures(state(drilled(CORNERS, **change))), 2.7, {}, lambda p: p)
    if said:
        assert any(said in f.text for f in found)
    else:
        # Nothing differs: whatever is offered would have to change nothing.
        assert not [f for f in found if "counterbore" in f.text]


def test_a_missing_member_is_named_with_its_place():
    now = state(drilled(CORNERS[:3]), free=[(97.0, 63.0), (50.0, 50.0)])
    found = step_slips(now, state([]), figures(state(drilled(CORNERS))), 2.7, {}, lambda p: p)
    assert "missing at 97, 63, 20" in found[0].text and found[0].feature == "H1"


@given(st.floats(2, 30), st.floats(2, 30), st.floats(2, 18), st.sampled_from([0, 1, 2]))
def test_what_was_made_on_the_wrong_side_is_named(w, d, h, axis):
    """A block stands on one side of a plate instead of the other."""
    block = w * d * h
    plate, middle = 120 * 80 * 20.0, np.array([60.0, 40.0, 10.0])
    box = (np.zeros(3), np.array([120.0, 80.0, 20.0]))
    before = ModelState("plate", plate, middle, box)
    here = np.array([25.0, 15.0, 20 + h / 2])
    there = here.copy()
    there[axis] = 2 * middle[axis] - here[axis]
    now, meant = (
        ModelState("block", plate + block, (plate * middle + block * p) / (plate + block), box) for p in (here, there)
    )
    found = step_slips(now, before, figures(meant), 2.7, {}, lambda p: p)
    assert found[0].kind == "S17" and f"mirrored in {'xyz'[axis]}" in found[0].text


def test_a_step_that_changed_nothing_is_what_is_missing():
    now = state([])
    found = step_slips(now, now, figures(state(drilled(CORNERS))), 2.7, {}, lambda p: p)
    assert [f.kind for f in found] == ["S10"] and "changed nothing" in found[0].text


@given(st.floats(1, 40), st.floats(1, 60), st.sampled_from([60.0, 90.0, 118.0, 180.0 - 1e-3]))
def test_a_drill_point_takes_away_a_cone(diameter, depth, angle):
    (bore,) = drilled([(0.0, 0.0)], diameter=diameter, depth=depth, point=angle)
    volume, moment = taken(bore)
    tip = diameter / 2 / math.tan(math.radians(angle / 2))
    area = math.pi * diameter**2 / 4
    assert volume == pytest.approx(area * (depth + tip / 3))
    sunk = area * depth * depth / 2 + area * tip / 3 * (depth + tip / 4)
    assert moment[2] == pytest.approx(20 * volume - sunk)
