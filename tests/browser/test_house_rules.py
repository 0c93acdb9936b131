"""A house rule changed at the Source station redrafts the sheet by it; what a person added stays."""

from playwright.sync_api import expect

from tests.conftest import block, recipe, step_bytes
from tests.helpers import choose, chosen, new_job, statement, typed, upload

#: Four holes that are no pattern, two of a size.
PLATE = recipe(
    block(120, 70, 12),
    {
        "op": "hole",
        "at": [[15, 15, 12], [45, 30, 12], [80, 55, 12], [105, 20, 12]],
        "axis": [0, 0, 1],
        "diameter": 8,
        "through": True,
    },
    {"op": "round", "edges": {"parallel": [0, 0, 1]}, "radius": 6},
)


def command(page, words):
    page.keyboard.press("Control+k")
    typed(page, words)
    page.keyboard.press("Enter")


def ruled(page, application, job, *rules):
    page.goto(f"{application.address}/jobs/{job}/source")
    page.get_by_role("tab", name="House rules").click()
    for label, option in rules:
        choose(page, label, option)
        expect(chosen(page, label)).to_contain_text(option)
        expect(page.get_by_text("all stored")).to_be_visible()
    page.goto(f"{application.address}/jobs/{job}/sheet")
    expect(page.locator("svg.board")).to_be_visible()
    with page.expect_response("**/sheet/redraft") as asked:
        command(page, "draft anew")
    assert asked.value.status == 202


def test_a_changed_house_rule_redrafts_the_sheet_and_keeps_what_was_added(page, application):
    with application.client() as client:
        job = new_job(client, "RULES-1", title="Slide")
        upload(client, job, step_bytes(PLATE))
        application.wait(client, job)
        sheet = client.get(f"/api/jobs/{job}/export/json").json()
        seen = [
            a
            for a in sheet["annotations"]
            if a["kind"] == "ordinate" and a["direction"] == "x" and a["text"] in ("45", "105")
        ]
        version = client.get(f"/api/jobs/{job}/sheet").json()["version"]
        answer = client.post(
            f"/api/jobs/{job}/sheet/edits",
            json={
                "version": version,
                "token": "added",
                "command": {"op": "add-linear", "view": seen[0]["view"], "refs": [a["refs"][1] for a in seen]},
            },
        )
        assert answer.status_code == 200, answer.text
    page.get_by_role("button", name="Enter as drafter").click()
    expect(page.get_by_role("heading", name="Drawing sets")).to_be_visible()
    page.goto(f"{application.address}/jobs/{job}/sheet")
    expect(statement(page, "105")).to_be_visible()
    expect(statement(page, "60")).to_be_visible()
    expect(statement(page, "4× ⌀8 THRU")).to_be_visible()

    ruled(page, application, job, ("Locations", "chain"), ("Repeats", "TYP"))
    # Links of a chain: 15, 45 − 15, 80 − 45, 105 − 80, and nothing from the datum any more.
    for link in ("30", "35", "25"):
        expect(statement(page, link)).to_be_visible()
    expect(statement(page, "105")).to_have_count(0)
    expect(statement(page, "⌀8 THRU TYP")).to_be_visible()
    # The length between two holes that a person had added is still there, and proven or said to be said twice.
    expect(statement(page, "60")).to_be_visible()
    page.reload()
    expect(statement(page, "60")).to_be_visible()


def test_the_final_check_asks_what_the_house_asks_and_a_look_falls_with_a_change(page, application):
    with application.client() as client:
        job = new_job(client, "RULES-2", title="Slide")
        upload(client, job, step_bytes(PLATE))
        application.wait(client, job)
    page.get_by_role("button", name="Enter as drafter").click()
    expect(page.get_by_role("heading", name="Drawing sets")).to_be_visible()
    page.goto(f"{application.address}/jobs/{job}/release")
    final = page.get_by_role("list", name="Final check")
    expect(final).to_contain_text("the source states no mass to compare")
    expect(page.get_by_text("The final check is not done yet.")).to_be_visible()
    # By keyboard: the look is said once, with a name and a time.
    final.get_by_role("button", name="I have looked at every page").press("Enter")
    expect(final.locator("[data-part=look]")).to_contain_text("looked at by drafter")
    expect(page.get_by_text("This house asks for all three")).to_be_visible()
    expect(page.get_by_text("The final check is not done yet.")).to_be_visible()
    # Where any one of the three is enough it is done.
    page.goto(f"{application.address}/jobs/{job}/source")
    page.get_by_role("tab", name="House rules").click()
    choose(page, "Final check", "any one of them")
    expect(page.get_by_text("all stored")).to_be_visible()
    page.goto(f"{application.address}/jobs/{job}/release")
    expect(page.get_by_text("The final check is done.")).to_be_visible()
    # Another version of the sheet is to be looked at again.
    page.goto(f"{application.address}/jobs/{job}/sheet")
    expect(page.locator("svg.board")).to_be_visible()
    ruled(page, application, job, ("Locations", "chain"))
    expect(statement(page, "35")).to_be_visible()
    page.goto(f"{application.address}/jobs/{job}/release")
    expect(page.locator("[data-part=look]")).to_contain_text("nobody has looked at this version yet")
