"""Views made, moved, changed and taken off by edits; bad ones leave the sheet as it was; old sheets open."""

import json
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.drafting.carry import carry_over
from canonis.core.drafting.commands import read_command
from canonis.core.drafting.draft import scene_for
from canonis.core.drafting.letters import LETTERS, next_letter
from canonis.core.drafting.new_views import BY_HAND
from canonis.core.drafting.revise import apply_command
from canonis.core.drafting.view_options import with_views
from canonis.core.faults import BadInput
from canonis.core.features.recognition import recognise
from canonis.core.house import House
from canonis.core.sheet.compile import compile_sheet
from canonis.core.sheet.document import FORM, SheetDocument
from canonis.core.sheet.scene import BREAK_GAP
from canonis.core.sheet.showing import shown
from canonis.core.sheet.upgrade import read_document
from canonis.core.sheet.views import view_name
from canonis.core.solid.references import face_reference
from canonis.core.view.windows import Strip, squeezed, stretched
from tests.conftest import block, draft_of, model_of, recipe

STEPS = (
    block(80, 50, 20),
    {
        "op": "hole",
        "at": [[20, 25, 20]],
        "axis": [0, 0, 1],
        "diameter": 8,
        "through": True,
        "counterbore": {"diameter": 14, "depth": 5},
    },
    {"op": "hole", "at": [[60, 15, 20]], "axis": [0, 0, 1], "diameter": 10, "depth": 12},
)
SLOPED = (
    block(80, 30, 20),
    {
        "op": "extrude",
        "profile": {"plane": "XZ", "outer": {"polygon": [[80, 20], [80, 8], [45, 20]]}},
        "distance": -30,
        "mode": "cut",
    },
)


@pytest.fixture(scope="module")
def draft():
    return draft_of(recipe(*STEPS), scale="1:1")


def from_above(document):
    return next(v for v in document.views if abs(np.cross(v.right, v.up)[2]) > 0.9 and v.kind != "pictorial")


def edited(draft, *commands, document=None):
    document = document or draft.document
    for command in commands:
        document = apply_command(
            document, read_command(command), draft.scene.solids, draft.features, draft.scene.projections
        )
    return document


def scene_of(draft, document):
    return scene_for(document, draft.scene.solids, draft.features, draft.scene.projections)


def newest(document):
    return document.views[-1]


def test_a_section_at_a_level_cuts_through_the_bore_it_runs_through(draft):
    top = from_above(draft.document)
    document = edited(draft, {"op": "add-section", "view": top.id, "across": "y", "level": 25})
    made = newest(document)
    assert (made.kind, made.letter, view_name(made), made.parent) == ("section", "A", "section A–A", top.id)
    scene = scene_of(draft, document)
    area = sum(c.region.area for c in scene.projection(made).cut)
    assert area == pytest.approx(80 * 20 - 8 * 20 - 6 * 5)
    wall = next(f.index for f in scene.solids[0].faces if f.kind == "cylinder" and abs(f.radius - 4) < 1e-9)
    here, there = shown(scene, made, wall), shown(scene, top, wall)
    assert here.true and here.visible and here.scale == made.scale and there.true


def test_a_stepped_line_drawn_by_hand_snaps_to_both_axes_and_squares_itself(draft):
    top = from_above(draft.document)
    scene = scene_of(draft, draft.document)

    def paper(x, y):
        frame = np.array([top.right, top.up])
        return (scene.paper(top, (frame @ np.array([x, y, 20.0]))[None])[0] + np.array([0.4, 0.3])).tolist()

    points = [paper(-5, 25), paper(40, 25), paper(40, 15), paper(85, 15)]
    document = edited(draft, {"op": "add-section", "view": top.id, "points": points})
    made = newest(document)
    assert made.form == "offset" and sum(bool(s.x.ref) + bool(s.y.ref) for s in made.line) >= 2
    cut = scene_of(draft, document).projection(made).cut
    # Both holes are cut in half whatever the hand did: the legs run through their axes.
    assert sum(c.region.area for c in cut) == pytest.approx(80 * 20 - 8 * 20 - 6 * 5 - 10 * 12, abs=0.5)


