"""Two routes to every number: errors planted in one are caught by the other."""

from dataclasses import replace

import numpy as np
import pytest

from canonis.core.drafting.draft import DraftWish, draft_model
from canonis.core.features.recognition import recognise
from canonis.core.proof.check import check_sheet
from canonis.core.sheet.wording import worded
from tests.conftest import block, draft_of, model_of, recipe

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
    {
        "op": "hole",
        "at": [[45, 30, 20]],
        "axis": [0, 0, 1],
        "diameter": 10,
        "depth": 12,
        "point": 118,
        "countersink": {"diameter": 16, "angle": 90},
    },
    {
        "op": "extrude",
        "profile": {
            "plane": {"origin": [0, 0, 20], "x": [1, 0, 0], "normal": [0, 0, 1]},
            "outer": {"slot": [30, 50, 60, 50, 8]},
        },
        "distance": -7,
        "mode": "cut",
    },
    {"op": "chamfer", "edges": {"near": [[45, 0, 20]]}, "leg": 2},
    {"op": "round", "edges": {"near": [[90, 60, 10]]}, "radius": 6},
)


@pytest.fixture(scope="module")
def draft():
    return draft_of(PART, density=1.0)


def contradicted(draft, change):
    """Statements contradicted after `change` was made to the marks."""
    marks = tuple(change(a) for a in draft.document.annotations)
    document = draft.document.model_copy(update={"annotations": marks})
    check = check_sheet(document, draft.scene.solids)
    return {s.id: s for s in check.statements if s.state in ("contradicted", "lost")}


def swap(kind, old, new):
    def change(mark):
        if mark.kind != kind or old not in mark.text:
            return mark
        return worded(mark, mark.text.replace(old, new))

    return change


def test_the_untouched_sheet_is_proven(draft):
    assert contradicted(draft, lambda a: a) == {}


@pytest.mark.parametrize(
    ("kind", "old", "new", "part"),
    [
        ("hole", "2× ⌀7", "3× ⌀7", "count"),
        ("hole", "⌀7 ", "⌀7.1 ", "diameter"),
        ("hole", "⌴⌀12", "⌴⌀12.5", "counterbore-diameter"),
        ("hole", "↧6", "↧6.2", "counterbore-depth"),
        ("hole", "⌀10 ↧12", "⌀10 ↧12.4", "depth"),
        ("hole", "⌀10 ↧12", "⌀10 THRU", "through"),
        ("hole", "⌵⌀16", "⌵⌀15", "countersink-diameter"),
        ("hole", "90°", "82°", "countersink-angle"),
        ("slot", "8 WIDE", "9 WIDE", "width"),
        ("slot", "30 CENTRES", "38 CENTRES", "centres"),
        ("slot", "↧7", "↧8", "depth"),
        ("slot", "↧7", "THRU", "through"),
        ("chamfer", "2 × 45°", "2.5 × 45°", "leg"),
        ("chamfer", "45°", "60°", "angle"),
        ("radius", "R6", "R5", "radius"),
        ("linear", "90", "91", "length"),
        ("ordinate", "75", "57", "length"),
    ],
)
def test_a_wrong_word_in_a_text_is_caught_in_its_part(draft, kind, old, new, part):
    found = contradicted(draft, swap(kind, old, new))
    assert found, "the change must be seen"
    assert any(not p.ok and p.name == part for s in found.values() for p in s.parts)


def test_a_dimension_tied_to_the_wrong_geometry_is_caught(draft):
    marks = [
        a for a in draft.document.annotations if a.kind == "ordinate" and a.direction == "x" and a.text not in ("0",)
    ]
    a, b = marks[0], next(m for m in marks if m.view == marks[0].view and m.text != marks[0].text)
    found = contradicted(draft, lambda m: m.model_copy(update={"refs": b.refs}) if m.id == a.id else m)
    assert set(found) == {a.id}


def test_a_recogniser_that_lies_is_found_out(monkeypatch, draft):
    """The route that writes a note reads the face tables; the route that proves it must not."""
    solid = model_of(PART).solids[0]
    face = next(f for f in solid.faces if f.kind == "cylinder" and f.inner and abs(f.radius - 3.5) < 1e-9)
    lying = [f if f.index != face.index else type(f)(**{**f.__dict__, "radius": 3.8}) for f in solid.faces]
    fake = replace(solid, faces=tuple(lying))
    model = replace(model_of(PART), solids=(fake,))
    wrong = draft_model(model, DraftWish(), features=(recognise(fake),))
    texts = {a.text for a in wrong.document.annotations if a.kind == "hole"}
    assert any("⌀7.6" in t for t in texts)
    check = check_sheet(wrong.document, (fake,))
    bad = [s for s in check.statements if s.state == "contradicted" and "⌀7.6" in s.text]
    assert bad and np.isclose(bad[0].part("diameter").measured, 7.0)
