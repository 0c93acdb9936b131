"""The source of a job: its list, arithmetic, rules and files in and out."""

import json
from typing import Any

from fastapi import APIRouter, HTTPException, Response, UploadFile
from sqlalchemy import select
from sqlalchemy.orm import Session

from canonis.core.faults import BadInput
from canonis.core.source.checkpoints import read_table
from canonis.core.source.completion import complete
from canonis.core.source.editing import apply_edits, from_specification
from canonis.core.source.exchange import read_csv, write_csv
from canonis.core.source.house import CHOICES
from canonis.core.source.shorthand import read_line
from canonis.core.source.specification import Specification, known_values, read_specification, rules_of
from canonis.core.source.words import tolerance_words
from canonis.core.source.workings import work_out
from canonis.store.database import open_session
from canonis.store.specs import header_of, spec_text
from canonis.store.tables import DrawingSet, Job, Print
from canonis.web import bench
from canonis.web.access import job_or_404
from canonis.web.guard import Anyone, Drafter
from canonis.web.models import PastedTable, PrintCard, ReadRequest, SourceEdited, SourceEdits, SourceRead, WorkRequest

__all__ = ["print_card", "read_source", "router", "store_source"]

router = APIRouter(tags=["source"])
_LARGEST_LIST = 4 * 1024 * 1024


def print_card(found: Print) -> PrintCard:
    """A print as the browser lists it."""
    return PrintCard(id=found.id, name=found.name, kind=found.kind, pages=found.pages)  # type: ignore[arg-type]


def _spec(session: Session, job: Job) -> Specification:
    return read_specification(spec_text(job, session.get_one(DrawingSet, job.set_id)))


def read_source(session: Session, job: Job) -> SourceRead:
    """The stored source with everything it means."""
    source = job.source
    prints = session.scalars(select(Print).where(Print.job_id == job.id).order_by(Print.id)).all()
    same: dict[str, Any] = {
        "version": job.source_version, "choices": [c.as_json() for c in CHOICES], "head": source["head"], "revs": source["revs"],
        "prints": [print_card(p) for p in prints],
    }  # fmt: skip
    try:
        spec = _spec(session, job)
    except BadInput as fault:
        # A set's tolerance block, say, that no longer fits: the list is shown as it stands, with the reason.
        bare = [{**line, "words": "", "error": None, "kind": "note", "parts": []} for line in source["lines"]]
        return SourceRead(**same, lines=bare, chains=[], workings=[], checkpoints=[], rules=source["rules"], findings=[],
                          readiness=[str(fault)], fault=str(fault))  # fmt: skip
    lines = [
        {
            **c.as_json(),
            "id": line["id"],
            "rev": line["rev"],
            "flag": line["flag"],
            "tolerance": tolerance_words(c, spec.rules.unit),
        }
        for c, line in zip(spec.characteristics, source["lines"], strict=True)
    ]
    solved = {c.text: c.as_json() for c in spec.chains}
    worked = {w.text: w.as_json(spec.rules.unit) for w in spec.workings}
    weighed = {c.text: c.as_json() for c in spec.checkpoints}
    chains = [{**c, "solved": solved.get(c["text"].strip())} for c in source["chains"]]
    workings = [{"text": t, "made": worked.get(t.strip())} for t in source["workings"]]
    checkpoints = [{"text": t, "read": weighed.get(t.strip())} for t in source["checkpoints"]]
    return SourceRead(**same, lines=lines, chains=chains, workings=workings, checkpoints=checkpoints, rules=dict(spec.rules.house),
                      findings=list(spec.findings), readiness=spec.readiness)  # fmt: skip


def store_source(job: Job, source: dict[str, Any]) -> None:
    """Keep a source and what the job shows of it."""
    head = source["head"]
    job.source = source
    job.title = head.get("title", job.title)
    job.unit, job.style = head.get("unit", job.unit), head.get("style", job.style)
    job.source_version += 1


@router.get("/jobs/{job_id}/source", operation_id="getSource")
def get_source(job_id: int, user: Anyone) -> SourceRead:
    """The source of a job as stored and as read."""
    with open_session() as session:
        return read_source(session, job_or_404(session, job_id))


@router.post("/jobs/{job_id}/source/edits", operation_id="editSource")
def edit_source(job_id: int, body: SourceEdits, user: Drafter) -> SourceEdited:
    """Apply edits; those made on an older state of their line come back as conflicts, the others are stored."""
    with open_session() as session:
        job = job_or_404(session, job_id, lock=True)
        made, conflicts = apply_edits(job.source, body.ops)
        if made != job.source:
            store_source(job, made)
            session.commit()
        return SourceEdited(source=read_source(session, job), conflicts=conflicts)