def test_a_detail_repeats_its_part_at_a_larger_scale(draft):
    top = from_above(draft.document)
    document = edited(draft, {"op": "add-detail", "view": top.id, "levels": [20, 25], "radius": 8, "scale": "5:1"})
    made = newest(document)
    scene = scene_of(draft, document)
    whole, part = scene.projection(top), scene.projection(made)
    assert made.scale == 5 and made.window.centre.x.ref and part.length("visible") < whole.length("visible")
    circles = {round(line.radius, 6) for line in part.visible if line.kind == "arc"}
    assert circles == {4.0, 7.0}
    x0, _, x1, _ = scene.box(made)
    assert x1 - x0 == pytest.approx(2 * 8 / top.scale * 5)


def test_an_auxiliary_view_shows_a_sloped_face_true():
    made = draft_of(recipe(*SLOPED), scale="1:1")
    solid = made.scene.solids[0]
    slope = next(f for f in solid.faces if f.kind == "plane" and 0.1 < abs(f.axis[0]) < 0.99)
    front = next(v for v in made.document.views if abs(float(slope.axis @ np.cross(v.right, v.up))) < 1e-9)
    edge = next(
        e
        for e in solid.edges
        if slope.index in e.faces and abs(float(e.axis @ np.cross(front.right, front.up))) < 1e-9 and e.kind == "line"
    )
    ref = ";".join(["line", *(",".join(f"{c:g}" for c in p) for p in sorted((tuple(edge.start), tuple(edge.end))))])
    document = edited(made, {"op": "add-auxiliary", "view": front.id, "ref": ref})
    view = newest(document)
    toward = np.cross(view.right, view.up)
    assert view.kind == "auxiliary" and abs(float(toward @ slope.axis)) == pytest.approx(1)
    assert shown(scene_of(made, document), view, slope.index).true


@pytest.mark.parametrize(
    ("command", "says"),
    [
        ({"op": "add-section", "across": "x", "level": 500}, "misses the part"),
        ({"op": "add-section", "points": [[10, 10]]}, "two points"),
        ({"op": "add-section", "points": [[0, 0], [40, 0], [40, 30], [10, 30]], "form": "offset"}, "turns back"),
        ({"op": "add-section", "points": [[0, 0], [40, 30], [80, 0]], "form": "offset"}, "square to each other"),
        ({"op": "add-detail", "levels": [900, 900], "radius": 3}, "Nothing of the part"),
        ({"op": "add-detail", "levels": [20, 25], "scale": "five"}, "not written like"),
        ({"op": "open-view", "points": [[0, 0], [1, 1]]}, "three points"),
        ({"op": "open-view", "points": [[0, 0], [1, 0], [1, 1]], "depth": 5}, "Nothing is cut"),
        ({"op": "add-auxiliary", "ref": "point;0,0,0"}, "sloped face"),
        ({"op": "set-view", "scale": "2:1"}, "share the scale"),
        ({"op": "set-view", "window": [0, 0, 1, 1]}, "too small"),
        ({"op": "view-to-sheet", "sheet": 7}, "next new sheet is 2"),
    ],
)
def test_a_view_that_cannot_be_made_is_told_in_one_sentence(draft, command, says):
    view = from_above(draft.document).id
    before = draft.document.model_dump_json()
    with pytest.raises(BadInput, match=says) as told:
        edited(draft, {**command, ("id" if command["op"] in ("set-view", "view-to-sheet") else "view"): view})
    assert draft.document.model_dump_json() == before and str(told.value).count(".") <= 2


