"""The visibility engine's answer as plain curves in the plane of a view."""

import math
from typing import TypedDict

import numpy as np
from numpy.typing import NDArray

from canonis.core.solid import LineClass, RawCurve, Solid, Vec
from canonis.core.tolerances import FITTED, NOISE, NOTHING
from canonis.core.view.clip import Clip
from canonis.core.view.curves import CONIC, FREE, LINE, Curves
from canonis.core.view.frames import ViewFrame
from canonis.core.view.visibility import Pieces, visible_pieces

__all__ = ["own_lines", "raw_curves"]

Ints = NDArray[np.int64]


def own_lines(solid: Solid, frame: ViewFrame, hidden: bool = True, clip: Clip | None = None) -> list[RawCurve]:
    """All curves of an orthographic view of `solid`, in the plane of the view at 1:1.

    Sharp edges and outlines are `visible` or `hidden`; smooth transitions `smooth` (visible ones only).
    """
    return raw_curves(visible_pieces(solid, frame, clip), hidden)


_NAMES: tuple[LineClass, ...] = ("visible", "hidden", "smooth")


def raw_curves(pieces: Pieces, hidden: bool = True) -> list[RawCurve]:
    """The stretches as curves, neighbours of one class joined."""
    kind = np.where(pieces.seen, np.where(pieces.sharp, 0, 2), np.where(pieces.sharp, 1, 3))
    order = np.lexsort((pieces.lo, pieces.curve))
    curve, lo, hi, kind = (x[order] for x in (pieces.curve, pieces.lo, pieces.hi, kind))
    if not len(curve):
        return []
    goes_on = (
        (curve[1:] == curve[:-1])
        & (kind[1:] == kind[:-1])
        & (np.abs(lo[1:] - hi[:-1]) < 1e-9 * np.maximum(1.0, np.abs(hi[:-1])))
    )
    first = np.concatenate([[True], ~goes_on])
    last = np.concatenate([~goes_on, [True]])
    curve, lo, hi, kind = curve[first], lo[first], hi[last], kind[first]
    wanted = (kind < 3) & (hidden | (kind != 1))
    curve, lo, hi, kind = curve[wanted], lo[wanted], hi[wanted], kind[wanted]
    curves = pieces.curves
    what = curves.kind[curve]
    out: list[RawCurve] = []
    m = what == LINE
    ends = np.stack([curves.at(curve[m], lo[m])[:, :2], curves.at(curve[m], hi[m])[:, :2]], axis=1)
    for k, points, name in zip(curve[m].tolist(), ends, kind[m].tolist(), strict=True):
        out.append(RawCurve(_NAMES[name], "line", points, **_owner(curves, k)))
    m = what == CONIC
    out += _conics(curves, curve[m], lo[m], hi[m], kind[m])
    m = what == FREE
    for k, a, b, name in zip(curve[m].tolist(), lo[m].tolist(), hi[m].tolist(), kind[m].tolist(), strict=True):
        made = _through(_stretch(curves, k, a, b), _NAMES[name], curves, k)
        if made is not None:
            out.append(made)
    return out


class _Owner(TypedDict):
    edge: int
    faces: tuple[int, ...]


def _owner(curves: Curves, k: int) -> _Owner:
    f, g = curves.faces[k].tolist()
    return {"edge": int(curves.edge[k]), "faces": (f, g) if g >= 0 else (f,) if f >= 0 else ()}


def _stretch(curves: Curves, k: int, lo: float, hi: float) -> Vec:
    inner = np.arange(math.floor(lo) + 1, math.ceil(hi))
    t = np.concatenate([[lo], inner[(inner > lo + NOTHING) & (inner < hi - NOTHING)], [hi]])
    return curves.at(np.full(len(t), k), t)[:, :2]


def _through(points: Vec, name: LineClass, curves: Curves, k: int) -> RawCurve | None:
    """A free curve; one that is straight within 1e-5 mm as the line it draws."""
    spread = points - points[0]
    far = spread[int(np.argmax((spread**2).sum(1)))]
    reach = float(np.linalg.norm(far))
    if reach < NOISE:
        return None
    if float(np.abs(spread[:, 0] * far[1] - spread[:, 1] * far[0]).max()) / reach < FITTED:
        along = spread @ (far / reach)
        ends = np.array([points[int(np.argmin(along))], points[int(np.argmax(along))]])
        return RawCurve(name, "line", ends, **_owner(curves, k))
    return RawCurve(name, "curve", points, **_owner(curves, k))


def _conics(curves: Curves, which: Ints, lo: Vec, hi: Vec, kind: Ints) -> list[RawCurve]:
    """Stretches of circles and ellipses as they are projected: lines, arcs or ellipses."""
    c, a, b = curves.c[which, :2], curves.a[which, :2], curves.b[which, :2]
    # The angle at which the half diameters stand square to each other.
    shift = 0.5 * np.arctan2(2 * (a * b).sum(1), (a * a).sum(1) - (b * b).sum(1))
    cos, sin = np.cos(shift)[:, None], np.sin(shift)[:, None]
    p, q = a * cos + b * sin, b * cos - a * sin
    lo, hi = lo - shift, hi - shift
    swap = (p * p).sum(1) < (q * q).sum(1)
    p, q = np.where(swap[:, None], q, p), np.where(swap[:, None], -p, q)
    lo, hi = np.where(swap, lo - np.pi / 2, lo), np.where(swap, hi - np.pi / 2, hi)
    large, small = np.linalg.norm(p, axis=1), np.linalg.norm(q, axis=1)
    flat = small < 1e-6 * np.maximum(large, 1.0)
    # The furthest that a stretch seen edge-on reaches along its line.
    top = np.floor(hi / (2 * np.pi)) * 2 * np.pi >= lo
    foot = np.floor((hi - np.pi) / (2 * np.pi)) * 2 * np.pi + np.pi >= lo
    far = np.where(top, 1.0, np.maximum(np.cos(lo), np.cos(hi)))
    near = np.where(foot, -1.0, np.minimum(np.cos(lo), np.cos(hi)))
    back = p[:, 0] * q[:, 1] - p[:, 1] * q[:, 0] < 0
    lo, hi = np.where(back, -hi, lo), np.where(back, -lo, hi)
    turn = np.arctan2(p[:, 1], p[:, 0])
    even = large - small < 1e-7 * np.maximum(large, 1.0)
    out: list[RawCurve] = []
    for i, k in enumerate(which.tolist()):
        name, own = _NAMES[kind[i]], _owner(curves, k)
        if flat[i]:
            if (far[i] - near[i]) * large[i] > NOTHING:
                out.append(RawCurve(name, "line", np.array([c[i] + p[i] * near[i], c[i] + p[i] * far[i]]), **own))
        elif even[i]:
            r, t = float(large[i] + small[i]) / 2, float(turn[i])
            out.append(RawCurve(name, "arc", centre=c[i], radius=r, a0=float(lo[i]) + t, a1=float(hi[i]) + t, **own))
        else:
            out.append(
                RawCurve(
                    name,
                    "ellipse",
                    centre=c[i],
                    radius=float(large[i]),
                    minor=float(small[i]),
                    turn=float(turn[i]),
                    a0=float(lo[i]),
                    a1=float(hi[i]),
                    **own,
                )
            )
    return out
