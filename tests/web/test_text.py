"""Whatever is typed or sent, the answer is one sentence: characters that cannot be stored, numbers that are none, names in
other scripts."""

import json
import re

import pytest

from tests.conftest import block, recipe, step_bytes
from tests.helpers import edit, insert, new_job, upload

HUGE = "9" * 5000


@pytest.fixture(scope="module")
def job(application):
    with application.client() as client:
        number = new_job(client, "T-TEXT")
        upload(client, number, step_bytes(recipe(block(30, 20, 10))))
        application.wait(client, number)
        yield number


def one_sentence(answer, *statuses):
    assert answer.status_code in (statuses or (400, 404, 409, 422)), answer.text
    detail = answer.json()["detail"]
    assert isinstance(detail, str) and len(detail.splitlines()) == 1 and "Traceback" not in detail


def raw(client, method, path, text):
    return client.request(
        method, path, content=text.encode("utf-8", "surrogatepass"), headers={"Content-Type": "application/json"}
    )


BODIES = [
    ("POST", "/api/jobs", '{"number": "%s"}'), ("POST", "/api/jobs", '{"number": "x", "title": "%s"}'),
    ("POST", "/api/session", '{"name": "%s", "password": "x"}'), ("POST", "/api/sets", '{"name": "%s"}'),
    ("POST", "/api/jobs/{job}/read-line", '{"text": "%s"}'), ("POST", "/api/jobs/{job}/work-out", '{"text": "%s"}'),
    ("PUT", "/api/jobs/{job}/recipe", '{"text": "%s"}'), ("PUT", "/api/jobs/{job}/names", '{"id": "F1", "name": "%s"}'),
    ("PATCH", "/api/jobs/{job}/station", '{"materials": {"%s": 3}}'), ("PUT", "/api/jobs/{job}/links/1", '{"statement": "%s"}'),
    ("POST", "/api/jobs/{job}/checkpoint-table", '{"text": "%s"}'),
    ("POST", "/api/jobs/{job}/sheet/edits", '{"version": 1, "command": {"op": "set", "what": "revision", "value": "%s"}}'),
]  # fmt: skip


@pytest.mark.parametrize(("method", "path", "body"), BODIES)
@pytest.mark.parametrize("bad", ["\\u0000", "\\ud800", "x\\udfffy"])
def test_characters_that_cannot_be_stored_are_refused(client, job, method, path, body, bad):
    one_sentence(raw(client, method, path.format(job=job), body % f"a{bad}b"), 422, 401)


@pytest.mark.parametrize(
    "path",
    [
        "/api/jobs/%00",
        "/api/jobs/1/links/%00",
        "/api/jobs/1/export/%ff",
        "/api/jobs/{job}/export/pdf?sheet=%00",
        "/%00",
    ],
)
def test_addresses_with_such_characters_too(client, job, path):
    one_sentence(client.get(path.format(job=job)))


@pytest.mark.parametrize(
    "number", ["1e999", "NaN", "-Infinity", HUGE, "1" + "0" * 30, '"12"', "null", "[1]", "{}", "true"]
)
@pytest.mark.parametrize(
    ("method", "path", "body"),
    [
        ("POST", "/api/jobs/{job}/sheet/edits", '{"version": 1, "command": {"op": "move", "id": "D1", "dx": %s}}'),
        ("POST", "/api/jobs/{job}/sheet/edits", '{"version": %s, "command": {"op": "tidy"}}'),
        (
            "POST",
            "/api/jobs/{job}/sheet/edits",
            '{"version": 1, "command": {"op": "set", "what": "hidden", "view": %s, "value": 3}}',
        ),
        ("POST", "/api/jobs/{job}/thickness", '{"solid": 0, "face": 0, "at": [0, %s, 0]}'),
        ("POST", "/api/jobs/{job}/measure", '{"picks": [{"kind": "face", "index": %s}]}'),
        ("PATCH", "/api/jobs/{job}/station", '{"decimals": %s, "materials": {"x": %s}}'),
        ("POST", "/api/jobs", '{"number": "q", "set_id": %s}'),
    ],
)
def test_numbers_that_are_none_and_wrong_kinds_never_fail_the_server(client, job, number, method, path, body):
    answer = raw(client, method, path.format(job=job), body.replace("%s", number))
    assert answer.status_code < 500, answer.text
    if answer.status_code >= 400:
        one_sentence(answer)
    elif answer.status_code == 201:
        assert client.get("/api/jobs").status_code == 200


