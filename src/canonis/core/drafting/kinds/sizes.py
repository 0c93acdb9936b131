"""Diameters and radii of round faces, and of the circles that bound cones and rounds."""

import itertools
import math
from collections.abc import Iterator

import numpy as np

from canonis.core.drafting.desk import Candidate, Desk
from canonis.core.drafting.registry import states
from canonis.core.drafting.seen import lines_of
from canonis.core.shape import is_bend, is_eye_end, is_full_turn, places, round_pieces, surrounds
from canonis.core.sheet import View, frame_of_view
from canonis.core.solid import (
    Edge,
    Face,
    Solid,
    edge_reference,
    face_reference,
)
from canonis.core.tolerances import NOISE, SAME, parallel, runs_across, runs_along, same, square

__all__ = ["blanks", "eyes", "rims", "sizes"]


@states(10, faces=True)
def sizes(desk: Desk) -> Iterator[Candidate]:
    """Diameter or radius of every round face in question, where its circle is seen or it is outlined from the side; equal
    radii that one view shows are said together, with their count."""
    alike: dict[tuple[str, float, bool, str], list[Face]] = {}
    asked = list(desk.asked("cylinder", "torus", "sphere"))
    for face in asked:
        radius = face.minor if face.kind == "torus" else face.radius
        if radius <= 0 or is_bend(desk.solid, face):
            # A bend is as wide as the bar or the pipe that it bends.
            continue
        ball = face.kind == "sphere"
        # A whole ball by its diameter, a cap by its radius (ISO 129-1, 9.5 and 9.6).
        wide = (
            surrounds(desk.solid, face) if face.kind == "cylinder" else ball and face.area > 2.2 * math.pi * radius**2
        )
        mine = _of_one_width(face, asked) if face.kind == "cylinder" and is_full_turn(face) else [face]
        if mine[0] is not face:
            continue
        says = desk.round(radius, wide=wide, ball=ball, count=len(mine))
        refs = tuple(face_reference(f) for f in mine)
        for n, view in enumerate(desk.views):
            own = lines_of(desk.scene, view, face.index)
            arcs = [x for x in own if x.kind == "arc" and same(x.radius, radius)]
            across = not ball and square(face.axis, frame_of_view(view).toward)
            side = wide and across and any(not x.edges for x in own)
            if not (arcs or side):
                continue
            # Where a cut or an outline shows it beside its lengths; a circle among circles is read less well.
            price = 2.0 + (0.0 if arcs and not wide else 0.2 if arcs else 0.1) + 0.01 * n
            if arcs and not wide and not ball:
                alike.setdefault((face.kind, round(radius, 4), face.inner, view.id), []).append(face)
            yield Candidate(price, desk.note(view, refs, says, "size"))
    for (_, radius, _, name), faces in alike.items():
        count = len(places(desk.solid, [f.index for f in faces]))
        if count > 1:
            n, view = next((n, v) for n, v in enumerate(desk.views) if v.id == name)
            says = desk.round(radius, wide=False, count=count)
            refs = tuple(face_reference(f) for f in faces)
            yield Candidate(1.99 - 0.01 * count + 1e-3 * n, desk.note(view, refs, says, "size"))


def _of_one_width(face: Face, asked: list[Face]) -> list[Face]:
    """The round faces of one width along parallel axes, which are said together: recesses on both sides of a web, say."""
    return [
        f
        for f in asked
        if f.kind == "cylinder"
        and f.inner is face.inner
        and is_full_turn(f)
        and same(f.radius, face.radius)
        and parallel(f.axis, face.axis)
    ]


@states(12)
def blanks(desk: Desk) -> Iterator[Candidate]:
    """The diameter of what flats, slots or teeth leave of a turned blank, in the view along it: it is said before anything is
    placed from where the blank happens to end."""
    said: set[int] = set()
    for face in desk.solid.faces:
        if face.kind != "cylinder" or face.inner or face.sweep > math.pi:
            continue
        if face.index in said or not surrounds(desk.solid, face):
            continue
        said |= {f.index for f in round_pieces(desk.solid, face)}
        for n, view in enumerate(desk.views):
            arcs = [
                x for x in lines_of(desk.scene, view, face.index) if x.kind == "arc" and same(x.radius, face.radius)
            ]
            if arcs and parallel(face.axis, frame_of_view(view).toward):
                says = desk.round(face.radius, wide=True)
                yield Candidate(0.88 + 0.01 * n, desk.note(view, (face_reference(face),), says, "size"))
                break


