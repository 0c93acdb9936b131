"""Accounts, drawing sets and what a viewer sees, through the real interface."""

import re

import httpx
from playwright.sync_api import expect

from tests.helpers import choose, listed


def test_an_administrator_adds_someone_who_signs_in(page, application):
    page.get_by_role("button", name="Enter as administrator").click()
    page.get_by_role("link", name="People", exact=True).click()
    page.locator("[name=person-name]").fill("night checker")
    choose(page, "Role", "checker")
    page.locator("[name=person-password]").fill("a long night")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.get_by_role("status")).to_contain_text("night checker may now sign in")
    choose(page, "Role of administrator", "viewer")
    expect(page.get_by_role("alert")).to_contain_text("last administrator")
    page.get_by_role("link", name="Drawing sets").click()
    page.locator(".who").click()
    page.get_by_role("menuitem", name="Sign out").click()
    page.get_by_label("Name").fill("night checker")
    page.get_by_label("Password").fill("a long night")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Drawing sets")).to_be_visible()
    expect(page.get_by_role("button", name="night checker")).to_be_visible()
    # A checker opens no job and keeps no accounts.
    expect(page.get_by_role("button", name="New job")).to_have_count(0)
    expect(page.get_by_role("link", name="People", exact=True)).to_have_count(0)


def test_what_a_set_shares_reaches_the_sheet(page, application):
    page.get_by_role("button", name="Enter as drafter").click()
    page.get_by_role("button", name="New drawing set").click()
    page.locator("[name=set-name]").fill("Tide bell works")
    page.locator("[name=set-mm]").fill("tight")
    page.get_by_role("button", name="Store").click()
    expect(page.get_by_role("alert")).to_contain_text("neither an ISO 2768 class")
    page.locator("[name=set-mm]").fill("ISO 2768-f")
    page.locator("[name=set-notes]").fill("deburr")
    page.get_by_role("button", name="Store").click()
    expect(page.get_by_role("heading", name="Tide bell works")).to_be_visible()
    expect(page.get_by_text(re.compile("ISO 2768-f.*deburr"))).to_be_visible()


def test_a_viewer_looks_at_everything_and_changes_nothing(page, application):
    with application.client() as client:
        for job in client.get("/api/jobs?size=500").json()["jobs"]:
            if job["number"] == "WB-1204":
                application.wait(client, job["id"])
    page.get_by_role("button", name="Enter as viewer").click()
    listed(page, "WB-1204").click()
    expect(page.locator("svg.board")).to_be_visible()
    expect(page.get_by_role("button", name="Measure between two")).to_have_count(0)
    expect(page.get_by_role("button", name=re.compile("Bring in"))).to_have_count(0)
    page.keyboard.press("1")
    expect(page.locator("[data-line='0']")).to_be_disabled()
    expect(page.get_by_role("button", name="Add a line")).to_have_count(0)
    page.get_by_role("tab", name="House rules").click()
    expect(page.get_by_label("Unit of the source")).to_be_disabled()


def test_the_sheet_by_keyboard_alone(page, application):
    with application.client() as client:
        job = next(j["id"] for j in client.get("/api/jobs?size=500").json()["jobs"] if j["number"] == "WB-1204")
        application.wait(client, job)
        before = client.get(f"/api/jobs/{job}/sheet").json()["version"]
    page.get_by_role("button", name="Enter as drafter").focus()
    page.keyboard.press("Enter")
    listed(page, "WB-1204").focus()
    page.keyboard.press("Enter")
    expect(page.locator("svg.board")).to_be_visible()
    expect(page.locator(".ledger")).to_contain_text("Drawn statements")
    # A statement is chosen in the ledger, nudged, moved by typed sums, taken back.
    page.locator(".ledger .body").focus()
    for _ in range(24):
        page.keyboard.press("ArrowDown")
    move = page.get_by_role("button", name="Move by …")
    expect(move).to_be_visible()
    move.press("Enter")
    page.get_by_label("Up, mm").fill("7 / 2 + 3.5")
    page.keyboard.press("Enter")
    undo = page.get_by_role("button", name="Undo")
    expect(undo).to_be_enabled()
    page.get_by_role("button", name="Page …").press("Enter")
    scale = page.get_by_role("combobox", name="Scale", exact=True)
    scale.focus()
    page.keyboard.press("Escape")
    expect(scale).to_be_hidden()
    with page.expect_response("**/sheet/undo"):
        undo.press("Enter")
    with application.client() as client:
        assert client.get(f"/api/jobs/{job}/sheet").json()["version"] == before


def test_people_change_their_password_and_end_their_other_sessions_by_keyboard(page, application):
    with application.client("administrator") as admin:
        admin.post("/api/people", json={"name": "evening drafter", "password": "an old long one", "role": "drafter"})
    other = httpx.Client(base_url=application.address)
    body = {"name": "evening drafter", "password": "an old long one"}
    assert other.post("/api/session", json=body).status_code == 200
    page.get_by_label("Name").fill("evening drafter")
    page.get_by_label("Password").fill("an old long one")
    page.keyboard.press("Enter")
    account = page.get_by_role("button", name="evening drafter")
    account.press("Enter")
    page.get_by_role("menuitem", name="Where I am signed in").press("Enter")
    dialog = page.get_by_role("dialog", name="Where I am signed in")
    expect(dialog.get_by_text("this one")).to_be_visible()
    expect(dialog.locator("li")).to_have_count(2)
    dialog.get_by_role("button", name="End all others").press("Enter")
    expect(dialog.locator("li")).to_have_count(1)
    assert other.get("/api/jobs").status_code == 401
    page.keyboard.press("Escape")
    expect(dialog).to_be_hidden()
    account.press("Enter")
    page.get_by_role("menuitem", name="Change my password").press("Enter")
    for name, text in (("old", "wrong"), ("new", "a new long one"), ("again", "a new long one")):
        page.locator(f"input[name={name}]").fill(text)
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert").filter(has_text="not your present password")).to_be_visible()
    page.locator("input[name=old]").fill("an old long one")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Your password is changed")).to_be_visible()
    assert other.post("/api/session", json=body).status_code == 401
