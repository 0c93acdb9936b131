import re
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.drafting.carry import carry_over, kept_choices
from canonis.core.drafting.commands import read_command
from canonis.core.drafting.draft import DraftWish, draft_model
from canonis.core.drafting.notes import link_title
from canonis.core.drafting.revise import apply_command
from canonis.core.faults import BadInput
from canonis.core.features.recognition import recognise
from canonis.core.layout.collisions import layout_report
from canonis.core.layout.rows import push_apart
from canonis.core.output.pdf import write_pdf
from canonis.core.output.svg import write_svg
from canonis.core.proof.check import check_sheet
from canonis.core.quantity.units import Unit
from canonis.core.sheet import glyphs
from canonis.core.sheet.border import BLOCK_SIZE
from canonis.core.sheet.compile import compile_sheet
from canonis.core.sheet.sizes import parse_scale, scale_text
from canonis.core.solid.reader import read_model
from canonis.core.solid.references import edge_reference, face_reference
from canonis.core.source.specification import read_specification
from canonis.core.view.frames import frame_of, front_frame
from canonis.core.view.projection import project
from tests.conftest import block, draft_of, model_of, real_part, recipe


@pytest.fixture(scope="module")
def cock(cock_step):
    return draft_of(cock_step, density=8.5)


@pytest.fixture(scope="module")
def valve(valve_step):
    return draft_of(valve_step, style="asme", unit=Unit.INCH)


def edited(draft, command, document=None):
    scene = draft.scene
    return apply_command(
        document or draft.document, read_command(command), scene.solids, draft.features, scene.projections
    )


@pytest.mark.parametrize("name", ["cock", "valve", "frame.step", "component8.step", "screw.step", "as1-tu-203.stp"])
def test_no_collision_and_no_dimension_to_a_hidden_line(name, request):
    if "." in name:
        draft = draft_model(read_model(real_part(name), name), DraftWish())
    else:
        draft = request.getfixturevalue(name)
    report = layout_report(draft.scene, compile_sheet(draft.scene))
    assert (report["text_on_text"], report["text_on_line"], report["to_hidden"], report["foreshortened"]) == (
        0,
        0,
        0,
        0,
    )


@pytest.mark.parametrize("name", ["frame.step", "component8.step", "as1-tu-203.stp"])
def test_every_hole_of_a_real_part_is_noted(name):
    draft = draft_model(read_model(real_part(name), name), DraftWish())
    for page in draft.document.pages:
        noted = {a.feature for a in draft.document.annotations if a.kind == "hole" and a.sheet == page.number}
        assert noted == {g.id for g in draft.features[page.solid].holes}


def test_an_assembly_gives_a_sheet_for_each_different_solid():
    draft = draft_of(real_part("as1-tu-203.stp"))
    assert sum(p.copies for p in draft.document.pages) == 18
    assert len(draft.document.pages) == 5


def test_views_stand_by_the_projection(cock_step):
    model = read_model(cock_step, "cock.step")
    for projection in ("first", "third"):
        document = draft_model(model, DraftWish(projection=projection)).document
        at = {v.kind: v.at for v in document.views}
        assert (at["top"][1] < at["front"][1]) == (projection == "first")
        assert at["top"][0] == pytest.approx(at["front"][0])
        side = next(k for k in at if k in ("left", "right"))
        assert (at[side][0] > at["front"][0]) == ((side == "left") == (projection == "first"))
        assert at[side][1] == pytest.approx(at["front"][1])
        assert len([v for v in document.views if v.kind != "pictorial"]) >= 3


def test_overall_sizes_once_and_every_level_located(cock):
    overall = sorted(a.text for a in cock.document.annotations if a.feature == "overall")
    assert overall == ["40", "70", "96"]
    ordinates = [(a.view, a.direction, a.text) for a in cock.document.annotations if a.kind == "ordinate"]
    assert len(ordinates) == len(set(ordinates))


