"""How features are written on a sheet: hole notes, radii, chamfers, slots (STANDARDS: hole note order)."""

from canonis.core.callout.pen import Notation
from canonis.core.features.model import Blend, Hole, Shaft, Slot
from canonis.core.features.report import spot_face
from canonis.core.quantity.units import Unit
from canonis.core.quantity.written import write_angle, write_length

__all__ = ["blend_lines", "hole_lines", "shaft_lines", "slot_lines"]


def _count(count: int) -> str:
    return f"{count}× " if count > 1 else ""


def hole_lines(hole: Hole, count: int, unit: Unit, tail: str = "", notation: Notation = "symbols") -> tuple[str, ...]:
    """A hole note: count × ⌀ depth or THRU; then every seat of the start face, then those of the far face.

    `notation` "words" writes DIA, DEEP, CBORE and CSK instead of the symbols (a house rule).
    """

    def w(mm: float) -> str:
        return write_length(mm, unit)

    def across(mm: float) -> str:
        return f"⌀{w(mm)}" if notation == "symbols" else f"{w(mm)} DIA"

    def deep(mm: float) -> str:
        return f"↧{w(mm)}" if notation == "symbols" else f"{w(mm)} DEEP"

    bore, sink = ("⌴", "⌵") if notation == "symbols" else ("CBORE ", "CSK ")
    lines = [f"{_count(count)}{across(hole.diameter)} {'THRU' if hole.through else deep(hole.depth or 0.0)}"]
    for seats, side in ((hole.seats, ""), (hole.far_seats, " FAR SIDE")):
        for seat in seats:
            if seat.kind == "counterbore":
                mark = "SF " if spot_face(seat) else bore
                lines.append(f"{mark}{across(seat.diameter)} {deep(seat.depth)}{side}")
            elif seat.kind == "countersink":
                lines.append(f"{sink}{across(seat.diameter)} × {write_angle(seat.angle)}{side}")
            elif seat.kind == "rim-round":
                lines.append(f"RIM R{w(seat.size)}{side}")
            else:
                lines.append(f"RIM {w(seat.size)} × {write_angle(seat.angle)}{side}")
    lines[-1] += tail
    return tuple(lines)


def blend_lines(blend: Blend, unit: Unit) -> tuple[str, ...]:
    """A radius (``4× R6``) or a chamfer (``2× 2 × 45°``, unequal legs ``3 × 2``)."""
    if blend.kind == "fillet":
        return (f"{_count(blend.count)}R{write_length(blend.size, unit)}",)
    if abs(blend.size - blend.size_b) < 1e-3:
        return (f"{_count(blend.count)}{write_length(blend.size, unit)} × {write_angle(45.0)}",)
    return (f"{_count(blend.count)}{write_length(blend.size, unit)} × {write_length(blend.size_b, unit)} CHAMFER",)


def slot_lines(slot: Slot, count: int, unit: Unit, notation: Notation = "symbols") -> tuple[str, ...]:
    """A straight slot with round ends: width, centre distance, THRU or depth."""
    depth = write_length(slot.depth or 0.0, unit)
    end = "THRU" if slot.through else f"↧{depth}" if notation == "symbols" else f"{depth} DEEP"
    return (
        f"{_count(count)}SLOT {write_length(slot.width, unit)} WIDE {end}",
        f"{write_length(slot.centres, unit)} CENTRES",
    )


def shaft_lines(shaft: Shaft, count: int, unit: Unit) -> tuple[str, ...]:
    """A diameter on an outer cylinder."""
    return (f"{_count(count)}⌀{write_length(shaft.diameter, unit)}",)