def test_a_view_goes_with_what_hangs_on_it_and_with_its_statements(draft):
    top = from_above(draft.document)
    document = edited(
        draft,
        {"op": "add-section", "view": top.id, "across": "y", "level": 25},
        {"op": "tidy"},
    )
    gone = edited(draft, {"op": "remove-view", "id": top.id}, document=document)
    assert not {v.kind for v in gone.views} & {"section"} and all(a.view != top.id for a in gone.annotations)
    with pytest.raises(BadInput, match="keeps at least one view"):
        for view in gone.views:
            gone = edited(draft, {"op": "remove-view", "id": view.id}, document=gone)


def test_how_a_view_is_drawn_can_be_set(draft):
    top = from_above(draft.document)
    document = edited(
        draft,
        {"op": "set-view", "id": top.id, "transitions": "drawn", "hidden": False, "label": "from above", "order": 0},
    )
    view = document.views[0]
    assert (view.id, view.transitions, view.hidden, view.label) == (top.id, "drawn", False, "from above")
    texts = [t.text for t in compile_sheet(scene_of(draft, document)).texts_of(top.id)]
    assert texts == ["from above"]
    assert edited(draft, {"op": "set-view", "id": top.id, "label": " "}, document=document).views[0].label is None


def test_a_view_released_from_the_projection_carries_an_arrow_and_a_letter(draft):
    side = next(v for v in draft.document.views if v.kind in ("left", "right"))
    document = edited(
        draft, {"op": "set-view", "id": side.id, "aligned": False}, {"op": "move-view", "id": side.id, "dx": 5, "dy": 9}
    )
    view = document.view(side.id)
    assert view.letter == "A" and not view.aligned
    front = document.view(view.parent)
    assert front.at == draft.document.view(front.id).at
    assert {t.text for t in compile_sheet(scene_of(draft, document)).texts_of(side.id)} == {"A"}


def test_a_view_moves_to_a_new_sheet_with_its_statements(draft):
    side = next(v for v in draft.document.views if v.kind in ("left", "right"))
    document = edited(draft, {"op": "view-to-sheet", "id": side.id, "sheet": 2})
    assert [p.number for p in document.pages] == [1, 2] and document.view(side.id).sheet == 2
    assert all(a.sheet == 2 for a in document.annotations if a.view == side.id)
    drawing = compile_sheet(scene_of(draft, document))
    assert [len(drawing.pages), {t.text for t in drawing.pages[1].texts} >= {"2/2"}] == [2, True]


def test_letters_leave_out_those_that_look_like_figures(draft):
    assert not set("IOQ") & set(LETTERS)
    document = draft.document
    for _ in range(2):
        document = edited(
            draft,
            {"op": "add-detail", "view": from_above(document).id, "levels": [20, 25], "radius": 9},
            document=document,
        )
    assert [v.letter for v in document.views if v.kind == "detail"] == ["A", "B"] and next_letter(document) == "C"


def test_cuts_follow_a_revised_model(draft):
    top = from_above(draft.document)
    document = edited(draft, {"op": "add-section", "view": top.id, "across": "y", "level": 25})
    moved = (STEPS[0], {**STEPS[1], "at": [[20, 28, 20]]}, STEPS[2])
    solids = model_of(recipe(*moved)).solids
    features = tuple(recognise(s) for s in solids)
    scene = scene_for(document, solids, features, {})
    section = newest(document)
    # The cut went with its bore: it is still cut through its axis.
    assert sum(c.region.area for c in scene.projection(section).cut) == pytest.approx(80 * 20 - 8 * 20 - 6 * 5)
    assert abs(scene.clip(section).patches[0].depth) == pytest.approx(28)


def test_a_sheet_stored_before_there_were_kinds_of_view_opens(draft):
    data = json.loads(draft.document.model_dump_json())
    old = {"id", "sheet", "kind", "label", "scale", "origin", "right", "up", "at", "hidden"}
    data["views"] = [{k: v for k, v in view.items() if k in old} for view in data["views"]]
    del data["form"], data["title"]["linked"], data["title"]["revisions"]
    again = read_document(data)
    assert again.form == FORM
    assert [view_name(v) for v in again.views] == [view_name(v) for v in draft.document.views]
    strokes = [len(p.strokes) for p in compile_sheet(scene_of(draft, again)).pages]
    assert strokes == [len(p.strokes) for p in compile_sheet(draft.scene).pages]


