import io
import os
import signal
import time

import pytest
from pypdf import PdfReader

from tests.conftest import block, recipe, step_bytes


def job_by(client, number):
    return next(j["id"] for j in client.get("/api/jobs").json() if j["number"] == number)


def new_job(client, number, **more):
    answer = client.post("/api/jobs", json={"number": number, **more})
    assert answer.status_code == 201, answer.text
    return answer.json()["id"]


def upload(client, job, data, name="part.step"):
    return client.post(f"/api/jobs/{job}/models", files={"file": (name, data)})


def test_health_and_who_may_do_what(application):
    import httpx

    with httpx.Client(base_url=application.address) as nobody:
        assert nobody.get("/api/health").json()["status"] == "well"
        assert nobody.get("/api/jobs").status_code == 401
        assert nobody.post("/api/session", json={"name": "drafter", "password": "no"}).status_code == 401
        assert {a["role"] for a in nobody.get("/api/session").json()["demo"]} == {
            "drafter",
            "checker",
            "viewer",
            "administrator",
        }
    for role in ("viewer", "checker"):
        with application.client(role) as client:
            assert client.get("/api/jobs").status_code == 200
            assert client.post("/api/jobs", json={"number": "X"}).status_code == 403
            cookie = next(iter(client.cookies.jar))
            assert cookie.has_nonstandard_attr("HttpOnly")


def test_every_route_says_who_may_use_it(application):
    from canonis.web.app import app
    from canonis.web.guard import allow

    open_to_all = {"getSession", "signIn", "signOut", "getHealth"}
    marker = allow("drafter").__qualname__
    for route in app.routes:
        name = getattr(route, "operation_id", None)
        if name and name not in open_to_all:
            guards = [d.call.__qualname__ for d in route.dependant.dependencies if d.call]
            assert marker in guards, f"{name} states no role"


def test_the_administrator_keeps_the_accounts(application):
    import httpx

    with application.client("drafter") as drafter:
        refused = drafter.get("/api/people")
        assert refused.status_code == 403 and "administrator" in refused.json()["detail"]
    with application.client("administrator") as admin:
        body = {"name": "second checker", "password": "a good long one", "role": "checker"}
        people = admin.post("/api/people", json=body).json()
        one = next(p for p in people if p["name"] == "second checker")
        assert admin.post("/api/people", json=body).status_code == 409
        assert admin.post("/api/people", json={**body, "name": "x", "password": "short"}).status_code == 422
        with httpx.Client(base_url=application.address) as other:
            assert other.post("/api/session", json=body).status_code == 200
            assert other.get("/api/session").json()["role"] == "checker"
            # A new password ends the sessions that were open.
            assert admin.patch(f"/api/people/{one['id']}", json={"password": "another one"}).status_code == 200
            assert other.get("/api/session").json()["role"] is None
            assert other.post("/api/session", json=body).status_code == 401
        last = next(p for p in people if p["role"] == "administrator")
        for answer in (
            admin.delete(f"/api/people/{last['id']}"),
            admin.patch(f"/api/people/{last['id']}", json={"role": "viewer"}),
        ):
            assert answer.status_code == 422 and "last administrator" in answer.json()["detail"]
        assert not [p for p in admin.delete(f"/api/people/{one['id']}").json() if p["name"] == "second checker"]


def test_a_drawing_set_shares_tolerances_and_notes(client):
    made = client.post("/api/sets", json={"name": "Tide bells", "general_mm": "ISO 2768-f", "notes": "deburr"})
    assert made.status_code == 201
    assert client.post("/api/sets", json={"name": "Tide bells"}).status_code == 409
    wrong = client.post("/api/sets", json={"name": "Other", "general_mm": "tight"})
    assert wrong.status_code == 422 and "neither an ISO 2768 class" in wrong.json()["detail"]
    job = new_job(client, "T-SET", set_id=made.json()["id"])
    body = {"version": 1, "lines": [{"number": "1", "where": "", "text": "25"}]}
    part = client.put(f"/api/jobs/{job}/source", json=body).json()["characteristics"][0]["parts"][0]
    assert (part["upper_mm"], part["tolerance"]) == (pytest.approx(25.1), "general")
    changed = client.put(f"/api/sets/{made.json()['id']}", json={**made.json(), "general_mm": "ISO 2768-c"})
    assert changed.status_code == 200
    part = client.get(f"/api/jobs/{job}").json()["source"]["characteristics"][0]["parts"][0]
    assert part["upper_mm"] == pytest.approx(25.5)


