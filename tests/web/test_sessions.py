"""Signing in under pressure, and sessions that end when they should."""

import threading
from datetime import UTC, datetime, timedelta

import httpx
import psycopg
import pytest

from tests.helpers import job_by


@pytest.fixture
def person(application):
    """An account of its own for one test: its number, its name and its password."""
    made = []

    def make(name, role="drafter"):
        with application.client("administrator") as admin:
            body = {"name": name, "password": "a good long one", "role": role}
            people = admin.post("/api/people", json=body).json()
        made.append(next(p["id"] for p in people if p["name"] == name))
        return made[-1]

    yield make
    with application.client("administrator") as admin:
        for one in made:
            admin.delete(f"/api/people/{one}")


def enter(application, name, password="a good long one", source=None):
    transport = httpx.HTTPTransport(local_address=source) if source else None
    client = httpx.Client(base_url=application.address, timeout=60, transport=transport)
    answer = client.post("/api/session", json={"name": name, "password": password})
    return client, answer.status_code


def test_sixty_wrong_passwords_slow_down_only_their_own_kind(application, person):
    person("the guessed one")
    person("somebody else")
    codes = []

    def guess(k):
        name = "the guessed one" if k % 2 else f"nobody {k}"
        with httpx.Client(
            transport=httpx.HTTPTransport(local_address="127.0.0.9"), base_url=application.address, timeout=60
        ) as one:
            codes.append(one.post("/api/session", json={"name": name, "password": "wrong"}).status_code)

    threads = [threading.Thread(target=guess, args=(k,)) for k in range(60)]
    for t in threads:
        t.start()
    other, status = enter(application, "somebody else")
    assert status == 200, "a right password from elsewhere is let in meanwhile"
    for t in threads:
        t.join()
    assert set(codes) <= {401, 429} and codes.count(429) >= 30, "most of them were not even hashed"
    assert enter(application, "the guessed one")[1] == 200
    assert other.get("/api/jobs").status_code == 200


def test_a_guessed_name_is_closed_to_its_guesser_and_not_to_its_owner(application, person):
    person("guessed slowly")
    codes = [enter(application, "guessed slowly", "wrong", source="127.0.0.8")[1] for _ in range(8)]
    assert codes[0] == 401 and codes[-1] == 429
    assert enter(application, "Guessed Slowly ", source="127.0.0.8")[1] == 429, "however it is written"
    assert enter(application, "guessed slowly")[1] == 200


def test_an_unknown_name_costs_the_same_hash():
    from canonis.store.people import _hasher, _nobody

    def parameters(text):
        return text.rsplit("$", 2)[0]

    assert parameters(_nobody()) == parameters(_hasher.hash("anything"))


def test_no_connection_is_held_while_a_password_is_hashed(application, monkeypatch):
    from canonis.store import database, people

    monkeypatch.setenv("CANONIS_DATABASE", application.database_address())
    for kept in (database.engine, database._maker):
        kept.cache_clear()
    held = []
    verify = people._hasher.verify

    class Watched:
        def __getattr__(self, name):
            return getattr(people_hasher, name)

        def verify(self, *arguments):
            held.append(database.engine().pool.checkedout())
            return verify(*arguments)

    people_hasher = people._hasher
    monkeypatch.setattr(people, "_hasher", Watched())
    assert people.verify("drafter", "quill-and-scale").role == "drafter"
    assert people.verify("nobody at all", "x") is None
    assert held == [0, 0]
    database.engine().dispose()
    for kept in (database.engine, database._maker):
        kept.cache_clear()


def test_people_change_their_own_password_and_end_their_other_sessions(application, person):
    person("changing")
    here, there = enter(application, "changing")[0], enter(application, "changing")[0]
    listed = here.get("/api/sessions").json()
    assert len(listed) == 2 and sum(s["here"] for s in listed) == 1 and listed[0]["agent"].startswith("python-httpx")
    wrong = here.post("/api/session/password", json={"old": "no", "new": "another long one"})
    assert wrong.status_code == 422 and "not your present password" in wrong.json()["detail"]
    assert here.post("/api/session/password", json={"old": "a good long one", "new": "short"}).status_code == 422
    assert (
        here.post("/api/session/password", json={"old": "a good long one", "new": "another long one"}).status_code
        == 204
    )
    assert (here.get("/api/jobs").status_code, there.get("/api/jobs").status_code) == (200, 401)
    assert enter(application, "changing")[1] == 401
    again, status = enter(application, "changing", "another long one")
    assert status == 200
    assert [s["here"] for s in again.delete("/api/sessions").json()] == [True]
    assert here.get("/api/jobs").status_code == 401


