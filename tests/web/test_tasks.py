"""Background work that goes wrong: it ends, with one sentence, and leaves nothing waiting or in the wrong place."""

import json
import time

import psycopg
import pytest

from tests.conftest import block, recipe, step_bytes
from tests.helpers import new_job, upload


def rows(application, query, *values):
    with psycopg.connect(application.database_address(), autocommit=True) as line:
        cursor = line.execute(query, values)
        return cursor.fetchall() if cursor.description else None


def test_a_poison_task_is_tried_a_few_times_and_then_failed(application, client):
    job = new_job(client, "T-POISON")
    # A kind that no worker knows stands for whatever nobody foresaw.
    ((task,),) = rows(
        application,
        "insert into tasks (job_id, kind, state, stage, error, arguments, created, changed) "
        "values (%s, 'melt', 'waiting', '', '', '{}', now(), now() - interval '1 minute') returning id",
        job,
    )
    state = application.wait(client, job)
    assert (state["tasks"][0]["state"], state["tasks"][0]["id"]) == ("failed", task)
    error = state["tasks"][0]["error"]
    assert "failed on this" in error and len(error.splitlines()) == 1
    left = "select count(*) from procrastinate_jobs where (args->>'task_id')::int = %s and status <> 'doing'"
    end = time.monotonic() + 30
    while rows(application, left, task) != [(0,)] and time.monotonic() < end:
        time.sleep(0.2)
    assert rows(application, left, task) == [(0,)], "a failed row stays on the queue"
    tries = application.log.read_text().count(f"task={task}") or application.log.read_text().count(
        f"task\x1b[0m=\x1b[35m{task}\x1b"
    )
    assert 2 <= tries <= 4


def test_a_task_that_left_the_queue_is_over_with_one_sentence(application, client):
    job = new_job(client, "T-LOST")
    rows(
        application,
        "insert into tasks (job_id, kind, state, stage, error, arguments, created, changed) "
        "values (%s, 'ledger', 'running', 'Reading', '', '{}', now(), now() - interval '1 minute')",
        job,
    )
    task = application.wait(client, job)["tasks"][0]
    assert task["state"] == "failed" and "lost hold of this" in task["error"]


def test_control_characters_in_a_product_name_do_no_harm(application, client):
    job = new_job(client, "T-NUL")
    data = step_bytes(recipe(block(31, 22, 13)))
    for old in (b"PRODUCT('trial'", b"PRODUCT( 'trial'"):
        data = data.replace(old, b"PRODUCT('bell\x00\x07 yoke'")
    assert b"bell\x00" in data
    assert upload(client, job, data).status_code == 202
    state = application.wait(client, job)
    assert state["tasks"][0]["state"] == "done" and state["sheet_version"]
    assert client.get(f"/api/jobs/{job}/solid").json()["report"]["solids"][0]["name"] == "bell yoke"


def test_a_cancelled_task_leaves_its_model_cancelled(application, client, cock_step):
    job = new_job(client, "T-CANCELLED")
    # A worker that is stopped in its tracks cannot begin; the task waits.
    import os
    import signal

    (worker,) = application.processes()["worker"]
    os.kill(worker, signal.SIGSTOP)
    try:
        task = upload(client, job, cock_step).json()
        assert client.post(f"/api/tasks/{task['id']}/cancel").status_code == 204
        state = client.get(f"/api/jobs/{job}").json()
        assert (state["tasks"][0]["state"], state["models"][0]["state"]) == ("cancelled", "cancelled")
        assert "upload the file again" in state["models"][0]["error"]
    finally:
        os.kill(worker, signal.SIGCONT)
    # It stays so when the worker comes to it, and the file can be brought in again.
    assert upload(client, job, cock_step).status_code == 202
    state = application.wait(client, job)
    assert [m["state"] for m in state["models"]] == ["ready", "cancelled"]


def test_measurements_of_another_file_are_found_out_and_made_again(application, client):
    job = new_job(client, "T-HASH")
    upload(client, job, step_bytes(recipe(block(12, 34, 56))))
    application.wait(client, job)
    good = client.get(f"/api/jobs/{job}/solid").json()["report"]["solids"]
    model = client.get(f"/api/jobs/{job}").json()["model_id"]
    rows(
        application, "update models set report = jsonb_set(report, '{file,sha256}', '\"another\"') where id = %s", model
    )
    refused = client.get(f"/api/jobs/{job}/solid")
    assert refused.status_code == 409 and "another file" in refused.json()["detail"]
    application.wait(client, job)
    assert client.get(f"/api/jobs/{job}/solid").json()["report"]["solids"] == good


