"""The frame of a part itself, whichever way it lies in its file."""

import numpy as np

from canonis.core.shape.mirror import mirrored_about
from canonis.core.solid import Solid, Vec, unit_vector
from canonis.core.tolerances import NOISE, ROUNDING, on_axis, parallel, runs_along

__all__ = ["canonical", "directions", "own_frame"]

_AXIAL = ("plane", "cylinder", "cone", "torus")
#: Cosine beyond which directions are one (1e-6 rad).
#: The file's axes are kept unless others carry this much more area: a part lies in its file as it is meant to be seen.
_KEEP = 1.05
#: Among so many of the largest directions the twins are looked for that a mirror makes.
_PAIRED = 16


def canonical(d: Vec) -> Vec:
    """A direction without its sense: its largest coordinate is positive."""
    k = int(np.argmax(np.round(np.abs(d), 6)))
    return d if d[k] > 0 else -d


def directions(solid: Solid) -> list[tuple[Vec, float]]:
    """The directions of faces and axes with the area that looks along each, mm², the largest first."""
    known, areas = np.zeros((len(solid.faces), 3)), np.zeros(len(solid.faces))
    count = 0
    for face in solid.faces:
        if face.kind not in _AXIAL:
            continue
        d = canonical(face.axis)
        share = np.abs(known[:count] @ d)
        k = int(share.argmax()) if count else 0
        if not count or not runs_along(float(share[k]), ROUNDING):
            k, count = count, count + 1
            known[k] = d
        areas[k] += face.area
    return [(known[k], float(areas[k])) for k in np.argsort(-areas[:count], kind="stable")]


def own_frame(solid: Solid) -> Vec:
    """Three directions at right angles (rows) that carry the most of the part's area; the file's axes where they do."""
    found = directions(solid)

    def carried(frame: Vec, but: Vec | None = None) -> float:
        """The area that looks along the directions of a frame, but for one direction."""
        return sum(
            area
            for d, area in found
            if on_axis(frame @ d, ROUNDING) and (but is None or not parallel(but, d, ROUNDING))
        )

    best, most = np.eye(3), carried(np.eye(3))
    if found and most == 0:
        a = found[0][0]
        b = unit_vector(np.cross(a, np.eye(3)[int(np.argmin(np.abs(a)))]))
        best, most = np.array([a, b, np.cross(a, b)]), found[0][1] / _KEEP
    for i, (a, _) in enumerate(found[:12]):
        for b, _ in found[i + 1 : 12]:
            if abs(float(a @ b)) < NOISE:
                frame = np.array([a, b, np.cross(a, b)])
                # What turns about a direction that both have is decided by the faces across it, however few: a key in a shaft.
                both = next((d for d in (a, b) if on_axis(best @ d, ROUNDING)), None)
                if both is None:
                    better = carried(frame) > _KEEP * most
                else:
                    better = carried(frame, both) > _KEEP * carried(best, both)
                if better:
                    best, most = frame, carried(frame)
    return _with_its_mirror(solid, _about_its_one_direction(best, found), found)


def _with_its_mirror(solid: Solid, frame: Vec, found: list[tuple[Vec, float]]) -> Vec:
    """A frame of which one direction across another one has no flat faces, turned about that other one into the plane of
    symmetry of the part where it has one: the arms of a rod that tapers lean both from the line through its bores."""
    flat = [d for d in (f.axis for f in solid.faces if f.kind == "plane")]
    bare = [k for k in range(3) if not any(parallel(frame[k], d, ROUNDING) for d in flat)]
    if len(bare) != 1 or runs_along(float(np.abs(frame).max(axis=1).min()), ROUNDING):
        return frame
    for a in (frame[k] for k in range(3) if k != bare[0]):
        across = [(d, area) for d, area in found[:_PAIRED] if abs(float(d @ a)) < NOISE]
        b, c = (d for d in frame if abs(float(d @ a)) < 0.5)
        if mirrored_about(solid, b) or mirrored_about(solid, c):
            continue
        for n, (d, area) in enumerate(across):
            for e, other in across[n + 1 :]:
                if abs(area - other) < 1e-3 * area:
                    for m in (unit_vector(d + e), unit_vector(d - e)):
                        if mirrored_about(solid, m):
                            return np.array([a, m, np.cross(a, m)])
    return frame


def _about_its_one_direction(frame: Vec, found: list[tuple[Vec, float]]) -> Vec:
    """A frame of which one direction alone carries faces, turned about it so that walls that lean a little, by a draft say,
    lie along the others."""
    carrying = [k for k in range(3) if any(parallel(frame[k], d, ROUNDING) for d, _ in found)]
    if len(carrying) != 1:
        return frame
    a = frame[carrying[0]]
    leaning = next((d for d, _ in found if NOISE < abs(float(d @ a)) < 0.5), None)
    if leaning is None:
        return frame
    b = unit_vector(leaning - a * float(leaning @ a))
    if on_axis(frame @ b, ROUNDING):
        return frame
    rest = {(carrying[0] + 1) % 3: b, (carrying[0] + 2) % 3: np.cross(a, b), carrying[0]: a}
    return np.array([rest[k] for k in range(3)])
