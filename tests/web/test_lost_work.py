"""Work that was lost or crossed: steps sent twice, edits beside a new draft, looks at another model, parts in others' sets."""

import json
import threading
from uuid import uuid4

import pytest

from tests.conftest import block, recipe, step_bytes
from tests.helpers import edit, new_job, upload

PLATE = recipe(
    block(90, 60, 20),
    {"op": "hole", "at": [[20, 15, 20], [65, 15, 20]], "axis": [0, 0, 1], "diameter": 8, "through": True},
)
OTHER = recipe(
    block(90, 60, 24),
    {"op": "hole", "at": [[20, 15, 24], [65, 15, 24]], "axis": [0, 0, 1], "diameter": 8, "through": True},
)


@pytest.fixture
def drawn(application, client):
    job = new_job(client, f"T-LOST-{uuid4().hex[:8]}")
    upload(client, job, step_bytes(PLATE))
    application.wait(client, job)
    return job


def sheet(client, job):
    return client.get(f"/api/jobs/{job}/sheet").json()


def statements(client, job):
    sheet = client.get(f"/api/jobs/{job}/export/json").json()
    called = {a["id"]: a["kind"] for a in sheet["annotations"]}
    return [{**a, "kind": called[a["id"]]} for a in sheet["document"]["annotations"]]


def move(version, name, token, mine=(), dy=7.0):
    return {
        "version": version,
        "token": token,
        "mine": list(mine),
        "command": {"op": "move", "id": name, "dx": 0.0, "dy": dy},
    }


def test_a_step_back_that_is_sent_twice_is_taken_once(client, drawn):
    ids = [a["id"] for a in statements(client, drawn) if a["kind"] in ("linear", "hole")]
    first = sheet(client, drawn)["version"]
    for k, name in enumerate(ids[:2]):
        made = client.post(
            f"/api/jobs/{drawn}/sheet/edits", json=move(first, name, f"t{k}", [f"t{n}" for n in range(k)])
        ).json()
    step = {"version": made["version"], "token": "back"}
    once = client.post(f"/api/jobs/{drawn}/sheet/undo", json=step).json()["version"]
    assert client.post(f"/api/jobs/{drawn}/sheet/undo", json=step).json()["version"] == once != first
    forth = {"version": once, "token": "forth"}
    again = client.post(f"/api/jobs/{drawn}/sheet/redo", json=forth).json()["version"]
    assert client.post(f"/api/jobs/{drawn}/sheet/redo", json=forth).json()["version"] == again == made["version"]


def test_an_edit_is_set_beside_what_others_did_since_it_was_made_not_since_it_was_sent(application, client, drawn):
    ids = [a["id"] for a in statements(client, drawn) if a["kind"] in ("linear", "hole")]
    seen = sheet(client, drawn)["version"]
    # The drafter moved one thing and then another; while the first was on its way somebody else moved the second.
    client.post(f"/api/jobs/{drawn}/sheet/edits", json=move(seen, ids[0], "mine-1")).raise_for_status()
    with application.client("administrator") as other:
        other.post(
            f"/api/jobs/{drawn}/sheet/edits", json=move(sheet(other, drawn)["version"], ids[1], "theirs")
        ).raise_for_status()
    late = client.post(f"/api/jobs/{drawn}/sheet/edits", json=move(seen, ids[1], "mine-2", ["mine-1"]))
    assert late.status_code == 409 and "administrator moved" in late.json()["detail"]
    # One's own steps on their way are no strangers', and what others left alone goes through.
    beside = client.post(f"/api/jobs/{drawn}/sheet/edits", json=move(seen, ids[0], "mine-3", ["mine-1"]))
    assert beside.status_code == 200
    back = client.post(
        f"/api/jobs/{drawn}/sheet/undo", json={"version": seen, "token": "u", "mine": ["mine-1", "mine-3"]}
    )
    assert back.status_code == 409 and "administrator changed" in back.json()["detail"]


