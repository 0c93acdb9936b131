"""Lists that somebody brings: nothing goes unless it is a source, somebody saw what goes, and agreed; and it comes back."""

from uuid import uuid4

import pytest

from tests.helpers import edit, insert, new_job

SOURCE = b"unit: mm\nmaterial: brass\n[characteristics]\n1 | front | 96\n2 | top | 4x \xe2\x8c\x806.6 THRU\n3 | | flatness 0.05\n"


@pytest.fixture
def job(client):
    made = new_job(client, f"T-BRING-{uuid4().hex[:8]}")
    edit(client, made, insert("a", "40"), insert("b", "R6", "a"))
    edit(client, made, {"op": "put", "what": "workings", "rev": 0, "value": ["web = 40 / 2"]})
    return made


def lines(client, job):
    return [x["text"] for x in client.get(f"/api/jobs/{job}/source").json()["lines"]]


def bring(client, job, data, name, how="import", **query):
    return client.post(f"/api/jobs/{job}/source/{how}", files={"file": (name, data)}, params=query)


@pytest.mark.parametrize("name", ["readme.txt", "notes.md", "part.spec", "list.json"])
@pytest.mark.parametrize(
    "data",
    [
        b"",
        b"[]",
        b'"x"',
        b"Take the part out of the box.\nThen read on.\n",
        b"# a heading\n\nwords, and more words\n",
        b"42",
        b'{"a": 1}',
        b"\xff\xfe\x00",
    ],
    ids=["empty", "array", "string", "words", "heading", "number", "object", "no text"],
)
def test_what_is_no_source_takes_nothing_away(client, job, name, data):
    for how, query in (("preview", {}), ("import", {}), ("import", {"replace": "true"})):
        answer = bring(client, job, data, name, how, **query)
        assert answer.status_code == 422, (how, answer.text)
        assert len(answer.json()["detail"].splitlines()) == 1
    assert lines(client, job) == ["40", "R6"]


def test_a_source_replaces_only_when_somebody_agreed_and_comes_back(client, job):
    seen = bring(client, job, SOURCE, "cock.spec", "preview").json()
    assert (seen["whole"], seen["comes"], seen["goes"], seen["stays"], seen["unread"], seen["asks"]) == (
        True,
        3,
        2,
        0,
        0,
        True,
    )
    assert seen["first"] == ["1  96", "2  4x ⌀6.6 THRU", "3  flatness 0.05"]
    refused = bring(client, job, SOURCE, "cock.spec")
    assert refused.status_code == 409 and "2 of its lines go" in refused.json()["detail"]
    assert lines(client, job) == ["40", "R6"]
    taken = bring(client, job, SOURCE, "cock.spec", replace="true").json()
    assert [x["text"] for x in taken["lines"]] == ["96", "4x ⌀6.6 THRU", "flatness 0.05"]
    assert taken["workings"] == [] and "cock.spec" in taken["earlier"]["why"]
    back = client.post(f"/api/jobs/{job}/source/take-back").json()
    assert [x["text"] for x in back["lines"]] == ["40", "R6"] and [w["text"] for w in back["workings"]] == [
        "web = 40 / 2"
    ]
    # What was taken back comes again the same way: nothing is lost either way.
    again = client.post(f"/api/jobs/{job}/source/take-back").json()
    assert [x["text"] for x in again["lines"]] == ["96", "4x ⌀6.6 THRU", "flatness 0.05"]
    # An edit that was typed on the list before is told of, not stored over another.
    ops = [{"op": "put", "what": "workings", "rev": 1, "value": ["old"]}]
    assert client.post(f"/api/jobs/{job}/source/edits", json={"ops": ops}).json()["conflicts"]


def test_where_nothing_goes_nobody_is_asked(client, job):
    empty = new_job(client, "T-BRING-EMPTY")
    assert bring(client, empty, SOURCE, "cock.spec", "preview").json()["asks"] is False
    assert bring(client, empty, SOURCE, "cock.spec").status_code == 200
    assert client.post(f"/api/jobs/{empty}/source/take-back").status_code == 409, "there was nothing before"
    # Lines of a table are added, and can be taken back too.
    added = bring(client, job, b"number,where,shorthand\n7,front,96\n", "more.csv").json()
    assert [x["text"] for x in added["lines"]] == ["40", "R6", "96"]
    assert [x["text"] for x in client.post(f"/api/jobs/{job}/source/take-back").json()["lines"]] == ["40", "R6"]


def test_a_source_of_which_most_reads_as_none_is_refused(client, job):
    mixed = b"unit: mm\nthis is a letter\nof several lines\nto whom it may concern\n"
    answer = bring(client, job, mixed, "letter.txt", replace="true")
    assert answer.status_code == 422 and "1 of its 4 lines read" in answer.json()["detail"]


def test_those_who_look_bring_nothing(application, job):
    with application.client("checker") as other:
        assert bring(other, job, SOURCE, "cock.spec", replace="true").status_code == 403
        assert other.post(f"/api/jobs/{job}/source/take-back").status_code == 403