def test_demo_job_is_drafted_and_proved(application, client):
    job = job_by(client, "WB-1202")
    application.wait(client, job)
    answer = client.get(f"/api/jobs/{job}/proof")
    assert answer.status_code == 200, answer.text
    proof = answer.json()
    assert proof["summary"] == {"proven": 31, "unproven": 0, "contradicted": 0} and not proof["findings"]
    pdf = client.get(f"/api/jobs/{job}/export/pdf").content
    text = PdfReader(io.BytesIO(pdf)).pages[0].extract_text()
    assert "Escapement cock" in text and "495.7 g" in text
    assert client.get(f"/api/jobs/{job}/export/csv").text.startswith("id,sheet,view")
    assert client.get(f"/api/jobs/{job}/export/svg").text.startswith("<svg")


def test_edits_undo_redo_and_stale_versions(application, client):
    job = new_job(client, "T-EDIT", unit="mm")
    assert upload(client, job, step_bytes(recipe(block(60, 30, 10)))).status_code == 202
    application.wait(client, job)
    sheet = client.get(f"/api/jobs/{job}/sheet").json()
    dimension = next(t["o"] for t in sheet["pages"][0]["texts"] if t["t"] == "60")
    command = {"op": "move", "id": dimension, "dx": 0, "dy": 14}
    first = client.post(f"/api/jobs/{job}/sheet/edits", json={"version": sheet["version"], "command": command})
    assert first.status_code == 200 and first.json()["can_undo"]
    stale = client.post(f"/api/jobs/{job}/sheet/edits", json={"version": sheet["version"], "command": command})
    assert stale.status_code == 409 and "meanwhile" in stale.json()["detail"]
    assert client.get(f"/api/jobs/{job}/sheet").json()["pages"] == first.json()["pages"]
    undone = client.post(f"/api/jobs/{job}/sheet/undo").json()
    assert undone["pages"] == sheet["pages"] and undone["can_redo"]
    assert client.post(f"/api/jobs/{job}/sheet/redo").json()["pages"] == first.json()["pages"]
    impossible = {"version": first.json()["version"], "command": {"op": "remove", "id": "D999"}}
    refused = client.post(f"/api/jobs/{job}/sheet/edits", json=impossible)
    assert refused.status_code == 422 and "no longer" in refused.json()["detail"]


def test_source_is_read_and_never_overwritten(client):
    job = new_job(client, "T-SOURCE", unit="in")
    body = {
        "version": 1,
        "lines": [
            {"number": "1", "where": "", "text": "2 11/16"},
            {"number": "2", "where": "", "text": "4x ⌀.265 thr"},
        ],
    }
    read = client.put(f"/api/jobs/{job}/source", json=body).json()
    assert read["characteristics"][0]["parts"][0]["nominal_mm"] == pytest.approx(68.2625)
    assert read["characteristics"][1]["error"]["column"] == 10
    assert client.put(f"/api/jobs/{job}/source", json=body).status_code == 409
    assert client.post("/api/read-line", json={"text": "R6"}).json()["words"] == "radius 6"


GOOD = step_bytes(recipe(block(10, 10, 10)))


