"""Notes, symbols and datums put on the sheet by hand, and words typed anew: by pointer, by keys and from the palette."""

import re

from playwright.sync_api import expect

from tests.browser.test_views import opened
from tests.helpers import edit, insert


def sheet(application, job):
    with application.client() as client:
        return client.get(f"/api/jobs/{job}/sheet").json()


def ledger(application, job):
    with application.client() as client:
        return {r["text"]: r for r in client.get(f"/api/jobs/{job}/proof").json()["ledger"] if r["kind"] == "statement"}


def pick_first(page):
    """By keys: the first line that can be picked."""
    page.keyboard.press(".")
    page.keyboard.press("Enter")


def put(page, text):
    page.get_by_label("What it says").fill(text)
    page.keyboard.press("Enter")
    expect(page.get_by_label("What it says")).to_be_hidden()


def test_a_symbol_a_datum_and_a_frame_are_put_at_lines_and_undone(page, application):
    job = opened(page, application, "NOTE-1")
    board = page.locator("svg.board")
    for text in ("DATUM A", "Ra 1.6 GROUND", "PERPENDICULARITY 0.05 B"):
        board.focus()
        page.keyboard.press("n")
        pick_first(page)
        put(page, text)
    expect(board.get_by_text("GROUND")).to_be_visible()
    rows = ledger(application, job)
    assert rows["Ra 1.6 GROUND"]["state"] == "reference" and "for the part" in rows["Ra 1.6 GROUND"]["how"]
    assert (
        rows["PERPENDICULARITY 0.05 B"]["state"] == "unproven"
        and "no datum B" in rows["PERPENDICULARITY 0.05 B"]["how"]
    )
    page.keyboard.press("Control+z")
    expect(board.get_by_text("0.05")).to_be_hidden()
    assert "PERPENDICULARITY 0.05 B" not in ledger(application, job)


def test_a_note_is_started_from_the_palette_at_another_station_and_words_are_typed_anew(page, application):
    job = opened(page, application, "NOTE-2")
    page.keyboard.press("4")
    expect(page).to_have_url(re.compile("/proof$"))
    page.keyboard.press("Control+k")
    page.get_by_label("Find an action").fill("note at a line")
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("/sheet$"))
    expect(page.get_by_text("Pick the line or the centre")).to_be_visible()
    pick_first(page)
    put(page, "stamp the number here")
    assert ledger(application, job)["stamp the number here"]["state"] == "unproven"
    # The words of a drafted note, typed anew: what is wrong is told at once.
    hole = next(r for t, r in ledger(application, job).items() if t.startswith("⌀10"))
    page.get_by_role("option", name=re.compile(r"⌀10 THRU")).click()
    page.locator("svg.board").focus()
    page.keyboard.press("F2")
    expect(page.get_by_label("What it says")).to_have_value(hole["text"])
    put(page, "⌀11 THRU")
    expect(page.get_by_role("option", name=re.compile("⌀11 THRU"))).to_contain_text("11")
    assert ledger(application, job)["⌀11 THRU"]["state"] == "differs-model"


def test_a_line_of_the_source_is_put_at_its_face_in_its_own_words(page, application):
    job = opened(page, application, "NOTE-3")
    with application.client() as client:
        edit(client, job, insert("L1", "FLATNESS 0.05"), insert("L2", "80 OVERALL", after="L1"))
    row = page.get_by_role("option", name=re.compile("FLATNESS 0.05")).first
    row.click()
    expect(page.get_by_text("press N on the sheet")).to_be_visible()
    page.locator("svg.board").focus()
    page.keyboard.press("n")
    pick_first(page)
    expect(page.get_by_label("What it says")).to_have_value("FLATNESS 0.05")
    page.keyboard.press("Enter")
    # While it is lit its text is drawn twice.
    expect(page.locator("svg.board").get_by_text("0.05", exact=True).last).to_be_visible()
    with application.client() as client:
        rows = client.get(f"/api/jobs/{job}/proof").json()["ledger"]
    (line,) = [r for r in rows if r["kind"] == "characteristic" and r["text"] == "FLATNESS 0.05"]
    assert line["state"] == "reference" and len(line["statements"]) == 1


def test_words_that_are_refused_stay_to_be_mended(page, application):
    job = opened(page, application, "NOTE-4")
    board = page.locator("svg.board")
    board.focus()
    page.keyboard.press("n")
    pick_first(page)
    put(page, "DATUM A")
    board.focus()
    page.keyboard.press("n")
    page.keyboard.press(".")
    pick_first(page)
    page.get_by_label("What it says").fill("DATUM A")
    page.keyboard.press("Enter")
    expect(page.get_by_text("The letter A is on the sheet already")).to_be_visible()
    expect(page.get_by_label("What it says")).to_have_value("DATUM A")
    put(page, "DATUM B")
    drawn = {t["t"] for t in sheet(application, job)["pages"][0]["texts"]}
    assert {"A", "B"} <= drawn
