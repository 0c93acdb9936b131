"""Versions of a sheet are kept as what differs, and read back as they were."""

import copy
import random

import psycopg
import pytest
from sqlalchemy import create_engine, func, select
from sqlalchemy.orm import Session

from canonis.store.tables import SheetVersion
from canonis.store.versions import add_version, document_of
from tests.helpers import new_job


def sheet(count):
    return {
        "views": [{"id": "V1", "at": [80.0, 60.0]}],
        "annotations": [
            {"id": f"D{k}", "kind": "ordinate", "text": f"{k}.5", "refs": [f"face:{k}"], "row": 14.0}
            for k in range(count)
        ],
    }


def changed(document, rng):
    """The document after an edit of some kind."""
    made = copy.deepcopy(document)
    rows = made["annotations"]
    kind = rng.choice(("move", "remove", "add", "tidy", "nothing", "style"))
    if kind == "move":
        rng.choice(rows)["row"] = rng.random() * 40
    elif kind == "remove" and len(rows) > 5:
        rows.pop(rng.randrange(len(rows)))
    elif kind == "add":
        rows.insert(rng.randrange(len(rows)), {"id": f"N{rng.random()}", "kind": "note", "lines": ["a/b", "c~d", "⌀"]})
    elif kind == "tidy":
        for row in rows:
            row["row"] = rng.random()
    elif kind == "style":
        made["style"] = rng.choice(("iso", "asme", None))
    return made


@pytest.fixture
def store(application):
    address = application.database_address().replace("postgresql://", "postgresql+psycopg://")
    engine = create_engine(address)
    with Session(engine) as session:
        yield session
        session.rollback()
    engine.dispose()


def chain(session, job, documents):
    made, before = [], None
    for document in documents:
        parent = made[-1] if made else None
        made.append(
            add_version(
                session,
                job_id=job,
                parent=parent,
                before=before,
                document=document,
                model_id=1,
                command={"op": "x"},
                author="drafter",
                pages="[]",
            )
        )
        before = document
    return made


@pytest.mark.parametrize("seed", range(4))
def test_every_version_reads_back_as_it_was(store, client, seed):
    rng = random.Random(seed)
    job = new_job(client, f"T-VERSIONS-{seed}")
    documents = [sheet(40)]
    for _ in range(45):
        documents.append(changed(documents[-1], rng))
    made = chain(store, job, documents)
    store.expire_all()
    for version, document in zip(made, documents, strict=True):
        assert document_of(store, version.id) == document
    depths = [v.depth for v in made]
    assert depths[0] == 0 and max(depths) < 20, "a whole one now and then"


def test_a_branch_is_put_together_from_its_own_parents(store, client):
    job = new_job(client, "T-BRANCH")
    first, second = sheet(30), changed(sheet(30), random.Random(1))
    a, b = chain(store, job, [first, second])
    other = copy.deepcopy(first)
    other["annotations"][3]["text"] = "other"
    c = add_version(store, job_id=job, parent=a, before=first, document=other, model_id=1, command={}, author="x")
    assert document_of(store, c.id) == other and document_of(store, b.id) == second


def test_moves_cost_little_and_old_pages_go(store, client):
    job = new_job(client, "T-SMALL")
    documents = [sheet(300)]
    for k in range(15):
        documents.append(copy.deepcopy(documents[-1]))
        documents[-1]["annotations"][k]["row"] = 50.0
    made = chain(store, job, documents)
    sizes = store.execute(
        select(func.pg_column_size(SheetVersion.patch)).where(SheetVersion.id.in_([v.id for v in made[1:]]))
    )
    assert max(s for (s,) in sizes) < 400, "bytes, for a document of some thirty thousand"
    kept = store.scalar(select(func.count()).where(SheetVersion.job_id == job, SheetVersion.pages.is_not(None)))
    assert kept == 8


def test_a_version_that_is_not_there_is_told(store):
    with pytest.raises(LookupError):
        document_of(store, 2_000_000_000)


def test_the_list_of_versions_comes_in_pages(application, client):
    from tests.helpers import job_by

    job = job_by(client, "WB-1203")
    state = client.get(f"/api/jobs/{job}/sheet").json()
    name = next(t["o"] for t in state["pages"][0]["texts"] if t["o"].startswith("D"))
    version = state["version"]
    for k in range(5):
        body = {"version": version, "command": {"op": "move", "id": name, "dx": 0, "dy": 1 + k}}
        version = client.post(f"/api/jobs/{job}/sheet/edits", json=body).json()["version"]
    first = client.get(f"/api/jobs/{job}/sheet/versions?count=3").json()
    assert len(first["versions"]) == 3 and first["more"] and first["versions"][0]["id"] == version
    rest = client.get(f"/api/jobs/{job}/sheet/versions?count=200&before={first['versions'][-1]['id']}").json()
    assert not rest["more"] and len(rest["versions"]) >= 3
    assert {v["id"] for v in rest["versions"]}.isdisjoint(v["id"] for v in first["versions"])
    with psycopg.connect(application.database_address()) as line:
        query = "select count(*) from sheet_versions where job_id = %s and snapshot is null"
        assert line.execute(query, (job,)).fetchone()[0] >= 5
    for _ in range(5):
        version = client.post(f"/api/jobs/{job}/sheet/undo", json={"version": version}).json()["version"]
    assert version == state["version"]
