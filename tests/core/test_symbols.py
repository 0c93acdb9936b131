"""What is drawn and not written: frames of geometrical tolerances, surface textures, exact sizes, datums."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.callout.kinds.tolerance_frames import OFFERS
from canonis.core.callout.reading import read
from canonis.core.callout.rules import HouseRules
from canonis.core.drafting.commands import read_command
from canonis.core.drafting.letters import next_letter
from canonis.core.drafting.merging import clash
from canonis.core.faults import BadInput
from canonis.core.house import House
from canonis.core.quantity.units import Unit
from canonis.core.sheet.compile import compile_sheet
from canonis.core.sheet.document import DatumMark, Leader, Linear, Ordinate
from canonis.core.sheet.pen import Pen
from canonis.core.sheet.sizes import look_of
from canonis.core.sheet.strokes import Page
from canonis.core.sheet.symbols import symbol_of
from tests.conftest import block, draft_of, recipe
from tests.core.edits import edited
from tests.core.test_for_the_part import PLATE, TOP, face, noted

LOOK = look_of("iso", "A3")
NAMES = [text for text, _ in OFFERS["TOLERANCE"]]
#: Datums that each needs.
NEEDED = {"PARALLELISM", "PERPENDICULARITY", "ANGULARITY", "COAXIALITY", "SYMMETRY", "TOTAL RUNOUT", "RUNOUT"}


def drawn(text, unit=Unit.MM, right=True):
    """What a symbol puts on an empty page with its left end at the origin, and the room that it says it takes."""
    says = read(text, HouseRules(unit=unit))
    mark = Leader(id="D1", view="V1", refs=("x",), says=says, unit=unit, right=right)
    symbol = symbol_of(mark)
    page = Page(1, "A3", (420.0, 297.0))
    symbol.draw(Pen(page, "D1", LOOK.narrow), (0.0, 0.0), mark, LOOK)
    return page, symbol.size(mark, LOOK)


def extent(page):
    points = (
        [s.polyline(0.05) for s in page.strokes] + [r.points for r in page.regions] + [t.corners() for t in page.texts]
    )
    whole = np.vstack(points)
    return whole.min(axis=0), whole.max(axis=0)


def sign_of(name):
    """The strokes in the first compartment: all but the frame and its dividing lines."""
    page, _ = drawn(f"{name} 0.05{' A' if name in NEEDED else ''}")
    side = 2 * LOOK.text
    return [
        np.round(s.polyline(0.2), 2).tolist() for s in page.strokes if float(s.polyline(0.05)[:, 0].max()) < side - 0.3
    ]


@pytest.mark.parametrize("name", NAMES)
def test_every_characteristic_has_a_sign_of_its_own_inside_its_compartment(name):
    page, (width, above, below) = drawn(f"{name} 0.05{' A' if name in NEEDED else ''}")
    low, high = extent(page)
    assert low[0] >= -0.01 and high[0] <= width + 0.01 and low[1] >= -below - 0.01 and high[1] <= above + 0.01
    others = [n for n in NAMES if n != name]
    assert sign_of(name) and all(sign_of(n) != sign_of(name) for n in others)


@settings(max_examples=60, deadline=None)
@given(
    st.sampled_from(["", "⌀", "S⌀"]),
    st.integers(1, 900),
    st.lists(st.sampled_from("ABCDEFGH"), max_size=3, unique=True),
    st.sampled_from(["", " (M)", " (L)"]),
    st.integers(1, 12),
)
def test_a_frame_takes_the_room_that_it_says_and_shows_each_compartment(shape, thousandths, datums, modifier, count):
    text = (
        f"{count}x POSITION {shape}{thousandths / 1000:g}{modifier} {' '.join(datums)}"
        if count > 1
        else (f"POSITION {shape}{thousandths / 1000:g}{modifier} {' '.join(datums)}")
    )
    page, (width, above, below) = drawn(text.strip())
    low, high = extent(page)
    assert low[0] >= -0.01 and high[0] <= width + 0.01 and low[1] >= -below - 0.01 and high[1] <= above + 0.01
    texts = [t.text for t in page.texts]
    assert f"{shape}{thousandths / 1000:g}" in texts and [t for t in texts if t in datums] == datums
    assert (f"{count}×" in texts) is (count > 1) and (modifier.strip(" ()") in texts) is bool(modifier)
    # One rule between every two compartments.
    upright = [
        s
        for s in page.strokes
        if len(s.points) == 2
        and abs(float(np.ptp(s.points[:, 0]))) < 1e-9
        and abs(float(np.ptp(s.points[:, 1])) - 2 * LOOK.text) < 1e-9
    ]
    assert len(upright) == 1 + len(datums)


@pytest.mark.parametrize(
    ("text", "closed", "ring"),
    [
        ("Ra 1.6", False, False),
        ("Ra 1.6 REMOVAL", True, False),
        ("Ra 1.6 GROUND", True, False),
        ("Ra 6.3 AS CAST", False, False),
        ("Ra 6.3 NO REMOVAL", False, True),
        ("Ra 6.3 NO REMOVAL FORGED", False, True),
    ],
)
@pytest.mark.parametrize("right", [True, False])
def test_the_tick_is_closed_where_material_comes_off_and_has_a_ring_where_none_does(text, closed, ring, right):
    page, (width, above, below) = drawn(text, right=right)
    level = [
        s
        for s in page.strokes
        if len(s.points) == 2 and abs(float(np.ptp(s.points[:, 1]))) < 1e-9 and s.points[0, 1] > 0.1
    ]
    assert bool(level) is closed and bool([s for s in page.strokes if s.radius]) is ring
    low, high = extent(page)
    assert low[0] >= -0.01 and high[0] <= width + 0.01 and low[1] >= -below - 0.01 and high[1] <= above + 0.01
    # The leader's line runs on to the foot from whichever side it comes.
    foot = max(page.strokes, key=lambda s: len(s.points)).points[1]
    base = next(s for s in page.strokes if len(s.points) == 2 and abs(s.points[:, 1]).max() < 1e-9)
    assert np.allclose(base.points[1], foot) and abs(base.points[0, 0] - (0.0 if right else base.points[0, 0])) < 1e-9


def test_an_inch_sheet_says_a_texture_in_microinches():
    metric = read("Ra 63 µin", HouseRules(unit=Unit.MM))
    inch = read("Ra 63", HouseRules(unit=Unit.INCH))
    # 63 × 25.4 / 1000 µm
    assert float(metric.size("roughness")) == float(inch.size("roughness")) == pytest.approx(1.6002, abs=1e-12)
    page, _ = drawn("Ra 63 LAPPED", unit=Unit.INCH)
    assert {t.text for t in page.texts} == {"Ra 63", "LAPPED"}


@pytest.mark.parametrize("style", ["iso", "asme"])
def test_exact_sizes_stand_in_frames_without_a_word(style):
    draft = draft_of(PLATE, style=style, unit=Unit.MM)
    document, _ = noted(draft, "POSITION ⌀0.2", face(draft, kind="cylinder", radius=4))
    exact = [a for a in document.annotations if isinstance(a, Linear | Ordinate) and a.framed]
    assert {a.says.size("length") for a in exact} == {20, 25}
    (page,) = compile_sheet(draft.scene.on(document)).pages
    for mark in exact:
        (text,) = [t for t in page.texts if t.owner == mark.id]
        assert "BASIC" not in text.text and "BASIC" in mark.text
        boxes = [s.points for s in page.strokes if s.owner == mark.id and len(s.points) == 5]
        (frame,) = boxes
        inner = text.corners()
        assert (frame.min(axis=0) < inner.min(axis=0)).all() and (frame.max(axis=0) > inner.max(axis=0)).all()


def test_datums_take_the_next_letter_that_nothing_else_has():
    draft = draft_of(
        recipe(
            block(80, 50, 12), {"op": "hole", "at": [[40, 25, 12]], "axis": [0, 0, 1], "diameter": 9, "through": True}
        )
    )
    document = draft.document
    faces = [f for f in draft.scene.solids[0].faces if f.kind == "plane"]
    for f in faces[:4]:
        document, _ = noted(draft, "datum", f, document)
    assert [a.letter for a in document.annotations if isinstance(a, DatumMark)] == ["A", "B", "C", "D"]
    assert next_letter(document) == "E", "a section A beside a datum A would be one letter for two things"
    with pytest.raises(BadInput, match="on the sheet already"):
        noted(draft, "datum b", faces[4], document)


def test_words_that_two_people_change_clash_and_a_note_that_is_added_does_not():
    one = read_command({"op": "set-text", "id": "D1", "text": "12"})
    other = read_command({"op": "accept", "id": "D1"})
    fresh = read_command({"op": "add-note", "view": "V1", "refs": ["x"], "text": "Ra 1.6"})
    assert clash(one, other) and not any(clash(fresh, x) or clash(x, fresh) for x in (one, other))


def test_words_of_an_ordinate_are_read_anew():
    draft = draft_of(PLATE)
    mark = next(a for a in draft.document.annotations if isinstance(a, Ordinate) and a.says.size("length") == 20)
    made = edited(draft.document, {"op": "set-text", "id": mark.id, "text": "20 ±0.1"}, draft)
    part = made.annotation(mark.id).says.part("length")
    assert (float(part.lower), float(part.upper)) == (19.9, 20.1)
    with pytest.raises(BadInput, match="Type what it says"):
        edited(draft.document, {"op": "set-text", "id": mark.id, "text": "   "}, draft)
    marks = [a for a in noted(draft, "datum", face(draft, along=TOP))[0].annotations if isinstance(a, DatumMark)]
    with pytest.raises(BadInput, match="could be typed"):
        edited(
            noted(draft, "datum", face(draft, along=TOP))[0], {"op": "set-text", "id": marks[0].id, "text": "B"}, draft
        )


def test_rules_of_the_house_go_with_the_document_and_come_back():
    draft = draft_of(PLATE, house=House.read({"decimal": "comma", "thru": "all"}))
    again = type(draft.document).model_validate_json(draft.document.model_dump_json())
    assert again.house == draft.document.house == House.read({"decimal": "comma", "thru": "all"})
