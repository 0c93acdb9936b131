"""The whole proof of a sheet: statements, completeness, source, mass; findings and the ledger."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import asdict, dataclass, field, replace
from typing import Any

import numpy as np

from canonis.core.finding import About, Finding
from canonis.core.mass import check_mass
from canonis.core.proof.causes import linked
from canonis.core.proof.judge import Free, Judgement, Stated, judge_page
from canonis.core.proof.ledger import ledger_lines, said
from canonis.core.proof.match.which import source_solid, which_words
from canonis.core.proof.matching import Match, MatchMemory, match_all
from canonis.core.proof.measure import Known, Remeasurer, is_statement
from canonis.core.proof.source_findings import source_findings, unexplained_sizes
from canonis.core.proof.statement import PartProof, StatementProof
from canonis.core.proof.whole import check_whole
from canonis.core.proof.windows import unshown
from canonis.core.quantity import Unit, write_length
from canonis.core.sheet import Annotation, Leader, SheetDocument, SheetPage, settled
from canonis.core.slips import number_slips
from canonis.core.solid import Hints, Solid
from canonis.core.source import Specification
from canonis.core.tolerances import same

__all__ = ["Check", "check_sheet", "judge_sheets"]


@dataclass(frozen=True)
class Check:
    """The result of a proof."""

    statements: tuple[StatementProof, ...]
    matches: dict[str, Match]
    findings: tuple[Finding, ...]
    complete: dict[str, Any]
    mass: dict[str, Any]
    ledger: tuple[dict[str, Any], ...] = field(default=())
    #: The levels along each direction of each sheet, and the lengths stated between them.
    ladders: tuple[dict[str, Any], ...] = field(default=())
    #: What is drawn level and never said, though the sheet is complete only when it is read so.
    drawn_level: tuple[str, ...] = ()
    #: Sizes that the model has and no line of the source implies.
    unexplained: tuple[dict[str, Any], ...] = ()
    #: Whether rivals of the lines' places were looked for.
    asked: bool = True
    #: What the draft had planned and its proof did not bear out.
    withdrawn: tuple[dict[str, Any], ...] = ()

    def as_json(self) -> dict[str, Any]:
        """The proof as `canonis check` prints it."""
        states = [s.state for s in self.statements]
        contradicted = sum(s in ("contradicted", "lost") for s in states)
        return {
            "schema": "canonis.check/1",
            "summary": {
                "proven": sum(s in ("proven", "reference") for s in states),
                "unproven": states.count("unproven"),
                "contradicted": contradicted,
            },
            "findings": [f.as_json() for f in self.findings],
            "mass": self.mass,
            "complete": self.complete,
            "ledger": list(self.ledger),
            "ladders": list(self.ladders),
            "drawn_level": list(self.drawn_level),
            "unexplained": list(self.unexplained),
            "asked": self.asked,
            "withdrawn": list(self.withdrawn),
        }


def _slip(part: PartProof) -> str:
    """The likely slip behind a difference, where one fits the figures exactly."""
    if not isinstance(part.stated, float) or not isinstance(part.measured, float) or part.name == "count":
        return ""
    angle = part.name.endswith("angle")
    if same(part.measured, part.stated):
        return ""
    hit = next(number_slips(part.stated, part.measured, angle=angle, room=2e-3 * max(1.0, abs(part.stated))), None)
    return f" Likely: {hit.words}." if hit else ""


def _statement_findings(p: StatementProof, unit: Unit) -> list[Finding]:
    out: list[Finding] = []
    if p.state == "lost":
        message = f"“{p.text}” has lost its geometry: {p.note}. Delete it or point it at what replaced it."
        out.append(Finding("geometry.lost", "error", p.id, message))
    elif p.state == "unproven":
        reason = p.note or "its location is not stated"
        out.append(Finding("statement.unproven", "warning", p.id, f"“{p.text}” is not proven: {reason}."))
    for part in p.parts:
        if part.ok or part.why or part.name == "location":
            continue
        stated, measured = said(part, unit)
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
        rule = "count.model" if part.name == "count" else "value.model"
        out.append(Finding(rule, "error", p.id, message, part.stated, part.measured, part.name))
    if p.change in ("moved", "resized") and p.state == "contradicted":
        message = f"“{p.text}” followed its geometry, which was {p.change} in this model."
        out.append(Finding(f"geometry.{p.change}", "advice", p.id, message))
    return out


def judge_sheets(
    document: SheetDocument, solids: tuple[Solid, ...], measurer: Remeasurer, proofs: list[StatementProof]
) -> list[Judgement]:
    """What the equations say of each page; contradicted statements give none."""
    by_id = {p.id: p for p in proofs}
    out = []
    for page in document.pages:
        stated = [
            Stated(mark, mark.reference, by_id[mark.id].levels)
            for mark in document.annotations
            if mark.sheet == page.number and mark.id in by_id and by_id[mark.id].state in ("proven", "reference")
        ]
        one = judge_page(document, page, solids[page.solid], stated, measurer.resolutions(page.number))
        out.append(_with_openings(one, document, page, solids[page.solid], measurer))
    return out


def _with_openings(
    one: Judgement, document: SheetDocument, page: SheetPage, solid: Solid, measurer: Remeasurer
) -> Judgement:
    """A judgement with the openings of which the page does not show how far they go among what is left open."""
    out = []
    for opening in unshown(document, page, solid, measurer.resolutions(page.number)):
        at = ", ".join(write_length(float(c), document.unit) for c in opening.middle - np.array(page.datum))
        out.append(Free(f"how far the opening at ({at}) goes, which no view or section shows", opening.sides))
    return replace(one, free=(*one.free, *out))


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


def _with_place(
    proof: StatementProof, mark: Annotation, systems: Mapping[int, Judgement], measurer: Remeasurer
) -> StatementProof:
    """The proof of a hole note with whether every hole's place is stated."""
    if not (isinstance(mark, Leader) and mark.kind == "hole" and proof.parts):
        return proof
    missing = systems[mark.sheet].unlocated(measurer.solid(mark.sheet), mark, measurer.resolutions(mark.sheet))
    part = PartProof("location", not missing, not missing, not missing)
    state = "unproven" if missing and proof.state == "proven" else proof.state
    note = f"{missing} of {len(mark.refs)} positions are stated nowhere" if missing else proof.note
    return replace(proof, parts=(*proof.parts, part), state=state, note=note)


