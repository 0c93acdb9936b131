"""Round numbers come first: what a length costs, from where levels are counted, what is said in place of a rough one."""

import math
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canonis.bench.stated import is_rough, lengths_of
from canonis.core.callout import a_length
from canonis.core.drafting.datums import seat_of
from canonis.core.drafting.draft import DraftWish, draft_model
from canonis.core.drafting.roundness import ROUGH, roughness
from canonis.core.features.recognition import recognise
from canonis.core.proof.check import check_sheet
from canonis.core.quantity.units import Unit
from canonis.core.shape.surfaces import is_blend, is_eye_end
from tests.conftest import block, model_of, recipe
from tests.core.known_parts import hole, ring, rod, shape, turned
from tests.core.test_everyday_parts import around, path

#: Where the common tangents of circles of R20 about (0, 0) and R10 about (60, 0) touch them: the cosine is 10 / 60.
TANGENTS = path(
    *([x + r / 6, s * r * math.sqrt(35) / 6] for x, r, s in ((0, 20, 1), (0, 20, -1), (60, 10, -1), (60, 10, 1)))
)


def drafted(*steps, **wish):
    draft = draft_model(model_of(recipe(*steps)), DraftWish(views="auto", **wish))
    check = check_sheet(draft.document, draft.scene.solids)
    assert check.complete["ok"] and {s.state for s in check.statements} <= {"proven", "reference"}
    return draft, check


def texts(draft):
    return [a.text for a in draft.document.annotations if a.text]


def rough_of(check):
    return [
        s.text
        for s in check.statements
        if s.state == "proven" and any(is_rough(p, Unit.MM) for p in lengths_of([s.reading]))
    ]


@given(st.integers(1, 400_000))
def test_a_length_costs_by_the_places_that_it_needs(thousandths):
    places = next(n for n in range(4) if thousandths * 10**n % 1000 == 0)
    assert roughness(thousandths / 1000, Unit.MM) == (0.0, 0.05, 0.15, 0.6)[places]
    assert (roughness(thousandths / 1000, Unit.MM) >= ROUGH) == is_rough(
        a_length(thousandths / 1000, Unit.MM).main, Unit.MM
    )


@given(st.integers(1, 2000), st.sampled_from([64, 10, 100, 1000]))
def test_in_inches_a_64th_is_round(number, parts):
    size = float(Fraction(number, parts)) * 25.4
    assert roughness(size, Unit.INCH) < ROUGH


def test_a_length_without_end_costs_most():
    assert roughness(20 / 3, Unit.MM) > roughness(6.667, Unit.MM) > roughness(6.67, Unit.MM)


def test_levels_are_counted_from_the_end_that_makes_them_round():
    """A plate of 61.237 whose holes were set out from its right end."""
    at = [[61.237 - x, 20, 10] for x in (8, 20, 41)]
    draft, check = drafted(block(61.237, 40, 10), *(hole([p], d) for p, d in zip(at, (5, 6, 7), strict=True)))
    assert draft.document.datum_name == "right-front-bottom"
    assert rough_of(check) == ["61.237"]
    assert {"8", "20", "41"} <= set(texts(draft))


def test_where_both_ends_are_as_good_the_custom_holds():
    draft, _ = drafted(block(60, 40, 10), hole([[10, 20, 10]], 5), hole([[40, 20, 10]], 6))
    assert draft.document.datum_name == "left-front-bottom"


def test_a_round_distance_is_said_in_place_of_a_rough_level():
    """A step at a third of the length, and a hole 12 from it: no end gives a round figure for the hole."""
    third = 100 / 3
    draft, check = drafted(
        block(100, 40, 20), shape({"rect": [third, 0, 100 - third, 40]}, 8, 20), hole([[third + 12, 20, 8]], 6)
    )
    assert "12" in texts(draft)
    assert len(rough_of(check)) == 1


SCREW = [
    shape(
        path(*([10 / 3**0.5 * f(math.radians(60 * k)) for f in (math.cos, math.sin)] for k in range(6))), 0, 4, "add"
    ),
    rod(6, 20, -20),
]


def test_a_screw_is_measured_from_under_its_head():
    draft, _ = drafted(*SCREW)
    said = [a.text for a in draft.document.annotations if a.kind in ("ordinate", "linear") and not a.reference]
    assert {"4", "20"} <= set(said) and "24" not in said


