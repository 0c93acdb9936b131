import io
import os
import signal
import time

import pytest
from pypdf import PdfReader

from tests.conftest import block, recipe, step_bytes
from tests.helpers import edit, insert, job_by, new_job, upload


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
    part = edit(client, job, insert("a", "25"))["source"]["lines"][0]["parts"][0]
    assert (part["upper_mm"], part["tolerance"]) == (pytest.approx(25.1), "general")
    changed = client.put(f"/api/sets/{made.json()['id']}", json={**made.json(), "general_mm": "ISO 2768-c"})
    assert changed.status_code == 200
    part = client.get(f"/api/jobs/{job}").json()["source"]["lines"][0]["parts"][0]
    assert part["upper_mm"] == pytest.approx(25.5)


def test_demo_job_is_drafted_and_proved(application, client):
    job = job_by(client, "WB-1202")
    application.wait(client, job)
    answer = client.get(f"/api/jobs/{job}/proof")
    assert answer.status_code == 200, answer.text
    proof = answer.json()
    assert proof["summary"] == {"proven": 30, "unproven": 0, "contradicted": 0} and not proof["findings"]
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
    late = client.post(f"/api/jobs/{job}/sheet/undo", json={"version": sheet["version"]})
    assert late.status_code == 409 and "drafter changed the sheet meanwhile" in late.json()["detail"]
    undone = client.post(f"/api/jobs/{job}/sheet/undo", json={"version": first.json()["version"]}).json()
    assert undone["pages"] == sheet["pages"] and undone["can_redo"]
    redone = client.post(f"/api/jobs/{job}/sheet/redo", json={"version": undone["version"]}).json()
    assert redone["pages"] == first.json()["pages"]
    impossible = {"version": first.json()["version"], "command": {"op": "remove", "id": "D999"}}
    refused = client.post(f"/api/jobs/{job}/sheet/edits", json=impossible)
    assert refused.status_code == 422 and "no longer" in refused.json()["detail"]


def unsaid(sent, said, path=""):
    """Where an answer has more than its schema says."""
    if isinstance(sent, dict):
        for key, value in sent.items():
            yield from [f"{path}.{key}"] if key not in said else unsaid(value, said[key], f"{path}.{key}")
    elif isinstance(sent, list):
        for a, b in zip(sent, said, strict=True):
            yield from unsaid(a, b, f"{path}[]")


def test_what_goes_through_as_text_is_what_the_schema_says(client):
    from canonis.web.answers.job import JobFull
    from canonis.web.answers.masses import Masses
    from canonis.web.answers.proof import ProofState
    from canonis.web.answers.sheet import SheetState
    from canonis.web.answers.solid import SolidData, StationState
    from canonis.web.answers.source import SourceEdited, SourceRead

    job = job_by(client, "WB-1204")
    edits = {"ops": [{"op": "set", "id": "nothing", "rev": 1, "fields": {}}, {"op": "paint"}]}
    for model, answer in (
        (JobFull, client.get(f"/api/jobs/{job}")),
        (SourceRead, client.get(f"/api/jobs/{job}/source")),
        (SheetState, client.get(f"/api/jobs/{job}/sheet")),
        (SourceEdited, client.post(f"/api/jobs/{job}/source/edits", json=edits)),
        (ProofState, client.get(f"/api/jobs/{job}/proof")),
        (SolidData, client.get(f"/api/jobs/{job}/solid")),
        (StationState, client.get(f"/api/jobs/{job}/station")),
        (Masses, client.get(f"/api/jobs/{job}/masses")),
    ):
        assert answer.headers["content-type"] == "application/json"
        made = model.model_validate_json(answer.content).model_dump(mode="json", by_alias=True)
        assert not list(unsaid(answer.json(), made)), model


