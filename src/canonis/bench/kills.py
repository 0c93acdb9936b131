"""Processes killed at random while people work: nothing acknowledged is lost, nothing is stuck, nothing stands in the wrong
job."""

import json
import os
import random
import shutil
import signal
import tempfile
import threading
import time
from collections import Counter
from pathlib import Path
from typing import Any

import httpx

from canonis.bench.application import Application
from canonis.bench.load import plates

__all__ = ["bench_kills"]

_PEOPLE, _KILLS, _FACES = 6, 45, 24
#: Seconds between two kills at most, and seconds until the application must be usable again.
_PAUSE, _USABLE = 4.0, 15.0
_VICTIMS = ("web", "nursery", "web child", "worker", "worker child", "database")


class _Person(threading.Thread):
    """Adds lines, moves a dimension and brings in models on a job of their own, and remembers what was acknowledged."""

    def __init__(self, application: Application, number: int, files: list[bytes]) -> None:
        super().__init__(daemon=True)
        self.application, self.number, self.files = application, number, files
        self.client = application.client(timeout=20)
        self.job = self.client.post("/api/jobs", json={"number": f"KILL-{number}"}).json()["id"]
        self.lines: list[str] = []
        self.versions: list[int] = []
        self.tasks: list[int] = []
        self.over = threading.Event()
        self.tries = 0

    def run(self) -> None:
        rng = random.Random(self.number)
        while not self.over.is_set():
            try:
                self._once(rng)
            except (httpx.HTTPError, KeyError, StopIteration, json.JSONDecodeError):
                time.sleep(0.3)

    def _once(self, rng: random.Random) -> None:
        self.tries += 1
        what = rng.random()
        if what < 0.15 or not self.tasks:
            file = rng.choice(self.files)
            answer = self.client.post(f"/api/jobs/{self.job}/models", files={"file": ("plate.step", file)})
            if answer.status_code == 202:
                self.tasks.append(answer.json()["id"])
        elif what < 0.6:
            name = f"k{self.tries}"
            ops = [{"op": "insert", "id": name, "after": None, "line": {"text": f"{self.tries}"}}]
            if self.client.post(f"/api/jobs/{self.job}/source/edits", json={"ops": ops}).status_code == 200:
                self.lines.append(name)
        else:
            sheet = self.client.get(f"/api/jobs/{self.job}/sheet")
            if sheet.status_code != 200:
                time.sleep(0.2)
                return
            state = sheet.json()
            owner = next(t["o"] for t in state["pages"][0]["texts"] if t["o"].startswith("D"))
            command = {"op": "move", "id": owner, "dx": 0.0, "dy": rng.choice([-7.0, 7.0])}
            body = {"version": state["version"], "command": command}
            answer = self.client.post(f"/api/jobs/{self.job}/sheet/edits", json=body)
            if answer.status_code == 200:
                self.versions.append(answer.json()["version"])
        time.sleep(0.1)


def _usable(application: Application) -> float:
    """Seconds until sign-in, list and an edit of a list work again."""
    begun = time.monotonic()
    while time.monotonic() - begun < 120:
        try:
            with application.client(timeout=20, fresh=True) as client:
                if client.get("/api/jobs").status_code == 200:
                    return time.monotonic() - begun
        except (httpx.HTTPError, OSError):
            pass
        time.sleep(0.1)
    return float("inf")


def _left_over(application: Application, people: list[_Person]) -> dict[str, int]:
    """Acknowledged work that is not there, and work under a wrong hash."""
    import psycopg

    found: Counter[str] = Counter()
    with psycopg.connect(application.database_address()) as line:
        for person in people:
            row = line.execute("select source from jobs where id = %s", (person.job,)).fetchone()
            kept = [x["id"] for x in row[0]["lines"]] if row else []
            found["lines lost"] += len(set(person.lines) - set(kept))
            found["lines doubled"] += len(kept) - len(set(kept))
            there = {v for (v,) in line.execute("select id from sheet_versions where job_id = %s", (person.job,))}
            found["sheet versions lost"] += len(set(person.versions) - there)
            states: dict[int, str] = dict(
                line.execute("select id, state from tasks where job_id = %s", (person.job,)).fetchall()
            )
            found["tasks lost"] += len(set(person.tasks) - set(states))
            found["tasks stuck"] += sum(s in ("waiting", "running") for s in states.values())
            found["tasks failed"] += sum(s == "failed" for s in states.values())
        wrong = "select count(*) from models where report is not null and report->'file'->>'sha256' <> sha256"
        found["results under a wrong hash"] = (line.execute(wrong).fetchone() or (0,))[0]
        stuck = "select count(*) from models m where state = 'waiting' and exists (select 1 from tasks t where (t.arguments->>'model')::int = m.id)"
        found["models waiting"] = (line.execute(stuck).fetchone() or (0,))[0]
    return dict(found)


def bench_kills() -> dict[str, Any]:
    """Kill, count, and print what was lost."""
    folder = Path(tempfile.mkdtemp(prefix="canonis-kills-"))
    folder.chmod(0o755)
    application = Application(folder, slot=6)
    application.start()
    rng = random.Random(7)
    kills: Counter[str] = Counter()
    waits: list[float] = []
    try:
        files = plates(4, _FACES)
        people = [_Person(application, k, files) for k in range(_PEOPLE)]
        for person in people:
            person.start()
        while sum(kills.values()) < _KILLS:
            time.sleep(rng.uniform(0.3, _PAUSE))
            victim = rng.choice(_VICTIMS)
            there = application.processes()[victim]
            if not there:
                continue
            os.kill(rng.choice(there), signal.SIGKILL)
            kills[victim] += 1
            if victim in ("web", "database"):
                waits.append(_usable(application))
        for person in people:
            person.over.set()
        for person in people:
            person.join(60)
        _usable(application)
        quiet = _until_quiet(application, people)
        left = _left_over(application, people)
    finally:
        application.stop()
        shutil.rmtree(folder, ignore_errors=True)
    acknowledged = sum(len(p.lines) + len(p.versions) for p in people)
    tasks = sum(len(p.tasks) for p in people)
    print("kills: " + ", ".join(f"{n} {k}" for k, n in sorted(kills.items())))
    print(f"{'acknowledged edits':34}{acknowledged:7}\n{'background tasks':34}{tasks:7}")
    for name, count in left.items():
        print(f"{name:34}{count:7}")
    print(
        f"{'usable again after, worst s':34}{max(waits, default=0.0):7.1f}\n{'all work done after, s':34}{quiet:7.1f}"
    )
    return {
        "bench": "kills",
        "kills": dict(kills),
        "acknowledged": acknowledged,
        "tasks": tasks,
        **left,
        "usable_worst_s": round(max(waits, default=0.0), 1),
        "within": max(waits, default=0.0) <= _USABLE,
        "quiet_s": round(quiet, 1),
    }


def _until_quiet(application: Application, people: list[_Person]) -> float:
    begun = time.monotonic()
    with application.client() as client:
        for person in people:
            application.wait(client, person.job, 600)
    return time.monotonic() - begun
