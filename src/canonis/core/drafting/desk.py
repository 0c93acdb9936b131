"""What a planner works on: one sheet with its views, what was recognised on its solid, and the rules of the job."""

from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Literal

import numpy as np

from canonis.core.callout import Callout, Measured, Notation, a_length, flag
from canonis.core.drafting.roundness import ROUGH, roughness
from canonis.core.drafting.struck import UNSTRUCK, Struck
from canonis.core.features import Feature, Hole, HoleGroup, Piece
from canonis.core.house import Locations
from canonis.core.quantity import Unit, write_length
from canonis.core.shape import is_blend
from canonis.core.sheet import (
    Annotation,
    Detail,
    Leader,
    Linear,
    Ordinate,
    Pictorial,
    Scene,
    SheetDocument,
    SheetPage,
    View,
    frame_of_view,
)
from canonis.core.solid import Face, Solid, Vec, extreme_reference, face_reference
from canonis.core.tolerances import ALIGNED, FINE, SAME, faces_along, on_axis, parallel, same

__all__ = ["NEAR", "Candidate", "Datum", "Desk", "Way", "next_number", "radii_of"]

#: Directions are along one another beyond this cosine; lines nearer than this coincide; levels nearer than this are one.
NEAR = 0.02
Way = Literal["x", "y"]
#: So many round distances are offered in place of a rough one.
_ROUNDER = 3
#: Axes nearer than this, mm, are taken for one (see the recognition of stacks).
_CARELESS = 2e-3
_SIDES = {"x": "below", "y": "left"}


@dataclass(frozen=True)
class Candidate:
    """A statement that could be made, and its price: the cheaper is made first.

    `note` is a block that is made when any part of it says something new; other statements must be new in every part.
    `always` is printed in any case, as a reference in parentheses where it says nothing new (ISO 129-1, 5.9).
    """

    price: float
    mark: Annotation
    note: bool = False
    always: bool = False


def next_number(document: SheetDocument, letter: str) -> int:
    """The number after the highest that ids of one letter have: D for statements, M for centre marks and lines."""
    used = (a.id[1:] for a in document.annotations if a.id[:1] == letter)
    return 1 + max((int(n) for n in used if n.isdigit()), default=0)


@dataclass(frozen=True, eq=False)
class Datum:
    """What levels are counted from: a point, and for some axes of the file a reference of its own."""

    point: Vec
    refs: dict[str, str] = field(default_factory=dict)

    def ref(self, solid: Solid, way: Vec) -> str:
        """The reference that ordinates along a direction of the file count from."""
        k = int(np.argmax(np.abs(way)))
        if str(k) in self.refs:
            return self.refs[str(k)]
        d = np.eye(3)[k]
        if abs(float(self.point[k] - solid.box[0][k])) < SAME:
            return extreme_reference(-d, -float(solid.box[0][k]))
        if abs(float(self.point[k] - solid.box[1][k])) < SAME:
            return extreme_reference(d, float(solid.box[1][k]))
        return "fixed;" + ",".join(f"{c:.6f}".rstrip("0").rstrip(".") for c in self.point)


