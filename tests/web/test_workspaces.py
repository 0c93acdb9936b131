"""Customers are kept apart: what is in a workspace is not there for those who do not work in it, whatever their role."""

import re

import pytest

from canonis.web.app import app
from tests.conftest import block, recipe, step_bytes
from tests.helpers import edit, insert, upload

ROLES = ("viewer", "checker", "drafter", "administrator")
#: Every route that names something of a workspace in its path.
ROUTES = sorted(
    (operation["operationId"], method.upper(), path)
    for path, methods in app.openapi()["paths"].items()
    for method, operation in methods.items()
    if re.search(r"\{(job|set|task)_id\}", path)
)


def filled(path, quay):
    for name in ("job_id", "set_id", "task_id"):
        path = path.replace(f"{{{name}}}", str(quay[name]))
    return re.sub(r"\{\w+\}", "1", path)


@pytest.mark.parametrize("role", ROLES)
def test_every_route_of_another_workspace_answers_as_if_nothing_were_there(application, quay, role):
    assert len(ROUTES) > 40
    with application.client(role) as other:
        for name, method, path in ROUTES:
            answer = other.request(method, filled(path, quay), json={})
            refused = role in ("viewer", "checker") and answer.status_code == 403
            assert refused or (answer.status_code == 404 and "There is no such" in answer.json()["detail"]), name


@pytest.mark.parametrize("role", ROLES)
def test_lists_hold_only_ones_own(application, quay, role):
    with application.client(role) as other:
        assert quay["job_id"] not in {j["id"] for j in other.get("/api/jobs?size=500").json()["jobs"]}
        assert quay["set_id"] not in {s["id"] for s in other.get("/api/sets").json()}
        assert ("Quay House" in {w["name"] for w in other.get("/api/workspaces").json()}) == (role == "administrator")
    mine = quay["client"]
    assert [j["id"] for j in mine.get("/api/jobs").json()["jobs"]] == [quay["job_id"]]
    assert [s["name"] for s in mine.get("/api/sets").json()] == ["Quay gates"]
    assert [w["name"] for w in mine.get("/api/workspaces").json()] == ["Quay House"]


def test_nobody_puts_things_into_another_workspace(application, quay):
    with application.client() as other:
        assert other.post("/api/jobs", json={"number": "X-1", "set_id": quay["set_id"]}).status_code == 404
        assert other.post("/api/sets", json={"name": "X", "workspace_id": quay["place"]}).status_code == 404
        data = {"files": {"file": ("x.step", step_bytes(recipe(block(30, 20, 10))))}}
        assert other.post(f"/api/jobs/from-model?set_id={quay['set_id']}", **data).status_code == 404


def test_whoever_comes_into_a_workspace_sees_it_and_whoever_leaves_does_not(application, quay):
    with application.client("administrator") as chief, application.client("checker") as checker:
        one = next(p for p in chief.get("/api/people").json() if p["name"] == "checker")
        chief.patch(f"/api/people/{one['id']}", json={"workspaces": [*one["workspaces"], quay["place"]]})
        assert checker.get(f"/api/jobs/{quay['job_id']}").status_code == 200
        assert chief.patch(f"/api/people/{one['id']}", json={"workspaces": [987654]}).status_code == 422
        chief.patch(f"/api/people/{one['id']}", json={"workspaces": one["workspaces"]})
        assert checker.get(f"/api/jobs/{quay['job_id']}").status_code == 404


def test_a_job_follows_the_rules_of_its_house_unless_it_says_otherwise(application, quay):
    mine, job = quay["client"], quay["job_id"]

    def rule():
        return mine.get(f"/api/jobs/{job}/source").json()

    assert rule()["rules"]["notation"] == "symbols" and rule()["own_rules"] == []
    with application.client("administrator") as chief:
        body = {"name": "Quay House", "rules": {"notation": "words", "projection": "third"}}
        assert chief.put(f"/api/workspaces/{quay['place']}", json=body).status_code == 200
        wrong = chief.put(
            f"/api/workspaces/{quay['place']}", json={"name": "Quay House", "rules": {"notation": "runes"}}
        )
        assert wrong.status_code == 422 and "runes" in wrong.json()["detail"]
    assert (rule()["rules"]["notation"], rule()["rules"]["projection"]) == ("words", "third")
    edit(mine, job, {"op": "put", "what": "rules", "rev": 0, "value": {"notation": "symbols"}})
    assert (rule()["rules"]["notation"], rule()["own_rules"]) == ("symbols", ["notation"])
    # Given back to the house.
    edit(mine, job, {"op": "put", "what": "rules", "rev": 1, "value": {"notation": ""}})
    assert (rule()["rules"]["notation"], rule()["own_rules"]) == ("words", [])
    with application.client("drafter") as other:
        assert other.put(f"/api/workspaces/{quay['place']}", json=body).status_code == 403


