"""Dovetails: what a draft says of them, what a wrong text is told, and that nothing else is taken for one."""

import math

import pytest

from canonis.core.drafting.draft import DraftWish
from canonis.core.features.recognition import recognise
from canonis.core.proof.check import check_sheet
from canonis.core.sheet.wording import worded
from canonis.core.source.specification import read_specification
from canonis.core.study.hints import hints_of
from canonis.core.study.proven_draft import draft_proven
from canonis.core.study.scheme import scheme_of
from tests.conftest import block, model_of, recipe
from tests.core.known_parts import PARTS, dovetail


def drafted(*steps, source=None):
    model = model_of(recipe(*steps))
    if source is None:
        return model, draft_proven(model, DraftWish(views="auto"))
    spec = read_specification("[characteristics]\n" + "\n".join(f"{n} | | {t}" for n, t in enumerate(source, 1)))
    hints = tuple(hints_of(recognise(s)) for s in model.solids)
    return model, draft_proven(model, DraftWish(views="auto"), scheme=lambda scene, _: scheme_of(spec, scene, hints))


def notes(draft, kind="dovetail"):
    return [a for a in draft.document.annotations if a.states == kind]


@pytest.mark.parametrize(
    ("name", "text"),
    [("dovetail slot", "DOVETAIL 20 WIDE × 60° ↧8"), ("dovetail tongue", "DOVETAIL 20 WIDE × 60° × 8 HIGH")],
)
def test_one_note_says_all_of_it_and_the_rest_where_it_stands(name, text):
    model, draft = drafted(*PARTS[name][0])
    (note,) = notes(draft)
    assert note.text == text and not notes(draft, "angle")
    check = check_sheet(draft.document, model.solids)
    assert check.complete == {"ok": True, "free": [], "redundant": []} and not draft.document.withdrawn
    assert {s.state for s in check.statements} <= {"proven", "reference"}
    # Its place by the sharp corner that somebody would have chosen: 40 − 20 / 2.
    assert 30 in {
        float(a.says.size("length") or 0)
        for a in draft.document.annotations
        if getattr(a, "says", None) and a.says.kind == "length"
    }


@pytest.mark.parametrize(
    ("text", "part"),
    [
        ("DOVETAIL 21 WIDE × 60° ↧8", "width"),
        ("DOVETAIL 20 WIDE × 55° ↧8", "angle"),
        ("DOVETAIL 20 WIDE × 60° ↧9", "depth"),
        ("DOVETAIL 20 WIDE × 60° × 8 HIGH", "height"),
        ("2× DOVETAIL 20 WIDE × 60° ↧8", "count"),
        # The width over the floor is another one: 20 + 2 · 8 / tan 60°.
        (f"DOVETAIL {20 + 16 / math.tan(math.radians(60)):.3f} WIDE × 60° ↧8", "width"),
    ],
)
def test_a_wrong_size_is_contradicted_by_its_part(text, part):
    model, draft = drafted(*PARTS["dovetail slot"][0])
    (note,) = notes(draft)
    marks = tuple(worded(a, text) if a.id == note.id else a for a in draft.document.annotations)
    proof = next(
        s
        for s in check_sheet(draft.document.model_copy(update={"annotations": marks}), model.solids).statements
        if s.id == note.id
    )
    assert proof.state == "contradicted" and [p.name for p in proof.parts if not p.ok] == [part]


def test_what_the_source_says_of_it_gives_the_tolerances():
    _, draft = drafted(*PARTS["dovetail slot"][0], source=["20 +0.1 -0 wide dovetail 60° ±0.5° x 8 deep", "80 OVERALL"])
    (note,) = notes(draft)
    assert note.text == "DOVETAIL 20 +0.1 -0 WIDE × 60° ±0.5° ↧8"


def test_equal_ones_are_one_note_with_their_count():
    pair = [block(160, 50, 30), dovetail(20, 8, top=30, sense=-1), {**dovetail(20, 8, top=30, sense=-1)}]
    outer = pair[2]["profile"]["outer"]["polygon"]
    pair[2] = {**pair[2], "profile": {**pair[2]["profile"], "outer": {"polygon": [[x + 70, z] for x, z in outer]}}}
    model, draft = drafted(*pair)
    (note,) = notes(draft)
    assert note.text.startswith("2× DOVETAIL 20 WIDE") and check_sheet(draft.document, model.solids).complete["ok"]


@pytest.mark.parametrize(
    "steps",
    [
        # An open channel with upright walls, one that widens to its mouth, one wall that leans and one that does not.
        [[30, 30], [50, 30], [50, 22], [30, 22]],
        [[26, 30], [54, 30], [50, 22], [30, 22]],
        [[30, 30], [50, 30], [50, 22], [25, 22]],
    ],
    ids=["channel", "vee", "half"],
)
def test_other_channels_are_no_dovetails(steps):
    cut = {"op": "extrude", "profile": {"plane": "XZ", "outer": {"polygon": steps}}, "distance": -50, "mode": "cut"}
    (solid,) = model_of(recipe(block(80, 50, 30), cut)).solids
    assert "dovetail" not in {f.kind for f in recognise(solid).forms}
