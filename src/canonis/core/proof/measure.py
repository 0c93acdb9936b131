"""Every statement of a sheet measured again: read from its text, found by its references, gauged afresh."""

import json
import math
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from canonis.core.proof.gauge import GaugedHole, gauge_hole
from canonis.core.quantity.units import Unit, from_mm
from canonis.core.quantity.written import half_last_place
from canonis.core.sheet.document import (
    Annotation,
    CentreLine,
    CentreMark,
    Leader,
    Linear,
    Note,
    Ordinate,
    SheetDocument,
)
from canonis.core.solid.model import Solid, Vec
from canonis.core.solid.probe import edge_points, extreme_level, face_normals, face_vertices, fit_cylinder
from canonis.core.solid.references import Resolution, parse, resolve_all
from canonis.core.source.characteristic import Characteristic, Part
from canonis.core.source.rules import HouseRules
from canonis.core.source.shorthand import read_line

__all__ = ["Known", "PartProof", "Remeasurer", "StatementProof", "is_statement"]


@dataclass(frozen=True)
class PartProof:
    """One part of a statement: what the text states and what the model shows (mm or degrees; bool for yes/no)."""

    name: str
    stated: float | bool | str | None
    measured: float | bool | str | None
    ok: bool


@dataclass(frozen=True)
class StatementProof:
    """The proof of one statement. State: proven, unproven, contradicted, lost or reference."""

    id: str
    kind: str
    text: str
    state: str
    parts: tuple[PartProof, ...]
    note: str = ""
    reading: Characteristic | None = None
    change: str = "same"
    levels: tuple[tuple[int, float], ...] = field(default=())

    def part(self, name: str) -> PartProof | None:
        """A part by name."""
        return next((p for p in self.parts if p.name == name), None)

    @property
    def main(self) -> PartProof | None:
        """The part that carries the statement's value."""
        return next((p for p in self.parts if isinstance(p.stated, float) and p.name != "count"), None)


#: Proofs of statements by what they depend on, for one model and one version of the code.
Known = dict[str, StatementProof]
#: Fields of an annotation that say where it stands, not what it says.
_PLACING = {"at", "row", "along", "side", "by_hand", "right", "height"}


def is_statement(mark: Annotation) -> bool:
    """Whether an annotation states something that can be checked."""
    if isinstance(mark, CentreMark | CentreLine):
        return False
    return not (isinstance(mark, Note) and not mark.refs)


def _close(stated: float, measured: float, part: Part, unit: Unit) -> bool:
    half = half_last_place(part.typed) if part.typed else 0.5e-3
    room = half if part.angle else half * (25.4 if unit is Unit.INCH else 1.0)
    return abs(stated - measured) <= room + 1e-6


