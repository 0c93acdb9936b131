"""What was drawn stays as it was when the program changes, and small things that read, name or draw wrongly."""

import pytest
import shapely

from canonis.core.callout.callout import Callout
from canonis.core.callout.rules import GeneralTolerance, HouseRules
from canonis.core.drafting.carry import carried, kept_choices
from canonis.core.drafting.commands import read_command
from canonis.core.drafting.notes import link_title
from canonis.core.proof.check import check_sheet
from canonis.core.proof.kinds.chamfers import bevel_sizes
from canonis.core.quantity.units import Unit
from canonis.core.sheet.compile import compile_sheet
from canonis.core.sheet.document import Leader, Linear, Note, Ordinate
from canonis.core.sheet.upgrade import read_document
from canonis.core.sheet.view_marks import _areas
from canonis.core.sheet.wording import worded
from canonis.core.solid.reader import read_model
from canonis.core.solid.step_names import body_names, is_a_name, plain_text
from canonis.core.source.notes import in_millimetres
from canonis.core.source.shorthand import read_line
from canonis.core.source.specification import read_specification
from tests.conftest import block, draft_of, model_of, real_part, recipe, step_bytes
from tests.core.earlier import form_three
from tests.core.edits import edited

PLATE = recipe(
    block(90, 60, 20),
    {"op": "hole", "at": [[20, 15, 20], [65, 15, 20]], "axis": [0, 0, 1], "diameter": 8, "through": True},
)
CAUTION = "TO BE CHECKED AND APPROVED BY A QUALIFIED, LICENSED ENGINEER."


def stored(draft, **source):
    """A sheet as it was stored before notes had numbers: plain lines in capitals, a caution among them, nothing linked."""
    document = draft.document
    page = document.pages[0]
    lines = (
        "DIMENSIONS IN MILLIMETRES UNLESS OTHERWISE NOTED (UON).",
        "GENERAL TOLERANCES ISO 2768-M UON; CONFIRM WITH THE CONTRACT.",
        "BREAK EDGES 0.3",
        CAUTION,
    )
    note = Note(
        id=f"N{page.number}", sheet=page.number, at=(200.0, 80.0), laid=lines, says=Callout(detail="\n".join(lines))
    )
    kept = [a for a in document.annotations if not (isinstance(a, Note) and not a.refs)]
    title = document.title.model_copy(
        update={"general": "ISO 2768-m", "owner": "Wharf Bell Clockworks", "number": "WB-1"}
    )
    made = document.model_copy(update={"annotations": (*kept, note), "notes": ("break edges 0.3",), "title": title})
    data = form_three(made)
    del data["note_form"], data["title"]["linked"], data["withdrawn"]
    return {**data, "form": 2}


def spec(**header):
    rows = "".join(
        f"{k}: {v}\n"
        for k, v in {
            "unit": "mm",
            "number": "WB-1",
            "owner": "Wharf Bell Clockworks",
            "general": "ISO 2768-m",
            "default": "break edges 0.3",
            **header,
        }.items()
    )
    return read_specification(rows + "[characteristics]\n1 | | note: Blacken after machining\n")


def test_an_upgrade_changes_the_form_and_not_the_drawing():
    draft = draft_of(PLATE, views="auto")
    data = stored(draft)
    read = read_document(data)
    linked = link_title(read, spec(), [None])
    assert linked.annotations == read.annotations and linked.title == read.title
    shown = [t.text for page in compile_sheet(draft.scene.on(linked)).pages for t in page.texts]
    assert CAUTION in shown and "BREAK EDGES 0.3" in shown and not any("from the source" in t for t in shown)


def test_what_the_source_changes_is_changed_on_an_old_sheet_and_the_rest_stays():
    read = read_document(stored(draft_of(PLATE, views="auto")))
    linked = link_title(read, spec(default="break edges 0.5; treat"), [None])
    note = next(a for a in linked.annotations if isinstance(a, Note) and not a.refs)
    assert note.lines[:5] == (
        "DIMENSIONS IN MILLIMETRES UNLESS OTHERWISE NOTED (UON).",
        "GENERAL TOLERANCES ISO 2768-M UON; CONFIRM WITH THE CONTRACT.",
        "BREAK EDGES 0.5",
        "TREAT",
        CAUTION,
    )
    assert link_title(read, spec(owner="Quay House"), [None]).title.owner == "Quay House"


