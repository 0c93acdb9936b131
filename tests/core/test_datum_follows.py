"""The datum of a sheet and its views stand where the model has what holds them, wherever a revised file puts the part."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.drafting import scene_for
from canonis.core.features import recognise
from canonis.core.proof import check_sheet
from canonis.core.sheet import Bounds, compile_sheet, settled
from tests.conftest import draft_of, model_of, recipe


def plate(x=0.0, y=0.0, z=0.0, w=80.0, d=50.0):
    """A plate with two holes, its lower corner at a point."""
    return recipe(
        {
            "op": "extrude",
            "profile": {"plane": "XY", "outer": {"rect": [x, y, w, d]}, "offset": z},
            "distance": 12,
        },
        {
            "op": "hole",
            "at": [[x + 20, y + 15, z + 12], [x + 55, y + 30, z + 12]],
            "axis": [0, 0, 1],
            "diameter": 8,
            "through": True,
        },
    )


def boxes(document, solids):
    scene = scene_for(document, solids, tuple(recognise(s) for s in solids))
    return {v.id: scene.box(v) for v in document.views}


# Farther away nobody can tell any more which hole is which.
steps = st.tuples(*[st.floats(-10, 10).map(lambda c: round(c, 3))] * 3)


@settings(max_examples=8)
@given(steps)
def test_a_part_that_lies_elsewhere_in_its_file_is_drawn_where_it_was(step):
    draft = draft_of(plate())
    solids = model_of(plate(*step)).solids
    document = settled(draft.document, solids)
    assert np.subtract(document.pages[0].datum, draft.document.pages[0].datum) == pytest.approx(step, abs=1e-6)
    before, after = (boxes(x, s) for x, s in ((draft.document, draft.scene.solids), (document, solids)))
    for name, box in before.items():
        assert after[name] == pytest.approx(box, abs=1e-6)
    check = check_sheet(draft.document, solids)
    assert {p.state for p in check.statements} == {"proven"}
    assert not check.complete["free"]


def test_the_same_document_is_handed_back_where_nothing_moved():
    draft = draft_of(plate())
    assert settled(draft.document, draft.scene.solids) is draft.document


def test_a_document_whose_datum_nothing_holds_stays_where_it_was():
    draft = draft_of(plate())
    older = draft.document.model_copy(
        update={"pages": tuple(p.model_copy(update={"datum_refs": ()}) for p in draft.document.pages)}
    )
    assert settled(older, model_of(plate(5, 6, 7)).solids) is older


def test_what_grew_at_the_datum_s_side_moves_the_datum_and_not_the_paper():
    draft = draft_of(plate())
    # Ten more on the left: the lower left corner is at -10 now.
    grown = model_of(plate(-10, 0, 0, w=90)).solids
    document = settled(draft.document, grown)
    assert np.subtract(document.pages[0].datum, draft.document.pages[0].datum) == pytest.approx((-10, 0, 0), abs=1e-6)
    for old, new in zip(draft.document.views, document.views, strict=True):
        assert np.subtract(new.origin, old.origin) == pytest.approx((-10, 0, 0), abs=1e-6)
    texts = {a.id: a.text for a in draft.document.annotations}
    states = {texts[p.id]: p.state for p in check_sheet(draft.document, grown).statements}
    assert states["80"] == "contradicted" and states["50"] == states["20"] == states["55"] == "proven"


def test_a_page_is_compiled_within_its_frame_wherever_the_part_lies():
    draft = draft_of(plate())
    far = model_of(plate(1500, -900, 40)).solids
    moved = scene_for(settled(draft.document, far), far, tuple(recognise(s) for s in far))
    bounds = Bounds()
    compile_sheet(moved).pages[0].plot(bounds)
    w, h = compile_sheet(moved).pages[0].size_mm
    x0, y0, x1, y1 = bounds.box
    assert x0 >= 0 and y0 >= 0 and x1 <= w and y1 <= h
