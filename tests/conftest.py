"""Shared fixtures: parts built by recipes, so that their true sizes are known."""

import json
import math
import os
import shutil
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx
import pytest

from canonis.core.features.recognise import recognise
from canonis.core.recipe.build import build_recipe
from canonis.core.solid.making import write_step
from canonis.core.solid.reader import Model, read_model
from canonis.demo.load import flawed_recipe
from canonis.bench.application import Application

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
    """The STEP text of a recipe."""
    built = build_recipe(data)
    return write_step(built.shape, built.name, built.unit)


def model_of(data: dict[str, Any]) -> Model:
    """A recipe built, written and read back."""
    return read_model(step_bytes(data), "trial.step")


def holes_of(data: dict[str, Any]) -> list[Any]:
    """The hole groups of a recipe's part."""
    return list(recognise(model_of(data).solids[0]).holes)


@pytest.fixture(scope="session")
def application() -> Iterator[Application]:
    """The whole application, started once for all tests that need it."""
    folder = Path(tempfile.mkdtemp(prefix="canonis-test-"))
    folder.chmod(0o755)
    made = Application(folder)
    made.start()
    yield made
    made.stop()
    shutil.rmtree(folder, ignore_errors=True)


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
    """A STEP file nobody here wrote; skips where it is absent."""
    path = REAL / name
    if not path.exists():
        pytest.skip(f"{name} is not on this machine")
    return path.read_bytes()


def drill(d: float, depth: float, point: float) -> float:
    """Volume of a drilled hole with a conical end."""
    tip = d / 2 / math.tan(math.radians(point / 2)) if point else 0.0
    return math.pi * d * d / 4 * (depth + tip / 3)
