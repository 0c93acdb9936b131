"""Notes with leaders: hole notes, diameters, radii, chamfers, slots (ISO 129-1, ISO 6410)."""

import math
from collections.abc import Sequence

import numpy as np

from canonis.core.shape import round_pieces, surrounds
from canonis.core.sheet import glyphs
from canonis.core.sheet.angle_marks import angle_arc, draw_angle
from canonis.core.sheet.document import Leader
from canonis.core.sheet.edge_lines import edge_line
from canonis.core.sheet.pen import FRAME_AIR, LINE_PITCH, Pen
from canonis.core.sheet.scene import Scene, frame_of_view
from canonis.core.sheet.sizes import Look
from canonis.core.sheet.symbols import symbol_of
from canonis.core.sheet.views import View
from canonis.core.solid import Edge, Face, Vec, unit_vector
from canonis.core.tolerances import NOISE, NOTHING, SAME, runs_along, same
from canonis.core.view import Line, Projection

__all__ = ["Target", "block_box", "draw_leader", "leader_box", "leader_target", "pitch_circle", "pointed"]

#: Length of the level part of a leader beside its text, mm, and its distance from the text.
SHOULDER, SHOULDER_GAP = 4.0, 1.2


class Target:
    """What a leader points at on paper: a rim (centre and radius) or a point (radius 0).

    `outward` limits the side of a rim that exists, as the paper direction of an arc's middle; `hollow` says
    that the air is on the centre's side of that arc. A point may have an `other` one that serves as well: the outline of a
    round thing on the other side of its axis.
    """

    def __init__(
        self, centre: Vec, radius: float, outward: Vec | None = None, hollow: bool = False, other: Vec | None = None
    ) -> None:
        self.centre, self.radius, self.outward, self.hollow, self.other = centre, radius, outward, hollow, other

    @property
    def starts(self) -> list[Vec]:
        """The places around which elbows are tried."""
        return [self.centre] if self.other is None else [self.centre, self.other]

    def tip(self, elbow: Vec) -> Vec:
        """Where the arrow lands when the leader comes from `elbow`."""
        if self.outward is not None:
            return np.asarray(self.centre + self.outward * self.radius)
        if self.radius <= 0:
            return min(self.starts, key=lambda p: float(np.linalg.norm(elbow - p)))
        d = elbow - self.centre
        return np.asarray(self.centre + d / max(float(np.linalg.norm(d)), 1e-9) * self.radius)

    def tips(self, elbows: Vec) -> Vec:
        """Landing points for many elbows (n×2)."""
        if self.other is not None:
            nearer = np.linalg.norm(elbows - self.centre, axis=1) <= np.linalg.norm(elbows - self.other, axis=1)
            return np.where(nearer[:, None], self.centre, self.other)
        if self.outward is not None or self.radius <= 0:
            return np.repeat(self.tip(elbows[0])[None], len(elbows), axis=0)
        d = elbows - self.centre
        return np.asarray(self.centre + d / np.maximum(np.linalg.norm(d, axis=1), 1e-9)[:, None] * self.radius)


