"""A model packed and unpacked is the same model, and what needs no kernel touches none."""

import numpy as np
import pytest

from canonis.core.drafting.draft import DraftWish, draft_model, scene_for
from canonis.core.features.recognition import recognise
from canonis.core.features.report import measure_model
from canonis.core.output.screen import screen_pages
from canonis.core.solid.keeping import attach_shapes, pack_shapes, pack_tables, unpack_tables
from canonis.core.solid.reader import mass_properties
from tests.conftest import block, model_of, recipe

PARTS = {
    "plate": recipe(
        block(80, 50, 12),
        {"op": "hole", "at": [[10, 10, 12], [70, 40, 12]], "axis": [0, 0, 1], "diameter": 6, "through": True},
    ),
    "turned": recipe(
        {
            "op": "revolve",
            "profile": {"plane": "XZ", "outer": {"polygon": [[0, 0], [20, 0], [20, 10], [12, 10], [12, 40], [0, 40]]}},
            "axis": {"point": [0, 0, 0], "direction": [0, 0, 1]},
            "angle": 360,
        }
    ),
    "rounded": recipe(
        block(40, 30, 20),
        {"op": "round", "edges": {"near": [[0, 0, 10], [40, 30, 10]]}, "radius": 5},
        {"op": "chamfer", "edges": {"near": [[20, 0, 20]]}, "leg": 2},
    ),
    "inch": recipe(block(2, 1, 0.5), unit="in"),
    "two": recipe(
        block(10, 10, 10),
        {"op": "extrude", "profile": {"plane": "XY", "outer": {"rect": [30, 0, 8, 8]}}, "distance": 5},
    ),
}


@pytest.fixture(params=PARTS, ids=list(PARTS))
def model(request):
    return model_of(PARTS[request.param])


def unpacked(model, fetch=None):
    made = unpack_tables(pack_tables(model))
    attach_shapes(made, fetch or (lambda: pack_shapes(model)))
    return made


def never():
    raise AssertionError("the kernel's shapes were asked for")


def test_tables_come_back_as_they_were(model):
    made = unpacked(model, never)
    assert (made.sha256, made.unit, made.step_schema) == (model.sha256, model.unit, model.step_schema)
    for old, new in zip(model.solids, made.solids, strict=True):
        assert (old.name, old.valid, old.raw_faces, old.raw_edges) == (
            new.name,
            new.valid,
            new.raw_faces,
            new.raw_edges,
        )
        assert [f.kind for f in old.faces] == [f.kind for f in new.faces]
        assert all(np.array_equal(a.centre, b.centre) for a, b in zip(old.faces, new.faces, strict=True))
        assert [(e.faces, e.dihedral, e.length) for e in old.edges] == [
            (e.faces, e.dihedral, e.length) for e in new.edges
        ]
        assert old.mass.volume == new.mass.volume and np.array_equal(old.box[1], new.box[1])


def test_shapes_come_back_in_the_order_of_the_tables(model):
    for solid in unpacked(model).solids:
        assert (len(solid.face_shapes), len(solid.wire_pieces)) == (len(solid.faces), len(solid.edges))
        for face, shape in zip(solid.faces, solid.face_shapes, strict=True):
            assert mass_properties(shape).area == pytest.approx(face.area, rel=1e-9)
        made = mass_properties(solid.shape)
        assert made.volume == pytest.approx(solid.mass.volume, rel=1e-9)
        assert made.centre == pytest.approx(solid.mass.centre, rel=1e-9, abs=1e-9)


def test_shapes_are_fetched_once_and_only_when_they_are_asked_for(model):
    asked = []

    def fetch():
        asked.append(True)
        return pack_shapes(model)

    made = unpacked(model, fetch)
    assert not asked
    for solid in made.solids:
        assert solid.shape is solid.shape and solid.face_shapes
    assert len(asked) == 1


def test_features_are_recognised_the_same(model):
    def said(one):
        return [(type(f).__name__, len(f.owner)) for f in (recognise(s) for s in one.solids)]

    assert said(unpacked(model)) == said(model)
    old, new = measure_model(model), measure_model(unpacked(model))
    assert old == new


def test_a_sheet_is_compiled_and_moved_without_the_kernel(model):
    draft = draft_model(model, DraftWish())
    packed = pack_tables((model, tuple(recognise(s) for s in model.solids), dict(draft.scene.projections)))
    again, features, projections = unpack_tables(packed)
    attach_shapes(again, never)
    scene = scene_for(draft.document, again.solids, features, projections)
    assert screen_pages(scene) == screen_pages(draft.scene)
    moved = draft.document.model_copy(
        update={"views": tuple(v.model_copy(update={"at": (v.at[0] + 5, v.at[1])}) for v in draft.document.views)}
    )
    assert screen_pages(scene_for(moved, again.solids, features, projections))


def test_a_solid_without_its_shapes_says_so(model):
    bare = unpack_tables(pack_tables(model))
    with pytest.raises(RuntimeError, match="without its kernel shapes"):
        _ = bare.solids[0].shape