@router.post("/jobs/{job_id}/read-line", operation_id="readLine")
def preview_line(job_id: int, body: ReadRequest, user: Anyone) -> dict[str, Any]:
    """What a line of shorthand means in a job, and what may come next in it, without storing it."""
    with open_session() as session:
        job = job_or_404(session, job_id)
        shared = session.get_one(DrawingSet, job.set_id)
        try:
            rules = rules_of(header_of(job, shared))
        except BadInput:
            rules = rules_of({"unit": job.unit})
    read = read_line(body.text, rules)
    return {**read.as_json(), "tolerance": tolerance_words(read, rules.unit), "offers": complete(body.text)}


@router.post("/jobs/{job_id}/work-out", operation_id="workOut")
def work_out_text(job_id: int, body: WorkRequest, user: Anyone) -> dict[str, Any]:
    """The value of an expression in a job, with its steps; any field that asks for a number takes one.

    What is typed half-way is no failure: it comes back with its `fault`.
    """
    with open_session() as session:
        spec = _spec(session, job_or_404(session, job_id))
    named = {w.name or f"W{k}": w.amount for k, w in enumerate(spec.workings, start=1)}
    named |= {f"W{k}": w.amount for k, w in enumerate(spec.workings, start=1)}
    try:
        made = work_out(body.text, known_values(list(spec.characteristics), spec.rules.unit, named))
    except BadInput as fault:
        return {"fault": str(fault)}
    return made.as_json(spec.rules.unit)


@router.post("/jobs/{job_id}/checkpoint-table", operation_id="readTable")
def paste_table(job_id: int, body: PastedTable, user: Anyone) -> list[str]:
    """Checkpoint lines from a pasted table, without storing them."""
    with open_session() as session:
        job_or_404(session, job_id)
    return read_table(body.text)


@router.get("/jobs/{job_id}/source/export/{kind}", operation_id="exportSource", response_class=Response)
def export_source(job_id: int, kind: str, user: Anyone) -> Response:
    """The list as csv or pdf, or the whole source as json."""
    with open_session() as session:
        job = job_or_404(session, job_id)
        stem = "".join(c if c.isalnum() or c in "-_" else "-" for c in job.number) or "source"
        text = spec_text(job, session.get_one(DrawingSet, job.set_id))
        lines = job.source["lines"]
    types = {"csv": "text/csv; charset=utf-8", "json": "application/json", "pdf": "application/pdf"}
    if kind not in types:
        raise HTTPException(404, "The source comes as csv, json or pdf.")
    if kind == "csv":
        data = write_csv(lines).encode()
    elif kind == "json":
        data = json.dumps(json.loads(text), ensure_ascii=False, indent=1).encode()
    else:
        data = bench.run("list_pdf", spec=text)
    headers = {"Content-Disposition": f'attachment; filename="{stem}-source.{kind}"'}
    return Response(data, media_type=types[kind], headers=headers)


@router.post("/jobs/{job_id}/source/import", operation_id="importSource")
async def import_source(job_id: int, file: UploadFile, user: Drafter) -> SourceRead:
    """Take over a list: CSV lines are added at the end, a specification (JSON or text) replaces the whole source."""
    data = await file.read(_LARGEST_LIST + 1)
    name = file.filename or "list"
    if len(data) > _LARGEST_LIST:
        raise HTTPException(413, f"“{name}” is larger than {_LARGEST_LIST // 1048576} MB; that is no list.")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise BadInput(f"“{name}” is not text in UTF-8; save it as such.") from None
    with open_session() as session:
        job = job_or_404(session, job_id, lock=True)
        if name.lower().endswith(".csv"):
            known = {line["id"] for line in job.source["lines"]}
            last = job.source["lines"][-1]["id"] if known else None
            ops = []
            for k, line in enumerate(read_csv(text), start=1):
                fresh = f"c{job.source_version}-{k}"
                ops.append({"op": "insert", "id": fresh, "after": last, "line": line})
                last = fresh
            made, _ = apply_edits(job.source, ops)
        else:
            made = from_specification(text)
            made["head"] = {**job.source["head"], **made["head"]}
            made["revs"] = {k: v + 1 for k, v in job.source["revs"].items()}
            for k, line in enumerate(made["lines"], start=1):
                line["id"] = f"s{job.source_version}-{k}"
        store_source(job, made)
        session.commit()
        return read_source(session, job)