def test_source_is_read_and_never_overwritten(client):
    job = new_job(client, "T-SOURCE", unit="in")
    made = edit(client, job, insert("a", "2 11/16"), insert("b", "4x ⌀.265 thr", "a"))["source"]
    assert made["lines"][0]["parts"][0]["nominal_mm"] == pytest.approx(68.2625)
    assert made["lines"][1]["error"]["column"] == 10 and made["readiness"][0].startswith("1 line not read")
    # Two people: different lines both stand; on the same line the second sees both sides.
    edit(client, job, {"op": "set", "id": "a", "rev": 1, "fields": {"text": "2 3/4"}})
    late = edit(
        client,
        job,
        {"op": "set", "id": "a", "rev": 1, "fields": {"text": "3"}},
        {"op": "set", "id": "b", "rev": 1, "fields": {"text": "R.5"}},
    )
    assert [line["text"] for line in late["source"]["lines"]] == ["2 3/4", "R.5"]
    assert late["conflicts"][0]["theirs"]["text"] == "2 3/4" and late["conflicts"][0]["yours"] == {"text": "3"}
    refused = client.post(
        f"/api/jobs/{job}/source/edits",
        json={"ops": [insert("c", "1"), {"op": "put", "what": "head", "value": {"density": "0"}}]},
    )
    # The edit that makes no sense is refused by itself; its neighbour is stored.
    assert refused.status_code == 200 and [(r["index"], r["what"]) for r in refused.json()["refused"]] == [(1, "head")]
    assert "density" in refused.json()["refused"][0]["message"]
    assert [line["text"] for line in client.get(f"/api/jobs/{job}/source").json()["lines"]] == ["1", "2 3/4", "R.5"]


def test_previews_workings_and_tables(client):
    job = new_job(client, "T-PREVIEW", unit="in")
    edit(client, job, insert("a", "2 1/2"))
    read = client.post(f"/api/jobs/{job}/read-line", json={"text": "4x ⌀.265 T"}).json()
    assert read["error"]["column"] == 10 and "THRU" in [o["put"] for o in read["offers"]]
    assert client.post(f"/api/jobs/{job}/work-out", json={"text": "#1 - 2 * 3/8"}).json()["shown"] == "1.75 in (1 3/4)"
    assert "no working above" in client.post(f"/api/jobs/{job}/work-out", json={"text": "wall"}).json()["fault"]
    table = client.post(f"/api/jobs/{job}/checkpoint-table", json={"text": "step\tmass [lb]\nblank\t1.25"}).json()
    assert table == ["blank | 1.25 lb"]
    assert client.post(f"/api/jobs/{job}/checkpoint-table", json={"text": "words"}).status_code == 422


def test_chains_workings_rules_and_checkpoints_are_stored_and_solved(client):
    job = new_job(client, "T-SUMS", unit="mm")
    made = edit(
        client,
        job,
        insert("a", "40"),
        {"op": "put", "what": "chains", "rev": 0, "value": [{"direction": "x", "text": "A -12.5- B -?- C; A -#1- C"}]},
        {"op": "put", "what": "workings", "rev": 0, "value": ["rest = #1 - 12.5"]},
        {"op": "put", "what": "checkpoints", "rev": 0, "value": ["blank | 412.7 g | 48, 25, 12"]},
        {"op": "put", "what": "rules", "rev": 0, "value": {"limits": "upper", "projection": "third"}},
        {"op": "put", "what": "head", "rev": 0, "value": {"material": "brass", "general": "ISO 2768-f", "square": "5"}},
        insert("b", "7 squares", "a"),
    )["source"]
    assert made["chains"][0]["solved"]["spans"][0]["value_mm"] == 27.5
    assert made["workings"][0]["made"]["value"] == 27.5 and made["checkpoints"][0]["read"]["mass_g"] == 412.7
    assert made["lines"][1]["parts"][0]["nominal_mm"] == 35 and made["lines"][0]["parts"][0][
        "upper_mm"
    ] == pytest.approx(40.15)
    assert made["rules"]["projection"] == "third" and {c["key"] for c in made["choices"]} >= {
        "limits",
        "thru",
        "threads",
    }


def test_lists_go_out_and_come_back_the_same(client):
    job, other = new_job(client, "T-OUT"), new_job(client, "T-IN")
    edit(
        client,
        job,
        insert("a", "96", where="sheet 1"),
        insert("b", "⌀6,6 THRU", "a", provenance="estimated"),
        insert("c", 'blurb; "x"', "b"),
    )
    data = client.get(f"/api/jobs/{job}/source/export/csv").content
    back = client.post(f"/api/jobs/{other}/source/import", files={"file": ("list.csv", data)}).json()
    keep = ("number", "where", "text", "provenance")
    assert [[line[k] for k in keep] for line in back["lines"]] == [
        [line[k] for k in keep] for line in client.get(f"/api/jobs/{job}/source").json()["lines"]
    ]
    whole = client.get(f"/api/jobs/{job}/source/export/json").content
    again = client.post(f"/api/jobs/{other}/source/import", files={"file": ("source.json", whole)}).json()
    assert len(again["lines"]) == 3
    assert client.get(f"/api/jobs/{job}/source/export/pdf").content.startswith(b"%PDF")
    for name, content in (("a.csv", b"\xff\xfe"), ("a.json", b"{nonsense"), ("a.csv", b"")):
        answer = client.post(f"/api/jobs/{other}/source/import", files={"file": (name, content)})
        assert answer.status_code == 422 and len(client.get(f"/api/jobs/{other}/source").json()["lines"]) == 3


