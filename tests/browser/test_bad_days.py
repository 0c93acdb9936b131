"""Bad input and bad days: refused files, an absent server, two tabs, a program that was updated under an open page."""

import os
import re
import signal

from playwright.sync_api import expect

from tests.conftest import block, recipe, step_bytes
from tests.helpers import edit, insert, new_job, typed, upload

PLATE = [
    block(80, 50, 12),
    {"op": "hole", "at": [[10, 10, 12], [70, 10, 12]], "axis": [0, 0, 1], "diameter": 6, "through": True},
]
DROP = """([files]) => {
  const held = new DataTransfer();
  for (const [name, text] of files) held.items.add(new File([text], name));
  const over = (kind) => window.dispatchEvent(new DragEvent(kind, { dataTransfer: held, bubbles: true, cancelable: true }));
  over("dragenter"); over("dragover"); over("drop");
}"""


def plate(application, number):
    with application.client() as client:
        job = new_job(client, number, title="Plate")
        edit(client, job, insert("a", "80"))
        upload(client, job, step_bytes(recipe(*PLATE)))
        application.wait(client, job)
    return job


def enter(page, application, path=""):
    page.get_by_role("button", name="Enter as drafter").click()
    expect(page.get_by_role("heading", name="Drawing sets")).to_be_visible()
    if path:
        page.goto(f"{application.address}{path}")


def test_ten_files_at_once_with_two_bad_ones(page, application):
    enter(page, application)
    good = step_bytes(recipe(block(30, 20, 10))).decode()
    files = [[f"ten-{k}.step", good] for k in range(8)]
    files[3:3] = [["letter.step", "Dear all"], ["photo.step", "\x89PNG\r\n"]]
    page.evaluate(DROP, [files])
    expect(page.get_by_role("status").filter(has_text="Being drafted")).to_contain_text("ten-7", timeout=120_000)
    expect(page.get_by_role("alert")).to_have_count(2)
    expect(page.get_by_role("alert").first).to_contain_text("“letter.step” is not a STEP file")
    page.get_by_label("Find a job").fill("ten-")
    expect(page.locator("tr.ant-table-row")).to_have_count(8)


def test_what_is_dropped_or_pasted_on_an_empty_job_goes_where_it_belongs(page, application):
    with application.client() as client:
        job = new_job(client, "BAD-2")
    enter(page, application, f"/jobs/{job}/sheet")
    expect(page.get_by_text("Drop a STEP file anywhere on this page")).to_be_visible()
    # Lines are pasted, at any time, on any station.
    paste = """(text) => {
      const held = new DataTransfer(); held.setData("text", text);
      document.body.dispatchEvent(new ClipboardEvent("paste", { clipboardData: held, bubbles: true }));
    }"""
    page.evaluate(paste, "1 | front | 80\n2 | top | 2x ⌀6 THRU")
    expect(page.get_by_text("two holes ⌀6 through")).to_be_visible()
    expect(page.get_by_text("2 lines pasted into the source")).to_be_visible()
    # A print is dropped, then something that is nothing, then the model: it is drafted without a press.
    page.evaluate(DROP, [[["sketch.png", "no picture"]]])
    expect(page.locator(".notice")).to_contain_text("sketch.png")
    page.evaluate(DROP, [[["plate.step", step_bytes(recipe(*PLATE)).decode()]]])
    page.get_by_role("button", name="Go there").click()
    expect(page.locator("svg.board")).to_be_visible()
    expect(page.locator(".ledger [data-key='c:2'] .state-proven")).to_be_visible()


def test_a_title_of_ten_thousand_characters(page, application):
    with application.client() as client:
        long = client.post("/api/jobs", json={"number": "BAD-3", "title": "x" * 10_000})
        assert long.status_code == 422 and len(long.json()["detail"]) < 200
        job = new_job(client, "BAD-3", title="Yoke")
    enter(page, application, f"/jobs/{job}/source")
    page.get_by_role("tab", name="House rules").click()
    title = page.get_by_label("Title", exact=True)
    title.fill("y" * 10_000)
    title.press("Tab")
    expect(page.get_by_role("alert")).to_contain_text("title")
    page.reload()
    page.get_by_role("tab", name="House rules").click()
    expect(title).to_have_value("y" * 10_000)
    title.fill("Yoke of the tide bell")
    title.press("Tab")
    expect(page.get_by_text("all stored")).to_be_visible()
    with application.client() as client:
        assert client.get(f"/api/jobs/{job}").json()["title"] == "Yoke of the tide bell"


