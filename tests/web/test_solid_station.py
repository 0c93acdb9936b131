"""The Solid station through the API: picks, frame, masses, findings, ledger, recipe, twin, names, revisions."""

import json
import math

import pytest

from tests.conftest import PARTS, block, recipe, step_bytes
from tests.core.known_parts import hole
from tests.helpers import edit, insert, job_by, new_job, upload

PLATE = block(80, 50, 12)
FIRST = [PLATE, hole([[10, 10, 12], [70, 10, 12]], 6), {"op": "round", "edges": {"near": [[0, 0, 6]]}, "radius": 5}]


@pytest.fixture(scope="module")
def plate(application):
    with application.client() as client:
        job = new_job(client, "WB-SOLID", material="brass")
        assert upload(client, job, step_bytes(recipe(*FIRST)), "plate.step").status_code == 202
        application.wait(client, job)
        yield job


def ask(client, job, method, path, expect=200, **body):
    answer = client.request(method, f"/api/jobs/{job}/{path}", **({"json": body} if body else {}))
    assert answer.status_code == expect, answer.text
    return answer.json() if answer.content else None


def finished(application, client, job, kind):
    application.wait(client, job)
    done = ask(client, job, "GET", "station")[kind]
    assert done and not done["stale"]
    return done["result"]


def test_measuring_in_a_frame_at_a_sharp_corner(client, plate):
    solid = ask(client, plate, "GET", "solid")
    holes = next(f for f in solid["report"]["features"] if f["kind"] == "hole")
    one, two = ({"kind": "feature", "id": holes["id"], "member": k} for k in (0, 1))
    rows = {r["label"]: r for r in ask(client, plate, "POST", "measure", picks=[one, two])["rows"]}
    assert rows["between the axes"]["value"] == pytest.approx(60) and rows["between the axes"]["text"] == "60"
    assert rows["along x"]["value"] == pytest.approx(60)
    # The rounded corner at the origin, where no vertex is any more.
    fillet = next(f for f in solid["report"]["features"] if f["kind"] == "fillet")
    edge = ask(client, plate, "POST", "measure", picks=[{"kind": "sharp", "index": fillet["faces"][0]}])
    assert edge["points"][0][:2] == pytest.approx([0, 0], abs=1e-9)
    assert (
        ask(client, plate, "PUT", "frame", kind="box-corner", name="right-back-top")["frame"]["name"]
        == "right-back-top"
    )
    masses = ask(client, plate, "GET", "masses")
    volume = 80 * 50 * 12 - 2 * math.pi * 9 * 12 - (1 - math.pi / 4) * 25 * 12
    assert masses["bodies"][0]["mass_g"] == pytest.approx(volume * 8.5 / 1000, rel=1e-9)
    assert masses["bodies"][0]["centre_mm"][0] < -39 and masses["frame"]["name"] == "corner right-back-top"
    refused = ask(
        client, plate, "PUT", "frame", expect=422, kind="points", picks=[{"kind": "point", "at": [0, 0, 0]}] * 3
    )
    assert "one line" in refused["detail"]
    assert ask(client, plate, "PUT", "frame", kind="file")["frame"]["kind"] == "file"


def test_bad_picks_are_one_sentence(client, plate):
    for picks, words in (
        ([{"kind": "face", "index": 999}], "not in this model"),
        ([{"kind": "feature", "id": "H99"}], "no feature H99"),
        ([{"kind": "face", "solid": 7, "index": 0}], "not in this model"),
        ([{"kind": "point", "at": [1e300, 0, 0]}], "three numbers"),
    ):
        assert words in ask(client, plate, "POST", "measure", expect=422, picks=picks)["detail"]
    assert client.post(f"/api/jobs/{plate}/measure", json={"picks": []}).status_code == 422


