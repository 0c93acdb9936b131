"""What a draft leaves free is said: candidates of every size and place in every view that shows it true, by price.

A candidate is taken when it adds to the basis (METHODS: planning is choosing a basis), so nothing is said twice.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np

from canonis.core.drafting.basis import Basis
from canonis.core.drafting.sectioning import section_of
from canonis.core.drafting.seen import lines_of
from canonis.core.drafting.view_edits import next_letter
from canonis.core.quantity.written import write_angle, write_length
from canonis.core.sheet.angle_marks import angle_arc
from canonis.core.sheet.document import (
    Annotation,
    CentreLine,
    CentreMark,
    Leader,
    Linear,
    Ordinate,
    SheetDocument,
    SheetPage,
)
from canonis.core.sheet.scene import Anchor, Scene, frame_of_view
from canonis.core.sheet.views import Detail, Parallel, Pictorial, Place, Section, Spot, View
from canonis.core.solid.model import Edge, Face, Vec
from canonis.core.solid.references import edge_reference, extreme_reference, face_reference, parse
from canonis.core.view.projection import Line

__all__ = ["Datum", "complete"]

_ALONG = 1 - 1e-6
_NEAR = 0.02
#: At most so many sections are added for what no view shows, and so many are tried for each.
_SECTIONS, _TRIALS = 2, 8


@dataclass(frozen=True, eq=False)
class Datum:
    """What levels are counted from: a point, and for some axes of the file a reference of its own."""

    point: Vec
    refs: dict[str, str] = field(default_factory=dict)

    def ref(self, scene: Scene, page: SheetPage, way: Vec) -> str:
        """The reference that ordinates along a direction of the file count from."""
        solid = scene.solids[page.solid]
        k = int(np.argmax(np.abs(way)))
        if str(k) in self.refs:
            return self.refs[str(k)]
        d = np.eye(3)[k]
        if abs(float(self.point[k] - solid.box[0][k])) < 1e-3:
            return extreme_reference(-d, -float(solid.box[0][k]))
        if abs(float(self.point[k] - solid.box[1][k])) < 1e-3:
            return extreme_reference(d, float(solid.box[1][k]))
        return "fixed;" + ",".join(f"{c:.6f}".rstrip("0").rstrip(".") for c in self.point)


@dataclass(frozen=True)
class _Candidate:
    price: float
    mark: Annotation


def _of_angle(degrees: float) -> float:
    """The price of an angle: one in half degrees was meant, any other comes of the ends that were."""
    return 2.9 if abs(2 * degrees - round(2 * degrees)) < 1e-4 else 6.0


class _Writer:
    """Makes candidates for what is free of one sheet."""

    def __init__(self, scene: Scene, page: SheetPage, datum: Datum) -> None:
        self.scene, self.page, self.datum = scene, page, datum
        self.solid = scene.solids[page.solid]
        self.unit = scene.document.unit
        self.views = [
            v for v in scene.document.views if v.sheet == page.number and not isinstance(v, Pictorial | Detail)
        ]

    def sizes(self, face: Face) -> Iterator[_Candidate]:
        """Diameter or radius of a round face, where its circle is seen or it is outlined from the side."""
        full = face.sweep > 1.9 * np.pi
        radius = face.minor if face.kind == "torus" else face.radius
        if face.kind not in ("cylinder", "torus", "sphere") or radius <= 0:
            return
        ref = face_reference(face) if face.kind != "sphere" else ""
        if not ref:
            return
        wide = face.kind == "cylinder" and full
        text = f"⌀{write_length(2 * radius, self.unit)}" if wide else f"R{write_length(radius, self.unit)}"
        for n, view in enumerate(self.views):
            frame = frame_of_view(view)
            along = abs(float(face.axis @ frame.toward))
            own = lines_of(self.scene, view, face.index)
            arcs = [x for x in own if x.kind == "arc" and abs(x.radius - radius) < 1e-3]
            side = wide and along < 1e-6 and any(not x.edges for x in own)
            if not (arcs or side):
                continue
            # Where a cut or an outline shows it beside its lengths; a circle among circles is read less well.
            price = 2.0 + (0.0 if arcs and not wide else 0.2 if arcs else 0.1) + 0.01 * n
            yield _Candidate(price, Leader(
                id="", sheet=self.page.number, kind="diameter" if wide else "radius", view=view.id, refs=(ref,), lines=(text,),
                text=text, feature="size", target=ref,
            ))  # fmt: skip

    def rims(self, face: Face) -> Iterator[_Candidate]:
        """Diameters of the circles that bound a cone or a round, where they are seen from the side or the end."""
        if face.kind not in ("cone", "torus"):
            return
        for e, _ in self.solid.neighbours[face.index]:
            edge = self.solid.edges[e]
            if edge.kind != "circle" or edge.length < 1.9 * np.pi * edge.radius or edge.dihedral == "smooth":
                continue
            ref = edge_reference(edge)
            text = f"⌀{write_length(2 * edge.radius, self.unit)}"
            for n, view in enumerate(self.views):
                along = abs(float(edge.axis @ frame_of_view(view).toward))
                own = [x for x in lines_of(self.scene, view, face.index) if e in x.edges]
                if own and along < 1e-6:
                    yield from self._along(view, edge, ref, 3.3 + 0.02 * n)
                if own and (along > _ALONG or along < 1e-6):
                    yield _Candidate(2.6 + (0.2 if along > 0.5 else 0.0) + 0.01 * n, Leader(
                        id="", sheet=self.page.number, kind="diameter", view=view.id, refs=(ref,), lines=(text,), text=text, feature="size", target=ref,
                    ))  # fmt: skip

    def _along(self, view: View, edge: Edge, ref: str, price: float) -> Iterator[_Candidate]:
        """Where a circle stands along its axis, from the datum."""
        frame = frame_of_view(view)
        anchor = self.scene.anchor(view, ref)
        for direction, way in (("x", frame.right), ("y", frame.up)):
            level = None if anchor is None else anchor.level(direction)
            if level is not None and abs(float(way @ edge.axis)) > _ALONG and float(np.abs(way).max()) > _ALONG:
                yield from self._ordinate(view, direction, way, level, ref, price)

    def angles(self, face: Face) -> Iterator[_Candidate]:
        """The angle of a cone, and of a sloped face to the level and upright ones beside it."""
        if face.kind == "cone":
            text = write_angle(2 * math.degrees(face.half_angle))
            ref = face_reference(face)
            for n, view in enumerate(self.views):
                side = abs(float(face.axis @ frame_of_view(view).toward)) < 1e-6
                if side and any(not x.edges for x in lines_of(self.scene, view, face.index)):
                    yield _Candidate(_of_angle(2 * math.degrees(face.half_angle)) + 0.3 + 0.01 * n, Leader(
                        id="", sheet=self.page.number, kind="angle", view=view.id, refs=(ref,), lines=(text,), text=text, feature="size", target=ref,
                    ))  # fmt: skip
            return
        if face.kind != "plane" or float(np.abs(face.axis).max()) > _ALONG:
            return
        beside = [self.solid.faces[o] for _, o in self.solid.neighbours[face.index]]
        square = [f for f in beside if f.kind == "plane" and float(np.abs(f.axis).max()) > _ALONG]
        for n, view in enumerate(self.views):
            toward = frame_of_view(view).toward
            if abs(float(face.axis @ toward)) > 1e-6 or not lines_of(self.scene, view, face.index):
                continue
            for m, other in enumerate(sorted(square, key=lambda f: -f.area)):
                if abs(float(other.axis @ toward)) > 1e-6 or not lines_of(self.scene, view, other.index):
                    continue
                refs = (face_reference(face), face_reference(other))
                arc = angle_arc(self.scene, view, refs)
                if arc is None:
                    continue
                text = write_angle(math.degrees(arc.a1 - arc.a0))
                yield _Candidate(_of_angle(math.degrees(arc.a1 - arc.a0)) + 0.02 * n + 0.1 * m, Leader(
                    id="", sheet=self.page.number, kind="angle", view=view.id, refs=refs, lines=(text,), text=text, feature="size", target=refs[0],
                ))  # fmt: skip

    def levels(self, face: Face) -> Iterator[_Candidate]:
        """Where a flat face or an axis lies, from the datum; and how far flat faces are from the nearest beside them."""
        ref = face_reference(face) if face.kind not in ("free", "sphere") else ""
        if not ref:
            return
        for n, view in enumerate(self.views):
            anchor = self.scene.anchor(view, ref)
            if anchor is None:
                continue
            own = lines_of(self.scene, view, face.index)
            frame = frame_of_view(view)
            for direction, way, k in (("x", frame.right, 0), ("y", frame.up, 1)):
                level = anchor.level(direction)
                if level is None or not self._shows(own, face, frame.toward, k, level):
                    continue
                if float(np.abs(way).max()) > _ALONG:
                    yield from self._ordinate(view, direction, way, level, ref, 3.0 + 0.02 * n)
                # Along a slope only holes are placed; its ends are said where they are level or upright.
                square = float(np.abs(way).max()) > _ALONG
                if face.kind != "plane" or square:
                    price = (3.4 if square else 5.6) + 0.02 * n
                    yield from self._distances(view, direction, k, level, face, ref, price)

    def _shows(self, own: list[Line], face: Face, toward: Vec, k: int, level: float) -> bool:
        """Whether lines of a face stand at a level: its edge, or circles about its axis, or its two outlines."""
        if face.kind == "plane":
            return any(x.kind == "line" and float(np.abs(x.points[:, k] - level).max()) < _NEAR for x in own)
        if abs(float(face.axis @ toward)) > _ALONG:
            return any(x.kind == "arc" and abs(float(x.centre[k]) - level) < _NEAR for x in own)
        return any(x.kind == "line" and not x.edges for x in own)

    def _ordinate(
        self, view: View, direction: str, way: Vec, level: float, ref: str, price: float
    ) -> Iterator[_Candidate]:
        datum = self.datum.ref(self.scene, self.page, way)
        zero = float(self.datum.point @ way)
        side = "below" if direction == "x" else "left"
        if abs(level - zero) < 1e-4:
            return
        yield _Candidate(price, Ordinate(
            id="", sheet=self.page.number, view=view.id, direction=direction, side=side, row=13.0, refs=(datum, ref),  # type: ignore[arg-type]
            text=write_length(abs(level - zero), self.unit), feature="level",
        ))  # fmt: skip

    def _distances(
        self, view: View, direction: str, k: int, level: float, face: Face, ref: str, price: float
    ) -> Iterator[_Candidate]:
        """The distance to the flat faces and edges beside it, the nearest first."""
        frame = frame_of_view(view)
        way = frame.right if k == 0 else frame.up
        beside: dict[float, str] = {}
        for line in self.scene.projection(view).visible:
            if line.kind != "line" or float(np.ptp(line.points[:, k])) > 1e-6:
                continue
            at = float(line.points[0, k])
            flat = [
                f
                for f in line.faces
                if self.solid.faces[f].kind == "plane" and abs(float(self.solid.faces[f].axis @ way)) > _ALONG
            ]
            edges = [self.solid.edges[e] for e in line.edges if self.solid.edges[e].kind == "line"]
            if abs(at - level) > 1e-4 and round(at, 4) not in beside:
                if flat:
                    beside[round(at, 4)] = face_reference(self.solid.faces[flat[0]])
                elif edges:
                    beside[round(at, 4)] = edge_reference(edges[0])
        near = sorted(beside, key=lambda at: abs(at - level))[:3]
        side = "above" if direction == "x" else "right"
        for n, at in enumerate(near):
            ends = (beside[at], ref) if at < level else (ref, beside[at])
            yield _Candidate(price + 0.1 * n, Linear(
                id="", sheet=self.page.number, view=view.id, direction=direction, side=side, refs=ends,  # type: ignore[arg-type]
                text=write_length(abs(at - level), self.unit), feature="level",
            ))  # fmt: skip

    def _ends_at(self, view: View, anchor: Anchor) -> bool:
        """Whether visible lines of a view end at a point."""
        points = self.scene.projection(view).outline_points
        if anchor.x is None or anchor.y is None or not len(points):
            return False
        return bool(float(np.abs(points - np.array([anchor.x, anchor.y])).max(axis=1).min()) < _NEAR)

    def corners(self, face: Face) -> Iterator[_Candidate]:
        """Where the edges of a sloped face end, from the datum, where they are seen as points."""
        for e, _ in self.solid.neighbours[face.index]:
            edge = self.solid.edges[e]
            if edge.kind != "line" or edge.dihedral == "smooth":
                continue
            ref = edge_reference(edge)
            for n, view in enumerate(self.views):
                anchor = self.scene.anchor(view, ref)
                frame = frame_of_view(view)
                if anchor is None or abs(float(edge.axis @ frame.toward)) < _ALONG or not self._ends_at(view, anchor):
                    continue
                for direction, way in (("x", frame.right), ("y", frame.up)):
                    level = anchor.level(direction)
                    if level is not None and float(np.abs(way).max()) > _ALONG:
                        yield from self._ordinate(view, direction, way, level, ref, 5.0 + 0.02 * n)


def complete(scene: Scene, page: SheetPage, datum: Datum, number: int) -> tuple[SheetDocument, int]:
    """The document with what it left free stated where a view shows it, and the next number for statements.

    A section is added where a flat face is seen true but its level is hidden in every view.
    """
    document = scene.document
    made: Section | None = None
    for _ in range(_SECTIONS + 1):
        scene = scene.on(document)
        basis = Basis(document, page, scene.solids[page.solid])
        try:
            document, number = _say(scene, page, datum, basis, number)
            left = basis.free()
            hidden = [u for u, _ in left if u.kind != "free" and u.holder not in ("apex", "centre")]
        finally:
            basis.close()
        if made is not None and not any(a.view == made.id for a in document.annotations):
            # What it was cut for cannot be stated there either.
            views = tuple(v for v in document.views if v.id != made.id)
            return document.model_copy(update={"views": views}), number
        made = _cut_for(scene.on(document), page, [f for u in hidden for f in u.faces]) if hidden else None
        if made is None:
            break
        document = document.model_copy(update={"views": (*document.views, made)})
    if made is not None and not any(a.view == made.id for a in document.annotations):
        document = document.model_copy(update={"views": tuple(v for v in document.views if v.id != made.id)})
    return document, number


def _say(scene: Scene, page: SheetPage, datum: Datum, basis: Basis, number: int) -> tuple[SheetDocument, int]:
    """The document with the cheapest candidates that add to its basis."""
    free = basis.free()
    if not free:
        return scene.document, number
    writer = _Writer(scene, page, datum)
    solid = scene.solids[page.solid]
    touched = sorted({f for _, moves in free for f in basis.faces_of(moves)})
    candidates: list[_Candidate] = []
    for k in touched:
        face = solid.faces[k]
        candidates += writer.sizes(face)
        candidates += writer.rims(face)
        candidates += writer.angles(face)
        candidates += writer.levels(face)
        if face.kind == "plane":
            candidates += writer.corners(face)
    out: list[Annotation] = []
    families = {(a.view, a.direction) for a in scene.document.annotations if isinstance(a, Ordinate)}
    for candidate in sorted(candidates, key=lambda c: (c.price, c.mark.view or "", c.mark.refs)):
        named = candidate.mark.model_copy(update={"id": f"D{number}"})
        if not basis.adds(named):
            continue
        if isinstance(named, Ordinate) and (named.view, named.direction) not in families:
            families.add((named.view, named.direction))
            zero = named.model_copy(update={
                "id": f"D{number}", "refs": (named.refs[0], named.refs[0]), "text": write_length(0.0, scene.document.unit), "feature": "datum",
            })  # fmt: skip
            number += 1
            named = named.model_copy(update={"id": f"D{number}"})
            out.append(zero)
            mark = _axis_mark(scene, named, f"M{number}")
            if mark is not None:
                out.append(mark)
        out.append(named)
        number += 1
    document = scene.document.model_copy(update={"annotations": (*scene.document.annotations, *out)})
    return document, number


def _axis_mark(scene: Scene, row: Ordinate, name: str) -> Annotation | None:
    """The centre mark or centre line of the axis that a row counts from, where its view has none."""
    ref = row.refs[0]
    if parse(ref).kind not in ("bore", "shaft"):
        return None
    if any(
        a.view == row.view and ref in a.refs
        for a in scene.document.annotations
        if isinstance(a, CentreMark | CentreLine)
    ):
        return None
    view = scene.document.view(row.view or "")
    end_on = abs(float(np.array(parse(ref).vectors[1]) @ frame_of_view(view).toward)) > _ALONG
    made = CentreMark if end_on else CentreLine
    return made(id=name, sheet=row.sheet, view=row.view, refs=(ref,))


def _cut_for(scene: Scene, page: SheetPage, faces: list[int]) -> Section | None:
    """A section through the largest of some faces in which it is seen edge-on (a flat one) or true (a round one)."""
    document, solid = scene.document, scene.solids[page.solid]
    views = [v for v in document.views if v.sheet == page.number and isinstance(v, Parallel)]
    tries = 0
    for k in sorted(set(faces), key=lambda f: -solid.faces[f].area):
        face = solid.faces[k]
        if face.kind not in ("plane", "cylinder", "torus", "cone"):
            continue
        for view in views:
            frame = frame_of_view(view)
            at = frame.flat(face.centre) - frame.flat(np.array(view.origin))
            for level, toward in ((True, frame.up), (False, frame.right)):
                square = abs(float(face.axis @ toward))
                shown = square < 1e-6 if face.kind != "cylinder" or face.sweep > 1.9 * np.pi else square > _ALONG
                if not shown or tries >= _TRIALS:
                    continue
                tries += 1
                held = Place(offset=round(float(at[1 if level else 0]), 4))
                ends = (Place(offset=-1.0), Place(offset=1.0))
                line = tuple(Spot(x=e, y=held) if level else Spot(x=held, y=e) for e in ends)
                number = 1 + max((int(v.id[1:]) for v in document.views if v.id[1:].isdigit()), default=0)
                made = section_of(scene, view, line, "full", False, next_letter(document), f"V{number}",
                                  "section: shows what is hidden in every other view")  # fmt: skip
                trial = scene.on(document.model_copy(update={"views": (*document.views, made)}))
                if any(not c.region.is_empty for c in trial.projection(made).cut) and lines_of(trial, made, k):
                    return made
    return None
