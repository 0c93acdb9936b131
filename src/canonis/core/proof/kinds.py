"""The modules that measure statements, one kind or a few alike each. Adding a kind is writing such a module and naming it here."""

from types import ModuleType

from canonis.core.proof import (
    angles,
    arc_slots,
    chamfers,
    drafts,
    free_forms,
    grooves,
    holes,
    polygons,
    rings,
    rounds,
    slots,
    splines,
    threads,
    walls,
)

__all__ = ["MODULES"]

MODULES: tuple[ModuleType, ...] = (
    angles, arc_slots, chamfers, drafts, free_forms, grooves, holes, polygons, rings, rounds, slots, splines, threads, walls,
)  # fmt: skip