def test_projected_lengths_are_the_closed_form():
    solid = model_of(recipe(block(40, 30, 12))).solids[0]
    front = front_frame(np.array([1.0, 0, 0]), np.array([0.0, 0, 1]))
    for kind, around in (("front", 2 * (40 + 12)), ("top", 2 * (40 + 30)), ("left", 2 * (30 + 12))):
        seen = project(solid, frame_of(kind, front))
        assert seen.length("visible") == pytest.approx(around) and seen.length("hidden") == 0


def test_hidden_lines_of_a_hole_are_drawn_once():
    hole = {"op": "hole", "at": [[20, 15, 12]], "axis": [0, 0, 1], "diameter": 8, "through": True}
    solid = model_of(recipe(block(40, 30, 12), hole)).solids[0]
    front = front_frame(np.array([1.0, 0, 0]), np.array([0.0, 0, 1]))
    assert project(solid, front).length("hidden") == pytest.approx(24, abs=1e-3)
    top = project(solid, frame_of("top", front))
    assert top.length("visible") == pytest.approx(140 + np.pi * 8, rel=1e-6) and top.length("hidden") == pytest.approx(
        0, abs=1e-3
    )


def test_pushed_values_keep_order_distance_and_least_movement():
    levels = [0.0, 1.0, 2.0, 30.0, 31.0]
    placed = push_apart(levels, 5.0)
    assert all(b - a >= 5 - 1e-9 for a, b in pairwise(placed))
    assert placed[:3] == pytest.approx([-4, 1, 6]) and placed[3:] == pytest.approx([28, 33])
    assert push_apart([0.0, 10.0], 5.0) == [0.0, 10.0]


def test_same_input_same_bytes(cock_step):
    def files():
        # Read and drafted anew each time: nothing is taken from a cache.
        draft = draft_model(read_model(cock_step, "cock.step"), DraftWish())
        drawing = compile_sheet(draft.scene)
        return write_pdf(drawing), write_svg(drawing.pages[0], "t")

    assert files() == files()


def test_files_are_true_size_with_the_lettering_inside(cock):
    drawing = compile_sheet(cock.scene)
    svg = write_svg(drawing.pages[0], drawing.title)
    assert re.search(r'width="420mm" height="297mm"', svg) and "4× ⌀6.6 THRU" in svg and "font/woff2" in svg
    import io

    from pypdf import PdfReader

    page = PdfReader(io.BytesIO(write_pdf(drawing))).pages[0]
    assert float(page.mediabox.width) == pytest.approx(420 / 25.4 * 72, abs=0.01)
    fonts = page["/Resources"]["/Font"]
    assert all(
        "/FontFile2" in f.get_object()["/FontDescriptor"] for k, f in fonts.items() if "Canonis" in str(f.get_object())
    )
    assert "⌀6.6" in page.extract_text()


def test_rows_snap_and_families_move_together(cock):
    row = next(a for a in cock.document.annotations if a.kind == "linear" and a.side == "above")
    moved = edited(cock, {"op": "move", "id": row.id, "dx": 0, "dy": 9}).annotation(row.id)
    assert (moved.row - 10) % 7 == pytest.approx(0) and moved.row > row.row
    one = next(a for a in cock.document.annotations if a.kind == "ordinate" and a.side == "below")
    after = edited(cock, {"op": "move", "id": one.id, "dx": 0, "dy": -8})
    family = [a for a in after.annotations if a.kind == "ordinate" and a.view == one.view and a.side == "below"]
    assert len({a.row for a in family}) == 1 and family[0].row == one.row + 8


def test_views_move_in_projection(cock):
    front = next(v for v in cock.document.views if v.kind == "front")
    after = {v.kind: v.at for v in edited(cock, {"op": "move-view", "id": front.id, "dx": 5, "dy": -3}).views}
    before = {v.kind: v.at for v in cock.document.views}
    assert after["top"] == pytest.approx((before["top"][0] + 5, before["top"][1]))
    assert after["left"] == pytest.approx((before["left"][0], before["left"][1] - 3))


