"""A source read through in Chromium: ticked by keys, an ambiguous line settled, and a mended model brought in."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import block, recipe, step_bytes
from tests.helpers import edit, insert, new_job, upload

HOLE = {"op": "hole", "at": [[20, 15, 12]], "axis": [0, 0, 1], "diameter": 8, "through": True}
OTHER = {"op": "hole", "at": [[60, 30, 12]], "axis": [0, 0, 1], "diameter": 6, "through": True}
RIGHT = step_bytes(recipe(block(80, 50, 12), HOLE, OTHER))
#: The hole too wide, as it happens.
WRONG = step_bytes(recipe(block(80, 50, 12), {**HOLE, "diameter": 16}, OTHER))
#: The last two: an axis from the other one, and a note.
LINES = ("80", "50", "12", "⌀8 THRU", "20", "15", "⌀6 THRU", "40", "30", "NOTE: blacken")


@pytest.fixture
def job(application, request):
    client = application.client()
    made = new_job(client, f"T-READ-{request.node.name[-12:]}")
    ids = [f"R{k}" for k in range(len(LINES))]
    edit(client, made, *[insert(i, t, after) for i, t, after in zip(ids, LINES, [None, *ids], strict=False)])
    upload(client, made, getattr(request, "param", RIGHT))
    application.wait(client, made)
    return made


def enter(page: Page, job: int, station: str) -> None:
    page.get_by_role("button", name="Enter as drafter").click()
    expect(page.get_by_role("heading", name="Drawing sets")).to_be_visible()
    page.goto(page.url.split("/", 3)[0] + "//" + page.url.split("/")[2] + f"/jobs/{job}/{station}")


def line(page: Page, number: str):
    return page.locator(f".ledger .line[data-key='c:{number}']")


def test_a_source_is_ticked_by_keys_alone(page, application, job):
    enter(page, job, "proof")
    expect(line(page, "1")).to_be_visible()
    page.locator("body").press("r")
    reading = page.get_by_label("Read through", exact=True)
    expect(reading).to_contain_text("0 of 10 ticked")
    expect(reading.get_by_label("Place on the sheet").locator("svg.board")).to_be_visible()
    expect(reading.get_by_label("Place on the solid").locator("canvas")).to_be_visible()
    expect(reading.locator(".line")).to_contain_text("#1")
    # Yes goes on to the next line by itself.
    for number in ("1", "2", "3"):
        expect(reading.locator(".line b").first).to_have_text(f"#{number}")
        page.keyboard.press("y")
        expect(reading).to_contain_text(f"{number} of 10 ticked")
    # Back to a ticked one: who said so stands there, and it can be taken back.
    page.keyboard.press("ArrowUp")
    expect(reading.locator(".line b").first).to_have_text("#3")
    expect(reading).to_contain_text("drafter,")
    page.keyboard.press("u")
    expect(reading).to_contain_text("2 of 10 ticked")
    # A question is a remark.
    page.keyboard.press("q")
    page.get_by_label("Remark", exact=True).fill("Is this the finished thickness?")
    page.keyboard.press("Control+Enter")
    expect(page.get_by_text("Is this the finished thickness?")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    expect(page.get_by_text("2 of 10 lines ticked by a person")).to_be_visible()
    page.reload()
    expect(page.locator(".ledger")).to_contain_text("2/10")


def test_a_line_in_an_unlikely_place_is_settled_while_the_sheet_is_looked_at(page, application, job):
    enter(page, job, "proof")
    row = line(page, "8")
    expect(row.get_by_label("in an unlikely place, or one of several")).to_be_visible()
    row.click()
    page.locator("body").press("r")
    reading = page.get_by_label("Read through", exact=True)
    expect(reading).to_contain_text("the place is unlikely: confirm it")
    expect(reading.get_by_label("Place on the sheet").locator("svg.board")).to_be_visible()
    page.keyboard.press("y")
    expect(row.get_by_label("proven")).to_be_visible()
    expect(reading).to_contain_text("1 of 10 ticked")


def test_a_line_is_settled_from_the_ledger_beside_the_sheet(page, application, job):
    enter(page, job, "sheet")
    row = line(page, "8")
    expect(row.get_by_label("in an unlikely place, or one of several")).to_be_visible()
    row.click()
    # Before anybody has confirmed its place no statement is made for it: the two that give the length together are lit.
    expect(row).to_have_attribute("title", re.compile("60 − 20 = 40"))
    expect(page.locator("svg.board g.statement.chosen, svg.board g.statement.on")).to_have_count(2)
    places = page.get_by_label("Places that it could mean")
    expect(places).to_contain_text("axis of H1 to axis of H2")
    places.get_by_role("button", name="It is this").first.click()
    expect(row.get_by_label("proven")).to_be_visible()


@pytest.mark.parametrize("job", [WRONG], indirect=True, ids=["wrong"])
def test_the_mended_model_takes_the_findings_with_it_and_leaves_ticks_elsewhere(page, application, job):
    enter(page, job, "proof")
    message = page.get_by_role("button", name="twice the size")
    expect(message).to_be_visible()
    page.locator("body").press("r")
    reading = page.get_by_label("Read through", exact=True)
    for number in ("1", "2"):
        expect(reading.locator(".line b").first).to_have_text(f"#{number}")
        page.keyboard.press("y")
        expect(reading).to_contain_text(f"{number} of 10 ticked")
    page.keyboard.press("Escape")
    client = application.client()
    upload(client, job, RIGHT)
    application.wait(client, job)
    # The source is at peace with the model; what is left is a statement of the old sheet.
    expect(message).to_have_count(0)
    version = client.get(f"/api/jobs/{job}/sheet").json()["version"]
    assert client.post(f"/api/jobs/{job}/sheet/redraft", json={"version": version}).status_code == 202
    application.wait(client, job)
    expect(line(page, "4").get_by_label("proven")).to_be_visible()
    expect(page.locator(".ledger")).to_contain_text("2/10")
