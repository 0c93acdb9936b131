"""Every statement of a sheet measured again: read from its text, found by its references, gauged afresh."""

import hashlib
import json
from collections.abc import Callable, Sequence
from typing import Any

import numpy as np

from canonis.core.callout.callout import Callout
from canonis.core.callout.reading import why_unread
from canonis.core.proof.angles import measure_angles
from canonis.core.proof.arc_slots import measure_arc_slots
from canonis.core.proof.chamfers import measure_chamfers
from canonis.core.proof.circles import circumcentre
from canonis.core.proof.drafts import measure_drafts
from canonis.core.proof.free_forms import prove_free_form
from canonis.core.proof.gauge import GaugedHole, gauge_hole
from canonis.core.proof.grooves import measure_grooves
from canonis.core.proof.holes import measure_holes
from canonis.core.proof.pitches import measure_pitches
from canonis.core.proof.places import prove_place
from canonis.core.proof.planes import plane_of
from canonis.core.proof.polygons import measure_polygons
from canonis.core.proof.rings import measure_ring
from canonis.core.proof.rounds import NAMING_ROUNDS, circle_centre, measure_rounds, sphere_fit, tube_level
from canonis.core.proof.slots import measure_slots
from canonis.core.proof.splines import measure_splines
from canonis.core.proof.statement import PartProof, StatementProof, close
from canonis.core.proof.tapped import measure_tapped
from canonis.core.proof.threads import measure_threads
from canonis.core.proof.walls import measure_walls
from canonis.core.quantity.units import Unit, from_mm
from canonis.core.shape.implied import shape_of
from canonis.core.shape.mouths import mouth_of
from canonis.core.shape.surfaces import is_plain_hole
from canonis.core.sheet.document import (
    MUTE,
    Annotation,
    Leader,
    Linear,
    Note,
    Ordinate,
    Place,
    SheetDocument,
    SheetPage,
    Statement,
)
from canonis.core.sheet.wording import meaning
from canonis.core.solid.model import Solid, Vec
from canonis.core.solid.probe import edge_points, extreme_level, face_vertices, fit_cylinder
from canonis.core.solid.references import Resolution, parse, resolve_all

__all__ = ["Known", "PartProof", "Remeasurer", "StatementProof", "is_statement", "value_in"]


#: Proofs of statements by what they depend on, for one model and one version of the code.
Known = dict[str, StatementProof]
#: Fields of an annotation that say where it stands, not what it says.
_PLACING = {"at", "offset", "row", "along", "side", "by_hand", "right", "height"}

#: Kinds of statement whose references tell the census of a kind what is named already.
COUNTED_AMONG = {
    "hole": ("hole", "chamfer", "radius", "note"), "diameter": NAMING_ROUNDS, "radius": NAMING_ROUNDS, "note": NAMING_ROUNDS, "slot": ("slot",), "arc-slot": ("arc-slot",),
    "chamfer": ("chamfer", "linear", "ordinate"), "bolt-circle": ("bolt-circle",), "angle": ("angle",), "thread": ("thread",), "pattern": ("pattern",), "groove": ("groove",), "polygon": ("polygon",), "draft": ("draft",), "wall": ("wall",), "spline": ("spline",),
}  # fmt: skip


def is_statement(mark: Annotation) -> bool:
    """Whether an annotation states something that can be checked."""
    if isinstance(mark, MUTE):
        return False
    return not (isinstance(mark, Note) and not mark.refs)


def _measure_thread(m: "Remeasurer", mark: Leader, alive: list[str], reading: Callout) -> list[PartProof]:
    """A modelled thread by its helix, one noted on plain holes by those."""
    faces = m.faces(mark.sheet, alive)
    plain = bool(faces) and all(is_plain_hole(m.solid(mark.sheet), f) for f in faces)
    return (measure_tapped if plain else measure_threads)(m, mark, alive, reading)


#: How each kind of statement is measured, given the references that are still there and what its text says.
Measure = Callable[["Remeasurer", Any, list[str], Callout], list[PartProof]]
KINDS: dict[str, Measure] = {
    "hole": measure_holes, "diameter": measure_rounds, "radius": measure_rounds, "note": measure_rounds,
    "slot": measure_slots, "arc-slot": measure_arc_slots, "chamfer": measure_chamfers, "bolt-circle": measure_ring, "angle": measure_angles, "thread": _measure_thread,
    "pattern": measure_pitches, "groove": measure_grooves, "polygon": measure_polygons, "draft": measure_drafts, "wall": measure_walls, "spline": measure_splines,
}  # fmt: skip


