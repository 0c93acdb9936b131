"""The Solid station through the real interface: pick, measure, frame at a sharp corner, masses, ledger, revision."""

import json
import math
import re

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.conftest import PARTS, block, recipe, step_bytes
from tests.core.known_parts import hole
from tests.helpers import choose, edit, insert, job_by, listed, new_job, typed, upload

STEPS = [
    block(80, 50, 12),
    hole([[10, 10, 12], [70, 10, 12]], 6),
    {"op": "round", "edges": {"near": [[80, 0, 6]]}, "radius": 6},
]
VOLUME = 80 * 50 * 12 - 2 * math.pi * 9 * 12 - (1 - math.pi / 4) * 36 * 12


@pytest.fixture(scope="module")
def plate(application):
    with application.client() as client:
        job = new_job(client, "WB-PICK", title="Plate", material="brass")
        edit(client, job, insert("a", "80"))
        upload(client, job, step_bytes(recipe(*STEPS)), "plate.step")
        application.wait(client, job)
        source = client.get(f"/api/jobs/{job}/source").json()
        value = [f"finished | {VOLUME * 7.85 / 1000:.1f} g | 40, 25, 6"]
        edit(
            client,
            job,
            {"op": "put", "what": "checkpoints", "value": value, "rev": source["revs"].get("checkpoints", 0)},
        )
        yield job


def enter(page, number):
    page.get_by_role("button", name="Enter as drafter").click()
    listed(page, number).click()
    page.locator(".rail").wait_for()
    page.keyboard.press("2")
    expect(page.locator(".space canvas")).to_be_visible()
    page.wait_for_timeout(400)


def where(page, point, size=(80, 50, 12)):
    """Pixels at which a point of a part from 0,0,0 to `size` appears in the first view (from right, front and above)."""
    box = page.locator(".space canvas").bounding_box()
    middle, reach = np.array(size) / 2, float(np.linalg.norm(size)) / 2 * 1.12
    toward = np.array([1, -1.4, 1]) / np.linalg.norm([1, -1.4, 1])
    right = np.cross([0, 0, 1], toward)
    right /= np.linalg.norm(right)
    up = np.cross(toward, right)
    rel, ratio = np.array(point) - middle, box["width"] / box["height"]
    x, y = rel @ right / (reach * max(1, ratio)), rel @ up / (reach * max(1, 1 / ratio))
    return box["x"] + (x + 1) / 2 * box["width"], box["y"] + (1 - y) / 2 * box["height"]


def click(page, point):
    page.mouse.click(*where(page, point))


def row(page, label):
    return page.locator(".panel tr").filter(has=page.locator("th", has_text=re.compile(f"^{label}$"))).locator("b")


def test_pick_measure_frame_and_weigh(page, application, plate):
    enter(page, "WB-PICK")
    # A face picked on the part shows what it belongs to; a feature gets the source's name.
    click(page, [10, 10, 11.9])
    expect(page.locator(".row.on")).to_contain_text("2× ⌀6 THRU")
    page.get_by_role("button", name="Name it").click()
    page.get_by_label("Name of the feature").fill("pin holes")
    page.keyboard.press("Enter")
    expect(page.locator(".row.on")).to_contain_text("pin holes")
    # Two edges, a face and a round: distances with decimals and fraction.
    page.keyboard.press("m")
    page.get_by_role("radio", name="Edge", exact=True).click()
    click(page, [40, 0, 12])
    expect(row(page, "length")).to_have_text("74")
    click(page, [80, 30, 12])
    expect(row(page, "angle")).to_have_text("90°")
    page.keyboard.press("Escape")
    page.get_by_role("radio", name="Corner", exact=True).click()
    click(page, [0, 50, 12])
    page.get_by_role("radio", name="Face", exact=True).click()
    click(page, [80, 25, 6])
    expect(row(page, "nearest")).to_have_text("80")
    expect(page.locator(".panel tr").filter(has_text="nearest")).to_contain_text("≈ 3 5/32 in")
    # The edge that the round took away.
    page.keyboard.press("Escape")
    page.get_by_role("radio", name="Sharp edge").click()
    click(page, [80 - 6 + 6 * math.sin(math.radians(45)), 6 - 6 * math.cos(math.radians(45)), 6])
    page.get_by_label("Type a pick").fill("0, 0, 12")
    page.keyboard.press("Enter")
    expect(row(page, "nearest")).to_have_text("80")
    page.locator(".panel tr").filter(has_text="nearest").get_by_role("button", name="Line").click()
    expect(page.get_by_role("alert")).to_contain_text("is a line of the source now")
    # And the corner: from there the part is as long as it was before its rounds.
    page.keyboard.press("Escape")
    page.get_by_role("radio", name="Sharp corner").click()
    click(page, [74, 0, 12])
    page.get_by_label("Type a pick").fill("0, 0, 12")
    page.keyboard.press("Enter")
    expect(row(page, "nearest")).to_have_text("80")
    page.get_by_label("Type a pick").fill("nonsense")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Type a feature (H1)")).to_be_visible()
    # Wall under the pointer, and a cut to look inside.
    page.get_by_label("measure while I point").check()
    page.mouse.move(*where(page, [40, 30, 12]))
    expect(page.locator("[data-test=thickness]")).to_have_text("12 mm")
    page.get_by_label("measure while I point").uncheck()
    page.get_by_role("button", name="cut x").click()
    expect(page.get_by_label("Where the cutting plane stands")).to_be_visible()
    page.get_by_role("button", name="cut x").click()
    # Frame at the sharp corner of the rounded edge; masses said from there; the difference explained.
    page.locator(".tabs").get_by_role("tab", name="Weigh").click()
    expect(page.locator("[data-test=Mass-0]")).to_have_text(f"{VOLUME * 8.5 / 1000:.2f} g")
    expect(page.locator(".check")).to_contain_text("Differs from “finished”")
    expect(page.locator(".check")).to_contain_text("steel")
    choose(page, "Frame", "a corner, sharp")
    expect(page.locator(".ask")).to_contain_text("0 of 1")
    click(page, [74, 0, 12])
    expect(page.get_by_text("Everything here is said from")).to_contain_text("sharp corner")
    expect(page.get_by_text("Everything here is said from")).to_contain_text("80, 0, 12")
    centre = page.locator("[data-test=Centre-0]")
    expect(centre).to_have_text(re.compile(r"^-40\.\d\d, 25\.\d\d, -6\.00 mm$"))
    choose(page, "Units of the masses", "in and lb")
    expect(page.locator("[data-test=Mass-0]")).to_contain_text("lb")
    page.get_by_role("combobox", name="Material of").focus()
    typed(page, "bronze")
    page.keyboard.press("Enter")
    expect(page.locator("[data-test=Mass-0]")).to_have_text(f"{VOLUME * 8.8 / 1000 / 453.59237:.2f} lb")
    with application.client() as client:
        texts = [line["text"] for line in client.get(f"/api/jobs/{plate}/source").json()["lines"]]
    assert texts == ["80", "80"]


