"""What is sent is read only from those who may send it, as much as the route takes, and never on the event loop when it is
large: the server answers everybody else meanwhile."""

import re
import threading
import time
from pathlib import Path

import httpx
import pytest

from canonis.web.app import ROUTERS
from tests.helpers import new_job

NESTED = b'{"name": ' + b"[" * 3_000_000 + b"]" * 3_000_000 + b"}"
FLAT = b'{"number": [' + b"[],[],{}," * 800_000 + b"1]}"
JSON = {"Content-Type": "application/json"}
#: Seconds within which the server says that it is well, whatever is sent to it.
WELL = 0.2


def endless(total, piece=b"x" * 1_000_000):
    """A body of `total` MB, made while it is sent."""
    yield b'{"a": "'
    for _ in range(total):
        yield piece


def sent(client, method, path, **body):
    """The answer's status; 0 where the server hung up on a body that it did not want."""
    try:
        return client.request(method, path, headers=JSON, **body).status_code
    except httpx.TransportError:
        return 0


class Pulse(threading.Thread):
    """Asks the server how it is while something else is done to it; the longest and the median answer, s."""

    def __init__(self, application):
        super().__init__(daemon=True)
        self.address, self.over, self.took = application.address, threading.Event(), []

    def run(self):
        with httpx.Client(base_url=self.address, timeout=60) as client:
            while not self.over.is_set():
                begun = time.monotonic()
                assert client.get("/api/health").status_code == 200
                self.took.append(time.monotonic() - begun)
                time.sleep(0.01)

    def __enter__(self):
        self.start()
        return self

    def __exit__(self, *_):
        self.over.set()
        self.join(60)


@pytest.mark.parametrize("body", [NESTED, FLAT], ids=["deep", "flat"])
def test_strangers_send_a_few_kilobytes_and_nothing_of_more_is_read(application, body):
    with httpx.Client(base_url=application.address, timeout=60) as nobody:
        assert sent(nobody, "POST", "/api/session", content=body) in (413, 0)
        assert nobody.post("/api/session", content=body[:5000], headers=JSON).status_code == 413
        assert nobody.post("/api/session", content=body[:900], headers=JSON).status_code in (400, 422)


def test_nobody_fills_the_server_by_the_end_of_an_address(application, client):
    """Each kind of body that took memory or time before, from strangers and from people; nothing of it is kept, and the
    server's memory stays where it was."""
    job = new_job(client, "T-FILL")

    def memory():
        (web,) = application.processes()["web"]
        told = Path(f"/proc/{web}/status").read_text()
        return int(re.search(r"VmRSS:\s+(\d+)", told).group(1)) // 1024

    before = memory()
    with httpx.Client(base_url=application.address, timeout=60) as nobody:
        for path in ("links/models", "links/states", "ticks/prints", "links/import"):
            assert sent(nobody, "PUT", f"/api/jobs/{job}/{path}", content=endless(40)) in (401, 0), path
            assert sent(client, "PUT", f"/api/jobs/{job}/{path}", content=endless(40)) in (413, 0), path
            short = {"content": b'{"statement": "' + b"x" * 300_000 + b'"}'}
            assert sent(client, "PUT", f"/api/jobs/{job}/{path}", **short) == 413, path
    assert memory() < before + 60, "MB"


def test_the_server_is_well_under_all_of_it(application, client):
    """The answers to health, while every large body there is comes from several sides at once: each parse that would be
    done on the event loop would stand between two of them."""
    job = new_job(client, "T-WELL")
    ops = b'{"ops": [' + b"[],[],{}," * 700_000 + b"[]]}"
    many = b'{"ops": [' + b'{"op":"move","id":"a"},' * 120_000 + b"{}]}"

    def storm():
        with httpx.Client(base_url=application.address, timeout=60) as nobody, application.client() as other:
            sent(nobody, "POST", "/api/session", content=NESTED)
            sent(nobody, "PUT", f"/api/jobs/{job}/links/models", content=endless(60))
            sent(other, "PUT", f"/api/jobs/{job}/links/models", content=endless(60))
            for body in (FLAT, ops, NESTED, many):
                assert sent(other, "POST", f"/api/jobs/{job}/source/edits", content=body) in (400, 413, 422, 0)

    with Pulse(application) as pulse:
        storms = [threading.Thread(target=storm) for _ in range(3)]
        for s in storms:
            s.start()
        for s in storms:
            s.join(120)
    # How long each took is the machine's affair; that many came in between says that nothing held the loop.
    assert len(pulse.took) > 20
    assert sorted(pulse.took)[len(pulse.took) // 2] < 10 * WELL


def test_a_long_list_of_edits_is_still_taken(client):
    job = new_job(client, "T-EDITS")
    ops = [{"op": "insert", "id": f"n{k}", "after": None, "line": {"text": f"{k} THRU, " * 20}} for k in range(400)]
    answer = client.post(f"/api/jobs/{job}/source/edits", json={"ops": ops})
    assert answer.status_code == 200 and len(answer.json()["source"]["lines"]) == 400


def test_numbers_and_nesting_of_a_body_are_bounded(client):
    job = new_job(client, "T-NEST")
    deep = b'{"ops": ' + b"[" * 20_000 + b"]" * 20_000 + b"}"
    for path in (f"/api/jobs/{job}/source/edits", "/api/jobs"):
        answer = client.post(path, content=deep, headers=JSON)
        assert answer.status_code in (400, 413, 422) and len(answer.json()["detail"].splitlines()) == 1
    few = client.post(f"/api/jobs/{job}/source/edits", content=b'{"ops": [' + b"1," * 500_000 + b"1]}", headers=JSON)
    assert few.status_code == 413 and "too many values" in few.json()["detail"]


def test_every_large_body_is_asked_for_by_name():
    """Routes that take more than the usual are few, and each of them needs a drafter or reads nothing into the store."""
    routes = [route for router in ROUTERS for route in router.routes]
    large = {r.operation_id for r in routes if getattr(r.endpoint, "largest", 0) > 256 * 1024}
    assert large == {"editSource", "readTable", "putRecipe"}
