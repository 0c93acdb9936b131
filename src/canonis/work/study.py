"""Kernel jobs of the Solid station; they run inside a kernel child, on models kept warm by their hash."""

import json
from collections.abc import Callable
from typing import Any

import numpy as np

from canonis.core.faults import BadInput
from canonis.core.features import recognise
from canonis.core.quantity import Unit
from canonis.core.recipe import build_recipe
from canonis.core.solid import solid_from_shape, thickness_at, write_step
from canonis.core.source import read_specification
from canonis.core.study import (
    Pick,
    State,
    Station,
    advise,
    bodies_of,
    checkpoint_frame,
    choose_frame,
    compare_checkpoint,
    compare_solids,
    compare_twin,
    examine_solids,
    expected_from,
    frame_on,
    lines_of,
    mass_report,
    measure_between,
    measure_one,
    reading_frames,
    system_of,
    target_of,
    walk,
)
from canonis.work.jobs import open_model

__all__ = ["JOBS"]


def measure_picks(
    progress: Any, *, model: dict[str, Any], picks: list[dict[str, Any]], station: dict[str, Any], unit: str
) -> dict[str, Any]:
    """The sizes of one pick, or everything between two."""
    loaded = open_model(model, progress)
    solids = loaded.model.solids
    frame, status = frame_on(Station.model_validate(station).frame, solids)
    targets = [target_of(Pick.model_validate(p), solids, loaded.features) for p in picks]
    sheet = Unit(unit)
    made = (
        measure_one(targets[0], frame, sheet)
        if len(targets) == 1
        else measure_between(targets[0], targets[1], frame, sheet)
    )
    return {**made, "frame_status": status}


def thickness(progress: Any, *, model: dict[str, Any], solid: int, face: int, at: list[float]) -> float | None:
    """Material behind a point of a face, mm."""
    solids = open_model(model, progress).model.solids
    if solid >= len(solids) or face >= len(solids[solid].faces):
        raise BadInput("That face is not in this model any more.")
    return thickness_at(solids[solid], face, np.array(at))


def frame(progress: Any, *, model: dict[str, Any], kind: str, picks: list[dict[str, Any]], name: str) -> dict[str, Any]:
    """A frame chosen by picks, as it is stored."""
    loaded = open_model(model, progress)
    made = choose_frame(kind, [Pick.model_validate(p) for p in picks], name, loaded.model.solids, loaded.features)
    return made.model_dump(mode="json")


def weigh(progress: Any, *, model: dict[str, Any], spec: str, station: dict[str, Any], unit: str) -> dict[str, Any]:
    """Mass properties in the chosen frame, compared with the source's last checkpoint."""
    loaded = open_model(model, progress)
    solids = loaded.model.solids
    kept, read = Station.model_validate(station), read_specification(spec)
    where, status = frame_on(kept.frame, solids)
    common = kept.common_density(read)
    densities = kept.densities(len(solids), common)
    bodies = bodies_of(solids, densities)
    system = kept.system or system_of(Unit(unit))
    out = mass_report(bodies, where, system, kept.decimals) | {
        "frame_status": status,
        "densities": densities,
        "system": system,
    }
    checkpoint = read.checkpoints[-1] if read.checkpoints else None
    out["checkpoint"] = None
    if checkpoint is not None:
        origin = checkpoint_frame(checkpoint, solids[0], loaded.features[0])
        out["checkpoint"] = compare_checkpoint(bodies, checkpoint, origin, reading_frames(solids[0]))
    return out


def examine(progress: Any, *, model: dict[str, Any], spec: str, station: dict[str, Any]) -> list[dict[str, Any]]:
    """Findings on the soundness of the solids, then making advice by the job's limits."""
    loaded = open_model(model, progress)
    progress("Looking for faults of the solid")
    found = examine_solids(loaded.model.solids, loaded.features, read_specification(spec).lengths())
    found += advise(loaded.model.solids, loaded.features, Station.model_validate(station).limits)
    return [flaw.as_json() for flaw in found]


