"""What a sheet asks of the part that is made: surface texture, geometrical tolerances, datums. The model can contradict them or leave
them open; it never bears them out."""

import numpy as np
import pytest

from canonis.core.drafting.carry import carry_over
from canonis.core.drafting.draft import DraftWish
from canonis.core.faults import BadInput
from canonis.core.layout.collisions import layout_report
from canonis.core.proof.check import check_sheet
from canonis.core.proof.match.chosen import write_chosen
from canonis.core.sheet.compile import compile_sheet
from canonis.core.sheet.document import DatumMark, Leader
from canonis.core.solid.references import edge_reference, face_reference
from canonis.core.source.notes import source_notes
from canonis.core.source.specification import read_specification
from canonis.core.study.proven_draft import draft_proven
from canonis.core.study.scheme import scheme_of
from tests.conftest import block, draft_of, model_of, recipe
from tests.core.edits import edited

PLATE = recipe(
    block(80, 50, 20),
    {"op": "hole", "at": [[20, 25, 20]], "axis": [0, 0, 1], "diameter": 8, "through": True},
    {"op": "hole", "at": [[60, 15, 20]], "axis": [0, 0, 1], "diameter": 10, "depth": 12},
)


@pytest.fixture(scope="module")
def plate():
    return draft_of(PLATE)


def face(draft, *, kind="plane", along=None, radius=None):
    """A face by its direction, or a cylinder by its radius."""
    return next(
        f
        for f in draft.scene.solids[0].faces
        if f.kind == kind
        and (along is None or float(f.axis @ along) > 0.999)
        and (radius is None or abs(f.radius - radius) < 1e-6)
    )


def view_of(draft, f):
    """A view that sees a flat face from its edge, or a bore from its end."""
    views = (v for v in draft.document.views if v.kind != "pictorial")
    return next(v for v in views if (abs(float(f.axis @ np.cross(v.right, v.up))) > 0.999) == (f.kind == "cylinder"))


def noted(draft, text, f, document=None):
    """The document with a note typed at a face, and the note."""
    before = document or draft.document
    command = {"op": "add-note", "view": view_of(draft, f).id, "refs": [face_reference(f)], "text": text}
    made = edited(before, command, draft)
    ids = {a.id for a in before.annotations}
    return made, next(a for a in made.annotations if a.id not in ids)


def proof_of(document, draft, name):
    return next(s for s in check_sheet(document, draft.scene.solids).statements if s.id == name)


TOP, SIDE = (0, 0, 1), (1, 0, 0)


@pytest.mark.parametrize(
    ("text", "where", "state", "word"),
    [
        ("Ra 1.6 GROUND", "top", "reference", "for the part"),
        ("FLATNESS 0.05", "top", "reference", "for the part"),
        ("FLATNESS 0.05", "bore", "contradicted", "for the part"),
        ("CYLINDRICITY 0.01", "bore", "reference", "for the part"),
        ("PERPENDICULARITY 0.05 A", "side", "reference", "for the part"),
        ("PARALLELISM 0.05 A", "side", "contradicted", "for the part"),
        ("PERPENDICULARITY ⌀0.05 A", "bore", "reference", "for the part"),
        ("PARALLELISM ⌀0.05 A", "bore", "contradicted", "for the part"),
        ("PERPENDICULARITY 0.05 B", "side", "unproven", "no datum B"),
    ],
)
def test_a_frame_is_contradicted_by_a_model_of_another_shape_and_never_proven(plate, text, where, state, word):
    at = {
        "top": face(plate, along=TOP),
        "side": face(plate, along=SIDE),
        "bore": face(plate, kind="cylinder", radius=4),
    }[where]
    document, _ = noted(plate, "DATUM A", face(plate, along=TOP))
    document, note = noted(plate, text, at, document)
    proof = proof_of(document, plate, note.id)
    assert (proof.state, proof.reading.kind) == (
        state,
        "surface-texture" if text.startswith("R") else "tolerance-frame",
    )
    assert word in proof.note


def test_coaxial_things_that_stand_apart_are_told_by_how_far(plate):
    document, _ = noted(plate, "DATUM A", face(plate, kind="cylinder", radius=4))
    document, note = noted(plate, "COAXIALITY ⌀0.05 A", face(plate, kind="cylinder", radius=5), document)
    # (60, 15) from (20, 25)
    assert proof_of(document, plate, note.id).part("tolerance").measured.startswith("41.23 mm")


def test_a_tolerance_of_position_makes_the_sizes_exact_that_say_where(plate):
    document, note = noted(plate, "POSITION ⌀0.2 (M)", face(plate, kind="cylinder", radius=4))
    assert proof_of(document, plate, note.id).state == "reference"
    basic = {a.says.size("length") for a in document.annotations if getattr(a, "says", None) and a.says.basic}
    assert basic == {20, 25}
    loose = tuple(
        a.saying(a.says.changed(basic=False)) if a.id != note.id and getattr(a, "says", None) and a.says.basic else a
        for a in document.annotations
    )
    proof = proof_of(document.model_copy(update={"annotations": loose}), plate, note.id)
    assert proof.state == "unproven" and "no exact sizes" in proof.note and "20" in proof.note