def test_offline_for_a_while_nothing_is_lost(page, application):
    job = plate(application, "BAD-4")
    enter(page, application, f"/jobs/{job}/sheet")
    expect(page.locator(".ledger")).to_contain_text("Drawn statements")
    page.locator(".ledger .line", has_text="2× ⌀6 THRU").first.click()
    page.keyboard.press("1")
    page.locator("[data-line='0']").focus()
    page.context.set_offline(True)
    page.keyboard.press("End")
    typed(page, " OVERALL")
    expect(page.get_by_text("not stored yet").or_(page.get_by_text("storing"))).to_be_visible()
    page.locator(".rail button", has_text="Sheet").click()
    page.locator("svg.board").focus()
    page.keyboard.press("ArrowUp")
    page.keyboard.press("ArrowRight")
    expect(page.get_by_text(re.compile("offline"))).to_be_visible()
    page.wait_for_timeout(2500)
    page.context.set_offline(False)
    undo = page.get_by_role("button", name="Undo")
    expect(undo).to_be_enabled()
    page.keyboard.press("1")
    expect(page.get_by_text("all stored")).to_be_visible()
    with application.client() as client:
        assert client.get(f"/api/jobs/{job}/source").json()["lines"][0]["text"] == "80 OVERALL"
        for _ in range(300):
            log = client.get(f"/api/jobs/{job}/sheet").json()["log"]
            if len(log) >= 3:
                break
            page.wait_for_timeout(200)
        assert [(e["command"]["dx"], e["command"]["dy"]) for e in log[:2]] == [(3.5, 0), (0, 7)]


def test_the_server_is_killed_in_the_middle_of_it(page, application):
    job = plate(application, "BAD-5")
    enter(page, application, f"/jobs/{job}/sheet")
    expect(page.locator(".ledger")).to_contain_text("Drawn statements")
    page.locator(".ledger .line", has_text="2× ⌀6 THRU").first.click()
    page.locator("svg.board").focus()
    for pid in application.processes()["web"]:
        os.kill(pid, signal.SIGKILL)
    page.keyboard.press("ArrowUp")
    page.keyboard.press("ArrowUp")
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    with application.client() as client:
        for _ in range(300):
            log = client.get(f"/api/jobs/{job}/sheet").json()["log"]
            if len(log) >= 3:
                break
            page.wait_for_timeout(200)
        page.wait_for_timeout(500)
        assert [e["command"]["op"] for e in log] == ["move", "move", "first draft"], "each once"
    expect(page.get_by_text(re.compile("edits? waits? for it"))).to_have_count(0)


def test_two_tabs_show_the_same(page, application):
    job = plate(application, "BAD-6")
    enter(page, application, f"/jobs/{job}/sheet")
    other = page.context.new_page()
    other.goto(f"{application.address}/jobs/{job}/sheet")
    for tab in (page, other):
        expect(tab.locator(".ledger")).to_contain_text("Drawn statements")
    before = page.locator("svg.board .statement", has_text="2× ⌀6").inner_html()
    other.locator(".ledger .line", has_text="2× ⌀6 THRU").first.click()
    other.locator("svg.board").focus()
    other.keyboard.press("ArrowUp")
    undo = page.get_by_role("button", name="Undo")
    expect(undo).to_be_enabled()
    assert page.locator("svg.board .statement", has_text="2× ⌀6").inner_html() != before
    undo.click()
    expect(other.get_by_role("button", name="Redo")).to_be_enabled()


def test_a_page_left_open_over_an_update_of_the_program(page, application):
    enter(page, application)
    expect(page.get_by_role("heading", name="Drawing sets")).to_be_visible()

    def newer(route):
        answer = route.fetch()
        route.fulfill(response=answer, headers={**answer.headers, "x-canonis-page": "another"})

    page.route("**/api/jobs?*", newer)
    page.get_by_label("Find a job").fill("WB")
    expect(page.get_by_text("Canonis was updated")).to_be_visible()
    page.unroute("**/api/jobs?*")
    page.get_by_role("button", name="Reload").click()
    expect(page.get_by_role("heading", name="Drawing sets")).to_be_visible()
    expect(page.get_by_text("Canonis was updated")).to_have_count(0)
