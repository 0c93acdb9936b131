"""What is typed stays typed: answers, other people, a reload and a server that is away do not touch it."""

from playwright.sync_api import expect

from tests.helpers import edit, insert, job_by, new_job, typed


def rules_of(page, application, job):
    page.get_by_role("button", name="Enter as drafter").click()
    expect(page.get_by_role("heading", name="Drawing sets")).to_be_visible()
    page.goto(f"{application.address}/jobs/{job}/source")
    page.get_by_role("tab", name="House rules").click()
    field = page.get_by_label("Title", exact=True)
    expect(field).to_be_visible()
    return field


def test_a_field_at_work_is_not_touched_by_what_others_store(page, application):
    with application.client() as client:
        job = new_job(client, "LOST-1", title="Drum")
        field = rules_of(page, application, job)
        field.click()
        page.keyboard.press("End")
        typed(page, " of the strike ")
        head = client.get(f"/api/jobs/{job}/source").json()
        put = {
            "op": "put",
            "what": "head",
            "rev": head["revs"].get("head", 0),
            "value": {**head["head"], "material": "bronze"},
        }
        edit(client, job, put)
        expect(page.get_by_label("Material", exact=True)).to_have_value("bronze")
        expect(field).to_have_value("Drum of the strike ")
        typed(page, "train")
        page.keyboard.press("Tab")
        expect(page.get_by_text("all stored")).to_be_visible()
        stored = client.get(f"/api/jobs/{job}/source").json()["head"]
        assert (stored["title"], stored["material"]) == ("Drum of the strike train", "bronze")


def test_what_is_typed_survives_a_reload_and_is_stored_when_it_is_left(page, application):
    with application.client() as client:
        job = new_job(client, "LOST-2", title="Cowl")
    field = rules_of(page, application, job)
    field.fill("Dial-lamp cowl")
    page.reload()
    page.get_by_role("tab", name="House rules").click()
    expect(field).to_have_value("Dial-lamp cowl")
    field.click()
    typed(page, "!")
    page.keyboard.press("Tab")
    expect(page.get_by_text("all stored")).to_be_visible()
    with application.client() as client:
        assert client.get(f"/api/jobs/{job}/source").json()["head"]["title"] == "Dial-lamp cowl!"


def test_workings_keep_their_blanks_while_an_answer_arrives(page, application):
    with application.client() as client:
        job = new_job(client, "LOST-3")
        rules_of(page, application, job)
        page.keyboard.press("Alt+3")
        page.get_by_role("button", name="Add a working").click()
        typed(page, "rest = 2 1/2 - ")
        expect(page.get_by_text("all stored")).to_be_visible()
        edit(client, job, insert("n1", "96"))
        page.wait_for_timeout(1200)
        typed(page, "2 * 3/8")
        expect(page.get_by_label("Working 1", exact=True)).to_have_value("rest = 2 1/2 - 2 * 3/8")
        expect(page.get_by_text("= 1.75").first).to_be_visible()


def test_two_people_on_one_sheet(page, application):
    with application.client() as client, application.client("administrator") as other:
        job = job_by(client, "WB-1204")
        application.wait(client, job)
        page.get_by_role("button", name="Enter as drafter").click()
        expect(page.get_by_role("heading", name="Drawing sets")).to_be_visible()
        page.goto(f"{application.address}/jobs/{job}/sheet")
        board = page.locator("svg.board")
        expect(board).to_be_visible()
        sheet = client.get(f"/api/jobs/{job}/sheet").json()
        names = list(dict.fromkeys(t["o"] for t in sheet["pages"][0]["texts"] if t["o"].startswith("D")))
        page.context.set_offline(True)
        page.locator(f".ledger [data-key='s:{names[0]}']").click()
        body = {"version": sheet["version"], "command": {"op": "move", "id": names[1], "dx": 3, "dy": 0}}
        assert other.post(f"/api/jobs/{job}/sheet/edits", json=body).status_code == 200
        page.context.set_offline(False)
        page.get_by_role("button", name="Move by …").click()
        page.get_by_label("Up, mm").fill("7")
        with page.expect_response("**/sheet/edits"):
            page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="Undo")).to_be_enabled()
        log = client.get(f"/api/jobs/{job}/sheet").json()["log"]
        assert [(e["author"], e["command"]["id"]) for e in log[:2]] == [
            ("drafter", names[0]),
            ("administrator", names[1]),
        ]


def test_a_checkpoint_keeps_its_blanks_while_an_answer_arrives(page, application):
    with application.client() as client:
        job = new_job(client, "LOST-4")
        rules_of(page, application, job)
        page.keyboard.press("Alt+4")
        page.get_by_role("button", name="Add a checkpoint").click()
        step = page.get_by_label("step of checkpoint 1")
        step.click()
        typed(page, "after the ")
        edit(client, job, insert("n1", "96"))
        page.wait_for_timeout(1500)
        typed(page, "bore")
        expect(step).to_have_value("after the bore")
        page.keyboard.press("Tab")
        # A sum is worked out when it is left, not while it is typed: slowly, so that each answer would come in between.
        typed(page, "2 * 206.35 g", delay=120)
        page.keyboard.press("Tab")
        mass = page.get_by_label("mass of checkpoint 1")
        expect(mass).to_have_value("412.7 g")
        expect(page.get_by_text("all stored")).to_be_visible()
        kept = client.get(f"/api/jobs/{job}/source").json()["checkpoints"]
        assert kept[0]["text"].startswith("after the bore | 412.7")


def test_limits_and_decimals_are_typed_on_while_the_solid_answers(page, application):
    with application.client() as client, application.client("administrator") as other:
        job = job_by(client, "WB-1202")
        application.wait(client, job)
        page.get_by_role("button", name="Enter as drafter").click()
        expect(page.get_by_role("heading", name="Drawing sets")).to_be_visible()
        page.goto(f"{application.address}/jobs/{job}/solid")
        page.get_by_role("tab", name="Faults").click()
        field = page.get_by_label("deepest drilling, ⌀")
        field.click()
        page.keyboard.press("Control+a")
        typed(page, "1")
        before = client.get(f"/api/jobs/{job}/station").json()
        other.patch(
            f"/api/jobs/{job}/station", json={"limits": {**before["limits"], "wall_mm": 1.5}}
        ).raise_for_status()
        edit(client, job, insert("late", "1 1/2 in"))
        page.wait_for_timeout(1500)
        typed(page, "2")
        expect(field).to_have_value("12")
        with page.expect_response("**/station"):
            page.keyboard.press("Tab")
        page.get_by_role("tab", name="Weigh").click()
        decimals = page.get_by_label("Decimals", exact=True)
        decimals.fill("4")
        with page.expect_response("**/station"):
            decimals.press("Tab")
        after = client.get(f"/api/jobs/{job}/station").json()
        assert (after["limits"]["drill_diameters"], after["decimals"]) == (12, 4)
        client.patch(f"/api/jobs/{job}/station", json={"limits": before["limits"], "decimals": before["decimals"]})
        line = next(x for x in client.get(f"/api/jobs/{job}/source").json()["lines"] if x["id"] == "late")
        edit(client, job, {"op": "remove", "id": "late", "rev": line["rev"]})
