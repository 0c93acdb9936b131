"""Sections from lines on the paper: points that snap to axes, legs made square, the way the section looks."""

import itertools
from typing import Any

import numpy as np

from canonis.core.faults import BadInput
from canonis.core.sheet import Scene, Section, Spot, Triple, View, frame_of_view, lengthwise
from canonis.core.sheet.views import Place
from canonis.core.solid import Vec, face_reference
from canonis.core.tolerances import SAME, ZERO, square
from canonis.core.view import ViewFrame

__all__ = ["form_of", "on_plane", "section_of", "snap_levels", "snapped", "squared", "triple"]

#: How near a point snaps to a centre or a level, mm on paper.
_SNAP = 3.0


def triple(v: Vec) -> Triple:
    """A vector as it is stored."""
    clean = [0.0 if abs(c) < ZERO else float(c) for c in v]
    return (clean[0], clean[1], clean[2])


def on_plane(scene: Scene, view: View, point: tuple[float, float]) -> Vec:
    """A point on the paper in the plane of a view, mm at 1:1."""
    return np.asarray(scene.plane(view, np.array([point]))[0])


def snap_levels(scene: Scene, view: View) -> tuple[list[tuple[float, str]], list[tuple[float, str]]]:
    """Levels that points snap to along the view's right and up: axes of round faces, each with a reference."""
    frame = frame_of_view(view)
    solid = scene.solids[scene.solid_of(view.sheet)]
    out: tuple[list[tuple[float, str]], list[tuple[float, str]]] = ([], [])
    for face in solid.faces:
        if face.kind not in ("cylinder", "cone", "torus"):
            continue
        for k, way in enumerate((frame.right, frame.up)):
            if square(face.axis, way):
                out[k].append((float(face.origin @ way), face_reference(face)))
    return out


def snapped(scene: Scene, view: View, flat: Vec, levels: Any) -> Spot:
    """A spot at the nearest axis within reach, else where it is from the view's origin."""
    frame = frame_of_view(view)
    origin = np.array(view.origin)
    places = []
    for k, way in enumerate((frame.right, frame.up)):
        near = min(levels[k], key=lambda row: abs(row[0] - float(flat[k])), default=None)
        if near is not None and abs(near[0] - float(flat[k])) * view.scale < _SNAP:
            places.append(Place(ref=near[1]))
        else:
            places.append(Place(offset=round(float(flat[k]) - float(origin @ way), 4)))
    return Spot(x=places[0], y=places[1])


def section_of(
    scene: Scene,
    parent: View,
    line: tuple[Spot, ...],
    form: str,
    turned: bool,
    *,
    letter: str,
    name: str,
    reason: str = "",
) -> Section:
    """A section of a view along a line of spots, looking to the left or down unless turned.

    Raises BadInput when the line goes nowhere or crosses itself.
    """
    points = np.array([scene.spot(parent, s) for s in line])
    if len(points) < 2 or float(np.ptp(points, axis=0).max()) < SAME:
        raise BadInput("A cutting line needs two points apart from each other.")
    steps = np.diff(points, axis=0)
    along = int(np.argmax(np.abs(steps).sum(axis=0)))
    if form != "aligned":
        askew = [s for s in steps if min(abs(s)) > 0.02 * max(abs(s)) and min(abs(s)) > 0.05]
        if len(steps) > 1 and askew:
            raise BadInput("A stepped cutting line runs in legs square to each other; set its points level or upright.")
        legs = [s[along] for s in steps if abs(s[along]) > abs(s[1 - along])]
        if any(a * b < 0 for a, b in itertools.pairwise(legs)):
            raise BadInput("That cutting line turns back on itself; draw it in one direction.")
    frame = frame_of_view(parent)
    first = steps[int(np.argmax(np.linalg.norm(steps, axis=1)))]
    if form == "aligned":
        if len(points) != 3:
            raise BadInput("An aligned section has two legs that meet on an axis; give it three points.")
        # The leg that lies level or upright stays; the other is turned into its plane.
        first = min(steps, key=lambda s: float(np.abs(s).min() / np.abs(s).max()))
    d = _straightened(first / float(np.linalg.norm(first)))
    front = next((v for v in scene.document.views if v.kind == "front" and v.sheet == parent.sheet), None)
    made = _looking_along(
        frame, d, scene.document.projection, turned, None if front is None else frame_of_view(front).toward
    )
    section = Section(
        id=name,
        sheet=parent.sheet,
        scale=parent.scale,
        origin=parent.origin,
        right=triple(made.right),
        up=triple(made.up),
        at=parent.at,
        hidden=False,
        parent=parent.id,
        letter=letter,
        form=form,  # type: ignore[arg-type]
        line=line,
        reason=reason,
    )
    return section.model_copy(update={"plain": lengthwise(scene, section)})


def _straightened(d: Vec) -> Vec:
    """A direction on paper, level or upright where it nearly is, else to the right."""
    if abs(d[0]) > 0.999:
        return np.array([1.0, 0.0])
    if abs(d[1]) > 0.999:
        return np.array([0.0, 1.0])
    return -d if d[0] < 0 else d


def _looking_along(frame: ViewFrame, d: Vec, projection: str, turned: bool, front: Vec | None) -> ViewFrame:
    """The frame of a section along `d` in the plane of its parent.

    One looks the way of the front view where that is possible, else down on a level line and at an upright one from the
    side that puts the section to the right of its parent.
    """
    if abs(d[0]) > 0.999:
        sense = -1.0 if turned else 1.0
        if front is not None and float(frame.up @ front) < -0.9:
            sense = -sense
        toward = frame.up * sense
        return ViewFrame(frame.right, np.cross(toward, frame.right))
    run = d[0] * frame.right + d[1] * frame.up
    aside = np.cross(run, frame.toward)
    toward = aside if (projection == "third") is not turned else -aside
    return ViewFrame(np.cross(run, toward), run)


def form_of(scene: Scene, parent: View, line: tuple[Spot, ...]) -> str:
    """The form of a section by the course of its line."""
    if len(line) < 3:
        return "full"
    a, b = np.diff(np.array([scene.spot(parent, s) for s in line]), axis=0)[:2]
    slant = abs(float(a @ b)) / max(float(np.linalg.norm(a) * np.linalg.norm(b)), 1e-12)
    return "aligned" if len(line) == 3 and line[1].x.ref and line[1].y.ref and slant > SAME else "offset"


def squared(scene: Scene, parent: View, spots: list[Spot]) -> tuple[Spot, ...]:
    """The spots with every leg level or upright where it nearly is: each takes over a level of the one before it."""
    out = spots[:1]
    for spot in spots[1:]:
        a, b = np.array(scene.spot(parent, out[-1])), np.array(scene.spot(parent, spot))
        d = np.abs(b - a)
        if d[0] < 0.2 * d[1]:
            # An upright leg stands on whichever of its ends is held by an axis.
            if not out[-1].x.ref and spot.x.ref:
                out[-1] = Spot(x=spot.x, y=out[-1].y)
            out.append(Spot(x=out[-1].x, y=spot.y))
        elif d[1] < 0.2 * d[0]:
            if not out[-1].y.ref and spot.y.ref and len(out) == 1:
                out[-1] = Spot(x=out[-1].x, y=spot.y)
            out.append(Spot(x=spot.x, y=out[-1].y))
        else:
            out.append(spot)
    return tuple(out)