def test_faults_and_advice_by_keyboard(page, plate):
    enter(page, "WB-PICK")
    page.keyboard.press("a")
    expect(page.get_by_text("Closed and sound")).to_be_visible()
    field = page.get_by_label("hole centre to edge, ⌀")
    field.focus()
    field.fill("2")
    page.keyboard.press("Tab")
    expect(page.locator(".finding.advice")).to_contain_text("stands 10 mm from an edge")
    page.locator(".finding.advice").first.focus()
    page.keyboard.press("Enter")
    expect(page.locator(".finding.on")).to_be_visible()


def test_a_revision_shows_what_changed(page, application, plate, tmp_path):
    enter(page, "WB-PICK")
    revised = [STEPS[0], hole([[10, 10, 12], [70, 10, 12]], 7), STEPS[2], hole([[40, 30, 12]], 12, depth=6, point=0)]
    file = tmp_path / "plate-b.step"
    file.write_bytes(step_bytes(recipe(*revised)))
    page.locator("[data-test=model-file]").set_input_files(str(file))
    page.keyboard.press("h")
    expect(page.get_by_text("From “plate.step” to “plate-b.step”")).to_be_visible()
    panel = page.locator(".panel")
    expect(panel).to_contain_text("resized 2× hole ⌀6 through → 2× hole ⌀7 through")
    expect(panel).to_contain_text("new hole ⌀12 deep 6")
    expect(panel).to_contain_text("pin holes: resized")
    page.keyboard.press("f")
    expect(panel).to_contain_text("pin holes · 2× ⌀7 THRU")


def test_the_ledger_is_walked_and_a_planted_slip_named(page, application, tmp_path):
    with application.client() as client:
        application.wait(client, job_by(client, "WB-1203"))
    enter(page, "WB-1203")
    page.keyboard.press("s")
    expect(page.get_by_text("Every weighed step agrees with the source.")).to_be_visible()
    page.locator(".ledger-table tbody tr").filter(has_text="keyway").click()
    expect(page.locator(".detail")).to_contain_text("keyway 8 wide")
    # The recipe, with one pin hole left out of the ring.
    page.get_by_role("button", name="Recipe …").click()
    field = page.get_by_label("Recipe of the part")
    text = field.input_value()
    assert json.loads(text) == json.loads((PARTS / "strike-drum.json").read_text())
    field.fill(text.replace('"skip":[4]', '"skip":[4,6]'))
    page.get_by_role("button", name="Build, and make the states").click()
    expect(page.get_by_text("weigh the steps again")).to_be_visible()
    page.get_by_role("button", name="Weigh the steps").click()
    expect(page.locator(".first")).to_contain_text("First difference: step 7, “pin ring”")
    expect(page.locator(".first .likely")).to_contain_text("hole")
    expect(page.locator(".first .likely")).to_contain_text("missing")
    page.get_by_role("button", name="Compare model and twin").click()
    expect(page.get_by_text(re.compile("Only in the model"))).to_be_visible()
    # A recipe that cannot be built is one sentence, and the one before stays.
    field.fill(text.replace('"op":"revolve"', '"op":"melt"'))
    page.get_by_role("button", name="Build and keep").click()
    expect(page.get_by_role("alert")).to_contain_text("Step “rope groove”: “melt” is not a step")
    field.fill(text)
    page.get_by_role("button", name="Build, and make the states").click()
    expect(page.get_by_text("weigh the steps again")).to_be_visible()
    page.get_by_role("button", name="Weigh the steps").click()
    expect(page.get_by_text("Every weighed step agrees with the source.")).to_be_visible()