class Remeasurer:
    """Measures the statements of one document on a model by the second route."""

    def __init__(self, document: SheetDocument, solids: tuple[Solid, ...], known: Known | None = None) -> None:
        self.document, self.solids = document, solids
        self.known = {} if known is None else known
        self.rules = HouseRules(unit=document.unit)
        self._resolved: dict[int, dict[str, Resolution]] = {}
        self._extremes: dict[tuple[int, str], float] = {}
        self._cylinders: dict[tuple[int, int], tuple[Vec, Vec, float, float]] = {}
        self._holes: dict[tuple[int, int], GaugedHole] = {}
        for page in document.pages:
            marks = [a for a in document.annotations if a.sheet == page.number]
            refs = [r for a in marks for r in a.refs]
            self._resolved[page.number] = resolve_all(refs, solids[page.solid])

    def solid(self, sheet: int) -> Solid:
        """The solid a sheet shows."""
        return self.solids[next(p.solid for p in self.document.pages if p.number == sheet)]

    def resolution(self, sheet: int, ref: str) -> Resolution:
        """What became of a reference."""
        return self._resolved[sheet][ref]

    def _cylinder(self, sheet: int, face: int) -> tuple[Vec, Vec, float, float]:
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
        if found.faces and parsed.kind in ("bore", "shaft"):
            middle, axis, _, _ = self._cylinder(sheet, found.faces[0])
            return float(middle @ direction) if abs(float(axis @ direction)) < 1e-6 else None
        if found.edges:
            points = edge_points(solid, found.edges[0])
            if parsed.kind == "circle":
                return float(_circumcentre(points[0], points[2], points[4]) @ direction)
            if parsed.kind == "line":
                levels = points @ direction
                return float(levels.mean()) if float(np.ptp(levels)) < 1e-4 else None
            wanted = np.array(parsed.vectors[0])
            return float(min(points[[0, 3, 6]], key=lambda p: float(np.linalg.norm(p - wanted))) @ direction)
        return None

    def _key(self, mark: Annotation) -> str:
        """What the proof of a statement depends on besides the solids' bytes and the code; not where it stands."""
        view = next((v for v in self.document.views if v.id == mark.view), None)
        frame = None if view is None else (view.right, view.up)
        page = next(p for p in self.document.pages if p.number == mark.sheet)
        said = mark.model_dump_json(exclude=_PLACING)
        return json.dumps([said, frame, page.solid, str(self.document.unit), self.document.notation])

    def prove(self, mark: Annotation) -> StatementProof:
        """Read the text, measure the geometry, compare part by part; what is known of the same statement is not measured
        again."""
        key = self._key(mark)
        if key not in self.known:
            self.known[key] = self._prove(mark)
        return self.known[key]

    def _prove(self, mark: Annotation) -> StatementProof:
        text = mark.text
        bare = text.strip()
        if isinstance(mark, Ordinate | Linear):
            return self._distance(mark, bare)
        reading = read_line(bare, self.rules)
        if reading.error:
            return StatementProof(
                mark.id, mark.kind, text, "unproven", (), f"the text cannot be read: {reading.error.message}"
            )
        statuses = [self.resolution(mark.sheet, r).status for r in mark.refs]
        change = next((s for s in ("lost", "ambiguous", "resized", "moved") if s in statuses), "same")
        alive = [
            r for r in dict.fromkeys(mark.refs) if self.resolution(mark.sheet, r).status not in ("lost", "ambiguous")
        ]
        if not alive:
            return StatementProof(mark.id, mark.kind, text, "lost", (), "its geometry is gone", reading, "lost")
        measurers: dict[str, Callable[[Any, list[str], Characteristic], list[PartProof]]] = {
            "hole": self._hole, "diameter": self._round, "radius": self._round, "slot": self._slot,
            "chamfer": self._chamfer, "bolt-circle": self._ring, "note": self._round,
        }  # fmt: skip
        parts = measurers.get(mark.kind, self._nothing)(mark, alive, reading)
        state = "reference" if mark.reference else "proven" if all(p.ok for p in parts) and parts else "contradicted"
        if not parts:
            state = "unproven"
        return StatementProof(mark.id, mark.kind, text, state, tuple(parts), "", reading, change)

    def _nothing(self, mark: Any, alive: list[str], reading: Characteristic) -> list[PartProof]:
        return []

    def _distance(self, mark: Linear | Ordinate, text: str) -> StatementProof:
        view = self.document.view(mark.view or "")
        direction = np.array(view.right if mark.direction == "x" else view.up)
        statuses = [self.resolution(mark.sheet, r).status for r in mark.refs]
        change = next((s for s in ("lost", "ambiguous", "moved") if s in statuses), "same")
        levels = [self.point(mark.sheet, r, direction) for r in mark.refs[:2]]
        if text.strip("0.") == "" and isinstance(mark, Ordinate):
            reading = Characteristic(number="", text=text, kind="length", parts=())
            part = Part(name="length", typed=text)
            stated = 0.0
        else:
            reading = read_line(text, self.rules)
            found = reading.part("length")
            if reading.error or found is None or found.nominal is None:
                return StatementProof(mark.id, mark.kind, text, "unproven", (), "the text is not a length")
            part, stated = found, float(found.nominal)
        if any(x is None for x in levels) or len(levels) < 2:
            return StatementProof(mark.id, mark.kind, text, "lost", (), "its geometry is gone", reading, "lost")
        a, b = (float(x) for x in levels if x is not None)
        measured = abs(b - a)
        ok = _close(stated, measured, part, self.document.unit)
        state = "reference" if mark.reference and ok else "proven" if ok else "contradicted"
        k = int(np.argmax(np.abs(direction)))
        sense = float(np.sign(direction[k]))
        where = ((k, round(a * sense, 4)), (k, round(b * sense, 4)))
        parts = (PartProof("length", stated, measured, ok),)
        return StatementProof(mark.id, mark.kind, text, state, parts, "", reading, change, where)

    def _compare(self, reading: Characteristic, name: str, measured: float | None) -> PartProof:
        part = reading.part(name)
        stated = None if part is None or part.nominal is None else float(part.nominal)
        ok = part is not None and stated is not None and measured is not None
        ok = ok and _close(stated or 0.0, measured or 0.0, part, self.document.unit)  # type: ignore[arg-type]
        return PartProof(name, stated, measured, ok)

    def _gauged(self, sheet: int, ref: str) -> GaugedHole:
        face = self.resolution(sheet, ref).faces[0]
        key = (sheet, face)
        if key not in self._holes:
            self._holes[key] = gauge_hole(self.solid(sheet), face, np.array(parse(ref).vectors[1]))
        return self._holes[key]

    def _hole(self, mark: Leader, alive: list[str], reading: Characteristic) -> list[PartProof]:
        holes = [self._gauged(mark.sheet, r) for r in alive]
        parts = [PartProof("count", float(reading.count), float(len(alive)), reading.count == len(alive))]

        def worst(name: str, get: Callable[[GaugedHole], float | None]) -> PartProof:
            """The member that differs most speaks for the group."""
            proofs = [self._compare(reading, name, get(h)) for h in holes]
            return next((p for p in proofs if not p.ok), proofs[0])

        parts.append(worst("diameter", lambda h: h.diameter))
        if reading.part("through"):
            shut = [h for h in holes if not h.through]
            parts.append(PartProof("through", True, not shut, not shut))
        if reading.part("depth"):
            parts.append(worst("depth", lambda h: h.depth))
        if not reading.part("through") and not reading.part("depth"):
            parts.append(PartProof("depth", None, holes[0].depth, False))
        for side, get in (("", lambda h: h.near), ("-far", lambda h: h.far)):
            for kind, seat_kind in (("counterbore", "counterbore"), ("countersink", "cone"), ("rim", "cone")):
                parts += self._seat(reading, holes, side, kind, seat_kind, get)
            if reading.part(f"rim{side}-radius"):
                sizes = [next((s.leg for s in (h.far if side else h.near) if s.kind == "round"), None) for h in holes]
                proofs = [self._compare(reading, f"rim{side}-radius", size) for size in sizes]
                parts.append(next((p for p in proofs if not p.ok), proofs[0]))
        return parts

    def _seat(
        self, reading: Characteristic, holes: list[GaugedHole], side: str, kind: str, seat_kind: str, get: Any
    ) -> list[PartProof]:
        names = {"counterbore": ("diameter", "depth"), "countersink": ("diameter", "angle"), "rim": ("size", "angle")}[
            kind
        ]
        full = [f"{kind}{side}-{n}" for n in names]
        if not any(reading.part(n) for n in full):
            return []
        out = []
        for name, what in zip(full, names, strict=True):
            if not reading.part(name):
                continue
            proofs = []
            for hole in holes:
                seats = [s for s in get(hole) if s.kind == seat_kind]
                seat = seats[0] if seats else None
                value = None
                if seat is not None:
                    value = {"diameter": seat.diameter, "depth": seat.depth, "size": seat.leg}.get(what, seat.angle)
                    if what == "angle" and kind == "rim":
                        value = 90 - seat.angle / 2
                proofs.append(self._compare(reading, name, value))
            out.append(next((p for p in proofs if not p.ok), proofs[0]))
        return out

    def _round(self, mark: Leader | Note, alive: list[str], reading: Characteristic) -> list[PartProof]:
        name = "diameter" if mark.kind == "diameter" else "radius"
        factor = 2.0 if name == "diameter" else 1.0
        proofs = []
        for ref in alive:
            face = self.resolution(mark.sheet, ref).faces[0]
            parsed = parse(ref)
            if parsed.kind == "torus":
                size = _tube_radius(self.solid(mark.sheet), face)
            else:
                size = self._cylinder(mark.sheet, face)[2]
            proofs.append(self._compare(reading, name, size * factor))
        parts = [next((p for p in proofs if not p.ok), proofs[0])]
        if not isinstance(mark, Note):
            # References of split or twin faces may coincide, so a count may exceed them but not fall short.
            named = len(mark.refs)
            lost = len(dict.fromkeys(mark.refs)) - len(alive)
            measured = reading.count - lost if named <= reading.count else named
            parts.insert(0, PartProof("count", float(reading.count), float(measured), measured == reading.count))
        return parts

    def _slot(self, mark: Leader, alive: list[str], reading: Characteristic) -> list[PartProof]:
        solid = self.solid(mark.sheet)
        fits = [self._cylinder(mark.sheet, self.resolution(mark.sheet, r).faces[0]) for r in alive]
        pairs = [(fits[k], fits[k + 1]) for k in range(0, len(fits) - 1, 2)]
        parts = [PartProof("count", float(reading.count), float(len(pairs)), reading.count == len(pairs))]
        if not pairs:
            return parts
        widths = [self._compare(reading, "width", 2 * a[2]) for a, _ in pairs]
        parts.append(next((p for p in widths if not p.ok), widths[0]))
        gaps = []
        for a, b in pairs:
            rel = b[0] - a[0]
            gaps.append(self._compare(reading, "centres", float(np.linalg.norm(rel - a[1] * float(rel @ a[1])))))
        parts.append(next((p for p in gaps if not p.ok), gaps[0]))
        gauged = gauge_hole(solid, self.resolution(mark.sheet, alive[0]).faces[0], np.array(parse(alive[0]).vectors[1]))
        length = fits[0][3]
        shut = gauged.depth is not None or not self._open_both(mark.sheet, alive[0])
        if reading.part("through"):
            parts.append(PartProof("through", True, not shut, not shut))
        if reading.part("depth"):
            parts.append(self._compare(reading, "depth", length))
        return parts

    def _open_both(self, sheet: int, ref: str) -> bool:
        """Whether a half-round slot end is open at both ends: a line beside its wall meets no floor."""
        from canonis.core.solid.probe import Rays

        face = self.resolution(sheet, ref).faces[0]
        solid = self.solid(sheet)
        middle, axis, radius, length = self._cylinder(sheet, face)
        inside, _ = face_normals(solid, face, 3)
        spoke = inside[4] - middle
        spoke = spoke - axis * float(spoke @ axis)
        start = middle + spoke * 0.9
        rays = Rays(solid, middle, length + 4 * radius)
        return all(not [h for h in rays.hits(start, axis * s, length / 2 + 1e-3)] for s in (1.0, -1.0))

    def _chamfer(self, mark: Leader, alive: list[str], reading: Characteristic) -> list[PartProof]:
        solid = self.solid(mark.sheet)
        proofs: list[list[PartProof]] = []
        for ref in alive:
            legs = _bevel(solid, self.resolution(mark.sheet, ref).faces[0])
            if legs is None:
                return []
            row = [self._compare(reading, "leg", legs[0])]
            if reading.part("leg-b"):
                row.append(self._compare(reading, "leg-b", legs[1]))
            else:
                row.append(self._compare(reading, "angle", legs[2]))
            proofs.append(row)
        bad = next((r for r in proofs if not all(p.ok for p in r)), proofs[0])
        count = float(len(alive)) if len(mark.refs) == len(dict.fromkeys(mark.refs)) else float(reading.count)
        return [PartProof("count", float(reading.count), count, count == reading.count), *bad]

    def _ring(self, mark: Leader, alive: list[str], reading: Characteristic) -> list[PartProof]:
        fits = [self._cylinder(mark.sheet, self.resolution(mark.sheet, r).faces[0]) for r in alive]
        if len(fits) < 3:
            return []
        axis = fits[0][1]
        points = np.array([f[0] - axis * float(f[0] @ axis) for f in fits])
        if len(points) == len(mark.refs) and len(points) % 2 == 0:
            # Opposite members give the diameter without a fit.
            spans = np.linalg.norm(points[:, None] - points[None, :], axis=2).max(axis=1)
            best = spans[int(np.argmax(np.abs(spans - np.median(spans))))]
            if float(np.ptp(spans)) > 1e-4:
                return [self._compare(reading, "pitch-circle", float(best))]
        centre = _circumcentre(points[0], points[1], points[2])
        radii = np.linalg.norm(points - centre, axis=1)
        worst = radii[int(np.argmax(np.abs(radii - np.median(radii))))]
        return [self._compare(reading, "pitch-circle", 2 * float(worst))]


