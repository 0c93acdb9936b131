"""A model as the source of another: its measurements written as characteristics in the source's own shorthand."""

from collections.abc import Sequence
from typing import Any

import numpy as np

from canonis.core.features import Feature, HoleGroup, levels
from canonis.core.quantity import Unit, write_angle, write_length
from canonis.core.solid import Solid
from canonis.core.tolerances import ALIGNED, NOISE, runs_along, same

__all__ = ["lines_of"]


def _hole(group: HoleGroup, unit: Unit) -> str:

    def w(mm: float) -> str:
        return write_length(mm, unit)

    h = group.first
    text = f"{len(group.holes)}x " if len(group.holes) > 1 else ""
    text += f"⌀{w(h.diameter)} " + ("THRU" if h.through else f"↧{w(h.depth or 0.0)}")
    for seat in h.seats:
        if seat.kind == "counterbore":
            text += f" ⌴⌀{w(seat.diameter)} ↧{w(seat.depth)}"
        elif seat.kind == "countersink":
            text += f" ⌵⌀{w(seat.diameter)} × {write_angle(seat.angle)}"
    if group.pattern is not None and group.pattern.kind == "circular" and not group.pattern.data["missing"]:
        text += f" EQ SP ON ⌀{w(group.pattern.data['diameter_mm'])} PCD"
    return text


def lines_of(solid: Solid, found: Feature, unit: Unit) -> list[dict[str, str]]:
    """Characteristics of a solid: overall sizes, levels from the low end, hole notes and places, rounds, chamfers, slots
    and diameters. `where` says what was measured; every length is in `unit`."""
    out: list[dict[str, str]] = []

    def w(mm: float) -> str:
        return write_length(mm, unit)

    def add(where: str, text: str) -> None:
        if not any(o["where"] == where and o["text"] == text for o in out):
            out.append({"where": where, "text": text})

    for k, axis in enumerate("xyz"):
        add(f"model, overall {axis}", w(float(solid.size[k])))
    for way, found_levels in levels(solid):
        k = int(np.argmax(np.abs(way)))
        if not runs_along(float(way[k]), ALIGNED):
            continue
        for level in found_levels:
            gap = abs(level * float(np.sign(way[k])) - float(solid.box[0][k]))
            if NOISE < gap < float(solid.size[k]) - NOISE:
                add(f"model, level along {'xyz'[k]}", w(gap))
    for group in found.holes:
        add(f"model, {group.id}", _hole(group, unit))
        ring = group.pattern is not None and group.pattern.kind == "circular"
        places: Sequence[Any] = (
            [group.pattern.data["centre_mm"]] if ring and group.pattern else [h.start for h in group.holes]
        )
        for k, axis in enumerate("xyz"):
            if runs_along(float(group.first.axis[k]), ALIGNED):
                continue
            for at in sorted({round(float(p[k]) - float(solid.box[0][k]), 6) for p in places}):
                add(f"model, {group.id} along {axis}", w(at))
    for slot in found.slots:
        depth = "THRU" if slot.through else f"↧{w(slot.depth or 0.0)}"
        add(f"model, {slot.id}", f"SLOT {w(slot.width)} WIDE {depth} {w(slot.centres)} CENTRES")
    for blend in found.blends:
        n = f"{blend.count}x " if blend.count > 1 else ""
        if blend.kind == "fillet":
            add(f"model, {blend.id}", f"{n}R{w(blend.size)}")
        elif same(blend.size, blend.size_b, NOISE):
            add(f"model, {blend.id}", f"{n}{w(blend.size)} × 45°")
    for shaft in found.shafts:
        add(f"model, {shaft.id}", f"⌀{w(shaft.diameter)}")
    return out
