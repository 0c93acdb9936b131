"""Long runs of edits on a sheet: whatever the order, the document stays whole."""

import random

import pytest

from canonis.core.drafting.draft import scene_for
from canonis.core.faults import BadInput
from canonis.core.output.screen import screen_pages
from canonis.core.sheet.compile import compile_sheet
from canonis.core.sheet.document import SheetDocument
from tests.conftest import draft_of
from tests.core.edits import edited

COMMANDS = ("move", "move-view", "remove", "add-linear", "set", "accept", "tidy")


@pytest.fixture(scope="module")
def draft(cock_step):
    return draft_of(cock_step, density=8.5)


def some_command(rng, document, picks):
    marks, views = list(document.annotations), list(document.views)
    op = rng.choice(COMMANDS)
    if op == "move":
        return {
            "op": op,
            "id": rng.choice(marks).id if marks else "D0",
            "dx": rng.uniform(-40, 40),
            "dy": rng.uniform(-40, 40),
        }
    if op == "move-view":
        return {"op": op, "id": rng.choice(views).id, "dx": rng.uniform(-20, 20), "dy": rng.uniform(-20, 20)}
    if op in ("remove", "accept"):
        return {"op": op, "id": rng.choice(marks).id if marks else "D0"}
    if op == "add-linear":
        a, b = rng.choice(picks), rng.choice(picks)
        return {"op": op, "view": a["view"], "refs": [a["ref"], b["ref"]]}
    what, values = rng.choice(
        [
            ("size", ["A3", "A2", "A4", "B9"]),
            ("scale", ["1:1", "1:2", "7:1x"]),
            ("projection", ["first", "third"]),
            ("revision", ["B", ""]),
            ("hidden", [True, False]),
        ]
    )
    if op == "tidy":
        return {"op": op}
    view = {"view": rng.choice(views).id} if what == "hidden" else {}
    return {"op": "set", "what": what, "value": rng.choice(values), **view}


@pytest.mark.parametrize("seed", range(6))
def test_random_edits_keep_the_document_whole(draft, seed):
    rng = random.Random(seed)
    scene = draft.scene
    document, cache = draft.document, dict(scene.projections)
    picks = screen_pages(scene)[0]["picks"]
    done = refused = 0
    for _ in range(25):
        command = some_command(rng, document, picks)
        before = document.model_dump_json()
        try:
            document = edited(document, command, draft, cache)
            done += 1
        except BadInput as fault:
            assert "\n" not in str(fault) and document.model_dump_json() == before
            refused += 1
        ids = [a.id for a in document.annotations]
        assert len(ids) == len(set(ids))
        assert {a.view for a in document.annotations if a.view} <= {v.id for v in document.views}
    assert done > 5 and done + refused == 25
    # What is stored comes back the same, and compiles.
    again = SheetDocument.model_validate_json(document.model_dump_json())
    assert again == document
    page = compile_sheet(scene_for(document, scene.solids, draft.features, cache)).pages[0]
    assert page.strokes and page.texts


def test_an_edit_and_its_opposite_give_the_same_sheet(draft):
    document = draft.document
    leader = next(a for a in document.annotations if a.kind == "hole")
    there = edited(document, {"op": "move", "id": leader.id, "dx": 5, "dy": -3}, draft)
    back = edited(there, {"op": "move", "id": leader.id, "dx": -5, "dy": 3}, draft)
    assert back.annotation(leader.id).at == pytest.approx(leader.at)


def test_tidy_after_chaos_leaves_no_collision(draft):
    from canonis.core.layout.collisions import layout_report

    scene, document = draft.scene, draft.document
    for mark in [a for a in document.annotations if a.kind in ("ordinate", "linear")][:4]:
        document = edited(document, {"op": "move", "id": mark.id, "dx": 0, "dy": 7}, draft)
    document = edited(document, {"op": "tidy"}, draft)
    made = scene_for(document, scene.solids, draft.features, dict(scene.projections))
    report = layout_report(made, compile_sheet(made))
    assert (report["text_on_text"], report["to_hidden"]) == (0, 0)
