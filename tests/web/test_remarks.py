"""Remarks on statements: said by a checker, settled by a drafter, found again on a sheet that was drafted anew."""

import pytest

from tests.conftest import block, recipe, step_bytes
from tests.helpers import new_job, upload

PLATE = [block(60, 30, 10), {"op": "hole", "at": [[12, 10, 10]], "axis": [0, 0, 1], "diameter": 5, "through": True}]


@pytest.fixture(scope="module")
def job(application):
    with application.client() as client:
        made = new_job(client, "T-REMARKS")
        upload(client, made, step_bytes(recipe(*PLATE)))
        application.wait(client, made)
        yield made


def statements(client, job):
    return {
        r["text"]: r["number"]
        for r in client.get(f"/api/jobs/{job}/proof").json()["ledger"]
        if r["kind"] == "statement"
    }


def test_a_checker_says_a_drafter_settles_a_viewer_reads(application, job):
    with (
        application.client("checker") as checker,
        application.client() as drafter,
        application.client("viewer") as viewer,
    ):
        hole = statements(checker, job)["⌀5 THRU"]
        body = {"statement": hole, "text": "  Is this reamed?\nAsk the shop. "}
        assert viewer.post(f"/api/jobs/{job}/remarks", json=body).status_code == 403
        (card,) = checker.post(f"/api/jobs/{job}/remarks", json=body).json()
        assert (card["statement"], card["said"], card["author"]) == (hole, "⌀5 THRU", "checker")
        assert card["text"] == "Is this reamed?\nAsk the shop." and card["settled_by"] == ""
        assert viewer.get(f"/api/jobs/{job}/remarks").json() == [card]
        path = f"/api/jobs/{job}/remarks/{card['id']}"
        assert drafter.patch(path, json={"settled": True}).json()[0]["settled_by"] == "drafter"
        assert drafter.patch(path, json={"settled": False}).json()[0]["settled_by"] == ""
        refused = drafter.delete(path)
        assert refused.status_code == 403 and "a remark of checker's" in refused.json()["detail"]
        assert checker.delete(path).json() == []
        assert checker.patch(path, json={"settled": True}).status_code == 404


def test_a_remark_goes_with_what_its_statement_names(application, job):
    with application.client("checker") as checker, application.client() as drafter:
        hole = statements(checker, job)["⌀5 THRU"]
        checker.post(f"/api/jobs/{job}/remarks", json={"statement": hole, "text": "reamed?"})
        # A revised model, wider and with another hole before it: the sheet is drafted anew, labels may move.
        more = {"op": "hole", "at": [[40, 15, 10]], "axis": [0, 0, 1], "diameter": 3, "through": True}
        upload(drafter, job, step_bytes(recipe(block(60, 30, 10), more, PLATE[1])))
        application.wait(drafter, job)
        version = drafter.get(f"/api/jobs/{job}/sheet").json()["version"]
        drafter.post(f"/api/jobs/{job}/sheet/redraft", json={"version": version})
        application.wait(drafter, job)
        (card,) = checker.get(f"/api/jobs/{job}/remarks").json()
        assert card["statement"] == statements(checker, job)["⌀5 THRU"]
        head = drafter.get(f"/api/jobs/{job}/sheet").json()["version"]
        command = {"op": "remove", "id": card["statement"]}
        drafter.post(f"/api/jobs/{job}/sheet/edits", json={"version": head, "command": command}).raise_for_status()
        (card,) = checker.get(f"/api/jobs/{job}/remarks").json()
        assert card["statement"] is None and card["said"] == "⌀5 THRU", "what it was about is still said"


@pytest.mark.parametrize(
    ("body", "status", "says"),
    [
        ({"statement": "D999", "text": "x"}, 404, "not on the sheet any more"),
        ({"statement": "D1", "text": "   "}, 422, "text"),
        ({"statement": "D1", "text": "x" * 2001}, 422, "text"),
        ({"statement": "D1", "text": "a\x00b"}, 422, ""),
    ],
)
def test_a_bad_remark_is_one_sentence(application, job, body, status, says):
    with application.client("checker") as checker:
        answer = checker.post(f"/api/jobs/{job}/remarks", json=body)
        assert answer.status_code == status and says in answer.json()["detail"]
        assert len(answer.json()["detail"].splitlines()) == 1
