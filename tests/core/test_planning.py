"""The planner's kinds: what each says of a part made for it, and that the proof measures it by the second route."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.bench.compositions import compose
from canonis.bench.features import judged
from canonis.bench.gallery import GALLERY, drafted
from canonis.core.drafting.draft import DraftWish, draft_model
from canonis.core.features.recognise import recognise
from canonis.core.layout.collisions import layout_report
from canonis.core.proof.check import check_sheet
from canonis.core.recipe.build import build_recipe
from canonis.core.sheet.compile import compile_sheet
from canonis.core.solid.making import turned_about, write_step
from canonis.core.solid.reader import read_model
from canonis.core.solid.references import resolve_all
from tests.conftest import block, draft_of, recipe
from tests.core.known_parts import PARTS


def proved(draft):
    """The draft's check, after the zeros that every draft must show."""
    check = check_sheet(draft.document, draft.scene.solids)
    assert (check.complete["free"], check.complete["redundant"]) == ([], [])
    assert [(s.text, s.state) for s in check.statements if s.state not in ("proven", "reference")] == []
    return check


def said(draft, *kinds):
    return [a.text for a in draft.document.annotations if a.kind in kinds]


def changed(draft, old, new):
    """The state of a statement whose text is another one."""
    marks = []
    for a in draft.document.annotations:
        if a.text == old:
            update = {"text": new} | ({"lines": (new,)} if hasattr(a, "lines") else {})
            marks.append(a.model_copy(update=update))
        else:
            marks.append(a)
    document = draft.document.model_copy(update={"annotations": tuple(marks)})
    return next(s.state for s in check_sheet(document, draft.scene.solids).statements if s.text == new)


ROW = recipe(
    block(150, 40, 10),
    {"op": "hole", "at": [[15 + 24 * k, 12, 10] for k in range(5)], "axis": [0, 0, 1], "diameter": 6, "through": True},
)  # fmt: skip


def test_a_row_of_holes_is_said_by_its_pitch_and_one_place():
    draft = draft_of(ROW, views="auto")
    proved(draft)
    assert said(draft, "pattern") == ["4× 24 PITCH"]
    assert sorted(t for t in said(draft, "ordinate") if t != "0") == ["12", "15"]
    assert changed(draft, "4× 24 PITCH", "5× 24 PITCH") == "contradicted"
    assert changed(draft, "4× 24 PITCH", "4× 24.1 PITCH") == "contradicted"


@settings(max_examples=8, deadline=None)
@given(st.integers(2, 5), st.integers(2, 4), st.integers(14, 22), st.integers(14, 20), st.booleans())
def test_a_grid_needs_one_pair_of_places_at_most(columns, rows, along, across, even):
    width, depth = (columns - 1) * along + 24 + (0 if even else 7), (rows - 1) * across + 24 + (0 if even else 5)
    holes = {"op": "hole", "at": [[12 + along * i, 12 + across * j, 8] for i in range(columns) for j in range(rows)],
             "axis": [0, 0, 1], "diameter": 5, "through": True}  # fmt: skip
    draft = draft_of(recipe(block(width, depth, 8), holes), views="auto")
    proved(draft)
    assert len([t for t in said(draft, "ordinate") if t != "0"]) <= 2


@pytest.mark.parametrize(("name", "kind", "text", "wrong"), [
    ("shaft groove", "groove", "GROOVE", ("⌀", "⌀1")), ("relief at a shoulder", "groove", "UNDERCUT", ("× ⌀", "× ⌀1")),
    ("bolt blank", "polygon", "HEX 24 AF", ("24", "23")), ("hexagon pocket", "polygon", "HEX 17 AF", ("17", "19")),
    ("drafted pocket", "draft", "DRAFT 3°", ("3°", "2°")), ("spline", "spline", "SPLINE 8 × 32 × 40", ("8 ×", "9 ×")),
])  # fmt: skip
def test_a_feature_is_said_by_its_note_and_a_wrong_note_is_contradicted(name, kind, text, wrong):
    draft = draft_of(recipe(*PARTS[name][0]), views="auto")
    proved(draft)
    (note,) = said(draft, kind)
    assert note.startswith(text)
    assert changed(draft, note, note.replace(*wrong, 1)) == "contradicted"


