"""Shared fixtures: parts built by recipes, so that their true sizes are known."""

import fcntl
import json
import math
import os
import shutil
import subprocess
import tempfile
from collections import Counter
from collections.abc import Iterator
from functools import lru_cache
from pathlib import Path
from typing import Any

import httpx
import pytest
from hypothesis import settings

from canonis.bench.application import Application
from canonis.core.drafting.draft import Draft, DraftWish, draft_model
from canonis.core.features.recognition import recognise
from canonis.core.recipe.build import build_recipe
from canonis.core.solid.making import write_step
from canonis.core.solid.reader import Model, read_model
from canonis.core.study.hints import hints_of
from canonis.demo.load import flawed_recipe

# A slow machine is no error: tests never hold themselves to a time.
settings.register_profile("canonis", deadline=None)
settings.load_profile("canonis")

#: Seconds that the tests of each file took, their fixtures included.
_spent: Counter[str] = Counter()


def pytest_runtest_logreport(report: pytest.TestReport) -> None:
    """Gather what each file takes; under several processes this is called where their reports come together."""
    _spent[report.nodeid.partition("::")[0]] += report.duration


def pytest_terminal_summary(terminalreporter: Any) -> None:
    """Say which files took the time."""
    if len(_spent) > 1:
        terminalreporter.write_sep("=", "seconds by file")
        for name, seconds in _spent.most_common():
            terminalreporter.write_line(f"{seconds:8.1f}  {name}")


PARTS = Path(__file__).parents[1] / "src" / "canonis" / "demo" / "parts"
REAL = Path(os.environ.get("CANONIS_REAL_PARTS", "/tmp/real-parts"))


def recipe(*steps: dict[str, Any], unit: str = "mm") -> dict[str, Any]:
    """A recipe of these steps; unnamed ones are numbered."""
    named = [{"name": f"s{k}", **s} for k, s in enumerate(steps)]
    return {"schema": "canonis.recipe/1", "unit": unit, "name": "trial", "density": 1.0, "steps": named}


def block(w: float, d: float, h: float) -> dict[str, Any]:
    """A block with a corner at the origin."""
    return {"op": "extrude", "profile": {"plane": "XY", "outer": {"rect": [0, 0, w, d]}}, "distance": h}


def step_bytes(data: dict[str, Any]) -> bytes:
    """The STEP text of a recipe, made once a process."""
    return _step(json.dumps(data, sort_keys=True))


@lru_cache(maxsize=400)
def _step(text: str) -> bytes:
    built = build_recipe(json.loads(text))
    return write_step(built.shape, built.name, built.unit)


def model_of(data: dict[str, Any]) -> Model:
    """A recipe built, written and read back, once a process."""
    return _model(json.dumps(data, sort_keys=True))


@lru_cache(maxsize=60)
def _model(text: str) -> Model:
    return read_model(_step(text), "trial.step")


def draft_of(part: dict[str, Any] | bytes, **wish: Any) -> Draft:
    """The draft of a recipe's part or a STEP file, made once a process for each wish."""
    return _draft(
        part if isinstance(part, bytes) else _step(json.dumps(part, sort_keys=True)), tuple(sorted(wish.items()))
    )


@lru_cache(maxsize=60)
def _draft(data: bytes, wish: tuple[tuple[str, Any], ...]) -> Draft:
    return draft_model(read_model(data, "trial.step"), DraftWish(**dict(wish)))


def hints_for(draft: Draft) -> tuple[Any, ...]:
    """What the recogniser hands to the proof for the solids of a draft."""
    return tuple(hints_of(recognise(s)) for s in draft.scene.solids)


def holes_of(data: dict[str, Any]) -> list[Any]:
    """The hole groups of a recipe's part."""
    return list(recognise(model_of(data).solids[0]).holes)


@pytest.fixture(scope="session")
def application_template(testrun_uid: str) -> Iterator[Path]:
    """A data folder in which the demo is drafted, to copy; the last process that uses it cleans up."""
    shared = Path(tempfile.gettempdir()) / f"canonis-test-{testrun_uid}"
    shared.mkdir(mode=0o755, exist_ok=True)
    shared.chmod(0o755)
    mine = shared / f"user-{os.getpid()}"
    mine.touch()
    yield _template(shared)
    mine.unlink()
    if not list(shared.glob("user-*")):
        shutil.rmtree(shared, ignore_errors=True)


@pytest.fixture(scope="session")
def application(worker_id: str, application_template: Path) -> Iterator[Application]:
    """The whole application, one for each process that tests: its database is a copy of one with the demo drafted."""
    folder = application_template.parent / worker_id
    subprocess.run(["cp", "-a", application_template, folder], check=True)
    slot = int(worker_id.removeprefix("gw")) if worker_id != "master" else 0
    made = Application(folder, slot, CANONIS_KERNELS="1", CANONIS_METRICS="1")
    made.start()
    yield made
    made.stop()


def _template(shared: Path) -> Path:
    """A data folder in which the demo's jobs are drafted and proved, made by the first process that asks."""
    template = shared / "template"
    with (shared / "lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not (shared / "made").exists():
            shutil.rmtree(template, ignore_errors=True)
            template.mkdir(mode=0o755)
            first = Application(template, slot=9)
            first.start()
            with first.client() as client:
                for job in client.get("/api/jobs?size=500").json()["jobs"]:
                    state = first.wait(client, job["id"])
                    # A demo that was not drafted would fail many tests without a word of why.
                    assert client.get(f"/api/jobs/{job['id']}/sheet").status_code == 200, (
                        state["tasks"],
                        first.log.read_text()[-2000:],
                    )
            first.stop()
            (shared / "made").touch()
    return template


@pytest.fixture
def client(application: Application) -> Iterator[httpx.Client]:
    """A signed-in drafter's client."""
    with application.client() as signed_in:
        yield signed_in


@pytest.fixture(scope="session")
def cock_recipe() -> dict[str, Any]:
    return json.loads((PARTS / "escapement-cock.json").read_text())


@pytest.fixture(scope="session")
def cock_step(cock_recipe: dict[str, Any]) -> bytes:
    return step_bytes(cock_recipe)


@pytest.fixture(scope="session")
def flawed_step(cock_recipe: dict[str, Any]) -> bytes:
    return step_bytes(flawed_recipe(cock_recipe))


@pytest.fixture(scope="session")
def valve_step() -> bytes:
    return step_bytes(json.loads((PARTS / "valve-block.json").read_text()))


@pytest.fixture(scope="session")
def cock_spec() -> str:
    return (PARTS / "escapement-cock.spec").read_text()


def real_part(name: str) -> bytes:
    """A STEP file nobody here wrote; skips where it could not be fetched (see tests/real-parts)."""
    path = REAL / name
    if not path.exists():
        pytest.skip(f"{name} could not be fetched: this machine is offline")
    return path.read_bytes()


def drill(d: float, depth: float, point: float) -> float:
    """Volume of a drilled hole with a conical end."""
    tip = d / 2 / math.tan(math.radians(point / 2)) if point else 0.0
    return math.pi * d * d / 4 * (depth + tip / 3)
