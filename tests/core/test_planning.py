"""The planner's kinds: what each says of a part made for it, and that the proof measures it by the second route."""

import math
from collections import Counter

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeWire
from OCP.BRepOffsetAPI import BRepOffsetAPI_ThruSections
from OCP.gp import gp_Ax2, gp_Dir, gp_Elips, gp_Pnt

from canonis.bench.compositions import compose
from canonis.bench.features import judged
from canonis.bench.gallery import GALLERY, drafted
from canonis.core.callout.rules import HouseRules
from canonis.core.drafting.draft import DraftWish, draft_model
from canonis.core.features.recognition import recognise
from canonis.core.house import House
from canonis.core.layout.collisions import layout_report
from canonis.core.proof.check import check_sheet
from canonis.core.quantity.units import Unit
from canonis.core.recipe.build import build_recipe
from canonis.core.sheet.compile import compile_sheet
from canonis.core.sheet.wording import worded
from canonis.core.solid.making import turned_about, write_step
from canonis.core.solid.reader import read_model
from canonis.core.solid.references import face_reference, resolve_all
from canonis.core.source.shorthand import read_line
from tests.conftest import block, draft_of, recipe, step_bytes
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
    marks = [worded(a, new) if a.text == old else a for a in draft.document.annotations]
    document = draft.document.model_copy(update={"annotations": tuple(marks)})
    return next(s.state for s in check_sheet(document, draft.scene.solids).statements if s.text == new)


ROW = recipe(
    block(150, 40, 10),
    {"op": "hole", "at": [[15 + 24 * k, 12, 10] for k in range(5)], "axis": [0, 0, 1], "diameter": 6, "through": True},
)


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
    holes = {
        "op": "hole",
        "at": [[12 + along * i, 12 + across * j, 8] for i in range(columns) for j in range(rows)],
        "axis": [0, 0, 1],
        "diameter": 5,
        "through": True,
    }
    draft = draft_of(recipe(block(width, depth, 8), holes), views="auto")
    proved(draft)
    assert len([t for t in said(draft, "ordinate") if t != "0"]) <= 2


@pytest.mark.parametrize(
    ("name", "kind", "text", "wrong"),
    [
        ("shaft groove", "groove", "GROOVE", ("⌀", "⌀1")),
        ("relief at a shoulder", "groove", "UNDERCUT", ("× ⌀", "× ⌀1")),
        ("bolt blank", "polygon", "HEX 24 AF", ("24", "23")),
        ("hexagon pocket", "polygon", "HEX 17 AF", ("17", "19")),
        ("drafted pocket", "draft", "DRAFT 3°", ("3°", "2°")),
        ("spline", "spline", "SPLINE 8 × 32 × 40", ("8 ×", "9 ×")),
    ],
)
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
@given(st.integers(0, 859))
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
)


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
        "⌀9 THRU": 9,
        "2× ⌀6 THRU": 6,
        "⌀5 ↧8": 5,
    }
    # The datum asked for is where the ordinates count from.
    (solid,), (bore,) = model.solids, next(g for g in known.holes if g.id == name).holes
    origins = {a.refs[0] for a in draft.document.annotations if a.kind == "ordinate"}
    found = resolve_all(list(origins), solid)
    assert set(bore.main_faces) & {f for one in found.values() for f in one.faces}


def loft():
    """A spout over three ellipses: one free-form face between two flat ends."""
    through = BRepOffsetAPI_ThruSections(True, False)
    for z, wide, deep in ((0, 30, 20), (20, 22, 18), (50, 12, 10)):
        ring = gp_Elips(gp_Ax2(gp_Pnt(0, 0, z), gp_Dir(0, 0, 1)), wide, deep)
        through.AddWire(BRepBuilderAPI_MakeWire(BRepBuilderAPI_MakeEdge(ring).Edge()).Wire())
    through.Build()
    return write_step(through.Shape(), "Spout", Unit.MM)


