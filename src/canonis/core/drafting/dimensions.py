"""Which dimensions a part needs: overall sizes, features, locations and levels, each stated once."""

import math
from collections import defaultdict
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from canonis.core.drafting.symmetry import mirrored
from canonis.core.features.model import Blend, Feature, Hole, HoleGroup
from canonis.core.features.stacks import size_key
from canonis.core.features.words import blend_lines, hole_lines, shaft_lines, slot_lines
from canonis.core.quantity.units import Unit
from canonis.core.quantity.written import write_length
from canonis.core.sheet.document import (
    Annotation,
    CentreLine,
    CentreMark,
    FlatCross,
    Leader,
    Linear,
    Notation,
    Note,
    Ordinate,
    SymmetryLine,
    View,
)
from canonis.core.sheet.scene import frame_of_view
from canonis.core.solid.model import Face, Solid, Vec
from canonis.core.solid.references import edge_reference, extreme_reference, face_reference
from canonis.core.view.projection import Projection

__all__ = ["Planner"]

_SAME = 1e-3
_SIDES = {"x": "below", "y": "left"}


@dataclass
class Planner:
    """Collects the statements of one solid on one sheet, in the order a drafter would make them."""

    solid: Solid
    found: Feature
    views: list[View]
    unit: Unit
    datum: Vec
    project: Callable[[View], Projection]
    sheet: int = 1
    datum_refs: dict[str, str] = field(default_factory=dict)
    turned: Vec | None = None
    notation: Notation = "symbols"
    marks: list[Annotation] = field(default_factory=list)
    stated: set[tuple[int, float]] = field(default_factory=set)
    unseen: list[str] = field(default_factory=list)
    _n: int = 0
    _located: dict[tuple[str, str, float], list[tuple[float, str, str]]] = field(default_factory=dict)

    def _id(self, prefix: str) -> str:
        self._n += 1
        return f"{prefix}{self._n}"

    # -- helpers ---------------------------------------------------------------------------------

    def _kind(self, *kinds: str) -> View | None:
        return next((v for k in kinds for v in self.views if v.kind == k), None)

    def _axis_of(self, view: View, direction: str) -> tuple[int, float]:
        """The model axis (0, 1, 2) along a view direction, and its sense."""
        v = np.array(view.right if direction == "x" else view.up)
        k = int(np.argmax(np.abs(v)))
        return k, float(np.sign(v[k]))

    def _arcs_at(self, view: View, centre: Vec, radii: list[float]) -> bool:
        """Whether a circle of one of these radii is visible at a model point in a view."""
        return self.project(view).circle_at(frame_of_view(view).flat(centre), radii)

    def _radii(self, hole: Hole) -> list[float]:
        return [hole.diameter / 2] + [s.diameter / 2 for s in (*hole.seats, *hole.far_seats)]

    def hole_seen(self, view: View, hole: Hole) -> bool:
        """Whether a hole opens to the viewer of a view and its rim is visible there."""
        facing = float(hole.axis @ frame_of_view(view).toward)
        ok = facing > 1 - 1e-6 or (hole.through and facing < -1 + 1e-6 and not hole.seats)
        return ok and view.kind != "pictorial" and self._arcs_at(view, hole.start, self._radii(hole))

    def hole_view(self, group: HoleGroup) -> View | None:
        """The view that shows most members of a group, or None when none shows any."""
        counts = [(sum(self.hole_seen(v, h) for h in group.holes), -k, v) for k, v in enumerate(self.views)]
        best = max(counts, key=lambda c: c[:2], default=(0, 0, None))
        return best[2] if best[0] else None

    def _bore(self, faces: tuple[int, ...]) -> str:
        return face_reference(self.solid.faces[faces[0]])

    # -- statements ------------------------------------------------------------------------------

    def overall(self) -> None:
        """Overall width, height and depth, each once, in the view that shows them best."""
        front, side = self._kind("front"), self._kind("left", "right")
        flat = self._kind("top", "bottom")
        wanted = [(front, "x", "above"), (front, "y", "right")]
        wanted.append((side, "x", "above") if side else (flat, "y", "right"))
        for view, direction, side_name in wanted:
            if view is None:
                continue
            k, _ = self._axis_of(view, direction)
            d = np.eye(3)[k]
            lo, hi = float(self.solid.box[0][k]), float(self.solid.box[1][k])
            refs = (extreme_reference(-d, -lo), extreme_reference(d, hi))
            # A diameter that spans the part states this size already: the overall size repeats it.
            spanned = self._spanned(k, lo, hi)
            self.marks.append(
                Linear(id=self._id("D"), sheet=self.sheet, view=view.id, direction=direction, side=side_name,  # type: ignore[arg-type]
                       refs=refs, text=write_length(hi - lo, self.unit), feature="overall", reference=spanned)
            )  # fmt: skip
            at_edge = min(abs(float(self.datum[k]) - lo), abs(float(self.datum[k]) - hi)) < _SAME
            on_axis = self.turned is not None and abs(float(self.turned[k])) < _SAME
            # A datum inside the part is tied to the outer faces by one level of its own, but for a turned part's axis.
            self.stated |= {(k, round(lo, 3)), (k, round(hi, 3))} if at_edge or on_axis else {(k, round(hi, 3))}

    def _spanned(self, k: int, lo: float, hi: float) -> bool:
        return any(
            abs(float(s.axis[k])) < 1e-6 and abs(s.diameter - (hi - lo)) < _SAME
            and abs(2 * float(s.top[k]) - lo - hi) < 2 * _SAME
            for s in self.found.shafts
        )  # fmt: skip

    def _ordinate(self, view: View, direction: str, level: float, ref: str, feature: str | None) -> None:
        k, _ = self._axis_of(view, direction)
        key = (k, round(level, 3))
        if key in self.stated:
            return
        self.stated.add(key)
        if abs(level - float(self.datum[k])) < _SAME:
            return
        datum = self._datum_ref(view, direction)
        family = [m for m in self.marks if isinstance(m, Ordinate) and m.view == view.id and m.direction == direction]
        if not family:
            self.marks.append(
                Ordinate(id=self._id("D"), sheet=self.sheet, view=view.id, direction=direction, side=_SIDES[direction],  # type: ignore[arg-type]
                         row=13.0, refs=(datum, datum), text=write_length(0.0, self.unit), feature="datum")
            )  # fmt: skip
        text = write_length(abs(level - float(self.datum[k])), self.unit)
        self.marks.append(
            Ordinate(id=self._id("D"), sheet=self.sheet, view=view.id, direction=direction, side=_SIDES[direction],  # type: ignore[arg-type]
                     row=13.0, refs=(datum, ref), text=text, feature=feature)
        )  # fmt: skip

    def _datum_ref(self, view: View, direction: str) -> str:
        k, _ = self._axis_of(view, direction)
        if str(k) in self.datum_refs:
            return self.datum_refs[str(k)]
        d = np.eye(3)[k]
        if abs(float(self.datum[k] - self.solid.box[0][k])) < _SAME:
            return extreme_reference(-d, -float(self.solid.box[0][k]))
        if abs(float(self.datum[k] - self.solid.box[1][k])) < _SAME:
            return extreme_reference(d, float(self.solid.box[1][k]))
        return "fixed;" + ",".join(f"{c:.6f}".rstrip("0").rstrip(".") for c in self.datum)

    def _locate(
        self, view: View, point: Vec, ref: str, feature: str, seen: bool = True, axis: Vec | None = None
    ) -> None:
        """Ordinates of a place in a view; along `axis` a round face has no place, its ends have levels of their own."""
        for direction in ("x", "y"):
            k, _ = self._axis_of(view, direction)
            if axis is not None and abs(float(axis[k])) > 0.5:
                continue
            v = np.array(view.right if direction == "x" else view.up)
            if abs(abs(v[k]) - 1) < 1e-9:
                other = view.up if direction == "x" else view.right
                spots = self._located.setdefault((view.id, direction, round(float(point[k]), 3)), [])
                if seen:
                    spots.append((float(point @ np.array(other)), ref, feature))
                self._ordinate(view, direction, float(point[k]), ref, feature)

    def settle(self) -> None:
        """Let each ordinate start at the nearest of the features that share its level."""
        for n, mark in enumerate(self.marks):
            if not isinstance(mark, Ordinate) or mark.refs[0] == mark.refs[1]:
                continue
            view = next(v for v in self.views if v.id == mark.view)
            for spots in (v for (vid, d, _), v in self._located.items() if vid == view.id and d == mark.direction
                          and any(s[1] == mark.refs[1] for s in v)):  # fmt: skip
                _, ref, feature = min(spots, key=lambda s: (round(s[0], 3), s[1] != mark.refs[1]))
                self.marks[n] = mark.model_copy(update={"refs": (mark.refs[0], ref), "feature": feature})
                break

    def holes(self) -> None:
        """Hole notes with counts, centre marks, pitch circles and locations."""
        for group in self.found.holes:
            view = self.hole_view(group)
            hole = group.first
            if view is None:
                view = self._oblique_view(hole)
                self.unseen.append(group.id)
            ring = (
                group.pattern if group.pattern and group.pattern.kind == "circular" and len(group.holes) > 2 else None
            )
            refs = tuple(self._bore(h.main_faces) for h in group.holes)
            seen = [h for h in group.holes if self.hole_seen(view, h)]
            equal = ring is not None and ring.data["missing"] == 0
            lines = hole_lines(hole, len(group.holes), self.unit, " EQ SP" if equal else "", self.notation)
            self.marks.append(
                Leader(id=self._id("D"), sheet=self.sheet, kind="hole", view=view.id, refs=refs, lines=lines,
                       text=" ".join(lines), feature=group.id, target=self._bore((seen or [hole])[0].main_faces))
            )  # fmt: skip
            if ring is not None and seen:
                self._ring(view, group, refs)
                continue
            for h in group.holes:
                if float(np.abs(h.axis).max()) > 1 - 1e-6:
                    self._locate(view, h.start, self._bore(h.main_faces), group.id, h in seen)

    def _oblique_view(self, hole: Hole) -> View:
        flat = [v for v in self.views if v.kind != "pictorial"]
        return max(flat, key=lambda v: float(hole.axis @ frame_of_view(v).toward))

    def _ring(self, view: View, group: HoleGroup, refs: tuple[str, ...]) -> None:
        assert group.pattern is not None
        data = group.pattern.data
        text = f"⌀{write_length(data['diameter_mm'], self.unit)} PCD"
        self.marks.append(
            Leader(id=self._id("D"), sheet=self.sheet, kind="bolt-circle", view=view.id, refs=refs, lines=(text,),
                   text=text, feature=group.id)
        )  # fmt: skip
        centre = np.array(data["centre_mm"])
        holder = self._round_at(centre, group.first.axis)
        if holder is not None:
            self._locate(view, centre, face_reference(holder), group.id)
        rel = np.array([h.start - centre for h in group.holes])
        on_axis = [k for k, r in enumerate(rel) if np.sum(np.abs(r) < 0.01) >= 2]
        if data["missing"]:
            # Not equally spaced all around: where each one stands on the circle must be said.
            for k, h in enumerate(group.holes):
                self._locate(view, h.start, refs[k], group.id)
        elif holder is None or not on_axis:
            # No bore marks the centre, or no hole stands on a centre line: locate the first hole itself.
            self._locate(view, group.first.start, refs[0], group.id)

    def _round_at(self, centre: Vec, axis: Vec) -> Face | None:
        for face in self.solid.faces:
            if face.kind == "cylinder" and face.sweep > 1.5 * math.pi and abs(float(face.axis @ axis)) > 1 - 1e-6:
                rel = face.origin - centre
                if float(np.linalg.norm(rel - face.axis * float(rel @ face.axis))) < 0.01:
                    return face
        return None

    def slots(self) -> None:
        """Slot notes, equal ones counted, with the centres of both ends located."""
        groups: dict[tuple[object, ...], list[int]] = defaultdict(list)
        for k, s in enumerate(self.found.slots):
            key = (size_key(s.width), size_key(s.centres), s.through, None if s.depth is None else size_key(s.depth))
            groups[(*key, *np.round(s.axis, 6))].append(k)
        for members in groups.values():
            slots = [self.found.slots[k] for k in members]
            view = None
            for v in self.views:
                facing = float(slots[0].axis @ frame_of_view(v).toward)
                true = facing > 1 - 1e-6 or (slots[0].through and facing < -1 + 1e-6)
                if v.kind != "pictorial" and true and self._arcs_at(v, slots[0].ends[0], [slots[0].width / 2]):
                    view = v
                    break
            if view is None:
                self.unseen.append(slots[0].id)
                continue
            refs = tuple(self._bore((f,)) for s in slots for f in s.end_faces)
            lines = slot_lines(slots[0], len(slots), self.unit, self.notation)
            self.marks.append(
                Leader(id=self._id("D"), sheet=self.sheet, kind="slot", view=view.id, refs=refs, lines=lines,
                       text=" ".join(lines), feature=slots[0].id, target=refs[0])
            )  # fmt: skip
            for slot in slots:
                for end, face in zip(slot.ends, slot.end_faces, strict=True):
                    self._locate(view, end, self._bore((face,)), slot.id)

    def _arc_seen(self, view: View, face: Face) -> bool:
        frame = frame_of_view(view)
        if abs(float(face.axis @ frame.toward)) < 1 - 1e-6 or view.kind == "pictorial":
            return False
        return self._arcs_at(view, face.origin, [face.radius])

    def rounds(self) -> Note | None:
        """Radii by leader; the commonest small radius becomes the default note (returned)."""
        rounds = [b for b in self.found.blends if b.kind == "fillet"]
        by_size: dict[int, list[Blend]] = defaultdict(list)
        for b in rounds:
            by_size[size_key(b.size)].append(b)
        groups = sorted(by_size.values(), key=lambda g: (-sum(b.count for b in g), g[0].size))
        default = None
        if groups:
            common = groups[0]
            count = sum(b.count for b in common)
            seen = any(self._best_round(b) for b in common)
            small = common[0].size < 0.12 * self.solid.diagonal
            if (count >= 4 and small and (len(groups) > 1 or count >= 6)) or not seen:
                default = common
        note = None
        for group in groups:
            count = sum(b.count for b in group)
            faces = [f for b in group for f in b.faces if self.solid.faces[f].kind in ("cylinder", "torus")]
            refs = tuple(dict.fromkeys(face_reference(self.solid.faces[f]) for f in faces))
            if group is default:
                text = f"ROUNDS AND FILLETS R{write_length(group[0].size, self.unit)} UON"
                note = Note(id=self._id("D"), sheet=self.sheet, refs=refs, text=text, lines=(text,), at=(0, 0),
                            feature=group[0].id)  # fmt: skip
                continue
            best = next((b for b in map(self._best_round, group) if b), None)
            whole = Blend(group[0].id, "fillet", group[0].size, group[0].size, 0.0, True, count, ())
            lines = blend_lines(whole, self.unit)
            if best is None:
                # Seen true in no view: a line in the notes, with its count.
                extra = f"{lines[0]} WHERE SHOWN IN NO VIEW"
                self.unseen.append(group[0].id)
                self.marks.append(
                    Note(id=self._id("D"), sheet=self.sheet, refs=refs, text=extra, lines=(extra,), at=(0, 0),
                         feature=group[0].id)
                )  # fmt: skip
                continue
            view, face = best
            self.marks.append(
                Leader(id=self._id("D"), sheet=self.sheet, kind="radius", view=view.id, refs=refs, lines=lines,
                       text=" ".join(lines), feature=group[0].id, target=face_reference(face))
            )  # fmt: skip
        return note

    def _best_round(self, blend: Blend) -> tuple[View, Face] | None:
        for view in self.views:
            for f in blend.faces:
                face = self.solid.faces[f]
                if face.kind == "cylinder" and self._arc_seen(view, face):
                    return view, face
        return None

    def chamfers(self) -> None:
        """Chamfer notes where the bevel is seen from the side."""
        for blend in self.found.blends:
            if blend.kind != "chamfer":
                continue
            spot: tuple[View, Face] | None = None
            for view in self.views:
                frame = frame_of_view(view)
                for f in blend.faces:
                    face = self.solid.faces[f]
                    side_on = face.kind == "plane" and abs(float(face.axis @ frame.toward)) < 1e-6
                    if view.kind != "pictorial" and side_on and self._point_seen(view, face.centre):
                        spot = spot or (view, face)
                    if face.kind == "cone" and abs(float(face.axis @ frame.toward)) < 1e-6:
                        spot = spot or (view, face)
            if spot is None:
                self.unseen.append(blend.id)
                continue
            view, face = spot
            refs = tuple(face_reference(self.solid.faces[f]) for f in blend.faces)
            lines = blend_lines(blend, self.unit)
            self.marks.append(
                Leader(id=self._id("D"), sheet=self.sheet, kind="chamfer", view=view.id, refs=refs, lines=lines,
                       text=" ".join(lines), feature=blend.id, target=face_reference(face))
            )  # fmt: skip

    def _point_seen(self, view: View, point: Vec) -> bool:
        p = frame_of_view(view).flat(point)
        for line in self.project(view).visible:
            if line.kind != "line":
                continue
            a, b = line.points[0], line.points[-1]
            d = b - a
            t = float((p - a) @ d) / max(float(d @ d), 1e-12)
            if -1e-6 <= t <= 1 + 1e-6 and float(np.linalg.norm(a + d * t - p)) < 0.02:
                return True
        return False

    def threads(self) -> None:
        """Designations of modelled metric threads; another thread's sizes are left to whoever reads what is free."""
        for form in self.found.forms:
            if form.kind != "thread" or self.unit is not Unit.MM:
                continue
            for piece in form.pieces:
                major, pitch = float(piece.data["major_mm"]), float(piece.data["pitch_mm"])
                strips = [f for f in piece.owns if self.solid.faces[f].kind == "cylinder"]
                if abs(major - round(major)) > 0.01 * major or piece.data["starts"] != 1 or not strips:
                    continue
                side = [
                    v
                    for v in self.views
                    if v.kind != "pictorial" and abs(float(piece.axis @ frame_of_view(v).toward)) < 1e-6
                ]
                if not side:
                    continue
                text = f"M{round(major)}×{write_length(round(pitch, 3), self.unit)}"
                text += " LH" if piece.data["hand"] == "left" else ""
                refs = tuple(face_reference(self.solid.faces[f]) for f in strips)
                self.marks.append(
                    Leader(id=self._id("D"), sheet=self.sheet, kind="thread", view=side[0].id, refs=refs, lines=(text,), text=text,
                           feature=form.id, target=refs[0])
                )  # fmt: skip

    @property
    def _threaded(self) -> set[int]:
        return {f for form in self.found.forms if form.kind == "thread" for p in form.pieces for f in p.owns}

    def shafts(self) -> None:
        """Diameters of bosses and turned steps, with the centres of bosses located."""
        groups: dict[tuple[object, ...], list[int]] = defaultdict(list)
        threaded = self._threaded
        for k, s in enumerate(self.found.shafts):
            # The designation says the diameter of its plain ends as well.
            if set(s.faces) & threaded:
                continue
            groups[(size_key(s.diameter), s.boss, *np.round(s.axis, 6))].append(k)
        for members in groups.values():
            shafts = [self.found.shafts[k] for k in members]
            best = None
            for view in self.views:
                toward = frame_of_view(view).toward
                true = abs(float(shafts[0].axis @ toward)) > 1 - 1e-6
                if view.kind != "pictorial" and true and self._arcs_at(view, shafts[0].top, [shafts[0].diameter / 2]):
                    best = view
                    break
            if best is None:
                best = next((v for v in self.views if v.kind != "pictorial"
                             and abs(float(shafts[0].axis @ frame_of_view(v).toward)) < 1e-6), None)  # fmt: skip
            if best is None:
                self.unseen.append(shafts[0].id)
                continue
            refs = tuple(self._bore(s.faces) for s in shafts)
            lines = shaft_lines(shafts[0], len(shafts), self.unit)
            self.marks.append(
                Leader(id=self._id("D"), sheet=self.sheet, kind="diameter", view=best.id, refs=refs, lines=lines,
                       text=" ".join(lines), feature=shafts[0].id, target=refs[0])
            )  # fmt: skip
            for shaft in shafts:
                if float(np.abs(shaft.axis).max()) > 1 - 1e-6:
                    self._locate(best, shaft.top, self._bore(shaft.faces), shaft.id, axis=shaft.axis)

    def levels(self, slopes: bool = True) -> None:
        """Every level of the part's flat faces not given yet, where its edge is seen; with `slopes` the ends of sloped
        ones as well."""
        faces = [self.solid.faces[f] for f in self.found.flat]
        flat = sorted(
            (f for f in faces if float(np.abs(f.axis).max()) > 1 - 1e-9), key=lambda f: (-f.area, f.index)
        )  # fmt: skip
        for face in flat:
            k = int(np.argmax(np.abs(face.axis)))
            level = float(face.origin[k])
            if (k, round(level, 3)) in self.stated:
                continue
            spot = self._edge_on(face, k, level)
            if spot:
                self._ordinate(spot[0], spot[1], level, face_reference(face), "level")
        if not slopes:
            return
        self._slopes([f for f in faces if float(np.abs(f.axis).max()) <= 1 - 1e-9])

    def _slopes(self, faces: list[Face]) -> None:
        """Both ends of every sloped face seen edge-on, where they are corners and not given yet."""
        for face in sorted(faces, key=lambda f: (-f.area, f.index)):
            for view in self.views:
                frame = frame_of_view(view)
                if view.kind == "pictorial" or abs(float(face.axis @ frame.toward)) > 1e-9:
                    continue
                ends = []
                for e, _ in self.solid.neighbours[face.index]:
                    edge = self.solid.edges[e]
                    along = edge.kind == "line" and abs(float(edge.axis @ frame.toward)) > 1 - 1e-9
                    if along and edge.dihedral != "smooth" and self._corner_seen(view, edge.middle):
                        ends.append(edge)
                for edge in ends:
                    self._locate(view, edge.middle, edge_reference(edge), "level")
                if ends:
                    break

    def _corner_seen(self, view: View, point: Vec) -> bool:
        p = frame_of_view(view).flat(point)
        return any(
            float(np.abs(line.points[[0, -1]] - p).max(axis=1).min()) < 0.02
            for line in self.project(view).visible if line.kind == "line"
        )  # fmt: skip

    def _edge_on(self, face: Face, k: int, level: float) -> tuple[View, str] | None:
        """The view and direction with the longest visible straight line at a level."""
        best: tuple[float, View, str] | None = None
        for order, view in enumerate(self.views):
            if view.kind == "pictorial":
                continue
            for j, direction in ((0, "x"), (1, "y")):
                axis, sense = self._axis_of(view, direction)
                if axis != k:
                    continue
                at = level * sense
                length = sum(
                    line.length for line in self.project(view).visible
                    if line.kind == "line" and float(np.abs(line.points[:, j] - at).max()) < 0.02
                )  # fmt: skip
                score = length * (1.0 - 0.05 * order)
                if length > 0.05 and (best is None or score > best[0]):
                    best = (score, view, direction)
        return (best[1], best[2]) if best else None

    def centres(self, views: list[View] | None = None) -> None:
        """Centre marks on everything round seen true; centre lines on what is seen from the side."""
        for view in self.views if views is None else views:
            if view.kind == "pictorial":
                continue
            frame = frame_of_view(view)
            marked: set[tuple[float, float]] = set()
            lined: set[tuple[float, ...]] = set()
            round_faces = [(h.main_faces, h.axis, h.start, self._radii(h)) for g in self.found.holes for h in g.holes]
            round_faces += [(s.faces, s.axis, s.top, [s.diameter / 2]) for s in self.found.shafts]
            round_faces += [((f,), s.axis, e, [s.width / 2]) for s in self.found.slots
                            for f, e in zip(s.end_faces, s.ends, strict=True)]  # fmt: skip
            for faces, axis, start, radii in round_faces:
                flat = frame.flat(start)
                ref = self._bore(faces)
                if abs(float(axis @ frame.toward)) > 1 - 1e-6:
                    key = (round(float(flat[0]), 2), round(float(flat[1]), 2))
                    if key not in marked and self._arcs_at(view, start, radii):
                        marked.add(key)
                        self.marks.append(CentreMark(id=self._id("M"), sheet=self.sheet, view=view.id, refs=(ref,)))
                elif abs(float(axis @ frame.toward)) < 1e-6 and (
                    view.hidden or view.kind == "section" or (len(radii) == 1 and len(faces) == 1)
                ):
                    if view.kind == "section" and not self._outlined(view, faces):
                        continue
                    across = flat - frame.flat(axis) * float(flat @ frame.flat(axis))
                    key2 = (*np.round(across, 2), *np.round(np.abs(frame.flat(axis)), 3))
                    if tuple(key2) not in lined:
                        lined.add(tuple(key2))
                        self.marks.append(CentreLine(id=self._id("M"), sheet=self.sheet, view=view.id, refs=(ref,)))
        if views is None:
            self._symmetry()
            self._flats()

    def _outlined(self, view: View, faces: tuple[int, ...]) -> bool:
        """Whether a view cuts or outlines one of some faces."""
        return any(not x.edges and set(x.faces) & set(faces) for x in self.project(view).visible)

    def _symmetry(self) -> None:
        """Lines of symmetry where holes or slots stand in pairs about the middle of a part that is its own mirror image."""
        if self.turned is not None:
            return
        places = [h.start for g in self.found.holes for h in g.holes] + [e for s in self.found.slots for e in s.ends]
        for k in range(3):
            low, high = float(self.solid.box[0][k]), float(self.solid.box[1][k])
            off = {round(abs(float(p[k]) - (low + high) / 2), 3) for p in places}
            if not off - {0.0} or not mirrored(self.solid, k):
                continue
            d = np.eye(3)[k]
            refs = (extreme_reference(-d, -low), extreme_reference(d, high))
            for view in self.views:
                frame = frame_of_view(view)
                for direction, way in (("x", frame.right), ("y", frame.up)):
                    # Holes on the line itself have marks of their own there.
                    free = not any(abs(float(p[k]) - (low + high) / 2) < 1e-3 for p in places)
                    true = any(self._seen_true(view, p) for p in places)
                    if view.kind != "pictorial" and abs(float(way @ d)) > 0.999 and free and true:
                        self.marks.append(SymmetryLine(id=self._id("M"), sheet=self.sheet, view=view.id, refs=refs,
                                                       direction="x" if direction == "x" else "y"))  # fmt: skip

    def _seen_true(self, view: View, place: Vec) -> bool:
        """Whether a circle or an arc about a place is seen true in a view."""
        centres, _ = self.project(view).arcs
        flat = frame_of_view(view).flat(place)
        return bool(len(centres)) and float(np.abs(centres - flat).max(axis=1).min()) < 0.02

    def _flats(self) -> None:
        """Crossed diagonals on flats of turned parts, where they are seen true."""
        if self.turned is None:
            return
        for face in self.solid.faces:
            if face.kind != "plane" or abs(float(face.axis @ self.turned)) > 1e-6:
                continue
            sides = {self.solid.faces[o].kind for _, o in self.solid.neighbours[face.index]}
            if ("cylinder" not in sides and "cone" not in sides) or face.index in self._in_recess | self._threaded:
                continue
            for view in self.views:
                if view.kind != "pictorial" and float(face.axis @ frame_of_view(view).toward) > 1 - 1e-6:
                    self.marks.append(FlatCross(id=self._id("M"), sheet=self.sheet, view=view.id,
                                                refs=(face_reference(face),)))  # fmt: skip

    @property
    def _in_recess(self) -> set[int]:
        """Faces of slots, keyways, grooves and pockets: their floors are no flats."""
        kinds = ("keyway", "groove", "pocket", "slot", "arc-slot")
        out = {f for s in self.found.slots for f in s.faces}
        return out | {f for form in self.found.forms if form.kind in kinds for p in form.pieces for f in p.faces}
