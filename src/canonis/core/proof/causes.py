"""One difference is one finding: what follows from it is listed under it, not beside it."""

import re
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from canonis.core.finding import About, Finding
from canonis.core.proof.measure import Remeasurer
from canonis.core.proof.statement import StatementProof
from canonis.core.quantity import Unit, write_length
from canonis.core.shape import shape_of
from canonis.core.sheet import Annotation, Leader, Linear, Note, Ordinate, SheetDocument, stated_rows

__all__ = ["linked"]

#: Shifts nearer than this are one shift, mm.
_ALIKE = 2e-3
#: Names of the parts of a statement that size a seat.
_SEAT = re.compile("counterbore|countersink|rim")


def linked(
    findings: list[Finding],
    document: SheetDocument,
    measurer: Remeasurer,
    proofs: Sequence[StatementProof],
) -> list[Finding]:
    """The findings with an id each, those that follow from another `under` it."""
    out = _numbered([*_shifts(findings, document, measurer, proofs), *findings])
    marks = {a.id: a for a in document.annotations}
    first: dict[str, str] = {}
    for f in out:
        if f.rule == "geometry.shift":
            for subject in f.about.statements:
                first.setdefault(subject, f.id)
    shifted = set(first)
    for f in out:
        if f.severity == "error" and f.rule not in ("geometry.lost", "geometry.shift"):
            first.setdefault(f.subject, f.id)
    same: dict[tuple[str, str], str] = {}
    for f in out:
        root = first.get(f.subject)
        if f.rule == "value.source":
            # The sheet says what the source says: one difference of the model, told of the sheet.
            drawn = [s for s in f.about.statements if s in marks] or _stating(f, marks, measurer)
            # The pitch circle of a hole note is a statement of its own on the sheet.
            drawn += [m.id for m in marks.values() if m.refs and m.refs in [marks[s].refs for s in drawn]]
            root = next(
                (r for s in drawn if (r := same.get((s, _family(f)))) is not None), same.get((f.subject, _family(f)))
            )
        elif f.rule in ("value.model", "count.model") and root != f.id and f.subject not in shifted:
            # Another part of the same statement is another difference, but for the sizes of one seat; and where the end of
            # a hole is another, so is the side that its seats are counted from.
            root = same.get((f.subject, _family(f)))
            if root is None and _SEAT.match(f.part):
                root = same.get((f.subject, "through"))
        same.setdefault((f.subject, _family(f)), f.id)
        if root not in (None, f.id):
            f.under = root
        elif f.rule == "geometry.lost":
            _under_members(f, marks, first)
    _of_rings(out, marks)
    _together(out)
    _free(out, marks, measurer, proofs, first)
    return out


def _stating(f: Finding, marks: dict[str, Annotation], measurer: Remeasurer) -> list[str]:
    """The statements of what a line of the source is about, where none holds: those that name faces of it and no others."""
    mine = set(f.about.faces)
    out = []
    for mark in marks.values():
        found = measurer.resolutions(mark.sheet)
        named = {k for r in mark.refs if r in found for k in found[r].faces}
        if named and named <= mine:
            out.append(mark.id)
    return out


def _family(f: Finding) -> str:
    """What of a feature a finding is about: the far counterbore, say, with all its sizes."""
    part = f.part or f.rule
    return part.rsplit("-", 1)[0] if _SEAT.match(part) else part


def _numbered(findings: list[Finding]) -> list[Finding]:
    seen: dict[str, int] = defaultdict(int)
    out = []
    for f in findings:
        name = ":".join(str(x) for x in (f.rule, f.subject, f.part) if x)
        seen[name] += 1
        out.append(replace(f, id=name if seen[name] == 1 else f"{name}:{seen[name]}"))
    return out


def _under_members(f: Finding, marks: dict[str, Annotation], first: dict[str, str]) -> None:
    """A location whose hole is gone follows from the note that misses it."""
    mark = marks.get(f.subject)
    if mark is None:
        return
    for other, root in first.items():
        named = marks.get(other)
        if named is not None and other != mark.id and set(mark.refs) & set(named.refs):
            f.under = root
            return


