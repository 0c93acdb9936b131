"""Background work as a user meets it: progress, cancel, one copy of equal files, redrafts, many at once."""

import hashlib
import os
import signal
import threading

import psycopg
import pytest

from tests.conftest import block, recipe, step_bytes
from tests.helpers import insert, job_by, new_job, upload


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
    data = step_bytes(recipe(block(17, 13, 7)))
    sha = hashlib.sha256(data).hexdigest()
    with psycopg.connect(application.database_address(), autocommit=True) as line:
        (before,) = line.execute("select count(*) from blobs").fetchone()
        for number in ("T-SAME-1", "T-SAME-2"):
            job = new_job(client, number)
            assert upload(client, job, data).status_code == 202
            application.wait(client, job)
        (after,) = line.execute("select count(*) from blobs").fetchone()
        uses = line.execute("select count(*) from models where sha256 = %s", (sha,)).fetchone()
        (kept,) = line.execute("select data from blobs where sha256 = %s", (sha,)).fetchone()
    assert (after - before, uses, bytes(kept)) == (1, (2,), data)


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
    assert (
        client.post(f"/api/jobs/{job}/sheet/undo", json={"version": later["version"]}).json()["projection"]
        == after["projection"]
    )


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
    assert {"Bell yoke", "brass", "170.0 g"} <= set(texts)
    assert [t.partition(". ")[2] for t in texts if "blacken" in t] == ["blacken"]
    ledger = {r["key"]: r for r in client.get(f"/api/jobs/{job}/proof").json()["ledger"]}
    assert ledger["c:1"]["state"] == "proven" and ledger["c:1"]["how"] == "50"


def test_opening_a_job_again_needs_no_kernel(application, client):
    job = job_by(client, "WB-1202")
    application.wait(client, job)
    first = client.get(f"/api/jobs/{job}/sheet").json()
    proof = client.get(f"/api/jobs/{job}/proof").json()
    # With the kernel children stopped in their tracks, pages and proof still come: from the store.
    children = application.processes()["web child"]
    for pid in children:
        os.kill(pid, signal.SIGSTOP)
    try:
        assert client.get(f"/api/jobs/{job}/sheet").json() == first
        assert client.get(f"/api/jobs/{job}/proof").json() == proof
    finally:
        for pid in children:
            os.kill(pid, signal.SIGCONT)
    assert children and proof["version"] == first["version"]


@pytest.mark.parametrize("kind", ["pdf", "svg", "csv", "json"])
def test_files_are_the_same_each_time(application, client, kind):
    job = job_by(client, "WB-1204")
    application.wait(client, job)
    one, two = (client.get(f"/api/jobs/{job}/export/{kind}") for _ in range(2))
    assert one.status_code == 200 and one.content == two.content
    # Named by number, revision and, where it shows but one, the sheet.
    sheet = "-sheet1" if kind in ("svg", "png") else ""
    assert f'filename="WB-1204-A{sheet}.{kind}"' in one.headers["content-disposition"]