def test_a_sheet_of_a_later_program_is_refused_in_words(draft):
    with pytest.raises(BadInput, match="later version"):
        read_document({**json.loads(draft.document.model_dump_json()), "form": FORM + 1})


steps = st.lists(
    st.one_of(
        st.builds(lambda x: {"op": "add-section", "across": "x", "level": x}, st.floats(-5, 90)),
        st.builds(lambda y: {"op": "add-section", "across": "y", "level": y, "turned": True}, st.floats(-5, 60)),
        st.builds(lambda x, y: {"op": "add-detail", "levels": [x, y], "radius": 6}, st.floats(0, 80), st.floats(0, 50)),
        st.just({"op": "remove-view"}),
        st.just({"op": "tidy"}),
    ),
    min_size=1,
    max_size=4,
)


@settings(max_examples=10, deadline=None)
@given(steps)
def test_any_row_of_view_edits_leaves_a_sheet_that_compiles_and_reads_back(draft, commands):
    document = draft.document
    for command in commands:
        full = dict(command)
        if command["op"] == "remove-view":
            full["id"] = document.views[-1].id
        elif command["op"] != "tidy":
            full["view"] = from_above(document).id
        try:
            document = edited(draft, full, document=document)
        except BadInput:
            continue
    assert SheetDocument.model_validate_json(document.model_dump_json()) == document
    drawing = compile_sheet(scene_of(draft, document))
    assert all(np.isfinite(s.points).all() for page in drawing.pages for s in page.strokes)


def test_views_asked_for_in_a_line_of_text_find_room_or_are_told(draft):
    kind = from_above(draft.document).kind
    made = with_views(draft, (f"{kind}:y=25",), (f"{kind}:20,25,7,5:1",))
    names = [view_name(v) for v in made.document.views]
    assert "section A–A" in names and any(n.startswith("detail") for n in names)
    for sections, details, says in (
        (("nowhere:y=2",), (), "no nowhere view"),
        (("25",), (), "written like"),
        ((), ("front:1,2",), "written like"),
    ):
        with pytest.raises(BadInput, match=says):
            with_views(draft, sections, details)


def test_a_crowded_sheet_is_arranged_anew_for_a_view_asked_for():
    crowded = draft_of(recipe(*STEPS))
    kind = from_above(crowded.document).kind
    made = with_views(crowded, (f"{kind}:y=25",), (f"{kind}:20,25,8", f"{kind}:60,15,8"))
    assert len([v for v in made.document.views if v.kind in ("section", "detail")]) == 3
    boxes = [made.scene.box(v) for v in made.document.views]
    for k, a in enumerate(boxes):
        assert all(a[0] >= b[2] or b[0] >= a[2] or a[1] >= b[3] or b[1] >= a[3] for b in boxes[k + 1 :])


#: A ring of 10 with a bore and three holes at 0°, 120° and 240°.
RING = (
    {
        "op": "extrude",
        "distance": 10,
        "profile": {"plane": "XY", "outer": {"circle": [0, 0, 80]}, "holes": [{"circle": [0, 0, 20]}]},
    },
    *(
        {
            "op": "hole",
            "at": [[27 * math.cos(a), 27 * math.sin(a), 10]],
            "axis": [0, 0, 1],
            "diameter": 8,
            "through": True,
        }
        for a in (0, 2 * math.pi / 3, 4 * math.pi / 3)
    ),
)