def test_a_session_slides_while_it_is_used_up_to_a_bound(application, person):
    number = person("sliding")
    client, _ = enter(application, "sliding")

    def put(**ages):
        with psycopg.connect(application.database_address()) as line:
            for column, days in ages.items():
                value = datetime.now(UTC) + timedelta(days=days)
                line.execute(f"update sessions set {column} = %s where user_id = %s", (value, number))

    def days_left():
        with psycopg.connect(application.database_address()) as line:
            (end,) = line.execute("select expires from sessions where user_id = %s", (number,)).fetchone()
        return (end - datetime.now(UTC)).total_seconds() / 86400

    put(seen=-3, expires=2)
    assert client.get("/api/jobs").status_code == 200 and days_left() == pytest.approx(14, abs=0.1)
    put(created=-58, seen=-3)
    assert client.get("/api/jobs").status_code == 200 and days_left() == pytest.approx(2, abs=0.1)
    put(expires=-0.001)
    assert client.get("/api/jobs").status_code == 401


@pytest.mark.parametrize("how", ["sign out", "demoted", "password", "removed"])
def test_the_event_stream_ends_with_the_session(application, client, person, how):
    name = f"listening {how}"
    number = person(name)
    listener, _ = enter(application, name)
    job = job_by(client, "WB-1204")
    lines = []
    begun = threading.Event()

    def listen():
        with listener.stream("GET", f"/api/jobs/{job}/events", timeout=60) as stream:
            for line in stream.iter_lines():
                lines.append(line)
                begun.set()

    thread = threading.Thread(target=listen)
    thread.start()
    assert begun.wait(30)
    with application.client("administrator") as admin:
        if how == "sign out":
            httpx.delete(f"{application.address}/api/session", cookies=listener.cookies)
        elif how == "demoted":
            admin.patch(f"/api/people/{number}", json={"role": "viewer"})
        elif how == "password":
            admin.patch(f"/api/people/{number}", json={"password": "yet another one"})
        else:
            admin.delete(f"/api/people/{number}")
    thread.join(40)
    assert not thread.is_alive() and "event: ended" in lines


def test_guessing_ones_old_password_has_its_limit_and_locks_nobody_out(application, person):
    person("sat at")
    here, _ = enter(application, "sat at")
    codes = [
        here.post("/api/session/password", json={"old": f"guess {k}", "new": "another long one"}).status_code
        for k in range(9)
    ]
    assert codes[0] == 422 and codes[-1] == 429 and codes.count(422) == 6
    assert (
        here.post("/api/session/password", json={"old": "a good long one", "new": "another long one"}).status_code
        == 429
    )
    there, status = enter(application, "sat at")
    assert status == 200, "its owner is not locked out by it"
    assert (
        there.post("/api/session/password", json={"old": "a good long one", "new": "another long one"}).status_code
        == 204
    )


@pytest.mark.parametrize("weak", ["        ", "password", "12345678", "qwertyuiop", "Passw0rd!", "weak one weak one"])
def test_passwords_that_are_guessed_at_once_are_refused(application, person, weak):
    number = person("weak one")
    mine, _ = enter(application, "weak one")
    with application.client("administrator") as admin:
        answers = [
            admin.post("/api/people", json={"name": "weak one more", "password": weak, "role": "viewer"}),
            admin.patch(f"/api/people/{number}", json={"password": weak}),
            mine.post("/api/session/password", json={"old": "a good long one", "new": weak}),
        ]
    # The name itself is no secret of whoever has that name.
    for answer in answers if weak != "weak one weak one" else answers[1:]:
        assert answer.status_code == 422 and "guessed at once" in answer.json()["detail"], answer.text
    assert enter(application, "weak one")[1] == 200, "the old one holds"
    if answers[0].status_code == 201:
        with application.client("administrator") as admin:
            admin.delete(f"/api/people/{next(p['id'] for p in answers[0].json() if p['name'] == 'weak one more')}")


@pytest.mark.parametrize(
    "like", ["LOOKED ALIKE", "looked\u200b alike", "looked alike\u202e", "ｌooked alike", " looked  alike"]
)
def test_names_that_look_alike_are_one_account(application, person, like):
    person("looked alike")
    with application.client("administrator") as admin:
        answer = admin.post("/api/people", json={"name": like, "password": "a good long one", "role": "viewer"})
        assert answer.status_code == 409 and "already an account" in answer.json()["detail"]
        assert (
            admin.post(
                "/api/people", json={"name": "\u200b\u202e", "password": "a good long one", "role": "viewer"}
            ).status_code
            == 422
        )
    assert enter(application, like)[1] == 200, "and it is signed in to however it is typed"
