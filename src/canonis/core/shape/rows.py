"""Rows of the system: how far something moves for each unknown that changes, sparse."""

from collections.abc import Mapping

__all__ = ["Row", "added", "scaled"]

#: Coefficients by unknown. Lengths count in diagonals of the part, angles in radians.
Row = dict[int, float]

#: A coefficient smaller than this is none.
_NOTHING = 1e-12


def added(a: Mapping[int, float], b: Mapping[int, float], share: float = 1.0) -> Row:
    """`a` and `share` of `b` together."""
    out = dict(a)
    for k, v in b.items():
        x = out.get(k, 0.0) + share * v
        if abs(x) < _NOTHING:
            out.pop(k, None)
        else:
            out[k] = x
    return out


def scaled(a: Mapping[int, float], share: float) -> Row:
    """`share` of `a`."""
    return {k: v * share for k, v in a.items()} if share else {}