def test_free_form_is_left_to_the_model_in_one_note():
    draft = draft_of(loft(), views="auto")
    check = proved(draft)
    (note,) = (a for a in draft.document.annotations if a.kind == "free-form")
    assert note.text == "FREE FORM BY THE MODEL"
    assert changed(draft, note.text, "FREE FORM") == "unproven"
    # The note goes with its face: on another part it is lost.
    other = check_sheet(draft.document, draft_of(ROW).scene.solids)
    assert next(s.state for s in other.statements if s.id == note.id) == "lost"
    assert next(s for s in check.statements if s.id == note.id).parts[0].measured == 1


SCATTERED = [
    (12.0, 14.0),
    (31.5, 9.2),
    (44.1, 25.7),
    (58.3, 12.8),
    (71.9, 31.4),
    (88.2, 8.6),
    (97.7, 22.3),
    (110.4, 35.9),
    (18.6, 38.1),
    (36.8, 47.5),
    (52.7, 41.2),
    (66.4, 52.9),
    (81.3, 45.6),
    (95.1, 55.3),
    (112.8, 50.7),
    (25.9, 58.8),
]


@pytest.mark.parametrize("notation", ["symbols", "words"])
def test_holes_in_no_pattern_stand_in_a_table_and_each_row_is_proven(notation):
    data = recipe(
        block(125, 70, 9),
        {"op": "hole", "at": [[x, y, 9] for x, y in SCATTERED[:9]], "axis": [0, 0, 1], "diameter": 5, "through": True},
        {
            "op": "hole",
            "at": [[x, y, 9] for x, y in SCATTERED[9:]],
            "axis": [0, 0, 1],
            "diameter": 6,
            "depth": 4,
            "point": 0,
        },
    )
    draft = draft_of(data, views="auto", house=House.read({"notation": notation}))
    check = proved(draft)
    rows = {a.text for a in draft.document.annotations if a.kind == "place"}
    assert rows == {f"{x:g}; {y:g}" for x, y in SCATTERED}
    assert not [a for a in draft.document.annotations if a.kind == "ordinate"]
    # A table, a tag at each hole and no leader; nothing lies on anything.
    report = layout_report(draft.scene, compile_sheet(draft.scene))
    assert (report["text_on_text"], report["text_on_line"]) == (0, 0)
    texts = [t.text for page in compile_sheet(draft.scene).pages for t in page.texts]
    assert texts.count("A1") == 2 and {"HOLE", "SIZE", "X", "Y"} <= set(texts)
    assert changed(draft, "12; 14", "12; 14.1") == "contradicted"
    assert changed(draft, "12; 14", "-12; 14") == "contradicted"
    assert changed(draft, "12; 14", "12") == "unproven"
    # Without the row the hole has no place.
    gone = next(a for a in draft.document.annotations if a.text == "12; 14")
    marks = tuple(a for a in draft.document.annotations if a is not gone)
    less = check_sheet(draft.document.model_copy(update={"annotations": marks}), draft.scene.solids)
    assert len(less.complete["free"]) == 2
    assert {s.state for s in less.statements if s.kind == "hole"} == {"proven", "unproven"}
    # The house may want ordinates, however many; fifteen are too few for a table.
    assert said(draft_of(data, views="auto", house=House.read({"hole-table": "never"})), "place") == []
    assert check.complete["ok"]


def test_a_part_that_is_full_of_holes_and_bosses_goes_over_several_sheets():
    rng = np.random.default_rng(3)
    steps = [block(300, 210, 12)]
    for i in range(7):
        for j in range(5):
            x, y = 15 + 40 * i + rng.uniform(-4, 4), 12 + 39 * j + rng.uniform(-4, 4)
            w, d = (float(rng.choice(c)) for c in ([12, 16, 20], [10, 14, 18]))
            steps.append(
                {
                    "op": "extrude",
                    "mode": "add",
                    "distance": float(rng.choice([5, 8])),
                    "profile": {"plane": "XY", "offset": 12, "outer": {"rect": [round(x, 1), round(y, 1), w, d]}},
                }
            )
    draft = draft_of(recipe(*steps), views="auto", size="A3")
    proved(draft)
    pages = draft.document.pages
    assert len(pages) > 1 and len({p.number for p in pages}) == len(pages) and {p.solid for p in pages} == {0}
    # Every view stands on a sheet, every statement on the sheet of its view.
    sheets = {v.id: v.sheet for v in draft.document.views}
    assert set(sheets.values()) == {p.number for p in pages}
    assert all(
        a.view is None or a.sheet == sheets[a.view] for a in draft.document.annotations if a.kind != "hole-table"
    )
    report = layout_report(draft.scene, compile_sheet(draft.scene))
    assert report["text_on_text"] == 0