def _completeness_findings(systems: Mapping[int, Judgement], complete: dict[str, Any]) -> Iterator[Finding]:
    """What is free, sheet by sheet, and what is said twice."""
    for number, one in systems.items():
        for free in one.free:
            sheet = f"sheet {number}: " if len(systems) > 1 else ""
            about = About(moves=frozenset(free.moves), faces=frozenset(free.faces), sheet=number)
            message = f"Not stated anywhere on the sheet: {sheet}{free.words}."
            yield Finding("complete.free", "warning", sheet + free.words, message, about=about)
    for item in complete["redundant"]:
        yield Finding("complete.redundant", "warning", item, f"Said twice: {item}; mark one as reference.")


def _levels(systems: Mapping[int, Judgement]) -> tuple[str, ...]:
    """The levels that a sheet fixes, in words, with the sheet's number where there are several."""
    return tuple(
        (f"sheet {number}: " if len(systems) > 1 else "") + words
        for number, one in systems.items()
        for words in one.levels
    )


@dataclass
class _Against:
    """What comes of holding a sheet against its source."""

    matches: dict[str, Match] = field(default_factory=dict)
    findings: list[Finding] = field(default_factory=list)
    mass_rows: list[dict[str, Any]] = field(default_factory=list)
    unexplained: list[dict[str, Any]] = field(default_factory=list)
    asked: bool = True
    #: The solid that the source is about; None where it does not tell.
    solid: int | None = None


