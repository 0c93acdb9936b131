"""Ticks through the API: kept by reference with who and when, fallen only where something changed."""

import time

import pytest

from tests.conftest import block, recipe, step_bytes
from tests.helpers import edit, insert, new_job, upload

HOLE = {"op": "hole", "at": [[20, 15, 12]], "axis": [0, 0, 1], "diameter": 8, "through": True}
OTHER = {"op": "hole", "at": [[60, 30, 12]], "axis": [0, 0, 1], "diameter": 6, "through": True}
LINES = ("80", "50", "12", "⌀8 THRU", "20", "15", "⌀6 THRU", "60", "30")


def ledger(client, job):
    end = time.monotonic() + 60
    while time.monotonic() < end:
        proof = client.get(f"/api/jobs/{job}/proof").json()
        busy = [t for t in client.get(f"/api/jobs/{job}").json()["tasks"] if t["state"] in ("waiting", "running")]
        if proof["asked"] and not busy:
            break
        time.sleep(0.2)
    return {r["number"]: r for r in proof["ledger"] if r["kind"] == "characteristic"}


@pytest.fixture(scope="module")
def job(application):
    client = application.client()
    made = new_job(client, "T-TICKS")
    ids = [f"T{k}" for k in range(len(LINES))]
    edit(client, made, *[insert(i, t, after) for i, t, after in zip(ids, LINES, [None, *ids], strict=False)])
    upload(client, made, step_bytes(recipe(block(80, 50, 12), HOLE, OTHER)))
    application.wait(client, made)
    return made


def tick(client, job, number, place=None):
    row = ledger(client, job)[number]
    return client.put(f"/api/jobs/{job}/ticks/{number}", json={"place": row["place"] if place is None else place})


def test_a_tick_says_who_and_when(application, job):
    client, checker = application.client(), application.client("checker")
    assert {r["state"] for r in ledger(client, job).values()} == {"proven"}
    for number in ("1", "4", "5", "7"):
        assert tick(checker, job, number).status_code == 204
    rows = ledger(client, job)
    assert rows["4"]["ticked"]["by"] == "checker" and rows["4"]["ticked"]["at"][:2] == "20"
    assert rows["2"]["ticked"] is None
    refused = tick(checker, job, "2", place="somewhere else")
    assert refused.status_code == 409 and "look at its place once more" in refused.json()["detail"]
    assert client.put(f"/api/jobs/{job}/ticks/77", json={"place": ""}).status_code == 409
    listed = client.get(f"/api/jobs/{job}/source/export/pdf")
    assert listed.status_code == 200 and listed.content.startswith(b"%PDF")


def test_a_revised_model_lets_those_ticks_fall_that_it_changes(application, job):
    client = application.client()
    wider = {**HOLE, "diameter": 9}
    upload(client, job, step_bytes(recipe(block(80, 50, 12), wider, OTHER)))
    application.wait(client, job)
    rows = ledger(client, job)
    assert rows["4"]["state"] == "differs" and rows["4"]["ticked"] is None and rows["4"]["tick_fell"]["why"]
    assert rows["1"]["ticked"] and rows["5"]["ticked"] and rows["7"]["ticked"]
    upload(client, job, step_bytes(recipe(block(80, 50, 12), HOLE, OTHER)))
    application.wait(client, job)
    assert ledger(client, job)["4"]["ticked"]


def test_a_changed_line_loses_its_tick_and_a_taken_back_one_is_gone(application, job):
    client = application.client()
    assert client.delete(f"/api/jobs/{job}/ticks/1").status_code == 204
    assert ledger(client, job)["1"]["ticked"] is None and not ledger(client, job)["1"].get("tick_fell")
    line = client.get(f"/api/jobs/{job}").json()["source"]["lines"][6]
    edit(client, job, {"op": "set", "id": line["id"], "rev": line["rev"], "fields": {"text": "⌀6 THRU ALL"}})
    assert "changed" in ledger(client, job)["7"]["tick_fell"]["why"]


def test_yes_to_a_line_in_an_unlikely_place_settles_it(application):
    client = application.client()
    made = new_job(client, "T-TICKS-UNLIKELY")
    lines = ("80", "50", "12", "⌀8 THRU", "20", "15", "⌀6 THRU", "40", "30")
    ids = [f"U{k}" for k in range(len(lines))]
    edit(client, made, *[insert(i, t, after) for i, t, after in zip(ids, lines, [None, *ids], strict=False)])
    upload(client, made, step_bytes(recipe(block(80, 50, 12), HOLE, OTHER)))
    application.wait(client, made)
    row = ledger(client, made)["8"]
    assert row["state"] == "ambiguous" and "axis of H" in row["measure"]
    assert tick(client, made, "8").status_code == 204
    after = ledger(client, made)["8"]
    assert after["state"] == "proven" and after["ticked"]["by"] == "drafter"
    assert client.get(f"/api/jobs/{made}/proof").json()["links"]["8"] == row["place"]
