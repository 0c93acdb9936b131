"""House rules that a draft follows: each school of the trade gives its sheet, and every statement stays proven."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.callout.rules import HouseRules
from canonis.core.drafting.draft import DraftWish, draft_model
from canonis.core.faults import BadInput
from canonis.core.house import CHOICES, House
from canonis.core.layout.collisions import layout_report
from canonis.core.proof.check import check_sheet
from canonis.core.quantity.units import Unit
from canonis.core.sheet.compile import compile_sheet
from canonis.core.sheet.wording import worded
from canonis.core.source.shorthand import read_line
from canonis.core.source.specification import read_specification
from canonis.work.jobs import wish_from
from tests.conftest import block, draft_of, model_of, recipe
from tests.core.edits import edited

SEATS = (
    block(90, 60, 20),
    {
        "op": "hole",
        "at": [[20, 20, 20], [70, 20, 20]],
        "axis": [0, 0, 1],
        "diameter": 5.5,
        "through": True,
        "counterbore": {"diameter": 10, "depth": 5.4},
    },
    {
        "op": "hole",
        "at": [[45, 40, 20]],
        "axis": [0, 0, 1],
        "diameter": 6,
        "depth": 9,
        "countersink": {"diameter": 10, "angle": 90},
    },
    {
        "op": "hole",
        "at": [[45, 15, 20]],
        "axis": [0, 0, 1],
        "diameter": 4,
        "through": True,
        "counterbore": {"diameter": 12, "depth": 0.5},
    },
    {
        "op": "extrude",
        "mode": "cut",
        "profile": {"plane": "XY", "outer": {"slot": [70, 45, 80, 45, 6]}},
        "start": 12,
        "distance": 10,
    },
)


@pytest.fixture(scope="module")
def plate():
    return model_of(recipe(*SEATS))


def proof(draft, model):
    return check_sheet(draft.document, model.solids, None).statements


def texts(draft, *kinds):
    return {a.text for a in draft.document.annotations if a.kind in kinds}


def test_hole_notes_in_words_say_the_same_and_are_proven(plate):
    words = draft_model(plate, DraftWish(house=House.read({"notation": "words"})))
    assert texts(words, "hole", "slot") == {
        "2× 5.5 DIA THRU CBORE 10 DIA 5.4 DEEP",
        "6 DIA 9 DEEP CSK 10 DIA × 90°",
        "4 DIA THRU SF 12 DIA 0.5 DEEP",
        "SLOT 6 WIDE 8 DEEP 10 CENTRES",
    }
    assert {s.state for s in proof(words, plate)} == {"proven"}
    report = layout_report(words.scene, compile_sheet(words.scene))
    assert (report["text_on_text"], report["text_on_line"]) == (0, 0)
    symbols = draft_model(plate, DraftWish())
    stated = [
        sorted((one.kind, p.name, p.stated) for one in proof(d, plate) for p in one.parts) for d in (words, symbols)
    ]
    assert stated[0] == stated[1] and stated[0]


def test_a_note_that_takes_over_the_model_keeps_its_notation(plate):
    draft = draft_model(plate, DraftWish(house=House.read({"notation": "words"})))
    note = next(a for a in draft.document.annotations if a.text.startswith("6 DIA"))
    wrong = worded(note, "7 DIA 9 DEEP")
    marks = tuple(wrong if a.id == note.id else a for a in draft.document.annotations)
    document = draft.document.model_copy(update={"annotations": marks})
    after = edited(document, {"op": "accept", "id": note.id}, draft)
    assert after.annotation(note.id).text == note.text


def test_hidden_lines_are_all_on_or_all_off(plate):
    for rule, wanted in (("all", {True}), ("none", {False})):
        draft = draft_model(plate, DraftWish(house=House.read({"hidden": rule})))
        shown = {v.hidden for v in draft.document.views if v.kind != "pictorial"}
        assert shown == wanted
        drawn = [s for page in compile_sheet(draft.scene).pages for s in page.strokes if s.style == "hidden"]
        assert bool(drawn) == (rule == "all")


@pytest.mark.parametrize(
    ("datum", "xs", "ys"),
    [
        ("left-front-bottom", {20.0, 70, 45}, {20.0, 40, 15, 45}),
        ("right-front-bottom", {70.0, 20, 45}, {20.0, 40, 15, 45}),
        ("left-back-bottom", {20.0, 70, 45}, {40.0, 20, 45, 15}),
        ("right-back-top", {70.0, 20, 45}, {40.0, 20, 45, 15}),
    ],
)
def test_the_datum_turns_the_locations(plate, datum, xs, ys):
    draft = draft_model(plate, DraftWish(datum=datum))
    assert draft.document.datum_name == datum
    said = {(a.direction, float(a.text)) for a in draft.document.annotations if a.kind == "ordinate"}
    assert {v for d, v in said if d == "x"} >= xs and {v for d, v in said if d == "y"} >= ys
    assert {s.state for s in proof(draft, plate)} == {"proven"}


def test_a_header_becomes_the_wishes_of_a_draft():
    spec = read_specification("part: Plate\nunit: in\nprojection: third\nhidden: none\nnotation: words\n---\n1 | | 2\n")
    wish = wish_from({}, spec, None)
    assert (wish.projection, wish.house.hidden, wish.house.notation, str(wish.unit)) == ("third", "none", "words", "in")
    asked = wish_from({"projection": "first"}, spec, None)
    assert asked.projection == "first"


@pytest.mark.parametrize("choice", CHOICES, ids=lambda c: c.key)
def test_every_option_of_every_rule_is_taken_and_others_are_refused(choice):
    for value, says in choice.options:
        assert House.read({choice.key: value.upper()}).as_json()[choice.key] == value and says
    assert House.read({}).as_json()[choice.key] == choice.options[0][0]
    if choice.key != "datum":
        with pytest.raises(BadInput, match="is not"):
            House.read({choice.key: "sideways"})


@settings(max_examples=60, deadline=None)
@given(
    st.integers(1, 12),
    st.decimals("1", "40", places=2),
    st.none() | st.decimals("1", "60", places=1),
    st.sampled_from(["", "bore", "sink", "face"]),
    st.booleans(),
)
def test_words_and_symbols_are_read_alike(count, size, depth, seat, far):
    """What one school writes in words, the other writes in symbols; both mean the same."""
    wide, side, many = size + 5, " FAR SIDE" if far else "", f"{count}× " if count > 1 else ""
    symbols = {"": "", "bore": f" ⌴⌀{wide} ↧3{side}", "sink": f" ⌵⌀{wide} × 90°{side}", "face": f" SF ⌀{wide} ↧1{side}"}
    words = {
        "": "",
        "bore": f" CBORE {wide} DIA 3 DEEP{side}",
        "sink": f" CSK {wide} DIA × 90°{side}",
        "face": f" SF {wide} DIA 1 DEEP{side}",
    }
    a = read_line(f"{many}⌀{size} {'THRU' if depth is None else f'↧{depth}'}{symbols[seat]}", HouseRules())
    b = read_line(f"{many}{size} DIA {'THRU' if depth is None else f'{depth} DEEP'}{words[seat]}", HouseRules())
    assert a.error is None and b.error is None and a.count == b.count
    assert [(p.name, p.nominal) for p in a.parts] == [(p.name, p.nominal) for p in b.parts]


EVEN = recipe(
    block(90, 60, 10),
    {"op": "hole", "at": [[15, 30, 10], [75, 30, 10]], "axis": [0, 0, 1], "diameter": 8, "through": True},
    {
        "op": "hole",
        "at": [[30, 12, 10], [60, 12, 10], [30, 48, 10], [60, 48, 10]],
        "axis": [0, 0, 1],
        "diameter": 5,
        "through": True,
    },
    {"op": "round", "edges": {"parallel": [0, 0, 1]}, "radius": 6},
)


def by_rules(data, **house):
    rows = "".join(f"{key.replace('_', '-')}: {value}\n" for key, value in house.items())
    spec = read_specification(f"unit: mm\n{rows}")
    model = model_of(data)
    draft = draft_model(model, wish_from({"views": "auto"}, spec, None))
    check = check_sheet(draft.document, model.solids)
    assert (check.complete["free"], check.complete["redundant"]) == ([], [])
    assert {s.state for s in check.statements} <= {"proven", "reference"}
    return draft


def test_typ_stands_in_place_of_a_count_and_still_names_every_member():
    draft = by_rules(EVEN, repeats="typ")
    said = texts(draft, "hole", "radius")
    assert said == {"⌀8 THRU TYP", "⌀5 THRU TYP", "R6 TYP"}
    # A count that is there is still counted.
    assert texts(by_rules(EVEN), "hole", "radius") == {"2× ⌀8 THRU", "4× ⌀5 THRU", "4× R6"}


def test_places_are_told_across_the_lines_of_symmetry():
    draft = by_rules(EVEN, locations="symmetric")
    assert not texts(draft, "ordinate")
    lengths = [
        (a.direction, a.text) for a in draft.document.annotations if a.kind == "linear" and a.feature != "overall"
    ]
    assert sorted(lengths) == [("x", "30"), ("x", "60"), ("y", "36")]


def test_thru_all_is_written_where_a_hole_leaves_the_part():
    assert texts(by_rules(EVEN, thru="all"), "hole") == {"2× ⌀8 THRU ALL", "4× ⌀5 THRU ALL"}


def test_true_sizes_stand_in_parentheses_under_the_pictorial():
    views = by_rules(EVEN, pictorial="reference").document.views
    assert [v.label for v in views if v.kind == "pictorial"] == ["(90) × (60) × (10)"]


def test_decimals_are_written_with_a_comma_in_metric_style_where_the_house_says_so():
    part = recipe(
        block(80.5, 50, 12), {"op": "hole", "at": [[20, 25, 12]], "axis": [0, 0, 1], "diameter": 6.6, "through": True}
    )
    for style, wanted in (("iso", {"80,5", "⌀6,6 THRU"}), ("asme", {"80.5", "⌀6.6 THRU"})):
        draft = draft_of(part, style=style, unit=Unit.MM, house=House.read({"decimal": "comma"}))
        drawn = {t.text for page in compile_sheet(draft.scene).pages for t in page.texts}
        assert wanted <= drawn
        # What it says and its proof are as before; numbers of notes and of standards stay.
        assert {s.state for s in check_sheet(draft.document, draft.scene.solids).statements} <= {"proven", "reference"}
        assert any(t.startswith("1. DIMENSIONS") for t in drawn)