def test_the_last_value_of_a_row_takes_its_zero_along():
    draft = draft_of(PLATE, views="auto")
    document = draft.document
    rows = [a for a in document.annotations if isinstance(a, Ordinate)]
    view, way = rows[0].view, rows[0].direction
    row = [a for a in rows if (a.view, a.direction) == (view, way)]
    values = [a for a in row if a.refs[0] != a.refs[-1]]
    for k, mark in enumerate(values):
        document = edited(document, {"op": "remove", "id": mark.id}, draft)
        left = [a for a in document.annotations if isinstance(a, Ordinate) and (a.view, a.direction) == (view, way)]
        assert bool(left) == (k < len(values) - 1)


def test_an_edit_follows_its_statement_and_its_view_onto_a_new_draft():
    before, after = (
        draft_of(PLATE, views="auto").document,
        draft_of(PLATE, views="auto", datum="right-front-bottom").document,
    )
    hole = next(a for a in before.annotations if a.kind == "hole")
    again = carried(read_command({"op": "move", "id": hole.id, "dx": 1, "dy": 2}), before, after)
    assert next(a for a in after.annotations if a.id == again.id).refs == hole.refs
    top = next(v for v in before.views if v.kind not in ("front", "pictorial"))
    moved = carried(read_command({"op": "move-view", "id": top.id, "dx": 1, "dy": 2}), before, after)
    assert next(v for v in after.views if v.id == moved.id).kind == top.kind
    assert carried(read_command({"op": "remove", "id": "D999"}), before, after) is None
    assert carried(read_command({"op": "tidy"}), before, after) == read_command({"op": "tidy"})


def test_a_projection_that_only_followed_from_the_style_goes_with_it():
    document = draft_of(PLATE, views="auto").document
    assert kept_choices(document, "asme")["projection"] is None
    assert kept_choices(document, "iso")["projection"] == kept_choices(document)["projection"] == "first"
    chosen = document.model_copy(update={"projection": "third"})
    assert kept_choices(chosen, "asme")["projection"] == "third"


@pytest.mark.parametrize(
    ("notes", "said"),
    [
        ("break edges 0.3; all rounds R2", "break edges 0.3 mm; all rounds R2 mm"),
        ("paint RAL 7016; ISO 2768-m", "paint RAL 7016; ISO 2768-m"),
        ("break edges 0.3 mm", "break edges 0.3 mm"),
        ("blacken", "blacken"),
        ("0.5 x 45°", "0.5 mm x 45°"),
    ],
)
def test_the_notes_of_a_set_say_on_an_inch_sheet_that_they_are_metric(notes, said):
    assert in_millimetres(notes) == said
    for one, other in zip(notes.split(";"), said.split(";"), strict=True):
        mm, inch = read_line(one.strip(), HouseRules()), read_line(other.strip(), HouseRules(unit=Unit.INCH))
        assert [p.nominal for p in mm.parts] == [p.nominal for p in inch.parts]


def test_names_of_solids_are_those_of_their_products_and_not_the_assemblys():
    model = read_model(real_part("as1-tu-203.stp"), "as1-tu-203.stp")
    names = [s.name for s in model.solids]
    assert len(names) == 18 and names.count("nut") == 8 and names.count("bolt") == 6 and names.count("l-bracket") == 2
    assert (names.count("plate"), names.count("rod"), "as1" in names) == (1, 1, False)
    by = {n: {round(s.mass.volume) for s in model.solids if s.name == n} for n in set(names)}
    assert all(len(v) == 1 for v in by.values()), "one name, one shape"


@pytest.mark.parametrize(
    ("name", "given"),
    [
        ("SOLID", False), ("Part1", False), ("COMPOUND", False), ("Shape 0", False), ("Untitled", False), ("", False),
        ("Some kernel's STEP translator 7.8 1", False), ("/home/someone/pump.stp", False), ("C:\\jobs\\pump", False),
        ("pump.step", False), ("Assem1", False), ("Pump cover", True), ("A-1042", True), ("L/R bracket", True), ("step block", True),
    ],
)  # fmt: skip
def test_what_a_program_fills_in_is_no_name(name, given):
    assert is_a_name(name) is given


def test_a_part_without_a_name_is_called_by_its_file():
    from canonis.core.recipe.build import build_recipe
    from canonis.core.solid.making import write_step
    from canonis.core.solid.reader import read_model
    from tests.conftest import block, recipe

    shape = build_recipe(recipe(block(10, 10, 10))).shape
    for called, expected in (("SOLID", "pump cover 3"), ("Pump cover", "Pump cover")):
        model = read_model(write_step(shape, called, build_recipe(recipe(block(1, 1, 1))).unit), "pump cover 3.step")
        assert model.solids[0].name == expected


