"""Measuring one pick, or the way between two: distances, angles and sizes, in a frame."""

from typing import Any

import numpy as np

from canonis.core.quantity import Unit, nearest_fraction, write_angle, write_length
from canonis.core.solid import Vec, nearest
from canonis.core.study.frames import Frame
from canonis.core.study.picks import Target
from canonis.core.tolerances import ALIGNED, NOISE, NOTHING, parallel

__all__ = ["measure_between", "measure_one"]


def _row(label: str, unit: str, value: float, sheet: Unit) -> dict[str, Any]:
    value = 0.0 if abs(value) < NOTHING else float(value)
    out: dict[str, Any] = {"label": label, "unit": unit, "value": value}
    if unit == "mm":
        out["text"] = write_length(value, sheet)
        out["fraction"] = nearest_fraction(value, sheet)
    elif unit == "deg":
        out["text"] = write_angle(value)
    else:
        scale = 25.4**2 if sheet is Unit.INCH else 1.0
        out["text"] = f"{value / scale:.6g} {'in²' if sheet is Unit.INCH else 'mm²'}"
    return out


def measure_one(target: Target, frame: Frame, sheet: Unit) -> dict[str, Any]:
    """The sizes of one pick and where it stands in the frame."""
    rows = [_row(label, unit, value, sheet) for label, unit, value in target.own]
    place = frame.point(target.point)
    rows += [
        _row(f"{axis} of its {'axis' if target.endless else 'middle'}", "mm", float(c), sheet)
        for axis, c in zip("xyz", place, strict=True)
    ]
    return {"names": [target.name], "rows": rows, "points": [_list(target.point)], "frame": frame.name}


def _list(p: Vec) -> list[float]:
    return [round(float(c), 9) + 0.0 for c in p]


def _angle(a: Target, b: Target) -> float | None:
    """Angle between two picks, degrees: between lines or between planes the smaller one, of a line to a plane its lean."""
    u, v = (t.line if t.line is not None else t.normal for t in (a, b))
    if u is None or v is None:
        return None
    turn = float(np.degrees(np.arccos(np.clip(abs(float(u @ v)), 0, 1))))
    return 90 - turn if (a.line is None) != (b.line is None) else turn


def _square_distance(a: Target, b: Target) -> tuple[str, float, Vec, Vec] | None:
    """The perpendicular distance where both are planes, axes or lines that run the same way: (label, mm, from, to)."""
    if a.normal is not None and b.normal is not None and parallel(a.normal, b.normal, ALIGNED):
        gap = float((b.point - a.point) @ a.normal)
        return "between the planes", abs(gap), a.point, a.point + a.normal * gap
    if a.line is not None and b.line is not None:
        rel = b.point - a.point
        if parallel(a.line, b.line, ALIGNED):
            across = rel - a.line * float(rel @ a.line)
            return "between the axes", float(np.linalg.norm(across)), a.point, a.point + across
        n = np.cross(a.line, b.line)
        return "between the axes", abs(float(rel @ n)) / float(np.linalg.norm(n)), a.point, b.point
    plane, line = (a, b) if a.normal is not None else (b, a)
    if plane.normal is not None and line.line is not None and abs(float(plane.normal @ line.line)) < NOTHING:
        gap = float((line.point - plane.point) @ plane.normal)
        return "from plane to axis", abs(gap), line.point - plane.normal * gap, line.point
    return None


def measure_between(a: Target, b: Target, frame: Frame, sheet: Unit) -> dict[str, Any]:
    """Everything between two picks; `points` are the ends of the dimension that matters most, in the file's axes."""
    rows: list[dict[str, Any]] = []
    points = None
    direct = _square_distance(a, b)
    if direct:
        label, value, p, q = direct
        rows.append(_row(label, "mm", value, sheet) | {"main": True})
        points = [p, q]
    least, p, q = nearest(a.shape, b.shape)
    if not (a.endless and b.endless):
        rows.append(_row("nearest", "mm", least, sheet) | ({} if direct else {"main": True}))
    points = points or [p, q]
    if len(a.samples) and len(b.samples):
        most = max(float(np.linalg.norm(b.samples - s, axis=1).max()) for s in a.samples)
        rows.append(_row("farthest", "mm", most, sheet))
    centre = b.point - a.point
    if not a.endless and not b.endless:
        rows.append(_row("middle to middle", "mm", float(np.linalg.norm(centre)), sheet))
    steps = frame.vector(np.asarray(points[1]) - np.asarray(points[0]))
    rows += [_row(f"along {axis}", "mm", abs(float(c)), sheet) for axis, c in zip("xyz", steps, strict=True)]
    turn = _angle(a, b)
    if turn is not None:
        rows.append(_row("angle", "deg", turn, sheet))
        if NOISE < turn < 90 - NOISE:
            rows.append(_row("the other angle", "deg", 180 - turn, sheet))
    return {"names": [a.name, b.name], "rows": rows, "points": [_list(p) for p in points], "frame": frame.name}