def test_prints_with_flags(client):
    from reportlab.pdfgen import canvas

    out = io.BytesIO()
    pen = canvas.Canvas(out, pagesize=(420, 300))
    pen.drawString(50, 50, "sheet one")
    pen.save()
    job = new_job(client, "T-PRINT")
    made = client.post(f"/api/jobs/{job}/prints", files={"file": ("print.pdf", out.getvalue())})
    assert made.status_code == 201, made.text
    number = made.json()["id"]
    edit(client, job, insert("a", "96", flag={"print_id": number, "page": 1, "x": 0.5, "y": 0.25}))
    turned = client.patch(f"/api/jobs/{job}/prints/{number}", json={"page": 1, "turn": 90, "mm_per_width": 420}).json()
    assert turned["pages"][0]["turn"] == 90 and turned["pages"][0]["mm_per_width"] == 420
    assert client.patch(f"/api/jobs/{job}/prints/{number}", json={"page": 9, "turn": 90}).status_code == 422
    assert client.get(f"/api/jobs/{job}/prints/{number}/file").content == out.getvalue()
    flagged = PdfReader(io.BytesIO(client.get(f"/api/jobs/{job}/prints/{number}/flagged").content))
    assert "1" in flagged.pages[0].extract_text() and "sheet one" in flagged.pages[0].extract_text()
    for name, content in (("a.pdf", b"%PDF-1.4 broken"), ("a.png", out.getvalue()), ("a.exe", b"MZ"), ("a.png", b"")):
        answer = client.post(f"/api/jobs/{job}/prints", files={"file": (name, content)})
        assert answer.status_code == 422 and len(answer.json()["detail"].splitlines()) == 1
    assert len(client.get(f"/api/jobs/{job}/source").json()["prints"]) == 1
    assert client.delete(f"/api/jobs/{job}/prints/{number}").status_code == 204
    left = client.get(f"/api/jobs/{job}/source").json()
    assert left["prints"] == [] and left["lines"][0]["flag"] is None
    assert client.get(f"/api/jobs/{job}/prints/{number}/file").status_code == 404


GOOD = step_bytes(recipe(block(10, 10, 10)))


@pytest.mark.parametrize(
    ("data", "name"),
    [
        (b"", "a.step"),
        (b"text", "a.step"),
        (GOOD, "a.pdf"),
        (GOOD[:400], "a.step"),
        (GOOD.replace(b"10.", b"1.E999", 1), "a.step"),
    ],
)
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
    assert row["state"] == "no-place" and row["how"] == "unlinked by hand"
    late = client.put(f"/api/jobs/{job}/links/1", json={"statement": "D1", "seen": "auto"})
    assert late.status_code == 409 and "meanwhile" in late.json()["detail"]
    assert client.put(f"/api/jobs/{job}/links/1", json={"statement": "auto", "seen": "none"}).status_code == 204


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


def test_a_job_from_a_step_file_alone(application, client):
    """Its number is the file's name, its title and unit are the file's; a second one gets a number of its own."""
    inch = step_bytes(recipe(block(2, 1.5, 0.5), unit="in"))
    made = [client.post("/api/jobs/from-model", files={"file": ("WB-1290.step", inch)}).json() for _ in range(2)]
    assert [m["number"] for m in made] == ["WB-1290", "WB-1290-2"]
    application.wait(client, made[0]["id"])
    job = client.get(f"/api/jobs/{made[0]['id']}").json()
    assert (job["title"], job["unit"], job["style"]) == ("trial", "in", "asme") and job["sheet_version"]
    bad = client.post("/api/jobs/from-model", files={"file": ("notes.step", b"dear checker")})
    assert bad.status_code == 422 and "not a STEP file" in bad.json()["detail"]
    cards = {j["number"]: j for j in client.get("/api/jobs?size=500").json()["jobs"]}
    assert "notes" not in cards
    assert cards["WB-1290"]["has_sheet"] and cards["WB-1290"]["author"] == "drafter" and cards["WB-1290"]["changed"]
    assert cards["WB-1290"]["lines"] == 0 and cards["WB-1204"]["lines"] == 21
