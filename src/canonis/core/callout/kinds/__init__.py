"""The kinds of callout: one module each, with its fragment of the grammar, how it is read, written and spoken.

Adding a kind is writing such a module and naming it here.
"""

from types import ModuleType

from canonis.core.callout.kinds import (
    angles,
    arc_slots,
    chamfers,
    diameters,
    drafts,
    ends,
    free_forms,
    grooves,
    holes,
    keyways,
    lengths,
    patterns,
    polygons,
    radii,
    seats,
    slots,
    splines,
    threads,
    walls,
)

__all__ = ["MODULES", "READERS"]

#: The modules with a fragment of the grammar.
MODULES: tuple[ModuleType, ...] = (
    lengths, diameters, radii, chamfers, angles, ends, seats, holes, threads, slots, arc_slots, keyways, grooves, polygons, splines,
    walls, drafts, patterns, free_forms,
)  # fmt: skip
#: What turns the rules of those fragments into parts.
READERS: tuple[type, ...] = (
    threads.Threads, slots.Slots, arc_slots.ArcSlots, keyways.Keyways, grooves.Grooves, ends.Ends, lengths.Lengths, diameters.Diameters,
    radii.Radii, chamfers.Chamfers, angles.Angles, walls.Walls, drafts.Drafts, polygons.Polygons, splines.Splines, patterns.Patterns, free_forms.FreeForms,
)  # fmt: skip
