"""Several people on one sheet: different things stand beside each other, the same thing is told with a name."""

from concurrent.futures import ThreadPoolExecutor

import pytest

from canonis.core.drafting.commands import read_command
from canonis.core.drafting.merging import clash
from tests.conftest import block, recipe, step_bytes
from tests.helpers import new_job, upload

HOLES = {
    "op": "hole",
    "at": [[12, 10, 10], [30, 22, 10], [51, 14, 10]],
    "axis": [0, 0, 1],
    "diameter": 4,
    "through": True,
}


@pytest.fixture
def sheet(application, client, request):
    job = new_job(client, f"T-{request.node.name[:40]}", unit="mm")
    upload(client, job, step_bytes(recipe(block(60, 30, 10), HOLES)))
    application.wait(client, job)
    state = client.get(f"/api/jobs/{job}/sheet").json()
    names = list(dict.fromkeys(t["o"] for t in state["pages"][0]["texts"] if t["o"].startswith("D")))
    return job, state["version"], names


def edit(client, job, version, **command):
    return client.post(f"/api/jobs/{job}/sheet/edits", json={"version": version, "command": command})


def test_edits_of_different_statements_on_one_version_are_both_kept(application, client, sheet):
    job, version, (a, b, *_) = sheet
    with application.client("administrator") as other:
        assert edit(client, job, version, op="move", id=a, dx=0, dy=7).status_code == 200
        second = edit(other, job, version, op="remove", id=b)
        assert second.status_code == 200
        log = second.json()["log"]
    assert [(e["author"], e["command"]["op"]) for e in log[:2]] == [("administrator", "remove"), ("drafter", "move")]
    assert b not in {t["o"] for t in second.json()["pages"][0]["texts"]}


def test_the_same_statement_is_told_with_who_did_what(application, client, sheet):
    job, version, (a, *_) = sheet
    with application.client("administrator") as other:
        assert edit(other, job, version, op="move", id=a, dx=0, dy=7).status_code == 200
    late = edit(client, job, version, op="remove", id=a)
    assert late.status_code == 409
    assert late.json()["detail"] == f"administrator moved {a} meanwhile; look at it, then make your edit once more."


def test_an_edit_of_a_version_that_was_taken_back_is_refused(client, sheet):
    job, version, (a, b, *_) = sheet
    made = edit(client, job, version, op="move", id=a, dx=0, dy=7).json()["version"]
    assert client.post(f"/api/jobs/{job}/sheet/undo", json={"version": made}).status_code == 200
    assert edit(client, job, made, op="move", id=b, dx=0, dy=7).status_code == 409
    assert edit(client, job, version, op="move", id=b, dx=0, dy=7).status_code == 200


def test_an_edit_that_is_sent_twice_is_stored_once(client, sheet):
    job, version, (a, *_) = sheet
    body = {"version": version, "command": {"op": "move", "id": a, "dx": 0, "dy": 7}, "token": "mine-1"}
    first = client.post(f"/api/jobs/{job}/sheet/edits", json=body).json()
    again = client.post(f"/api/jobs/{job}/sheet/edits", json=body)
    assert again.status_code == 200 and again.json() == first
    other = client.post(f"/api/jobs/{job}/sheet/edits", json={**body, "token": "mine-2", "version": first["version"]})
    assert other.json()["version"] > first["version"]


def test_eight_people_at_once_on_one_sheet_all_get_through(application, sheet):
    job, version, names = sheet

    def one(k):
        with application.client() as mine:
            return edit(mine, job, version, op="move", id=names[k % len(names)], dx=1 + k, dy=0)

    with ThreadPoolExecutor(8) as people:
        answers = list(people.map(one, range(len(names))))
    assert [a.status_code for a in answers] == [200] * len(names)
    assert len({a.json()["version"] for a in answers}) == len(names)


MOVE, OTHER = {"op": "move", "id": "D1", "dy": 7.0}, {"op": "move", "id": "D2", "dy": 7.0}


@pytest.mark.parametrize(
    ("mine", "theirs", "clashes"),
    [
        (MOVE, MOVE, True),
        (MOVE, OTHER, False),
        (MOVE, {"op": "remove", "id": "D1"}, True),
        ({"op": "accept", "id": "D1"}, MOVE, False),
        (MOVE, {"op": "tidy"}, True),
        ({"op": "tidy"}, OTHER, True),
        ({"op": "tidy"}, {"op": "tidy"}, True),
        ({"op": "remove", "id": "D1"}, {"op": "set", "what": "scale", "value": "1:2"}, True),
        ({"op": "accept", "id": "D1"}, {"op": "tidy"}, False),
        ({"op": "set", "what": "revision", "value": "B"}, {"op": "tidy"}, False),
        ({"op": "add-linear", "view": "V1", "refs": ["a", "b"]}, {"op": "tidy"}, False),
        ({"op": "move-view", "id": "V1", "dx": 5.0}, {"op": "move-view", "id": "V2", "dx": 5.0}, False),
        (
            {"op": "set", "what": "hidden", "view": "V1", "value": True},
            {"op": "set", "what": "hidden", "view": "V1", "value": False},
            True,
        ),
    ],
)
def test_what_clashes(mine, theirs, clashes):
    first, second = read_command(mine), read_command(theirs)
    assert clash(first, second) is clashes and clash(second, first) is clashes
    assert first.told and second.told
