"""Modelled threads measured again: diameter and pitch from points on their helical edges."""

import math
from collections.abc import Mapping

import numpy as np

from canonis.core.callout import Callout
from canonis.core.proof.kinds.tapped import measure_tapped
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.registry import meant, measures, thing
from canonis.core.proof.statement import PartProof, compared, designated
from canonis.core.shape import is_plain_hole
from canonis.core.sheet import Leader
from canonis.core.solid import Member, Solid, Vec, edge_points
from canonis.core.tolerances import FINE

__all__ = ["measure_threads"]


def _gauge(solid: Solid, member: Member, counts: Mapping[str, float]) -> dict[str, float]:
    """Diameters, rise in a turn and length of a modelled thread, from points on its helical edges."""
    axis, base = np.array(member.axis), np.array(member.place)
    edges = {e for f in member.faces for e in solid.faces[f].edges if solid.edges[e].kind == "free"}
    found = {e: rise for e in edges if (rise := _pitch(solid, e, base, axis)) is not None}
    if not found:
        return {}
    radii = [_reach(solid, e, base, axis) for e in found]
    heights = [h for e in found for h in _around(solid, e, base, axis, 40)[1]]
    sizes = {"major": 2 * max(radii), "minor": 2 * min(radii), "length": float(max(heights) - min(heights))}
    return sizes | {"pitch": float(np.median(list(found.values()))) / max(1.0, counts.get("starts", 1.0))}


thing("thread", turned=True, axes="needed", keeps_faces=True, weight=1.0, gauge=_gauge)
meant(
    "thread",
    things={"hole": 0.0, "thread": 0.0, "shaft": 0.0, "boss": 0.0},
    several="always",
    strict=True,
    end_on=True,
    seats=True,
    unsized=True,
)

#: How far a modelled crest or pitch may stand off its designation, as a share: makers take something off.
_ROOM = 0.01


@measures("thread", on=("cylinder",))
def measure_threads(m: Measurer, mark: Leader, alive: list[str], reading: Callout) -> list[PartProof]:
    """Major diameter and pitch of the helix that bounds the named strips; the drill is what the designation implies. One that is
    noted on plain holes is measured by those."""
    solid = m.solid(mark.sheet)
    faces = m.faces(mark.sheet, alive)
    if not faces:
        return []
    if all(is_plain_hole(solid, f) for f in faces):
        return measure_tapped(m, mark, alive, reading)
    # The strips of one winding are joined: together they say what each alone is too short to.
    base, axis, radius, _ = m.cylinder(mark.sheet, faces[0])
    found = [p for f in faces for e in solid.faces[f].edges if (p := _pitch(solid, e, base, axis)) is not None]
    around = {
        e for f in faces for _, o in solid.neighbours[f] for e in solid.faces[o].edges if solid.edges[e].kind == "free"
    }
    wide = max((_reach(solid, e, base, axis) for e in around), default=radius)
    parts = [_near(compared(reading, "major", 2 * wide, m.document.unit))]
    rise = float(np.median(found)) if found else None
    pitch, lead = reading.size("pitch"), reading.size("lead")
    if pitch is not None:
        starts = 1 if lead is None else round(float(lead / pitch))
        each = None if rise is None else rise / starts
        parts.append(_near(compared(reading, "pitch", each, m.document.unit)))
    if lead is not None:
        parts.append(_near(compared(reading, "lead", rise, m.document.unit)))
    if reading.part("length") is not None:
        ends = [
            h for e in around for h in (_around(solid, e, base, axis, 40)[1] if _pitch(solid, e, base, axis) else ())
        ]
        long_ = compared(reading, "length", float(max(ends) - min(ends)) if ends else None, m.document.unit)
        parts.append(_within(long_, (rise or 0.0) / 2))
    parts.insert(0, designated(reading, bool(found)))
    if reading.part("tap-drill") is not None:
        parts.append(PartProof("tap-drill", None, None, True))
    return parts


def _near(proof: PartProof) -> PartProof:
    stated, measured = proof.stated, proof.measured
    if not isinstance(stated, float) or not isinstance(measured, float):
        return proof
    return PartProof(proof.name, stated, measured, abs(stated - measured) <= _ROOM * stated)


def _within(proof: PartProof, room: float) -> PartProof:
    """A length of thread: where it runs out is no sharper than half a turn."""
    if not isinstance(proof.stated, float) or not isinstance(proof.measured, float):
        return proof
    return PartProof(proof.name, proof.stated, proof.measured, abs(proof.stated - proof.measured) <= room)


def _around(solid: Solid, rim: int, base: Vec, axis: Vec, count: int) -> tuple[Vec, Vec, Vec]:
    """Angle (unwound), height and distance from an axis of points along an edge."""
    rel = edge_points(solid, rim, count) - base
    height = rel @ axis
    spoke = rel - np.outer(height, axis)
    u = np.cross(axis, np.eye(3)[int(np.argmin(np.abs(axis)))])
    u = u / float(np.linalg.norm(u))
    angle = np.unwrap(np.arctan2(spoke @ np.cross(axis, u), spoke @ u))
    return angle, height, np.linalg.norm(spoke, axis=1)


def _pitch(solid: Solid, rim: int, base: Vec, axis: Vec) -> float | None:
    """The rise of a helical edge in one turn, mm; None where it is none."""
    angle, height, _ = _around(solid, rim, base, axis, 25 + min(600, int(4 * solid.edges[rim].length)))
    turn = float(angle[-1] - angle[0])
    if abs(turn) < 1.0:
        return None
    slope, start = np.polyfit(angle, height, 1)
    off = float(np.abs(height - slope * angle - start).max())
    return abs(float(slope)) * 2 * math.pi if off < 1e-2 * max(1.0, abs(float(slope))) and abs(slope) > FINE else None


def _reach(solid: Solid, rim: int, base: Vec, axis: Vec) -> float:
    return float(np.median(_around(solid, rim, base, axis, 40)[2]))