def test_a_dimension_is_added_between_two_centres(cock):
    from canonis.core.solid.references import edge_reference

    solid, document = cock.scene.solids[0], cock.document
    centres = [
        edge_reference(e, "centre")
        for e in solid.edges
        if e.kind == "circle" and abs(e.radius - 5.5) < 1e-6 and e.centre[2] == 12
    ]
    a, b = sorted(set(centres), key=lambda r: parse_xy(r))[0], sorted(set(centres), key=lambda r: parse_xy(r))[-1]
    top = next(v for v in document.views if v.kind == "top")
    after = edited(cock, {"op": "add-linear", "view": top.id, "refs": [a, b]})
    made = after.annotations[-1]
    assert (made.kind, made.text, made.direction) == ("linear", "76", "x")
    after = edited(cock, {"op": "add-linear", "view": top.id, "refs": [a, b], "direction": "y"})
    assert after.annotations[-1].text == "20"


def parse_xy(ref):
    x, y, _ = ref.split(";")[1].split(",")
    return float(x), float(y)


@pytest.mark.parametrize(
    ("command", "word"),
    [
        ({"op": "move", "id": "D999"}, "no longer"),
        ({"op": "move", "id": "D1", "dx": float("nan")}, "number"),
        ({"op": "fold"}, "no edit"),
        ({"op": "add-linear", "view": "V1", "refs": ["x", "y"]}, "reference"),
        ({"op": "set", "what": "size", "value": "A9"}, "A9"),
        ({"op": "set", "what": "scale", "value": "big"}, "big"),
        ({"op": "set", "what": "colour", "value": 1}, "colour"),
    ],
)
def test_impossible_edits_say_why(cock, command, word):
    with pytest.raises(BadInput, match=word):
        edited(cock, command)


def test_wishes_are_checked(cock_step):
    model = read_model(cock_step, "cock.step")
    for wish in (DraftWish(datum="axis:H9"), DraftWish(datum="top"), DraftWish(datum="1,2"), DraftWish(scale="1/2")):
        with pytest.raises(BadInput):
            draft_model(model, wish)
    assert draft_model(model, DraftWish(scale="1:2", size="A3")).document.pages[0].scale == 0.5


def test_a_bore_can_be_the_datum(cock_step):
    document = draft_of(cock_step, datum="axis:H1").document
    texts = {a.text for a in document.annotations if a.kind == "ordinate"}
    assert "38" in texts and "52" in texts


def test_scales():
    assert parse_scale("1:2") == 0.5 and scale_text(0.5) == "1:2" and scale_text(5) == "5:1"


def test_recognised_features_are_all_stated(cock):
    noted = {a.feature for a in cock.document.annotations}
    found = recognise(cock.scene.solids[0])
    assert {g.id for g in found.holes} | {b.id for b in found.blends} | {s.id for s in found.slots} <= noted


STEPPED = {
    "op": "revolve",
    "axis": {"point": [0, 0, 0], "direction": [1, 0, 0]},
    "angle": 360,
    "profile": {"plane": "XY", "outer": {"polygon": [[0, 0], [0, 10], [30, 10], [30, 6], [70, 6], [70, 0]]}},
}


def test_a_turned_part_is_measured_from_its_axis():
    bore = {"op": "hole", "at": [[0, 0, 0]], "axis": [-1, 0, 0], "diameter": 5, "depth": 20, "point": 118}
    draft = draft_of(recipe(STEPPED, bore))
    marks = draft.document.annotations
    assert draft.document.datum_name == "axis"
    # The larger diameter is its width and its height: each overall size once.
    assert {a.text for a in marks if a.kind == "diameter"} == {"⌀12"}
    assert sorted((a.text, a.reference) for a in marks if a.kind == "linear") == [("70", False), ("⌀20", False)]
    # Nothing on the axis is located across it: only lengths along it are left.
    assert {a.text for a in marks if a.kind == "ordinate"} == {"0", "30"}
    check = check_sheet(draft.document, draft.scene.solids)
    assert check.complete["ok"] and all(s.state in ("proven", "reference") for s in check.statements)


