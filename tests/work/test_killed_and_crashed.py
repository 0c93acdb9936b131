"""A child that somebody ended says nothing of the file it worked on; one that crashed on it does. Nurseries that the
launcher keeps stand in for each other."""

import json
import os
import signal
import subprocess
import sys
import threading
import time
from pathlib import Path

import pytest

from canonis.core.faults import BadInput
from canonis.core.solid import step_text
from canonis.core.solid.step_text import inspect
from canonis.settings import Settings
from canonis.work import kernel
from canonis.work.kernel import KernelChild, KernelCrashed, KernelKilled
from canonis.work.nursery import Nursery
from canonis.work.pool import KernelPool
from tests.conftest import block, recipe, step_bytes
from tests.work.test_kernel import box, volume

#: Some seconds of work.
WORK = {
    "recipe": json.dumps(
        recipe(
            block(200, 200, 10),
            {
                "op": "hole",
                "at": [[5 + k % 20 * 9.5, 5 + k // 20 * 9.5, 10] for k in range(36)],
                "axis": [0, 0, 1],
                "diameter": 3,
                "through": True,
            },
        )
    )
}


@pytest.fixture(scope="module")
def pool():
    made = KernelPool(1, nice=1)
    yield made
    made.stop()


def seat(pool):
    return pool._seats[0].child


def ended(pool, how, times):
    """End the pool's child so many times, each time that it is at work."""
    done = []

    def reap():
        for _ in range(times):
            pid = None
            while pid is None or pid in done:
                time.sleep(0.02)
                pid = seat(pool).pid
            time.sleep(0.3)
            os.kill(pid, how)
            done.append(pid)

    thread = threading.Thread(target=reap, daemon=True)
    thread.start()
    return thread


def test_a_job_whose_children_were_killed_is_begun_again_and_its_file_not_blamed(pool):
    killer = ended(pool, signal.SIGKILL, 3)
    assert volume(pool.run("build", WORK)) > 0
    killer.join(30)


def test_a_job_whose_children_are_killed_again_and_again_is_the_programs_affair(pool):
    killer = ended(pool, signal.SIGKILL, 6)
    with pytest.raises(KernelKilled):
        pool.run("build", WORK)
    killer.join(30)
    assert volume(pool.run("build", box(20))) == pytest.approx(2000)


@pytest.mark.parametrize("how", [signal.SIGSEGV, signal.SIGABRT])
def test_a_job_on_which_the_kernel_crashes_twice_is_the_files(pool, how):
    killer = ended(pool, how, 2)
    with pytest.raises(KernelCrashed, match="The kernel crashed on this model"):
        pool.run("build", WORK)
    killer.join(30)


def test_one_nursery_stands_in_for_the_other(tmp_path, monkeypatch):
    paths = [tmp_path / "a", tmp_path / "b"]
    houses = [subprocess.Popen([sys.executable, "-m", "canonis.work.nursery", str(p)]) for p in paths]
    try:
        monkeypatch.setenv("CANONIS_NURSERIES", ":".join(map(str, paths)))
        monkeypatch.setattr(kernel, "NURSERY", Nursery())
        child = KernelChild()
        assert volume(child.run("build", box(10))) == pytest.approx(1000)
        while not all(p.exists() for p in paths):
            time.sleep(0.05)
        mother = int(Path(f"/proc/{child.pid}/stat").read_text().rsplit(")", 1)[1].split()[1])
        first = next(h for h in houses if h.pid == mother)
        first.kill()
        first.wait()
        # Its children end with it.
        end = time.monotonic() + 60
        while child._process.alive() and time.monotonic() < end:
            time.sleep(0.01)
        assert volume(child.run("build", box(30))) == pytest.approx(3000)
        # Whoever leaves takes its children along.
        pid = child.pid
        kernel.NURSERY._line.close()
        end = time.monotonic() + 30
        while time.monotonic() < end:
            try:
                os.kill(pid, 0)
            except ProcessLookupError:
                break
            time.sleep(0.05)
        with pytest.raises(ProcessLookupError):
            os.kill(pid, 0)
    finally:
        for house in houses:
            house.kill()
            house.wait()


def strays(count):
    data = step_bytes(recipe(block(3, 4, 5)))
    at = data.rindex(b"ENDSEC;")
    more = b"".join(b"#%d=CARTESIAN_POINT('',(0.,0.,%d.));\n" % (100_000 + k, k % 9) for k in range(count))
    return data[:at] + more + data[at:]


def test_a_file_of_stray_entities_is_one_sentence(monkeypatch):
    monkeypatch.setenv("CANONIS_MAX_ENTITIES", "5000")
    with pytest.raises(BadInput, match=r"entities and the limit is 5,000; export the part alone"):
        inspect(strays(6000), "stray.step")
    assert inspect(strays(3000), "fewer.step").name == "fewer.step"
    monkeypatch.delenv("CANONIS_MAX_ENTITIES")
    many = (
        strays(10)
        + b"#" * (Settings.model_fields["max_entities"].default * step_text._MENTIONS + 1)
        + b"\nEND-ISO-10303-21;"
    )
    with pytest.raises(BadInput, match="entities"):
        inspect(many, "marks.step")


@pytest.mark.parametrize("blank", [b"", b" ", b"\n\t ", b" " * 5000])
def test_entities_are_found_with_any_blanks_before_their_sign(blank):
    data = step_bytes(recipe(block(3, 4, 5)))
    assert inspect(data.replace(b" = ", blank + b"="), "blanks.step").name
    with pytest.raises(BadInput, match="refers to entity"):
        inspect(data.replace(b" = ", blank + b"=", 40).replace(b"#7", b"#70007", 1), "dangling.step")
