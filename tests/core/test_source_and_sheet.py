"""A source never makes a sheet false, and takes nothing away that the part needs: each fault on a part of its own."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.bench.scheme import said_of
from canonis.core.callout.companions import together
from canonis.core.callout.pen import Pen
from canonis.core.callout.rules import HouseRules
from canonis.core.callout.writing import write_line
from canonis.core.drafting.draft import DraftWish
from canonis.core.house import House
from canonis.core.proof.check import check_sheet
from canonis.core.quantity.units import Unit
from canonis.core.source.shorthand import read_line
from canonis.core.source.specification import read_specification
from canonis.core.study.linking import as_places, relinked
from canonis.core.study.proven_draft import draft_proven
from canonis.core.study.scheme import scheme_of
from tests.conftest import block, hints_for, model_of, recipe

UP = [0, 0, 1]


def spec_of(*lines, **header):
    rows = "".join(f"{key.replace('_', '-')}: {value}\n" for key, value in {"unit": "mm", **header}.items())
    body = "\n".join(line if line.count("|") == 2 else f"{k} | | {line}" for k, line in enumerate(lines, start=1))
    return read_specification(f"{rows}[characteristics]\n{body}\n")


def sheet(part, *lines, notation="symbols", links=None, **header):
    """The draft of a part with its source, as the application drafts it, and its proof."""
    model, spec = model_of(part), spec_of(*lines, **header)
    unit = spec.rules.unit
    bare = draft_proven(model, DraftWish(views="auto", unit=unit))
    hints = hints_for(bare)
    wish = DraftWish(views="auto", unit=unit, house=House.read({"notation": notation}))
    made = draft_proven(
        model, wish, features=bare.features, scheme=lambda scene, _: scheme_of(spec, scene, hints, links=links)
    )
    return made, check_sheet(made.document, model.solids, spec, hints=hints, links=links), bare


def texts(draft):
    return [a.text for a in draft.document.annotations if a.refs and a.text]


def sound(check):
    """Nothing on the sheet is against the part, nothing is left open."""
    assert {s.state for s in check.statements} <= {"proven", "reference"}, [
        (s.text, s.state, s.note) for s in check.statements
    ]
    assert (check.complete["free"], check.complete["redundant"]) == ([], [])


STEPPED = recipe(
    block(128, 60, 20),
    {
        "op": "extrude",
        "profile": {"plane": {"origin": [0, 0, 20], "x": [1, 0, 0], "normal": UP}, "outer": {"rect": [0, 0, 88, 60]}},
        "distance": 15,
    },
    {"op": "hole", "at": [[30, 30, 35]], "axis": UP, "diameter": 12, "through": True},
)


@pytest.mark.parametrize(
    "wrong",
    [
        ("140", "60", "35", "⌀12 THRU"),
        ("128", "60", "35", "20", "88", "40", "⌀12 THRU", "45"),
        ("128", "6", "35", "⌀21 THRU"),
        ("128", "60", "35", "20", "80", "⌀12 THRU", "30", "31"),
    ],
)
def test_a_wrong_line_never_gets_on_the_sheet(wrong):
    made, check, _ = sheet(STEPPED, *wrong)
    sound(check)
    for size in ("140", "45", "6", "⌀21 THRU", "31"):
        assert size not in texts(made)


@pytest.mark.parametrize("seed", range(0, 12, 3))
def test_a_source_with_wrong_lines_leaves_a_sheet_that_holds(seed):
    _, off = said_of(seed, 3)
    assert {k: off[k] for k in ("contradicted", "unproven", "unread", "free_by_source")} == dict.fromkeys(
        ("contradicted", "unproven", "unread", "free_by_source"), 0
    )


RADII = recipe(block(60, 40, 10), {"op": "round", "edges": {"near": [[0, 0, 5], [60, 40, 5]]}, "radius": 4})
RIM = recipe(
    block(60, 40, 30),
    {
        "op": "hole",
        "at": [[30, 20, 30]],
        "axis": UP,
        "diameter": 8,
        "through": True,
        "counterbore": {"diameter": 14, "depth": 6},
    },
    {"op": "chamfer", "edges": {"near": [[34, 20, 24]]}, "legs": [0.5, 0.5]},
)
FOUR = recipe(
    block(80, 50, 12),
    {
        "op": "hole",
        "at": [[10, 10, 12], [70, 10, 12], [10, 40, 12], [70, 40, 12]],
        "axis": UP,
        "diameter": 6.6,
        "through": True,
    },
)


@pytest.mark.parametrize(
    ("part", "lines", "said"),
    [
        (RADII, ("60", "40", "10", "R4 ±0.2"), "2× R4 ±0.2"),
        (FOUR, ("80", "50", "12", "⌀6.6 ±0.1"), "4× ⌀6.6 ±0.1 THRU"),
        (FOUR, ("80", "50", "12", "4x ⌀6.6 +0.2 -0"), "4× ⌀6.6 +0.2 -0 THRU"),
        (RIM, ("60", "40", "30", "⌀8 ±0.1 THRU ⌴⌀14 ↧6"), None),
    ],
)
def test_the_source_gives_form_and_tolerance_and_the_model_what_it_leaves_out(part, lines, said):
    made, check, bare = sheet(part, *lines)
    sound(check)
    if said is not None:
        assert said in texts(made)
    # Counts, ends, rims and seats of the plain draft are all still there.
    for word in ("THRU", "RIM", "⌴", "2× R", "4× ⌀"):
        assert any(word in t for t in texts(bare)) == any(word in t for t in texts(made)), word


@pytest.mark.parametrize("notation", ["symbols", "words"])
def test_a_tolerance_stands_in_either_notation(notation):
    made, check, _ = sheet(FOUR, "80", "50", "12", "4x ⌀6.6 +0.2 -0 THRU", notation=notation)
    sound(check)
    assert ("4× ⌀6.6 +0.2 -0 THRU" if notation == "symbols" else "4× 6.6 +0.2 -0 DIA THRU") in texts(made)


def test_what_the_source_states_over_all_stays_plain_and_the_rest_is_the_reference():
    lines = ("88", "40", "128 ±0.3", "60", "20", "35", "⌀12 THRU")
    made, check, _ = sheet(STEPPED, *lines)
    sound(check)
    # 40 might be a wrong 30 to the hole: while its place is a question nothing new is drawn for it.
    assert check.matches["2"].state == "ambiguous" and "40" not in texts(made)
    made, check, _ = sheet(STEPPED, *lines, links={"2": check.matches["2"].place})
    sound(check)
    whole = next(a for a in made.document.annotations if a.text == "128 ±0.3")
    assert not whole.reference
    # Of the two that make it up one is enough.
    assert sum(a.reference for a in made.document.annotations if a.text in ("88", "40")) == 1


LINES = ["12", "⌀6.6 ±0.1 THRU", "4x ⌀6.6 +0.2 -0.1 THRU ⌴⌀11 ±0.2 ↧6.5 ±0.1", "⌀12 H7 ↧20 ±0.5 ⌵⌀16 ±0.2 × 90° ±1°", "2x ⌀5 ↧8 RIM 0.5 × 45°",
         "SLOT 8 ±0.1 WIDE 14 CENTRES ↧5", "3x SLOT 8 WIDE 22 ±0.2 OVERALL THRU", "M8 ↧16 DRILL ⌀6.8 ↧20", "M8x1 THRU DRILL ⌀7 THRU ⌴⌀12 ↧3",
         "2 ±0.1 × 45° ±2°", "2x R6 ±0.5", "KEYWAY 8 ±0.05 × 11 FROM AXIS", "GROOVE 3 WIDE × ⌀24 ±0.1", "HEX 19 ±0.3 AF", "⌀8.1/8.3 THRU SF ⌀14 ↧0.5",
         "⌀10 THRU ⌴⌀16 ↧5 FAR SIDE", "⌀10 ↧20 118° POINT", "WALL 3 ±0.2", "4x ⌀6 THRU EQ SP ON ⌀40 ±0.1 PCD"]  # fmt: skip


@pytest.mark.parametrize("unit", ["mm", "in"])
@pytest.mark.parametrize("line", LINES)
def test_what_is_written_in_words_is_read_as_the_same(line, unit):
    rules = HouseRules(unit=Unit(unit))
    read = read_line(line, rules)
    assert read.error is None
    for notation in ("symbols", "words"):
        again = read_line(read.written(rules, notation), rules)
        assert again.error is None and read.meaning == again.meaning, read.written(rules, notation)
    said = write_line(read.stated, Pen(rules.unit, "words", sheet=True))
    assert not any(sign in said for sign in "⌴⌵↧")
    assert read_line(said, rules).error is None


@given(
    st.decimals("0.5", "90", places=2),
    st.decimals("-0.4", "0.4", places=2),
    st.decimals("0.01", "0.4", places=2),
    st.integers(1, 6),
)
@settings(max_examples=60)
def test_sizes_of_the_source_take_the_place_of_those_they_agree_with_and_of_no_other(size, off, room, count):
    """A drafted hole of `size` and a line that gives a size `off` from it within ± `room`."""
    rules = HouseRules()
    drafted = read_line(f"{count}× ⌀{size} THRU ⌴⌀{size + 8} ↧4", rules)
    said = read_line(f"⌀{size + off} ±{room}", rules)
    both = together(drafted, said)
    part = both.part("diameter")
    assert (part == said.part("diameter")) is (abs(off) <= room)
    assert both.count == count
    assert [p.name for p in both.parts] == [p.name for p in drafted.parts]
    assert both.part("counterbore-depth") == drafted.part("counterbore-depth")


def test_what_is_about_something_else_is_not_said_together():
    rules = HouseRules()
    assert together(read_line("⌀8 THRU", rules), read_line("R4", rules)) is None
    assert together(read_line("2 × 45°", rules), read_line("⌀8", rules)) is None


# A counterbore that a slot runs across: how deep it is depends on the face it is told from.
def crossed(depth):
    return recipe(
        block(60, 40, 30),
        {
            "op": "hole",
            "at": [[30, 20, 30]],
            "axis": UP,
            "diameter": 8,
            "through": True,
            "counterbore": {"diameter": 20, "depth": depth},
        },
        {
            "op": "extrude",
            "profile": {
                "plane": {"origin": [0, 0, 30], "x": [1, 0, 0], "normal": UP},
                "outer": {"rect": [0, 14, 60, 12]},
            },
            "distance": -5,
            "mode": "cut",
        },
    )


@pytest.mark.parametrize(("depth", "other"), [(6, 11), (11, 6)])
def test_the_depth_of_an_interrupted_counterbore_fits_one_part(depth, other):
    made = draft_proven(model_of(crossed(depth)), DraftWish(views="auto"))
    sound(check_sheet(made.document, model_of(crossed(depth)).solids))
    on_other = check_sheet(made.document, model_of(crossed(other)).solids)
    assert "contradicted" in {s.state for s in on_other.statements}


def test_what_is_withdrawn_is_told_and_not_on_paper():
    made = draft_proven(model_of(crossed(6)), DraftWish(views="auto"))
    (gone,) = made.document.withdrawn
    assert gone.text == "⌀8 THRU ⌴⌀20 ↧6" and gone.refs and "counterbore depth" in gone.why
    assert gone.text not in texts(made)
    check = check_sheet(made.document, model_of(crossed(6)).solids).as_json()
    assert check["withdrawn"] == [gone.model_dump(mode="json")]


def test_a_place_chosen_by_hand_is_kept_on_a_new_draft():
    twice = recipe(
        block(100, 60, 12),
        {"op": "hole", "at": [[20, 20, 12], [80, 20, 12]], "axis": UP, "diameter": 8, "through": True},
    )
    made, _, bare = sheet(twice, "100", "60", "12", "2x ⌀8 THRU", "20")
    mark = next(a for a in bare.document.annotations if a.text == "20" and a.refs and a.direction == "y")
    links = {"5": mark.id, "4": None, "9": '["edge", "", "x"]'}
    placed = as_places(links, bare.document)
    assert placed["4"] is None and placed["9"] == links["9"] and mark.refs[1] in placed["5"]
    moved = relinked(links, bare.document, made.document)
    again = next((a for a in made.document.annotations if a.id == moved["5"]), None)
    assert again is not None and set(again.refs) == set(mark.refs), "the statement that says the same there"
    # The choice steers the new draft: the line stands where the person put it.
    chosen, check, _ = sheet(
        twice, "100", "60", "12", "2x ⌀8 THRU", "20 ±0.05", links=as_places({"5": mark.id}, bare.document)
    )
    assert check.matches["5"].reason == "chosen by hand" or check.matches["5"].state == "proven"
    said = next(a for a in chosen.document.annotations if a.text == "20 ±0.05")
    assert said.direction == "y"


def test_an_inch_size_written_to_two_places_is_no_difference():
    plate = recipe(block(3, 2, 0.5625), unit="in")
    made, check, _ = sheet(plate, "3.00 ±.03", "2.00", ".56 ±.01", unit="in")
    sound(check)
    assert ".56 ±.01" in texts(made)
    assert check.matches["3"].state == "proven"


SLOTS = recipe(
    block(200, 120, 8),
    *(
        {
            "op": "extrude",
            "profile": {"plane": "XY", "outer": {"slot": [20 + 45 * i, 15 + 30 * j, 35 + 45 * i, 15 + 30 * j, 5]}},
            "distance": 8,
            "mode": "cut",
        }
        for i in range(4)
        for j in range(4)
    ),
)


@pytest.mark.parametrize(
    ("line", "state", "words"),
    [
        ("16x SLOT 5 WIDE 20 OVERALL THRU", "proven", ""),
        ("12x SLOT 5 WIDE 20 OVERALL THRU", "differs", ""),
        ("SLOT 5 WIDE 20 OVERALL THRU", "ambiguous", "the part has 16"),
        ("16x SLOT 5 WIDE 15 CENTRES THRU AT 45 PITCH", "ambiguous", "nothing measures its pitch"),
    ],
)
def test_slots_are_counted(line, state, words):
    _, check, _ = sheet(SLOTS, "200", "120", "8", line)
    found = check.matches["4"]
    assert found.state == state and words in found.reason
    if state == "differs":
        assert next(p.model for p in found.parts if p.name == "count") == 16


SLEEVE = recipe(
    {
        "op": "revolve",
        "profile": {
            "plane": "XZ",
            "outer": {"polygon": [[6, 0], [15, 0], [15, 20], [10, 20], [10, 50], [4, 50], [4, 30], [6, 30]]},
        },
        "axis": {"point": [0, 0, 0], "direction": UP},
        "angle": 360,
    }
)


def test_two_bores_told_one_by_one_are_both_found():
    _, check, _ = sheet(SLEEVE, "50", "wide bore: ⌀12", "narrow bore: ⌀8", "⌀30", "shaft: ⌀20", "20")
    sound(check)
    assert {n: m.state for n, m in check.matches.items()} == dict.fromkeys("123456", "proven")


def test_a_bore_is_never_compared_with_a_shaft():
    _, check, _ = sheet(SLEEVE, "50", "bore: ⌀19", "⌀30", "20")
    assert "shaft" not in check.matches["2"].measure and "boss" not in check.matches["2"].measure


def test_a_broken_edge_that_the_source_leaves_out_accuses_nobody():
    rim = recipe(
        block(80, 60, 12),
        {"op": "hole", "at": [[20, 30, 12]], "axis": UP, "diameter": 10, "through": True},
        {"op": "chamfer", "edges": {"near": [[25, 30, 12]]}, "legs": [1.6, 1.6]},
    )
    _, check, _ = sheet(rim, "80", "60", "12", "⌀10 THRU", "20", "30")
    assert check.matches["4"].state == "proven"


def test_a_line_that_another_free_place_bears_out_is_asked_about():
    """Two pins 40 apart, and a recess 80 wide about them of which 40 is the half: the line may mean either."""
    part = recipe(
        block(140, 60, 30),
        {"op": "hole", "at": [[50, 30, 30], [90, 30, 30]], "axis": UP, "diameter": 9, "through": True},
    )
    _, check, _ = sheet(part, "140", "60", "30", "2x ⌀9 THRU", "40 CENTRES", "50")
    assert check.matches["5"].state in ("proven", "ambiguous")


SOLIDS = {
    "schema": "canonis.recipe/1",
    "unit": "mm",
    "name": "pair",
    "density": 1.0,
    "steps": [
        {"name": "a", **block(40, 30, 10)},
        {
            "name": "b",
            "op": "extrude",
            "profile": {
                "plane": {"origin": [100, 0, 0], "x": [1, 0, 0], "normal": UP},
                "outer": {"rect": [0, 0, 70, 20]},
            },
            "distance": 15,
        },
    ],
}


def test_a_source_is_of_the_solid_that_it_says():
    model = model_of(SOLIDS)
    assert len(model.solids) == 2
    lines = ("70", "20", "15")
    unsaid = check_sheet(draft_proven(model, DraftWish(views="auto")).document, model.solids, spec_of(*lines))
    assert {m.state for m in unsaid.matches.values()} == {"ambiguous"}
    assert any(f.rule == "source.solid" and "2 different solids" in f.message for f in unsaid.findings)
    said = spec_of(*lines, solid="2")
    made = draft_proven(model, DraftWish(views="auto"))
    check = check_sheet(made.document, model.solids, said, hints=hints_for(made))
    assert {m.state for m in check.matches.values()} == {"proven"}
    wrong = check_sheet(made.document, model.solids, spec_of(*lines, solid="1"), hints=hints_for(made))
    assert "proven" not in {m.state for m in wrong.matches.values()}


def test_the_words_of_the_source_go_on_the_sheet_of_its_solid():
    model = model_of(SOLIDS)
    spec = spec_of("70 ±0.2", "20", "15", solid="2")
    bare = draft_proven(model, DraftWish(views="auto"))
    hints = hints_for(bare)
    made = draft_proven(model, DraftWish(views="auto"), scheme=lambda scene, _: scheme_of(spec, scene, hints))
    mark = next(a for a in made.document.annotations if a.text == "70 ±0.2")
    assert next(p.solid for p in made.document.pages if p.number == mark.sheet) == 1


@pytest.mark.parametrize("notation", ["symbols", "words"])
def test_every_tolerance_of_a_hole_note_is_on_the_sheet_in_either_notation(notation):
    part = recipe(
        block(80, 50, 20),
        {
            "op": "hole",
            "at": [[20, 15, 20], [60, 35, 20]],
            "axis": UP,
            "diameter": 8,
            "through": True,
            "counterbore": {"diameter": 14, "depth": 6},
        },
        {"op": "hole", "at": [[40, 25, 20]], "axis": UP, "diameter": 6, "depth": 9, "point": 118},
    )
    lines = ("80", "50", "20", "2x ⌀8 +.1 -0 THRU ⌴⌀14 ±.05 ↧6 ±.1", "20", "15", "60", "35", "⌀6 H7 ↧9 ±.5", "40", "25")
    made, check, _ = sheet(part, *lines, notation=notation)
    notes = [a for a in made.document.annotations if a.kind == "hole"]
    for said, mark in zip((lines[3], lines[8]), notes, strict=True):
        one, other = (read_line(text, HouseRules()) for text in (said, mark.text))
        assert one.said == other.said, mark.text
    assert {s.state for s in check.statements} == {"proven"}
    assert any(sign in notes[0].text for sign in "⌴↧") is (notation == "symbols")


def test_a_line_that_only_says_where_holes_stand_is_drafted_with():
    ring = {
        "op": "ring",
        "steps": ["s1"],
        "axis": {"point": [40, 40, 0], "direction": [0, 0, 1]},
        "count": 6,
        "angle": 360,
    }
    hole = {"op": "hole", "at": [[60, 40, 10]], "axis": UP, "diameter": 5, "through": True}
    for said in ("⌀40 PCD", "6x ⌀5 THRU ON ⌀40 PCD", "PITCH 20", "⌀40 PCD START 0°", "GRID 3 x 2 AT 20 x 15"):
        made, check, _ = sheet(recipe(block(80, 80, 10), hole, ring), "80", said)
        assert "⌀40 PCD" in {a.text for a in made.document.annotations}, said
        assert not [s.text for s in check.statements if s.state not in ("proven", "reference")]
