"""Which solid of a model a source is of: said in its header, else the only one there is, else the one it is named after."""

from collections.abc import Sequence

import numpy as np

from canonis.core.solid import Solid
from canonis.core.source import Specification

__all__ = ["source_solid", "which_words"]


def _kinds(solids: Sequence[Solid]) -> list[int]:
    """For each solid the first that is like it: by volume, area and number of faces."""
    out: list[int] = []
    for solid in solids:
        own = (solid.mass.volume, solid.mass.area, len(solid.faces))
        like = (
            k
            for k, other in enumerate(solids[: len(out)])
            if len(other.faces) == own[2] and np.allclose((other.mass.volume, other.mass.area), own[:2], rtol=1e-5)
        )
        out.append(next(like, len(out)))
    return out


def source_solid(spec: Specification, solids: Sequence[Solid]) -> int | None:
    """The index of the solid that a source is of; of several alike the first. None where the model has different ones and
    neither the header (`solid`: a number from 1 on, or a name) nor the source's own number or title names one."""
    kinds = _kinds(solids)
    if len(set(kinds)) == 1:
        return 0
    said = str(spec.header.get("solid", "")).strip()
    if said.isdecimal() and 0 < int(said) <= len(solids):
        return kinds[int(said) - 1]
    wanted = [said] if said else [str(spec.header.get(key, "")).strip() for key in ("number", "title")]
    for name in (w.casefold() for w in wanted if w):
        named = {kinds[k] for k, s in enumerate(solids) if s.name.strip().casefold() == name}
        if len(named) == 1:
            return named.pop()
    return None


def which_words(solids: Sequence[Solid]) -> str:
    """What is asked where a source could be of several solids."""
    kinds = _kinds(solids)
    names = [f"{k + 1} {s.name}".strip() for k, s in enumerate(solids) if kinds[k] == k]
    return f"The model has {len(names)} different solids ({', '.join(names[:6])}{' …' * (len(names) > 6)}); say which one the source is of."
