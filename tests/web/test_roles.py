"""Who may do what, on every route; and requests that make no sense."""

import httpx
import pytest

from tests.helpers import job_by, new_job

#: Routes that change something, with a body that would be right.
CHANGES = [
    ("POST", "/api/jobs", {"number": "R-1"}),
    ("POST", "/api/jobs/from-model", None),
    ("POST", "/api/jobs/{job}/source/edits", {"ops": []}),
    ("POST", "/api/jobs/{job}/sheet/edits", {"version": 1, "command": {"op": "tidy"}}),
    ("POST", "/api/jobs/{job}/sheet/undo", {"version": 1}),
    ("POST", "/api/jobs/{job}/sheet/redo", {"version": 1}),
    ("POST", "/api/jobs/{job}/sheet/redraft", {"version": 1}),
    ("PUT", "/api/jobs/{job}/links/1", {"statement": "none"}),
    ("POST", "/api/sets", {"name": "R set"}),
    ("PUT", "/api/sets/1", {"name": "R set"}),
    ("POST", "/api/tasks/1/cancel", None),
    ("PATCH", "/api/jobs/{job}/prints/1", {"page": 1}),
    ("DELETE", "/api/jobs/{job}/prints/1", None),
]
LOOKS = [
    "/api/jobs",
    "/api/sets",
    "/api/jobs/{job}",
    "/api/jobs/{job}/source",
    "/api/jobs/{job}/sheet",
    "/api/jobs/{job}/solid",
    "/api/jobs/{job}/proof",
    "/api/jobs/{job}/export/csv",
    "/api/jobs/{job}/source/export/csv",
]
KEEPS = [
    ("GET", "/api/people", None),
    ("POST", "/api/people", {"name": "n", "password": "long enough", "role": "viewer"}),
    ("PATCH", "/api/people/1", {"role": "viewer"}),
    ("DELETE", "/api/people/1", None),
]


@pytest.fixture
def job(application, client):
    found = job_by(client, "WB-1202")
    application.wait(client, found)
    return found


@pytest.mark.parametrize("role", ["viewer", "checker"])
def test_those_who_look_change_nothing(application, job, role):
    with application.client(role) as other:
        for method, path, body in CHANGES + KEEPS:
            answer = other.request(method, path.format(job=job), json=body)
            assert answer.status_code == 403, (method, path, answer.text)
            assert role in answer.json()["detail"] and len(answer.json()["detail"].splitlines()) == 1
        for path in LOOKS:
            assert other.get(path.format(job=job)).status_code == 200, path


def test_nobody_sees_nothing(application, job):
    with httpx.Client(base_url=application.address) as nobody:
        for method, path, body in [*CHANGES, *KEEPS, *[("GET", p, None) for p in LOOKS]]:
            assert nobody.request(method, path.format(job=job), json=body).status_code == 401, path
        upload = nobody.post(f"/api/jobs/{job}/models", files={"file": ("a.step", b"x")})
        assert upload.status_code == 401


def test_a_session_ends_with_signing_out_and_a_made_up_one_is_none(application):
    with application.client(fresh=True) as once:
        kept = dict(once.cookies)
        assert once.get("/api/jobs").status_code == 200
        assert once.delete("/api/session").status_code == 204
    with httpx.Client(base_url=application.address, cookies=kept) as later:
        assert later.get("/api/jobs").status_code == 401
    with httpx.Client(base_url=application.address, cookies={"canonis_session": "made up"}) as forged:
        assert forged.get("/api/jobs").status_code == 401


@pytest.mark.parametrize(
    ("path", "body"),
    [
        ("/api/jobs", {}),
        ("/api/jobs", {"number": ""}),
        ("/api/jobs", {"number": "x", "unit": "furlong"}),
        ("/api/jobs", []),
        ("/api/jobs", {"number": "x" * 200}),
        ("/api/jobs/{job}/source/edits", {"ops": "all"}),
        ("/api/jobs/{job}/source/edits", {"ops": [5]}),
        ("/api/jobs/{job}/sheet/edits", {"version": "new", "command": {}}),
        ("/api/jobs/{job}/sheet/edits", {"version": 1, "command": {"op": "burn"}}),
        ("/api/jobs/{job}/work-out", {"text": "x" * 5000}),
        ("/api/sets", {"name": " "}),
    ],
)
def test_requests_that_make_no_sense_get_one_sentence(client, job, path, body):
    answer = client.post(path.format(job=job), json=body)
    assert answer.status_code in (404, 409, 422), answer.text
    detail = answer.json()["detail"]
    assert isinstance(detail, str) and len(detail.splitlines()) == 1 and "Traceback" not in detail


@pytest.mark.parametrize("body", [b"{", b"\xff\xfe", b"null", b'{"number": 1e999}'])
def test_bodies_that_are_no_json_get_one_sentence(client, body):
    answer = client.post("/api/jobs", content=body, headers={"Content-Type": "application/json"})
    assert answer.status_code in (400, 422) and isinstance(answer.json()["detail"], str)


def test_numbers_are_unique_and_names_survive_any_letters(client):
    name = "Ø-1 / <b>“Glocke”</b> ⌀ 'x'; --"
    job = new_job(client, name, title="<script>alert(1)</script>")
    assert client.post("/api/jobs", json={"number": name}).status_code == 409
    state = client.get(f"/api/jobs/{job}").json()
    assert (state["number"], state["title"]) == (name, "<script>alert(1)</script>")
    pdf = client.get(f"/api/jobs/{job}/source/export/pdf")
    assert pdf.status_code == 200 and "/" not in pdf.headers["content-disposition"].split("filename=")[1]
