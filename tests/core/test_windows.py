"""An opening in one wall of a hollow part: sizes and places alone do not say which walls it goes through."""

import pytest

from canonis.core.drafting.draft import DraftWish, draft_model
from canonis.core.house import House
from canonis.core.proof.check import check_sheet
from canonis.core.sheet.views import Parallel
from canonis.core.study.proven_draft import showing_openings
from tests.conftest import block, model_of, recipe

FRONT = {"origin": [0, 0, 0], "x": [1, 0, 0], "normal": [0, -1, 0]}
TOP = {"origin": [0, 0, 30], "x": [1, 0, 0], "normal": [0, 0, 1]}
CAVITY = {"op": "extrude", "profile": {"plane": TOP, "outer": {"rect": [5, 5, 50, 30]}}, "distance": -25, "mode": "cut"}


def window(depth):
    """A square window from the front, so deep."""
    return {
        "op": "extrude",
        "profile": {"plane": FRONT, "outer": {"rect": [20, 10, 20, 12]}},
        "distance": -depth,
        "mode": "cut",
    }


def without_hidden(document):
    views = tuple(v.model_copy(update={"hidden": False}) if isinstance(v, Parallel) else v for v in document.views)
    return document.model_copy(update={"views": views})


def open_windows(document, model):
    return [f for f in check_sheet(document, model.solids).complete["free"] if "opening" in f]


def test_a_window_in_one_wall_is_complete_only_where_a_view_shows_it():
    model = model_of(recipe(block(60, 40, 30), CAVITY, window(8)))
    drafted = draft_model(model, DraftWish(house=House.read({"hidden": "all"}))).document
    assert open_windows(drafted, model) == []
    (said,) = open_windows(without_hidden(drafted), model)
    assert said.startswith("how far the opening at (30, 2.5, 16) goes")


@pytest.mark.parametrize("part", [recipe(block(60, 40, 30), CAVITY, window(40)), recipe(block(60, 6, 30), window(6))])
def test_a_window_through_all_that_stands_behind_it_asks_for_nothing(part):
    model = model_of(part)
    assert open_windows(without_hidden(draft_model(model, DraftWish()).document), model) == []


def test_one_view_with_hidden_lines_shows_it():
    model = model_of(recipe(block(60, 40, 30), CAVITY, window(8)))
    bare = draft_model(model, DraftWish(house=House.read({"hidden": "none"})))
    assert open_windows(bare.document, model) != []
    made = showing_openings(bare, {}).document
    assert open_windows(made, model) == []
    assert sum(v.hidden for v in made.views if isinstance(v, Parallel)) == 1


def test_a_window_in_the_wall_of_a_tube():
    ring = {"op": "extrude", "profile": {"plane": "XY", "outer": {"circle": [0, 0, 60]}}, "distance": 50}
    bore = {"op": "hole", "at": [[0, 0, 50]], "axis": [0, 0, 1], "diameter": 50, "through": True}
    side = {
        "op": "extrude",
        "profile": {
            "plane": {"origin": [0, -40, 0], "x": [1, 0, 0], "normal": [0, -1, 0]},
            "outer": {"rect": [-6, 15, 12, 20]},
        },
        "mode": "cut",
    }
    one, both = (model_of(recipe(ring, bore, {**side, "distance": -d})) for d in (30, 80))
    for model, wanted in ((one, 1), (both, 0)):
        assert len(open_windows(without_hidden(draft_model(model, DraftWish()).document), model)) == wanted
