"""Threads that are noted on plain holes measured again: the hole that they are cut into."""

from canonis.core.callout import Callout, is_drilled_for, minor_of
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.statement import PartProof, compared, designated, worst
from canonis.core.sheet import Leader
from canonis.core.tolerances import NOISE

__all__ = ["measure_tapped"]

#: How far a hole modelled at the nominal size may be off it, mm.
_NOMINAL = 5e-3


def measure_tapped(m: Measurer, mark: Leader, alive: list[str], reading: Callout) -> list[PartProof]:
    """A thread that is noted on plain holes: the hole is its drill or its nominal size, and no shallower than the thread."""
    unit = m.document.unit
    toward = m.toward(mark)
    holes = [m.gauged(mark.sheet, r, toward) for r in alive]
    parts = [PartProof("count", float(reading.count), float(len(holes)), reading.count == len(holes))]
    fits = all(_fits(h.diameter, reading) for h in holes)
    parts.append(designated(reading, fits))
    # What a designation brings along by its table is no other size of the hole.
    parts += [PartProof(n, None, None, fits) for n in ("major", "pitch", "tap-drill") if reading.part(n) is not None]
    if reading.part("drill-diameter"):
        parts.append(worst([compared(reading, "drill-diameter", h.diameter, unit) for h in holes]))
    if reading.part("drill-depth"):
        parts.append(worst([compared(reading, "drill-depth", h.depth, unit) for h in holes]))
    for name in ("through", "drill-through"):
        if reading.part(name):
            shut = [h for h in holes if not h.through]
            parts.append(PartProof(name, True, not shut, not shut))
    depth = reading.part("depth")
    if depth is not None and depth.nominal is not None:
        # The thread itself is not modelled: its hole must have room for it.
        said, room = float(depth.nominal), min((h.depth for h in holes if h.depth is not None), default=None)
        parts.append(PartProof("depth", said, room, room is None or room >= said - NOISE))
    return parts


def _fits(bore: float, reading: Callout) -> bool:
    """Whether a thread can be cut into a bore (mm): one of its nominal size, one drilled for it, or, where the note names
    the drill, any that leaves some of its thread."""
    major, pitch, drill = (
        None if (p := reading.part(n)) is None or p.nominal is None else float(p.nominal)
        for n in ("major", "pitch", "tap-drill")
    )
    if major is None:
        return False
    if reading.part("drill-diameter") is not None and minor_of(major, pitch or 0.0) <= bore < major:
        return True
    return abs(bore - major) <= _NOMINAL or is_drilled_for(bore, major, pitch or 0.0, drill)