def test_edits_made_while_a_draft_is_made_anew_are_on_it(application, client, drawn):
    """The first edit goes in before the draft is stored, the second one names something that the new draft may say elsewhere."""
    note = next(a for a in statements(client, drawn) if a["kind"] == "hole")
    version = sheet(client, drawn)["version"]
    client.post(
        f"/api/jobs/{drawn}/sheet/redraft", json={"version": version, "datum": "right-front-bottom"}
    ).raise_for_status()
    revision = {"op": "set", "what": "revision", "value": "C", "change": "datum", "by": "", "date": ""}
    made = client.post(f"/api/jobs/{drawn}/sheet/edits", json={"version": version, "token": "rev", "command": revision})
    gone = client.post(
        f"/api/jobs/{drawn}/sheet/edits",
        json={"version": version, "token": "rm", "mine": ["rev"], "command": {"op": "remove", "id": note["id"]}},
    )
    assert (made.status_code, gone.status_code) == (200, 200)
    application.wait(client, drawn)
    log = [v["command"]["op"] for v in client.get(f"/api/jobs/{drawn}/sheet/versions").json()["versions"]]
    state = sheet(client, drawn)
    assert state["revision"] == "C", log
    assert not any(a["kind"] == "hole" and a["refs"] == note["refs"] for a in statements(client, drawn)), log
    if log[0] == "redraft":
        # The sheet with the edits as they were made is one step back.
        back = client.post(f"/api/jobs/{drawn}/sheet/undo", json={"version": state["version"], "token": "b"}).json()
        assert back["revision"] == "C"


def test_a_job_gets_one_first_draft_however_many_files_come(application, client):
    job = new_job(client, "T-ONE-DRAFT")
    for part in (PLATE, OTHER, PLATE, OTHER):
        assert upload(client, job, step_bytes(part)).status_code == 202
    state = application.wait(client, job)
    versions = client.get(f"/api/jobs/{job}/sheet/versions").json()["versions"]
    assert [v["command"]["op"] for v in versions].count("first draft") == 1
    assert state["model_id"] == max(m["id"] for m in state["models"])
    assert client.get(f"/api/jobs/{job}/proof").status_code == 200


def test_a_look_is_at_one_model(application, client, drawn):
    version = sheet(client, drawn)["version"]
    assert client.put(f"/api/jobs/{drawn}/look", json={"version": version}).status_code == 204

    def looked():
        parts = client.get(f"/api/jobs/{drawn}/proof").json()["final"]["parts"]
        return next(p["done"] for p in parts if p["name"] == "look")

    assert looked()
    upload(client, drawn, step_bytes(OTHER))
    application.wait(client, drawn)
    assert sheet(client, drawn)["version"] == version and not looked()


def test_the_final_check_asks_for_ticks_where_the_house_does(client, drawn):
    edit(client, drawn, {"op": "put", "what": "rules", "rev": 0, "value": {"final-check": "ticked"}})
    parts = {p["name"]: p for p in client.get(f"/api/jobs/{drawn}/proof").json()["final"]["parts"]}
    assert not parts["ticks"]["done"] and "no line to tick" in parts["ticks"]["says"]
    edit(client, drawn, {"op": "insert", "id": "a", "after": None, "line": {"text": "90", "number": "1"}})
    final = client.get(f"/api/jobs/{drawn}/proof").json()
    row = next(r for r in final["ledger"] if r["number"] == "1")
    says = next(p for p in final["final"]["parts"] if p["name"] == "ticks")
    assert not says["done"] and "1 of 1 lines are not ticked: 1" in says["says"]
    client.put(f"/api/jobs/{drawn}/ticks/1", json={"place": row["place"]}).raise_for_status()
    parts = client.get(f"/api/jobs/{drawn}/proof").json()["final"]["parts"]
    assert next(p for p in parts if p["name"] == "ticks")["done"]