def test_a_sloped_face_is_stated_by_one_end_and_its_angle():
    wedge = {
        "op": "extrude",
        "distance": 20,
        "profile": {"plane": "XZ", "outer": {"polygon": [[0, 0], [60, 0], [60, 15], [35, 40], [0, 40]]}},
    }
    draft = draft_of(recipe(wedge))
    # A slope of 45° is said by its angle; one that comes of its ends by those.
    texts = {a.text for a in draft.document.annotations if a.kind in ("ordinate", "linear", "angle")}
    assert {"35", "40", "60", "45°"} <= texts
    assert check_sheet(draft.document, draft.scene.solids).complete["ok"]


def test_a_counterbore_into_a_sloped_face_counts_its_depth_along_the_axis():
    wedge = {
        "op": "extrude",
        "distance": 30,
        "profile": {"plane": "XZ", "outer": {"polygon": [[0, 0], [50, 0], [50, 20], [0, 30]]}},
    }
    bore = {
        "op": "hole",
        "at": [[25, -15, 40]],
        "axis": [0, 0, 1],
        "diameter": 6,
        "through": True,
        "counterbore": {"diameter": 12, "depth": 22},
    }
    draft = draft_of(recipe(wedge, bore))
    seat = draft.features[0].holes[0].first.seats[0]
    # The slope passes the axis at z = 25; the seat's floor is at z = 18.
    assert seat.depth == pytest.approx(7.0, abs=1e-6)
    assert draft.features[0].holes[0].first.start[2] == pytest.approx(25.0, abs=1e-6)
    proof = next(s for s in check_sheet(draft.document, draft.scene.solids).statements if s.kind == "hole")
    assert proof.part("counterbore-depth").measured == pytest.approx(7.0, abs=1e-6)


def test_a_scale_that_cannot_fit_is_refused():
    model = model_of(recipe(block(300, 200, 50)))
    with pytest.raises(BadInput, match="do not fit on A4 at 1:1"):
        draft_model(model, DraftWish(size="A4", scale="1:1"))


@pytest.mark.parametrize("size", [0.05, 60000.0])
def test_the_smallest_and_the_largest_parts_find_a_sheet(size):
    draft = draft_of(recipe(block(size, size * 0.6, size * 0.4)))
    assert len([a for a in draft.document.annotations if a.kind == "linear"]) == 3


def test_a_new_draft_keeps_choices_and_added_dimensions(cock, cock_step):
    circles = [e for e in cock.scene.solids[0].edges if e.kind == "circle" and abs(e.radius - 3.3) < 1e-3]
    level = sorted(
        (e for e in circles if abs(e.axis[2]) > 0.9), key=lambda e: (round(float(e.centre[1]), 3), e.centre[0])
    )
    centres = [edge_reference(e, "centre") for e in (level[0], level[3])]
    top = next(v for v in cock.document.views if v.kind == "top")
    more = edited(cock, {"op": "add-linear", "view": top.id, "refs": centres})
    added = next(a for a in more.annotations if a.feature == "added")
    again = draft_of(cock_step, datum="right-front-bottom", front=more.front)
    kept = carry_over(more, again)
    assert [(a.text, a.refs) for a in kept.annotations if a.feature == "added"] == [(added.text, added.refs)]
    assert kept_choices(again.document) == {"front": "-y", "datum": "right-front-bottom", "projection": "first"}


