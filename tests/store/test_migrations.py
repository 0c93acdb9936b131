"""Stored work survives the migrations, and what happens to it is told."""

import json
import os
import subprocess
import sys

import psycopg
import pytest

REPORT = {"file": {"sha256": "c" * 64}, "solids": []}
MESHES = [{"positions": [0.5, 1, 2], "name": "Ø 12 “bell”"}]
PAGES = [{"number": 1, "texts": [{"t": "⌀6.6"}]}]


def alembic(url, to):
    code = (
        "from alembic import command; from alembic.config import Config; from pathlib import Path; "
        "import canonis.store as s; c = Config(); "
        "c.set_main_option('script_location', str(Path(s.__file__).parent / 'migrations')); "
        f"command.{'downgrade' if to.startswith('-') else 'upgrade'}(c, {to.lstrip('-')!r})"
    )
    done = subprocess.run(
        [sys.executable, "-c", code], env={**os.environ, "CANONIS_DATABASE": url}, capture_output=True, text=True
    )
    assert done.returncode == 0, done.stderr[-2000:]


@pytest.fixture(scope="module")
def old(application):
    """A database as the second migration left it, with a job in it."""
    base = application.database_address()
    with psycopg.connect(base, autocommit=True) as line:
        line.execute("drop database if exists grown")
        line.execute("create database grown")
    url = base.rsplit("/", 1)[0] + "/grown"
    alembic(url, "0002")
    with psycopg.connect(url, autocommit=True) as line:
        line.execute("insert into users (name, role, password_hash) values ('drafter', 'drafter', 'x')")
        line.execute("insert into sessions (token_hash, user_id, expires) values ('t', 1, now() + interval '1 day')")
        line.execute("insert into drawing_sets (name, shared) values ('set', '{}')")
        line.execute(
            "insert into jobs (set_id, number, title, unit, style, source, links, source_version, model_id, sheet_head, created) "
            "values (1, 'WB-1', 'Yoke', 'mm', 'iso', '{\"lines\": []}', '{}', 1, 1, 1, now())"
        )
        line.execute("insert into blobs values (%s, 'data')", ("c" * 64,))
        line.execute(
            "insert into models (job_id, sha256, name, state, error, report, meshes, created) values (1, %s, 'a.step', 'ready', '', %s, %s, now())",
            ("c" * 64, json.dumps(REPORT), json.dumps(MESHES)),
        )
        line.execute(
            "insert into sheet_versions (job_id, model_id, document, command, pages, pages_key, author, created) "
            "values (1, 1, '{}', '{}', %s, 'k', 'drafter', now())",
            (json.dumps(PAGES),),
        )
        line.execute(
            "insert into tasks (job_id, kind, state, stage, error, arguments, created, changed) "
            "values (1, 'arrive', 'done', 'Done', '', '{}', now(), now())"
        )
    yield url
    with psycopg.connect(base, autocommit=True) as line:
        line.execute("drop database grown with (force)")


def test_what_was_stored_is_still_there_up_and_down(old):
    alembic(old, "head")
    with psycopg.connect(old, autocommit=True) as line:
        report, meshes = line.execute("select report, meshes from models").fetchone()
        (pages,) = line.execute("select pages from sheet_versions").fetchone()
        assert (report, json.loads(meshes), json.loads(pages)) == (REPORT, MESHES, PAGES)
        created, seen, agent = line.execute("select created, seen, agent from sessions").fetchone()
        assert created == seen and agent == ""
        assert line.execute("select count(*) from members m join jobs j using (workspace_id)").fetchone() == (1,)
        assert line.execute("select snapshot, patch, depth from sheet_versions").fetchone() == ({}, None, 0)
    alembic(old, "-0002")
    with psycopg.connect(old, autocommit=True) as line:
        assert line.execute("select meshes, report from models").fetchone() == (MESHES, REPORT)
        assert line.execute("select pages from sheet_versions").fetchone() == (PAGES,)
        assert line.execute("select to_regclass('kept')").fetchone() == (None,)
    alembic(old, "head")


CHANGES = [
    ("update jobs set sheet_head = 7 where id = 1", {"job": 1, "sheet": 7, "source": 1, "model": 1}),
    ("update jobs set source_version = source_version + 1", {"job": 1, "sheet": 7, "source": 2, "model": 1}),
    ("update tasks set stage = 'Reading the model', state = 'running'", {"job": 1, "task": {"id": 1, "kind": "arrive", "state": "running", "stage": "Reading the model", "error": ""}}),
    ("update users set role = 'viewer' where id = 1", {"person": 1}),
    ("update users set password_hash = 'y' where id = 1", {"person": 1}),
    ("delete from sessions", {"session": "t"}),
]  # fmt: skip
QUIET = [
    "update jobs set title = 'Other'",
    "update jobs set sheet_head = sheet_head",
    "update models set name = 'b.step'",
]


@pytest.fixture(scope="module")
def listening(old):
    alembic(old, "head")
    with psycopg.connect(old, autocommit=True) as ear, psycopg.connect(old, autocommit=True) as line:
        ear.execute("listen canonis")
        yield ear, line


@pytest.mark.parametrize(("change", "told"), CHANGES, ids=[c[0][:40] for c in CHANGES])
def test_each_change_that_somebody_may_look_at_is_told_once(listening, change, told):
    ear, line = listening
    line.execute(change)
    assert [json.loads(n.payload) for n in ear.notifies(timeout=5, stop_after=1)] == [told]


@pytest.mark.parametrize("change", QUIET)
def test_what_nobody_looks_at_is_not_told(listening, change):
    ear, line = listening
    line.execute(change)
    line.execute("update jobs set source_version = source_version + 1")
    (first,) = ear.notifies(timeout=5, stop_after=1)
    assert "source" in json.loads(first.payload), "the next thing told is the change that counts"


def test_a_long_reason_is_told_shortened_and_what_did_not_happen_is_not_told(listening):
    ear, line = listening
    line.execute("update tasks set error = repeat('ü', 9000)")
    (note,) = ear.notifies(timeout=5, stop_after=1)
    assert len(json.loads(note.payload)["task"]["error"]) == 1000
    with psycopg.connect(line.info.dsn + f" password={line.info.password}") as doubtful:
        doubtful.execute("update tasks set stage = 'never'")
        doubtful.rollback()
    line.execute("update tasks set stage = 'Done', error = ''")
    (note,) = ear.notifies(timeout=5, stop_after=1)
    assert json.loads(note.payload)["task"]["stage"] == "Done"
