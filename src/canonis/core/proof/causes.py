"""One difference is one finding: what follows from it is listed under it, not beside it."""

from collections import defaultdict
from collections.abc import Sequence
from typing import Any

from canonis.core.proof.judge import Judgement
from canonis.core.proof.measure import Remeasurer
from canonis.core.proof.statement import StatementProof
from canonis.core.quantity.units import Unit
from canonis.core.quantity.written import write_length
from canonis.core.shape.implied import shape_of
from canonis.core.sheet.document import Annotation, SheetDocument
from canonis.core.sheet.equations import stated_rows

__all__ = ["linked"]

#: Shifts nearer than this are one shift, mm.
_ALIKE = 2e-3
#: What is a consequence wherever it stands, and never a cause.
_FOLLOWING = ("geometry.moved", "geometry.resized")


def linked(findings: list[dict[str, Any]], document: SheetDocument, measurer: Remeasurer, proofs: Sequence[StatementProof],
           judged: dict[int, Judgement]) -> list[dict[str, Any]]:  # fmt: skip
    """The findings with an id each, those that follow from another `under` it."""
    out = _numbered([*_shifts(findings, document, measurer, proofs), *findings])
    marks = {a.id: a for a in document.annotations}
    first: dict[str, str] = {}
    for f in out:
        if f["rule"] == "geometry.shift":
            for subject in f["subjects"]:
                first.setdefault(subject, f["id"])
    for f in out:
        if f["severity"] == "error" and f["rule"] not in ("geometry.lost", "geometry.shift"):
            first.setdefault(f["subject"], f["id"])
    for f in out:
        root = first.get(f["subject"])
        if root not in (None, f["id"]):
            f["under"] = root
        elif f["rule"] == "geometry.lost":
            _under_members(f, marks, first)
    _free(out, marks, measurer, judged, first)
    return [{k: v for k, v in f.items() if k not in ("subjects", "moves", "sheet")} for f in out]


def _numbered(findings: list[dict[str, Any]]) -> list[dict[str, Any]]:
    seen: dict[str, int] = defaultdict(int)
    out = []
    for f in findings:
        name = ":".join(str(x) for x in (f["rule"], f["subject"], f.get("part")) if x)
        seen[name] += 1
        out.append({**f, "id": name if seen[name] == 1 else f"{name}:{seen[name]}"})
    return out


def _under_members(f: dict[str, Any], marks: dict[str, Annotation], first: dict[str, str]) -> None:
    """A location whose hole is gone follows from the note that misses it."""
    mark = marks.get(f["subject"])
    if mark is None:
        return
    for other, root in first.items():
        named = marks.get(other)
        if named is not None and other != mark.id and set(mark.refs) & set(named.refs):
            f["under"] = root
            return


def _shifts(findings: list[dict[str, Any]], document: SheetDocument, measurer: Remeasurer,
            proofs: Sequence[StatementProof]) -> list[dict[str, Any]]:  # fmt: skip
    """Where several lengths differ by one shift of one thing, that thing."""
    wrong = {f["subject"] for f in findings if f["rule"] == "value.model" and f.get("part") == "length"}
    out: list[dict[str, Any]] = []
    by_id = {p.id: p for p in proofs}
    for page in document.pages:
        shape, _ = shape_of(measurer.solid(page.number))
        found = measurer.resolutions(page.number)
        shifts: dict[tuple[int, int], list[tuple[str, float]]] = defaultdict(list)
        for mark in document.annotations:
            if mark.sheet != page.number or mark.id not in wrong:
                continue
            part = by_id[mark.id].part("length")
            for said in stated_rows(shape, document, mark, None, found):
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


def _shift(unit: Unit, unknown: Any, members: dict[str, float], texts: dict[str, str]) -> dict[str, Any]:
    by = next(iter(members.values()))
    ids = list(members)
    said = ", ".join(f"“{texts[m]}”" for m in ids[:4]) + (f" and {len(ids) - 4} more" if len(ids) > 4 else "")
    axis = "" if unknown.direction is None else f" along {'xyz'[int(abs(unknown.direction).argmax())]}"
    what = {"axis": "the axis", "plane": "the flat face"}.get(unknown.holder, "the place")
    return {
        "rule": "geometry.shift", "severity": "error", "subject": ids[0], "subjects": ids, "expected": None,
        "found": by, "message": f"{said} all differ by {write_length(abs(by), unit)}: {what} that they share stands "
        f"elsewhere{axis} in this model.",
    }  # fmt: skip


def _free(out: list[dict[str, Any]], marks: dict[str, Annotation], measurer: Remeasurer, judged: dict[int, Judgement],
          first: dict[str, str]) -> None:  # fmt: skip
    """What is free because a statement fell: under that statement. A note without a place: under what is free."""
    fallen: list[tuple[int, str, set[int]]] = []
    document = measurer.document
    for subject, root in first.items():
        mark = marks.get(subject)
        if mark is None:
            continue
        shape, _ = shape_of(measurer.solid(mark.sheet))
        before = len(shape.unknowns)
        rows = stated_rows(shape, document, mark, measurer.prove(mark).reading, measurer.resolutions(mark.sheet))
        touched = {k for said in rows for k in said.row}
        del shape.unknowns[before:]
        if touched:
            fallen.append((mark.sheet, root, touched))
    for f in out:
        if "under" in f or f["rule"] not in ("complete.free", "statement.unproven"):
            continue
        if f["rule"] == "complete.free":
            moves = set(f.get("moves", ()))
            f_root = next((root for sheet, root, touched in fallen if sheet == f["sheet"] and touched & moves), None)
        else:
            f_root = _place_root(f, marks, measurer, out)
        if f_root is not None:
            f["under"] = f_root


def _place_root(
    f: dict[str, Any], marks: dict[str, Annotation], measurer: Remeasurer, out: list[dict[str, Any]]
) -> str | None:
    mark = marks.get(f["subject"])
    if mark is None:
        return None
    shape, _ = shape_of(measurer.solid(mark.sheet))
    found = measurer.resolutions(mark.sheet)
    places = {k for r in mark.refs for face in found[r].faces for _, k in shape.motions[face].axes}
    for other in out:
        if (
            other["rule"] == "complete.free"
            and other.get("sheet") == mark.sheet
            and places & set(other.get("moves", ()))
        ):
            return str(other.get("under", other["id"]))
    return None
