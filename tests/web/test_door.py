"""What every request passes: who may upload is settled before the body, other sites are refused, headers are set."""

import asyncio
import socket
import threading

import httpx
import pytest

from tests.conftest import block, recipe, step_bytes
from tests.helpers import new_job, upload


def spoken(application, head, body=b"", wait=10.0):
    """What the server says to a request of which only this much is ever sent."""
    host, port = application.address.removeprefix("http://").split(":")
    with socket.create_connection((host, int(port)), timeout=wait) as line:
        line.sendall(head.replace("\n", "\r\n").encode() + b"\r\n\r\n" + body)
        got = b""
        while not got.rstrip().endswith(b"}"):
            piece = line.recv(65536)
            if not piece:
                break
            got += piece
        return got.decode("utf-8", "replace")


def form(job, length, cookie="", chunked=False):
    size = "Transfer-Encoding: chunked" if chunked else f"Content-Length: {length}"
    return f"POST /api/jobs/{job}/models HTTP/1.1\nHost: x\nContent-Type: multipart/form-data; boundary=b\n{size}" + (
        f"\nCookie: canonis_session={cookie}" if cookie else ""
    )


@pytest.fixture(scope="module")
def cookies(application):
    out = {}
    for role in ("drafter", "viewer"):
        with application.client(role) as client:
            out[role] = client.cookies["canonis_session"]
    return out


def test_an_upload_is_refused_before_its_body_is_taken(application, client, cookies):
    job = new_job(client, "T-BODY")
    # Not a byte of the body is sent in any of these; the answer comes all the same.
    assert "401" in spoken(application, form(job, 90_000_000)).splitlines()[0]
    assert "403" in spoken(application, form(job, 90_000_000, cookies["viewer"])).splitlines()[0]
    refused = spoken(application, form(job, 900_000_000, cookies["drafter"]))
    assert "413" in refused.splitlines()[0] and "limit of 100 MB" in refused
    assert (
        "413"
        in spoken(
            application,
            f"POST /api/jobs HTTP/1.1\nHost: x\nContent-Length: 99000000\nCookie: canonis_session={cookies['drafter']}",
        ).splitlines()[0]
    )


def test_a_body_without_a_length_is_bounded_while_it_streams(client):
    def endless():
        yield b'{"number": "'
        for _ in range(20):
            yield b"x" * 1_000_000

    answer = client.post("/api/jobs", content=endless(), headers={"Content-Type": "application/json"})
    assert answer.status_code == 413 and "256 kB" in answer.json()["detail"]


@pytest.mark.parametrize(
    "body",
    [
        b"",
        b"--b\r\n",
        b'--b\r\nContent-Disposition: form-data; name="other"\r\n\r\nx\r\n--b--\r\n',
        b"nothing of the kind",
    ],
)
def test_a_form_without_a_file_is_one_sentence(client, body):
    job = new_job(client, f"T-FORM-{len(body)}")
    for path in ("models", "states", "prints", "source/import"):
        answer = client.post(
            f"/api/jobs/{job}/{path}", content=body, headers={"Content-Type": "multipart/form-data; boundary=b"}
        )
        assert answer.status_code == 422 and isinstance(answer.json()["detail"], str)
    assert client.post(f"/api/jobs/{job}/models", json={"file": "x"}).status_code == 422


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({"Origin": "https://elsewhere.example"}, 403),
        ({"Sec-Fetch-Site": "cross-site"}, 403),
        ({"Sec-Fetch-Site": "same-site"}, 403),
        ({"Origin": "null"}, 403),
        ({"Sec-Fetch-Site": "same-origin"}, 422),
        ({"Sec-Fetch-Site": "none"}, 422),
        ({}, 422),
    ],
)
def test_another_site_changes_nothing(client, headers, status):
    assert client.post("/api/jobs", json={}, headers=headers).status_code == status
    assert client.get("/api/jobs", headers=headers).status_code == 200, "looking is no change"