def test_a_part_dropped_on_all_sets_joins_nobodys_set(application, client):
    before = {s["id"]: s["name"] for s in client.get("/api/sets").json()}
    made = client.post("/api/jobs/from-model", files={"file": ("T-LOOSE.step", step_bytes(PLATE))}).json()
    application.wait(client, made["id"])
    job = client.get(f"/api/jobs/{made['id']}").json()
    assert job["set_name"] == "Loose parts" and job["shared"]["notes"] == "" and job["shared"]["owner"] == ""
    chosen = next(i for i, name in before.items() if name != "Loose parts")
    into = client.post(
        f"/api/jobs/from-model?set_id={chosen}", files={"file": ("T-CHOSEN.step", step_bytes(PLATE))}
    ).json()
    application.wait(client, into["id"])
    assert client.get(f"/api/jobs/{into['id']}").json()["set_name"] == before[chosen]


def test_the_owner_of_a_set_is_not_said_to_be_the_sources(application, client, drawn):
    job = client.get(f"/api/jobs/{drawn}").json()
    assert job["shared"]["owner"]
    document = client.get(f"/api/jobs/{drawn}/export/json").json()["document"]
    assert document["title"]["owner"] == job["shared"]["owner"] and "owner" not in document["title"]["linked"]


def test_another_style_brings_its_own_projection_and_says_what_is_metric(application, client, drawn):
    assert sheet(client, drawn)["projection"] == "first"
    head = {**client.get(f"/api/jobs/{drawn}/source").json()["head"], "style": "asme", "unit": "in"}
    edit(client, drawn, {"op": "put", "what": "head", "rev": 0, "value": head})
    version = sheet(client, drawn)["version"]
    client.post(f"/api/jobs/{drawn}/sheet/redraft", json={"version": version}).raise_for_status()
    application.wait(client, drawn)
    assert (sheet(client, drawn)["style"], sheet(client, drawn)["projection"]) == ("asme", "third")
    document = client.get(f"/api/jobs/{drawn}/export/json").json()["document"]
    assert "break edges 0.3 mm" in document["notes"]
    # What somebody chose stays, whatever the style.
    version = sheet(client, drawn)["version"]
    client.post(f"/api/jobs/{drawn}/sheet/redraft", json={"version": version, "projection": "first"}).raise_for_status()
    application.wait(client, drawn)
    version = sheet(client, drawn)["version"]
    client.post(f"/api/jobs/{drawn}/sheet/redraft", json={"version": version}).raise_for_status()
    application.wait(client, drawn)
    assert sheet(client, drawn)["projection"] == "first"


def test_a_recipe_that_is_cancelled_is_not_kept(application, client, drawn):
    steps = [
        {
            "name": f"s{k}",
            "op": "hole",
            "at": [[5 + k % 17 * 5, 5 + k // 17 * 6, 20]],
            "axis": [0, 0, 1],
            "diameter": 3,
            "through": True,
        }
        for k in range(120)
    ]
    text = json.dumps({**recipe(block(90, 60, 20)), "steps": [{"name": "b", **block(90, 60, 20)}, *steps]})
    task = client.put(f"/api/jobs/{drawn}/recipe", json={"text": text, "states": True}).json()["id"]
    assert client.post(f"/api/tasks/{task}/cancel").status_code == 204
    application.wait(client, drawn)
    station = client.get(f"/api/jobs/{drawn}/station").json()
    assert station["recipe"] is None and station["states"] == []


def test_waiting_for_a_turn_holds_no_thread(application, client, drawn):
    """More people than there are threads drag things on one sheet; everybody else is served meanwhile."""
    name = next(a["id"] for a in statements(client, drawn) if a["kind"] == "hole")
    version = sheet(client, drawn)["version"]
    codes = []

    def drag(k):
        with application.client(timeout=300) as mine:
            codes.append(
                mine.post(
                    f"/api/jobs/{drawn}/sheet/edits",
                    json=move(version, name, f"d{k}", [f"d{n}" for n in range(90)], dy=1.0),
                ).status_code
            )

    threads = [threading.Thread(target=drag, args=(k,)) for k in range(80)]
    for t in threads:
        t.start()
    served = sum(client.get("/api/jobs?size=5").status_code == 200 for _ in range(10))
    still = sum(t.is_alive() for t in threads)
    for t in threads:
        t.join(300)
    assert served == 10 and still > 10, "the list came while most of them still waited"
    assert set(codes) <= {200, 503}