def compare(progress: Any, *, model: dict[str, Any], before: dict[str, Any]) -> dict[str, Any]:
    """What changed from one model to the next, solid by solid."""
    old, new = open_model(before, progress), open_model(model, progress)
    progress("Comparing with the model before")
    pairs = min(len(old.model.solids), len(new.model.solids))
    return {
        "before": before["name"],
        "after": model["name"],
        "solids": [
            compare_solids(old.model.solids[k], old.features[k], new.model.solids[k], new.features[k])
            for k in range(pairs)
        ],
        "solids_more": len(new.model.solids) - len(old.model.solids),
    }


def adopt(progress: Any, *, model: dict[str, Any], unit: str) -> list[dict[str, str]]:
    """The measurements of a model as lines of the source."""
    loaded = open_model(model, progress)
    return [
        line for s, f in zip(loaded.model.solids, loaded.features, strict=True) for line in lines_of(s, f, Unit(unit))
    ]


def _values(recipe: dict[str, Any], spec: str) -> dict[str, float]:
    return read_specification(spec).values(Unit(recipe["unit"]) if recipe.get("unit") in ("mm", "in") else Unit.MM)


def stages(progress: Any, *, recipe: dict[str, Any], spec: str) -> list[dict[str, Any]]:
    """Every state of a recipe built with the source's sizes: name and STEP text."""
    progress("Building the states")
    built = build_recipe(recipe, _values(recipe, spec), each=True)
    return [{"name": n, "data": write_step(s, n, built.unit)} for n, s in built.stages]


def ledger(progress: Any, *, states: list[dict[str, Any]], spec: str, station: dict[str, Any]) -> dict[str, Any]:
    """The mass ledger over a job's states; where the source states no masses, its twin's are expected."""
    read, kept = read_specification(spec), Station.model_validate(station)
    rows = []
    for k, state in enumerate(states):
        progress(f"Reading state {k + 1} of {len(states)}")
        loaded = open_model(state, progress)
        if len(loaded.model.solids) > 1:
            raise BadInput(
                f"State “{state['label']}” holds {len(loaded.model.solids)} solids; the ledger weighs one part: export it alone."
            )
        rows.append(State(state["label"], loaded.model.solids[0], loaded.features[0]))
    density = kept.common_density(read)
    checkpoints, source = list(read.weighed), "source"
    if not checkpoints and kept.recipe:
        progress("Building the twin that the source describes")
        built = build_recipe(_weighed(kept.recipe, density), _values(kept.recipe, spec))
        checkpoints, source = expected_from(built.ledger), "twin"
    return {**walk(rows, checkpoints, density, progress), "expected_by": source if checkpoints else "nothing"}


def _weighed(recipe: dict[str, Any], density: float | None) -> dict[str, Any]:
    return recipe if density is None else {**recipe, "density": density}


def twin(progress: Any, *, model: dict[str, Any], recipe: dict[str, Any], spec: str) -> dict[str, Any]:
    """The model against the twin that its recipe and the source describe."""
    loaded = open_model(model, progress)
    progress("Building the twin that the source describes")
    built = build_recipe(recipe, _values(recipe, spec))
    made = solid_from_shape(built.shape, built.name)
    progress("Taking the difference of the two bodies")
    return compare_twin(loaded.model.solids[0], loaded.features[0], made, recognise(made))


def check_recipe(progress: Any, *, text: str, spec: str) -> dict[str, Any]:
    """A typed recipe, read and tried step by step; its ledger."""
    try:
        raw = json.loads(text)
    except (ValueError, RecursionError) as fault:
        raise BadInput(f"The recipe is not JSON: line {getattr(fault, 'lineno', 1)} cannot be read.") from None
    if not isinstance(raw, dict):
        raise BadInput("The recipe must be a JSON object with “schema”: “canonis.recipe/1”.")
    progress("Building")
    built = build_recipe(raw, _values(raw, spec))
    return {"recipe": raw, "ledger": built.ledger}


JOBS: dict[str, Callable[..., Any]] = {
    "measure_picks": measure_picks,
    "thickness": thickness,
    "frame": frame,
    "weigh": weigh,
    "examine": examine,
    "compare": compare,
    "adopt": adopt,
    "stages": stages,
    "ledger": ledger,
    "twin": twin,
    "check_recipe": check_recipe,
}