def faces_of(solid, wanted):
    return tuple(face_reference(f) for f in solid.faces if wanted(f))


@pytest.mark.parametrize("degrees", [0, 24])
def test_a_frame_that_the_job_names_is_marked_on_the_sheet(degrees):
    built = build_recipe(NAMED)
    model = read_model(
        write_step(turned_about(built.shape, np.zeros(3), np.array([0, 0, 1.0]), degrees), built.name, built.unit),
        "p.step",
    )
    (solid,) = model.solids
    turned = [np.array([np.cos(a), np.sin(a), 0]) for a in (np.radians(degrees), np.radians(degrees + 90))]
    frame = faces_of(
        solid, lambda f: f.kind == "plane" and any(float(f.axis @ d) < -1 + 1e-9 for d in (*turned, np.eye(3)[2]))
    )
    assert len(frame) == 3
    draft = draft_model(model, DraftWish(views="auto", frame=frame))
    check = check_sheet(draft.document, model.solids)
    assert {s.state for s in check.statements} <= {"proven", "reference"} and check.complete["ok"]
    marks = [a for a in draft.document.annotations if a.kind == "datum-mark"]
    assert len({m.letter for m in marks}) == 3 and {m.refs[0] for m in marks} == set(frame)
    assert not {m.letter for m in marks} & {getattr(v, "letter", "") for v in draft.document.views}
    report = layout_report(draft.scene, compile_sheet(draft.scene))
    assert (report["text_on_text"], report["text_on_line"]) == (0, 0)
    # Every indicator has its letter in a frame of its own, and stands where the view shows the face edge-on.
    for mark in marks:
        drawn = [t.text for page in compile_sheet(draft.scene).pages for t in page.texts if t.owner == mark.id]
        assert drawn == [mark.letter]
        view = draft.document.view(mark.view)
        toward = np.cross(np.array(view.right), np.array(view.up))
        face = solid.faces[resolve_all(mark.refs, solid)[mark.refs[0]].faces[0]]
        assert abs(float(face.axis @ toward)) < 1e-6


def test_an_axis_as_datum_hangs_on_the_note_of_its_bore():
    model = read_model(step_bytes(NAMED), "p.step")
    (solid,) = model.solids
    (bore,) = faces_of(solid, lambda f: f.kind == "cylinder" and abs(f.radius - 4.5) < 1e-9)
    draft = draft_model(model, DraftWish(views="auto", frame=(bore,)))
    (mark,) = (a for a in draft.document.annotations if a.kind == "datum-mark")
    note = next(a for a in draft.document.annotations if a.kind == "hole" and bore in a.refs)
    texts = {t.owner: t for page in compile_sheet(draft.scene).pages for t in page.texts}
    assert (mark.view, mark.text) == (note.view, "") and texts[mark.id].y < texts[note.id].y
    # Something that is not on the part is no datum.
    lost = draft_model(model, DraftWish(views="auto", frame=("plane;0,0,1;0,0,400;400;10",)))
    assert not [a for a in lost.document.annotations if a.kind == "datum-mark"]