def leader_target(scene: Scene, view: View, ref: str) -> Target | None:
    """The target of a leader in a view, or None when its geometry is lost."""
    found = scene.resolution(view.sheet, ref)
    solid = scene.solids[scene.solid_of(view.sheet)]
    if found.edges and not found.faces:
        return _rim_target(scene, view, solid.edges[found.edges[0]])
    if not found.faces:
        return None
    face = solid.faces[found.faces[0]]
    frame = frame_of_view(view)
    if face.kind == "plane":
        return Target(scene.paper(view, frame.flat(face.centre)[None])[0], 0.0)
    if face.kind == "sphere":
        return _ball_target(scene, view, face)
    if face.kind == "free":
        return _free_target(scene, view, face)
    middle = _shown_middle(scene, view, face)
    centre = scene.paper(view, frame.flat(middle)[None])[0]
    along = abs(float(face.axis @ frame.toward))
    if face.kind == "cylinder" and runs_along(along):
        radius = face.radius
        hole = scene.bore_at(view.sheet, face.index)
        if hole is not None:
            radius = _outer_rim(scene, view, frame.flat(middle), hole.diameter / 2, [d / 2 for d in hole.seats])
        if hole is None and face.sweep < 1.5 * math.pi:
            # Of a blank that teeth part the leader ends at the upper right, clear of what stands above and beside the view.
            pieces = round_pieces(solid, face) if surrounds(solid, face) else [face]
            shown = max(pieces, key=lambda f: float(f.centre @ (frame.right + frame.up)))
            radial = shown.centre - middle
            radial = radial - face.axis * float(radial @ face.axis)
            if float(np.linalg.norm(radial)) > NOTHING:
                outward = frame.flat(unit_vector(radial))
                return Target(centre, face.radius * view.scale, outward, face.inner)
        return Target(centre, radius * view.scale)
    if face.kind == "torus" and along < NOISE and (tube := _tube_target(scene, view, face)) is not None:
        return tube
    radial = face.centre - middle
    radial = radial - face.axis * float(radial @ face.axis)
    hole = scene.bore_at(view.sheet, face.index)
    if hole is not None and along > 0.05:
        return Target(scene.paper(view, frame.flat(hole.start)[None])[0], 0.0)
    if face.kind == "cone" and float(np.linalg.norm(radial)) < 1e-6 * max(1.0, abs(sum(face.span))) and along < 0.99:
        across = unit_vector(np.cross(face.axis, frame.toward))
        wide = abs(sum(face.span)) / 2 * math.tan(face.half_angle)
        return _on_an_outline(scene, view, frame.flat(middle), frame.flat(across) * wide)
    whole = face.sweep > 1.9 * math.pi or float(np.linalg.norm(radial)) < 1e-6 * max(1.0, face.radius)
    if face.kind == "cylinder" and whole:
        # A turned diameter seen from the side: point at its outline.
        across = unit_vector(np.cross(face.axis, frame.toward)) if along < 0.99 else frame.up
        # A bore whose sides are hidden shows its mouth.
        mouth = None if hole is None else frame.flat(hole.start)
        return _on_an_outline(scene, view, frame.flat(middle), frame.flat(across) * face.radius, mouth)
    if float(np.linalg.norm(radial)) > NOTHING:
        size = face.radius + (face.minor if face.kind == "torus" else 0.0)
        return Target(scene.paper(view, frame.flat(middle + unit_vector(radial) * size)[None])[0], 0.0)
    return Target(centre, 0.0)


def _ball_target(scene: Scene, view: View, face: Face) -> Target:
    """A sphere: the middle of the longest arc that a view shows of it."""
    solid, frame = scene.solids[scene.solid_of(view.sheet)], frame_of_view(view)
    centre = frame.flat(face.origin)
    arcs = [
        x
        for x in scene.projection(view).visible
        if x.kind == "arc"
        and same(x.radius, face.radius)
        and float(np.abs(x.centre - centre).max()) < SAME
        and face.index in {*x.faces, *(f for e in x.edges for f in solid.edges[e].faces)}
    ]
    spot = scene.paper(view, centre[None])[0]
    if not arcs:
        return Target(spot, 0.0)
    return _at_arc(scene, view, arcs, face)


def _at_arc(scene: Scene, view: View, arcs: Sequence[Line], face: Face) -> Target:
    """The middle of the longest of some arcs of a face."""
    longest = max(arcs, key=lambda x: x.length)
    a = (longest.a0 + longest.a1) / 2
    spot = scene.paper(view, longest.centre[None])[0]
    return Target(spot, longest.radius * view.scale, np.array([math.cos(a), math.sin(a)]), face.inner)


def _tube_target(scene: Scene, view: View, face: Face) -> Target | None:
    """A ring from the side: the middle of the longest arc of its tube that a view outlines or cuts, else that ends it."""
    tubes = [x for x in scene.projection(view).visible if x.kind == "arc" and same(x.radius, face.minor)]
    arcs = [x for x in tubes if not x.edges and face.index in x.faces]
    arcs = arcs or [x for x in tubes if any(e in face.edges for e in x.edges)]
    return _at_arc(scene, view, arcs, face) if arcs else None


