"""The Source station by keyboard alone, and what two people on one list see."""

import io
import re

from playwright.sync_api import expect
from reportlab.pdfgen import canvas

from tests.helpers import chosen, edit, insert, job_by, listed, new_job, typed

#: Sixty made-up characteristics over three sheets, as a drafter would type them.
SHEETS = {
    "sheet 1 front": ["overall length: 96 OVERALL", "40", "70", "12 ±.1", "⌀12 H7 THRU", "R18", "4x ⌀3.3 thru eq sp on ⌀20 pcd", "2 x 45°",
                      "30° from base", "48", "52", "36", "(80)", "⌀16 ±.05", "2x R5", "7.5", "88", "25 basic", "SR6", "wall 3"],
    "sheet 2 top": ["4x dia 6.6 thru cbore 11 6.5 deep", "76", "20", "2x ⌀5 8 deep", "slot 8 wide 14 centres thru", "M8x1.25-6H ↧16 drill ⌀6.8 ↧20",
                    "10", "86", "22", "74", "41", "55", "clearance M6 close", "cap screw M5", "hex 19 af", "keyway 6 x 3.5 x 25", "groove 3 x ⌀24",
                    "12.1/11.9", "8x ⌀4 thru at 45°", "grid 3 x 4 at 20 x 15"],
    "sheet 3 side": ["R3", "10 +.1 -.05", "undercut 2 x 0.5", "taper 1:10", "draft 3°", "all rounds R2", "break edges 0.3", "Ra 1.6", "blacken",
                     "1 1/2 in", "G1/2 ↧12", "arc slot 8 wide R40 60° start 30°", "spline 6 x 23 x 26", "□12", "⌀9 thru csk 18 x 90°", "5x pitch 20",
                     "⌀25 g6", "14 max", "⌀6 thru", "flatness 0.05"],
}  # fmt: skip


def three_sheets(path):
    pen = canvas.Canvas(str(path), pagesize=(842, 595))
    for k in range(3):
        pen.rect(40, 40, 762, 515)
        pen.drawString(60, 60, f"SHEET {k + 1}")
        pen.showPage()
    pen.save()


def test_sixty_characteristics_with_prints_and_flags_by_keyboard_alone(page, application, tmp_path):
    three_sheets(tmp_path / "print.pdf")
    page.get_by_role("button", name="Enter as drafter").focus()
    page.keyboard.press("Enter")
    page.get_by_role("button", name="New job", exact=True).press("Enter")
    expect(page.locator("[name=number]")).to_be_focused()
    typed(page, "WB-60")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Type the source first").press("Enter")
    expect(page.get_by_role("heading", name="What the source says")).to_be_visible()
    bring = page.get_by_role("button", name="Add a print")
    bring.focus()
    expect(bring).to_be_focused()
    with page.expect_file_chooser() as chooser:
        bring.press("Enter")
    chooser.value.set_files(tmp_path / "print.pdf")
    expect(chosen(page, "Print")).to_contain_text("print.pdf")
    page.get_by_role("button", name="Add a line").focus()
    page.keyboard.press("Enter")
    expect(page.locator("[data-line='0']")).to_be_focused()
    number = 0
    for sheet, (where, texts) in enumerate(SHEETS.items()):
        for k, text in enumerate(texts):
            number += 1
            if k == 0:
                # The place of the first line of a sheet; the lines after it take it over.
                page.keyboard.press("Shift+Tab")
                page.keyboard.press("Control+a")
                typed(page, where)
                page.keyboard.press("Tab")
            typed(page, text)
            if k % 7 == 3:
                page.keyboard.press("F2")
                expect(page.get_by_text("Press where the flag belongs")).to_be_visible()
                if k == 3 and sheet:
                    page.keyboard.press("PageDown")
                for _ in range(sheet + 1):
                    page.keyboard.press("Shift+ArrowLeft")
                for _ in range(k):
                    page.keyboard.press("ArrowUp")
                page.keyboard.press("Enter")
                expect(page.locator(f"[data-line='{number - 1}']")).to_be_focused()
            if number < 60:
                page.keyboard.press("Enter")
                expect(page.locator(f"[data-line='{number}']")).to_be_focused()
    expect(page.get_by_text("all stored")).to_be_visible()
    with application.client() as client:
        stored = client.get(f"/api/jobs/{job_by(client, 'WB-60')}/source").json()
    assert [line["text"] for line in stored["lines"]] == [t for texts in SHEETS.values() for t in texts]
    assert not [line["text"] for line in stored["lines"] if line["error"]]
    assert [line["where"] for line in stored["lines"]] == [w for w, texts in SHEETS.items() for _ in texts]
    flags = [(line["number"], line["flag"]["page"]) for line in stored["lines"] if line["flag"]]
    assert flags == [("4", 1), ("11", 1), ("18", 1), ("24", 2), ("31", 2), ("38", 2), ("44", 3), ("51", 3), ("58", 3)]
    # A chosen line shows its flag; a reload shows the same list.
    page.reload()
    expect(page.locator("[data-line='0']")).to_have_value("overall length: 96 OVERALL")
    page.locator("[data-line='3']").focus()
    expect(page.locator("button.flag.on")).to_have_text("4")
    # On the print the flags are walked and one is moved.
    pane = page.get_by_role("application", name=re.compile("print.pdf, page 1"))
    pane.focus()
    page.keyboard.press(".")
    expect(page.locator("button.flag:focus")).to_have_attribute("aria-label", re.compile("^flag 11: "))
    before = next(line["flag"] for line in stored["lines"] if line["number"] == "11")
    page.keyboard.press("f")
    expect(page.get_by_text("Press where the flag belongs")).to_be_visible()
    with page.expect_response("**/source/edits") as moved:
        page.keyboard.press("Shift+ArrowDown")
        page.keyboard.press("Enter")
    after = next(line["flag"] for line in moved.value.json()["source"]["lines"] if line["number"] == "11")
    assert (after["x"], round(after["y"] - before["y"], 3)) == (before["x"], 0.05)


