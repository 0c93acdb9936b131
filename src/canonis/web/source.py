"""The source of a job: its list, arithmetic, rules and files in and out."""

import json
from typing import Any

from fastapi import APIRouter, HTTPException, Request, Response
from sqlalchemy import select
from sqlalchemy.orm import Session
from starlette.concurrency import run_in_threadpool

from canonis.core.callout import complete, tolerance_words
from canonis.core.faults import BadInput
from canonis.core.house import CHOICES
from canonis.core.plain import check_plain
from canonis.core.source import (
    Brought,
    Preview,
    add_lines,
    apply_edits,
    preview,
    read_line,
    read_table,
    replaces_something,
    rules_of,
    split_line,
    write_csv,
)
from canonis.store.database import open_session
from canonis.store.earlier import keep_earlier, newest_earlier
from canonis.store.specs import header_of, spec_text
from canonis.store.tables import DrawingSet, Job, Print
from canonis.web import kernels
from canonis.web.access import job_or_404
from canonis.web.answers.source import LinePreview, SourceEdited, SourceRead, Worked
from canonis.web.downloads import download
from canonis.web.guard import Anyone, Drafter, GuardedRoute, takes
from canonis.web.ids import Id
from canonis.web.models import (
    PastedTable,
    PrintCard,
    ReadRequest,
    RefusedEdit,
    SourceEdits,
    WorkRequest,
)
from canonis.web.ticks import tick_words
from canonis.web.uploads import FILE_BODY, Taken, take_file

__all__ = ["joined", "print_card", "read_source", "router", "source_answer", "source_text", "store_source"]

router = APIRouter(tags=["source"], route_class=GuardedRoute)
_LARGEST_LIST = 4 * 1024 * 1024


def print_card(found: Print) -> PrintCard:
    """A print as the browser lists it."""
    return PrintCard(id=found.id, name=found.name, kind=found.kind, pages=found.pages)  # type: ignore[arg-type]


def source_text(session: Session, job: Job) -> str:
    """The job's source as a specification."""
    return spec_text(job, session.get_one(DrawingSet, job.set_id))


def read_source(session: Session, job: Job) -> str:
    """The stored source with everything it means: a SourceRead as JSON text, since nobody here looks into thousands of
    lines. Ends the session's transaction: reading a long list takes its time."""
    source, text, version = job.source, source_text(session, job), job.source_version
    prints = [print_card(p) for p in session.scalars(select(Print).where(Print.job_id == job.id).order_by(Print.id))]
    earlier = newest_earlier(session, job)
    back = None if earlier is None else {"why": earlier.why, "by": earlier.author, "at": earlier.created.isoformat()}
    session.commit()
    own = {
        "version": version,
        "earlier": back,
        "choices": [c.as_json() for c in CHOICES],
        "own_rules": [k for k, v in source["rules"].items() if v],
        "head": source["head"],
        "revs": source["revs"],
        "prints": [p.model_dump(mode="json") for p in prints],
    }
    return joined(own, kernels.run("read_source", source=source, spec=text))


def joined(own: dict[str, Any], more: str) -> str:
    """One JSON object of two: plain data, and another object's text with at least one member."""
    return json.dumps(own, ensure_ascii=False)[:-1] + ", " + more[1:]


def source_answer(text: str) -> Response:
    """JSON text as an answer."""
    return Response(text.encode(), media_type="application/json")


def store_source(job: Job, source: dict[str, Any]) -> None:
    """Keep a source and what the job shows of it."""
    head = source["head"]
    job.source = source
    job.title = head.get("title", job.title)
    job.unit, job.style = head.get("unit", job.unit), head.get("style", job.style)
    job.source_version += 1


@router.get("/jobs/{job_id}/source", operation_id="getSource", response_model=SourceRead)
def get_source(job_id: Id, user: Anyone) -> Response:
    """The source of a job as stored and as read."""
    with open_session() as session:
        return source_answer(read_source(session, job_or_404(session, job_id)))


@router.post("/jobs/{job_id}/source/edits", operation_id="editSource", response_model=SourceEdited)
@takes(kilobytes=8192)
def edit_source(job_id: Id, body: SourceEdits, user: Drafter) -> Response:
    """Apply edits; those made on an older state of their line come back as conflicts, those that make no sense refused;
    the others are stored."""
    with open_session() as session:
        job = job_or_404(session, job_id, lock=True)
        made, conflicts, refused = apply_edits(job.source, body.ops)
        if made != job.source:
            store_source(job, made)
            session.commit()
        own = {"conflicts": conflicts, "refused": [RefusedEdit(**r).model_dump() for r in refused]}
        return source_answer(joined(own, '{"source": ' + read_source(session, job) + "}"))


@router.post("/jobs/{job_id}/read-line", operation_id="readLine")
def preview_line(job_id: Id, body: ReadRequest, user: Anyone) -> LinePreview:
    """What a line of shorthand means in a job, and what may come next in it, without storing it."""
    with open_session() as session:
        job = job_or_404(session, job_id)
        shared = session.get_one(DrawingSet, job.set_id)
        try:
            rules = rules_of(header_of(job, shared))
        except BadInput:
            rules = rules_of({"unit": job.unit})
    read = read_line(body.text, rules)
    found = {
        **read.as_json(),
        "tolerance": tolerance_words(read.main, rules.unit),
        "offers": complete(split_line(body.text).rest),
    }
    return LinePreview.model_validate(found)