def _free_target(scene: Scene, view: View, face: Face) -> Target:
    """A free-form face: the middle of the longest line that a view shows of it, an outline where there is one."""
    solid, seen = scene.solids[scene.solid_of(view.sheet)], scene.projection(view).visible
    own = [x for x in seen if face.index in {*x.faces, *(f for e in x.edges for f in solid.edges[e].faces)}]
    if not own:
        return Target(scene.paper(view, frame_of_view(view).flat(face.centre)[None])[0], 0.0)
    # Its own outline says more than an edge that it shares.
    points = max(own, key=lambda x: (not x.edges, x.length)).polyline(0.05)
    half = (len(points) - 1) / 2
    middle = (points[math.floor(half)] + points[math.ceil(half)]) / 2
    return Target(scene.paper(view, middle[None])[0], 0.0)


def _rim_target(scene: Scene, view: View, edge: Edge) -> Target | None:
    """A circle: its rim seen from the end, its end point at the outline from the side."""
    if edge.kind != "circle":
        return None
    frame = frame_of_view(view)
    centre = frame.flat(edge.centre)
    along = abs(float(edge.axis @ frame.toward))
    if runs_along(along):
        return Target(scene.paper(view, centre[None])[0], edge.radius * view.scale)
    across = unit_vector(np.cross(edge.axis, frame.toward))
    return _on_an_outline(scene, view, centre, frame.flat(across) * edge.radius)


def _on_an_outline(scene: Scene, view: View, middle: Vec, spoke: Vec, other: Vec | None = None) -> Target:
    """Of the two outlines beside a middle those that are drawn: a half section opens one side only; where none is, an
    `other` place."""
    spots = [middle + spoke, middle - spoke]
    drawn = [p for p in spots if _on_a_line(scene, view, p)] or (spots[:1] if other is None else [other])
    ends = scene.paper(view, np.array(drawn))
    return Target(ends[0], 0.0, other=ends[1] if len(ends) > 1 else None)


def _on_a_line(scene: Scene, view: View, p: Vec) -> bool:
    """Whether a visible straight line of a view runs through a place."""
    for line in scene.projection(view).visible:
        if line.kind == "line":
            a, b = line.points[0], line.points[-1]
            d = b - a
            t = float(np.clip((p - a) @ d / max(float(d @ d), 1e-12), 0, 1))
            if float(np.linalg.norm(a + d * t - p)) < 0.02:
                return True
    return False


def _shown_middle(scene: Scene, view: View, face: Face) -> Vec:
    """The middle of a round face, or where it lies in a stretch that is broken out of the view, a place beside that."""
    middle = np.asarray(face.origin + face.axis * (face.span[0] + face.span[1]) / 2)
    frame = frame_of_view(view)
    for strip in scene.strips(view):
        way = frame.right if strip.along == 0 else frame.up
        slant = float(face.axis @ way)
        level = float(middle @ way)
        if strip.low < level < strip.high and abs(slant) > NOISE:
            ends = sorted(float((face.origin + face.axis * s) @ way) for s in face.span)
            before, after = strip.low - ends[0], ends[1] - strip.high
            wanted = strip.low - before / 2 if before >= after else strip.high + after / 2
            middle = middle + face.axis * ((wanted - level) / slant)
    return middle


def _outer_rim(scene: Scene, view: View, centre: Vec, bore: float, seats: list[float]) -> float:
    """Radius of the outermost circle of a hole of which a view shows half or more."""
    seen = scene.projection(view)
    wanted = [r for r in [*seats, bore] if seen.circle_at(centre, [r])]
    most = [r for r in wanted if _shown_of(seen, centre, r) > math.pi]
    return max(most or wanted, default=bore)