@pytest.mark.parametrize(
    ("data", "name"), [(b"", "a.step"), (b"text", "a.step"), (GOOD, "a.pdf"), (GOOD[:400], "a.step"), (GOOD.replace(b"10.", b"1.E999", 1), "a.step")]
)  # fmt: skip
def test_bad_uploads_leave_nothing_behind(client, data, name):
    job = new_job(client, f"T-BAD-{len(data)}-{name}")
    answer = upload(client, job, data, name)
    assert 400 <= answer.status_code < 500 and len(answer.json()["detail"].splitlines()) == 1
    state = client.get(f"/api/jobs/{job}").json()
    assert state["models"] == [] and state["tasks"] == [] and state["model_id"] is None


def test_a_file_without_a_solid_is_refused_by_the_worker(application, client):
    job = new_job(client, "T-NOSOLID")
    empty = b"ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\nFILE_NAME('','',(''),(''),'','','');\nFILE_SCHEMA(('AUTOMOTIVE_DESIGN'));\nENDSEC;\nDATA;\n#1=CARTESIAN_POINT('',(0.,0.,0.));\nENDSEC;\nEND-ISO-10303-21;\n"
    assert upload(client, job, empty).status_code == 202
    state = application.wait(client, job)
    assert state["tasks"][0]["state"] == "failed" and state["tasks"][0]["error"].startswith("“part.step”")
    assert state["model_id"] is None and state["sheet_version"] is None


def test_unknown_things_are_plain_answers(client):
    for path in ("/api/jobs/999999", "/api/jobs/99999999999", "/api/jobs/999999/sheet", "/api/nothing"):
        answer = client.get(path)
        assert answer.status_code in (404, 422) and "Traceback" not in answer.text


def test_links_by_hand_are_kept(application, client):
    job = job_by(client, "WB-1204")
    application.wait(client, job)
    assert client.put(f"/api/jobs/{job}/links/1", json={"statement": "none"}).status_code == 204
    row = next(r for r in client.get(f"/api/jobs/{job}/proof").json()["ledger"] if r["key"] == "c:1")
    assert row["state"] == "unproven" and row["how"] == "unlinked by hand"
    client.put(f"/api/jobs/{job}/links/1", json={"statement": "auto"})


def test_killed_worker_finishes_its_job_when_restarted(application, client, cock_step):
    job = new_job(client, "T-KILL-WORKER")
    assert upload(client, job, cock_step).status_code == 202
    end = time.monotonic() + 20
    while time.monotonic() < end:
        tasks = client.get(f"/api/jobs/{job}").json()["tasks"]
        if tasks[0]["state"] == "running":
            break
        time.sleep(0.02)
    assert tasks[0]["state"] == "running"
    for process in application.worker_processes():
        os.kill(process, signal.SIGKILL)
    state = application.wait(client, job)
    assert state["tasks"][0]["state"] == "done" and state["sheet_version"]


def test_killed_database_keeps_every_acknowledged_edit(application, client):
    job = new_job(client, "T-KILL-DB")
    assert upload(client, job, step_bytes(recipe(block(50, 30, 10)))).status_code == 202
    application.wait(client, job)
    sheet = client.get(f"/api/jobs/{job}/sheet").json()
    dimension = next(t["o"] for t in sheet["pages"][0]["texts"] if t["t"] == "50")
    acknowledged = None
    for k in range(6):
        body = {"version": sheet["version"], "command": {"op": "move", "id": dimension, "dx": 1, "dy": 0}}
        answer = client.post(f"/api/jobs/{job}/sheet/edits", json=body)
        if answer.status_code != 200:
            break
        acknowledged = sheet = answer.json()
        if k == 3:
            os.kill(application.postgres_process(), signal.SIGKILL)
    assert acknowledged is not None
    end = time.monotonic() + 60
    while time.monotonic() < end:
        try:
            answer = client.get(f"/api/jobs/{job}/sheet")
            if answer.status_code == 200:
                break
        except Exception:
            pass
        time.sleep(0.5)
    after = answer.json()
    assert after["version"] >= acknowledged["version"]
    assert after["version"] > acknowledged["version"] or after["pages"] == acknowledged["pages"]
