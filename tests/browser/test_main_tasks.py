"""The main tasks of a drafter, driven through the real interface in Chromium."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import block, recipe, step_bytes
from tests.helpers import choose, chosen, listed, statement, typed


def enter(page: Page, role: str = "drafter") -> None:
    page.get_by_role("button", name=f"Enter as {role}").click()
    expect(page.get_by_role("heading", name="Drawing sets")).to_be_visible()


def open_job(page: Page, number: str) -> None:
    listed(page, number).click()
    expect(page.locator("svg.board")).to_be_visible()
    expect(page.locator(".ledger")).to_contain_text("◆ 30")


@pytest.fixture(scope="module")
def ready(application):
    with application.client() as client:
        for job in client.get("/api/jobs?size=500").json()["jobs"]:
            application.wait(client, job["id"])


def settled(page: Page, canvas, unlike: bytes | None = None) -> bytes:
    """A picture of the part in space once two in a row are the same (and none like `unlike`)."""
    last = b""
    for _ in range(100):
        now = canvas.screenshot()
        if now == last and now != unlike:
            break
        last = now
        page.wait_for_timeout(100)
    return last


def test_a_new_job_from_sign_in_to_files(page, application, cock_step, flawed_step, tmp_path):
    page.get_by_label("Name").fill("drafter")
    page.get_by_label("Password").fill("wrong")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("alert")).to_contain_text("do not go together")
    page.get_by_label("Password").fill("quill-and-scale")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="New job", exact=True).click()
    page.locator("[name=number]").fill("WB-77")
    page.locator("[name=title]").fill("Bracket")
    page.get_by_role("button", name="Open job").click()
    # An empty job says what to do first.
    expect(page.get_by_text("Drop a STEP file anywhere on this page")).to_be_visible()
    page.get_by_role("button", name="Type the source first").click()
    # Type a source: read back in words, an error at its character, mended.
    page.get_by_role("button", name="Add a line").click()
    typed(page, "4x dia 6.6 thru cbore 11 6.5 deep")
    expect(page.get_by_text("four holes ⌀6.6 through, counterbored ⌀11 deep 6.5")).to_be_visible()
    page.keyboard.press("Enter")
    typed(page, "96")
    page.keyboard.press("Enter")
    typed(page, "⌀20 PCF")
    expect(page.get_by_text("Column 5")).to_be_visible()
    page.keyboard.press("Backspace")
    typed(page, "D")
    expect(page.get_by_text("pitch circle ⌀20")).to_be_visible()
    expect(page.get_by_text("all stored")).to_be_visible()
    # A bad file is one sentence; a good one is drafted with progress.
    good, flawed, bad = tmp_path / "bracket.step", tmp_path / "flawed.step", tmp_path / "bad.step"
    good.write_bytes(cock_step)
    flawed.write_bytes(flawed_step)
    bad.write_text("not a model")
    page.locator("[data-test=model-file]").set_input_files(bad)
    expect(page.locator(".notice")).to_contain_text("not a STEP file")
    page.locator("[data-test=model-file]").set_input_files(good)
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Sheet", exact=False).first.click()
    expect(page.locator("svg.board")).to_be_visible()
    expect(statement(page, "4× ⌀6.6 THRU")).to_be_visible()
    expect(page.locator(".ledger [data-key='c:1']")).to_contain_text("4x dia 6.6")
    expect(page.locator(".ledger [data-key='c:1'] .state-proven")).to_be_visible()
    # The revised, flawed model: what differs is said.
    page.locator("[data-test=model-file]").set_input_files(flawed)
    page.locator(".rail button", has_text="Proof").click()
    expect(page.get_by_text("the sheet says 4×, the model has 3×")).to_be_visible()
    expect(page.get_by_text("the sheet says counterbore depth 6.5, the model has 5.5")).to_be_visible()
    expect(page.get_by_text(re.compile("the sheet says pitch circle 20, the model has 21")).first).to_be_visible()
    page.get_by_text("the sheet says 4×, the model has 3×").click()
    expect(page.locator(".ledger .line.on .state-differs-model")).to_be_visible()
    page.locator(".rail button", has_text="Release").click()
    for kind, head in (("PDF", b"%PDF"), ("SVG", b"<svg"), ("CSV", b"id,sheet")):
        with page.expect_download() as download:
            page.locator("a.file", has_text=kind).click()
        assert download.value.path().read_bytes().startswith(head)


def test_move_add_delete_undo_and_reload(page, ready):
    enter(page)
    open_job(page, "WB-1202")
    before = page.locator("svg.board").inner_html()
    target = statement(page, "96").locator("text").last
    box = target.bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y - 14, steps=4)
    page.mouse.up()
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    expect(page.locator(".ledger .line.on")).to_contain_text("96")
    moved = statement(page, "96").locator("text").last.bounding_box()
    assert moved["y"] < box["y"] - 5
    page.reload()
    expect(statement(page, "96")).to_be_visible()
    assert statement(page, "96").locator("text").last.bounding_box()["y"] == pytest.approx(moved["y"], abs=1.5)
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="Undo")).to_be_disabled()
    # The paper follows its buttons.
    back = page.wait_for_function(
        "([text, y]) => Math.abs([...document.querySelectorAll('svg.board g.statement text')]"
        ".filter((t) => t.textContent.trim() === text).at(-1)?.getBoundingClientRect().y - y) < 1.5",
        arg=["96", box["y"]],
    )
    assert back
    assert len(page.locator("svg.board").inner_html()) == pytest.approx(len(before), rel=0.05)
    # Add a dimension between two picked centres, then take it back.
    page.keyboard.press("m")
    centres = page.locator(".picks circle.centre")
    spots = [centres.nth(k).bounding_box() for k in range(centres.count())]
    # The lowest row holds the corner rounds of the foot; the next the two screw holes in front.
    levels = sorted({round(s["y"]) for s in spots}, reverse=True)
    row = sorted((s for s in spots if round(s["y"]) == levels[1]), key=lambda s: s["x"])
    for spot in (row[0], row[-1]):
        page.mouse.click(spot["x"] + spot["width"] / 2, spot["y"] + spot["height"] / 2)
    # The draft says the pitch of these holes itself; the one that is added stands beside it.
    both = page.locator("g.statement").filter(has=page.locator("text", has_text=re.compile("^76$")))
    expect(both).to_have_count(2)
    both.last.locator("text").last.click()
    page.keyboard.press("Delete")
    expect(both).to_have_count(1)
    page.keyboard.press("Control+z")
    expect(both).to_have_count(2)
    page.keyboard.press("Control+z")
    expect(both).to_have_count(1)


def test_ledger_and_sheet_show_the_same_thing(page, ready):
    enter(page)
    open_job(page, "WB-1202")
    page.locator(".ledger [data-key='c:5']").click()
    expect(page.locator("g.chosen")).to_contain_text("⌀6.6 THRU")
    page.locator(".ledger .body").focus()
    page.keyboard.press("ArrowDown")
    expect(page.locator(".ledger [data-key='c:6']")).to_have_class(re.compile("on"))
    expect(page.locator("g.chosen")).to_have_count(1)
    expect(page.locator("g.chosen")).to_contain_text("76")


def test_keyboard_alone(page, ready):
    page.get_by_role("button", name="Enter as checker").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Drawing sets")).to_be_visible()
    listed(page, "WB-1202").focus()
    page.keyboard.press("Enter")
    expect(page.locator("svg.board")).to_be_visible()
    for key, text in (
        ("1", "What the source says"),
        ("2", "Mirror planes"),
        ("4", "Source against sheet and model"),
        ("5", "Files of this sheet"),
    ):
        page.keyboard.press(key)
        expect(page.get_by_text(text)).to_be_visible()
    page.keyboard.press("Control+k")
    typed(page, "go to sheet")
    page.keyboard.press("Enter")
    expect(page.locator("svg.board")).to_be_visible()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_be_visible()
    # A checker looks, but does not change the sheet.
    expect(page.get_by_role("button", name="Measure between two")).to_have_count(0)


def test_the_solid_answers_to_its_features(page, ready):
    enter(page)
    open_job(page, "WB-1202")
    page.keyboard.press("2")
    canvas = page.locator(".space canvas")
    expect(canvas).to_be_visible()
    plain = settled(page, canvas)
    page.locator(".feature", has_text="⌀6.6").click()
    assert settled(page, canvas, unlike=plain) != plain, "the faces of the chosen feature light up"


def test_settings_of_the_sheet(page, ready):
    enter(page)
    listed(page, "WB-1204").click()
    expect(page.locator("svg.board")).to_be_visible()
    page.keyboard.press("p")
    choose(page, "Projection", "first")
    expect(page.locator("g[data-owner=title]")).to_contain_text("first angle")
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("g[data-owner=title]")).to_contain_text("third angle")
    drafted = chosen(page, "Sheet size").inner_text()
    assert drafted in ("B", "C")
    choose(page, "Sheet size", "D")
    expect(chosen(page, "Sheet size")).to_contain_text("D")
    page.get_by_role("button", name="Undo").click()
    expect(chosen(page, "Sheet size")).to_contain_text(drafted)
    choose(page, "Front view", "+Z")
    expect(chosen(page, "Front view")).to_contain_text("+Z")
    page.get_by_role("button", name="Undo").click()
    expect(chosen(page, "Front view")).to_contain_text("-Y")


def test_models_on_the_list_of_jobs_become_jobs_and_a_bad_one_stops_no_other(page, tmp_path):
    enter(page)
    for k, size in enumerate((31, 37)):
        (tmp_path / f"LIST-{k}.step").write_bytes(step_bytes(recipe(block(size, 20, 5))))
    (tmp_path / "letter.step").write_text("dear checker")
    names = ("LIST-0.step", "letter.step", "LIST-1.step")
    page.locator("[data-test=job-models]").set_input_files([tmp_path / n for n in names])
    expect(page.get_by_role("alert")).to_contain_text("“letter.step” is not a STEP file")
    expect(page.get_by_role("status").filter(has_text="Being drafted")).to_contain_text("LIST-0, LIST-1")
    page.get_by_label("Find a job").fill("list-1")
    row = page.locator("tr.ant-table-row")
    expect(row).to_have_count(1)
    row.click()
    expect(page.locator("svg.board")).to_be_visible()