def _shown_of(seen: Projection, centre: Vec, radius: float) -> float:
    """How much of a circle a view shows, rad."""
    return sum(
        x.a1 - x.a0
        for x in seen.visible
        if x.kind == "arc" and abs(x.radius - radius) < 0.02 and float(np.abs(x.centre - centre).max()) < 0.02
    )


def pitch_circle(scene: Scene, view: View, refs: tuple[str, ...]) -> Target | None:
    """The circle through the centres of a ring of bores, on paper; None when fewer than three are left."""
    centres = [scene.anchor(view, r) for r in refs]
    points = np.array([[a.x, a.y] for a in centres if a is not None and a.x is not None and a.y is not None])
    if len(points) < 3:
        return None
    system = np.c_[2 * points, np.ones(len(points))]
    solution = np.linalg.lstsq(system, (points**2).sum(1), rcond=None)[0]
    centre = solution[:2]
    radius = math.sqrt(max(0.0, float(solution[2] + centre @ centre)))
    return Target(scene.paper(view, centre[None])[0], radius * view.scale)


def pointed(scene: Scene, view: View, mark: Leader) -> Target | None:
    """What the leader of a note points at. A symbol stands on the outside of the face that it is of (ISO 21920-1, ISO 1101)."""
    ref = mark.target or mark.refs[0]
    if symbol_of(mark) is not None:
        found = scene.resolution(view.sheet, ref)
        solid = scene.solids[scene.solid_of(view.sheet)]
        line = edge_line(scene, view, solid.faces[found.faces[0]]) if found.faces else None
        if line is not None:
            return Target(line[0] + (line[1] - line[0]) * mark.along, 0.0, line[2])
    return leader_target(scene, view, ref)


def block_box(lines: tuple[str, ...], height: float) -> tuple[float, float]:
    """Width and height of a block of text lines, mm."""
    return max((glyphs.width(t, height) for t in lines), default=0.0), height * (1 + LINE_PITCH * (len(lines) - 1))


def leader_box(mark: Leader, look: Look) -> tuple[float, float, float]:
    """Width of what a leader carries, and how far it reaches above and below the leader's line, mm."""
    symbol = symbol_of(mark)
    if symbol is not None:
        return symbol.size(mark, look)
    width, height = block_box(mark.figures, look.text)
    air = FRAME_AIR * look.text if mark.framed else 0.0
    return width + air, look.text / 2 + air, height - look.text / 2 + air


def draw_leader(pen: Pen, scene: Scene, view: View, mark: Leader, look: Look) -> bool:
    """Draw a leader with its text block; False when its geometry is lost.

    `mark.at` is the elbow, from the view's origin on paper.
    """
    if mark.kind == "bolt-circle":
        target = pitch_circle(scene, view, mark.refs)
        if target is not None:
            pen.arc(target.centre, target.radius, style="centre")
    elif mark.kind == "angle" and len(mark.refs) > 1:
        arc = angle_arc(scene, view, mark.refs, mark.text)
        target = None if arc is None else Target(arc.middle, 0.0)
        if arc is not None:
            draw_angle(pen, arc, look)
    else:
        target = pointed(scene, view, mark)
    if target is None:
        return False
    elbow = np.array(view.at) + np.array(mark.at)
    tip = target.tip(elbow)
    sign = 1.0 if mark.right else -1.0
    shoulder = elbow + np.array([sign * SHOULDER, 0.0])
    pen.line(tip, elbow, shoulder)
    pen.arrow(tip, tip - elbow, look.arrow)
    symbol = symbol_of(mark)
    if symbol is not None:
        left = shoulder[0] if mark.right else shoulder[0] - symbol.size(mark, look)[0]
        symbol.draw(pen, (left, float(elbow[1])), mark, look)
        return True
    for k, text in enumerate(mark.figures):
        width = glyphs.width(text, look.text)
        x = shoulder[0] + SHOULDER_GAP if mark.right else shoulder[0] - SHOULDER_GAP - width
        pen.figure(text, x, elbow[1] - look.text / 2 - k * LINE_PITCH * look.text, look.text, framed=mark.framed)
    return True
