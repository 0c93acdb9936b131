"""The checkpoints of a source against the model, and against states of it that are given for their steps."""

from collections.abc import Sequence
from typing import Any

from canonis.core.faults import BadInput
from canonis.core.features import Feature
from canonis.core.solid import Solid
from canonis.core.source import Checkpoint
from canonis.core.study.ledger import State, walk

__all__ = ["checkpoint_entries"]


def checkpoint_entries(
    checkpoints: Sequence[Checkpoint],
    states: Sequence[tuple[str, Sequence[Solid], Sequence[Feature]]],
    solid: Solid,
    found: Feature,
    density: float | None,
) -> list[dict[str, Any]]:
    """One entry a checkpoint: what it wants, what is there, whether it agrees, and the slips that would explain it.

    `states` are (step, solids, features); the last checkpoint without one is compared with the model, an earlier one
    stays `no-state`. Density in g/cm³. Raises BadInput for a step that no checkpoint names, or a file of several parts.
    """
    names = [c.step for c in checkpoints]
    given: dict[str, State] = {}
    for step, solids, features in states:
        name = next((n for n in names if n.strip().lower() == step.strip().lower()), None)
        if name is None:
            there = ", ".join(f"“{n}”" for n in names) or "none"
            raise BadInput(f"The source has no checkpoint “{step[:60]}”; it has {there}.")
        if len(solids) != 1:
            raise BadInput(f"The file for “{step[:60]}” holds {len(solids)} parts; a state is one part.")
        given[name] = State(name, solids[0], features[0])
    if names:
        given.setdefault(names[-1], State(names[-1], solid, found))
    rows = {
        row["name"]: (row, ledger)
        for ledger in [walk([given[n] for n in names if n in given], checkpoints, density)]
        for row in ledger["rows"]
    }
    out = []
    for checkpoint in checkpoints:
        wanted = checkpoint.as_json()
        if checkpoint.step not in rows:
            out.append({"step": checkpoint.step, "state": "no-state", "expected": wanted, "differs": [], "reasons": []})
            continue
        row, ledger = rows[checkpoint.step]
        first = ledger["first"]
        reasons = (
            [s["text"] for s in first["slips"][:3]] if first is not None and first["name"] == checkpoint.step else []
        )
        out.append(
            {
                "step": checkpoint.step,
                "state": row["state"],
                "expected": wanted,
                "mass_g": row["mass_g"],
                "volume_mm3": row["volume_mm3"],
                "area_mm2": row["area_mm2"],
                "centre_mm": row.get("centre_in_frame_mm"),
                "differs": row["differs"],
                "note": row["note"],
                "reasons": reasons,
            }
        )
    return out
