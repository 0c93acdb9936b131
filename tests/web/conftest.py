"""What the tests of the routes share."""

import pytest

from tests.conftest import block, recipe, step_bytes
from tests.helpers import upload


@pytest.fixture(scope="session")
def quay(application):
    """A workspace of one drafter alone, with a set, a job that is drafted, and its task; nobody else is in it."""
    with application.client("administrator") as chief:
        answer = chief.post("/api/workspaces", json={"name": "Quay House"})
        assert answer.status_code == 201, answer.text
        places = answer.json()
        place = next(w["id"] for w in places if w["name"] == "Quay House")
        people = chief.post(
            "/api/people",
            json={"name": "quay drafter", "password": "a long quay", "role": "drafter", "workspaces": [place]},
        ).json()
        assert next(p for p in people if p["name"] == "quay drafter")["workspaces"] == [place]
        # Who makes a workspace is in it; this administrator leaves.
        me = next(p for p in people if p["name"] == "administrator")
        left = [w for w in me["workspaces"] if w != place]
        chief.patch(f"/api/people/{me['id']}", json={"workspaces": left})
    client = application.client(fresh=True)
    client.post("/api/session", json={"name": "quay drafter", "password": "a long quay"}).raise_for_status()
    shared = client.post("/api/sets", json={"name": "Quay gates"}).json()
    job = client.post("/api/jobs", json={"number": "WB-1202", "set_id": shared["id"]}).json()["id"]
    task = upload(client, job, step_bytes(recipe(block(30, 20, 10)))).json()["id"]
    application.wait(client, job)
    yield {"client": client, "place": place, "job_id": job, "set_id": shared["id"], "task_id": task}
    client.close()
