"""Kernel children: every answer goes to the question it belongs to, and no wait is without a limit."""

import contextlib
import json
import os
import select
import signal
import subprocess
import sys
import threading
import time

import pytest

from canonis.core.faults import BadInput
from canonis.work import kernel
from canonis.work.channel import Channel, ChannelClosed, ChannelStuck
from canonis.work.kernel import Cancelled, KernelChild, KernelFault
from canonis.work.pool import Busy, KernelPool
from tests.conftest import block, recipe, step_bytes


def box(w):
    return {"recipe": json.dumps(recipe(block(w, 10, 10)))}


def volume(made):
    return made["ledger"]["steps"][-1]["volume_mm3"]


SLOW = {
    "recipe": json.dumps(
        recipe(
            block(200, 200, 10),
            {
                "op": "hole",
                "at": [[5 + k % 40 * 4.9, 5 + k // 40 * 4.9, 10] for k in range(1200)],
                "axis": [0, 0, 1],
                "diameter": 3,
                "through": True,
            },
        )
    )
}


class Shelf(dict):
    """A shelf in memory that remembers what it was asked for."""

    def __init__(self):
        super().__init__()
        self.asked = []

    def get(self, kind, sha256):
        self.asked.append(kind)
        return super().get((kind, sha256))

    def put(self, kind, sha256, data):
        self[(kind, sha256)] = data


@pytest.fixture(scope="module")
def child():
    made = KernelChild()
    yield made
    made.stop()


class Away(Exception):
    """What a database that is gone raises."""


def test_a_call_left_early_leaves_no_answer_behind(child):
    def progress(stage):
        raise Away(stage)

    with pytest.raises(Away):
        child.run("build", box(10), progress=progress)
    assert volume(child.run("build", box(20))) == pytest.approx(2000)
    with pytest.raises(Cancelled):
        child.run("build", SLOW, cancelled=lambda: True)
    assert volume(child.run("build", box(30))) == pytest.approx(3000)


def test_an_answer_to_another_question_is_thrown_away_and_its_child_too(child):
    child.start()
    first = child.pid
    # A question whose answer nobody waited for, as after an exception that left the call.
    child._channel.send(((-1, "somebody else's"), "build", box(99)), 10)
    with pytest.raises(KernelFault, match="answered request"):
        child.run("build", box(40), subject="mine")
    assert child.pid is None
    assert volume(child.run("build", box(50))) == pytest.approx(5000) and child.pid != first


def test_no_wait_is_without_a_limit(child, monkeypatch):
    child.start()
    monkeypatch.setattr(kernel, "SEND_LIMIT", 0.5)
    os.kill(child.pid, signal.SIGSTOP)
    with pytest.raises(BadInput, match="too hard"):
        child.run("build", {"recipe": "x" * 30_000_000})
    assert child.pid is None
    monkeypatch.undo()
    # Reading: a child that says nothing; in all: one that goes on telling stages.
    for limits in ({"stage_limit": 0.6}, {"total_limit": 0.6}):
        with pytest.raises(BadInput, match="too hard"):
            child.run("build", SLOW, **limits)
    assert volume(child.run("build", box(60))) == pytest.approx(6000)


def test_what_a_busy_machine_lets_a_stage_wait_is_not_its_models_fault(child):
    child.start()
    pid = child.pid
    os.kill(pid, signal.SIGSTOP)
    waiting = threading.Timer(5.0, os.kill, (pid, signal.SIGCONT))
    waiting.start()
    assert volume(child.run("build", box(70), stage_limit=4.0)) == pytest.approx(7000)
    assert child.pid == pid


def test_a_message_that_is_not_finished_or_not_read_ends_the_wait():
    import socket

    a, b = (Channel(s) for s in socket.socketpair())
    with pytest.raises(ChannelStuck):
        a.receive(0.05)
    a._socket.sendall((1000).to_bytes(8, "big") + b"half of it")
    with pytest.raises(ChannelStuck):
        b.receive(0.05)
    with pytest.raises(ChannelStuck):
        a.send(b"x" * 50_000_000, 0.2)
    a.close()
    with pytest.raises(ChannelClosed):
        b.receive(5)


def test_a_second_child_has_a_model_back_without_its_file(child):
    data = step_bytes(
        recipe(
            block(80, 50, 12), {"op": "hole", "at": [[10, 10, 12]], "axis": [0, 0, 1], "diameter": 6, "through": True}
        )
    )
    import hashlib

    sha = hashlib.sha256(data).hexdigest()
    shelf, model = Shelf(), {"sha256": sha, "name": "plate.step"}
    shelf.put("step", sha, data)
    spec = json.dumps({"schema": "canonis.source/1", "unit": "mm"})
    asked = {"model": model, "spec": spec, "station": {}}
    study = child.run("study", asked, subject=sha, shelf=shelf)
    sheet = child.run("first_sheet", {**asked, "options": {}}, subject=sha, shelf=shelf)["document"]
    shown = child.run("show", {**asked, "document": sheet}, subject=sha, shelf=shelf)
    proof = child.run("prove", {**asked, "document": sheet, "links": {}}, subject=sha, shelf=shelf)
    assert study["report"]["file"]["sha256"] == sha and {k for k, _ in shelf} == {"step", "tables", "shapes", "proofs"}
    other = KernelChild()
    try:
        shelf.asked.clear()
        assert other.run("show", {**asked, "document": sheet}, subject=sha, shelf=shelf) == shown
        assert other.run("prove", {**asked, "document": sheet, "links": {}}, subject=sha, shelf=shelf) == proof
        mark = next(a["id"] for a in sheet["annotations"] if a.get("kind") == "ordinate")
        command = {"op": "move", "id": mark, "dx": 0, "dy": 7}
        assert other.run("edit", {**asked, "document": sheet, "command": command}, subject=sha, shelf=shelf)["pages"]
        # A statement that only moved, and a sheet shown again, ask neither for the file nor for the kernel's shapes.
        assert set(shelf.asked) == {"tables", "proofs", "matches"}
        # What does need the kernel gets its shapes back, and the same answer.
        assert other.run("study", asked, subject=sha, shelf=shelf)["meshes"] == study["meshes"]
        assert "shapes" in shelf.asked and "step" not in shelf.asked
    finally:
        other.stop()


def test_a_file_under_the_wrong_hash_is_never_taken(child):
    shelf = Shelf()
    shelf.put("step", "0" * 64, step_bytes(recipe(block(3, 4, 5))))
    asked = {"model": {"sha256": "0" * 64, "name": "a.step"}, "spec": '{"schema": "canonis.source/1"}', "station": {}}
    with pytest.raises(KernelFault, match="asked for model"):
        child.run("study", asked, subject="0" * 64, shelf=shelf)


@pytest.fixture(scope="module")
def pool():
    made = KernelPool(2)
    yield made
    made.stop()


def started(pool, **more):
    """A slow build in a thread, once it has told its first stage; the thread and an event that ends it."""
    begun, over = threading.Event(), threading.Event()
    faults = []

    def work():
        try:
            pool.run("build", SLOW, progress=lambda _: begun.set(), cancelled=over.is_set, **more)
        except (Cancelled, Busy) as fault:
            faults.append(fault)

    thread = threading.Thread(target=work)
    thread.start()
    return thread, begun, over, faults


def test_slow_work_leaves_a_child_to_quick_work(pool):
    first, begun, over, _ = started(pool, slow=True)
    assert begun.wait(60)
    second, _, over_too, faults = started(pool, slow=True, wait_limit=0.3)
    second.join(30)
    assert isinstance(faults[0], Busy), "a second slow job waits although a child is free"
    assert volume(pool.run("build", box(7))) == pytest.approx(700)
    for event, thread in ((over, first), (over_too, second)):
        event.set()
        thread.join(60)


def test_a_child_that_somebody_kills_is_replaced_and_its_job_done_again(pool):
    ends = []

    def progress(_):
        if not ends:
            ends.append(True)
            for seat in pool._seats:
                if seat.taken and seat.child.pid:
                    os.kill(seat.child.pid, signal.SIGKILL)

    assert volume(pool.run("build", box(8), progress=progress)) == pytest.approx(800) and ends


def test_those_who_wait_are_served_in_their_order(pool):
    holders = [started(pool, subject=f"h{k}") for k in range(2)]
    assert all(begun.wait(60) for _, begun, _, _ in holders)
    served = []

    def ask(k):
        pool.run("build", box(k + 1))
        served.append(k)

    threads = []
    for k in range(4):
        threads.append(threading.Thread(target=ask, args=(k,)))
        threads[-1].start()
        while len(pool._queue) < k + 1:
            time.sleep(0.01)
    holders[0][2].set()
    holders[0][0].join(60)
    for thread in threads:
        thread.join(60)
    assert served == [0, 1, 2, 3]
    holders[1][2].set()
    holders[1][0].join(60)


def test_children_come_from_a_nursery_that_is_started_again_and_ends_with_them(child):
    """Whoever ends the nursery ends its children; the next job starts another. Kill it twice: both ways are walked."""
    for _ in range(2):
        child.start()
        nursery, pid = kernel.NURSERY._process, child.pid
        nursery.kill()
        nursery.wait()
        while child._process.alive():
            time.sleep(0.01)
        assert volume(child.run("build", box(30))) == pytest.approx(3000)
        assert child.pid != pid and kernel.NURSERY._process is not nursery


def test_a_process_that_ends_leaves_neither_nursery_nor_children(tmp_path):
    code = (
        "from canonis.work import kernel\n"
        "import os, time\n"
        "child = kernel.KernelChild()\nchild.start()\n"
        "print(child.pid, kernel.NURSERY._process.pid, flush=True)\ntime.sleep(600)\n"
    )
    owner = subprocess.Popen([sys.executable, "-c", code], stdout=subprocess.PIPE, text=True)
    pids = [int(x) for x in owner.stdout.readline().split()]
    owner.kill()
    owner.wait()
    for pid in pids:
        with contextlib.suppress(ProcessLookupError):
            look = select.poll()
            look.register(os.pidfd_open(pid), select.POLLIN)
            assert look.poll(60_000)
