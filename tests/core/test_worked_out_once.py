"""What a scene and a plan keep is what would be worked out again: nothing old is shown for something new."""

import numpy as np
import pytest

from canonis.core.callout.measured import a_length
from canonis.core.drafting import completing
from canonis.core.drafting.draft import DraftWish, draft_model
from canonis.core.finding import About, Finding, Mend
from canonis.core.quantity.units import Unit
from canonis.core.sheet.document import Ordinate
from canonis.core.sheet.scene import build_scene
from canonis.core.sheet.views import Parallel
from tests.conftest import block, draft_of, model_of, recipe
from tests.core.known_parts import PARTS

PLATE = recipe(
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


def fresh(scene):
    """The same document on the same solids, with nothing kept."""
    return build_scene(scene.document, scene.solids, scene.marks, {})


@pytest.mark.parametrize("name", ["hole ring", "two arc slots", "dovetail slot", "unequal chamfer"])
def test_anchors_origins_and_lines_are_those_of_a_scene_that_keeps_nothing(name):
    draft = draft_of(recipe(*PARTS[name][0]), views="auto")
    kept, new = draft.scene, fresh(draft.scene)
    for mark in draft.document.annotations:
        if mark.view is None:
            continue
        view = draft.document.view(mark.view)
        for ref in mark.refs:
            assert kept.anchor(view, ref) == new.anchor(view, ref)
    for view in draft.document.views:
        assert np.allclose(kept.origin(view), new.origin(view))
        assert kept.box(view) == pytest.approx(new.box(view))
        assert len(kept.projection(view).visible) == len(new.projection(view).visible)


def test_a_view_that_was_changed_is_another_one_though_it_has_its_name():
    draft = draft_of(PLATE)
    view = next(v for v in draft.document.views if isinstance(v, Parallel))
    scene = draft.scene
    before = scene.box(view)
    moved = view.model_copy(update={"at": (view.at[0] + 10, view.at[1]), "scale": view.scale * 2})
    after = scene.box(moved)
    assert after[2] - after[0] == pytest.approx(2 * (before[2] - before[0])) and scene.box(view) == before
    turned = view.model_copy(update={"right": tuple(-c for c in view.right)})
    ref = next(
        a.refs[-1]
        for a in draft.document.annotations
        if isinstance(a, Ordinate) and a.view == view.id and a.direction == "x" and a.refs[0] != a.refs[-1]
    )
    assert scene.anchor(turned, ref).x == pytest.approx(-scene.anchor(view, ref).x)


def test_a_changed_document_keeps_nothing_of_the_one_before():
    draft = draft_of(PLATE)
    view = next(v for v in draft.document.views if isinstance(v, Parallel))
    made = []
    scene = draft.scene
    for one in (scene, scene, scene.on(draft.document)):
        one.kept("trial", view, lambda: made.append(1))
    # Once for the scene, and once for the one on another state of the document.
    assert len(made) == 2


def test_the_same_views_are_planned_with_once_and_others_anew(monkeypatch):
    planned = []
    real = completing._planned
    monkeypatch.setattr(
        completing, "_planned", lambda desk_on, scene: planned.append(scene.document.views) or real(desk_on, scene)
    )
    made = draft_model(model_of(PLATE), DraftWish(views="auto"))
    assert planned and len(planned) == len(set(planned))
    # What a plan gives does not depend on what was planned before it.
    again = draft_model(model_of(PLATE), DraftWish(views="auto"))
    assert again.document == made.document


def test_a_length_is_made_once_for_each_unit():
    assert a_length(12.7, Unit.MM) is a_length(12.7, Unit.MM)
    assert a_length(12.7, Unit.INCH).parts[0].typed == ".500" or a_length(12.7, Unit.INCH).parts[0].typed == "0.500"
    assert a_length(12.7, Unit.MM).size("length") == a_length(12.7, Unit.INCH).size("length")


def test_a_finding_in_a_file_has_what_was_found_and_nothing_of_what_it_was_linked_by():
    found = Finding(
        "value.model",
        "error",
        "D3",
        "it differs",
        12.0,
        13.0,
        "length",
        about=About(statements=("D3",), faces=frozenset({4})),
    )
    assert found.as_json() == {
        "rule": "value.model",
        "severity": "error",
        "subject": "D3",
        "expected": 12.0,
        "found": 13.0,
        "message": "it differs",
        "part": "length",
    }
    found.id, found.under = "value.model:D3", "geometry.shift:D1"
    assert found.as_json()["under"] == "geometry.shift:D1"
    said = Finding("hole.seat", "warning", "4", "mend it", fix=Mend("4", "⌀6 THRU", "Write it so"))
    assert said.as_json(values=False) == {
        "rule": "hole.seat",
        "severity": "warning",
        "subject": "4",
        "message": "mend it",
        "fix": {"number": "4", "text": "⌀6 THRU", "says": "Write it so"},
    }
