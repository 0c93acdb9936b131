"""Grooves and undercuts measured again: floor, both walls, the lower rim."""

from typing import TYPE_CHECKING

from canonis.core.proof.statement import PartProof, compared, worst
from canonis.core.sheet.document import Leader
from canonis.core.source.characteristic import Characteristic

if TYPE_CHECKING:
    from canonis.core.proof.measure import Remeasurer

__all__ = ["measure_grooves"]


def measure_grooves(m: "Remeasurer", mark: Leader, alive: list[str], reading: Characteristic) -> list[PartProof]:
    """Every groove that the note names: floor and both walls, three references each."""
    unit = m.document.unit
    faces = m.faces(mark.sheet, alive)
    if len(faces) != len(mark.refs) or len(faces) % 3:
        return []
    groups = [(faces[k], faces[k + 1 : k + 3], alive[k + 1 : k + 3]) for k in range(0, len(faces), 3)]
    parts = [PartProof("count", float(reading.count), float(len(groups)), reading.count == len(groups))]
    widths: list[float | None] = []
    depths: list[float | None] = []
    diameters: list[float | None] = []
    for floor, walls, refs in groups:
        _, axis, radius, _ = m.cylinder(mark.sheet, floor)
        low, high = (m.point(mark.sheet, r, axis) for r in refs)
        widths.append(None if low is None or high is None else abs(high - low))
        diameters.append(2 * radius)
        rims = [r for w in walls if (r := _rim(m, mark.sheet, w, floor)) is not None]
        depths.append(min((abs(r - radius) for r in rims), default=None))
    for name, values in (("width", widths), ("diameter", diameters), ("depth", depths)):
        if reading.part(name):
            parts.append(worst([compared(reading, name, v, unit) for v in values]))
    return parts


def _rim(m: "Remeasurer", sheet: int, wall: int, floor: int) -> float | None:
    """The radius of the cylinder beyond a wall."""
    solid = m.solid(sheet)
    for _, o in solid.neighbours[wall]:
        face = solid.faces[o]
        if face.kind == "cylinder" and o != floor and abs(float(face.axis @ solid.faces[floor].axis)) > 1 - 1e-6:
            return m.cylinder(sheet, o)[2]
    return None