def test_symbols_are_drawn_without_running_into_anything(plate):
    document = plate.document
    for text, at in (
        ("DATUM A", face(plate, along=TOP)),
        ("DATUM B", face(plate, kind="cylinder", radius=4)),
        ("Ra 0.8 GROUND", face(plate, along=TOP)),
        ("Ra 6.3 NO REMOVAL AS CAST", face(plate, along=SIDE)),
        ("POSITION ⌀0.2 (M) A B (M)", face(plate, kind="cylinder", radius=5)),
        ("2x PERPENDICULARITY 0.05 A", face(plate, along=SIDE)),
    ):
        document, _ = noted(plate, text, at, document)
    scene = plate.scene.on(document)
    drawing = compile_sheet(scene)
    report = layout_report(scene, drawing)
    assert [report[k] for k in ("text_on_text", "text_on_line", "to_hidden", "foreshortened")] == [0] * 4, report[
        "where"
    ]
    drawn = {t.text for page in drawing.pages for t in page.texts}
    # The frame is drawn by its compartments, the process stands above the bar.
    assert {"⌀0.2", "GROUND", "Ra 0.8", "AS CAST", "Ra 6.3", "2×"} <= drawn
    assert not any("POSITION" in t for t in drawn)


def test_what_was_added_by_hand_stays_on_a_new_draft(plate):
    document, note = noted(plate, "POSITION ⌀0.2", face(plate, kind="cylinder", radius=4))
    document, mark = noted(plate, "datum", face(plate, along=TOP), document)
    assert mark.letter == "A"
    kept = carry_over(document, plate)
    assert [a.text for a in kept.annotations if isinstance(a, Leader) and a.says == note.says] == [note.text]
    assert [a.letter for a in kept.annotations if isinstance(a, DatumMark)] == ["A"]
    assert {a.says.size("length") for a in kept.annotations if getattr(a, "says", None) and a.says.basic} == {20, 25}


def test_a_line_that_is_picked_means_the_face_that_is_seen_as_it(plate):
    top = face(plate, along=TOP)
    solid = plate.scene.solids[0]
    view = view_of(plate, top)
    edge = next(
        e for e in solid.edges if top.index in e.faces and e.kind == "line" and abs(float(e.axis @ view.right)) > 0.9
    )
    made = edited(
        plate.document, {"op": "add-note", "view": view.id, "refs": [edge_reference(edge)], "text": "Ra 3.2"}, plate
    )
    assert made.annotations[-1].refs == (face_reference(top),)


@pytest.mark.parametrize(
    ("command", "word"),
    [
        ({"text": "  "}, "Type what"),
        ({"text": "DATUM I"}, "figure"),
        ({"text": "Ra 1.6", "view": "pictorial"}, "pictorial"),
        ({"text": "Ra 1.6", "refs": ["nonsense"]}, "reference"),
    ],
)
def test_notes_that_cannot_be_put_say_why(plate, command, word):
    top = face(plate, along=TOP)
    view = (
        next(v.id for v in plate.document.views if v.kind == "pictorial")
        if command.get("view")
        else view_of(plate, top).id
    )
    whole = {"op": "add-note", "refs": [face_reference(top)], **command, "view": view}
    with pytest.raises(BadInput, match=word):
        edited(plate.document, whole, plate)


def test_other_words_for_a_statement_are_read_and_proven_anew(plate):
    note = next(
        a
        for a in plate.document.annotations
        if isinstance(a, Leader) and a.states == "hole" and a.says.size("diameter") == 8
    )
    wrong = edited(plate.document, {"op": "set-text", "id": note.id, "text": "⌀9 THRU"}, plate)
    assert proof_of(wrong, plate, note.id).state == "contradicted"
    right = edited(wrong, {"op": "set-text", "id": note.id, "text": "⌀8 H7 THRU"}, plate)
    assert (
        proof_of(right, plate, note.id).state == "proven"
        and right.annotation(note.id).says.part("diameter").fit == "H7"
    )
    words = edited(right, {"op": "set-text", "id": note.id, "text": "drill as agreed"}, plate)
    assert proof_of(words, plate, note.id).state == "unproven"


def test_a_line_of_the_source_is_drawn_at_the_face_that_somebody_chose_and_leaves_the_notes():
    spec = read_specification(
        "[characteristics]\n1 | whole | 80 OVERALL\n2 | top | FLATNESS 0.05\n3 | all | Ra 3.2 UON\n"
    )
    model = model_of(PLATE)
    notes = source_notes(spec)
    assert "FLATNESS 0.05" in notes and "Ra 3.2 UON" in notes
    top = next(f for f in model.solids[0].faces if f.kind == "plane" and float(f.axis @ TOP) > 0.999)
    number = next(c.number for c in spec.characteristics if c.kind == "tolerance-frame")
    links = {number: write_chosen("", "", [face_reference(top)])}
    made = draft_proven(model, DraftWish(notes=notes), scheme=lambda scene, _: scheme_of(spec, scene, (), links=links))
    frame = next(a for a in made.document.annotations if a.states == "tolerance-frame")
    assert frame.refs == (face_reference(top),)
    check = check_sheet(made.document, made.scene.solids, spec, links=links)
    assert check.matches[number].statements == (frame.id,) and check.matches[number].state == "reference"
    block_ = " ".join(t for a in made.document.annotations if a.id.startswith("N") for t in a.lines)
    assert "Ra 3.2" in block_ and "FLATNESS" not in block_


def test_what_is_put_at_its_face_leaves_the_notes_and_comes_back_when_it_is_taken_off():
    draft = draft_of(PLATE, notes=("FLATNESS 0.05", "DEBURR"))

    def block_of(document):
        return " ".join(t for a in document.annotations if a.id.startswith("N") for t in a.lines)

    assert "FLATNESS 0.05" in block_of(draft.document)
    document, note = noted(draft, "flatness 0.05", face(draft, along=TOP))
    assert "FLATNESS" not in block_of(document).upper() and "DEBURR" in block_of(document).upper()
    back = edited(document, {"op": "remove", "id": note.id}, draft)
    assert block_of(back) == block_of(draft.document)
