"""What is kept to answer quickly is never taken for something else: views, written strokes, proofs of statements."""

import re

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.drafting.draft import scene_for
from canonis.core.output.screen import screen_pages
from canonis.core.output.svg import stroke_path, write_svg
from canonis.core.proof.check import check_sheet
from canonis.core.quantity.units import Unit
from canonis.core.sheet.border import CAUTION, block_rect
from canonis.core.sheet.compile import compile_sheet
from canonis.core.sheet.wording import worded
from canonis.core.solid.step_text import _entities
from tests.conftest import block, draft_of, recipe
from tests.core.edits import edited

PART = recipe(
    block(90, 60, 20),
    {
        "op": "hole",
        "at": [[15, 15, 20], [75, 15, 20]],
        "axis": [0, 0, 1],
        "diameter": 7,
        "through": True,
        "counterbore": {"diameter": 12, "depth": 6},
    },
    {"op": "round", "edges": {"near": [[90, 60, 10]]}, "radius": 6},
)


@pytest.fixture(scope="module")
def draft():
    return draft_of(PART, density=1.0)


def pages(draft, document):
    return screen_pages(scene_for(document, draft.scene.solids, draft.features, dict(draft.scene.projections)))


def lines_of(page, view):
    return {(s["s"], s["d"]) for s in page["strokes"] if s["o"] == view}


def test_a_moved_view_is_drawn_where_it_is_and_the_others_where_they_were(draft):
    document = draft.document
    before = pages(draft, document)[0]
    for view in document.views:
        moved = edited(document, {"op": "move-view", "id": view.id, "dx": 11, "dy": 0}, draft)
        after = pages(draft, moved)[0]
        for other in moved.views:
            same = other.at == document.view(other.id).at
            assert (lines_of(before, other.id) == lines_of(after, other.id)) is same
        back = edited(moved, {"op": "move-view", "id": view.id, "dx": -11, "dy": 0}, draft)
        assert pages(draft, back)[0]["strokes"] == before["strokes"]


@pytest.mark.parametrize(
    "command",
    [
        {"op": "set", "what": "scale", "value": "1:2"},
        {"op": "set", "what": "size", "value": "A2"},
        {"op": "set", "what": "projection", "value": "third"},
    ],
)
def test_other_settings_are_drawn_as_they_would_be_afresh(draft, command):
    made = edited(draft.document, command, draft)
    scene = scene_for(made, draft.scene.solids, draft.features, dict(draft.scene.projections))
    warm = [write_svg(p, "t") for p in compile_sheet(scene).pages]
    from canonis.core.output import svg
    from canonis.core.sheet import compile as compiling

    compiling._drawn.clear()
    svg._written.clear()
    assert [write_svg(p, "t") for p in compile_sheet(scene).pages] == warm


def test_hidden_lines_go_and_come_back(draft):
    view = next(v for v in draft.document.views if v.kind != "pictorial" and draft.scene.projection(v).hidden)
    with_them = pages(draft, draft.document)[0]
    off = edited(draft.document, {"op": "set", "what": "hidden", "view": view.id, "value": False}, draft)
    without = pages(draft, off)[0]
    assert {s for s, _ in lines_of(with_them, view.id)} - {s for s, _ in lines_of(without, view.id)} == {"hidden"}
    on = edited(off, {"op": "set", "what": "hidden", "view": view.id, "value": True}, draft)
    assert pages(draft, on)[0]["strokes"] == with_them["strokes"]


def test_a_stroke_on_sheets_of_two_heights_is_written_for_each(draft):
    stroke = compile_sheet(draft.scene).pages[0].strokes[5]
    first, second = stroke_path(stroke, 297.0), stroke_path(stroke, 420.0)
    assert first != second and stroke_path(stroke, 297.0) == first


def proved(draft, document, known):
    return check_sheet(document, draft.scene.solids, density=1.0, known=known)


def test_a_statement_that_only_moved_is_not_measured_again_and_one_that_changed_is(draft):
    known = {}
    first = proved(draft, draft.document, known)
    count = len(known)
    assert count == len(first.statements)
    mark = next(a for a in draft.document.annotations if a.kind == "ordinate" and a.text != "0")
    moved = edited(draft.document, {"op": "move", "id": mark.id, "dx": 0, "dy": 7}, draft)
    assert moved != draft.document and proved(draft, moved, known) == first and len(known) == count
    wrong = worded(mark, "44.5")
    changed = moved.model_copy(
        update={"annotations": tuple(wrong if a.id == mark.id else a for a in moved.annotations)}
    )
    found = proved(draft, changed, known)
    assert len(known) == count + 1
    assert [s.id for s in found.statements if s.state == "contradicted"] == [mark.id]
    # Back to what it said: the first verdict, not the last.
    assert proved(draft, draft.document, known) == first


def test_what_is_known_says_the_same_as_measuring_afresh(draft):
    known = {}
    for command in (
        {"op": "set", "what": "scale", "value": "1:2"},
        {"op": "tidy"},
        {"op": "set", "what": "projection", "value": "third"},
    ):
        document = edited(draft.document, command, draft)
        assert proved(draft, document, known).as_json() == proved(draft, document, {}).as_json()


def test_the_same_text_in_another_unit_is_another_statement(draft):
    known = {}
    proved(draft, draft.document, known)
    inch = draft.document.model_copy(update={"unit": Unit.INCH})
    found = proved(draft, inch, known)
    assert {s.state for s in found.statements if s.kind in ("linear", "ordinate") and s.text != "0"} == {"contradicted"}


@pytest.mark.parametrize("style", ["iso", "asme"])
@pytest.mark.parametrize("size", [0, 1, 2])
def test_the_caution_stands_in_the_block_of_every_sheet_and_on_nothing_else(style, size):
    names = {"iso": ["A4", "A3", "A1"], "asme": ["A", "B", "D"]}[style]
    made = draft_of(recipe(block(40, 30, 10)), style=style, size=names[size], scale="1:1")
    page = compile_sheet(made.scene).pages[0]
    (text,) = [t for t in page.texts if t.text == CAUTION]
    x0, y0, x1, y1 = text.box()
    left, bottom, right, top = block_rect(page.size)
    assert left < x0 and x1 < right and bottom < y0 and y1 < top
    for other in page.texts:
        a, b, c, d = other.box()
        assert other is text or not other.text.strip() or c <= x0 or a >= x1 or d <= y0 or b >= y1


step_texts = st.lists(
    st.sampled_from(
        [
            "#1=",
            "#12 =",
            " #3",
            "#",
            "##4",
            ";#5=A(#6)",
            "\n#7=",
            "(#8,#9)",
            " ",
            "=",
            "A",
            "#10\t\n =",
            "#0011=",
            "x#13=",
            ";",
            "#14",
            "9",
        ]
    ),
    max_size=14,
).map("".join)


@settings(max_examples=300, deadline=None)
@given(step_texts)
def test_entities_are_those_of_a_plain_reading(text):
    defined, mentioned = _entities(text.encode())
    assert set(mentioned.tolist()) == {int(n) for n in re.findall(r"#(\d+)", text)}
    assert set(defined.tolist()) == {int(n) for n in re.findall(r"(?:^|(?<=[;\s]))#(\d+)\s*=", text)}
