"""The whole proof of a sheet: statements, completeness, source, mass; findings and the ledger."""

from collections.abc import Mapping
from dataclasses import asdict, dataclass, field, replace
from typing import Any

from canonis.core.mass.checkpoint import check_mass
from canonis.core.solid.hints import Hints
from canonis.core.proof.causes import linked
from canonis.core.proof.judge import Judgement, Stated, judge_page
from canonis.core.proof.matching import Match, match_all, write_part
from canonis.core.proof.measure import Known, Remeasurer, is_statement
from canonis.core.proof.statement import PartProof, StatementProof
from canonis.core.proof.whole import check_whole
from canonis.core.quantity.units import Unit
from canonis.core.sheet.document import Annotation, Leader, SheetDocument
from canonis.core.slips.numbers import number_slips
from canonis.core.solid.model import Solid
from canonis.core.source.specification import Specification

__all__ = ["Check", "check_sheet"]


@dataclass(frozen=True)
class Check:
    """The result of a proof."""

    statements: tuple[StatementProof, ...]
    matches: dict[str, Match]
    findings: tuple[dict[str, Any], ...]
    complete: dict[str, Any]
    mass: dict[str, Any]
    ledger: tuple[dict[str, Any], ...] = field(default=())
    #: The levels along each direction of each sheet, and the lengths stated between them.
    ladders: tuple[dict[str, Any], ...] = field(default=())
    #: What is drawn level and never said, though the sheet is complete only when it is read so.
    drawn_level: tuple[str, ...] = ()

    def as_json(self) -> dict[str, Any]:
        """The proof as `canonis check` prints it."""
        states = [s.state for s in self.statements]
        contradicted = sum(s in ("contradicted", "lost") for s in states)
        return {
            "schema": "canonis.check/1",
            "summary": {"proven": sum(s in ("proven", "reference") for s in states),
                        "unproven": states.count("unproven"), "contradicted": contradicted},
            "findings": list(self.findings), "mass": self.mass, "complete": self.complete,
            "ledger": list(self.ledger), "ladders": list(self.ladders), "drawn_level": list(self.drawn_level),
        }  # fmt: skip


def _words(p: PartProof, unit: Unit) -> tuple[str, str]:
    def one(value: Any) -> str:
        if isinstance(value, bool):
            return "yes" if value else "no"
        return write_part(p.name, value, unit) if isinstance(value, float) else "nothing"

    return one(p.stated), one(p.measured)


def _slip(part: PartProof) -> str:
    """The likely slip behind a difference, where one fits the figures exactly."""
    if not isinstance(part.stated, float) or not isinstance(part.measured, float) or part.name == "count":
        return ""
    angle = part.name.endswith("angle")
    if abs(part.measured - part.stated) < 1e-3:
        return ""
    hit = next(number_slips(part.stated, part.measured, angle=angle, room=2e-3 * max(1.0, abs(part.stated))), None)
    return f" Likely: {hit.words}." if hit else ""


def _statement_findings(p: StatementProof, unit: Unit) -> list[dict[str, Any]]:
    out: list[dict[str, Any]] = []
    if p.state == "lost":
        out.append({"rule": "geometry.lost", "severity": "error", "subject": p.id, "expected": None, "found": None,
                    "message": f"“{p.text}” has lost its geometry: {p.note}. Delete it or point it at what replaced it."})  # fmt: skip
    elif p.state == "unproven":
        reason = p.note or "its location is not stated"
        out.append({"rule": "statement.unproven", "severity": "warning", "subject": p.id, "expected": None,
                    "found": None, "message": f"“{p.text}” is not proven: {reason}."})  # fmt: skip
    for part in p.parts:
        if part.ok:
            continue
        if part.name == "location":
            continue
        stated, measured = _words(part, unit)
        name = part.name.replace("-", " ")
        message = f"“{p.text}”: the sheet says {name} {stated}, the model has {measured}.{_slip(part)}"
        if part.name == "count":
            message = f"“{p.text}”: the sheet says {stated}, the model has {measured}; a member is missing or extra."
        if part.stated is None:
            message = f"“{p.text}” says nothing of the {name} {measured} that the model has."
        if part.name == "side":
            message = f"“{p.text}”: the hole opens on the far side of its view in the model."
        if part.name == "equally-spaced":
            message = (
                f"“{p.text}”: the sheet says EQ SP, but in the model the holes do not stand at equal angles all around."
            )
        if part.name == "equal-members":
            message = f"“{p.text}”: the holes of this note differ in the model, from {stated} to {measured}."
        if part.name == "through":
            message = f"“{p.text}”: the sheet says THRU, but in the model the hole has a floor."
        out.append({"rule": "count.model" if part.name == "count" else "value.model", "severity": "error",
                    "subject": p.id, "part": part.name, "expected": part.stated, "found": part.measured,
                    "message": message})  # fmt: skip
    if p.change in ("moved", "resized") and p.state == "contradicted":
        out.append({"rule": f"geometry.{p.change}", "severity": "advice", "subject": p.id, "expected": None, "found": None,
                    "message": f"“{p.text}” followed its geometry, which was {p.change} in this model."})  # fmt: skip
    return out