class Remeasurer:
    """Measures the statements of one document on a model by the second route."""

    def __init__(self, document: SheetDocument, solids: tuple[Solid, ...], known: Known | None = None) -> None:
        self.document, self.solids = document, solids
        self.known = {} if known is None else known
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
            if abs(abs(sense) - 1) > 1e-6:
                return None
            key = (sheet, ref)
            if key not in self._extremes:
                self._extremes[key] = extreme_level(solid, own)
            return self._extremes[key] * sense
        if found.faces and parsed.kind == "plane":
            levels = face_vertices(solid, found.faces[0]) @ direction
            if not len(levels) or float(np.ptp(levels)) > 1e-4:
                levels = np.vstack([edge_points(solid, e) for e in solid.faces[found.faces[0]].edges]) @ direction
            return float(np.mean(levels)) if float(np.ptp(levels)) < 1e-4 else None
        if found.faces and parsed.kind in ("cone", "torus"):
            # The axis of a cone or a ring by the circles that bound it.
            axis = np.array(parsed.vectors[1])
            if parsed.kind == "torus" and abs(float(axis @ direction)) > 1 - 1e-6:
                return tube_level(solid, found.faces[0], direction)
            rims = [
                e for e in solid.faces[found.faces[0]].edges
                if solid.edges[e].kind == "circle" and abs(float(solid.edges[e].axis @ axis)) > 1 - 1e-6
            ]  # fmt: skip
            centre = circle_centre(solid, rims[0]) if rims and abs(float(axis @ direction)) < 1e-6 else None
            return None if centre is None else float(centre @ direction)
        if found.faces and parsed.kind == "mouth":
            return self._mouth(sheet, found.faces[0], np.array(parsed.vectors[2]), direction)
        if found.faces and parsed.kind in ("bore", "shaft", "bore-side", "shaft-side"):
            middle, axis, radius, _ = self.cylinder(sheet, found.faces[0])
            out = radius * float(np.array(parsed.vectors[2]) @ direction) if parsed.kind.endswith("-side") else 0.0
            return float(middle @ direction) + out if abs(float(axis @ direction)) < 1e-6 else None
        if found.faces and parsed.kind == "sphere":
            return float(sphere_fit(solid, found.faces[0])[0] @ direction)
        if found.edges:
            points = edge_points(solid, found.edges[0])
            if parsed.kind == "circle":
                return float(circumcentre(points[0], points[2], points[4]) @ direction)
            if parsed.kind == "line":
                levels = points @ direction
                return float(levels.mean()) if float(np.ptp(levels)) < 1e-4 else None
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

    def _key(self, mark: Annotation) -> str:
        """What the proof of a statement depends on besides the solids' bytes and the code; not where it stands."""
        view = next((v for v in self.document.views if v.id == mark.view), None)
        frame = None if view is None else (view.right, view.up)
        page = next(p for p in self.document.pages if p.number == mark.sheet)
        said = mark.model_dump_json(exclude=_PLACING)
        # The census of a note depends on what other notes name.
        named = None
        if mark.kind in KINDS:
            kinds = COUNTED_AMONG[mark.kind]
            others = sorted(
                {r for a in self.document.annotations if a.sheet == mark.sheet and a.kind in kinds for r in a.refs}
            )
            named = hashlib.sha256(json.dumps(others).encode()).hexdigest()
        return json.dumps(
            [said, frame, view and view.kind, page.solid, str(self.document.unit), self.document.notation, named]
        )

    def prove(self, mark: Annotation) -> StatementProof:
        """Read the text, measure the geometry, compare part by part; what is known of the same statement is not measured
        again."""
        key = self._key(mark)
        if key not in self.known:
            self.known[key] = self._prove(mark)
        return self.known[key]

    def _prove(self, mark: Annotation) -> StatementProof:
        if isinstance(mark, Place):
            return prove_place(self, mark)
        assert isinstance(mark, Statement)
        if mark.unit is not self.document.unit:
            # Its text stands on a sheet of another unit: there it says something else.
            mark = mark.saying(meaning(mark.text, self.document.unit), unit=self.document.unit)
        text, reading = mark.text, mark.says
        if not mark.read:
            return StatementProof(mark.id, mark.kind, text, "unproven", (), why_unread(text, mark.unit))
        if isinstance(mark, Ordinate | Linear) and mark.kind != "pattern":
            return self._distance(mark)
        if mark.kind == "free-form":
            return prove_free_form(self, mark)
        statuses = [self.resolution(mark.sheet, r).status for r in mark.refs]
        change = next((s for s in ("lost", "ambiguous", "resized", "moved") if s in statuses), "same")
        alive = [
            r for r in dict.fromkeys(mark.refs) if self.resolution(mark.sheet, r).status not in ("lost", "ambiguous")
        ]
        if not alive:
            return StatementProof(mark.id, mark.kind, text, "lost", (), "its geometry is gone", reading, "lost")
        measure: Measure | None = KINDS.get(mark.kind)
        parts = measure(self, mark, alive, reading) if measure else []
        if reading.typical:
            # TYP states no count; every member that it names is measured.
            parts = [p for p in parts if p.name != "count"]
        state = "reference" if mark.reference else "proven" if all(p.ok for p in parts) and parts else "contradicted"
        named = {p.name for p in parts}
        unmeasured = [p.name.replace("-", " ") for p in reading.parts if p.name not in named]
        note = f"nothing measures its {', '.join(unmeasured)}" if unmeasured else ""
        if not parts or (unmeasured and state == "proven"):
            state = "unproven"
        return StatementProof(mark.id, mark.kind, text, state, tuple(parts), note, reading, change)

    def _distance(self, mark: Linear | Ordinate) -> StatementProof:
        view = self.document.view(mark.view or "")
        direction = np.array(view.right if mark.direction == "x" else view.up)
        statuses = [self.resolution(mark.sheet, r).status for r in mark.refs]
        change = next((s for s in ("lost", "ambiguous", "moved") if s in statuses), "same")
        levels = [self.point(mark.sheet, r, direction) for r in mark.refs[:2]]
        text, reading = mark.text, mark.says
        # A diameter may be written on a dimension line as well (ISO 129-1, 9.4).
        part = reading.part("length") or (reading.part("diameter") if isinstance(mark, Linear) else None)
        if part is None or part.nominal is None:
            return StatementProof(mark.id, mark.kind, text, "unproven", (), "the text is not a length")
        stated = float(part.nominal)
        if any(x is None for x in levels) or len(levels) < 2:
            return StatementProof(mark.id, mark.kind, text, "lost", (), "its geometry is gone", reading, "lost")
        a, b = (float(x) for x in levels if x is not None)
        # Floors that are stated along must lie at the level too.
        others = [self.point(mark.sheet, r, direction) for r in mark.refs[2:]]
        sizes = [abs(b - a), *(abs(x - a) for x in others if x is not None)]
        measured = max(sizes, key=lambda size: abs(size - stated))
        ok = close(stated, measured, part, self.document.unit) and None not in others
        if part.name == "diameter":
            ok = ok and _is_round(self.solid(mark.sheet), direction, (a + b) / 2, abs(b - a) / 2)
        state = "reference" if mark.reference and ok else "proven" if ok else "contradicted"
        k = int(np.argmax(np.abs(direction)))
        sense = float(np.sign(direction[k]))
        where = ((k, round(a * sense, 4)), (k, round(b * sense, 4)))
        parts = (PartProof("length", stated, measured, ok),)
        return StatementProof(mark.id, mark.kind, text, state, parts, "", reading, change, where, sense)

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
        along = parsed.kind == "bore" and abs(float(np.array(parsed.vectors[1]) @ toward)) > 1 - 1e-6
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
            marks = [a for a in self.document.annotations if a.sheet == sheet and (not kinds or a.kind in kinds)]
            self._claims[key] = {
                f for a in marks if is_statement(a) for r in a.refs for f in self.resolution(sheet, r).faces
                if self.resolution(sheet, r).status not in ("lost", "ambiguous")
            }  # fmt: skip
        return self._claims[key]

    def claimed_lines(self, sheet: int, kind: str) -> set[int]:
        """The axis lines of the round faces that statements of a kind refer to."""
        solid = self.solid(sheet)
        return {self.line(sheet, f) for f in self.claimed(sheet, kind) if solid.faces[f].kind == "cylinder"}

    def rim_stated(self, mark: Leader, holes: list[GaugedHole]) -> bool:
        """Whether another statement names the broken edge of these holes: a chamfer, a radius, a default note."""
        solid = self.solid(mark.sheet)
        lines = {self.line(mark.sheet, f) for r in mark.refs for f in self.resolution(mark.sheet, r).faces}
        stated = self.claimed(mark.sheet, "chamfer", "radius", "note")
        return any(solid.faces[f].kind in ("cone", "torus") and self.line(mark.sheet, f) in lines for f in stated)


def _is_round(solid: Solid, direction: Vec, middle: float, radius: float) -> bool:
    """Whether something round stands between two levels along a direction: a circle or a cylinder of that radius about the
    middle, mm. A width between flat faces is no diameter."""
    round_ = [(e.centre, e.axis, e.radius) for e in solid.edges if e.kind == "circle"]
    round_ += [(f.origin, f.axis, f.radius) for f in solid.faces if f.kind == "cylinder"]
    return any(
        abs(float(axis @ direction)) < 1e-6
        and abs(r - radius) < 1e-3
        and abs(float(centre @ direction) - middle) < 1e-3
        for centre, axis, r in round_
    )


def value_in(unit: Unit, part: PartProof | None) -> float | None:
    """A part's stated value in the sheet's unit (degrees for angles)."""
    if part is None or not isinstance(part.stated, float):
        return None
    return part.stated if part.name.endswith("angle") else from_mm(part.stated, unit)