@dataclass(frozen=True, eq=False)
class Desk:
    """One sheet to be dimensioned. Lengths mm in the file's axes."""

    scene: Scene
    page: SheetPage
    found: Feature
    datum: Datum
    #: The axis of a turned part that its datum lies on.
    turned: Vec | None = None
    #: How places are stated (house rule).
    locations: Locations = Locations.ORDINATE
    #: From so many holes in no pattern on, a view has their places in a table; None: never.
    table_from: int | None = None
    #: What is not to be said of this part.
    struck: Struck = UNSTRUCK
    #: Faces that something free moves; None: all of the part.
    touched: frozenset[int] | None = None
    #: What stands at each level that was located: place along the other direction, reference, feature.
    located: dict[tuple[str, str, float], list[tuple[float, str, str]]] = field(default_factory=dict)
    #: Whether the datum is seen in a view, along a direction.
    datum_seen: dict[tuple[str, str], bool] = field(default_factory=dict)
    #: The levels of what a view shows along a direction.
    standing: dict[tuple[str, str], list[tuple[float, str]]] = field(default_factory=dict)
    #: What was planned with, by the views (see `completing`).
    plans: dict[object, Any] = field(default_factory=dict)

    @property
    def sheet(self) -> int:
        """The number of the sheet."""
        return self.page.number

    @cached_property
    def solid(self) -> Solid:
        """The solid that the sheet shows."""
        return self.scene.solids[self.page.solid]

    @property
    def unit(self) -> Unit:
        """The unit of the sheet."""
        return self.scene.document.unit

    @property
    def notation(self) -> Notation:
        """Symbols or words in hole notes."""
        return self.scene.document.notation

    @cached_property
    def views(self) -> list[View]:
        """The views of the sheet that carry statements, in their order."""
        document = self.scene.document
        return [v for v in document.views if v.sheet == self.sheet and not isinstance(v, Pictorial | Detail)]

    @cached_property
    def threaded(self) -> set[int]:
        """The faces of modelled threads."""
        return {f for form in self.found.forms if form.kind == "thread" for p in form.pieces for f in p.owns}

    def written(self, mm: float) -> str:
        """A length as the sheet writes it."""
        return write_length(mm, self.unit)

    def meant(self, mm: float) -> bool:
        """Whether a length is a figure that somebody would have chosen: twentieths of a millimetre, thousandths of an inch."""
        steps = mm * 20 if self.unit is Unit.MM else mm / 25.4 * 1000
        return same(steps, round(steps), FINE)

    def square(self, way: Vec) -> bool:
        """Whether a direction runs along an axis of the part's frame."""
        return on_axis(way)

    def asked(self, *kinds: str) -> Iterator[Face]:
        """The faces in question of some kinds, in the order of the solid; of what repeats those of the one member that is
        dimensioned."""
        faces = range(len(self.solid.faces)) if self.touched is None else sorted(self.touched)
        for k in faces:
            if self.solid.faces[k].kind in kinds and k not in self.echoes:
                yield self.solid.faces[k]

    @cached_property
    def repeated(self) -> list[Piece]:
        """What repeats, one piece each: teeth and lobes, rows, stars."""
        return [*(p for form in self.found.forms if form.kind == "repeat" for p in form.pieces), *self.found.alike]

    @cached_property
    def echoes(self) -> set[int]:
        """The faces of members that are as another one, which is dimensioned."""
        # Where the proof does not bear out that they are alike, each has its own sizes.
        pieces = [p for p in self.repeated if not self.struck.names(self.reference(f) for f in p.faces)]
        # The first face of a piece shows what it repeats about, or where the next member is.
        return {f for p in pieces for f in p.owns} - {f for p in pieces for f in p.faces[1:]}

    @cached_property
    def echo_refs(self) -> set[str]:
        """The references to those faces: no size ends there."""
        return {self.reference(f) for f in self.echoes}

    def reference(self, face: int) -> str:
        """The reference to a face by its index."""
        return face_reference(self.solid.faces[face])

    def view_of(self, *kinds: str) -> View | None:
        """The first view of these kinds."""
        return next((v for k in kinds for v in self.views if v.kind == k), None)

    def arcs_at(self, view: View, centre: Vec, radii: list[float]) -> bool:
        """Whether a circle of one of these radii is visible at a model point in a view."""
        return self.scene.projection(view).circle_at(frame_of_view(view).flat(centre), radii)

    def hole_seen(self, view: View, hole: Hole) -> bool:
        """Whether a hole opens to the viewer of a view and its rim is visible there."""
        facing = float(hole.axis @ frame_of_view(view).toward)
        ok = faces_along(facing) or (hole.through and faces_along(-facing) and not hole.seats)
        return ok and self.arcs_at(view, hole.start, radii_of(hole))

    def best_view(self, group: HoleGroup) -> View | None:
        """The view that shows most members of a group of holes, or None when none shows any."""
        counts = [(sum(self.hole_seen(v, h) for h in group.holes), -k, v) for k, v in enumerate(self.views)]
        best = max(counts, key=lambda c: c[:2], default=(0, 0, None))
        return best[2] if best[0] else None

    def ways(self, view: View) -> tuple[tuple[Way, Vec, Vec], ...]:
        """The directions of a view: x and y, each with its direction in the part and the other one."""
        frame = frame_of_view(view)
        return ("x", frame.right, frame.up), ("y", frame.up, frame.right)

    @property
    def sizes(self) -> Measured:
        """Makes the parts of statements."""
        return Measured(self.unit)

    def sized(self, mm: float) -> Callout:
        """A length to be stated."""
        return a_length(mm, self.unit)

    def round(self, radius: float, *, wide: bool, ball: bool = False, count: int = 1) -> Callout:
        """A round size to be stated: its diameter where it is `wide`, else its radius; of a ball where it is one."""
        kind, size = ("diameter", 2 * radius) if wide else ("radius", radius)
        parts = (self.sizes.length(kind, size), *((flag("sphere"),) if ball else ()))
        return Callout(kind=kind, count=count, parts=parts)

    def length(self, view: View, direction: Way, refs: tuple[str, ...], says: Callout, feature: str) -> Linear:
        """A length between references, or the pitch of more than two, at its side of a view."""
        side: Literal["above", "right"] = "above" if direction == "x" else "right"
        kind: Literal["linear", "pattern"] = "linear" if len(refs) == 2 else "pattern"
        return Linear(
            id="",
            sheet=self.sheet,
            kind=kind,
            view=view.id,
            direction=direction,
            side=side,
            refs=refs,
            says=says,
            unit=self.unit,
            feature=feature,
        )

    def note(
        self,
        view: View,
        refs: tuple[str, ...],
        says: Callout,
        feature: str | None,
        target: str = "",
    ) -> Leader:
        """A note with a leader in a view; its leader ends at its first reference unless told otherwise."""
        return Leader(
            id="",
            sheet=self.sheet,
            view=view.id,
            refs=refs,
            says=says,
            unit=self.unit,
            notation=self.notation,
            feature=feature,
            target=target or refs[0],
        )

    def locate(
        self,
        view: View,
        point: Vec,
        ref: str,
        feature: str,
        price: float,
        *,
        seen: bool = True,
        axis: Vec | None = None,
    ) -> Iterator[Candidate]:
        """Ordinates of a place in a view; along `axis` a round face has no place, its ends have levels of their own."""
        for direction, way, other in self.ways(view):
            if not on_axis(way, ALIGNED) or (axis is not None and abs(float(axis @ way)) > 0.5):
                continue
            level = self._told(view, direction, ref, float(point @ way))
            if seen:
                key = (view.id, direction, round(level, 3))
                self.located.setdefault(key, []).append((float(point @ other), ref, feature))
            yield from self.ordinate(view, direction, level, ref, price, feature)

    def _told(self, view: View, direction: Way, ref: str, level: float) -> float:
        """The level of what a reference names, which in a careless file may lie a little off the axis it is counted to."""
        anchor = self.scene.anchor(view, ref)
        own = None if anchor is None else anchor.level(direction)
        return level if own is None or abs(own - level) > _CARELESS else own

    def ordinate(
        self, view: View, direction: Way, level: float, ref: str, price: float, feature: str
    ) -> Iterator[Candidate]:
        """The distance of a level along a direction of a view from the datum; nothing at the datum itself."""
        frame = frame_of_view(view)
        way = frame.right if direction == "x" else frame.up
        far = abs(level - float(self.datum.point @ way))
        if far < SAME or not self._datum_seen(view, direction, way):
            return
        rough = roughness(far, self.unit)
        if rough >= ROUGH:
            yield from self._rounder(view, direction, level, ref, price, feature)
        yield Candidate(
            price + rough,
            Ordinate(
                id="",
                sheet=self.sheet,
                view=view.id,
                direction=direction,
                side=_SIDES[direction],  # type: ignore[arg-type]
                row=13.0,
                refs=(self.datum.ref(self.solid, way), ref),
                says=self.sized(far),
                unit=self.unit,
                feature=feature,
            ),
        )

    def _rounder(
        self, view: View, direction: Way, level: float, ref: str, price: float, feature: str
    ) -> Iterator[Candidate]:
        """Round distances from a level to what else stands in a view, the nearest first."""
        near = sorted(self._standing(view, direction), key=lambda s: abs(s[0] - level))
        found = 0
        for at, other in near:
            far = abs(at - level)
            if far < SAME or other == ref or (rough := roughness(far, self.unit)) >= ROUGH:
                continue
            ends = (other, ref) if at < level else (ref, other)
            says = self.sized(far)
            yield Candidate(price + 0.3 + rough + 0.1 * found, self.length(view, direction, ends, says, feature))
            found += 1
            if found == _ROUNDER:
                return

    def _standing(self, view: View, direction: Way) -> list[tuple[float, str]]:
        """The levels of a view along a direction at which flat faces are seen edge-on, or axes of round ones as points, each
        with a reference."""
        key = (view.id, direction)
        if key not in self.standing:
            k = 0 if direction == "x" else 1
            way = self.ways(view)[k][1]
            toward = frame_of_view(view).toward
            found: dict[float, tuple[float, str]] = {}
            for line in self.scene.projection(view).visible:
                for f in line.faces:
                    face = self.solid.faces[f]
                    if line.kind == "line" and face.kind == "plane" and parallel(face.axis, way):
                        at = float(face.origin @ way)
                    elif (
                        line.kind == "arc"
                        and face.kind == "cylinder"
                        and parallel(face.axis, toward)
                        # Nobody measures from the middle of a rounded corner.
                        and not is_blend(self.solid, face)
                    ):
                        at = float(line.centre[k])
                    else:
                        continue
                    found.setdefault(round(at, 4), (at, face_reference(face)))
            self.standing[key] = sorted(found.values())
        return self.standing[key]

    def _datum_seen(self, view: View, direction: Way, way: Vec) -> bool:
        """Whether a view shows what its ordinates would count from: an axis, or a line at the level of the datum."""
        key = (view.id, direction)
        if key not in self.datum_seen:
            ref = self.datum.ref(self.solid, way)
            at, k = float(self.datum.point @ way), 0 if direction == "x" else 1
            self.datum_seen[key] = not ref.startswith("extreme") or any(
                float(np.abs(line.polyline(0.01)[:, k] - at).min()) < NEAR
                for line in self.scene.projection(view).visible
            )
        return self.datum_seen[key]


def radii_of(hole: Hole) -> list[float]:
    """The radii of the circles that a hole shows at its ends."""
    return [hole.diameter / 2] + [s.diameter / 2 for s in (*hole.seats, *hole.far_seats)]
