"""The compound features of a solid, found after the plain ones, equal ones gathered with their pattern."""

from typing import Any

import numpy as np

from canonis.core.features.model import Feature, Form, Piece
from canonis.core.features.patterns import find_pattern
from canonis.core.features.registry import Claims, finders, form_of
from canonis.core.features.stacks import size_key
from canonis.core.solid import Solid

__all__ = ["find_forms"]


def find_forms(solid: Solid, found: Feature, rings: list[Piece]) -> tuple[Form, ...]:
    """Every compound feature; a face goes to the first that claims it. `rings` are the grooves in flat faces."""
    holes = {f for g in found.holes for h in g.holes for f in h.faces}
    holes |= {f for f, name in found.owner.items() if name.startswith("H")}
    claims = Claims(
        solid,
        found,
        rings,
        holes,
        slots={f for s in found.slots for f in s.faces},
        blends={f for b in found.blends for f in b.faces},
        shafts={f for s in found.shafts for f in s.faces},
    )
    pieces: list[Piece] = []
    for find in finders():
        for piece in find(claims):
            if piece.owns and set(piece.owns) & claims.taken:
                continue
            claims.taken.update(piece.owns)
            pieces.append(piece)
    return _gathered(pieces)


def _key(piece: Piece) -> tuple[Any, ...]:
    """What makes two pieces equal: kind, sizes and direction."""
    sizes = tuple(
        (k, size_key(v) if isinstance(v, float) else str(v))
        for k, v in sorted(piece.data.items())
        if not isinstance(v, np.ndarray) and k not in ("start_deg",)
    )
    return (piece.kind, sizes, tuple(np.round(piece.axis, 5) + 0.0))


def _gathered(pieces: list[Piece]) -> tuple[Form, ...]:
    groups: dict[tuple[Any, ...], list[Piece]] = {}
    for k, piece in enumerate(pieces):
        groups.setdefault((k,) if form_of(piece.kind).alone else _key(piece), []).append(piece)
    number: dict[str, int] = {}
    out = []
    for members in groups.values():
        first = members[0]
        number[first.kind] = number.get(first.kind, 0) + 1
        pattern = None
        if len(members) > 1 and form_of(first.kind).patterned:
            pattern = find_pattern(np.array([m.place for m in members]), first.axis)
        out.append(Form(f"{form_of(first.kind).letter}{number[first.kind]}", tuple(members), pattern))
    return tuple(out)