def test_the_same_number_may_stand_in_two_workspaces_but_not_twice_in_one(quay):
    mine = quay["client"]
    again = mine.post("/api/jobs", json={"number": "WB-1202", "set_id": quay["set_id"]})
    assert again.status_code == 409 and "already a job numbered" in again.json()["detail"]


def test_the_list_is_searched_filtered_sorted_and_paged(application, client, quay):
    mine = quay["client"]
    for k, title in enumerate(("Gate 100%", "gate_lock", "Hinge")):
        job = mine.post("/api/jobs", json={"number": f"Q-{k}", "title": title, "set_id": quay["set_id"]}).json()["id"]
        edit(mine, job, insert("a", "96"))

    def numbers(**query):
        answer = mine.get("/api/jobs", params=query).json()
        return [j["number"] for j in answer["jobs"]], answer["total"]

    assert numbers() == (["Q-0", "Q-1", "Q-2", "WB-1202"], 4)
    assert numbers(sort="title", down=True)[0] == ["Q-2", "Q-1", "Q-0", "WB-1202"], "large and small letters alike"
    assert len(numbers(words="gate")[0]) == 4 and numbers(words="Gate_l")[0] == ["Q-1"], "the set's name counts as well"
    assert numbers(words="100%")[0] == ["Q-0"] and numbers(words="e_l")[0] == ["Q-1"], "signs stand for themselves"
    assert numbers(state="empty")[0] == ["Q-0", "Q-1", "Q-2"] and numbers(state="drafted")[0] == ["WB-1202"]
    assert numbers(person="quay drafter")[0] == ["WB-1202"] and numbers(person="nobody")[0] == []
    assert numbers(size=2, page=2) == (["Q-2", "WB-1202"], 4) and numbers(page=9) == ([], 4)
    assert mine.get(f"/api/jobs/{quay['job_id']}/proof").status_code == 200
    card = mine.get("/api/jobs", params={"state": "drafted"}).json()
    assert card["people"] == ["quay drafter"] and card["jobs"][0]["open"] == 0 and card["jobs"][0]["lines"] == 0
    for bad in ({"size": 0}, {"page": 0}, {"sort": "colour"}, {"words": "\x00"}):
        assert mine.get("/api/jobs", params=bad).status_code == 422, bad


def test_the_small_picture_of_a_sheet(quay):
    picture = quay["client"].get(f"/api/jobs/{quay['job_id']}/sheet/picture")
    assert picture.headers["content-type"].startswith("image/svg") and picture.text.startswith("<svg")
    assert picture.text.count("<path") == 2 and len(picture.content) < 40_000


def test_a_sheet_drafted_anew_locates_as_its_house_rule_says(application, quay):
    mine = quay["client"]
    job = mine.post("/api/jobs", json={"number": "Q-CHAIN", "title": "Slide", "set_id": quay["set_id"]}).json()["id"]
    plate = recipe(
        block(120, 70, 12),
        {
            "op": "hole",
            "at": [[15, 15, 12], [45, 30, 12], [80, 55, 12]],
            "axis": [0, 0, 1],
            "diameter": 8,
            "through": True,
        },
    )
    assert upload(mine, job, step_bytes(plate)).status_code == 202
    application.wait(mine, job)

    def kinds():
        sheet = mine.get(f"/api/jobs/{job}/export/json").json()
        return [a["kind"] for a in sheet["annotations"] if a["kind"] in ("linear", "ordinate")]

    assert "ordinate" in kinds()
    edit(mine, job, {"op": "put", "what": "rules", "rev": 0, "value": {"locations": "chain"}})
    version = mine.get(f"/api/jobs/{job}/sheet").json()["version"]
    assert mine.post(f"/api/jobs/{job}/sheet/redraft", json={"version": version}).status_code == 202
    application.wait(mine, job)
    assert "ordinate" not in kinds()
    proof = mine.get(f"/api/jobs/{job}/proof").json()
    assert proof["summary"]["contradicted"] == proof["summary"]["unproven"] == 0
