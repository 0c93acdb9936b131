"""Where projected curves pass under others: a pair search over short chords, then each crossing on the exact curves."""

import numpy as np
import shapely
from numpy.typing import NDArray

from canonis.core.solid import Vec
from canonis.core.view.curves import CONIC, Curves

__all__ = ["crossings"]

#: A determinant smaller than this comes from parallel lines.
_DEGENERATE = 1e-14

Ints = NDArray[np.int64]


def _chords(curves: Curves, which: Ints, lo: Vec, hi: Vec, chord: float) -> tuple[Ints, Vec, Vec, Vec, Vec]:
    """Chords of stretches: the stretch of each, its parameters, its ends in the view's axes."""
    n = curves.steps(which, lo, hi, chord)
    stretch = np.repeat(np.arange(len(which)), n)
    k = np.arange(len(stretch)) - np.repeat(np.cumsum(n) - n, n)
    step = ((hi - lo) / n)[stretch]
    t0 = lo[stretch] + step * k
    t1 = t0 + step
    owner = which[stretch]
    return stretch, t0, t1, curves.at(owner, t0), curves.at(owner, t1)


def _size(curves: Curves, which: Ints) -> Vec:
    """What conics in the plane of the view are told apart by (n×3): the entries of a·aᵀ + b·bᵀ."""
    a, b = curves.a[which, :2], curves.b[which, :2]
    return np.c_[a[:, 0] ** 2 + b[:, 0] ** 2, a[:, 1] ** 2 + b[:, 1] ** 2, a[:, 0] * a[:, 1] + b[:, 0] * b[:, 1]]


#: A stretch with a guess of the parameter that is looked for: curve, parameter, lowest, highest.
_Guess = tuple[Ints, Vec, Vec, Vec]


def _met(curves: Curves, one: _Guess, other: _Guess) -> tuple[Vec, Vec]:
    """Where pairs of curves meet in the plane of the view, from where their chords do (Newton's method)."""
    (a, ta, lo_a, hi_a), (b, tb, lo_b, hi_b) = one, other
    for _ in range(4):
        ta, tb = np.clip(ta, lo_a, hi_a), np.clip(tb, lo_b, hi_b)
        p, q = curves.at(a, ta), curves.at(b, tb)
        d, e = curves.slope(a, ta)[:, :2], curves.slope(b, tb)[:, :2]
        r = q[:, :2] - p[:, :2]
        det = d[:, 0] * e[:, 1] - d[:, 1] * e[:, 0]
        det = np.where(np.abs(det) < _DEGENERATE, np.inf, det)
        ta = ta + np.clip((r[:, 0] * e[:, 1] - r[:, 1] * e[:, 0]) / det, -0.5, 0.5)
        tb = tb + np.clip((r[:, 0] * d[:, 1] - r[:, 1] * d[:, 0]) / det, -0.5, 0.5)
    return np.clip(ta, lo_a, hi_a), np.clip(tb, lo_b, hi_b)


def crossings(
    curves: Curves, under: tuple[Ints, Vec, Vec], over: tuple[Ints, Vec, Vec], chord: float, same: float
) -> tuple[Ints, Vec]:
    """Where stretches `under` (curve, lo, hi) are crossed in the plane of the view by nearer stretches `over`.

    Curves stand in the view's axes: right, up, toward the viewer. Gives, for each crossing, the index into `under` and
    its parameter there. `chord` bounds the chords' error and `same` is the depth below which two curves touch, mm.
    """
    none = np.zeros(0, dtype=np.int64), np.zeros(0)
    if not len(under[0]) or not len(over[0]):
        return none
    su, u0, u1, pu, qu = _chords(curves, *under, chord)
    so, o0, o1, po, qo = _chords(curves, *over, chord)
    tree = shapely.STRtree(shapely.linestrings(np.stack([po[:, :2], qo[:, :2]], axis=1)))
    reach = shapely.box(
        np.minimum(pu[:, 0], qu[:, 0]) - same,
        np.minimum(pu[:, 1], qu[:, 1]) - same,
        np.maximum(pu[:, 0], qu[:, 0]) + same,
        np.maximum(pu[:, 1], qu[:, 1]) + same,
    )
    i, j = tree.query(reach)
    # Nothing that ends below the stretch can hide it.
    keep = np.maximum(po[j, 2], qo[j, 2]) > np.minimum(pu[i, 2], qu[i, 2]) - chord - same
    i, j = i[keep], j[keep]
    # Circles and ellipses that stand exactly over each other run along each other and cross nowhere.
    alike = np.abs(curves.c[under[0][su[i]], :2] - curves.c[over[0][so[j]], :2]).max(axis=1) < same
    size_i, size_j = _size(curves, under[0])[su[i]], _size(curves, over[0])[so[j]]
    alike &= (curves.kind[under[0][su[i]]] == CONIC) & (curves.kind[over[0][so[j]]] == CONIC)
    keep = ~(alike & (np.abs(size_i - size_j).max(axis=1) < same * size_i.max(axis=1, initial=1.0)))
    i, j = i[keep], j[keep]
    d, e = qu[i, :2] - pu[i, :2], qo[j, :2] - po[j, :2]
    r = po[j, :2] - pu[i, :2]
    det = d[:, 0] * e[:, 1] - d[:, 1] * e[:, 0]
    long = np.linalg.norm(d, axis=1) * np.linalg.norm(e, axis=1)
    flat = np.abs(det) < 1e-9 * np.maximum(long, 1e-30)
    det = np.where(flat, 1.0, det)
    s = (r[:, 0] * e[:, 1] - r[:, 1] * e[:, 0]) / det
    t = (r[:, 0] * d[:, 1] - r[:, 1] * d[:, 0]) / det
    # Chords of curves may miss by a little what the curves themselves meet.
    slack = 0.05
    keep = ~flat & (s > -slack) & (s < 1 + slack) & (t > -slack) & (t < 1 + slack)
    i, j, s, t = i[keep], j[keep], s[keep], t[keep]
    a, b = under[0][su[i]], over[0][so[j]]
    ta = u0[i] + (u1[i] - u0[i]) * s
    tb = o0[j] + (o1[j] - o0[j]) * t
    ta, tb = _met(curves, (a, ta, under[1][su[i]], under[2][su[i]]), (b, tb, over[1][so[j]], over[2][so[j]]))
    p, q = curves.at(a, ta), curves.at(b, tb)
    met = np.linalg.norm(q[:, :2] - p[:, :2], axis=1) < max(same / 20, 1e-6)
    # Curves that run along each other cross at every chord; whoever decides looks at long pieces more than once.
    d, e = curves.slope(a, ta)[:, :2], curves.slope(b, tb)[:, :2]
    sine = np.abs(d[:, 0] * e[:, 1] - d[:, 1] * e[:, 0])
    sine /= np.maximum(np.linalg.norm(d, axis=1) * np.linalg.norm(e, axis=1), 1e-30)
    keep = met & (q[:, 2] > p[:, 2] + same) & (sine > 0.01) & (a != b)
    return su[i[keep]], ta[keep]
