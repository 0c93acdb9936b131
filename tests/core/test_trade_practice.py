"""What a drafter does by habit, each on a small part: what is said where, in which words, and what is left out."""

import numpy as np
import pytest

from canonis.bench.compositions import compose
from canonis.bench.gallery import GALLERY, drafted
from canonis.core.drafting.draft import DraftWish, draft_model
from canonis.core.layout.collisions import layout_report
from canonis.core.proof.check import check_sheet
from canonis.core.sheet.compile import compile_sheet
from canonis.core.sheet.document import CentreLine, CentreMark, Ordinate
from canonis.core.sheet.views import Section
from canonis.core.sheet.wording import worded
from tests.conftest import block, model_of, recipe
from tests.core.known_parts import PARTS, hole, rod, shape, turned
from tests.core.test_scheme import sheet


def auto(*steps):
    draft = draft_model(model_of(recipe(*steps)), DraftWish(views="auto"))
    check = check_sheet(draft.document, draft.scene.solids)
    assert check.complete["ok"] and {s.state for s in check.statements} <= {"proven", "reference"}
    return draft


def texts(draft, *kinds):
    return [a.text for a in draft.document.annotations if a.text and a.kind in kinds]


def test_a_cone_with_an_odd_rim_is_said_by_its_angle():
    draft = auto(*PARTS["drafted boss"][0])
    assert texts(draft, "angle") == ["6°"] and texts(draft, "diameter") == ["⌀20"]


def test_a_cone_with_two_round_rims_is_said_by_both():
    draft = auto(turned((0, 0), (15, 0), (15, 20), (9, 33), (9, 50), (0, 50)))
    assert not texts(draft, "angle")


def test_the_width_of_a_turned_part_is_a_diameter():
    draft = auto(rod(40, 20), rod(24, 30, 20))
    over = [(a.text, a.reference) for a in draft.document.annotations if a.kind == "linear"]
    assert sorted(over) == [("50", False), ("⌀40", False)]
    # Between two cones no face has the diameter: the width over all says it.
    knob, _ = drafted(GALLERY["knob"])
    wide = [(a.text, a.reference) for a in knob.document.annotations if a.kind == "linear" and "⌀" in a.text]
    assert wide == [("⌀40", False)]


def test_a_diameter_on_a_line_is_proven_like_a_length():
    draft = auto(rod(40, 20))
    mark = next(a for a in draft.document.annotations if a.kind == "linear" and a.text == "⌀40")
    marks = tuple(
        worded(a, "⌀41").model_copy(update={"reference": False}) if a.id == mark.id else a
        for a in draft.document.annotations
    )
    check = check_sheet(draft.document.model_copy(update={"annotations": marks}), draft.scene.solids)
    assert next(s for s in check.statements if s.id == mark.id).state == "contradicted"


def test_a_width_between_flat_faces_is_no_diameter():
    draft = auto(block(40, 30, 12), shape({"circle": [20, 15, 12]}, 12, 8, "add"))
    mark = next(a for a in draft.document.annotations if a.kind == "linear" and a.text == "40")
    marks = tuple(worded(a, "⌀40") if a.id == mark.id else a for a in draft.document.annotations)
    check = check_sheet(draft.document.model_copy(update={"annotations": marks}), draft.scene.solids)
    assert next(s for s in check.statements if s.id == mark.id).state == "contradicted"


def test_a_conical_boss_has_its_centre_marked_in_every_view():
    draft = auto(*PARTS["drafted boss"][0])
    marks = [a for a in draft.document.annotations if isinstance(a, CentreMark | CentreLine)]
    assert {type(a) for a in marks} == {CentreMark, CentreLine}


def test_an_axis_is_drawn_through_all_that_turns_about_it():
    draft, _ = drafted(GALLERY["threaded stud"])
    page = compile_sheet(draft.scene).pages[0]
    front = draft.document.view("V1")
    x0, _, x1, _ = draft.scene.box(front)
    dashed = [s.polyline(0.1) for s in page.strokes if s.style == "centre" and s.owner.startswith("M")]
    level = [p for p in dashed if float(np.ptp(p[:, 1])) < 1e-6]
    assert any(p[:, 0].min() < x0 and p[:, 0].max() > x1 for p in level)


def test_the_side_with_the_boss_is_the_front():
    for z, distance in ((12, 8), (0, -8)):
        draft = auto(
            block(80, 50, 12),
            shape({"regular": {"centre": [40, 25], "sides": 6, "across-corners": 20}}, z, distance, "add"),
        )
        note = next(a for a in draft.document.annotations if a.kind == "polygon")
        assert draft.document.view(note.view).kind == "front"


def test_one_cut_shows_what_is_hidden_in_many_pockets():
    pockets = [shape({"rect": [10 + 30 * k, 10, 16, 30]}, 20, -4 - k) for k in range(4)]
    draft = auto(block(130, 50, 20), *pockets)
    cuts = [v for v in draft.document.views if isinstance(v, Section)]
    assert len(cuts) == 1
    rows = {a.text for a in draft.document.annotations if isinstance(a, Ordinate) and a.view == cuts[0].id}
    assert {"4", "5", "6", "7"} <= rows


def test_a_section_runs_along_bosses_and_bores():
    draft, _ = drafted(GALLERY["moulded cowl"])
    cuts = [v for v in draft.document.views if isinstance(v, Section)]
    assert len(cuts) == 1
    # The boss inside is noted where the cut outlines it.
    boss = next(a for a in draft.document.annotations if a.text == "⌀8")
    assert boss.view == cuts[0].id


@pytest.mark.parametrize("seed", [275, 314, 404])
def test_letters_of_cuts_and_details_stand_clear_of_extension_lines(seed):
    draft, _ = drafted(compose(seed).recipe())
    report = layout_report(draft.scene, compile_sheet(draft.scene))
    assert report["where"]["text_on_line"] == []


def test_a_groove_says_its_diameter_alone_where_the_source_gives_the_width():
    said, check = sheet(recipe(*PARTS["shaft groove"][0]), "⌀30", "50", "4 ±0.1 wide", "20")
    assert "4 ±0.1" in said and "⌀24" in said and not [t for t in said if t.startswith("GROOVE")]
    assert (check.complete["free"], check.complete["redundant"]) == ([], [])


def test_a_slot_takes_the_centres_of_the_source_with_their_tolerance():
    plate = recipe(block(80, 50, 12), shape({"slot": [25, 25, 55, 25, 10]}, 12, -12))
    said, check = sheet(plate, "80", "50", "12", "30 ±0.05 CRS")
    assert "SLOT 10 WIDE THRU 30 ±0.05 CENTRES" in said
    assert (check.complete["free"], check.complete["redundant"]) == ([], [])
    assert {s.state for s in check.statements} <= {"proven", "reference"}


def test_a_groove_in_one_of_two_equal_bores_has_a_note_of_its_own():
    axis = {"point": [60, 25, 0], "direction": [0, 0, 1]}
    relief = {
        "op": "revolve",
        "profile": {
            "plane": {"origin": [60, 25, 0], "x": [1, 0, 0], "normal": [0, -1, 0]},
            "outer": {"rect": [6, 14, 5, 4]},
        },
        "axis": axis,
        "angle": 360,
        "mode": "cut",
    }
    draft = auto(block(90, 50, 30), hole([[25, 25, 30], [60, 25, 30]], 16), relief)
    assert texts(draft, "groove") == ["GROOVE 4 × ⌀22"]
    assert texts(draft, "hole") == ["2× ⌀16 THRU"]
