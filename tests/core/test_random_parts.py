"""Random parts from model to proof: what holds for every sheet, whatever the part."""

import math
import re

import numpy as np
import pytest

from canonis.core.drafting.draft import DraftWish, draft_model
from canonis.core.features.recognition import recognise
from canonis.core.layout.collisions import layout_report
from canonis.core.output.sheet_json import sheet_json
from canonis.core.proof.check import check_sheet
from canonis.core.quantity.written import write_length
from canonis.core.sheet.compile import compile_sheet
from canonis.core.solid.reader import read_model
from tests.conftest import step_bytes
from tests.core.parts import random_part

SEEDS = range(100, 112)


@pytest.fixture(scope="module", params=SEEDS)
def made(request):
    recipe = random_part(request.param)
    model = read_model(step_bytes(recipe), "part.step")
    style = "asme" if request.param % 2 else "iso"
    draft = draft_model(model, DraftWish(style=style, density=2.7))
    check = check_sheet(draft.document, draft.scene.solids, density=2.7)
    return recipe, draft, check


def test_nothing_collides_and_nothing_points_at_hidden_lines(made):
    _, draft, _ = made
    report = layout_report(draft.scene, compile_sheet(draft.scene))
    assert (report["text_on_text"], report["text_on_line"], report["to_hidden"], report["foreshortened"]) == (
        0,
        0,
        0,
        0,
    )


def test_the_sheet_is_complete_and_every_statement_is_proven(made):
    _, _, check = made
    assert check.complete["ok"] and not check.complete["free"] and not check.complete["redundant"]
    assert {s.state for s in check.statements} <= {"proven", "reference"}
    assert not check.findings


def test_overall_sizes_are_stated_once_each(made):
    recipe, draft, _ = made
    solid = draft.scene.solids[0]
    stated = []
    for mark in draft.document.annotations:
        if mark.feature == "overall":
            view = draft.document.view(mark.view)
            v = np.array(view.right if mark.direction == "x" else view.up)
            stated.append(int(np.argmax(np.abs(v))))
    assert sorted(stated) == [0, 1, 2]
    base = recipe["steps"][0]
    scale = 25.4 if recipe["unit"] == "in" else 1.0
    assert solid.size[:2] == pytest.approx([c * scale for c in base["profile"]["outer"]["rect"][2:]])


def test_holes_are_those_of_the_recipe_and_each_is_noted_and_counted(made):
    recipe, draft, _ = made
    scale = 25.4 if recipe["unit"] == "in" else 1.0
    wanted = sorted(
        (round(s["diameter"] * scale, 4), round(x * scale, 4), round(y * scale, 4))
        for s in recipe["steps"]
        if s["op"] == "hole"
        for x, y, _ in s["at"]
    )
    found = draft.features[0].holes
    got = sorted(
        (round(h.diameter, 4), round(float(h.start[0]), 4), round(float(h.start[1]), 4)) for g in found for h in g.holes
    )
    assert got == wanted
    noted = {a.feature: a for a in draft.document.annotations if a.kind == "hole"}
    assert set(noted) == {g.id for g in found}
    for group in found:
        text = noted[group.id].text
        assert text.startswith(f"{len(group.holes)}× ⌀") if len(group.holes) > 1 else text.startswith("⌀")


def test_every_size_and_place_of_a_recipes_hole_is_written_on_the_sheet(made):
    """Judged by what built the part, not by what drafted or proved it."""
    recipe, draft, _ = made
    unit = draft.document.unit
    scale = 25.4 if recipe["unit"] == "in" else 1.0
    texts = [a.text for a in draft.document.annotations if a.kind == "hole"]
    datum = draft.document.pages[0].datum
    levels = {}
    for mark in draft.document.annotations:
        if mark.kind in ("ordinate", "linear"):
            view = draft.document.view(mark.view)
            along = np.array(view.right if mark.direction == "x" else view.up)
            levels.setdefault(int(np.argmax(np.abs(along))), set()).add(mark.text)
    for step in (s for s in recipe["steps"] if s["op"] == "hole"):
        sizes = [step["diameter"]] + ([] if step.get("through") else [step["depth"]])
        sizes += list(step.get("counterbore", {}).values())
        sizes += [step["countersink"]["diameter"]] if "countersink" in step else []
        wanted = {write_length(v * scale, unit) for v in sizes}
        assert any(wanted <= set(re.findall(r"[\d.]+", text)) for text in texts), (wanted, texts)
        if len(step["at"]) == 1:
            for axis, value in enumerate(step["at"][0][:2]):
                assert write_length(abs(value * scale - datum[axis]), unit) in levels[axis], (axis, value)


def test_values_say_what_the_model_shows(made):
    _, draft, check = made
    data = sheet_json(draft.scene, compile_sheet(draft.scene), check)
    for a in data["annotations"]:
        if a["value"] is None or a["measured"] is None:
            continue
        room = 0.5e-4 if a["unit"] == "in" else 0.5e-3
        assert a["measured"] == pytest.approx(a["value"], abs=room + 1e-9), a["text"]


def test_volume_is_the_closed_form(made):
    recipe, draft, _ = made
    scale = 25.4 if recipe["unit"] == "in" else 1.0
    base = recipe["steps"][0]
    w, d = base["profile"]["outer"]["rect"][2:]
    h = base["distance"]
    volume = w * d * h
    for s in recipe["steps"][1:]:
        if s["op"] == "chamfer":
            # Along the whole front edge, clear of everything else.
            volume -= w * s["leg"] ** 2 / 2
            continue
        if s["op"] == "extrude":
            outer = s["profile"]["outer"]
            deep = min(abs(s["distance"]), h) if s["mode"] == "cut" else s["distance"]
            if "slot" in outer:
                x1, _, x2, _, wide = outer["slot"]
                volume -= ((x2 - x1) * wide + math.pi * wide**2 / 4) * deep
            else:
                volume += math.pi * outer["circle"][2] ** 2 / 4 * deep
            continue
        r, n = s["diameter"] / 2, len(s["at"])
        deep = h if s.get("through") else s["depth"]
        hole = math.pi * r * r * deep
        if s.get("point"):
            hole += math.pi * r * r * (r / math.tan(math.radians(s["point"] / 2))) / 3
        if "counterbore" in s:
            hole += math.pi * ((s["counterbore"]["diameter"] / 2) ** 2 - r * r) * s["counterbore"]["depth"]
        if "countersink" in s:
            big = s["countersink"]["diameter"] / 2
            sink = (big - r) / math.tan(math.radians(s["countersink"]["angle"] / 2))
            hole += math.pi * sink * (big * big + big * r + r * r) / 3 - math.pi * r * r * sink
        volume -= n * hole
    assert draft.scene.solids[0].mass.volume == pytest.approx(volume * scale**3, rel=1e-6)


def test_faces_have_one_owner_and_turning_the_part_changes_nothing(made):
    recipe, draft, _ = made
    solid, found = draft.scene.solids[0], draft.features[0]
    assert set(found.owner) == {f.index for f in solid.faces}
    owned = [f for g in found.holes for h in g.holes for f in h.faces]
    assert len(owned) == len(set(owned))
    # The same file read again is understood the same way.
    again = recognise(read_model(step_bytes(recipe), "again.step").solids[0])
    assert [(g.id, len(g.holes), round(g.first.diameter, 6)) for g in again.holes] == [
        (g.id, len(g.holes), round(g.first.diameter, 6)) for g in found.holes
    ]
