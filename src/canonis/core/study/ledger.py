"""The mass ledger: model states in their order, against the source's checkpoint for each; the first difference named."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from canonis.core.faults import BadInput
from canonis.core.features import Feature, feature_list
from canonis.core.mass import agrees, differing
from canonis.core.slips import step_slips
from canonis.core.solid import DENSITIES, Solid, Vec
from canonis.core.source import Checkpoint
from canonis.core.study.differences import compare_features
from canonis.core.study.frames import Frame
from canonis.core.study.made import figures_of, state_of
from canonis.core.study.masses import explain, reading_frames

__all__ = ["State", "checkpoint_frame", "expected_from", "match_checkpoints", "saved", "walk"]


@dataclass(frozen=True, eq=False)
class State:
    """One model state: its name, its solid and features."""

    name: str
    solid: Solid
    found: Feature


def _plain(name: str) -> str:
    return " ".join(name.lower().split())


def match_checkpoints(names: Sequence[str], checkpoints: Sequence[Checkpoint]) -> list[Checkpoint | None]:
    """The checkpoint of each state: by its name, else by its place where there are as many of both.

    A single checkpoint (“finished”) belongs to the last state.
    """
    by_name = {_plain(c.step): c for c in checkpoints}
    out = [by_name.get(_plain(n)) for n in names]
    if not any(out) and len(checkpoints) == len(names):
        return list(checkpoints)
    used = {id(c) for c in out if c}
    last = [
        c for c in checkpoints if id(c) not in used and _plain(c.step) in ("finished", "end", "final", "complete", "")
    ]
    if names and last and out[-1] is None:
        out[-1] = last[-1]
    return out


def expected_from(ledger: Sequence[Mapping[str, Any]]) -> list[Checkpoint]:
    """Checkpoints from the ledger of an as-specified twin, for a source that states no masses: exact to 1e-6."""
    out = []
    for row in ledger:
        x, y, z = (float(c) for c in row["centroid_mm"])
        mass = row.get("mass_g")
        out.append(
            Checkpoint(
                step=str(row["name"]),
                mass_g=mass,
                mass_half=max(1e-6, 1e-6 * (mass or 0)),
                volume_mm3=float(row["volume_mm3"]),
                volume_half=max(1e-6, 1e-6 * float(row["volume_mm3"])),
                centre_mm=(x, y, z),
                centre_half=1e-4,
                text="twin",
            )
        )
    return out


def checkpoint_frame(checkpoint: Checkpoint, solid: Solid, found: Feature) -> Frame:
    """The checkpoint's frame on a solid.

    Raises BadInput where it names an axis that is not there.
    """
    low, high = ([float(c) for c in corner] for corner in solid.box)
    axes = {g.id: tuple(float(c) for c in g.first.start) for g in found.holes}
    origin: Vec = np.array(checkpoint.origin((low[0], low[1], low[2]), (high[0], high[1], high[2]), axes))  # type: ignore[arg-type]
    x, y = np.eye(3)[0], np.eye(3)[1]
    if checkpoint.frame_axes is not None:
        x = np.array(checkpoint.frame_axes[0], dtype=float)
        x = x / np.linalg.norm(x)
        y = np.array(checkpoint.frame_axes[1], dtype=float)
        y = y - x * float(y @ x)
        y = y / np.linalg.norm(y)
    return Frame(checkpoint.frame_name or "the checkpoint's origin", origin, x, y, np.cross(x, y))


def _added(changes: Sequence[Mapping[str, Any]]) -> frozenset[str]:
    return frozenset(
        str(c["after"]) for c in changes if c["after"] and c["change"] in ("new", "resized", "count", "moved")
    )


def _weighed(state: State, before: State | None, density: float | None) -> dict[str, Any]:
    """The row of a state before anything is expected of it: what it weighs, and what it has more than the one before."""
    m = state.solid.mass
    mass = None if density is None else m.volume * density / 1000
    entries = feature_list(state.solid, state.found)
    return {
        "name": state.name,
        "volume_mm3": m.volume,
        "area_mm2": m.area,
        "mass_g": mass,
        "centre_mm": [float(c) for c in m.centre],
        "faces": len(state.solid.faces),
        "faces_more": len(state.solid.faces) - (len(before.solid.faces) if before else 0),
        "volume_more_mm3": m.volume - (before.solid.mass.volume if before else 0.0),
        "mass_more_g": None
        if mass is None or density is None
        else mass - (before.solid.mass.volume * density / 1000 if before else 0.0),
        "changes": compare_features([] if before is None else feature_list(before.solid, before.found), entries),
        "expected": None,
        "state": "none",
        "differs": [],
        "note": "",
    }


def walk(
    states: Sequence[State],
    checkpoints: Sequence[Checkpoint],
    density: float | None,
    stage: Callable[[str], None] = lambda _: None,
) -> dict[str, Any]:
    """The ledger: a row a state, and the first step that differs with the slips that would explain it.

    Density in g/cm³; without it masses are left out and volumes compared where the source has them.
    """
    rows: list[dict[str, Any]] = []
    first: dict[str, Any] | None = None
    matched = match_checkpoints([s.name for s in states], checkpoints)
    before: State | None = None
    for k, (state, checkpoint) in enumerate(zip(states, matched, strict=True)):
        stage(f"Weighing “{state.name}”")
        m = state.solid.mass
        row = _weighed(state, before, density)
        mass, changes = row["mass_g"], row["changes"]
        if checkpoint is not None:
            row["expected"] = checkpoint.as_json()
            try:
                frame = checkpoint_frame(checkpoint, state.solid, state.found)
            except BadInput as fault:
                row |= {"state": "unproven", "note": str(fault)}
                rows.append(row)
                before = state
                continue
            place = frame.point(m.centre)
            row["centre_in_frame_mm"], row["frame"] = [float(c) for c in place], frame.name
            differs = differing(checkpoint, m.volume, m.area, mass, place)
            row["differs"] = differs
            row["state"] = (
                "differs" if differs else "unproven" if mass is None and checkpoint.mass_g is not None else "proven"
            )
            if row["state"] == "unproven":
                row["note"] = "The source states a mass, but no material or density is given."
            if differs and first is None:
                first = _first(k, state, before, changes, checkpoint, density=density, frame=frame)
        rows.append(row)
        before = state
    return {"schema": "canonis.ledger/1", "rows": rows, "first": first, "density": density, "saved": saved(rows)}


#: Slips of whoever read a centre of mass, not of the model: unit, frame, row or sign.
_READING = ("S06", "S22", "S23")


def _first(
    k: int,
    state: State,
    before: State | None,
    changes: Sequence[Mapping[str, Any]],
    checkpoint: Checkpoint,
    *,
    density: float | None,
    frame: Frame,
) -> dict[str, Any]:
    """The first differing step with what it added and the slips that would explain it, the likeliest first."""
    m = state.solid.mass
    earlier = None if before is None else state_of(before.name, before.solid, before.found)
    now = state_of(state.name, state.solid, state.found, _added(changes))
    slips: list[dict[str, Any]] = [
        {"kind": s.kind, "text": s.text, "agree": s.agree, "of": s.of, "weight": s.weight, "feature": s.feature}
        for s in step_slips(now, earlier, figures_of(checkpoint), density, DENSITIES, frame.point)
    ]
    readings = explain(m.volume, m.centre, density, checkpoint, frame, reading_frames(state.solid))
    mass_fits = (
        density is None
        or checkpoint.mass_g is None
        or agrees(m.volume * density / 1000, checkpoint.mass_g, checkpoint.mass_half)
    )
    if mass_fits:
        # The shape weighs right: a figure read in another frame is likelier than a feature on the wrong side.
        slips += [
            {"kind": r.kind, "text": r.text, "agree": 1, "of": 1, "weight": r.weight + 0.6, "feature": ""}
            for r in readings
            if r.kind in _READING
        ]
    slips.sort(key=lambda s: -float(s["weight"]))
    return {"step": k, "name": state.name, "added": [c["text"] for c in changes], "slips": slips[:6]}


def saved(rows: Sequence[Mapping[str, Any]]) -> dict[str, Any] | None:
    """Material between the first and the last state: the share that is left, and parts from the same stock."""
    if len(rows) < 2:
        return None
    stock, end = float(rows[0]["volume_mm3"]), float(rows[-1]["volume_mm3"])
    return {
        "from": rows[0]["name"],
        "to": rows[-1]["name"],
        "ratio": end / stock,
        "saved_mm3": stock - end,
        "parts_from_same": stock / end,
    }
