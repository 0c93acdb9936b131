"""Background work as a user meets it: progress, cancel, one copy of equal files, redrafts, many at once."""

import json
import threading

import pytest

from tests.conftest import block, recipe, step_bytes
from tests.helpers import insert, job_by, new_job, upload


def test_progress_comes_as_events_and_ends(application, client):
    job = new_job(client, "T-EVENTS")
    stages: list[str] = []
    done = threading.Event()

    def listen():
        with client.stream("GET", f"/api/jobs/{job}/events", timeout=90) as stream:
            for line in stream.iter_lines():
                if line.startswith("data:"):
                    now = json.loads(line[5:])
                    stages.extend(t["stage"] for t in now["tasks"][:1])
                    if now["tasks"] and now["tasks"][0]["state"] == "done" and now["sheet"]:
                        done.set()
                        return

    listener = threading.Thread(target=listen)
    listener.start()
    assert upload(client, job, step_bytes(recipe(block(31, 21, 11)))).status_code == 202
    assert done.wait(80)
    listener.join(5)
    assert len(set(stages)) >= 3, "more than waiting and done is told"
    assert stages[-1] == "Done"


def test_work_can_be_cancelled_and_taken_up_again(application, client, cock_step):
    job = new_job(client, "T-CANCEL")
    task = upload(client, job, cock_step).json()
    assert client.post(f"/api/tasks/{task['id']}/cancel").status_code == 204
    state = application.wait(client, job)
    assert state["tasks"][0]["state"] in ("cancelled", "done")
    if state["tasks"][0]["state"] == "cancelled":
        assert state["sheet_version"] is None and "upload the file again" in state["tasks"][0]["error"]
    assert upload(client, job, cock_step).status_code == 202
    assert application.wait(client, job)["sheet_version"]
    assert client.post("/api/tasks/999999/cancel").status_code == 404


def test_equal_files_are_stored_once(application, client):
    import psycopg

    data = step_bytes(recipe(block(17, 13, 7)))
    for number in ("T-SAME-1", "T-SAME-2"):
        job = new_job(client, number)
        assert upload(client, job, data).status_code == 202
        application.wait(client, job)
    with psycopg.connect(application.database_address()) as connection:
        count = connection.execute("select count(*), count(distinct sha256) from blobs").fetchone()
    assert count[0] == count[1]


def test_a_new_draft_keeps_added_dimensions_and_can_be_undone(application, client):
    job = new_job(client, "T-REDRAFT")
    holes = {"op": "hole", "at": [[15, 15, 10], [45, 15, 10]], "axis": [0, 0, 1], "diameter": 6, "through": True}
    assert upload(client, job, step_bytes(recipe(block(60, 30, 10), holes))).status_code == 202
    application.wait(client, job)
    sheet = client.get(f"/api/jobs/{job}/sheet").json()
    centres = [p for p in sheet["pages"][0]["picks"] if p["kind"] == "centre"]
    view = centres[0]["view"]
    pair = [p["ref"] for p in centres if p["view"] == view][:2]
    command = {"op": "add-linear", "view": view, "refs": pair}
    made = client.post(f"/api/jobs/{job}/sheet/edits", json={"version": sheet["version"], "command": command})
    assert made.status_code == 200, made.text
    assert "30" in [t["t"] for t in made.json()["pages"][0]["texts"]]
    answer = client.post(
        f"/api/jobs/{job}/sheet/redraft", json={"version": made.json()["version"], "datum": "right-front-bottom"}
    )
    assert answer.status_code == 202
    application.wait(client, job)
    after = client.get(f"/api/jobs/{job}/sheet").json()
    texts = [t["t"] for t in after["pages"][0]["texts"]]
    assert after["datum"] == "right-front-bottom" and texts.count("30") >= 1
    # Another choice later keeps the datum that was chosen before.
    client.post(f"/api/jobs/{job}/sheet/redraft", json={"version": after["version"], "projection": "third"})
    application.wait(client, job)
    later = client.get(f"/api/jobs/{job}/sheet").json()
    assert (later["datum"], later["projection"]) == ("right-front-bottom", "third")
    assert client.post(f"/api/jobs/{job}/sheet/undo").json()["projection"] == after["projection"]


def test_two_edits_of_one_version_one_wins_and_the_other_is_told(application, client):
    job = new_job(client, "T-RACE")
    assert upload(client, job, step_bytes(recipe(block(44, 22, 9)))).status_code == 202
    application.wait(client, job)
    sheet = client.get(f"/api/jobs/{job}/sheet").json()
    name = next(t["o"] for t in sheet["pages"][0]["texts"] if t["t"] == "44")
    codes: list[int] = []

    def move(dx):
        body = {"version": sheet["version"], "command": {"op": "move", "id": name, "dx": dx, "dy": 0}}
        codes.append(client.post(f"/api/jobs/{job}/sheet/edits", json=body).status_code)

    threads = [threading.Thread(target=move, args=(k,)) for k in (1, 2, 3)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert sorted(codes) == [200, 409, 409]


def test_the_sheet_follows_its_source(application, client):
    job = new_job(client, "T-LINKED")
    assert upload(client, job, step_bytes(recipe(block(50, 40, 10)))).status_code == 202
    application.wait(client, job)
    head = {"title": "Bell yoke", "material": "brass", "notes": "blacken", "unit": "mm", "style": "iso"}
    body = {"ops": [insert("a", "50"), {"op": "put", "what": "head", "rev": 0, "value": head}]}
    assert client.post(f"/api/jobs/{job}/source/edits", json=body).status_code == 200
    texts = [t["t"] for t in client.get(f"/api/jobs/{job}/sheet").json()["pages"][0]["texts"]]
    assert {"Bell yoke", "brass", "170.0 g", "BLACKEN"} <= set(texts)
    ledger = {r["key"]: r for r in client.get(f"/api/jobs/{job}/proof").json()["ledger"]}
    assert ledger["c:1"]["state"] == "proven" and ledger["c:1"]["how"] == "50"


def test_opening_a_job_again_is_quick_work_for_the_server(application, client):
    job = job_by(client, "WB-1202")
    application.wait(client, job)
    client.get(f"/api/jobs/{job}/sheet")
    first = client.get(f"/api/jobs/{job}/sheet").json()
    # The compiled pages come from the store: the same version gives the same pages without the kernel.
    assert client.get(f"/api/jobs/{job}/sheet").json()["pages"] == first["pages"]
    assert client.get(f"/api/jobs/{job}/proof").json()["version"] == first["version"]


@pytest.mark.parametrize("kind", ["pdf", "svg", "csv", "json"])
def test_files_are_the_same_each_time(application, client, kind):
    job = job_by(client, "WB-1204")
    application.wait(client, job)
    one, two = (client.get(f"/api/jobs/{job}/export/{kind}") for _ in range(2))
    assert one.status_code == 200 and one.content == two.content
    assert f'filename="WB-1204.{kind}"' in one.headers["content-disposition"]
