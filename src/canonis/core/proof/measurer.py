"""What the second route measures with: the geometry that references name, gauged afresh, each thing once."""

from collections.abc import Sequence

import numpy as np

from canonis.core.proof.circles import circle_centre, circumcentre, sphere_fit, tube_level
from canonis.core.proof.gauge import GaugedHole, gauge_hole
from canonis.core.proof.planes import plane_of
from canonis.core.shape import mouth_of, shape_of
from canonis.core.sheet import MUTE, Annotation, Leader, Note, SheetDocument, SheetPage
from canonis.core.solid import (
    Resolution,
    Solid,
    Vec,
    edge_points,
    extreme_level,
    face_vertices,
    fit_cylinder,
    parse,
    resolve_all,
)
from canonis.core.tolerances import FINE, parallel, runs_along, square

__all__ = ["Measurer", "is_statement"]


def is_statement(mark: Annotation) -> bool:
    """Whether an annotation states something that can be checked."""
    if isinstance(mark, MUTE):
        return False
    return not (isinstance(mark, Note) and not mark.refs)


class Measurer:
    """Measures what the references of one document name on a model. It knows no kind of statement."""

    def __init__(self, document: SheetDocument, solids: tuple[Solid, ...]) -> None:
        self.document, self.solids = document, solids
        self._resolved: dict[int, dict[str, Resolution]] = {}
        self._extremes: dict[tuple[int, str], float] = {}
        self._cylinders: dict[tuple[int, int], tuple[Vec, Vec, float, float]] = {}
        self._holes: dict[tuple[int, int, bool], GaugedHole] = {}
        self._claims: dict[tuple[int, tuple[str, ...]], set[int]] = {}
        for page in document.pages:
            marks = [a for a in document.annotations if a.sheet == page.number]
            refs = [r for a in marks for r in a.refs]
            self._resolved[page.number] = resolve_all(refs, solids[page.solid])

    def solid(self, sheet: int) -> Solid:
        """The solid a sheet shows."""
        return self.solids[self.page(sheet).solid]

    def page(self, sheet: int) -> SheetPage:
        """A sheet by its number."""
        return next(p for p in self.document.pages if p.number == sheet)

    def resolutions(self, sheet: int) -> dict[str, Resolution]:
        """What became of every reference of a sheet."""
        return self._resolved[sheet]

    def resolution(self, sheet: int, ref: str) -> Resolution:
        """What became of a reference."""
        return self._resolved[sheet][ref]

    def faces(self, sheet: int, refs: Sequence[str]) -> list[int]:
        """The faces that references name, those that name one, in their order."""
        return [self.resolution(sheet, r).faces[0] for r in refs if self.resolution(sheet, r).faces]

    def cylinder(self, sheet: int, face: int) -> tuple[Vec, Vec, float, float]:
        """Axis point, axis direction, radius and length fitted to a face, mm."""
        key = (sheet, face)
        if key not in self._cylinders:
            self._cylinders[key] = fit_cylinder(self.solid(sheet), face)
        return self._cylinders[key]

    def point(self, sheet: int, ref: str, direction: Vec) -> float | None:
        """Level of a reference along a direction, mm; None when lost or when it fixes none."""
        parsed, found, solid = parse(ref), self.resolution(sheet, ref), self.solid(sheet)
        if found.status in ("lost", "ambiguous"):
            return None
        if parsed.kind == "fixed":
            return float(np.array(parsed.vectors[0]) @ direction)
        if parsed.kind == "extreme":
            own = np.array(parsed.vectors[0])
            sense = float(own @ direction)
            if not runs_along(sense):
                return None
            key = (sheet, ref)
            if key not in self._extremes:
                self._extremes[key] = extreme_level(solid, own)
            return self._extremes[key] * sense
        if found.faces and parsed.kind == "plane":
            levels = face_vertices(solid, found.faces[0]) @ direction
            if not len(levels) or float(np.ptp(levels)) > FINE:
                levels = np.vstack([edge_points(solid, e) for e in solid.faces[found.faces[0]].edges]) @ direction
            return float(np.mean(levels)) if float(np.ptp(levels)) < FINE else None
        if found.faces and parsed.kind in ("cone", "torus"):
            # The axis of a cone or a ring by the circles that bound it.
            axis = np.array(parsed.vectors[1])
            if parsed.kind == "torus" and parallel(axis, direction):
                return tube_level(solid, found.faces[0], direction)
            rims = [
                e
                for e in solid.faces[found.faces[0]].edges
                if solid.edges[e].kind == "circle" and parallel(solid.edges[e].axis, axis)
            ]
            centre = circle_centre(solid, rims[0]) if rims and square(axis, direction) else None
            return None if centre is None else float(centre @ direction)
        if found.faces and parsed.kind == "mouth":
            return self._mouth(sheet, found.faces[0], np.array(parsed.vectors[2]), direction)
        if found.faces and parsed.kind in ("bore", "shaft", "bore-side", "shaft-side"):
            middle, axis, radius, _ = self.cylinder(sheet, found.faces[0])
            out = radius * float(np.array(parsed.vectors[2]) @ direction) if parsed.kind.endswith("-side") else 0.0
            return float(middle @ direction) + out if square(axis, direction) else None
        if found.faces and parsed.kind == "sphere":
            return float(sphere_fit(solid, found.faces[0])[0] @ direction)
        if found.edges:
            points = edge_points(solid, found.edges[0])
            if parsed.kind == "circle":
                return float(circumcentre(points[0], points[2], points[4]) @ direction)
            if parsed.kind == "line":
                levels = points @ direction
                return float(levels.mean()) if float(np.ptp(levels)) < FINE else None
            wanted = np.array(parsed.vectors[0])
            return float(min(points[[0, 3, 6]], key=lambda p: float(np.linalg.norm(p - wanted))) @ direction)
        return None

    def _mouth(self, sheet: int, bore: int, normal: Vec, direction: Vec) -> float | None:
        """Level of the point where a fitted axis meets the face that its bore opens to, mm."""
        opened = mouth_of(self.solid(sheet), bore, normal)
        if opened is None:
            return None
        middle, axis, *_ = self.cylinder(sheet, bore)
        face = self.solid(sheet).faces[opened[0]]
        if face.kind == "cylinder":
            centre, way, radius, _ = self.cylinder(sheet, opened[0])
            across, rel = axis - way * float(axis @ way), middle - centre
            rel = rel - way * float(rel @ way)
            roots = np.roots([float(across @ across), 2 * float(across @ rel), float(rel @ rel) - radius**2]).real
            far = min(roots, key=lambda t: abs(t - float((opened[1] - middle) @ axis)))
        elif face.kind == "plane":
            point, out = plane_of(self.solid(sheet), opened[0])
            far = float((point - middle) @ out) / float(axis @ out)
        else:
            return None
        return float((middle + axis * far) @ direction)

    def line(self, sheet: int, face: int) -> int:
        """The number of the line that the axis of a round face lies on."""
        shape, _ = shape_of(self.solid(sheet))
        return shape.line_of(self.solid(sheet).faces[face])

    def toward(self, mark: Leader) -> Vec | None:
        """The direction out of the paper of a note's view, when the view looks along the axis of what the note names."""
        view = next((v for v in self.document.views if v.id == mark.view), None)
        if view is None or view.kind == "pictorial" or not mark.refs:
            return None
        toward = np.cross(np.array(view.right), np.array(view.up))
        parsed = parse(mark.refs[0])
        along = parsed.kind == "bore" and parallel(np.array(parsed.vectors[1]), toward)
        return toward if along else None

    def gauged(self, sheet: int, ref: str, toward: Vec | None) -> GaugedHole:
        """The hole that a reference names; the sides of a through hole are told apart by `toward`, where it is given."""
        return self.gauged_face(sheet, self.resolution(sheet, ref).faces[0], np.array(parse(ref).vectors[1]), toward)

    def gauged_face(self, sheet: int, face: int, axis: Vec, toward: Vec | None) -> GaugedHole:
        """The hole that a face is a wall of."""
        key = (sheet, face, toward is not None)
        if key not in self._holes:
            self._holes[key] = gauge_hole(
                self.solid(sheet), face, axis if toward is None else toward, toward is not None
            )
        return self._holes[key]

    def claimed(self, sheet: int, *kinds: str) -> set[int]:
        """Faces that statements of these kinds (of any, when none is named) refer to."""
        key = (sheet, kinds)
        if key not in self._claims:
            marks = [a for a in self.document.annotations if a.sheet == sheet and (not kinds or a.states in kinds)]
            self._claims[key] = {
                f
                for a in marks
                if is_statement(a)
                for r in a.refs
                for f in self.resolution(sheet, r).faces
                if self.resolution(sheet, r).status not in ("lost", "ambiguous")
            }
        return self._claims[key]

    def claimed_lines(self, sheet: int, kind: str) -> set[int]:
        """The axis lines of the round faces that statements of a kind refer to."""
        solid = self.solid(sheet)
        return {self.line(sheet, f) for f in self.claimed(sheet, kind) if solid.faces[f].kind == "cylinder"}

    def rim_stated(self, mark: Leader, holes: list[GaugedHole]) -> bool:
        """Whether another statement names the broken edge of these holes: a chamfer, a radius, a default note."""
        solid = self.solid(mark.sheet)
        lines = {self.line(mark.sheet, f) for r in mark.refs for f in self.resolution(mark.sheet, r).faces}
        stated = self.claimed(mark.sheet, "chamfer", "radius", "round")
        return any(solid.faces[f].kind in ("cone", "torus") and self.line(mark.sheet, f) in lines for f in stated)