def _of_rings(out: list[Finding], marks: dict[str, Annotation]) -> None:
    """The place of a member of a ring whose pitch circle differs follows from the ring."""
    rings = [
        (f.id, set(marks[f.subject].refs))
        for f in out
        if f.rule == "value.model" and f.part == "pitch-circle" and f.subject in marks
    ]
    for f in out:
        if f.rule == "value.model" and f.part == "length" and not f.under:
            root = next((ring for ring, refs in rings if set(marks[f.subject].refs) & refs), None)
            if root is not None:
                f.under = root


def _together(out: list[Finding]) -> None:
    """Geometry that is gone at one stroke, and the mass of a part that differs: one event."""
    errors = [f for f in out if f.severity == "error" and not f.under and not f.rule.startswith("title.")]
    lost = [f for f in errors if f.rule == "geometry.lost"]
    for f in lost[1:]:
        f.under = lost[0].id
    model = [f for f in errors if f.rule in ("value.model", "count.model", "geometry.shift", "geometry.lost")]
    weight = next((f for f in errors if f.rule == "mass.source"), None)
    for f in out:
        if f.rule == "title.mass" and f.severity == "error" and model:
            f.under = model[0].id
        if f.rule == "centre.source" and weight is not None:
            f.under = weight.id


def _shifts(
    findings: list[Finding], document: SheetDocument, measurer: Remeasurer, proofs: Sequence[StatementProof]
) -> list[Finding]:
    """Where several lengths differ by one shift of one thing, that thing."""
    wrong = {f.subject for f in findings if f.rule == "value.model" and f.part == "length"}
    out: list[Finding] = []
    by_id = {p.id: p for p in proofs}
    for page in document.pages:
        shape, _ = shape_of(measurer.solid(page.number))
        found = measurer.resolutions(page.number)
        shifts: dict[tuple[int, int], list[tuple[str, float]]] = defaultdict(list)
        for mark in document.annotations:
            if mark.sheet != page.number or mark.id not in wrong or not isinstance(mark, Linear | Ordinate):
                continue
            part = by_id[mark.id].part("length")
            for said in stated_rows(shape, document, mark, found):
                if part is None or not isinstance(part.stated, float) or not isinstance(part.measured, float):
                    continue
                size = sum(
                    v * shape.unknowns[k].value for k, v in said.row.items() if shape.unknowns[k].kind == "level"
                )
                gap = (part.measured - part.stated) * (1.0 if size >= 0 else -1.0)
                for k, v in said.row.items():
                    shift = gap / v
                    for cell in (round(shift / _ALIKE), round(shift / _ALIKE + 0.5)):
                        shifts[(k, cell)].append((mark.id, shift))
        taken: set[str] = set()
        for (k, _), members in sorted(shifts.items(), key=lambda s: (-len(s[1]), s[0])):
            left = {m: s for m, s in members if m not in taken}
            if len(left) < 2:
                continue
            taken |= set(left)
            out.append(_shift(document.unit, shape.unknowns[k], left, {m: by_id[m].text for m in left}))
    return out


def _shift(unit: Unit, unknown: Any, members: dict[str, float], texts: dict[str, str]) -> Finding:
    by = next(iter(members.values()))
    ids = list(members)
    said = ", ".join(f"“{texts[m]}”" for m in ids[:4]) + (f" and {len(ids) - 4} more" if len(ids) > 4 else "")
    axis = "" if unknown.direction is None else f" along {'xyz'[int(abs(unknown.direction).argmax())]}"
    what = {"axis": "the axis", "plane": "the flat face"}.get(unknown.holder, "the place")
    message = f"{said} all differ by {write_length(abs(by), unit)}: {what} that they share stands elsewhere{axis} in this model."
    return Finding("geometry.shift", "error", ids[0], message, None, by, about=About(statements=tuple(ids)))