def test_wall_thickness_materials_and_limits(client, plate):
    solid = ask(client, plate, "GET", "solid")
    flat = next(f for f in solid["report"]["features"] if f["kind"] == "flat")
    got = [ask(client, plate, "POST", "thickness", solid=0, face=f, at=[40, 25, 12]) for f in flat["faces"]]
    assert any(t == pytest.approx(12) for t in got if t)
    ask(
        client,
        plate,
        "PATCH",
        "station",
        materials={"bell metal": 8.7},
        solid_materials={"0": "bell metal"},
        decimals=3,
        system="mm kg",
    )
    body = ask(client, plate, "GET", "masses")["bodies"][0]
    assert body["density"] == 8.7 and body["rows"][2]["unit"] == "kg"
    assert "density" in ask(client, plate, "PATCH", "station", expect=422, materials={"lead": -1})["detail"]
    ask(
        client,
        plate,
        "PATCH",
        "station",
        solid_materials={},
        system="",
        decimals=2,
        limits={"wall_mm": 5, "edge_diameters": 2.5},
    )
    rules = [f["rule"] for f in ask(client, plate, "GET", "findings")]
    assert "make.near-edge" in rules
    ask(client, plate, "PATCH", "station", limits={})


def test_the_checkpoint_is_compared_and_the_reason_named(client, plate):
    source = ask(client, plate, "GET", "source")
    volume = 80 * 50 * 12 - 2 * math.pi * 9 * 12 - (1 - math.pi / 4) * 25 * 12
    edit(
        client,
        plate,
        {
            "op": "put",
            "what": "checkpoints",
            "value": [f"finished | {volume * 7.85 / 1000:.1f} g"],
            "rev": source["revs"].get("checkpoints", 0),
        },
    )
    checkpoint = ask(client, plate, "GET", "masses")["checkpoint"]
    assert not checkpoint["fits"] and "steel" in checkpoint["reasons"][0]


def test_a_name_is_kept_and_a_revision_says_what_changed(application, client, plate):
    solid = ask(client, plate, "GET", "solid")
    holes = next(f for f in solid["report"]["features"] if f["kind"] == "hole")
    named = ask(client, plate, "PUT", "names", id=holes["id"], name="pin holes")
    assert named == [{"name": "pin holes", "id": holes["id"], "solid": 0, "status": "same"}]
    wider = [PLATE, hole([[10, 10, 12], [70, 10, 12]], 7), hole([[40, 25, 12]], 20), FIRST[2]]
    upload(client, plate, step_bytes(recipe(*wider)), "plate-b.step")
    application.wait(client, plate)
    solid = ask(client, plate, "GET", "solid")
    (name,) = solid["names"]
    assert name["status"] == "resized" and next(f for f in solid["report"]["features"] if f["id"] == name["id"])[
        "diameter_mm"
    ] == pytest.approx(7)
    changes = solid["report"]["changes"]["solids"][0]
    assert {c["change"] for c in changes["features"]} == {"resized", "new"}
    assert changes["counts"]["resized"] == 2 and changes["counts"]["same"] > 4


def test_the_demo_ledger_and_a_flawed_state(application, client):
    job = job_by(client, "WB-1203")
    application.wait(client, job)
    rows = finished(application, client, job, "ledger")["rows"]
    assert len(rows) == 9 and {r["state"] for r in rows} == {"proven"}
    data = json.loads((PARTS / "strike-drum.json").read_text())
    data["steps"][6]["skip"] = [4, 6]
    ask(client, job, "PUT", "recipe", expect=202, text=json.dumps(data), states=True)
    application.wait(client, job)
    assert ask(client, job, "GET", "station")["ledger"]["stale"]
    ask(client, job, "POST", "ledger", expect=202)
    first = finished(application, client, job, "ledger")["first"]
    assert first["name"] == "pin ring" and first["slips"][0]["kind"] == "S10"
    # The model is right and its twin now lacks a hole: the twin has the material that the model has not.
    ask(client, job, "POST", "twin", expect=202)
    twin = finished(application, client, job, "twin")
    assert twin["only_twin_mm3"] == pytest.approx(math.pi * 16 * 40, rel=1e-6) and twin[
        "only_model_mm3"
    ] == pytest.approx(0, abs=1e-3)
    data["steps"][6]["skip"] = [4]
    ask(client, job, "PUT", "recipe", expect=202, text=json.dumps(data), states=True)
    application.wait(client, job)
    ask(client, job, "POST", "ledger", expect=202)
    assert finished(application, client, job, "ledger")["first"] is None