def test_completion_reordering_and_sums_by_keyboard(page, application):
    with application.client() as client:
        job = new_job(client, "WB-61")
        edit(client, job, insert("a", "96"), insert("b", "12", "a"), insert("c", "R6", "b"))
    page.get_by_role("button", name="Enter as drafter").click()
    listed(page, "WB-61").click()
    page.locator(".rail").wait_for()
    page.keyboard.press("1")
    page.locator("[data-line='2']").focus()
    page.keyboard.press("Enter")
    typed(page, "4x ⌀6.6 th")
    expect(page.get_by_role("listbox").get_by_text("THRU")).to_be_visible()
    page.keyboard.press("Tab")
    expect(page.locator("[data-line='3']")).to_have_value("4x ⌀6.6 THRU ")
    expect(page.get_by_text("four holes ⌀6.6 through")).to_be_visible()
    page.keyboard.press("Alt+ArrowUp")
    expect(page.locator("[data-line='3']")).to_have_value("R6")
    page.keyboard.press("Control+d")
    expect(page.locator("[data-line='3']")).to_have_value("4x ⌀6.6 THRU ")
    page.keyboard.press("Control+Delete")
    # Split a line at the cursor.
    page.locator("[data-line='0']").focus()
    page.keyboard.press("End")
    typed(page, " R3")
    for _ in range(3):
        page.keyboard.press("ArrowLeft")
    page.keyboard.press("Alt+Enter")
    expect(page.locator("[data-line='1']")).to_have_value("R3")
    # Choose two lines and say where they stand.
    page.keyboard.press("Shift+ArrowUp")
    bar = page.get_by_role("toolbar", name="Chosen lines")
    bar.get_by_label("Where").focus()
    typed(page, "sheet 9")
    page.keyboard.press("Enter")
    page.keyboard.press("Alt+2")
    page.get_by_role("button", name="Add a chain").focus()
    page.keyboard.press("Enter")
    page.get_by_label("Chain 1", exact=True).focus()
    typed(page, "A -10 ±.1- B -?- C; A -96 ±.3- C")
    page.keyboard.press("Tab")
    expect(page.get_by_text("B-C = 86 mm")).to_be_visible()
    expect(page.get_by_text("±0.4 at worst")).to_be_visible()
    page.keyboard.press("Alt+3")
    page.get_by_role("button", name="Add a working").focus()
    page.keyboard.press("Enter")
    typed(page, "rest = #1 - 2 * 10")
    expect(page.get_by_text("= 76 mm").first).to_be_visible()
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Make it a line").first.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_text("all stored")).to_be_visible()
    with application.client() as client:
        stored = client.get(f"/api/jobs/{job}/source").json()
    assert [line["text"] for line in stored["lines"]] == ["96", "R3", "12", "4x ⌀6.6 THRU ", "R6", "76"]
    assert [line["where"] for line in stored["lines"][:2]] == ["sheet 9", "sheet 9"]
    assert (stored["lines"][-1]["provenance"], stored["lines"][-1]["working"]) == ("worked out", "rest")