def test_a_body_is_named_by_its_product_else_by_itself():
    step = b"""#1=PRODUCT('a-1','Whole''s','',());#2=PRODUCT_DEFINITION_FORMATION('','',#1);#3=PRODUCT_DEFINITION('','',#2,#9);
#4=PRODUCT_DEFINITION_SHAPE('',$,#3);#5=SHAPE_DEFINITION_REPRESENTATION(#4,#6);#6=ADVANCED_BREP_SHAPE_REPRESENTATION('',(#7,#8),#9);
#7=MANIFOLD_SOLID_BREP('arm',#70);#8=MANIFOLD_SOLID_BREP('NONE',#80);#11=BREP_WITH_VOIDS('alone',#90);"""
    assert body_names(step) == ["arm", "Whole's", ""]
    assert plain_text(b"R\\X2\\00F6\\X0\\hre") == "Röhre"


def test_a_strip_without_width_bevels_nothing():
    solid = model_of(PLATE).solids[0]
    # Every flat face of a block stands square to its neighbours: none of them is a bevel of no width, and none divides by it.
    for face in range(len(solid.faces)):
        found = bevel_sizes(solid, face)
        assert found is None or min(found[:2]) >= 0


@pytest.mark.parametrize(
    "shape",
    [
        shapely.Polygon(),
        shapely.GeometryCollection([shapely.LineString([(0, 0), (1, 1)]), shapely.Point(0, 0)]),
        shapely.LineString([(0, 0), (2, 0)]),
    ],
)
def test_a_cut_that_leaves_no_area_is_drawn_as_none(shape):
    # The boundary of a mixed collection is none: what bounds an area is asked of areas alone.
    assert _areas(shape).is_empty and _areas(shape).boundary is not None
    square = shapely.box(0, 0, 2, 2)
    assert _areas(square, shape).area == 4 and _areas(square.difference(square)).is_empty


@pytest.mark.parametrize(
    ("text", "size"), [("±0.1", 0.1), ("+/- .1", 0.1), ("± 0,25 mm", 0.25), ("±0.05, angles ±1°", 0.05)]
)
def test_one_tolerance_for_all_sizes_is_read(text, size):
    found = GeneralTolerance.read(text, Unit.MM)
    assert {float(found.of(v, d, "length")) for v, d in ((5, 0), (5, 2), (500, 1))} == {size}


def test_free_form_states_no_size():
    model = model_of(PLATE)
    check = check_sheet(draft_of(PLATE, views="auto").document, model.solids)
    assert all(p.main is None or p.main.name != "free-form-faces" for p in check.statements)
    assert step_bytes(PLATE)


def test_a_sheet_of_texts_becomes_one_of_meanings_and_looks_the_same():
    draft = draft_of(PLATE, views="auto")
    data = form_three(draft.document)
    read = read_document(data)
    pairs = list(zip(draft.document.annotations, read.annotations, strict=True))
    assert all((a.text, a.refs) == (b.text, b.refs) for a, b in pairs)
    assert all(a.says.said == b.says.said for a, b in pairs if isinstance(a, Leader | Linear | Ordinate))
    drawn = [[(t.text, t.x, t.y) for t in page.texts] for page in compile_sheet(draft.scene.on(read)).pages]
    assert drawn == [[(t.text, t.x, t.y) for t in page.texts] for page in compile_sheet(draft.scene).pages]


def test_a_text_that_is_written_otherwise_now_stays_as_it_was_drawn_and_one_that_nobody_reads_is_a_finding():
    draft = draft_of(PLATE, views="auto")
    data = form_three(draft.document)
    note = next(a for a in data["annotations"] if a["text"].startswith("2× ⌀8"))
    note |= {"text": "2 HOLES DIA 8 THROUGH", "lines": ["2 HOLES DIA 8", "THROUGH"]}
    other = next(a for a in data["annotations"] if a["text"] == "90")
    other["text"] = "ninety or so"
    read = read_document(data)
    kept = read.annotation(note["id"])
    assert kept.lines == ("2 HOLES DIA 8", "THROUGH") and kept.says.count == 2
    check = check_sheet(read, draft.scene.solids)
    states = {s.id: (s.state, s.text) for s in check.statements}
    assert states[note["id"]] == ("proven", "2 HOLES DIA 8 THROUGH")
    assert states[other["id"]] == ("unproven", "ninety or so")
    assert any("cannot be read" in f.message and f.subject == other["id"] for f in check.findings)
    # Once it says something else it is written as everything is.
    assert worded(kept, "2x dia 8.5 thru").lines == ("2× ⌀8.5 THRU",)
