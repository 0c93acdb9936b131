"""Sheets and parts that nobody drew with care: each is judged or refused in one sentence, and nothing breaks."""

import pytest

from canonis.bench.measure import drilled_plate
from canonis.core.drafting.basis import Basis
from canonis.core.faults import BadInput
from canonis.core.output.sheet_json import document_of, sheet_files
from canonis.core.proof.check import check_sheet
from canonis.core.proof.measure import Remeasurer
from canonis.core.recipe.build import build_recipe
from canonis.core.sheet.document import Leader, Linear, Note, Ordinate
from canonis.core.sheet.wording import worded
from canonis.core.solid.making import write_step
from canonis.core.solid.reader import read_model
from tests.conftest import block, draft_of, model_of, recipe
from tests.core.known_parts import PARTS

PLATE = recipe(
    block(60, 40, 10), {"op": "hole", "at": [[20, 20, 10]], "axis": [0, 0, 1], "diameter": 8, "through": True}
)


def with_marks(change):
    document = draft_of(PLATE).document
    return document.model_copy(update={"annotations": tuple(change(a) for a in document.annotations)})


def states(document):
    return {s.id: s for s in check_sheet(document, model_of(PLATE).solids).statements}


def test_references_that_name_nothing_are_lost_in_one_sentence_each():
    nowhere = "bore;900,900,900;0,0,1;3;5"
    document = with_marks(lambda a: a.model_copy(update={"refs": (nowhere,)}) if a.kind == "hole" else a)
    check = check_sheet(document, model_of(PLATE).solids)
    assert [s.state for s in check.statements if s.kind == "hole"] == ["lost"]
    assert not check.complete["ok"] and all("\n" not in f.message for f in check.findings)
    bare = with_marks(lambda a: a.model_copy(update={"refs": ()}) if a.kind in ("hole", "linear") else a)
    assert {s.state for s in states(bare).values() if s.kind in ("hole", "linear")} == {"lost"}


@pytest.mark.parametrize(
    "text", ["", "NaN", "1" * 1_000_000, "⌀" * 500, "((((((", "-5", "1e400", "⌀8 THRU ⌀8 THRU", "\u202e8"]
)
def test_any_text_is_read_or_counts_as_unproven(text):
    for kind in ("hole", "linear"):
        document = with_marks(lambda a, kind=kind: worded(a, text) if a.kind == kind else a)
        ids = [a.id for a in draft_of(PLATE).document.annotations if a.kind == kind]
        found = [states(document)[k] for k in ids]
        assert found and all(s.state in ("unproven", "contradicted") for s in found)


def test_a_sheet_of_an_unknown_kind_is_refused_by_its_word():
    import json

    draft = draft_of(PLATE)
    data = json.loads(sheet_files(draft, check_sheet(draft.document, model_of(PLATE).solids))["sheet.json"])
    data["document"]["annotations"][0]["kind"] = "wobble"
    with pytest.raises(BadInput) as refused:
        document_of(data)
    assert "\n" not in str(refused.value)


def test_a_part_of_one_torus_is_judged():
    ring = recipe(
        {
            "op": "revolve",
            "profile": {"plane": "XZ", "outer": {"circle": [20, 0, 10]}},
            "axis": {"point": [0, 0, 0], "direction": [0, 0, 1]},
            "angle": 360,
        }
    )
    document, solids = draft_of(ring).document, model_of(ring).solids
    # Its height is twice the tube, its width that and the ring: two sizes say it all, one leaves the other open.
    assert check_sheet(document, solids).complete["ok"]
    flat = tuple(a for a in document.annotations if a.text != "10")
    assert any(
        "R5" in f for f in check_sheet(document.model_copy(update={"annotations": flat}), solids).complete["free"]
    )


def test_a_plate_of_two_hundred_holes_is_proven_whole():
    """The equations of a thousand unknowns; the census among two hundred holes."""
    built = build_recipe(drilled_plate(206))
    model = read_model(write_step(built.shape, built.name, built.unit), "plate.step")
    document = draft_of(write_step(built.shape, built.name, built.unit)).document
    check = check_sheet(document, model.solids)
    assert check.complete["ok"] and {s.state for s in check.statements} <= {"proven", "reference"}
    note = next(s for s in check.statements if s.kind == "hole")
    assert note.part("count").measured == 200


#: Kinds that may say one thing.
SAME_THING = {"diameter", "radius", "hole", "thread", "length"}
SAID = (
    "4× ⌀8 THRU", "⌀8", "R4", "SR9", "2 × 45°", "3 × 2 CHAMFER", "SLOT 8 WIDE THRU 14 CENTRES", "KEYWAY 6 × 20 FROM AXIS",
    "2× ARC SLOT 8 WIDE R26 × 90° START 0° THRU EQ SP", "M8 ↧12", "M12 × 1.5 20 LONG", "⌀60 PCD 15° APART START 20°", "PITCH 20",
    "30°", "GROOVE 3 × ⌀24", "GROOVE R2 × ⌀26", "HEX 17 AF", "DRAFT 3°", "WALL 3", "SPLINE 6 × 23 × 28", "FREE FORM BY THE MODEL",
    "⌴⌀11 ↧6", "ROUNDS AND FILLETS R3 UON", "40", "note: deburr", "3× HOLES",
    "DOVETAIL 20 WIDE × 60° ↧8", "DOVETAIL 20 WIDE × 60° × 8 HIGH", "Ra 1.6 GROUND", "FLATNESS 0.05", "RUNOUT 0.02 A", "POSITION ⌀0.1",
)  # fmt: skip


@pytest.mark.parametrize(
    "name",
    [
        "hole ring",
        "two arc slots",
        "spline",
        "taper",
        "ball end",
        "unequal chamfer",
        "round groove",
        "hexagon boss",
        "drafted boss",
        "dovetail slot",
        "dovetail tongue",
    ],
)
def test_whatever_is_said_of_whatever_is_there_gets_a_verdict(name):
    """A person may say anything of anything: each statement of a sheet says each kind of thing in turn."""
    draft = draft_of(recipe(*PARTS[name][0]), views="auto")
    document, solids = draft.document, draft.scene.solids
    measurer = Remeasurer(document, solids)
    right = {(a.id, a.states) for a in document.annotations if isinstance(a, Leader | Note | Linear | Ordinate)}
    for mark in document.annotations:
        if not isinstance(mark, Leader | Note | Linear | Ordinate) or not mark.refs:
            continue
        for text in SAID:
            other = worded(mark, text)
            proof = measurer.prove(other)
            if not other.read:
                assert proof.state == "unproven"
            elif proof.state == "proven":
                # Only another way to say the same of the same thing.
                assert (mark.id, other.states) in right or {mark.states, other.states} <= SAME_THING
        basis = Basis(document, document.pages[0], solids[0])
        for text in SAID:
            basis.rows(worded(mark, text))
