"""Names of features: found again on a part that only lies otherwise, each keeps the name that it had."""

from collections import Counter
from dataclasses import replace
from typing import Any

from canonis.core.features.model import Feature

__all__ = ["named_as"]


def named_as(known: Feature, found: Feature) -> Feature:
    """`found`, recognised on the same faces in other axes, with the names that its features have in `known`.

    Directions and groups may differ by the axes: a feature takes the name of the one that most of its faces belonged to,
    and where two would take one name the second gets the next number of its letter.
    """
    before = {f: name for name, faces in _faces(known).items() for f in faces}
    taken: dict[str, str] = {}
    spare: list[str] = []
    for name, faces in _faces(found).items():
        votes = Counter(before[f] for f in faces if f in before and _letter(before[f]) == _letter(name))
        best = next((n for n, _ in votes.most_common() if n not in taken.values()), None)
        if best is None:
            spare.append(name)
        else:
            taken[name] = best
    used = set(taken.values()) | set(_faces(known))
    for name in spare:
        letter = _letter(name)
        number = 1 + max((int(n[len(letter) :]) for n in used if _letter(n) == letter), default=0)
        taken[name] = f"{letter}{number}"
        used.add(taken[name])

    def renamed(things: tuple[Any, ...]) -> tuple[Any, ...]:
        return tuple(replace(x, id=taken[x.id]) for x in things)

    return replace(
        found,
        holes=renamed(found.holes),
        blends=renamed(found.blends),
        slots=renamed(found.slots),
        shafts=renamed(found.shafts),
        forms=renamed(found.forms),
        owner={f: taken.get(name, name) for f, name in found.owner.items()},
    )


def _letter(name: str) -> str:
    return name.rstrip("0123456789")


def _faces(found: Feature) -> dict[str, set[int]]:
    """The faces of every feature by its name."""
    out = {g.id: {f for h in g.holes for f in h.faces} for g in found.holes}
    out |= {b.id: set(b.faces) for b in found.blends} | {s.id: set(s.faces) for s in found.slots}
    out |= {s.id: set(s.faces) for s in found.shafts}
    return out | {form.id: {f for piece in form.pieces for f in piece.faces} for form in found.forms}
