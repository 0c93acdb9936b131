"""Mass and centre of mass against the source's checkpoint, in the checkpoint's own frame; the likely slip named."""

from typing import Any

import numpy as np

from canonis.core.faults import BadInput
from canonis.core.finding import Finding
from canonis.core.mass.comparison import differing
from canonis.core.quantity.units import Unit
from canonis.core.quantity.written import write_length
from canonis.core.slips.weights import centre_slips, mass_slips
from canonis.core.solid.hints import Hints
from canonis.core.solid.materials import DENSITIES
from canonis.core.solid.model import Solid, Vec
from canonis.core.source.checkpoints import Checkpoint

__all__ = ["check_mass"]


def _mass_slip(solid: Solid, hints: Hints, density: float, wanted: float, room: float) -> str:
    """The best single explanation of a mass difference, or an empty string."""
    mass = solid.mass.volume * density / 1000
    known = mass_slips(solid.mass.volume, density, wanted, room, DENSITIES)
    if known:
        return known[0].text
    for lump in hints.lumps:
        grams = lump.volume * density / 1000
        for n in (1, 2):
            if abs(mass - n * grams - wanted) <= max(room * 2, 0.004 * grams):
                what = "hole" if n == 1 else "holes"
                return (f"{n} more {what} like {lump.words}, {grams:.4g} g each) "
                        f"would explain {mass - wanted:+.4g} g.")  # fmt: skip
            if abs(mass + n * grams - wanted) <= max(room * 2, 0.004 * grams) and lump.count > n:
                return f"{n} hole too many like {lump.label} would explain {mass - wanted:+.4g} g."
    return ""


def check_mass(
    solid: Solid, hints: Hints, density: float | None, checkpoint: Checkpoint | None, unit: Unit
) -> tuple[list[dict[str, Any]], list[Finding]]:
    """Ledger rows and findings for mass and centre of mass.

    `density` in g/cm³; without it a stated mass stays unproven.
    """
    rows: list[dict[str, Any]] = []
    findings: list[Finding] = []
    if checkpoint is None:
        return rows, findings
    mass = None if density is None else solid.mass.volume * density / 1000
    off = differing(checkpoint, solid.mass.volume, solid.mass.area, mass, None)
    if checkpoint.mass_g is not None:
        wanted, room = checkpoint.mass_g, checkpoint.mass_half * (1 + 1e-9)
        if mass is None:
            state = "unproven"
            message = "The source states a mass, but no density is known: name a material of the list in the source, or give its density there."
            findings.append(Finding("mass.density", "warning", "mass", message, wanted))
        else:
            state = "differs" if "mass" in off else "proven"
            if state == "differs":
                slip = _mass_slip(solid, hints, density or 0.0, wanted, room)
                message = f"The mass is {mass:.4g} g and the source says {wanted:.4g} g ({mass - wanted:+.3g} g). {slip}".strip()
                findings.append(Finding("mass.source", "error", "mass", message, wanted, mass))
        rows.append({"key": "mass", "kind": "mass", "number": "M1", "text": f"mass after “{checkpoint.step}”",
                     "source": f"{wanted:.6g} g", "drawn": None, "model": None if mass is None else f"{mass:.6g} g",
                     "difference": None if mass is None else f"{mass - wanted:+.4g} g", "state": state})  # fmt: skip
    for key, number, name, wanted_size, got, mark in (
        ("volume", "M3", "volume", checkpoint.volume_mm3, solid.mass.volume, "mm³"),
        ("area", "M4", "area", checkpoint.area_mm2, solid.mass.area, "mm²"),
    ):
        if wanted_size is None:
            continue
        ok = key not in off
        if not ok:
            findings.append(
                Finding(
                    f"{key}.source",
                    "error",
                    key,
                    f"The {name} is {got:.7g} {mark} and the source says {wanted_size:.7g} {mark}.",
                    wanted_size,
                    got,
                )
            )
        rows.append({"key": key, "kind": "mass", "number": number, "text": f"{name} after “{checkpoint.step}”",
                     "source": f"{wanted_size:.7g} {mark}", "drawn": None, "model": f"{got:.7g} {mark}",
                     "difference": f"{got - wanted_size:+.4g} {mark}", "state": "proven" if ok else "differs"})  # fmt: skip
    if checkpoint.centre_mm is not None:
        try:
            origin = np.array(checkpoint.origin(*_corners(solid), hints.axes))
        except BadInput as fault:
            findings.append(Finding("centre.frame", "warning", "centre", str(fault), None, None))
            return rows, findings
        centre = _in_axes(solid.mass.centre - origin, checkpoint)
        gap = centre - np.array(checkpoint.centre_mm)
        ok = "centre" not in differing(checkpoint, solid.mass.volume, solid.mass.area, mass, centre)
        frame = checkpoint.frame_name or "the given origin"

        def w(v: Any) -> str:
            return ", ".join(write_length(float(c), unit) for c in v)

        if not ok:
            seen = {"the file's own frame": solid.mass.centre}
            found = centre_slips(centre, np.array(checkpoint.centre_mm), checkpoint.centre_half, seen)
            hint = f" {found[0].text}" if found else ""
            findings.append(
                Finding(
                    "centre.source",
                    "error",
                    "centre",
                    f"The centre of mass, from {frame}, is {w(centre)} and the source says "
                    f"{w(checkpoint.centre_mm)}.{hint}",
                    list(checkpoint.centre_mm),
                    [float(c) for c in centre],
                )
            )
        rows.append({"key": "centre", "kind": "mass", "number": "M2", "text": f"centre of mass after “{checkpoint.step}”",
                     "source": w(checkpoint.centre_mm), "drawn": None, "model": w(centre), "difference": w(gap),
                     "state": "proven" if ok else "differs"})  # fmt: skip
    return rows, findings


def _corners(solid: Solid) -> tuple[tuple[float, float, float], tuple[float, float, float]]:
    low, high = ([float(c) for c in corner] for corner in solid.box)
    return (low[0], low[1], low[2]), (high[0], high[1], high[2])


def _in_axes(vector: Vec, checkpoint: Checkpoint) -> Vec:
    """A vector of the file's axes in the checkpoint's own directions, where it names them."""
    if checkpoint.frame_axes is None:
        return vector
    x, y = (np.array(a, dtype=float) for a in checkpoint.frame_axes)
    x = x / max(float(np.linalg.norm(x)), 1e-12)
    y = y - x * float(y @ x)
    y = y / max(float(np.linalg.norm(y)), 1e-12)
    return np.array([vector @ x, vector @ y, vector @ np.cross(x, y)])