def test_our_own_page_may_change_things(application, client):
    assert client.post("/api/jobs", json={}, headers={"Origin": application.address}).status_code == 422


def test_headers_say_what_a_browser_may_do(application, client):
    for path in ("/", "/api/health", "/api/jobs", "/assets/none.js"):
        head = client.get(path).headers
        assert "frame-ancestors 'none'" in head["content-security-policy"], path
        assert "script-src 'self' 'wasm-unsafe-eval';" in head["content-security-policy"]
        assert (head["x-content-type-options"], head["referrer-policy"]) == ("nosniff", "same-origin")
        assert "strict-transport-security" not in head
    assert client.get("/api/jobs").headers["cache-control"] == "no-store"


def test_https_is_asked_for_only_where_it_is_served(monkeypatch):
    from canonis.web.app import app

    async def ask(*paths):
        # In this process, without its database: neither answer needs one.
        transport = httpx.ASGITransport(app)
        async with httpx.AsyncClient(transport=transport, base_url="http://test") as page:
            return [await page.get(path) for path in paths]

    monkeypatch.setenv("CANONIS_HTTPS", "1")
    monkeypatch.delenv("CANONIS_DEMO", raising=False)
    (schema,) = asyncio.run(ask("/api/openapi.json"))
    assert "max-age" in schema.headers["strict-transport-security"]
    assert schema.status_code == 401, "the schema is for people who signed in"
    monkeypatch.setenv("CANONIS_DEMO", "1")
    (schema,) = asyncio.run(ask("/api/openapi.json"))
    assert schema.json()["info"]["title"] == "Canonis"


def test_the_server_answers_while_a_long_list_is_read(application, client):
    job = new_job(client, "T-LONG")
    rows = "\n".join(f"{k},front,4x ⌀{k % 90 + 1}.{k % 7} THRU ⌴⌀{k % 90 + 5}.5 ↧{k % 6 + 1}" for k in range(5000))
    over = threading.Event()
    got = []

    def bring():
        with application.client(timeout=300) as other:
            got.append(other.post(f"/api/jobs/{job}/source/import", files={"file": ("list.csv", rows.encode())}))
        over.set()

    thread = threading.Thread(target=bring)
    thread.start()
    beats = 0
    while not over.is_set():
        assert httpx.get(f"{application.address}/api/health", timeout=60).status_code == 200
        beats += not over.is_set()
    thread.join(10)
    assert got[0].status_code == 200 and len(got[0].json()["lines"]) == 5000
    # On the event loop one answer at most came while the list was read.
    assert beats >= 5


def test_a_large_step_text_is_looked_through_by_the_worker(application, client):
    """Beyond some MB a file is taken at once; what is wrong with it is the task's answer."""
    job = new_job(client, "T-LARGE")
    filler = b"\n".join(b"#%d=CARTESIAN_POINT('',(0.,0.,%d.));" % (k, k % 1000) for k in range(100, 240_000))
    data = b"ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\n" + filler + b"\n#1=A(#7);\nENDSEC;\nEND-ISO-10303-21;\n"
    assert len(data) > 8 * 1024 * 1024
    assert upload(client, job, data).status_code == 202
    task = application.wait(client, job)["tasks"][0]
    assert task["state"] == "failed" and "refers to entity #7" in task["error"]
    small = upload(client, job, data[:200] + b"\n#1=A(#7);\nENDSEC;\nEND-ISO-10303-21;\n")
    assert small.status_code == 422 and "#" in small.json()["detail"]


def test_names_of_files_are_kept_without_folders_and_controls(application, client):
    job = new_job(client, "T-NAME")
    assert (
        upload(client, job, step_bytes(recipe(block(3, 4, 5))), "..\\..\\/etc/pass\x07wd\u202e.step").status_code == 202
    )
    name = application.wait(client, job)["models"][0]["name"]
    assert "/" not in name and "\\" not in name and "\x07" not in name and name.endswith(".step")
