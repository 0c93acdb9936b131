"""Pitch circles measured again from the fitted axes of their members."""

from collections.abc import Iterator

import numpy as np

from canonis.core.callout import Callout
from canonis.core.proof.circles import ring_centre
from canonis.core.proof.kinds.pitches import measure_pitches
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.registry import meant, measures
from canonis.core.proof.statement import PartProof, compared, worst
from canonis.core.quantity import Unit
from canonis.core.sheet import Leader, Linear
from canonis.core.solid import Vec
from canonis.core.tolerances import FINE

__all__ = ["measure_pattern", "measure_ring"]

meant("pattern", things={"hole": 0.0}, places="pattern", end_on=True, key="ring")


@measures("pattern")
def measure_pattern(m: Measurer, mark: Leader | Linear, alive: list[str], reading: Callout) -> list[PartProof]:
    """Where equal things stand: on a pitch circle, or at equal spaces along a dimension line."""
    if isinstance(mark, Linear):
        return measure_pitches(m, mark, alive, reading)
    round_ = all(m.solid(mark.sheet).faces[f].kind == "cylinder" for f in m.faces(mark.sheet, alive))
    return measure_ring(m, mark, alive, reading) if reading.part("pitch-circle") and round_ else []


def measure_ring(m: Measurer, mark: Leader, alive: list[str], reading: Callout) -> list[PartProof]:
    """The diameter of the circle that every member must stand on, and the angles at which a text says they stand there:
    anticlockwise from the level line of the view (ISO 129-1, 9.3)."""
    fits = [m.cylinder(mark.sheet, f) for f in m.faces(mark.sheet, alive)]
    if len(fits) < 3:
        return []
    axis = fits[0][1]
    points = np.array([f[0] - axis * float(f[0] @ axis) for f in fits])
    unit = m.document.unit
    centre = ring_centre(points)
    wide = 2 * np.linalg.norm(points - centre, axis=1)
    if float(np.ptp(wide)) > FINE and len(points) == len(mark.refs) and len(points) % 2 == 0:
        # They stand on no circle: opposite members say by how much, without a fit.
        wide = np.linalg.norm(points[:, None] - points[None, :], axis=2).max(axis=1)
    out = [worst([compared(reading, "pitch-circle", float(w), unit) for w in wide])]
    if reading.turns:
        view = m.document.view(mark.view or "")
        right, up = np.array(view.right), np.array(view.up)
        turns = np.sort([float(np.degrees(np.arctan2((p - centre) @ up, (p - centre) @ right))) % 360 for p in points])
        out += _angles(reading, turns, unit)
    return out


def _angles(reading: Callout, turns: Vec, unit: Unit) -> Iterator[PartProof]:
    """The parts of a text that say angles against the angles of all members, ascending, degrees."""
    gaps = np.diff(np.append(turns, turns[0] + 360))
    # Where they do not go all around, the first one comes after the widest gap.
    widest = int(np.argmax(gaps))
    evenly = float(np.ptp(gaps)) < FINE
    if reading.part("pitch-angle"):
        inner = gaps if evenly else np.delete(gaps, widest)
        yield worst([compared(reading, "pitch-angle", float(g), unit) for g in inner])
    if reading.part("start-angle"):
        said = float(reading.size("start-angle") or 0)
        starts = turns if evenly else [turns[(widest + 1) % len(turns)]]
        near = min((_near(float(t), said) for t in starts), key=lambda t: abs(t - said))
        yield compared(reading, "start-angle", near, unit)
    names = [p.name for p in reading.turns if p.name.startswith("member-")]
    if names and len(names) != len(turns):
        yield PartProof("count", float(len(names)), float(len(turns)), False)
    left = list(turns)
    for name in names[: len(turns)]:
        said = float(reading.size(name) or 0)
        nearest = min(left, key=lambda t: abs(_near(float(t), said) - said))
        left.remove(nearest)
        yield compared(reading, name, _near(float(nearest), said), unit)


def _near(turn: float, said: float) -> float:
    """An angle as near to the one stated as whole turns bring it."""
    return (turn - said + 180) % 360 - 180 + said
