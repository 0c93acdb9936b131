"""Every route, by everybody: who may not is refused before anything else is looked at."""

import re

import httpx
import pytest

from canonis.web.app import app

#: Open to anyone, and those who look but draw nothing may use these although they send something.
OPEN = {"getSession", "signIn", "signOut", "getHealth"}
LOOKING = {
    "readLine",
    "workOut",
    "readTable",
    "measurePicks",
    "measureThickness",
    "changeOwnPassword",
    "endOtherSessions",
}
#: What a checker says of a sheet and its source.
REMARKS = {"putLook", "addRemark", "settleRemark", "removeRemark", "putTick", "removeTick"}
ADMINISTRATION = {"listPeople", "addPerson", "changePerson", "removePerson", "addWorkspace", "changeWorkspace"}
ROUTES = sorted(
    (operation["operationId"], method.upper(), re.sub(r"\{\w+\}", "1", path))
    for path, methods in app.openapi()["paths"].items()
    for method, operation in methods.items()
)


def test_the_list_of_routes_is_whole():
    names = [name for name, _, _ in ROUTES]
    assert len(names) == len(set(names)) > 45
    assert set(names) >= OPEN | ADMINISTRATION


@pytest.fixture(scope="module")
def askers(application):
    with httpx.Client(base_url=application.address, timeout=60) as nobody:
        yield {
            "nobody": nobody,
            "forged": httpx.Client(base_url=application.address, timeout=60, cookies={"canonis_session": "made up"}),
            **{role: application.client(role, fresh=True) for role in ("viewer", "checker", "drafter")},
        }


@pytest.mark.parametrize("who", ["nobody", "forged"])
def test_nobody_gets_past_the_door(askers, who):
    for name, method, path in ROUTES:
        if name in OPEN:
            continue
        answer = askers[who].request(method, path)
        assert answer.status_code == 401, (name, answer.status_code)
        assert answer.json() == {"detail": "Sign in first."}


@pytest.mark.parametrize("who", ["viewer", "checker"])
def test_those_who_look_are_refused_what_changes_something(askers, who):
    for name, method, path in ROUTES:
        if method == "GET" or name in OPEN | LOOKING | ADMINISTRATION or (who == "checker" and name in REMARKS):
            continue
        answer = askers[who].request(method, path)
        assert answer.status_code == 403, (name, answer.status_code)
        assert f"A {who} may not do this" in answer.json()["detail"]


@pytest.mark.parametrize("who", ["viewer", "checker", "drafter"])
def test_accounts_are_the_administrators(askers, who):
    for name, method, path in ROUTES:
        if name in ADMINISTRATION:
            answer = askers[who].request(method, path)
            assert answer.status_code == 403 and "ask an administrator" in answer.json()["detail"], name


def test_what_is_not_there_is_said_to_those_who_may(askers):
    """With a number of a job that cannot be, every route of a job answers in one sentence."""
    for name, method, path in ROUTES:
        if "/jobs/1" not in path or name == "jobEvents":
            continue
        for number in ("0", "999999999", "-5", "99999999999999999999", "x"):
            answer = askers["drafter"].request(method, path.replace("/jobs/1", f"/jobs/{number}"))
            assert answer.status_code in (404, 422), (name, number, answer.status_code)
            assert isinstance(answer.json()["detail"], str) and len(answer.json()["detail"].splitlines()) == 1


def test_what_is_no_route_is_no_page_of_the_api(askers):
    for path in ("/api", "/api/", "/api/nothing", "/api/jobs/1/nothing", "/api/../etc/passwd", "/api/%2e%2e/x"):
        answer = askers["drafter"].get(path)
        assert answer.status_code in (200, 404) and "root:" not in answer.text
    assert askers["drafter"].put("/api/jobs").status_code == 405
