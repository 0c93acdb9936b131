"""A draft says everything once: what its notes leave free is stated where a view or a section shows it."""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.bench.gallery import GALLERY, drafted
from canonis.core.drafting.basis import Basis
from canonis.core.house import House
from canonis.core.layout.collisions import layout_report, page_collisions
from canonis.core.proof.check import check_sheet
from canonis.core.sheet.compile import compile_sheet
from canonis.core.sheet.views import Auxiliary, Section
from canonis.core.sheet.wording import worded
from tests.conftest import draft_of, recipe
from tests.core.known_parts import PARTS
from tests.core.parts import random_part

#: Parts of every kind; what a modelled thread or a ring groove needs is said in words elsewhere.
SAID = (
    "counterbored corners", "seats at both ends", "cross drilled", "hole in a slope", "face groove", "hexagon boss", "segment keyway",
    "taper", "conical bore", "vee groove", "drafted boss", "shell", "drafted pocket", "bolt blank", "tray with rounded corners",
    "pocket with a rounded floor", "crossing blind bores", "hub with four ribs",
)  # fmt: skip


def states(draft):
    check = check_sheet(draft.document, draft.scene.solids)
    bad = [(s.text, s.state) for s in check.statements if s.state not in ("proven", "reference")]
    # Nothing is dimensioned to a hidden edge, or where it is not seen at its true length.
    report = layout_report(draft.scene, compile_sheet(draft.scene))
    bad += [(name, report[name]) for name in ("to_hidden", "foreshortened") if report[name]]
    return check.complete["free"], check.complete["redundant"], bad


@pytest.mark.parametrize("name", SAID)
def test_a_part_of_any_kind_is_said_once_and_whole(name):
    draft = draft_of(recipe(*PARTS[name][0]), views="auto")
    assert states(draft) == ([], [], [])


@settings(max_examples=12, deadline=None)
@given(st.integers(0, 100_000))
def test_a_part_put_together_at_random_is_said_once_and_whole(seed):
    draft, _ = drafted(random_part(seed))
    assert states(draft) == ([], [], [])
    for page in compile_sheet(draft.scene).pages:
        assert page_collisions(page)["text_on_text"] == []


def turned(*points):
    return {
        "op": "revolve",
        "angle": 360,
        "axis": {"point": [0, 0, 0], "direction": [1, 0, 0]},
        "profile": {"plane": "XY", "outer": {"polygon": [list(p) for p in points]}},
    }


def test_a_cone_of_a_round_angle_is_said_by_its_angle_another_by_its_ends():
    # ⌀20 to ⌀40 over 10: 90°; over 13: 75.14°.
    for length, said in ((10, True), (13, False)):
        draft = draft_of(recipe(turned((0, 0), (0, 10), (20, 10), (20 + length, 20), (50, 20), (50, 0))), views="auto")
        angles = [a for a in draft.document.annotations if a.kind == "angle"]
        assert [a.text for a in angles] == (["90°"] if said else [])
        assert states(draft) == ([], [], [])


@pytest.mark.parametrize(("text", "state"), [("30°", "proven"), ("150°", "proven"), ("31°", "contradicted")])
def test_the_angle_of_a_slope_is_measured_again_on_the_faces(text, state):
    rise = 20 * math.tan(math.radians(30))
    slope = {
        "op": "extrude",
        "mode": "cut",
        "distance": -20,
        "profile": {"plane": "XZ", "outer": {"polygon": [[20, 20], [40, 20], [40, round(20 - rise, 9)]]}},
    }
    block = {"op": "extrude", "distance": 20, "profile": {"plane": "XY", "outer": {"rect": [0, 0, 40, 20]}}}
    draft = draft_of(recipe(block, slope), views="auto")
    angle = next(a for a in draft.document.annotations if a.kind == "angle")
    changed = tuple(worded(a, text) if a.id == angle.id else a for a in draft.document.annotations)
    check = check_sheet(draft.document.model_copy(update={"annotations": changed}), draft.scene.solids)
    assert next(s for s in check.statements if s.id == angle.id).state == state


def test_a_groove_in_a_bore_is_stated_in_the_half_section():
    draft, _ = drafted(GALLERY["flanged bush"])
    opened = next(v for v in draft.document.views if getattr(v, "openings", ()))
    said = {a.text for a in draft.document.annotations if a.view == opened.id}
    assert {"GROOVE 3 × ⌀28", "37"} <= said


def test_a_hole_in_a_slope_is_noted_and_placed_in_the_view_square_to_it():
    draft, _ = drafted(GALLERY["sloped arm"])
    folded = next(v for v in draft.document.views if isinstance(v, Auxiliary))
    kinds = {a.kind for a in draft.document.annotations if a.view == folded.id}
    assert {"hole", "linear"} <= kinds


def test_a_depth_that_is_hidden_everywhere_gets_a_section():
    draft, _ = drafted(GALLERY["two-sided plate"])
    cuts = [v for v in draft.document.views if isinstance(v, Section)]
    assert cuts and all(any(a.view == v.id for a in draft.document.annotations) for v in cuts)


def test_a_statement_taken_off_stays_free_until_it_is_said_again():
    draft, _ = drafted(GALLERY["stepped block"])
    document, page = draft.document, draft.document.pages[0]
    basis = Basis(document, page, draft.scene.solids[0])
    assert basis.free() == []
    gone = next(a for a in document.annotations if a.kind == "ordinate" and a.refs[0] != a.refs[1])
    less = document.model_copy(update={"annotations": tuple(a for a in document.annotations if a.id != gone.id)})
    basis = Basis(less, page, draft.scene.solids[0])
    assert len(basis.free()) == 1
    assert basis.adds(gone) and not basis.adds(gone)
    assert basis.free() == []


PLACED = recipe(
    {"op": "extrude", "distance": 12, "profile": {"plane": "XY", "outer": {"rect": [0, 0, 120, 70]}}},
    {
        "op": "hole",
        "at": [[15, 15, 12], [45, 30, 12], [80, 55, 12], [105, 20, 12]],
        "axis": [0, 0, 1],
        "diameter": 8,
        "through": True,
    },
)


@pytest.mark.parametrize(
    ("style", "across"),
    [
        ("ordinate", {"0", "15", "45", "80", "105"}),
        ("baseline", {"15", "45", "80", "105"}),
        ("chain", {"15", "30", "35", "25"}),
    ],
)
def test_locations_are_stated_as_the_house_rule_wants_them(style, across):
    draft = draft_of(PLACED, views="auto", house=House.read({"locations": style}))
    kind = "ordinate" if style == "ordinate" else "linear"
    rows = [a for a in draft.document.annotations if a.kind == kind and a.feature != "overall" and a.direction == "x"]
    assert {a.text for a in rows} == across
    assert states(draft) == ([], [], [])
    if style == "chain":
        # The links of a chain stand in one line.
        assert len({a.row for a in rows}) == 1
    if style == "baseline":
        assert len({a.row for a in rows}) == len(rows)
