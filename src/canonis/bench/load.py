"""Twenty people on twenty jobs: how long an edit, its proof and a sign of life take."""

import shutil
import statistics
import tempfile
import threading
import time
from pathlib import Path
from typing import Any

import httpx

from canonis.bench.application import Application
from canonis.bench.measure import drilled_plate

__all__ = ["bench_load", "plates"]

_PEOPLE, _FACES = 20, 100
#: Seconds of each round, and the pause of a person between two edits in it.
_ROUNDS = ((45.0, 1.0), (30.0, 0.0))


def plates(count: int, faces: int) -> list[bytes]:
    """STEP files of different plates with holes, the i-th a little longer than the one before."""
    from canonis.core.recipe import build_recipe
    from canonis.core.solid import write_step

    out = []
    for k in range(count):
        recipe = drilled_plate(faces)
        recipe["steps"][0]["profile"]["outer"]["rect"][2] += k
        built = build_recipe(recipe)
        out.append(write_step(built.shape, built.name, built.unit))
    return out


def _share(values: list[float], part: float) -> float:
    return sorted(values)[min(len(values) - 1, int(part * len(values)))] if values else float("nan")


class _Person(threading.Thread):
    """Moves a dimension to and fro on a job of their own and looks at the proof after each edit."""

    def __init__(self, client: httpx.Client, job: int, end: float, pause: float) -> None:
        super().__init__(daemon=True)
        self.client, self.job, self.end, self.pause = client, job, end, pause
        self.edits: list[float] = []
        self.proofs: list[float] = []
        self.faults: list[str] = []

    def run(self) -> None:
        sheet = self.client.get(f"/api/jobs/{self.job}/sheet").json()
        version = sheet["version"]
        name = next(t["o"] for t in sheet["pages"][0]["texts"] if t["o"].startswith("D"))
        way = 7.0
        while time.monotonic() < self.end:
            command = {"op": "move", "id": name, "dx": 0.0, "dy": way}
            begun = time.monotonic()
            answer = self.client.post(
                f"/api/jobs/{self.job}/sheet/edits", json={"version": version, "command": command}
            )
            self.edits.append(time.monotonic() - begun)
            if answer.status_code != 200:
                self.faults.append(f"{answer.status_code} {answer.text[:80]}")
                continue
            version, way = answer.json()["version"], -way
            begun = time.monotonic()
            proof = self.client.get(f"/api/jobs/{self.job}/proof")
            self.proofs.append(time.monotonic() - begun)
            if proof.status_code != 200:
                self.faults.append(f"{proof.status_code} {proof.text[:80]}")
            time.sleep(self.pause)


def _beats(address: str, end: float, out: list[float]) -> None:
    while time.monotonic() < end:
        begun = time.monotonic()
        httpx.get(f"{address}/api/health", timeout=30).raise_for_status()
        out.append(time.monotonic() - begun)
        time.sleep(0.2)


def bench_load() -> dict[str, Any]:
    """Run the rounds and print their table."""
    folder = Path(tempfile.mkdtemp(prefix="canonis-load-"))
    folder.chmod(0o755)
    application = Application(folder, slot=5)
    application.start()
    try:
        client = application.client()
        jobs = []
        begun = time.monotonic()
        for k, data in enumerate(plates(_PEOPLE, _FACES)):
            job = client.post("/api/jobs", json={"number": f"LOAD-{k}"}).json()["id"]
            client.post(f"/api/jobs/{job}/models", files={"file": ("plate.step", data)}).raise_for_status()
            jobs.append(job)
        for job in jobs:
            application.wait(client, job, 900)
        print(f"{_PEOPLE} parts of {_FACES} faces drafted in {time.monotonic() - begun:.0f} s")
        print(
            f"{'pause':>6}{'edits':>7}{'median s':>10}{'99 % s':>9}{'worst s':>9}{'proofs: median':>16}{'99 %':>8}{'health: worst':>15}{'faults':>8}"
        )
        rows = [_round(application, jobs, *one) for one in _ROUNDS]
    finally:
        application.stop()
        shutil.rmtree(folder, ignore_errors=True)
    return {"bench": "load", "people": _PEOPLE, "faces": _FACES, "rounds": rows}


def _round(application: Application, jobs: list[int], seconds: float, pause: float) -> dict[str, Any]:
    end = time.monotonic() + seconds
    people = [_Person(application.client(), job, end, pause) for job in jobs]
    beats: list[float] = []
    watch = threading.Thread(target=_beats, args=(application.address, end, beats), daemon=True)
    for one in (*people, watch):
        one.start()
    for one in (*people, watch):
        one.join(seconds + 120)
    edits = [t for p in people for t in p.edits]
    proofs = [t for p in people for t in p.proofs]
    faults = [f for p in people for f in p.faults]
    row = {
        "pause_s": pause,
        "edits": len(edits),
        "edit_median_s": round(statistics.median(edits), 3),
        "edit_p99_s": round(_share(edits, 0.99), 3),
        "edit_worst_s": round(max(edits), 3),
        "proof_median_s": round(statistics.median(proofs), 3),
        "proof_p99_s": round(_share(proofs, 0.99), 3),
        "health_worst_s": round(max(beats), 3),
        "faults": len(faults),
    }
    print(
        f"{pause:6.1f}{row['edits']:7}{row['edit_median_s']:10.3f}{row['edit_p99_s']:9.3f}{row['edit_worst_s']:9.3f}{row['proof_median_s']:16.3f}"
        f"{row['proof_p99_s']:8.3f}{row['health_worst_s']:15.3f}{row['faults']:8}"
    )
    for fault in faults[:3]:
        print("  ", fault)
    return row