def _against(
    spec: Specification,
    final: list[StatementProof],
    document: SheetDocument,
    solids: tuple[Solid, ...],
    judged: Sequence[Judgement],
    *,
    density: float | None,
    hints: tuple[Hints, ...],
    **how: Any,
) -> _Against:
    """Hold a sheet against its source, line by line and by its last checkpoint; `how` goes to the matching."""
    of = source_solid(spec, solids)
    index = document.pages[0].solid if of is None else of
    matches, source = match_all(spec, final, document, solids, judged, hints=hints, **how)
    # A finding of the source gets its name and what it follows from on this sheet.
    findings = [replace(f) for f in spec.findings if f.severity != "advice"]
    findings += source_findings(spec, matches, source, document.unit)
    if of is None:
        findings.append(Finding("source.solid", "warning", "header", which_words(solids)))
    last = spec.checkpoints[-1] if spec.checkpoints and of is not None else None
    held = hints[index] if hints else Hints()
    mass_rows, mass_findings = check_mass(solids[index], held, density, last, document.unit)
    unexplained = unexplained_sizes(source, document.unit, solids[index])
    return _Against(matches, findings + mass_findings, mass_rows, unexplained, source.asked, of)


def check_sheet(
    document: SheetDocument,
    solids: tuple[Solid, ...],
    spec: Specification | None = None,
    *,
    density: float | None = None,
    links: dict[str, str | None] | None = None,
    known: Known | None = None,
    hints: tuple[Hints, ...] = (),
    memory: MatchMemory | None = None,
    progress: Callable[[str], None] = lambda _: None,
    rivals: bool = True,
    ticked: Mapping[str, str] | None = None,
) -> Check:
    """Prove a document on a model, and against a specification when one is given.

    `density` (g/cm³) overrides the specification's own. `known` are proofs of statements on the same model by the
    same code; those made here are added to it. `hints` (one a solid) are what the recogniser found, as data.
    """
    laid_out = settled(document, solids)
    document = laid_out.joined()
    measurer = Remeasurer(document, solids, known)
    proofs = [measurer.prove(a) for a in document.annotations if is_statement(a)]
    judged = judge_sheets(document, solids, measurer, proofs)
    systems = {page.number: one for page, one in zip(document.pages, judged, strict=True)}
    marks = {a.id: a for a in document.annotations}
    final = [_with_place(p, marks[p.id], systems, measurer) for p in proofs]
    complete = _complete(document, judged, final)
    findings = [f for p in final for f in _statement_findings(p, document.unit)]
    findings += _completeness_findings(systems, complete)
    against = _Against()
    if spec is not None:
        how = {"links": links or {}, "memory": memory, "progress": progress, "rivals": rivals, "ticked": ticked}
        against = _against(spec, final, document, solids, judged, density=density, hints=hints, **how)
    findings += against.findings
    first = solids[document.pages[0].solid if against.solid is None else against.solid]
    findings += check_whole(laid_out, solids, spec, density)
    findings = linked(findings, document, measurer, final)
    ledger = ledger_lines(spec, final, against.matches, document.unit, against.mass_rows, marks)
    mass = {
        "mass_g": None if density is None else first.mass.volume * density / 1000,
        "centroid_mm": [round(float(c), 9) for c in first.mass.centre],
        "volume_mm3": first.mass.volume,
    }
    ladders = tuple({"sheet": number, **asdict(ladder)} for number, one in systems.items() for ladder in one.ladders)
    return Check(
        tuple(final),
        against.matches,
        tuple(findings),
        complete,
        mass,
        tuple(ledger),
        ladders,
        _levels(systems),
        tuple(against.unexplained),
        against.asked,
        tuple(w.model_dump(mode="json") for w in document.withdrawn),
    )