def _free(
    out: list[Finding],
    marks: dict[str, Annotation],
    measurer: Remeasurer,
    proofs: Sequence[StatementProof],
    first: dict[str, str],
) -> None:
    """What is free because a statement fell, or on a place that its count missed: under that statement; of several like
    things, or several things of one face, under the first. A note without a place: under what is free."""
    fallen: list[tuple[int, str, set[int], set[int]]] = []
    by_id = {p.id: p for p in proofs}
    for subject, root in first.items():
        mark = marks.get(subject)
        if mark is not None:
            touched = _touched(mark, measurer)
            more = {f for p in by_id[subject].parts for f in p.more} if subject in by_id else set()
            fallen.append((mark.sheet, root, touched, more))
    for f in out:
        mark = marks.get(f.subject) if f.rule == "geometry.lost" else None
        if mark is not None:
            fallen.append((mark.sheet, f.under or f.id, _ends_left(mark, measurer), set()))
    alike: dict[tuple[int, str], str] = {}
    of_face: dict[tuple[int, int], str] = {}
    for f in out:
        if f.under or f.rule != "complete.free":
            continue
        moves, faces, sheet = set(f.about.moves), set(f.about.faces), f.about.sheet
        over = next((r for s, r, touched, more in fallen if s == sheet and (touched & moves or more & faces)), None)
        words = str(f.subject)
        kind = (sheet, words.split(" at (")[0] if " at (" in words else str(f.id))
        over = (
            over or alike.get(kind) or next((of_face[(sheet, k)] for k in sorted(faces) if (sheet, k) in of_face), None)
        )
        if over is not None:
            f.under = over
        top = over or str(f.id)
        for k in faces:
            of_face.setdefault((sheet, k), top)
        alike.setdefault(kind, top)
    for f in out:
        if not f.under and f.rule == "statement.unproven":
            place = _place_root(f, marks, measurer, out)
            if place is not None:
                f.under = place


def _ends_left(mark: Annotation, measurer: Remeasurer) -> set[int]:
    """The places of what a statement that lost one end still names."""
    shape, _ = shape_of(measurer.solid(mark.sheet))
    found = measurer.resolutions(mark.sheet)
    return {k for r in mark.refs for f in found[r].faces for _, k in shape.motions[f].axes}


def _touched(mark: Annotation, measurer: Remeasurer) -> set[int]:
    """The unknowns that a statement would help to fix: those of its rows, the floors that its walls end on, and those of
    its pitch circle when it says EQ SP."""
    whole, _ = shape_of(measurer.solid(mark.sheet))
    shape, before = whole.overlay(), len(whole.unknowns)
    found = measurer.resolutions(mark.sheet)
    rows = list(stated_rows(shape, measurer.document, mark, found))
    if isinstance(mark, Leader | Note) and mark.says.part("equally-spaced"):
        for other in measurer.document.annotations:
            if other.kind == "bolt-circle" and other.refs == mark.refs:
                rows += stated_rows(shape, measurer.document, other, found, True)
    touched = {k for said in rows for k in said.row if k < before}
    walls = {f for r in mark.refs for f in found[r].faces}
    ends = {other for wall in walls for _, other in shape.solid.neighbours[wall]}
    return touched | {
        k for f in ends for _, k in shape.motions[f].axes if shape.unknowns[k].holder in ("floor", "apex")
    }


def _place_root(f: Finding, marks: dict[str, Annotation], measurer: Remeasurer, out: list[Finding]) -> str | None:
    mark = marks.get(f.subject)
    if mark is None:
        return None
    shape, _ = shape_of(measurer.solid(mark.sheet))
    found = measurer.resolutions(mark.sheet)
    places = {k for r in mark.refs for face in found[r].faces for _, k in shape.motions[face].axes}
    for other in out:
        if other.rule == "complete.free" and other.about.sheet == mark.sheet and places & other.about.moves:
            return other.under or other.id
    return None
