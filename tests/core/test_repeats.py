"""Teeth, lobes and bends: the second route counts and measures them by itself, and the equations hold members alike."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.bench.stated import is_rough, lengths_of
from canonis.core.callout import read
from canonis.core.callout.rules import HouseRules
from canonis.core.drafting.draft import DraftWish, draft_model
from canonis.core.features.recognition import recognise
from canonis.core.proof.check import check_sheet
from canonis.core.proof.circles import bend_of
from canonis.core.shape.orbits import Step, orbit, turned_points
from canonis.core.shape.placing import bevels, surrounds
from canonis.core.shape.surfaces import is_bend
from tests.conftest import block, model_of, recipe
from tests.core.known_parts import PARTS, hole, ring, rod, shape
from tests.core.test_everyday_parts import HEXAGON, WHEEL, around, bent


def solid_of(*steps):
    return model_of(recipe(*steps)).solids[0]


def with_text(document, name, text):
    """The document with another text on a statement."""
    mark = next(a for a in document.annotations if a.text == name)
    other = mark.model_copy(update={"says": read(text, HouseRules(), mark.unit)})
    return document.model_copy(
        update={"annotations": tuple(other if a is mark else a for a in document.annotations)}
    ), mark.id


def state(document, solids, name):
    return next(s.state for s in check_sheet(document, solids).statements if s.id == name)


@pytest.fixture(scope="module")
def wheel():
    draft = draft_model(model_of(recipe(*WHEEL)), DraftWish(views="auto"))
    return draft.document, draft.scene.solids


@pytest.mark.parametrize("number", [6, 11, 13, 24, 36])
def test_another_number_of_teeth_is_contradicted(wheel, number):
    document, solids = wheel
    other, name = with_text(document, "12 TEETH EQ SP", f"{number} TEETH EQ SP")
    assert state(document, solids, name) == "proven"
    assert state(other, solids, name) == "contradicted"


def test_a_tooth_that_is_cut_off_or_another_is_counted(wheel):
    document, _ = wheel
    name = next(a.id for a in document.annotations if a.text == "12 TEETH EQ SP")
    notch = shape({"rect": [26, -12, 8, 8]}, 0, 10, "cut")
    for changed in (solid_of(*WHEEL, notch), solid_of(*WHEEL[:-1], ring(["gap"], 12, skip=[5]))):
        assert state(document, [changed], name) != "proven"


def test_one_tooth_alone_is_dimensioned(wheel):
    document, solids = wheel
    check = check_sheet(document, solids)
    assert check.complete["ok"]
    # The ring, the blank, the bore, the width and the shape of one gap.
    assert len(check.statements) < 16
    lost = next(a for a in document.annotations if a.text == "12 TEETH EQ SP")
    without = document.model_copy(update={"annotations": tuple(a for a in document.annotations if a is not lost)})
    assert len(check_sheet(without, solids).complete["free"]) > 20, "without the note every tooth is free"


def test_a_hexagon_and_a_ring_of_holes_are_no_teeth():
    nut = recognise(solid_of(HEXAGON, around((14.9, -1), (20, -1), (20, 13), (14.9, 13))))
    plate = recognise(solid_of(rod(80, 10), {"name": "h", **hole([[30, 0, 10]], 6)}, ring(["h"], 8)))
    assert not [f for found in (nut, plate) for f in found.forms if f.kind == "repeat"]


def test_six_lobes_are_found_by_what_is_round():
    socket = solid_of(rod(60, 10), {"name": "n", **hole([[30, 0, 10]], 12)}, ring(["n"], 6))
    form = next(f for f in recognise(socket).forms if f.kind == "repeat")
    assert (form.first.data["members"], form.first.data["noun"]) == (6, "lobes")


def test_what_one_cone_leaves_is_one_bevel():
    nut = solid_of(HEXAGON, around((13, 12), (18, 12), (18, 9)), around((13, 0), (18, 0), (18, 3)))
    cones = [f.index for f in nut.faces if f.kind == "cone"]
    assert len(cones) == 12
    assert sorted(map(len, bevels(nut, cones))) == [6, 6]


@given(st.integers(3, 12), st.floats(4, 9))
@settings(max_examples=8, deadline=None)
def test_a_blank_is_seen_round_while_no_gap_is_half_of_it(number, wide):
    gap = {"name": "g", **shape({"rect": [20, -wide / 2, 20, wide]}, 0, 10, "cut")}
    solid = solid_of(rod(60, 10), gap, ring(["g"], number))
    pieces = [f for f in solid.faces if f.kind == "cylinder" and abs(f.radius - 30) < 1e-6]
    assert len(pieces) == number
    assert all(surrounds(solid, f) for f in pieces)
    inner = [f for f in solid.faces if f.kind == "plane" and abs(f.axis[2]) < 1e-9]
    base, axis = np.zeros(3), np.array([0.0, 0.0, 1.0])
    for f in inner:
        there = orbit(solid, f, Step(base, axis, math.tau / number), number)
        assert there is not None and len(set(there)) == number
        # Where a turn by one step carries its middle the next one stands.
        spot = turned_points(f.centre, base, axis, math.tau / number)
        assert float(np.abs(solid.faces[there[1]].centre - spot).max()) < 1e-6
        assert orbit(solid, f, Step(base, axis, math.tau / (number + 1)), number + 1) is None


def comb(number, pitch, wide=3.0, drilled=()):
    """A plate with slots in a row."""
    long_ = pitch * number + 10
    slots = [shape({"rect": [8 + k * pitch, -1, wide, 42]}, 6, 20) for k in range(number)]
    holes = [hole([[8 + k * pitch + wide / 2, 20, 6]], 1.5) for k in drilled]
    return [block(long_, 40, 20), *slots, *holes]


@given(st.integers(4, 9), st.sampled_from([6.0, 7.5, 8.25]))
@settings(max_examples=6, deadline=None)
def test_slots_in_a_row_are_said_once(number, pitch):
    draft = draft_model(model_of(recipe(*comb(number, pitch))), DraftWish(views="auto"))
    document, solids = draft.document, draft.scene.solids
    text = f"{number} PLACES AT {pitch:g} PITCH"
    said = [a.text for a in document.annotations]
    assert text in said and said.count("3") == 1
    check = check_sheet(document, solids)
    assert check.complete["ok"] and {s.state for s in check.statements} <= {"proven", "reference"}
    for other in (
        f"{number - 1} PLACES AT {pitch:g} PITCH",
        f"{number + 1} PLACES AT {pitch:g} PITCH",
        f"{number} PLACES AT {pitch + 0.5:g} PITCH",
    ):
        changed, name = with_text(document, text, other)
        assert state(changed, solids, name) == "contradicted"


def test_a_slot_more_or_less_or_elsewhere_is_found():
    document = draft_model(model_of(recipe(*comb(6, 7.0))), DraftWish(views="auto")).document
    name = next(a.id for a in document.annotations if a.text == "6 PLACES AT 7 PITCH")
    steps = comb(6, 7.0)
    less, moved = [s for k, s in enumerate(steps) if k != 3], [*steps]
    moved[3] = shape({"rect": [8 + 2 * 7.0 + 0.4, -1, 3, 42]}, 6, 20)
    assert state(document, [solid_of(*steps)], name) == "proven"
    for changed in (less, moved):
        assert state(document, [solid_of(*changed)], name) != "proven"


def test_a_slot_with_a_hole_in_its_floor_is_one_of_the_row():
    draft = draft_model(model_of(recipe(*comb(6, 7.0, drilled=(0, 5)))), DraftWish(views="auto"))
    check = check_sheet(draft.document, draft.scene.solids)
    assert "6 PLACES AT 7 PITCH" in [s.text for s in check.statements if s.state == "proven"]
    assert check.complete["ok"]


ROWS = {
    "round-ended slots": (
        [shape({"slot": [12 + 9 * k, 10, 12 + 9 * k, 30, 4]}, 0, 10, "cut") for k in range(5)],
        ["5× SLOT 4 WIDE THRU 20 CENTRES", "4× 9 PITCH"],
    ),
    "bosses": (
        [shape({"circle": [12 + 14 * k, 20, 8]}, 10, 6, "add") for k in range(4)],
        ["4× ⌀8", "3× 14 PITCH"],
    ),
    "pockets": ([shape({"rect": [8 + 18 * k, 12, 10, 16]}, 6, 9) for k in range(3)], ["3 PLACES AT 18 PITCH"]),
    "pins": ([shape({"rect": [8 + 10 * k, 19, 2, 2]}, 10, 12, "add") for k in range(5)], ["5 PLACES AT 10 PITCH"]),
}


@pytest.mark.parametrize("name", list(ROWS))
def test_what_stands_in_a_row_is_spaced_once(name):
    steps, wanted = ROWS[name]
    draft = draft_model(model_of(recipe(block(70, 40, 10), *steps)), DraftWish(views="auto"))
    check = check_sheet(draft.document, draft.scene.solids)
    said = [a.text for a in draft.document.annotations if a.text]
    assert set(wanted) <= set(said)
    assert check.complete["ok"] and {s.state for s in check.statements} <= {"proven", "reference"}


def test_a_row_does_not_pass_over_members_that_are_set_by_eye():
    """Every second slot stands a little aside: no row of the others is made of that, and each is said."""
    slots = [shape({"rect": [8 + k * 8 + 0.005 * (k % 2), -1, 3, 42]}, 6, 20) for k in range(7)]
    draft = draft_model(model_of(recipe(block(70, 40, 20), *slots)), DraftWish(views="auto"))
    check = check_sheet(draft.document, draft.scene.solids)
    assert not any("PLACES" in a.text for a in draft.document.annotations)
    assert check.complete["ok"]


def test_ribs_about_a_hub_stay_ribs_and_are_counted():
    steps = PARTS["hub with four ribs"][0]
    found = recognise(solid_of(*steps))
    assert [len(f.pieces) for f in found.forms if f.kind == "rib"] == [4]
    document = draft_model(model_of(recipe(*steps)), DraftWish(views="auto")).document
    name = next(a.id for a in document.annotations if a.text == "4 PLACES EQ SP")
    three = [*steps[:-1], ring(["r"], 4, skip=[2])]
    assert state(document, [solid_of(*steps)], name) == "proven"
    assert state(document, [solid_of(*three)], name) != "proven"


def test_half_a_disc_is_not_seen_round():
    half = solid_of(rod(60, 10), shape({"rect": [-40, -40, 80, 40]}, 0, 10, "cut"))
    face = next(f for f in half.faces if f.kind == "cylinder")
    assert not surrounds(half, face)


@given(st.floats(3, 18), st.floats(20, 70))
@settings(max_examples=6, deadline=None)
def test_a_bend_is_measured_to_its_centre_line(wide, across):
    bar = {
        "op": "sweep",
        "profile": {"plane": "YZ", "outer": {"circle": [0, 0, wide]}},
        "path": {
            "plane": "XZ",
            "path": [
                ["M", 0, 0],
                ["L", 40, 0],
                ["A", 40 + across, across, across, "ccw"],
                ["L", 40 + across, across + 30],
            ],
        },
    }
    solid = solid_of(bar)
    bends = [f for f in solid.faces if is_bend(solid, f)]
    assert len(bends) == 1
    centre, radius = bend_of(solid, bends[0].index)
    assert radius == pytest.approx(across, abs=1e-6)
    assert centre == pytest.approx([40, 0, across], abs=1e-6)


def test_another_bend_radius_and_another_number_of_bends_are_contradicted():
    draft = draft_model(model_of(recipe(bent(12), bent(9, "cut"))), DraftWish(views="auto"))
    document, solids = draft.document, draft.scene.solids
    for text in ("BEND R21 TO CL", "2× BEND R20 TO CL"):
        other, name = with_text(document, "BEND R20 TO CL", text)
        assert state(other, solids, name) == "contradicted"


def test_a_bend_that_a_note_leaves_out_is_counted():
    path_ = [["M", 0, 0], ["L", 40, 0], ["A", 60, 20, 20, "ccw"], ["L", 60, 50], ["A", 40, 70, 20, "ccw"], ["L", 0, 70]]
    bar = {**bent(8), "path": {"plane": "XZ", "path": path_}}
    draft = draft_model(model_of(recipe(bar)), DraftWish(views="auto"))
    document, solids = draft.document, draft.scene.solids
    assert "2× BEND R20 TO CL" in [a.text for a in document.annotations]
    other, name = with_text(document, "2× BEND R20 TO CL", "BEND R20 TO CL")
    marks = tuple(a.model_copy(update={"refs": a.refs[:1]}) if a.id == name else a for a in other.annotations)
    proof = next(
        s for s in check_sheet(other.model_copy(update={"annotations": marks}), solids).statements if s.id == name
    )
    assert (proof.state, proof.part("count").measured) == ("contradicted", 2)


def test_the_inside_of_a_bent_pipe_is_no_hole_and_its_bend_no_round():
    found = recognise(solid_of(bent(12), bent(9, "cut")))
    assert not found.holes and not found.blends


def test_a_filleted_edge_is_no_bend():
    solid = solid_of(rod(40, 20), {"op": "round", "edges": {"near": [[20, 0, 20]]}, "radius": 3})
    assert not any(is_bend(solid, f) for f in solid.faces)


@pytest.mark.parametrize("flange_at", [0, 8])
def test_a_hexagon_behind_a_flange_is_drawn_from_the_side_that_shows_it(flange_at):
    nut = recipe(HEXAGON, rod(40, 4, flange_at), hole([[0, 0, 12]], 13))
    draft = draft_model(model_of(nut), DraftWish(views="auto"))
    assert any(a.text == "HEX 26 AF" for a in draft.document.annotations)


def knob(*, missing=()):
    """A knob of 18 flutes, two of which a slot across it cuts short; a bore."""
    flute = shape({"circle": [12.4, 0, 2]}, 6, 14, name="f")
    slot = shape({"rect": [-15, -1.5, 30, 3]}, 17, 3)
    return [rod(24, 20), flute, ring(["f"], 18, skip=list(missing)), slot, hole([[0, 0, 20]], 6)]


#: Parts whose members stand about an axis, and how many there are: flutes cut short, spokes, slots that leave lands between them.
RINGS = {
    "knob": (knob(), 18),
    "wheel of five spokes": (
        [
            rod(120, 12),
            rod(96, 12, 0, "cut"),
            rod(32, 12),
            shape({"rect": [14, -5, 36, 10]}, 2, 8, "add", name="s"),
            ring(["s"], 5),
            hole([[0, 0, 12]], 16),
        ],
        5,
    ),
    "rotor of eight slots": (
        [rod(50, 20), hole([[0, 0, 20]], 18), shape({"rect": [15, -1.5, 20, 3]}, 0, 20, name="g"), ring(["g"], 8)],
        8,
    ),
}


@pytest.mark.parametrize("name", list(RINGS))
def test_what_stands_about_an_axis_is_said_once_in_round_figures(name):
    steps, count = RINGS[name]
    draft = draft_model(model_of(recipe(*steps)), DraftWish(views="auto"))
    check = check_sheet(draft.document, draft.scene.solids)
    note = next(a for a in draft.document.annotations if a.text == f"{count} PLACES EQ SP")
    assert state(draft.document, draft.scene.solids, note.id) == "proven"
    assert check.complete["ok"] and all(s.state in ("proven", "reference") for s in check.statements)
    sizes = lengths_of(s.reading for s in check.statements if s.reading is not None and s.state != "reference")
    assert not [float(p.nominal) for p in sizes if is_rough(p, draft.document.unit)]


def test_a_flute_that_is_left_out_is_missed_and_one_cut_short_is_not():
    draft = draft_model(model_of(recipe(*knob())), DraftWish(views="auto"))
    name = next(a.id for a in draft.document.annotations if a.text == "18 PLACES EQ SP")
    assert state(draft.document, [solid_of(*knob(missing=[5]))], name) != "proven"
