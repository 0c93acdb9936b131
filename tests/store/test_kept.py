"""Packets kept by content and code version: never another file's, never another program's."""

import psycopg
import pytest
from sqlalchemy import create_engine
from sqlalchemy.orm import sessionmaker

from canonis.core.code_version import code_version
from canonis.store import kept
from canonis.store.specs import belongs, pages_key

SHA = "a" * 64


@pytest.fixture
def shelf(application, monkeypatch):
    engine = create_engine(application.database_address().replace("postgresql://", "postgresql+psycopg://"))
    made = sessionmaker(engine, expire_on_commit=False)
    monkeypatch.setattr(kept, "open_session", lambda: made())
    yield kept.StoreShelf()
    with psycopg.connect(application.database_address()) as line:
        line.execute("delete from kept where sha256 in (%s, %s)", (SHA, "b" * 64))
    engine.dispose()


def test_what_was_put_is_got_by_its_kind_and_file_alone(shelf):
    shelf.put("tables", SHA, b"one")
    shelf.put("shapes", SHA, b"two")
    assert (shelf.get("tables", SHA), shelf.get("shapes", SHA)) == (b"one", b"two")
    assert shelf.get("proofs", SHA) is None and shelf.get("tables", "b" * 64) is None
    shelf.put("tables", SHA, b"newer")
    assert shelf.get("tables", SHA) == b"newer"


def test_a_changed_program_takes_nothing_of_the_old_one(shelf, monkeypatch):
    shelf.put("tables", SHA, b"old")
    monkeypatch.setattr(kept, "code_version", lambda: "another program")
    assert shelf.get("tables", SHA) is None
    shelf.put("tables", SHA, b"new")
    assert shelf.get("tables", SHA) == b"new"
    monkeypatch.undo()


def test_sweeping_removes_what_other_programs_kept_and_what_there_is_no_room_for(application, shelf, monkeypatch):
    shelf.put("tables", SHA, b"x" * 1000)
    shelf.put("tables", "b" * 64, b"y" * 1000)
    with psycopg.connect(application.database_address(), autocommit=True) as line:
        line.execute("insert into kept values (%s, 'tables', 'another program', 'z')", (SHA,))
        line.execute("update kept set made = now() + interval '1 hour' where sha256 = %s", ("b" * 64,))
        line.execute("update kept set made = now() + interval '30 minutes' where sha256 = %s", (SHA,))
        kept.sweep_kept()
        left = {
            (s, c) for s, c in line.execute("select sha256, code from kept where sha256 in (%s, %s)", (SHA, "b" * 64))
        }
        assert left == {(SHA, code_version()), ("b" * 64, code_version())}
        monkeypatch.setattr(kept, "_MOST_BYTES", 1500)
        kept.sweep_kept()
    assert shelf.get("tables", "b" * 64) == b"y" * 1000, "the newest stays"
    assert shelf.get("tables", SHA) is None, "the older has no room"


def test_files_come_from_the_same_shelf(application, shelf):
    with psycopg.connect(application.database_address()) as line:
        sha, data = line.execute("select sha256, data from blobs limit 1").fetchone()
    assert shelf.get("step", sha) == bytes(data) and shelf.get("step", "f" * 64) is None


@pytest.mark.parametrize(
    ("report", "good"),
    [
        ({"file": {"sha256": SHA}}, True),
        ({"file": {"sha256": "b" * 64}}, False),
        ({"file": {}}, False),
        ({}, False),
        (None, False),
    ],
)
def test_a_report_belongs_to_the_file_it_was_measured_on(report, good):
    assert belongs(report, SHA) is good


def test_pages_depend_on_model_source_and_program(monkeypatch):
    keys = {pages_key(1, 1), pages_key(2, 1), pages_key(1, 2), pages_key(12, 1), pages_key(1, 21)}
    assert len(keys) == 5 and all(code_version() in k for k in keys)


def test_the_code_version_follows_the_code(tmp_path, monkeypatch):
    from canonis.core import code_version as module

    monkeypatch.setattr(module, "__file__", str(tmp_path / "code_version.py"))

    def version():
        module.code_version.cache_clear()
        return module.code_version()

    (tmp_path / "a.py").write_text("one = 1\n")
    first = version()
    assert version() == first
    (tmp_path / "notes.txt").write_text("not code")
    assert version() == first
    (tmp_path / "a.py").write_text("one = 2\n")
    second = version()
    (tmp_path / "a.py").rename(tmp_path / "b.py")
    third = version()
    assert len({first, second, third}) == 3
    monkeypatch.undo()
    module.code_version.cache_clear()
