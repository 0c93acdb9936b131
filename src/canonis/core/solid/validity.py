"""Whether a body is valid, in time that grows evenly with its faces."""

from collections.abc import Iterable
from typing import Any

import numpy as np
from OCP.BOPAlgo import BOPAlgo_ArgumentAnalyzer, BOPAlgo_CheckStatus
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepTools import BRepTools
from OCP.TopAbs import TopAbs_EDGE, TopAbs_FACE, TopAbs_WIRE
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS
from shapely import STRtree
from shapely.geometry import LineString

__all__ = ["CROWDED", "faulty_faces", "intersects_itself", "is_valid"]

#: Faces with more boundaries than this are checked our way: the kernel compares each boundary with every other.
CROWDED = 120


def _under(shape: Any, kind: Any) -> list[Any]:
    out, explorer = [], TopExp_Explorer(shape, kind)
    while explorer.More():
        out.append(explorer.Current())
        explorer.Next()
    return out


def _outline(wire: Any, n: int = 9) -> Any:
    """Points along the edges of a boundary (n×3), mm."""
    points = []
    for edge in _under(wire, TopAbs_EDGE):
        curve = BRepAdaptor_Curve(TopoDS.Edge_s(edge))
        lo, hi = curve.FirstParameter(), curve.LastParameter()
        row = [curve.Value(lo + (hi - lo) * k / (n - 1)) for k in range(n)]
        points.append([(p.X(), p.Y(), p.Z()) for p in row])
    return points


def _crossing(face: Any, wires: list[Any]) -> bool:
    """Whether two boundaries of a flat face cross, from their chords; False for faces that are not flat."""
    rows = [_outline(w) for w in wires]
    every = np.array([p for wire in rows for row in wire for p in row])
    middle = every.mean(0)
    _, sizes, axes = np.linalg.svd(every - middle, full_matrices=False)
    if sizes[2] > 1e-6 * max(1.0, float(sizes[0])):
        return False
    owners, lines = [], []
    for k, wire in enumerate(rows):
        for row in wire:
            owners.append(k)
            lines.append(LineString((np.array(row) - middle) @ axes[:2].T))
    pairs = STRtree(lines).query(lines, predicate="crosses")
    return any(owners[a] != owners[b] for a, b in pairs.T)


def is_valid(shape: Any) -> bool:
    """Whether the kernel finds the body valid; crowded faces are checked for crossing boundaries by their chords."""
    faces = _under(shape, TopAbs_FACE)
    wires = [_under(f, TopAbs_WIRE) for f in faces]
    crowded = [k for k, w in enumerate(wires) if len(w) > CROWDED]
    if not crowded:
        return bool(BRepCheck_Analyzer(shape).IsValid())
    for k, face in enumerate(faces):
        if k in crowded:
            outer = BRepTools.OuterWire_s(TopoDS.Face_s(face))
            if outer.IsNull() or _crossing(face, wires[k]):
                return False
            if not all(BRepCheck_Analyzer(w).IsValid() for w in wires[k]):
                return False
        elif not BRepCheck_Analyzer(face).IsValid():
            return False
    return True


def faulty_faces(faces: Iterable[Any]) -> list[int]:
    """Which faces the kernel finds invalid, by their place in the row."""
    return [k for k, f in enumerate(faces) if not BRepCheck_Analyzer(f).IsValid()]


#: The kernel compares every pair of faces; on more than this it would take minutes.
_PAIRWISE = 400


def intersects_itself(shape: Any, count: int) -> bool:
    """Whether faces of a body cut through one another; not looked at on bodies of more than 400 faces."""
    if count > _PAIRWISE:
        return False
    try:
        check = BOPAlgo_ArgumentAnalyzer()
        check.SetShape1(shape)
        check.SelfInterMode = True
        check.ArgumentTypeMode = False
        check.Perform()
        return any(r.GetCheckStatus() == BOPAlgo_CheckStatus.BOPAlgo_SelfIntersect for r in check.GetCheckResult())
    except Exception:  # the check itself can fail on odd shapes; the validity test above still speaks
        return False
