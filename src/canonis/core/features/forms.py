"""The compound features of a solid, found after the plain ones, equal ones gathered with their pattern."""

from typing import Any

import numpy as np

from canonis.core.features.bends import find_bends
from canonis.core.features.channels import find_channels
from canonis.core.features.curved import find_balls, find_free_rounds, find_tapers
from canonis.core.features.drafts import find_drafts
from canonis.core.features.grooves import find_grooves, find_splines
from canonis.core.features.helices import find_helices
from canonis.core.features.keyways import find_keyways
from canonis.core.features.model import Feature, Form, Piece
from canonis.core.features.patterns import find_pattern
from canonis.core.features.pockets import find_hollows, find_islands
from canonis.core.features.stacks import size_key
from canonis.core.features.walls import find_ribs, find_walls
from canonis.core.solid.model import Solid

__all__ = ["find_forms"]

#: The letter that the names of a kind begin with.
_LETTERS = {
    "thread": "T", "spline": "N", "bend": "E", "arc-slot": "A", "keyway": "K", "groove": "G", "pocket": "P", "lug": "L",
    "boss": "BX", "slot": "SX", "rib": "R", "taper": "TP", "sphere": "SP", "fillet": "FX", "draft": "D", "wall": "W",
}  # fmt: skip


def find_forms(solid: Solid, found: Feature, rings: list[Piece]) -> tuple[Form, ...]:
    """Every compound feature; a face goes to the first that claims it. `rings` are the grooves in flat faces."""
    holes = {f for g in found.holes for h in g.holes for f in h.faces}
    holes |= {f for f, name in found.owner.items() if name.startswith("H")}
    slots = {f for s in found.slots for f in s.faces}
    pieces: list[Piece] = []
    taken: set[int] = set()

    def claim(new: list[Piece]) -> None:
        for piece in new:
            if piece.owns and set(piece.owns) & taken:
                continue
            taken.update(piece.owns)
            pieces.append(piece)

    claim(find_helices(solid))
    threads = set(taken)
    claim(find_splines(solid))
    claim(find_keyways(solid, list(found.slots), holes | taken))
    claim(find_grooves(solid))
    claim(rings)
    claim(find_bends(solid, taken | holes | slots))
    # A threaded bore is a hole with a thread, whatever its mouth looks like.
    claim([p for p in find_hollows(solid, holes | slots | taken) if not set(p.faces) & threads])
    ribs = find_ribs(solid, holes | slots | taken)
    for island in find_islands(solid, holes | slots):
        mine = set(island.faces)
        # A hub with ribs around it is no boss of one odd outline.
        if island.data.get("outline") != "free" or not any(set(r.faces) <= mine for r in ribs):
            claim([island])
    blends = {f for b in found.blends for f in b.faces}
    claim(find_channels(solid, holes | slots | taken, blends))
    claim(ribs)
    shafts = {f for s in found.shafts for f in s.faces}
    plain = holes | slots | shafts | blends
    claim(find_tapers(solid, plain | taken))
    claim(find_balls(solid, plain | taken))
    claim(find_free_rounds(solid, plain | taken))
    claim(find_drafts(solid, holes | blends))
    claim(find_walls(solid))
    return _gathered(pieces)


def _key(piece: Piece) -> tuple[Any, ...]:
    """What makes two pieces equal: kind, sizes and direction."""
    sizes = tuple(
        (k, size_key(v) if isinstance(v, float) else str(v)) for k, v in sorted(piece.data.items())
        if not isinstance(v, np.ndarray) and k not in ("start_deg",)
    )  # fmt: skip
    return (piece.kind, sizes, tuple(np.round(piece.axis, 5) + 0.0))


#: Kinds of which every piece is named alone.
_ALONE = {"wall", "draft", "thread", "spline", "keyway"}


def _gathered(pieces: list[Piece]) -> tuple[Form, ...]:
    groups: dict[tuple[Any, ...], list[Piece]] = {}
    for k, piece in enumerate(pieces):
        groups.setdefault((k,) if piece.kind in _ALONE else _key(piece), []).append(piece)
    number: dict[str, int] = {}
    out = []
    for members in groups.values():
        first = members[0]
        number[first.kind] = number.get(first.kind, 0) + 1
        pattern = None
        if len(members) > 1 and first.kind not in ("fillet", "bend"):
            pattern = find_pattern(np.array([m.place for m in members]), first.axis)
        out.append(Form(f"{_LETTERS[first.kind]}{number[first.kind]}", tuple(members), pattern))
    return tuple(out)