@pytest.mark.parametrize(
    "op",
    [
        {"op": "insert", "id": "n", "line": {"text": "5\x00"}},
        {"op": "insert", "id": "n", "line": {"number": HUGE}},
        {"op": "set", "id": "a", "rev": 10**30, "fields": {"text": "7"}},
        {"op": "set", "id": ["a"]},
        {"op": {"a": 1}},
        {"op": "move", "id": None, "after": {}},
    ],
)
def test_a_refused_edit_of_a_list_takes_no_other_with_it(client, op):
    number = new_job(client, f"T-OPS-{abs(hash(json.dumps(op))) % 10**9}")
    edit(client, number, insert("a", "5"))
    made = edit(client, number, insert("b", "6", "a"), op, insert("c", "7", "b"))
    assert [x["text"] for x in made["source"]["lines"]] == ["5", "6", "7"]
    assert made["refused"] or made["conflicts"] or op["op"] == "move"
    assert {r["index"] for r in made["refused"]} <= {1}


@pytest.mark.parametrize(
    "text",
    [
        "[" * 100_000,
        '{"schema": "canonis.source/1", "header": [1]}',
        '{"schema": "canonis.source/1", "chains": [1, null], "characteristics": [5, {}]}',
        '{"schema": "canonis.source/1", "density": ' + HUGE + "}",
        '{"schema": "canonis.source/1", "title": "a\\u0000b"}',
        '{"schema":"canonis.source/1","characteristics":' + "[" * 5000 + "]" * 5000 + "}",
    ],
)
def test_lists_that_are_none_are_one_sentence(client, job, text):
    answer = client.post(f"/api/jobs/{job}/source/import?replace=true", files={"file": ("list.json", text.encode())})
    assert answer.status_code in (200, 422), answer.text
    if answer.status_code == 422:
        one_sentence(answer)


@pytest.mark.parametrize("number", ["ЧАСЫ-7", "鐘 12", "Ø-1 / “Glocke”", "🔔", "ته-٣"])
def test_files_are_named_after_jobs_in_any_script(application, client, number):
    made = new_job(client, number)
    upload(client, made, step_bytes(recipe(block(11, 12, 13))))
    application.wait(client, made)
    for path in ("export/pdf", "export/csv", "source/export/csv", "source/export/pdf"):
        answer = client.get(f"/api/jobs/{made}/{path}")
        assert answer.status_code == 200, answer.text
        head = answer.headers["content-disposition"]
        assert re.fullmatch(r"attachment; filename=\"[\w.-]+\"(; filename\*=UTF-8''[\w.%-]+)?", head), head


def test_a_number_of_blanks_is_none_and_a_set_cannot_take_anothers_name(client):
    one_sentence(client.post("/api/jobs", json={"number": "   "}), 422)
    first = client.post("/api/sets", json={"name": "Set one"}).json()
    second = client.post("/api/sets", json={"name": "Set two"}).json()
    new_job(client, "T-TAKEN", set_id=second["id"])
    taken = client.put(f"/api/sets/{second['id']}", json={**second, "name": "Set one"})
    one_sentence(taken, 409)
    assert {s["name"] for s in client.get("/api/sets").json()} >= {"Set one", "Set two"} and first["id"] != second["id"]


def test_a_pool_without_a_free_connection_says_try_again(application, monkeypatch):
    import asyncio

    import httpx

    from canonis.store import database

    monkeypatch.setenv("CANONIS_DATABASE", application.database_address())
    from sqlalchemy import create_engine

    full = create_engine(database._address(), pool_size=1, max_overflow=0, pool_timeout=0.2)
    monkeypatch.setattr(database, "engine", lambda: full)
    database._maker.cache_clear()
    from canonis.web.app import app

    async def ask():
        transport = httpx.ASGITransport(app, raise_app_exceptions=False)
        async with httpx.AsyncClient(
            transport=transport, base_url="http://test", cookies={"canonis_session": "x"}
        ) as page:
            with full.connect():
                return await page.get("/api/jobs")

    answer = asyncio.run(ask())
    database._maker.cache_clear()
    full.dispose()
    one_sentence(answer, 503)
    assert "busy" in answer.json()["detail"]