@router.post("/jobs/{job_id}/work-out", operation_id="workOut")
def work_out_text(job_id: Id, body: WorkRequest, user: Anyone) -> Worked:
    """The value of an expression in a job, with its steps; any field that asks for a number takes one.

    What is typed half-way is no failure: it comes back with its `fault`.
    """
    with open_session() as session:
        text = source_text(session, job_or_404(session, job_id))
    return Worked.model_validate(kernels.run("work_out", spec=text, expression=body.text))


@router.post("/jobs/{job_id}/checkpoint-table", operation_id="readTable")
@takes(kilobytes=1024)
def paste_table(job_id: Id, body: PastedTable, user: Anyone) -> list[str]:
    """Checkpoint lines from a pasted table, without storing them."""
    with open_session() as session:
        job_or_404(session, job_id)
    return read_table(body.text)


@router.get("/jobs/{job_id}/source/export/{kind}", operation_id="exportSource", response_class=Response)
def export_source(job_id: Id, kind: str, user: Anyone) -> Response:
    """The list as csv or pdf, or the whole source as json."""
    with open_session() as session:
        job = job_or_404(session, job_id)
        number, text, lines = job.number, source_text(session, job), job.source["lines"]
        ticks = tick_words(session, job)
    types = {"csv": "text/csv; charset=utf-8", "json": "application/json", "pdf": "application/pdf"}
    if kind not in types:
        raise HTTPException(404, "The source comes as csv, json or pdf.")
    if kind == "csv":
        data = write_csv(lines).encode()
    elif kind == "json":
        data = json.dumps(json.loads(text), ensure_ascii=False, indent=1).encode()
    else:
        data = kernels.run("list_pdf", spec=text, ticks=ticks)
    return download(data, types[kind], f"{number}-source", f".{kind}")


def _text_of(taken: Taken) -> str:
    try:
        text = taken.data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise BadInput(f"“{taken.name}” is not text in UTF-8; save it as such.") from None
    check_plain(text, f"file “{taken.name}”")
    return text


def _brought(job_id: int, taken: Taken) -> Brought:
    """What a file brings to a job, read in a kernel child: it may be long."""
    text = _text_of(taken)
    with open_session() as session:
        job_or_404(session, job_id)
    return Brought.model_validate(kernels.run("bring_source", text=text, name=taken.name))


@router.post(
    "/jobs/{job_id}/source/preview", operation_id="previewSource", response_model=Preview, openapi_extra=FILE_BODY
)
async def preview_source(job_id: Id, request: Request, user: Drafter) -> Preview:
    """What taking a list over would bring and take away; nothing is stored."""
    taken = await take_file(request, _LARGEST_LIST, "list")
    return await run_in_threadpool(_preview, job_id, taken)


def _preview(job_id: int, taken: Taken) -> Preview:
    brought = _brought(job_id, taken)
    with open_session() as session:
        return preview(brought, job_or_404(session, job_id).source, taken.name)


@router.post(
    "/jobs/{job_id}/source/import", operation_id="importSource", response_model=SourceRead, openapi_extra=FILE_BODY
)
async def import_source(job_id: Id, request: Request, user: Drafter, replace: bool = False) -> Response:
    """Take over a list: CSV lines are added at the end, a specification (JSON or text) replaces the whole source, which
    somebody must have said where anything goes (`replace`). What was there is kept and can be taken back."""
    taken = await take_file(request, _LARGEST_LIST, "list")
    return await run_in_threadpool(_import, job_id, taken, replace, user.name)


def _import(job_id: int, taken: Taken, replace: bool, author: str) -> Response:
    brought = _brought(job_id, taken)
    with open_session() as session:
        job = job_or_404(session, job_id, lock=True)
        if not replace and replaces_something(brought, job.source):
            gone = preview(brought, job.source, taken.name).goes
            raise HTTPException(
                409, f"“{taken.name}” would replace the source of this job ({gone} of its lines go); say that it may."
            )
        keep_earlier(session, job, f"before “{taken.name}” came", author)
        if brought.source is None:
            made = add_lines(job.source, brought.lines or [], f"c{job.source_version}")
        else:
            made = dict(brought.source)
            check_plain(made, "specification")
            made["head"] = {**job.source["head"], **made["head"]}
            made["revs"] = {k: v + 1 for k, v in job.source["revs"].items()}
            made["lines"] = [{**x, "id": f"s{job.source_version}-{k}"} for k, x in enumerate(made["lines"], start=1)]
        store_source(job, made)
        session.commit()
        return source_answer(read_source(session, job))


@router.post("/jobs/{job_id}/source/take-back", operation_id="takeBackSource", response_model=SourceRead)
def take_back_source(job_id: Id, user: Drafter) -> Response:
    """Undo the last list that came: the source as it stood before it. What stands now is kept in its turn."""
    with open_session() as session:
        job = job_or_404(session, job_id, lock=True)
        earlier = newest_earlier(session, job)
        if earlier is None:
            raise HTTPException(409, "There is no earlier list of this job to go back to.")
        made = dict(earlier.source)
        made["revs"] = {
            k: max(made["revs"].get(k, 0), v) + 1 for k, v in {**made["revs"], **job.source["revs"]}.items()
        }
        session.delete(earlier)
        keep_earlier(session, job, "before the list was taken back", user.name)
        store_source(job, made)
        session.commit()
        return source_answer(read_source(session, job))