def test_a_line_that_turns_on_an_axis_makes_an_aligned_section():
    draft = draft_of(recipe(*RING), scale="1:1", front="+z")
    face = from_above(draft.document)
    x, y = face.at
    slant = math.radians(120)
    ends = [(x + 50, y), (x, y), (x + 50 * math.cos(slant), y + 50 * math.sin(slant))]
    document = edited(draft, {"op": "add-section", "view": face.id, "points": ends})
    made = newest(document)
    assert made.form == "aligned"
    scene = scene_of(draft, document)
    seen = scene.projection(made)
    # Both legs run through a hole: each cuts 10 by the ring's width less the hole, at full size though one stands aslant.
    assert sum(c.region.area for c in seen.cut) == pytest.approx(2 * 10 * (30 - 8), rel=1e-6)
    size = max(seen.box[2] - seen.box[0], seen.box[3] - seen.box[1])
    assert size == pytest.approx(80, rel=1e-6)
    drawing = compile_sheet(scene)
    letters = [t for t in drawing.pages[0].texts if t.text == made.letter and t.owner == made.id]
    assert len(letters) == 2


def test_a_hole_in_the_turned_leg_has_no_level_to_be_dimensioned_by():
    draft = draft_of(recipe(*RING), scale="1:1", front="+z")
    face = from_above(draft.document)
    x, y = face.at
    ends = [(x + 50, y), (x, y), (x - 25, y + 25 * math.sqrt(3))]
    document = edited(draft, {"op": "add-section", "view": face.id, "points": ends})
    scene, made = scene_of(draft, document), newest(document)
    bores = [f for f in scene.solids[0].faces if f.kind == "cylinder" and f.radius == pytest.approx(4)]
    known = [scene.anchor(made, face_reference(f)) is not None for f in bores]
    assert sorted(known) == [False, False, True]


def test_a_long_part_is_broken_and_its_length_stays_true():
    draft = draft_of(
        recipe(
            {"op": "extrude", "distance": 400, "profile": {"plane": "XY", "outer": {"circle": [0, 0, 20]}}},
            {"op": "hole", "at": [[0, -10, 390]], "axis": [0, -1, 0], "diameter": 5, "through": True},
        ),
        views="auto",
    )
    scene = draft.scene
    front = next(v for v in draft.document.views if v.kind == "front")
    x0, _, x1, _ = scene.box(front)
    assert (x1 - x0) < 0.5 * 400 * front.scale
    lengths = [a for a in draft.document.annotations if a.kind == "linear" and a.text == "400"]
    assert len(lengths) == 1
    zigzags = [s for s in compile_sheet(scene).pages[0].strokes if s.owner == front.id and len(s.points) == 6]
    assert len(zigzags) == 2


@settings(max_examples=40, deadline=None)
@given(
    st.lists(st.tuples(st.floats(-200, 200), st.floats(5, 60)), min_size=1, max_size=3),
    st.floats(-300, 300),
    st.floats(0.5, 4),
)
def test_points_come_back_through_a_break(strips, x, gap):
    taken, at = [], -1e3
    for low, width in sorted(strips):
        if low > at:
            taken.append(Strip(0, low, low + width))
            at = low + width + 1
    points = np.array([[x, 3.0]])
    back = stretched(squeezed(points, tuple(taken), gap), tuple(taken), gap)
    assert back == pytest.approx(points, abs=1e-9)


