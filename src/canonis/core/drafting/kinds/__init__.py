"""The kinds of statement that a draft can make: one module each, which tells the candidates of its kind.

Adding a kind is writing such a module and naming it here.
"""

from collections.abc import Callable, Iterator

from canonis.core.drafting.desk import Candidate, Desk
from canonis.core.drafting.kinds.angles import angles
from canonis.core.drafting.kinds.arc_slots import arc_slots
from canonis.core.drafting.kinds.chamfers import chamfers
from canonis.core.drafting.kinds.drafts import drafts
from canonis.core.drafting.kinds.free_forms import free_forms
from canonis.core.drafting.kinds.grooves import grooves
from canonis.core.drafting.kinds.holes import holes
from canonis.core.drafting.kinds.inclined import inclined
from canonis.core.drafting.kinds.levels import levels
from canonis.core.drafting.kinds.overall import overall
from canonis.core.drafting.kinds.pairs import pairs
from canonis.core.drafting.kinds.pitches import pitches
from canonis.core.drafting.kinds.places import corners, places
from canonis.core.drafting.kinds.polygons import polygons
from canonis.core.drafting.kinds.rounds import rounds
from canonis.core.drafting.kinds.shafts import shafts
from canonis.core.drafting.kinds.sizes import rims, sizes
from canonis.core.drafting.kinds.slots import slots
from canonis.core.drafting.kinds.splines import splines
from canonis.core.drafting.kinds.tables import tables
from canonis.core.drafting.kinds.threads import threads
from canonis.core.drafting.kinds.walls import walls
from canonis.core.drafting.kinds.widths import keyways, widths

__all__ = ["OF_FACES", "OF_FEATURES", "Kind"]

#: What a kind does: it looks at a sheet and tells what could be said there.
Kind = Callable[[Desk], Iterator[Candidate]]

#: Kinds that say what was recognised, and where flat faces lie.
OF_FEATURES: tuple[Kind, ...] = (
    overall,
    holes,
    inclined,
    tables,
    pitches,
    pairs,
    slots,
    arc_slots,
    keyways,
    grooves,
    polygons,
    splines,
    drafts,
    walls,
    widths,
    threads,
    shafts,
    rounds,
    chamfers,
    levels,
)
#: Kinds that say whatever of a face is free (see `Desk.touched`).
OF_FACES: tuple[Kind, ...] = (sizes, rims, angles, places, corners, free_forms)