@states(12)
def eyes(desk: Desk) -> Iterator[Candidate]:
    """The radius of an end that is round about its bore, in the view along it: how far the part reaches follows from it (ISO
    129-1, 5.9)."""
    for face in desk.solid.faces:
        if not is_eye_end(desk.solid, face):
            continue
        for n, view in enumerate(desk.views):
            own = lines_of(desk.scene, view, face.index)
            if any(x.kind == "arc" and same(x.radius, face.radius) for x in own):
                says = desk.round(face.radius, wide=False)
                yield Candidate(0.89 + 1e-3 * n, desk.note(view, (face_reference(face),), says, "size"))
                break


@states(20, faces=True)
def rims(desk: Desk) -> Iterator[Candidate]:
    """Diameters of the circles that bound a cone or a round, where they are seen from the side or the end, and where
    those stand along their axis."""
    for face in desk.asked("cone", "torus"):
        for e, _ in desk.solid.neighbours[face.index]:
            edge = desk.solid.edges[e]
            if edge.kind == "circle" and parallel(edge.axis, face.axis) and edge.dihedral != "smooth":
                if _whole_turn(edge, desk.solid):
                    yield from _rim(desk, face, e, edge)
                elif face.kind == "cone" and edge.dihedral == "convex":
                    yield from _mouth_arc(desk, face, e, edge)


def _whole_turn(edge: Edge, solid: Solid) -> bool:
    """Whether an edge is a whole circle, or one of the arcs of a circle that flats part: the bevelled end of a hexagon."""
    if edge.length > 1.9 * math.pi * edge.radius:
        return True
    u = (edge.middle - edge.centre) / edge.radius
    w = np.cross(edge.axis, u)
    turns = sorted(
        math.atan2(float((e.middle - edge.centre) @ w), float((e.middle - edge.centre) @ u))
        for e in solid.edges
        if e.kind == "circle"
        and same(e.radius, edge.radius)
        and float(np.abs(e.centre - edge.centre).max()) < SAME
        and parallel(e.axis, edge.axis)
    )
    gaps = [b - a for a, b in itertools.pairwise([*turns, turns[0] + 2 * math.pi])]
    return len(turns) > 2 and max(gaps) < math.pi


def _rim(desk: Desk, face: Face, index: int, edge: Edge) -> Iterator[Candidate]:
    ref = edge_reference(edge)
    says = desk.round(edge.radius, wide=True)
    for n, view in enumerate(desk.views):
        along = abs(float(edge.axis @ frame_of_view(view).toward))
        if not any(index in x.edges for x in lines_of(desk.scene, view, face.index)):
            continue
        if along < NOISE:
            yield from _along(desk, view, edge, ref, 3.3 + 0.02 * n)
        if runs_along(along) or runs_across(along):
            # An odd diameter comes of an angle that was meant.
            price = 2.6 if desk.meant(2 * edge.radius) else 3.6
            yield Candidate(price + (0.2 if along > 0.5 else 0.0) + 0.01 * n, desk.note(view, (ref,), says, "size"))


def _mouth_arc(desk: Desk, face: Face, index: int, edge: Edge) -> Iterator[Candidate]:
    """The radius of an arc at the end of part of a cone, where it is seen true: how wide a tapered corner or lobe is there."""
    for n, view in enumerate(desk.views):
        seen = any(index in x.edges for x in lines_of(desk.scene, view, face.index))
        if seen and parallel(edge.axis, frame_of_view(view).toward):
            says = desk.round(edge.radius, wide=False)
            yield Candidate(3.8 + 0.01 * n, desk.note(view, (edge_reference(edge),), says, "size"))


def _along(desk: Desk, view: View, edge: Edge, ref: str, price: float) -> Iterator[Candidate]:
    """Where a circle stands along its axis, from the datum."""
    anchor = desk.scene.anchor(view, ref)
    for direction, way, _ in desk.ways(view):
        level = None if anchor is None else anchor.level(direction)
        if level is not None and parallel(way, edge.axis) and desk.square(way):
            yield from desk.ordinate(view, direction, level, ref, price, "level")