def test_two_people_on_one_line(page, application):
    with application.client() as client:
        job = new_job(client, "WB-62")
        edit(client, job, insert("a", "96"), insert("b", "12", "a"))
        page.get_by_role("button", name="Enter as drafter").click()
        listed(page, "WB-62").click()
        page.locator(".rail").wait_for()
        page.keyboard.press("1")
        expect(page.locator("[data-line='1']")).to_have_value("12")
        # What someone else does to another line comes in by itself.
        edit(client, job, {"op": "set", "id": "b", "rev": 1, "fields": {"text": "13"}})
        expect(page.locator("[data-line='1']")).to_have_value("13")
        # The same line at the same time: both sides are shown, nothing is lost.
        page.route(
            "**/source/edits",
            lambda route: (
                edit(client, job, {"op": "set", "id": "a", "rev": 1, "fields": {"text": "97"}}),
                route.continue_(),
            ),
            times=1,
        )
        page.locator("[data-line='0']").fill("98")
        conflict = page.get_by_role("alert").filter(has_text="Someone changed line 1")
        expect(conflict).to_contain_text("98")
        expect(page.locator("[data-line='0']")).to_have_value("97")
        conflict.get_by_role("button", name="Put mine").click()
        expect(page.get_by_text("all stored")).to_be_visible()
        expect(page.locator("[data-line='0']")).to_have_value("98")
        assert client.get(f"/api/jobs/{job}/source").json()["lines"][0]["text"] == "98"


def test_an_answer_that_was_overtaken_takes_nothing_back(page, application):
    with application.client() as client:
        job = new_job(client, "WB-67")
        edit(client, job, insert("a", "96"), insert("b", "12", "a"))
        page.get_by_role("button", name="Enter as drafter").click()
        listed(page, "WB-67").click()
        page.locator(".rail").wait_for()
        page.keyboard.press("1")
        expect(page.locator("[data-line='1']")).to_have_value("12")
        held = []
        page.route(f"**/api/jobs/{job}/source", lambda route: held.append((route, route.fetch())), times=1)
        edit(client, job, {"op": "set", "id": "b", "rev": 1, "fields": {"text": "13"}})
        for _ in range(400):
            if held:
                break
            page.wait_for_timeout(50)
        # The list as it was before this edit is still on its way while the edit is stored.
        with page.expect_response("**/source/edits"):
            page.locator("[data-line='0']").fill("98")
        expect(page.get_by_text("all stored")).to_be_visible()
        route, answer = held[0]
        with page.expect_response(f"**/api/jobs/{job}/source"):
            route.fulfill(response=answer)
        page.wait_for_timeout(300)
        expect(page.locator("[data-line='0']")).to_have_value("98")
        expect(page.locator("[data-line='1']")).to_have_value("13")


def test_a_long_list_stays_fluid(page, application):
    with application.client() as client:
        job = new_job(client, "WB-63")
        edit(
            client,
            job,
            *[insert(f"n{k}", f"{k + 1}x ⌀{k % 40 + 3}.5 THRU", f"n{k - 1}" if k else None) for k in range(500)],
        )
    page.get_by_role("button", name="Enter as drafter").click()
    listed(page, "WB-63").click()
    page.locator(".rail").wait_for()
    page.keyboard.press("1")
    expect(page.locator("[data-line='0']")).to_be_visible()
    assert page.locator(".row").count() < 60, "only the rows in sight are in the page"
    page.locator("[data-line='2']").focus()
    page.locator(".rows").evaluate("e => e.scrollTop = e.scrollHeight")
    expect(page.locator("[data-line='499']")).to_be_visible()
    page.locator("[data-line='499']").focus()
    page.keyboard.press("End")
    typed(page, " TYP")
    expect(page.get_by_text("typical (the count is not stated)").first).to_be_visible()
    expect(page.get_by_text("all stored")).to_be_visible()