def _circumcentre(a: Vec, b: Vec, c: Vec) -> Vec:
    """Centre of the circle through three points."""
    ab, ac = b - a, c - a
    n = np.cross(ab, ac)
    size = float(n @ n)
    if size < 1e-18:
        return np.asarray((a + b + c) / 3)
    return np.asarray(a + (np.cross(n, ab) * float(ac @ ac) + np.cross(ac, n) * float(ab @ ab)) / (2 * size))


def _tube_radius(solid: Solid, face: int) -> float:
    """Radius of a torus tube from how its normals turn: neighbours apart / angle between normals."""
    points, normals = face_normals(solid, face, 7)
    grid_p, grid_n = points.reshape(7, 7, 3), normals.reshape(7, 7, 3)
    best = math.inf
    for p, n in ((grid_p[3], grid_n[3]), (grid_p[:, 3], grid_n[:, 3])):
        turn = math.acos(float(np.clip(n[0] @ n[-1], -1, 1)))
        chord = float(np.linalg.norm(p[-1] - p[0]))
        if turn > 1e-3:
            best = min(best, chord / (2 * math.sin(turn / 2)))
    return best


def _bevel(solid: Solid, face: int) -> tuple[float, float, float] | None:
    """Legs (longer first) and angle of a chamfer, from its rims and its neighbours' normals."""
    long_edges = sorted(solid.faces[face].edges, key=lambda e: -float(np.ptp(edge_points(solid, e), axis=0).max()))[:2]
    if len(long_edges) < 2:
        return None
    p, q = edge_points(solid, long_edges[0]), edge_points(solid, long_edges[1])
    _, normals = face_normals(solid, face, 3)
    others = [next((f for f in solid.edges[e].faces if f != face), None) for e in long_edges]
    if None in others:
        return None
    # The gap from one rim to the other, split along the two neighbours.
    nearest = q[int(np.argmin(np.linalg.norm(q - p[3], axis=1)))]
    along = p[4] - p[2]
    along = along / max(float(np.linalg.norm(along)), 1e-12)
    gap = nearest - p[3]
    gap = gap - along * float(gap @ along)
    width = float(np.linalg.norm(gap))
    turns = []
    for other in others:
        _, around = face_normals(solid, int(other or 0), 3)
        near = normals[len(normals) // 2]
        cosine = float(np.abs(around @ near).max())
        turns.append(math.acos(min(1.0, cosine)))
    total = turns[0] + turns[1]
    legs = sorted(
        (width * math.sin(turns[0]) / math.sin(total), width * math.sin(turns[1]) / math.sin(total)), reverse=True
    )
    return legs[0], legs[1], math.degrees(math.atan2(legs[1], legs[0]))


def value_in(unit: Unit, part: PartProof | None) -> float | None:
    """A part's stated value in the sheet's unit (degrees for angles)."""
    if part is None or not isinstance(part.stated, float):
        return None
    return part.stated if part.name.endswith("angle") else from_mm(part.stated, unit)