def arc(radius, width, start, end):
    """The outline of a slot along an arc about the origin, degrees."""

    def at(r, degrees):
        return (r * math.cos(math.radians(degrees)), r * math.sin(math.radians(degrees)))

    out, inn = radius + width / 2, radius - width / 2
    return {
        "path": [
            ["M", *at(inn, start)],
            ["A", *at(inn, end), inn, "ccw"],
            ["A", *at(out, end), width / 2, "cw"],
            ["A", *at(out, start), out, "cw"],
            ["A", *at(inn, start), width / 2, "cw"],
            ["Z"],
        ]
    }


@settings(max_examples=10, deadline=None)
@given(st.integers(18, 30), st.integers(5, 10), st.integers(0, 70), st.integers(30, 160), st.booleans())
def test_a_slot_along_an_arc_is_said_by_radius_sweep_and_start(radius, width, start, sweep, through):
    disc = {"op": "extrude", "profile": {"plane": "XY", "outer": {"circle": [0, 0, 90]}}, "distance": 8}
    cut = {
        "op": "extrude",
        "mode": "cut",
        "start": -1 if through else 5,
        "distance": 12,
        "profile": {"plane": "XY", "outer": arc(radius, width, start, start + sweep)},
    }
    draft = draft_of(recipe(disc, cut), views="auto", front="+z")
    proved(draft)
    (note,) = (a for a in draft.document.annotations if a.kind == "arc-slot")
    reading = read_line(note.text, HouseRules())
    said_ = {p.name: None if p.nominal is None else float(p.nominal) for p in reading.parts}
    deep = {"through": None} if through else {"depth": 3.0}
    assert said_ == {"width": width, "radius": radius, "angle": sweep, "start-angle": said_["start-angle"], **deep}
    # The view's level line may lie along any side of the part: the start is that angle or the one from the other side.
    view = draft.document.view(note.view)
    ways = [np.array([math.cos(math.radians(a)), math.sin(math.radians(a)), 0]) for a in (start, start + sweep)]
    seen = {
        round(math.degrees(math.atan2(float(w @ np.array(view.up)), float(w @ np.array(view.right)))) % 360, 6)
        for w in ways
    }
    assert round(said_["start-angle"], 6) in seen
    for old, new in (
        (f"R{radius}", f"R{radius + 1}"),
        (f"{width} WIDE", f"{width + 0.1:g} WIDE"),
        (f"× {sweep}°", f"× {sweep + 1}°"),
    ):
        assert changed(draft, note.text, note.text.replace(old, new)) == "contradicted"


def test_equal_slots_around_a_centre_share_one_note():
    draft = draft_of(recipe(*PARTS["two arc slots"][0]), views="auto")
    proved(draft)
    assert said(draft, "arc-slot") == ["2× ARC SLOT 8 WIDE R26 × 90° START 0° THRU EQ SP"]
    assert (
        changed(draft, *[t.replace("2×", n) for t in said(draft, "arc-slot") for n in ("2×", "3×")]) == "contradicted"
    )


def test_every_row_of_a_table_is_printed_however_many_sheets_it_takes():
    rng = np.random.default_rng(7)
    at = [
        [round(8 + 8 * i + rng.uniform(-2, 2), 1), round(8 + 8 * j + rng.uniform(-2, 2), 1), 6]
        for i in range(14)
        for j in range(6)
    ]
    data = recipe(
        block(120, 56, 6),
        {"op": "hole", "at": at[::2], "axis": [0, 0, 1], "diameter": 2, "through": True},
        {"op": "hole", "at": at[1::2], "axis": [0, 0, 1], "diameter": 3, "through": True},
    )
    # On so small a sheet there is no room for the table, and hardly for the tags.
    draft = draft_of(data, views="auto", size="A4")
    places = [a for a in draft.document.annotations if a.kind == "place"]
    assert len(places) == len(at) and len(draft.document.pages) > 1
    printed = Counter(t.owner for page in compile_sheet(draft.scene).pages for t in page.texts)
    # A tag beside the hole, and letter, x and y in the row.
    assert {printed[a.id] for a in places} == {4}
    check = check_sheet(draft.document, draft.scene.solids)
    assert check.complete["ok"] and {s.state for s in check.statements} <= {"proven", "reference"}