def _match_findings(spec: Specification, matches: dict[str, Match], unit: Unit) -> list[dict[str, Any]]:
    out: list[dict[str, Any]] = []
    for c in spec.characteristics:
        match = matches.get(c.number)
        if match is None or match.state in ("proven", "reference"):
            continue
        if match.state == "unproven":
            out.append({"rule": "source.undrawn", "severity": "warning", "subject": f"#{c.number}", "expected": c.text,
                        "found": None, "message": f"#{c.number} “{c.text}” is not on the sheet: {match.how}."})  # fmt: skip
            continue
        for part in match.parts:
            if part.ok:
                continue
            source, model = write_part(part.name, part.source, unit), write_part(part.name, part.model, unit)
            name = part.name.replace("-", " ")
            message = f"#{c.number} “{c.text}”: the source says {name} {source}, the model has {model}."
            if part.source is None:
                message = f"#{c.number} “{c.text}”: the source says {name}, the model or the sheet does not show it."
            out.append({"rule": "value.source", "severity": "error", "subject": f"#{c.number}", "part": part.name,
                        "expected": part.source, "found": part.model, "message": message,
                        "drawn": match.statements})  # fmt: skip
    return out


_STATES = {"proven": "proven", "unproven": "unproven", "contradicted": "differs-model", "lost": "lost",
           "reference": "reference", "differs": "differs-source"}  # fmt: skip


def _ledger(
    spec: Specification | None, statements: list[StatementProof], matches: dict[str, Match], unit: Unit,
    mass_rows: list[dict[str, Any]], drawn: Mapping[str, Annotation],
) -> list[dict[str, Any]]:  # fmt: skip
    rows: list[dict[str, Any]] = []
    for c in spec.characteristics if spec else ():
        match = matches.get(c.number)
        parts = [p for p in match.parts if p.source is not None] if match else []
        bad = next((p for p in parts if not p.ok), None)
        main = bad or (match.main if match else None)
        gap = None
        if main and main.model is not None and main.source is not None:
            gap = main.model - main.source
        unit_name = main.name if main else "length"
        rows.append({
            "key": f"c:{c.number}", "kind": "characteristic", "number": c.number, "text": c.text, "words": c.words,
            "where": c.where, "source": write_part(unit_name, main.source, unit) if main else c.text,
            "drawn": write_part(unit_name, main.drawn, unit) if main else None,
            "model": write_part(unit_name, main.model, unit) if main else None,
            "difference": None if gap is None or abs(gap) < 5e-7 else _gap(unit_name, gap, unit),
            "state": "unread" if c.error else _STATES[match.state] if match else "unproven",
            "statements": list(match.statements) if match else [], "how": match.how if match else "",
        })  # fmt: skip
    for p in statements:
        part = next((x for x in p.parts if not x.ok), None) or p.main or (p.parts[0] if p.parts else None)
        stated, measured = _words(part, unit) if part else (p.text, "nothing")
        gap = None
        if part and isinstance(part.stated, float) and isinstance(part.measured, float):
            gap = part.measured - part.stated
        matched = [n for n, m in matches.items() if p.id in m.statements]
        rows.append({
            "key": f"s:{p.id}", "kind": "statement", "number": p.id, "text": p.text, "words": p.kind,
            "source": ", ".join(f"#{n}" for n in matched) or None, "drawn": stated, "model": measured,
            "difference": None if gap is None or abs(gap) < 5e-7 else _gap(part.name if part else "", gap, unit),
            "state": _STATES[p.state], "statements": [p.id], "how": p.note, "change": p.change,
            "view": drawn[p.id].view or "", "feature": drawn[p.id].feature or "",
        })  # fmt: skip
    return rows + [{**r, "state": _STATES[r["state"]], "statements": []} for r in mass_rows]


def _gap(name: str, gap: float, unit: Unit) -> str:
    if name == "count":
        return f"{gap:+g}"
    scale = 25.4 if unit is Unit.INCH and not name.endswith("angle") else 1.0
    return f"{gap / scale:+.4g}"


