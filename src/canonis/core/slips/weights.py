"""What people do to a mass or a centre of mass without changing the part: another material, frame, sign, axis or unit."""

import itertools
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from canonis.core.tolerances import NOTHING

__all__ = ["WeightSlip", "centre_slips", "mass_slips"]


@dataclass(frozen=True)
class WeightSlip:
    """A slip that would make the figures agree: its kind (S… of the field guide), a sentence with its arithmetic, its weight."""

    kind: str
    text: str
    weight: float


def mass_slips(
    volume: float, density: float | None, wanted: float, half: float, densities: Mapping[str, float]
) -> list[WeightSlip]:
    """Slips by which a part of `volume` (mm³) and `density` (g/cm³) comes to weigh something else than `wanted` ± `half` g.

    Empty where the mass agrees or nothing fits.
    """
    mass = None if density is None else volume * density / 1000
    if mass is not None and abs(mass - wanted) <= half * (1 + NOTHING) + NOTHING:
        return []
    out = []
    for name, other in densities.items():
        same = density is not None and abs(other - density) < NOTHING
        if not same and abs(volume * other / 1000 - wanted) <= max(half, 2e-4 * wanted) * (1 + NOTHING):
            text = f"The density of {name} ({other:g} g/cm³) gives {volume * other / 1000:.5g} g."
            out.append(WeightSlip("S24", text, 3.0))
    if mass is not None:
        for factor, text in (
            (25.4**3, "The model is 25.4 times too small: inches read as millimetres."),
            (25.4**-3, "The model is 25.4 times too large: millimetres read as inches."),
            (1 / 453.59237, "The figure is in pounds, not grams."),
            (1e-3, "The figure is in kilograms, not grams."),
        ):
            if abs(mass * factor - wanted) < max(2e-3 * wanted, half):
                out.append(WeightSlip("S06", text, 2.5))
    return out


def centre_slips(
    here: NDArray[np.float64], goal: NDArray[np.float64], half: float, seen: Mapping[str, NDArray[np.float64]]
) -> list[WeightSlip]:
    """Slips by which a centre that is `here` (mm, in the frame asked for) was read as `goal` ± `half`.

    `seen` is the same centre in other frames that a person may have read in, by their names.
    """

    def agrees(point: NDArray[np.float64]) -> bool:
        return bool(np.all(np.abs(point - goal) <= half + NOTHING))

    if agrees(here):
        return []
    out = [
        WeightSlip("S22", f"From {name} the centre agrees: the figure was read in that frame.", 3.0)
        for name, point in seen.items()
        if agrees(point)
    ]
    signs = sorted(
        (s for s in itertools.product((1, -1), repeat=3) if s != (1, 1, 1)), key=lambda s: sum(x < 0 for x in s)
    )
    turned = next((s for s in signs if agrees(here * s)), None)
    if turned is not None:
        axes = [name for name, s, c in zip("xyz", turned, goal, strict=True) if s < 0 and abs(c) > half]
        if axes:
            out.append(WeightSlip("S23", f"With the sign of {', '.join(axes)} turned the centre agrees.", 2.8))
    order = next((o for o in itertools.permutations(range(3)) if o != (0, 1, 2) and agrees(here[list(o)])), None)
    if order is not None:
        text = f"With the axes in the order {', '.join('xyz'[k] for k in order)} the centre agrees."
        out.append(WeightSlip("S23", text, 2.0))
    for factor, word in ((25.4, "inches"), (1 / 25.4, "millimetres")):
        if agrees(here / factor):
            out.append(WeightSlip("S06", f"The centre agrees when it is read in {word}.", 2.0))
    return out
