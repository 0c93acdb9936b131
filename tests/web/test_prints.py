"""Prints of a job through the API: kept as they came, only with their job, within their number and size."""

import io

import pytest
from PIL import Image
from reportlab.pdfgen import canvas

from tests.helpers import edit, insert, new_job


def sheet(pages=1, text="a"):
    out = io.BytesIO()
    pdf = canvas.Canvas(out, pagesize=(420, 300), invariant=1)
    for k in range(pages):
        pdf.drawString(40, 40, f"{text} {k}")
        pdf.showPage()
    pdf.save()
    return out.getvalue()


def picture(kind="PNG"):
    out = io.BytesIO()
    Image.new("RGB", (64, 48), "white").save(out, kind)
    return out.getvalue()


def bring(client, job, name, data):
    return client.post(f"/api/jobs/{job}/prints", files={"file": (name, data)})


@pytest.fixture(scope="module")
def job(application):
    with application.client() as client:
        yield new_job(client, "T-PRINTS")


@pytest.mark.parametrize(
    ("name", "data", "media"),
    [
        ("a.pdf", sheet(2), "application/pdf"),
        ("b.png", picture(), "image/png"),
        ("c.JPG", picture("JPEG"), "image/jpeg"),
    ],
)
def test_a_print_comes_back_as_it_came_and_runs_nothing(client, job, name, data, media):
    made = bring(client, job, name, data)
    assert made.status_code == 201 and made.json()["name"] == name
    answer = client.get(f"/api/jobs/{job}/prints/{made.json()['id']}/file")
    assert (answer.content, answer.headers["content-type"]) == (data, media)
    policy = answer.headers["content-security-policy"]
    assert (
        "sandbox" in policy and "default-src 'none'" in policy and answer.headers["x-content-type-options"] == "nosniff"
    )


def test_a_print_belongs_to_its_job(client, job):
    made = bring(client, job, "mine.pdf", sheet()).json()["id"]
    other = new_job(client, "T-PRINTS-2")
    for method, path, body in (
        ("GET", "file", None),
        ("GET", "flagged", None),
        ("PATCH", "", {"page": 1, "turn": 90}),
        ("DELETE", "", None),
    ):
        answer = client.request(method, f"/api/jobs/{other}/prints/{made}/{path}".rstrip("/"), json=body)
        assert answer.status_code == 404, (method, path)
    assert client.get(f"/api/jobs/{job}/prints/{made}/file").status_code == 200


@pytest.mark.parametrize(
    "body",
    [
        {"page": 0},
        {"page": 2, "turn": 90},
        {"page": 1, "turn": 45},
        {"page": 1, "mm_per_width": 0},
        {"page": 1, "mm_per_width": -3},
        {},
    ],
)
def test_a_page_is_turned_and_calibrated_within_reason(client, job, body):
    made = bring(client, job, "turn.pdf", sheet(text=str(body))).json()
    assert client.patch(f"/api/jobs/{job}/prints/{made['id']}", json=body).status_code == 422
    good = client.patch(
        f"/api/jobs/{job}/prints/{made['id']}", json={"page": 1, "turn": 270, "mm_per_width": 420.5}
    ).json()
    assert (good["pages"][0]["turn"], good["pages"][0]["mm_per_width"]) == (270, 420.5)


def test_flags_go_with_their_print_and_lines_stay(client):
    job = new_job(client, "T-PRINTS-3")
    one, two = (bring(client, job, f"{k}.pdf", sheet(text=k)).json()["id"] for k in "ab")
    edit(client, job, *(insert(f"l{p}", "96", flag={"print_id": p, "page": 1, "x": 0.5, "y": 0.5}) for p in (one, two)))
    assert client.delete(f"/api/jobs/{job}/prints/{one}").status_code == 204
    lines = {x["id"]: x for x in client.get(f"/api/jobs/{job}/source").json()["lines"]}
    assert lines[f"l{one}"]["flag"] is None and lines[f"l{two}"]["flag"]["print_id"] == two
    assert client.delete(f"/api/jobs/{job}/prints/{one}").status_code == 404


def test_a_job_keeps_forty_prints_and_says_so(client):
    job = new_job(client, "T-PRINTS-40")
    data = picture()
    for k in range(40):
        assert bring(client, job, f"{k}.png", data).status_code == 201
    refused = bring(client, job, "one more.png", data)
    assert refused.status_code == 422 and refused.json()["detail"] == "A job keeps at most 40 prints; remove one first."
    assert len(client.get(f"/api/jobs/{job}/source").json()["prints"]) == 40