def test_findings_are_mended_by_one_press(page, application):
    with application.client() as client:
        job = new_job(client, "WB-64")
        edit(client, job, insert("a", "2x M8 ↧20 DRILL ⌀6.8 ↧16"), insert("b", "40", "a"))
    page.get_by_role("button", name="Enter as drafter").click()
    listed(page, "WB-64").click()
    page.locator(".rail").wait_for()
    page.keyboard.press("1")
    page.get_by_role("tab", name="Findings").click()
    expect(page.get_by_text("the two depths look swapped")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Write it as")).click()
    expect(page.get_by_text("the two depths look swapped")).to_have_count(0)
    with application.client() as client:
        assert client.get(f"/api/jobs/{job}/source").json()["lines"][0]["text"] == "2× M8 ↧16 DRILL ⌀6.8 ↧20"


def test_a_picture_is_turned_and_measured(page, application, tmp_path):
    from PIL import Image

    out = io.BytesIO()
    Image.new("RGB", (800, 400), "white").save(out, "PNG")
    (tmp_path / "sketch.png").write_bytes(out.getvalue())
    with application.client() as client:
        job = new_job(client, "WB-65", unit="mm")
    page.get_by_role("button", name="Enter as drafter").click()
    listed(page, "WB-65").click()
    page.locator(".rail").wait_for()
    page.keyboard.press("1")
    page.locator("[data-test=print-file]").set_input_files(tmp_path / "sketch.png")
    expect(chosen(page, "Print")).to_contain_text("sketch.png")
    with page.expect_response(lambda r: "/prints/" in r.url and r.request.method == "PATCH"):
        page.get_by_role("button", name="Turn", exact=True).click()
    page.get_by_role("button", name="Set the ruler").click()
    # The page stands upright now: from half its height to 20 % of it is 0.3 of its stored width.
    page.keyboard.press("Enter")
    for _ in range(6):
        page.keyboard.press("Shift+ArrowUp")
    page.keyboard.press("Enter")
    page.get_by_label("Known size").fill("2 * 15")
    page.keyboard.press("Enter")
    expect(page.get_by_text("The ruler is set")).to_be_visible()
    page.keyboard.press("Enter")
    for _ in range(10):
        page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("Enter")
    expect(page.get_by_role("status").filter(has_text="50 mm")).to_be_visible()
    with application.client() as client:
        facts = client.get(f"/api/jobs/{job}/source").json()["prints"][0]["pages"][0]
    assert facts["turn"] == 90 and abs(facts["mm_per_width"] - 100) < 0.01


def test_a_line_that_the_server_refuses_stays_marked_and_takes_no_other_with_it(page, application):
    with application.client() as client:
        job = new_job(client, "WB-REFUSED")
        edit(client, job, insert("a", "96"), insert("b", "R6", "a"))
    page.get_by_role("button", name="Enter as drafter").click()
    listed(page, "WB-REFUSED").click()
    page.locator(".rail").wait_for()
    page.keyboard.press("1")
    # A number longer than any is: the field takes it, the server does not.
    page.get_by_label("Number of line 1").fill("1" * 30)
    page.keyboard.press("Tab")
    page.get_by_label("Shorthand of line 2").fill("R7")
    expect(page.get_by_text(re.compile("Not stored: The number must be text of at most 20"))).to_be_visible()
    expect(page.get_by_text("some edits were refused")).to_be_visible()
    with application.client() as client:
        lines = client.get(f"/api/jobs/{job}/source").json()["lines"]
    assert [(x["number"], x["text"]) for x in lines] == [("1", "96"), ("2", "R7")]
    page.reload()
    expect(page.get_by_label("Number of line 1")).to_have_value("1" * 30)
    page.get_by_label("Number of line 1").fill("1A")
    page.keyboard.press("Tab")
    expect(page.get_by_text("all stored")).to_be_visible()


def test_a_flag_is_put_where_the_pointer_presses_and_a_drag_moves_the_print(page, application, tmp_path):
    three_sheets(tmp_path / "print.pdf")
    with application.client() as client:
        job = new_job(client, "WB-66", unit="mm")
        edit(client, job, insert("L1", "96"))
    page.get_by_role("button", name="Enter as drafter").click()
    listed(page, "WB-66").click()
    page.locator(".rail").wait_for()
    page.keyboard.press("1")
    page.locator("[data-test=print-file]").set_input_files(tmp_path / "print.pdf")
    expect(chosen(page, "Print")).to_contain_text("print.pdf")
    pane = page.get_by_role("application", name=re.compile("print.pdf, page 1"))
    leaf = pane.locator(".leaf")
    # Painted: from then on it stands where it is shown.
    expect(leaf.locator("canvas")).to_have_attribute("width", re.compile(r"\d+"))
    room = pane.bounding_box()
    page.locator("[data-line='0']").focus()
    page.get_by_role("button", name="Flag for 1").click()
    # The print stays where it is while its flag is being placed.
    assert pane.bounding_box() == room
    box = leaf.bounding_box()
    page.mouse.click(box["x"] + 0.25 * box["width"], box["y"] + 0.75 * box["height"])
    expect(pane.locator(".flag")).to_have_count(1)
    expect(page.get_by_text("all stored")).to_be_visible()
    with application.client() as client:
        flag = client.get(f"/api/jobs/{job}/source").json()["lines"][0]["flag"]
    assert abs(flag["x"] - 0.25) < 0.01 and abs(flag["y"] - 0.75) < 0.01
    # A drag moves the print and puts nothing on it.
    page.mouse.move(room["x"] + 40, room["y"] + 40)
    page.mouse.down()
    page.mouse.move(room["x"] + 110, room["y"] + 65, steps=4)
    page.mouse.up()
    moved = leaf.bounding_box()
    assert abs(moved["x"] - box["x"] - 70) < 1 and abs(moved["y"] - box["y"] - 25) < 1
    expect(pane.locator(".flag")).to_have_count(1)