def test_a_rib_cut_lengthwise_is_outlined_and_not_hatched_until_asked():
    plate = block(60, 40, 6)
    wall = {
        **block(6, 40, 40),
        "profile": {
            "plane": {"origin": [0, 0, 6], "x": [1, 0, 0], "normal": [0, 0, 1]},
            "outer": {"rect": [0, 0, 6, 40]},
        },
    }
    rib = {
        "op": "rib",
        "thickness": 5,
        "direction": [-0.7, 0, -0.7],
        "profile": {"plane": {"origin": [0, 20, 0], "x": [1, 0, 0], "normal": [0, -1, 0]}, "line": [[6, 36], [46, 6]]},
    }
    draft = draft_of(recipe(plate, wall, rib), scale="1:2")
    top = from_above(draft.document)
    document = edited(draft, {"op": "add-section", "view": top.id, "across": "y", "level": 20})
    made = newest(document)
    scene = scene_of(draft, document)
    # The triangle of the rib beside the two walls.
    assert scene.plain(made).intersection(scene.projection(made).cut[0].region).area == pytest.approx(
        40 * 30 / 2, rel=1e-6
    )

    def hatched(document):
        strokes = compile_sheet(scene_of(draft, document)).pages[0].strokes
        return sum(float(np.linalg.norm(s.points[1] - s.points[0])) for s in strokes if s.style == "hatch")

    again = edited(draft, {"op": "set-view", "id": made.id, "hatched": True}, document=document)
    assert hatched(again) > 1.3 * hatched(document)


def test_a_view_is_shortened_by_typed_levels_and_shown_whole_again(draft):
    front = next(v for v in draft.document.views if v.kind == "front")
    document = edited(draft, {"op": "shorten-view", "view": front.id, "along": "x", "levels": [30, 50]})
    x0, _, x1, _ = scene_of(draft, document).box(document.view(front.id))
    assert x1 - x0 == pytest.approx((80 - 20) * front.scale + BREAK_GAP, abs=1e-6)
    whole = edited(draft, {"op": "shorten-view", "view": front.id, "whole": True}, document=document)
    assert whole.view(front.id) == front


@pytest.mark.parametrize(
    ("command", "words"),
    [
        ({"op": "shorten-view", "view": "V1"}, "goes on the same nowhere"),
        ({"op": "shorten-view", "view": "V1", "levels": [30, 31]}, "too short"),
        ({"op": "shorten-view", "view": "V1", "levels": [200, 300]}, "Nothing of the part"),
    ],
)
def test_a_view_that_cannot_be_shortened_stays_and_says_why(draft, command, words):
    with pytest.raises(BadInput, match=words):
        edited(draft, command)


def test_a_full_sheet_is_arranged_anew_for_one_more_view(draft):
    document = draft.document
    for level in (10, 25, 40, 15, 35):
        document = edited(
            draft,
            {"op": "add-section", "view": from_above(document).id, "across": "y", "level": level},
            document=document,
        )
    boxes = [scene_of(draft, document).box(v) for v in document.views]
    clash = [
        (a, b)
        for k, a in enumerate(boxes)
        for b in boxes[:k]
        if a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3]
    ]
    assert not clash


def test_views_asked_for_stay_when_the_sheet_is_drafted_anew():
    draft = draft_of(recipe(*STEPS), scale="1:1", views="auto")
    top = from_above(draft.document)
    document = edited(
        draft,
        {"op": "add-section", "view": top.id, "across": "x", "level": 60},
        {"op": "add-detail", "view": top.id, "levels": [20, 25], "radius": 9},
    )
    asked = [v for v in document.views if v.reason == BY_HAND]
    again = draft_of(recipe(*STEPS), scale="1:1", views="auto", house=House.read({"locations": "chain"}))
    kept = carry_over(document, again)
    mine = [v for v in kept.views if v.reason == BY_HAND]
    assert [v.kind for v in mine] == [v.kind for v in asked] == ["section", "detail"]
    assert mine[0].line == asked[0].line and len({v.id for v in kept.views}) == len(kept.views)
    assert len({v.letter for v in kept.views if getattr(v, "letter", "")}) == sum(
        bool(getattr(v, "letter", "")) for v in kept.views
    )
    scene = scene_of(again, kept)
    boxes = [scene.box(v) for v in kept.views]
    assert not [
        1 for k, a in enumerate(boxes) for b in boxes[:k] if a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3]
    ]
    # What a draft makes by itself is not made twice.
    twice = carry_over(kept, type(again)(scene, (), again.features))
    assert [v.kind for v in twice.views if v.reason == BY_HAND].count("section") == 1
