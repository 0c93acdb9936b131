"""The cutting line of a section: its course in the plane of the parent and what it cuts off in the section's own plane."""

from dataclasses import dataclass

import numpy as np

from canonis.core.sheet.views import Section, View
from canonis.core.solid import Vec
from canonis.core.tolerances import NOISE
from canonis.core.view import Clip, Patch, ViewFrame

__all__ = ["FAR", "Halves", "aligned_halves", "section_clip"]

#: Cuts reach this far beyond any part, mm.
FAR = 1e6


@dataclass(frozen=True, eq=False)
class Halves:
    """The two legs of an aligned section: each with its frame and what it cuts off; the second is turned about the axis
    into the plane of the first and shifted by `shift` (mm at 1:1)."""

    frames: tuple[ViewFrame, ViewFrame]
    clips: tuple[Clip, Clip]
    shift: Vec
    axis: Vec
    way: Vec

    @property
    def key(self) -> tuple[float, ...]:
        """What the second half depends on."""
        frame = self.frames[1]
        return tuple(round(float(c), 9) for c in (*frame.right, *frame.up, *self.shift, self.clips[1].patches[0].depth))

    def stays(self, point: Vec) -> bool:
        """Whether a point of the solid lies on the side of the leg that is not turned."""
        return float((point - self.axis) @ self.way) > -NOISE


def aligned_halves(view: Section, parent: View, points: Vec) -> Halves:
    """The legs of an aligned section: the one along which the section's plane runs, and the one that is turned. `points` (n×2, mm
    at 1:1) are those of its line in the plane of its parent."""
    seen_from = ViewFrame(np.array(parent.right), np.array(parent.up))
    a, o, b = points
    frame = ViewFrame(np.array(view.right), np.array(view.up))

    def space(d: Vec) -> Vec:
        return np.asarray((d[0] * seen_from.right + d[1] * seen_from.up) / max(float(np.linalg.norm(d)), 1e-12))

    legs = [space(a - o), space(b - o)]
    # The first leg is the one that lies in the plane of the section.
    if abs(float(legs[0] @ frame.toward)) > abs(float(legs[1] @ frame.toward)):
        legs.reverse()
    one, other = legs
    axis = o[0] * seen_from.right + o[1] * seen_from.up
    # Turned about the direction of sight of the parent so that it goes on where the first leg ends.
    n = seen_from.toward
    angle = np.arctan2(float(np.cross(-one, other) @ n), float(-one @ other))
    frames = (frame, ViewFrame(_turned(frame.right, n, float(angle)), _turned(frame.up, n, float(angle))))
    clips = []
    for f, leg in zip(frames, legs, strict=True):
        k = 0 if abs(float(f.right @ leg)) > abs(float(f.up @ leg)) else 1
        at = float(f.flat(axis)[k])
        sense = np.sign(float((f.right, f.up)[k] @ leg))
        low, high = (at, FAR) if sense > 0 else (-FAR, at)
        corners = ((low, -FAR), (high, -FAR), (high, FAR), (low, FAR))
        keep = tuple((round(x, 9), round(y, 9)) if k == 0 else (round(y, 9), round(x, 9)) for x, y in corners)
        clips.append(Clip((Patch(keep, round(float(axis @ f.toward), 9)),), keep))
    return Halves(frames, (clips[0], clips[1]), frames[0].flat(axis) - frames[1].flat(axis), axis, one)


def _turned(v: Vec, about: Vec, angle: float) -> Vec:
    """A vector turned about a unit direction."""
    c, s = np.cos(angle), np.sin(angle)
    return np.asarray(v * c + np.cross(about, v) * s + about * float(about @ v) * (1 - c))


def section_clip(view: Section, parent: View, points: Vec) -> Clip:
    """What a section cuts off: a strip for each leg that runs along the section's plane, down to the leg's level. `points` (n×2,
    mm at 1:1) are those of its line in the plane of its parent."""
    seen_from = ViewFrame(np.array(parent.right), np.array(parent.up))
    frame = ViewFrame(np.array(view.right), np.array(view.up))
    space = points @ np.array([seen_from.right, seen_from.up])
    flat, depth = frame.flat(space), space @ frame.toward
    # The line runs along the section's right or up; across it, a strip has no end.
    k = int(np.argmax(np.ptp(flat, axis=0)))
    legs = [
        (float(flat[i, k]), float(flat[i + 1, k]), float(depth[i] + depth[i + 1]) / 2)
        for i in range(len(points) - 1)
        if abs(flat[i + 1, k] - flat[i, k]) > abs(depth[i + 1] - depth[i])
    ]
    if not legs:
        return Clip()
    if legs[0][0] > legs[-1][1]:
        legs = [(b, a, d) for a, b, d in reversed(legs)]
        turned = True
    else:
        turned = False
    patches = []
    for i, (a, b, level) in enumerate(legs):
        # A half section ends at the centre line, where its line ends; all others run through the part.
        first, last = i == 0, i == len(legs) - 1
        if first and not (view.form == "half" and turned):
            a = -FAR
        if last and not (view.form == "half" and not turned):
            b = FAR
        ends = ((a, -FAR), (b, -FAR), (b, FAR), (a, FAR))
        outline = ends if k == 0 else tuple((y, x) for x, y in ends)
        patches.append(Patch(tuple((round(x, 9), round(y, 9)) for x, y in outline), round(level, 9)))
    return Clip(tuple(patches))
