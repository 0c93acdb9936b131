"""A level is said where what lies at it is seen; floors at one level together; nothing falls into another's name."""

import math

import numpy as np
import pytest

from canonis.bench.compositions import compose
from canonis.core.drafting.draft import DraftWish, draft_model
from canonis.core.drafting.seen import lines_of
from canonis.core.proof.check import check_sheet
from canonis.core.recipe.build import build_recipe
from canonis.core.shape.frame import own_frame
from canonis.core.sheet.document import Ordinate
from canonis.core.sheet.leader_marks import Target
from canonis.core.solid.making import turned_about, write_step
from canonis.core.solid.reader import read_model
from canonis.core.view.slices import cut_face
from tests.conftest import block, draft_of, model_of, recipe
from tests.core.known_parts import PARTS, hole, rod, shape

#: Two pockets of one depth and one of another.
POCKETED = recipe(
    block(90, 60, 20),
    shape({"rect": [10, 10, 20, 40]}, 20, -6),
    shape({"rect": [40, 10, 20, 40]}, 20, -6),
    shape({"rect": [70, 10, 10, 40]}, 20, -9),
)


def _shown(scene, mark):
    """Whether a flat face that an ordinate points at has a line at the level in its view."""
    view = scene.document.view(mark.view)
    level = scene.anchor(view, mark.refs[1]).level(mark.direction)
    k = 0 if mark.direction == "x" else 1
    face = scene.resolution(mark.sheet, mark.refs[1]).faces[0]
    return any(
        x.kind == "line" and float(np.abs(x.points[:, k] - level).max()) < 0.02 for x in lines_of(scene, view, face)
    )


@pytest.mark.parametrize("seed", [5, 28, 408, 492, 738])
def test_an_ordinate_of_a_flat_face_points_at_a_line_of_that_face(seed):
    built = build_recipe(compose(seed).recipe())
    draft = draft_model(
        read_model(write_step(built.shape, built.name, built.unit), "part.step"), DraftWish(views="auto")
    )
    marks = [
        a
        for a in draft.document.annotations
        if isinstance(a, Ordinate) and a.refs[0] != a.refs[1] and a.refs[1].startswith("plane")
    ]
    assert marks and all(_shown(draft.scene, a) for a in marks)
    check = check_sheet(draft.document, draft.scene.solids)
    assert check.complete["ok"] and {s.state for s in check.statements} <= {"proven", "reference"}


def test_floors_at_one_level_are_said_together_and_each_is_held_to_it():
    draft = draft_model(model_of(POCKETED), DraftWish(views="auto"))
    check = check_sheet(draft.document, draft.scene.solids)
    assert check.complete["ok"]
    along = [a for a in draft.document.annotations if isinstance(a, Ordinate) and len(a.refs) > 2]
    assert along
    # One pocket is cut deeper: the value that speaks for both no longer holds.
    deeper = recipe(
        block(90, 60, 20),
        shape({"rect": [10, 10, 20, 40]}, 20, -6),
        shape({"rect": [40, 10, 20, 40]}, 20, -7),
        shape({"rect": [70, 10, 10, 40]}, 20, -9),
    )
    check = check_sheet(draft.document, model_of(deeper).solids)
    assert {s.state for s in check.statements if s.id in {a.id for a in along}} <= {"contradicted", "lost"}


@pytest.mark.parametrize("degrees", [12.0, 30.0, 77.5])
@pytest.mark.parametrize("name", ["segment keyway", "keyway with round ends", "keyway in a bore"])
def test_a_shaft_is_drawn_square_to_its_key_however_it_lies(name, degrees):
    built = build_recipe(recipe(*PARTS[name][0]))
    turned = turned_about(built.shape, np.zeros(3), np.array([0.0, 0, 1]), degrees)
    model = read_model(write_step(turned, built.name, built.unit), "part.step")
    frame = own_frame(model.solids[0])
    flats = [f.axis for f in model.solids[0].faces if f.kind == "plane"]
    assert all(float(np.abs(frame @ a).max()) > 1 - 1e-9 for a in flats)
    draft = draft_model(model, DraftWish(views="auto"))
    assert check_sheet(draft.document, draft.scene.solids).complete["ok"]


def test_a_leader_takes_the_nearer_of_two_outlines():
    target = Target(np.array([0.0, 10.0]), 0.0, other=np.array([0.0, -10.0]))
    elbows = np.array([[20.0, 15.0], [20.0, -15.0], [-5.0, -1.0]])
    assert target.tips(elbows).tolist() == [[0.0, 10.0], [0.0, -10.0], [0.0, -10.0]]
    assert [target.tip(e).tolist() for e in elbows] == target.tips(elbows).tolist()


def test_a_crowded_flat_face_is_cut_along_its_round_outline():
    # Thirty holes keep the kernel's own triangles away; the outline is round.
    places = [[x, y, 10] for x in range(-50, 51, 20) for y in range(-40, 41, 20)]
    solid = model_of(recipe(rod(200, 10), hole(places, 4))).solids[0]
    for depth in (7.0, 33.3, 71.0, 93.5):
        axes = np.array([[0.0, 1, 0], [0, 0, 1], [1, 0, 0]])
        cut = cut_face(solid, axes, depth)
        assert not cut.rough
        assert cut.area == pytest.approx(20 * math.sqrt(100**2 - depth**2), rel=1e-9)


def test_a_sliver_of_a_floor_is_a_floor():
    built = build_recipe(compose(59).recipe())
    draft = draft_model(
        read_model(write_step(built.shape, built.name, built.unit), "part.step"), DraftWish(views="auto")
    )
    check = check_sheet(draft.document, draft.scene.solids)
    assert "⌀4 ↧24.25" in [s.text for s in check.statements if s.state == "proven"] and check.complete["ok"]


def test_hexagons_that_stand_alike_say_nothing_twice():
    def regular(z, distance, x, across, sides):
        centre = {"regular": {"centre": [x, 25], "sides": sides, "across-corners": across}}
        return shape(centre, z, distance, "add")

    data = recipe(block(80, 50, 12), regular(12, 8, 40, 20, 6), regular(0, -6, 30, 24, 6))
    draft = draft_of(data)
    check = check_sheet(draft.document, draft.scene.solids)
    assert check.complete["ok"]
    assert sum(a.kind == "polygon" for a in draft.document.annotations) == 2