def test_a_recipe_that_does_not_build_says_where_and_changes_nothing(application, client):
    job = new_job(client, "WB-RECIPE")
    edit(client, job, insert("a", "⌀20"))
    good = {
        "schema": "canonis.recipe/1",
        "unit": "mm",
        "steps": [
            {
                "name": "rod",
                "op": "extrude",
                "profile": {"plane": "XY", "outer": {"circle": [0, 0, "#1"]}},
                "distance": 30,
            }
        ],
    }
    ask(client, job, "PUT", "recipe", expect=202, text=json.dumps(good), states=True)
    application.wait(client, job)
    for text, words in (
        ("{", "not JSON"),
        (json.dumps({**good, "steps": [{"name": "rod", "op": "melt"}]}), "Step “rod”"),
    ):
        ask(client, job, "PUT", "recipe", expect=202, text=text, states=True)
        task = application.wait(client, job)["tasks"][0]
        assert task["state"] == "failed" and words in task["error"]
    station = ask(client, job, "GET", "station")
    assert station["recipe"]["steps"][0]["name"] == "rod" and [s["name"] for s in station["states"]] == ["rod"]


def test_states_are_added_named_moved_and_removed(application, client):
    job = new_job(client, "WB-STATES")
    assert "no states" in ask(client, job, "POST", "ledger", expect=422)["detail"]
    for k, steps in enumerate(([PLATE], FIRST), start=1):
        answer = client.post(f"/api/jobs/{job}/states", files={"file": (f"step {k}.step", step_bytes(recipe(*steps)))})
        assert answer.status_code == 201
    states = ask(client, job, "GET", "station")["states"]
    assert [s["name"] for s in states] == ["step 1", "step 2"]
    ask(client, job, "PATCH", f"states/{states[0]['id']}", name="blank")
    ask(client, job, "PATCH", f"states/{states[0]['id']}", move="down")
    assert [s["name"] for s in ask(client, job, "GET", "station")["states"]] == ["step 2", "blank"]
    ask(client, job, "PATCH", f"states/{states[0]['id']}", move="up")
    ask(client, job, "POST", "ledger", expect=202)
    rows = finished(application, client, job, "ledger")["rows"]
    assert rows[1]["volume_more_mm3"] == pytest.approx(-2 * math.pi * 9 * 12 - (1 - math.pi / 4) * 25 * 12)
    assert [s["name"] for s in ask(client, job, "DELETE", f"states/{states[1]['id']}")["states"]] == ["blank"]
    assert client.post(f"/api/jobs/{job}/states", files={"file": ("bad.step", b"nothing")}).status_code == 422
    ask(client, job, "DELETE", "states/999999", expect=404)


def test_a_model_becomes_the_source_in_one_press(application, client):
    job = new_job(client, "WB-ADOPT")
    upload(client, job, step_bytes(recipe(*FIRST)))
    application.wait(client, job)
    added = ask(client, job, "POST", "adopt")["added"]
    lines = ask(client, job, "GET", "source")["lines"]
    assert added == len(lines) >= 6 and all(line["error"] is None for line in lines)
    assert any(line["text"] == "2x ⌀6 THRU" for line in lines)
    assert ask(client, job, "POST", "adopt")["added"] == 0


def test_a_viewer_may_measure_and_change_nothing(application, plate):
    with application.client("viewer") as viewer:
        assert (
            viewer.post(f"/api/jobs/{plate}/measure", json={"picks": [{"kind": "face", "index": 0}]}).status_code == 200
        )
        assert viewer.put(f"/api/jobs/{plate}/frame", json={"kind": "file"}).status_code == 403
        assert viewer.post(f"/api/jobs/{plate}/ledger").status_code == 403