def test_two_files_in_quick_succession_leave_the_later_one(application, client):
    job = new_job(client, "T-QUICK")
    for width in (41, 42, 43):
        assert upload(client, job, step_bytes(recipe(block(width, 20, 10))), f"w{width}.step").status_code == 202
    state = application.wait(client, job)
    assert state["model_id"] == max(m["id"] for m in state["models"])
    box = client.get(f"/api/jobs/{job}/solid").json()["report"]["solids"][0]["bbox_mm"]
    assert box[1][0] == pytest.approx(43)


def test_own_materials_weigh_on_the_sheet_and_in_the_proof_as_at_the_station(application, client):
    job = new_job(client, "T-OWN", material="bell metal")
    upload(client, job, step_bytes(recipe(block(50, 40, 10))))
    application.wait(client, job)
    assert client.get(f"/api/jobs/{job}/proof").json()["mass"]["mass_g"] is None
    assert client.patch(f"/api/jobs/{job}/station", json={"materials": {"bell metal": 8.7}}).status_code == 200
    assert client.get(f"/api/jobs/{job}/masses").json()["bodies"][0]["mass_g"] == pytest.approx(174)
    assert client.get(f"/api/jobs/{job}/proof").json()["mass"]["mass_g"] == pytest.approx(174)
    texts = [t["t"] for t in client.get(f"/api/jobs/{job}/sheet").json()["pages"][0]["texts"]]
    assert "174.0 g" in texts and "drafter" in texts, "the mass, and who drew it"


def test_who_approves_and_when_is_no_edit(application, client):
    job = new_job(client, "T-WHO")
    upload(client, job, step_bytes(recipe(block(20, 30, 10))))
    application.wait(client, job)
    sheet = client.get(f"/api/jobs/{job}/sheet").json()

    def edit(**command):
        body = {"version": sheet["version"], "command": command}
        return client.post(f"/api/jobs/{job}/sheet/edits", json=body)

    for what in ("approved_by", "created_by", "date"):
        assert edit(op="set", what=what, value="me").status_code == 422
    # The caution stands on the sheet whatever is taken off it.
    removed = edit(op="remove", id="N1")
    assert removed.status_code == 200
    texts = [t["t"] for t in removed.json()["pages"][0]["texts"]]
    assert any("qualified, licensed engineer" in t for t in texts) and not any("UNLESS OTHERWISE" in t for t in texts)
    assert b"licensed engineer" in client.get(f"/api/jobs/{job}/export/svg").content


@pytest.mark.parametrize("role", ["checker"])
def test_nobody_waits_for_a_stage_between_two_looks(application, client, role):
    """Every stage of a small draft is told, in order, to a browser that looked before the file came."""
    import threading

    job = new_job(client, "T-STAGES")
    told, begun, done = [], threading.Event(), threading.Event()

    def listen():
        with (
            application.client(role) as watcher,
            watcher.stream("GET", f"/api/jobs/{job}/events", timeout=90) as stream,
        ):
            for line in stream.iter_lines():
                if line.startswith("data:"):
                    now = json.loads(line[5:])
                    begun.set()
                    if now["tasks"] and (not told or now["tasks"][0]["stage"] != told[-1]):
                        told.append(now["tasks"][0]["stage"])
                    if now["tasks"] and now["tasks"][0]["state"] == "done":
                        done.set()
                        return

    thread = threading.Thread(target=listen)
    thread.start()
    assert begun.wait(60)
    assert upload(client, job, step_bytes(recipe(block(31, 21, 12)))).status_code == 202
    assert done.wait(90)
    thread.join(10)
    wanted = [
        "Waiting for a worker",
        "Starting",
        "Reading the model",
        "Measuring and recognising features",
        "Preparing the picture of the solid",
        "Proving every statement",
        "Done",
    ]
    assert [s for s in told if s in wanted] == wanted
