"""Every statement of a sheet measured again: what it says against the geometry that it names, part by part."""

import hashlib
import json

import numpy as np

from canonis.core.callout import of_the_part, why_unread
from canonis.core.proof.known import measures_of
from canonis.core.proof.measurer import Measurer, is_statement
from canonis.core.proof.places import prove_place
from canonis.core.proof.statement import PartProof, StatementProof, close
from canonis.core.quantity import Unit, from_mm
from canonis.core.sheet import Annotation, Linear, Ordinate, SheetDocument, Statement, meaning
from canonis.core.sheet.document import Place
from canonis.core.solid import Solid, Vec
from canonis.core.tolerances import same, square

__all__ = ["Known", "PartProof", "Remeasurer", "StatementProof", "is_statement", "value_in"]

#: Proofs of statements by what they depend on, for one model and one version of the code.
Known = dict[str, StatementProof]
#: Fields of an annotation that say where it stands, not what it says.
_PLACING = {"at", "offset", "row", "along", "side", "by_hand", "right", "height"}


class Remeasurer(Measurer):
    """Proves the statements of one document on a model by the second route."""

    def __init__(self, document: SheetDocument, solids: tuple[Solid, ...], known: Known | None = None) -> None:
        super().__init__(document, solids)
        self.known = {} if known is None else known

    def _key(self, mark: Annotation) -> str:
        """What the proof of a statement depends on besides the solids' bytes and the code; not where it stands."""
        view = next((v for v in self.document.views if v.id == mark.view), None)
        frame = None if view is None else (view.right, view.up)
        page = next(p for p in self.document.pages if p.number == mark.sheet)
        said = mark.model_dump_json(exclude=_PLACING)
        # The census of a note depends on what other notes name, a frame on the datums and sizes of its sheet.
        named = None
        how = measures_of(mark.states)
        if how is not None:
            others = sorted(
                {
                    r
                    for a in self.document.annotations
                    if a.sheet == mark.sheet and a.states in how.among
                    for r in a.refs
                }
                if not how.sheet
                else {a.model_dump_json(exclude=_PLACING) for a in self.document.annotations if a.sheet == mark.sheet}
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
        statuses = [self.resolution(mark.sheet, r).status for r in mark.refs]
        change = next((s for s in ("lost", "ambiguous", "resized", "moved") if s in statuses), "same")
        alive = [
            r for r in dict.fromkeys(mark.refs) if self.resolution(mark.sheet, r).status not in ("lost", "ambiguous")
        ]
        if not alive:
            return StatementProof(mark.id, mark.kind, text, "lost", (), "its geometry is gone", reading, "lost")
        how = measures_of(mark.states)
        named_faces = {self.solid(mark.sheet).faces[f].kind for f in self.faces(mark.sheet, alive)}
        fits = how is not None and (not how.on or (bool(named_faces) and named_faces <= how.on))
        parts = how.measure(self, mark, alive, reading) if how is not None and fits else []
        if reading.typical:
            # TYP states no count; every member that it names is measured.
            parts = [p for p in parts if p.name != "count"]
        state = "reference" if mark.reference else "proven" if all(p.ok for p in parts) and parts else "contradicted"
        if of_the_part(reading.kind):
            return self._for_the_part(mark, mark.kind, tuple(parts), change)
        named = {p.name for p in parts}
        unmeasured = [p.name.replace("-", " ") for p in reading.parts if p.name not in named]
        note = f"nothing measures its {', '.join(unmeasured)}" if unmeasured else ""
        if not parts or (unmeasured and state == "proven"):
            state = "unproven"
        return StatementProof(mark.id, mark.kind, text, state, tuple(parts), note, reading, change)

    @staticmethod
    def _for_the_part(mark: Statement, kind: str, parts: tuple[PartProof, ...], change: str) -> StatementProof:
        """What holds for the part that is made: the model can contradict it or leave it open, never bear it out."""
        missing = list(dict.fromkeys(p.why for p in parts if p.why))
        wrong = any(not p.ok and not p.why for p in parts)
        state = "contradicted" if wrong else "unproven" if missing else "reference"
        note = "; ".join(missing) or "for the part, not the model"
        return StatementProof(mark.id, kind, mark.text, state, parts, note, mark.says, change)

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


def _is_round(solid: Solid, direction: Vec, middle: float, radius: float) -> bool:
    """Whether something round stands between two levels along a direction: a circle or a cylinder of that radius about the
    middle, mm. A width between flat faces is no diameter."""
    round_ = [(e.centre, e.axis, e.radius) for e in solid.edges if e.kind == "circle"]
    round_ += [(f.origin, f.axis, f.radius) for f in solid.faces if f.kind == "cylinder"]
    return any(
        square(axis, direction) and same(r, radius) and same(float(centre @ direction), middle)
        for centre, axis, r in round_
    )


def value_in(unit: Unit, part: PartProof | None) -> float | None:
    """A part's stated value in the sheet's unit (degrees for angles)."""
    if part is None or not isinstance(part.stated, float):
        return None
    return part.stated if part.name.endswith("angle") else from_mm(part.stated, unit)
