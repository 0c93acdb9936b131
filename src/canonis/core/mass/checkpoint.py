"""Mass and centre of mass against the source's checkpoint, in the checkpoint's own frame; the likely slip named."""

from typing import Any

import numpy as np

from canonis.core.faults import BadInput
from canonis.core.finding import Finding
from canonis.core.mass.comparison import differing
from canonis.core.quantity import Unit, write_length
from canonis.core.slips import centre_slips, mass_slips
from canonis.core.solid import DENSITIES, Hints, Solid, Vec
from canonis.core.source import Checkpoint

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
                return f"{n} more {what} like {lump.words}, {grams:.4g} g each) would explain {mass - wanted:+.4g} g."
            if abs(mass + n * grams - wanted) <= max(room * 2, 0.004 * grams) and lump.count > n:
                return f"{n} hole too many like {lump.label} would explain {mass - wanted:+.4g} g."
    return ""


def check_mass(
    solid: Solid, hints: Hints, density: float | None, checkpoint: Checkpoint | None, unit: Unit
) -> tuple[list[dict[str, Any]], list[Finding]]:
    """Ledger rows and findings for mass and centre of mass.

    `density` in g/cm³; without it a stated mass stays unproven.
    """
    if checkpoint is None:
        return [], []
    weighed = _Weighed(solid, hints, density, checkpoint, unit)
    weighed.mass()
    weighed.size("volume", "M3", checkpoint.volume_mm3, solid.mass.volume, "mm³")
    weighed.size("area", "M4", checkpoint.area_mm2, solid.mass.area, "mm²")
    weighed.centre()
    return weighed.rows, weighed.findings


class _Weighed:
    """A solid against a checkpoint, figure by figure."""

    def __init__(self, solid: Solid, hints: Hints, density: float | None, checkpoint: Checkpoint, unit: Unit) -> None:
        self.solid, self.hints, self.density, self.checkpoint, self.unit = solid, hints, density, checkpoint, unit
        self.grams = None if density is None else solid.mass.volume * density / 1000
        self.off = differing(checkpoint, solid.mass.volume, solid.mass.area, self.grams, None)
        self.rows: list[dict[str, Any]] = []
        self.findings: list[Finding] = []

    def _row(self, key: str, number: str, name: str, state: str, **told: str | None) -> None:
        text = f"{name} after “{self.checkpoint.step}”"
        self.rows.append(
            {"key": key, "kind": "mass", "number": number, "text": text, "drawn": None, **told, "state": state}
        )

    def mass(self) -> None:
        """The mass, g, with what would explain a difference."""
        wanted, grams = self.checkpoint.mass_g, self.grams
        if wanted is None:
            return
        state = "proven"
        if grams is None:
            state = "unproven"
            message = "The source states a mass, but no density is known: name a material of the list in the source, or give its density there."
            self.findings.append(Finding("mass.density", "warning", "mass", message, wanted))
        elif "mass" in self.off:
            state = "differs"
            slip = _mass_slip(
                self.solid, self.hints, self.density or 0.0, wanted, self.checkpoint.mass_half * (1 + 1e-9)
            )
            message = f"The mass is {grams:.4g} g and the source says {wanted:.4g} g ({grams - wanted:+.3g} g). {slip}"
            self.findings.append(Finding("mass.source", "error", "mass", message.strip(), wanted, grams))
        model = None if grams is None else f"{grams:.6g} g"
        gap = None if grams is None else f"{grams - wanted:+.4g} g"
        self._row("mass", "M1", "mass", state, source=f"{wanted:.6g} g", model=model, difference=gap)

    def size(self, key: str, number: str, wanted: float | None, got: float, mark: str) -> None:
        """The volume or the area."""
        if wanted is None:
            return
        if key in self.off:
            message = f"The {key} is {got:.7g} {mark} and the source says {wanted:.7g} {mark}."
            self.findings.append(Finding(f"{key}.source", "error", key, message, wanted, got))
        state = "differs" if key in self.off else "proven"
        gap = f"{got - wanted:+.4g} {mark}"
        self._row(key, number, key, state, source=f"{wanted:.7g} {mark}", model=f"{got:.7g} {mark}", difference=gap)

    def centre(self) -> None:
        """The centre of mass in the frame of the checkpoint, mm."""
        solid, checkpoint = self.solid, self.checkpoint
        if checkpoint.centre_mm is None:
            return
        try:
            origin = np.array(checkpoint.origin(*_corners(solid), self.hints.axes))
        except BadInput as fault:
            self.findings.append(Finding("centre.frame", "warning", "centre", str(fault)))
            return
        wanted = np.array(checkpoint.centre_mm)
        centre = _in_axes(solid.mass.centre - origin, checkpoint)
        ok = "centre" not in differing(checkpoint, solid.mass.volume, solid.mass.area, self.grams, centre)
        frame = checkpoint.frame_name or "the given origin"
        if not ok:
            found = centre_slips(centre, wanted, checkpoint.centre_half, {"the file's own frame": solid.mass.centre})
            hint = f" {found[0].text}" if found else ""
            message = f"The centre of mass, from {frame}, is {self._point(centre)} and the source says {self._point(wanted)}.{hint}"
            measured = [float(c) for c in centre]
            self.findings.append(
                Finding("centre.source", "error", "centre", message, list(checkpoint.centre_mm), measured)
            )
        state = "proven" if ok else "differs"
        told = {"source": self._point(wanted), "model": self._point(centre), "difference": self._point(centre - wanted)}
        self._row("centre", "M2", "centre of mass", state, **told)

    def _point(self, point: Vec) -> str:
        return ", ".join(write_length(float(c), self.unit) for c in point)


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