def test_a_keyway_is_said_by_its_width_and_from_the_far_side():
    draft = draft_of(recipe(*PARTS["keyway in a bore"][0]), views="auto")
    proved(draft)
    # Bore 24, keyway 8 wide whose floor lies 15.3 from the axis: 12 + 15.3.
    assert set(said(draft, "linear")) >= {"8", "27.3"} and not [t for t in said(draft, "ordinate") if t != "0"]
    assert changed(draft, "27.3", "27.4") == "contradicted"


def test_walls_of_a_shell_are_said_once_square_to_their_faces():
    draft, _ = drafted(GALLERY["moulded cowl"])
    proved(draft)
    assert said(draft, "wall") == ["WALL 2"] and said(draft, "draft") == ["DRAFT 2°"]
    assert changed(draft, "WALL 2", "WALL 2.1") == "contradicted"


def test_a_width_across_a_centre_line_needs_no_place_and_without_the_line_it_does():
    draft = draft_of(recipe(*PARTS["counterbored corners"][0]), views="auto")
    proved(draft)
    assert not said(draft, "ordinate")
    bare = draft.document.model_copy(
        update={"annotations": tuple(a for a in draft.document.annotations if a.kind != "symmetry-line")}
    )
    assert check_sheet(bare, draft.scene.solids).complete["free"]


@settings(max_examples=10, deadline=None)
@given(st.integers(0, 10_000))
def test_features_that_touch_are_found_and_none_is_made_up(seed):
    rows, wrong = judged(seed)
    assert [kind for kind, ok in rows if not ok] == [] and wrong == []


@settings(max_examples=8, deadline=None)
@given(st.integers(0, 55))
def test_parts_of_touching_features_are_said_once_and_whole(seed):
    draft, _ = drafted(compose(seed).recipe())
    proved(draft)
    report = layout_report(draft.scene, compile_sheet(draft.scene))
    assert (report["text_on_text"], report["to_hidden"], report["foreshortened"]) == (0, 0, 0)


NAMED = recipe(
    block(90, 50, 14),
    {"op": "hole", "at": [[22, 14, 14]], "axis": [0, 0, 1], "diameter": 9, "through": True},
    {"op": "hole", "at": [[50, 33, 14], [71, 12, 14]], "axis": [0, 0, 1], "diameter": 6, "through": True},
    {"op": "hole", "at": [[90, 20, 5]], "axis": [1, 0, 0], "diameter": 5, "depth": 8, "point": 0},
)  # fmt: skip


@settings(max_examples=6, deadline=None)
@given(st.tuples(*[st.integers(-3, 3)] * 3).filter(any), st.floats(10, 170))
def test_a_part_askew_is_drawn_square_and_its_features_keep_their_names(axis, degrees):
    built = build_recipe(NAMED)
    shape = turned_about(built.shape, np.zeros(3), np.array(axis, dtype=float), degrees)
    model = read_model(write_step(shape, built.name, built.unit), "part.step")
    (known,) = found = tuple(recognise(s) for s in model.solids)
    name = next(g.id for g in known.holes if abs(g.first.diameter - 9) < 1e-6)
    draft = draft_model(model, DraftWish(views="auto", datum=f"axis:{name}"), features=found)
    check = check_sheet(draft.document, model.solids)
    assert {s.state for s in check.statements} <= {"proven", "reference"}
    assert (check.complete["free"], check.complete["redundant"]) == ([], [])
    notes = {a.text: a.feature for a in draft.document.annotations if a.kind == "hole"}
    sizes = {g.id: g.first.diameter for g in known.holes}
    assert {text: round(sizes[feature], 6) for text, feature in notes.items()} == {
        "⌀9 THRU": 9, "2× ⌀6 THRU": 6, "⌀5 ↧8": 5,
    }  # fmt: skip
    # The datum asked for is where the ordinates count from.
    (solid,), (bore,) = model.solids, next(g for g in known.holes if g.id == name).holes
    origins = {a.refs[0] for a in draft.document.annotations if a.kind == "ordinate"}
    found = resolve_all(list(origins), solid)
    assert set(bore.main_faces) & {f for one in found.values() for f in one.faces}
