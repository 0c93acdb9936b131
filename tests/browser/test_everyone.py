"""Everyone's keyboard and eyes: the whole main task without a pointer, and each main screen looked through for what
keeps people out."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import expect

from tests.conftest import block, recipe, step_bytes
from tests.helpers import job_by, new_job, typed, upload

AXE = Path(__file__).parents[2] / "frontend" / "node_modules" / "axe-core" / "axe.min.js"
# What is fading in or out has, for that moment, less contrast than anybody reads it with.
STILL = """async () => {
  const frame = () => new Promise(requestAnimationFrame);
  const moving = () => document.getAnimations().filter((a) => a.effect.getComputedTiming().endTime !== Infinity
    && a.playState === "running");
  for (let calm = 0; calm < 3; calm = moving().length ? 0 : calm + 1) await frame();
}"""
LOOK = """async () => {
  const found = await axe.run(document, { resultTypes: ["violations"] });
  return found.violations.filter((v) => ["serious", "critical"].includes(v.impact))
    .map((v) => `${v.id}: ${v.nodes.slice(0, 3).map((n) => n.html.slice(0, 140)).join(" | ")}`);
}"""
PLATE = [
    block(80, 50, 12),
    {"op": "hole", "at": [[10, 10, 12], [70, 10, 12]], "axis": [0, 0, 1], "diameter": 6, "through": True},
]


def look(page):
    """No serious or critical finding on what is shown."""
    if not page.evaluate("() => 'axe' in window"):
        page.evaluate(AXE.read_text())
    page.evaluate(STILL)
    assert page.evaluate(LOOK) == []


def pressed(page, target, key="Enter"):
    """Something reached by the keyboard and pressed."""
    target.focus()
    expect(target).to_be_focused()
    page.keyboard.press(key)


@pytest.fixture
def plate(application, tmp_path):
    file = tmp_path / "plate.step"
    file.write_bytes(step_bytes(recipe(*PLATE)))
    return file


def test_the_whole_main_task_by_keyboard_alone(page, application, plate):
    # Sign in by typing.
    typed(page, "drafter")
    page.keyboard.press("Tab")
    typed(page, "quill-and-scale")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Drawing sets")).to_be_visible()
    # A new job.
    pressed(page, page.get_by_role("button", name="New job", exact=True))
    expect(page.locator("[name=number]")).to_be_focused()
    typed(page, "KB-1")
    page.keyboard.press("Tab")
    typed(page, "Plate")
    page.keyboard.press("Enter")
    # The model: the sheet is drafted without another press.
    bring = page.get_by_role("button", name="Bring in a model").first
    with page.expect_file_chooser() as chooser:
        pressed(page, bring)
    chooser.value.set_files(str(plate))
    board = page.locator("svg.board")
    expect(board).to_be_visible()
    expect(page.locator(".ledger")).to_contain_text("Drawn statements")
    # The source, typed.
    page.keyboard.press("1")
    pressed(page, page.get_by_role("button", name="Add a line"))
    for text in ("80", "2x ⌀6 THRU"):
        typed(page, text)
        page.keyboard.press("Enter")
    expect(page.get_by_text("two holes ⌀6 through")).to_be_visible()
    expect(page.get_by_text("all stored")).to_be_visible()
    # On the sheet: a statement is found, moved and taken back, a view is moved, another statement is added.
    page.get_by_role("button", name=re.compile("Sheet")).focus()
    page.keyboard.press("3")
    board.focus()
    expect(board).to_be_focused()
    page.keyboard.press(".")
    first = page.locator("svg.board .statement:focus")
    expect(first).to_have_attribute("aria-label", re.compile(r", proven"))
    expect(first).to_have_attribute("aria-pressed", "true")
    undo = page.get_by_role("button", name="Undo")
    expect(undo).to_be_disabled()
    with page.expect_response("**/sheet/edits"):
        page.keyboard.press("ArrowUp")
    expect(undo).to_be_enabled()
    page.keyboard.press("v")
    expect(page.locator("svg.board .grip:focus")).to_have_attribute("aria-label", re.compile("view$"))
    with page.expect_response("**/sheet/edits"):
        page.keyboard.press("ArrowRight")
    page.keyboard.press("Escape")
    page.keyboard.press("m")
    expect(page.get_by_text("Pick two edges, points or centres")).to_be_visible()
    said = page.locator(".sheet .spoken")
    page.keyboard.press(".")
    expect(said).to_contain_text("1 of")
    page.keyboard.press("Enter")
    expect(page.get_by_text(re.compile("^First .* picked"))).to_be_visible()
    page.keyboard.press(".")
    page.keyboard.press(".")
    with page.expect_response("**/sheet/edits") as answer:
        page.keyboard.press("Enter")
    assert answer.value.status in (200, 422), answer.value.text()
    page.keyboard.press("Control+z")
    # Every action by name.
    page.keyboard.press("Control+k")
    typed(page, "set up the page")
    page.keyboard.press("Enter")
    scale = page.get_by_role("combobox", name="Scale", exact=True)
    expect(scale).to_be_visible()
    scale.focus()
    page.keyboard.press("Escape")
    expect(scale).to_be_hidden()
    # Keys go to the station again once no field has them.
    page.wait_for_function("!document.activeElement?.matches('input, textarea, select')")
    # The proof and the files.
    page.keyboard.press("4")
    expect(page.get_by_text("Source against sheet and model")).to_be_visible()
    expect(page.locator(".ledger [data-key='c:2'] .state-proven")).to_be_visible()
    page.keyboard.press("5")
    with page.expect_download() as download:
        pressed(page, page.locator("a.file", has_text="PDF"))
    assert download.value.path().read_bytes().startswith(b"%PDF")


def test_faces_edges_and_corners_are_picked_by_keys(page, application):
    with application.client() as client:
        job = new_job(client, "KB-2", title="Plate")
        upload(client, job, step_bytes(recipe(*PLATE)))
        application.wait(client, job)
    page.get_by_role("button", name="Enter as viewer").click()
    expect(page.get_by_role("heading", name="Drawing sets")).to_be_visible()
    page.goto(f"{application.address}/jobs/{job}/solid")
    space = page.get_by_role("application", name=re.compile("The part in space"))
    expect(space.locator("canvas")).to_be_visible()
    page.keyboard.press("m")
    said = space.get_by_role("status")
    pressed(page, space, ".")
    expect(said).to_have_text(re.compile(r"^face 1 of 8"))
    page.keyboard.press("Enter")
    expect(page.locator(".panel")).to_contain_text("960 mm²")
    page.keyboard.press(",")
    expect(said).to_have_text(re.compile(r"^face 8 of 8"))


def test_what_is_selected_is_the_same_everywhere(page, application):
    with application.client() as client:
        job = job_by(client, "WB-1202")
        application.wait(client, job)
    page.get_by_role("button", name="Enter as viewer").click()
    expect(page.get_by_role("heading", name="Drawing sets")).to_be_visible()
    page.goto(f"{application.address}/jobs/{job}/sheet")
    line = page.locator(".ledger [data-key='c:5']")
    line.click()
    chosen = page.locator("svg.board .statement.chosen")
    expect(chosen).to_contain_text("4× ⌀6.6 THRU")
    page.get_by_role("button", name=re.compile("on the solid")).click()
    feature = page.locator(".row.on .feature")
    expect(feature).to_contain_text("⌀6.6")
    page.locator(".feature", has_text="⌀12").first.click()
    page.keyboard.press("3")
    expect(page.locator("svg.board .statement.chosen")).to_contain_text("⌀12 THRU")
    # The ledger by view, by feature, by state; and large by a double press.
    for by, head in (("by view", "front view"), ("by feature", "hole H1"), ("by state", "proven")):
        page.locator(".ledger .ant-select").first.click()
        page.locator(".ant-select-dropdown:visible .ant-select-item-option", has_text=by).click()
        expect(page.locator(".ledger h4").filter(has_text=head)).to_be_visible()
    before = page.locator("svg.board > g").get_attribute("transform")
    line.dblclick()
    expect(page.locator("svg.board > g")).not_to_have_attribute("transform", before)


def test_the_right_click_offers_what_fits(page, application):
    with application.client() as client:
        job = job_by(client, "WB-1202")
        application.wait(client, job)
    page.get_by_role("button", name="Enter as drafter").click()
    expect(page.get_by_role("heading", name="Drawing sets")).to_be_visible()
    page.goto(f"{application.address}/jobs/{job}/sheet")
    page.locator("svg.board .statement", has_text="R18").locator("text").last.click(button="right")
    menu = page.get_by_role("menu")
    expect(menu).to_contain_text("Delete “R18”")
    expect(menu).to_contain_text("Zoom to it")
    page.keyboard.press("Escape")
    expect(menu).to_be_hidden()
    expect(page.locator("svg.board .statement.chosen")).to_contain_text("R18")


def test_a_checker_remarks_and_a_drafter_settles(page, application):
    with application.client() as client:
        job = job_by(client, "WB-1203")
        application.wait(client, job)
    page.get_by_role("button", name="Enter as checker").click()
    expect(page.get_by_role("heading", name="Drawing sets")).to_be_visible()
    page.goto(f"{application.address}/jobs/{job}/sheet")
    page.locator(".ledger .line", has_text="⌀25 THRU").first.click()
    page.get_by_role("button", name="Remark …").click()
    page.get_by_label("Remark", exact=True).fill("Which fit is meant?")
    page.reload()
    page.locator(".ledger .line", has_text="⌀25 THRU").first.click()
    expect(page.get_by_label("Remark", exact=True)).to_have_value("Which fit is meant?")
    page.get_by_label("Remark", exact=True).press("Control+Enter")
    expect(page.locator(".remarks article")).to_contain_text("Which fit is meant?")
    expect(page.locator(".ledger .line.on .remarked")).to_be_visible()
    with application.client() as client:
        (card,) = client.get(f"/api/jobs/{job}/remarks").json()
        client.patch(f"/api/jobs/{job}/remarks/{card['id']}", json={"settled": True})
    expect(page.locator(".remarks article")).to_contain_text("settled by drafter")
    page.get_by_role("button", name="Take back").click()
    page.get_by_role("tooltip").get_by_role("button", name="Take back").click()
    expect(page.locator(".remarks article")).to_have_count(0)


def test_no_screen_keeps_anybody_out(page, application):
    # Whoever asks for less motion gets colours at once, not half-way ones.
    page.emulate_media(reduced_motion="reduce")
    with application.client() as client:
        for k in range(51):
            new_job(client, f"AXE-{k}", title="so many that the list has pages")
    look(page)
    page.get_by_role("button", name="Enter as administrator").click()
    expect(page.locator(".ant-pagination")).to_be_visible()
    look(page)
    page.get_by_role("button", name="New job", exact=True).click()
    expect(page.locator("[name=number]")).to_be_focused()
    look(page)
    page.keyboard.press("Escape")
    page.get_by_role("link", name="People", exact=True).click()
    expect(page.get_by_label("Name of the workspace First workspace")).to_be_visible()
    look(page)
    with application.client() as client:
        job = job_by(client, "WB-1203")
        application.wait(client, job)
        empty = new_job(client, "KB-3")
    for station, there in (
        ("source", ".rows, [data-line='0']"),
        ("solid", ".space canvas"),
        ("sheet", "svg.board"),
        ("proof", ".proof"),
        ("release", ".file"),
    ):
        page.goto(f"{application.address}/jobs/{job}/{station}")
        expect(page.locator(there).first).to_be_visible()
        expect(page.locator(".ledger")).to_be_visible()
        look(page)
        for leaf in page.get_by_role("tab").all():
            leaf.click()
            look(page)
    page.goto(f"{application.address}/jobs/{job}/sheet")
    expect(page.locator("svg.board")).to_be_visible()
    for key, there in (
        (".", ".statement.chosen"),
        ("p", ".setup"),
        ("m", ".picks"),
        ("Control+k", ".palette"),
        ("Escape", "svg.board"),
        ("?", "dl"),
    ):
        page.keyboard.press(key)
        expect(page.locator(there).first).to_be_visible()
        if key == "Escape":
            expect(page.locator(".palette")).to_be_hidden()
        look(page)
    page.goto(f"{application.address}/jobs/{empty}/sheet")
    expect(page.get_by_text("No sheet yet")).to_be_visible()
    look(page)