def test_notes_follow_the_source(cock):
    spec = read_specification(
        "title: Other\nowner: Wharf Bell Clockworks\ndefault: blacken; deburr\n[characteristics]\n"
        "1 | | note: Werkstückkanten DIN-gerecht 0,2 mm brechen, alle Bohrungen beidseitig senken und das Teil vor dem Härten waschen\n"
    )
    linked = link_title(cock.document, spec, [12.5])
    note = next(a for a in linked.annotations if a.id == "N1")
    told = " ".join(note.lines)
    # Every line of the source, numbered and in its own words; a long one goes on below.
    assert "2. blacken 3. deburr 4. Werkstückkanten" in told and "waschen" in told
    assert max(glyphs.width(t, 2.5) for t in note.lines) <= BLOCK_SIZE[0] - 2
    assert (linked.title.title, linked.title.mass) == ("Other", "12.5 g")
    assert set(linked.title.linked) == {"title", "owner"}
    rounds = next(a for a in linked.annotations if a.kind == "note" and a.refs)
    # The note of the rounds has a line of the block to itself.
    assert note.lines[len(rounds.lines) - 1] == "" and "ROUNDS" in rounds.lines[-1]
    # Written anew, it is the same.
    assert link_title(linked, spec, [12.5]) == linked


@pytest.mark.parametrize(
    ("end", "text"), [({"depth": 12, "point": 0}, "⌀10 ↧12 RIM R1.5"), ({"through": True}, "⌀10 THRU RIM R1.5")]
)
def test_a_rounded_rim_is_noted_and_proven(end, text):
    bore = {"op": "hole", "at": [[20, 20, 25]], "axis": [0, 0, 1], "diameter": 10, **end}
    rim = {"op": "round", "edges": {"near": [[25, 20, 25]]}, "radius": 1.5}
    draft = draft_of(recipe(block(60, 40, 25), bore, rim))
    hole = draft.features[0].holes[0].first
    assert hole.start[2] == pytest.approx(25) and hole.seats[0].size == pytest.approx(1.5)
    proof = next(s for s in check_sheet(draft.document, draft.scene.solids).statements if s.kind == "hole")
    assert (proof.text, proof.state) == (text, "proven")
    assert proof.part("rim-radius").measured == pytest.approx(1.5, rel=1e-6)


def test_blind_holes_broken_into_by_a_cross_bore_keep_their_depth_and_floor():
    blind = {"op": "hole", "at": [[38.5, 32.5, 22.5]], "axis": [0, 0, 1], "diameter": 5, "depth": 9.5}
    cross = {"op": "hole", "at": [[34, 0, 11.25]], "axis": [0, -1, 0], "diameter": 6, "through": True}
    draft = draft_of(recipe(block(102, 65, 22.5), blind, cross))
    check = check_sheet(draft.document, draft.scene.solids)
    assert check.complete["ok"] and all(s.state in ("proven", "reference") for s in check.statements)


@given(st.floats(6, 12), st.floats(13, 24))
@settings(max_examples=8, deadline=None)
def test_upright_texts_of_neighbouring_dimension_lines_stand_apart(near, far):
    # ASME: texts of vertical dimensions stand upright on their lines; "3/4" beside ".875" must not read as one.
    steps = [
        {"op": "hole", "at": [[x, 30 - a, 10], [x, 30 + a, 10]], "axis": [0, 0, 1], "diameter": d, "through": True}
        for x, a, d in ((15, round(near, 3), 5), (60, round(far, 3), 8))
    ]
    draft = draft_of(recipe(block(80, 60, 10), *steps), style="asme", unit=Unit.INCH, views="auto")
    document = draft.document
    for group in draft.features[0].holes:
        refs = [face_reference(draft.scene.solids[0].faces[h.main_faces[0]]) for h in group.holes]
        note = next(a for a in document.annotations if a.kind == "hole" and a.feature == group.id)
        document = edited(draft, {"op": "add-linear", "view": note.view, "refs": refs}, document)
    (page,) = compile_sheet(draft.scene.on(document)).pages
    marks = {a.id for a in document.annotations if a.kind == "linear" and a.direction == "y"}
    boxes = [t.corners() for t in page.texts if t.owner in marks]
    assert len(boxes) > 2
    for n, a in enumerate(boxes):
        for b in boxes[n + 1 :]:
            level = a[:, 1].min() < b[:, 1].max() and b[:, 1].min() < a[:, 1].max()
            gap = max(b[:, 0].min() - a[:, 0].max(), a[:, 0].min() - b[:, 0].max())
            assert not level or gap > 1.5
