"""What a person at the screen waits for: a job of some three hundred statements opened, a statement clicked and nudged;
and twenty people on one sheet."""

import shutil
import statistics
import tempfile
import threading
import time
from pathlib import Path
from typing import Any

import httpx

from canonis.bench.application import Application

__all__ = ["bench_screen", "scattered_plate"]

_HOLES, _SIZES = 165, (3.0, 4.2, 5.0, 6.6)
_CLICKS, _PEOPLE, _SECONDS = 15, 20, 30.0
_FLAGS = ["--no-sandbox", "--disable-gpu", "--no-first-run"]
#: From the press of the button to the frame that shows the statement chosen, ms.
_WATCH = """() => {
  window.waits = [];
  window.addEventListener("pointerdown", (event) => {
    const owner = event.target.closest("[data-owner]")?.dataset.owner;
    const look = () => document.querySelector(`[data-owner="${owner}"].chosen`)
      ? window.waits.push(performance.now() - event.timeStamp) : requestAnimationFrame(look);
    requestAnimationFrame(look);
  }, true);
}"""


def scattered_plate() -> bytes:
    """A STEP file of a plate whose holes share no level, so that each needs two ordinates."""
    from canonis.core.recipe import build_recipe
    from canonis.core.solid import write_step

    columns = 13
    steps: list[dict[str, Any]] = [
        {
            "name": "plate",
            "op": "extrude",
            "profile": {"plane": "XY", "outer": {"rect": [0, 0, 24 * columns + 20, 280]}},
            "distance": 8,
        }
    ]
    for j, size in enumerate(_SIZES):
        mine = range(j, _HOLES, len(_SIZES))
        at = [
            [16 + 24 * (k % columns) + 2.2 * (k // columns), 16 + 25 * (k // columns) + 1.8 * (k % columns), 8]
            for k in mine
        ]
        steps.append(
            {"name": f"holes {j}", "op": "hole", "at": at, "axis": [0, 0, 1], "diameter": size, "through": True}
        )
    built = build_recipe(
        {"schema": "canonis.recipe/1", "unit": "mm", "name": "scattered", "density": 2.7, "steps": steps}
    )
    return write_step(built.shape, built.name, built.unit)


def _seen(page: Any, address: str, job: int) -> float:
    """Seconds until the sheet stands on the screen with its statements and the ledger with its lines."""
    begun = time.monotonic()
    page.goto(f"{address}/jobs/{job}/sheet", wait_until="commit")
    page.locator("svg.board .statement").first.wait_for()
    page.locator(".ledger .line").first.wait_for()
    return time.monotonic() - begun


def _at_the_screen(application: Application, job: int) -> dict[str, Any]:
    from playwright.sync_api import sync_playwright

    with sync_playwright() as playwright:
        chromium = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=_FLAGS)
        page = chromium.new_context(viewport={"width": 1280, "height": 800}).new_page()
        page.goto(application.address)
        page.get_by_role("button", name="Enter as drafter").click()
        page.get_by_role("heading", name="Drawing sets").wait_for()
        first = _seen(page, application.address, job)
        again = min(_seen(page, application.address, job) for _ in range(3))
        page.evaluate(_WATCH)
        statements = page.locator("svg.board .statement")
        for k in range(_CLICKS):
            box = statements.nth(4 + 9 * k).locator("text").last.bounding_box()
            if box is None:
                continue
            page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
            page.wait_for_timeout(120)
        page.locator("svg.board").focus()
        nudges = []
        for _ in range(5):
            begun = time.monotonic()
            with page.expect_response("**/sheet/edits"):
                page.keyboard.press("ArrowUp")
            nudges.append(time.monotonic() - begun)
        clicks = page.evaluate("window.waits")
        chromium.close()
    return {
        "first_load_s": round(first, 2),
        "load_again_s": round(again, 2),
        "click_median_ms": round(statistics.median(clicks)),
        "click_worst_ms": round(max(clicks)),
        "clicks": len(clicks),
        "nudge_median_s": round(statistics.median(nudges), 2),
    }


class _Hand(threading.Thread):
    """Moves statements of its own on the sheet that all share, on whatever version it saw last."""

    def __init__(self, client: httpx.Client, job: int, names: list[str], end: float) -> None:
        super().__init__(daemon=True)
        self.client, self.job, self.names, self.end = client, job, names, end
        self.through, self.refused, self.waits = 0, 0, []  # type: ignore[var-annotated]

    def run(self) -> None:
        version = self.client.get(f"/api/jobs/{self.job}/sheet").json()["version"]
        turn = 0
        while time.monotonic() < self.end:
            command = {
                "op": "move",
                "id": self.names[turn % len(self.names)],
                "dx": 0.0,
                "dy": 3.5 if turn % 4 < 2 else -3.5,
            }
            begun = time.monotonic()
            answer = self.client.post(
                f"/api/jobs/{self.job}/sheet/edits", json={"version": version, "command": command}
            )
            self.waits.append(time.monotonic() - begun)
            if answer.status_code == 200:
                version, turn = answer.json()["version"], turn + 1
                self.through += 1
            else:
                self.refused += 1
                version = self.client.get(f"/api/jobs/{self.job}/sheet").json()["version"]
            time.sleep(1.0)


def _twenty(application: Application, job: int) -> dict[str, Any]:
    sheet = application.client().get(f"/api/jobs/{job}/sheet").json()
    names = [n for n in dict.fromkeys(t["o"] for t in sheet["pages"][0]["texts"]) if n.startswith("D")]
    end = time.monotonic() + _SECONDS
    hands = [_Hand(application.client(), job, names[k::_PEOPLE], end) for k in range(_PEOPLE)]
    for hand in hands:
        hand.start()
    for hand in hands:
        hand.join(_SECONDS + 120)
    waits = [w for h in hands for w in h.waits]
    return {
        "people": _PEOPLE,
        "seconds": _SECONDS,
        "through": sum(h.through for h in hands),
        "refused": sum(h.refused for h in hands),
        "wait_median_s": round(statistics.median(waits), 2),
        "wait_worst_s": round(max(waits), 2),
    }


def bench_screen() -> dict[str, Any]:
    """Measure and print; needs Chromium and the test packages."""
    folder = Path(tempfile.mkdtemp(prefix="canonis-screen-"))
    folder.chmod(0o755)
    application = Application(folder, slot=6)
    application.start()
    try:
        client = application.client()
        job = client.post("/api/jobs", json={"number": "SCREEN"}).json()["id"]
        client.post(f"/api/jobs/{job}/models", files={"file": ("plate.step", scattered_plate())}).raise_for_status()
        begun = time.monotonic()
        application.wait(client, job, 900)
        drafted = time.monotonic() - begun
        statements = len([r for r in client.get(f"/api/jobs/{job}/proof").json()["ledger"] if r["kind"] == "statement"])
        print(f"{statements} statements, drafted and proved in {drafted:.0f} s")
        screen = _at_the_screen(application, job)
        print("   ".join(f"{k} {v}" for k, v in screen.items()))
        together = _twenty(application, job)
        print("   ".join(f"{k} {v}" for k, v in together.items()))
    finally:
        application.stop()
        shutil.rmtree(folder, ignore_errors=True)
    return {"bench": "screen", "statements": statements, **screen, "together": together}
