"""A list that is dropped or brought takes nothing away unasked; a line without a place says why it cannot be ticked."""

import pytest
from playwright.sync_api import expect

from tests.browser.test_bad_days import enter
from tests.conftest import block, recipe, step_bytes
from tests.helpers import edit, insert, new_job, upload

SOURCE = "unit: mm\n[characteristics]\n1 | front | 96\n2 | top | 4x ⌀6.6 THRU\n"


@pytest.fixture
def job(client):
    made = new_job(client, "B-LISTS-" + str(len(client.get("/api/jobs?size=500").json()["jobs"])))
    edit(client, made, insert("a", "40"), insert("b", "R6", "a"))
    return made


def drop(page, name, text):
    """Drop a file on the page, the way a hand does."""
    held = page.evaluate_handle(
        "([name, text]) => { const d = new DataTransfer(); d.items.add(new File([text], name, {type: 'text/plain'})); return d; }",
        [name, text],
    )
    page.dispatch_event("body", "drop", {"dataTransfer": held})


def texts(client, job):
    return [x["text"] for x in client.get(f"/api/jobs/{job}/source").json()["lines"]]


def test_words_that_are_dropped_change_nothing_and_a_source_asks_first(page, application, client, job):
    enter(page, application, f"/jobs/{job}/source")
    expect(page.get_by_label("Shorthand of line 1")).to_have_value("40")
    drop(page, "readme.txt", "Take the part out of the box.\nThen read on.\n")
    expect(page.get_by_text("“readme.txt” is no source")).to_be_visible()
    assert texts(client, job) == ["40", "R6"]
    drop(page, "cock.spec", SOURCE)
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("would replace the source of this job")
    expect(dialog).to_contain_text("#2 4x ⌀6.6 THRU")
    dialog.get_by_role("button", name="Keep what is here").click()
    expect(dialog).to_be_hidden()
    assert texts(client, job) == ["40", "R6"]
    drop(page, "cock.spec", SOURCE)
    page.get_by_role("dialog").get_by_role("button", name="Replace the list").click()
    expect(page.get_by_label("Shorthand of line 2")).to_have_value("4x ⌀6.6 THRU")
    page.get_by_role("button", name="Take back").click()
    expect(page.get_by_label("Shorthand of line 2")).to_have_value("R6")
    assert texts(client, job) == ["40", "R6"]


def test_yes_to_a_line_without_a_place_says_why_not(page, application, client, job):
    upload(client, job, step_bytes(recipe(block(90, 60, 20))))
    application.wait(client, job)
    edit(client, job, insert("c", "⌀77 THRU", "b"))
    enter(page, application, f"/jobs/{job}/proof")
    page.get_by_role("button", name="Read the source through").click()
    for _ in range(3):
        page.keyboard.press("ArrowDown")
    page.keyboard.press("y")
    expect(page.get_by_text("has no place to say yes to")).to_be_visible()