def _judge(
    document: SheetDocument, solids: tuple[Solid, ...], measurer: Remeasurer, proofs: list[StatementProof]
) -> list[Judgement]:
    """What the equations say of each page; contradicted statements give none."""
    by_id = {p.id: p for p in proofs}
    out = []
    for page in document.pages:
        stated = [
            Stated(mark, by_id[mark.id].reading, mark.reference, by_id[mark.id].levels)
            for mark in document.annotations
            if mark.sheet == page.number and mark.id in by_id and by_id[mark.id].state in ("proven", "reference")
        ]
        out.append(judge_page(document, page, solids[page.solid], stated, measurer.resolutions(page.number)))
    return out


def _complete(document: SheetDocument, judged: list[Judgement], proofs: list[StatementProof]) -> dict[str, Any]:
    texts = {p.id: p.text for p in proofs}
    free: list[str] = []
    redundant: list[str] = []
    for page, one in zip(document.pages, judged, strict=True):
        sheet = f"sheet {page.number}: " if len(judged) > 1 else ""
        free += [sheet + f.words for f in one.free]
        for loop in one.loops:
            others = ", ".join(f"{o} “{texts[o]}”" for o in loop.others)
            redundant.append(f"{sheet}{loop.statement} “{texts[loop.statement]}” states what {others} state")
    return {"ok": not free and not redundant, "free": list(dict.fromkeys(free)), "redundant": redundant}


def check_sheet(
    document: SheetDocument, solids: tuple[Solid, ...], spec: Specification | None = None, *, density: float | None = None,
    links: dict[str, str | None] | None = None, known: Known | None = None, hints: tuple[Hints, ...] = (),
) -> Check:  # fmt: skip
    """Prove a document on a model, and against a specification when one is given.

    `density` (g/cm³) overrides the specification's own. `known` are proofs of statements on the same model by the
    same code; those made here are added to it. `hints` (one a solid) are what the recogniser found, as data.
    """
    measurer = Remeasurer(document, solids, known)
    proofs = [measurer.prove(a) for a in document.annotations if is_statement(a)]
    judged = _judge(document, solids, measurer, proofs)
    systems = {page.number: one for page, one in zip(document.pages, judged, strict=True)}
    by_id = {a.id: a for a in document.annotations}
    final: list[StatementProof] = []
    for p in proofs:
        mark = by_id[p.id]
        if isinstance(mark, Leader) and mark.kind == "hole" and p.parts:
            missing = systems[mark.sheet].unlocated(
                solids[measurer.page(mark.sheet).solid], mark, measurer.resolutions(mark.sheet)
            )
            part = PartProof("location", not missing, not missing, not missing)
            state = "unproven" if missing and p.state == "proven" else p.state
            note = f"{missing} of {len(mark.refs)} positions are stated nowhere" if missing else p.note
            p = replace(p, parts=(*p.parts, part), state=state, note=note)
        final.append(p)
    complete = _complete(document, judged, final)
    findings = [f for p in final for f in _statement_findings(p, document.unit)]
    for number, one in systems.items():
        for free in one.free:
            sheet = f"sheet {number}: " if len(systems) > 1 else ""
            findings.append({"rule": "complete.free", "severity": "warning", "subject": sheet + free.words, "expected": None,
                             "found": None, "message": f"Not stated anywhere on the sheet: {sheet}{free.words}.",
                             "moves": free.moves, "faces": free.faces, "sheet": number})  # fmt: skip
    for item in complete["redundant"]:
        findings.append({"rule": "complete.redundant", "severity": "warning", "subject": item, "expected": None,
                         "found": None, "message": f"Said twice: {item}; mark one as reference."})  # fmt: skip
    matches: dict[str, Match] = {}
    mass_rows: list[dict[str, Any]] = []
    first = solids[document.pages[0].solid]
    if spec is not None:
        matches = match_all(list(spec.characteristics), final, document.unit, links or {})
        findings += [dict(f) for f in spec.findings if f["severity"] != "advice"]
        findings += _match_findings(spec, matches, document.unit)
        last = spec.checkpoints[-1] if spec.checkpoints else None
        mass_rows, mass_findings = check_mass(
            first, hints[document.pages[0].solid] if hints else Hints(), density, last, document.unit
        )
        findings += mass_findings
    findings += check_whole(document, solids, spec, density)
    findings = linked(findings, document, measurer, final)
    ledger = _ledger(spec, final, matches, document.unit, mass_rows, {a.id: a for a in document.annotations})
    mass = {
        "mass_g": None if density is None else first.mass.volume * density / 1000,
        "centroid_mm": [round(float(c), 9) for c in first.mass.centre], "volume_mm3": first.mass.volume,
    }  # fmt: skip
    ladders = tuple({"sheet": number, **asdict(ladder)} for number, one in systems.items() for ladder in one.ladders)
    levels = tuple(
        (f"sheet {number}: " if len(systems) > 1 else "") + words
        for number, one in systems.items()
        for words in one.levels
    )
    return Check(tuple(final), matches, tuple(findings), complete, mass, tuple(ledger), ladders, levels)