@pytest.mark.parametrize(
    "steps",
    [
        [rod(20, 6), rod(10, 30, 6)],
        [rod(8, 30, -30), shape({"rect": [-10, -10, 20, 20]}, 0, 40, "add")],
        [rod(8, 30, -30), turned((0, 0), (4, 0), (9, 5), (9, 7), (0, 7)), shape({"rect": [-1, -12, 2, 24]}, 5, 3)],
    ],
    ids=["turned only", "a head longer than its shank", "countersunk"],
)
def test_what_is_no_screw_has_no_seat(steps):
    assert seat_of(model_of(recipe(*steps)).solids[0]) is None


def lever():
    ends = [shape({"circle": [x, 0, d]}, 0, 8, "add") for x, d in ((0, 40), (60, 20))]
    return [*ends, shape(TANGENTS, 0, 8, "add"), hole([[0, 0, 8]], 16), hole([[60, 0, 8]], 8)]


def test_a_lever_is_measured_between_its_eyes():
    draft, check = drafted(*lever())
    assert {"60", "R20", "R10"} <= set(texts(draft))
    assert not rough_of(check)
    solid = draft.scene.solids[0]
    ends = [f for f in solid.faces if f.kind == "cylinder" and not f.inner]
    assert len(ends) == 2 and all(is_eye_end(solid, f) and not is_blend(solid, f) for f in ends)


def test_the_corner_of_a_plate_about_a_hole_is_a_round():
    plate = [block(60, 40, 8), hole([[8, 8, 8]], 6), {"op": "round", "edges": {"near": [[0, 0, 4]]}, "radius": 8}]
    solid = model_of(recipe(*plate)).solids[0]
    corner = next(f for f in solid.faces if f.kind == "cylinder" and not f.inner)
    assert is_blend(solid, corner) and not is_eye_end(solid, corner)


def test_what_two_flats_leave_of_a_pin_is_a_diameter():
    flats = [shape({"rect": [-20, s * 9 - 5, 40, 10]}, 10, 20) for s in (-1, 1)]
    draft, _ = drafted(rod(20, 10), rod(12, 20, 10), *flats)
    assert "⌀12" in texts(draft) and "R6" not in texts(draft)


def test_recesses_of_one_width_on_both_sides_of_a_web_are_counted():
    web = [
        rod(100, 30),
        hole([[0, 0, 30]], 20),
        *(around((30, a), (40, a), (40, b), (30, b)) for a, b in ((0, 8), (20, 30))),
    ]
    draft, _ = drafted(*web)
    assert {"2× ⌀80", "2× ⌀60"} <= set(texts(draft))


def test_a_bore_that_tapers_into_another_is_no_counterbore():
    body = [rod(60, 60), around((0, 0), (22, 0), (22, 20), (12, 50), (12, 60), (0, 60))]
    hole_ = recognise(model_of(recipe(*body)).solids[0]).holes[0].first
    assert not hole_.seats and hole_.diameter == pytest.approx(24)
    drilled = [rod(60, 60), hole([[0, 0, 60]], 24, counterbore={"diameter": 44, "depth": 20})]
    assert recognise(model_of(recipe(*drilled)).solids[0]).holes[0].first.seats


def test_the_hole_in_a_cap_starts_where_it_is_open():
    cap = [
        rod(30, 10),
        turned((0, 10), (15, 10), (15, 20), (0, 20)),
        around((0, 10), (10, 10), (10, 16), (0, 16)),
        hole([[0, 0, 5]], 8, depth=5, axis=[0, 0, -1]),
    ]
    found = recognise(model_of(recipe(*cap)).solids[0])
    bore = next(g.first for g in found.holes if g.first.diameter == pytest.approx(8))
    assert bore.through or float(bore.axis[2]) < 0


@pytest.mark.parametrize("number", [3, 4, 6, 8])
def test_vanes_are_counted_and_no_polygon(number):
    vane = {"name": "v", **shape({"rect": [8, -2, 30, 4]}, 5, 12, "add")}
    draft, _ = drafted(rod(90, 5), rod(24, 26), hole([[0, 0, 26]], 10), vane, ring(["v"], number))
    said = texts(draft)
    assert f"{number} PLACES EQ SP" in said and not any(t.startswith("HEX") or " AF" in t for t in said)
    assert said.count("4") <= 1


def test_a_shank_as_thick_as_its_eye_has_a_place():
    """The outlines of the shank and the edges of the eye are one line from the side."""
    eye = {"op": "extrude", "profile": {"plane": "XZ", "offset": -6, "outer": {"circle": [0, 0, 30]}}, "distance": 12}
    bore = hole([[0, 0, 0]], 16, [0, 1, 0])
    draft, _ = drafted(eye, rod(12, 60, -60), bore)
    assert "6" in texts(draft)
