"""Models, sheets, proofs and files of a job."""

import json
from itertools import chain, count
from pathlib import PurePath
from typing import Annotated, Any

import structlog
from fastapi import APIRouter, Depends, HTTPException, Request, Response
from sqlalchemy import select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, undefer
from sse_starlette.sse import EventSourceResponse
from starlette.concurrency import run_in_threadpool

from canonis.core.drafting.commands import read_command
from canonis.core.drafting.merging import clash, told
from canonis.core.faults import BadInput
from canonis.core.solid.step_text import glance, label
from canonis.core.source.specification import rules_of
from canonis.core.study.cover import covered
from canonis.core.study.names import names_on
from canonis.core.study.station import Station
from canonis.store.database import open_session
from canonis.store.specs import belongs, header_of, pages_key
from canonis.store.tables import DrawingSet, Job, Model, Proof, SheetVersion, Task
from canonis.web import kernels
from canonis.web.access import job_or_404
from canonis.web.downloads import download
from canonis.web.events import follow
from canonis.web.guard import Anyone, Drafter, SignedIn, signed_in
from canonis.web.jobs import new_job
from canonis.web.models import (
    EditRequest,
    JobNew,
    JobStarted,
    LinkRequest,
    RedraftRequest,
    SheetState,
    StepRequest,
    TaskState,
)
from canonis.web.source import source_text
from canonis.web.turns import turn
from canonis.web.uploads import FILE_BODY, Taken, file_limit, take_file
from canonis.work.queue import cancel_task, enqueue
from canonis.work.study_tasks import model_arguments, put_blob

__all__ = ["check_step_file", "defer", "mended_report", "router", "start_task"]

log = structlog.get_logger()
#: STEP files up to this many bytes are looked through before they are taken.
_AT_ONCE = 8 * 1024 * 1024
#: How often an edit is worked out anew when another machine was quicker.
_TRIES = 5
router = APIRouter(tags=["sheets"])


def defer(session: Session, job: Job, model: Model, author: str, **arguments: Any) -> Task:
    """Note a model's arrival, or a new draft of it, as background work."""
    return start_task(session, job, "arrive", {"model": model.id, "author": author, **arguments})


def start_task(session: Session, job: Job, kind: str, arguments: dict[str, Any]) -> Task:
    """Note background work for the browser and put it on the queue."""
    task = Task(job_id=job.id, kind=kind, state="waiting", stage="Waiting for a worker", error="", arguments=arguments)
    session.add(task)
    session.commit()
    enqueue(task.id)
    return task


@router.post("/jobs/{job_id}/models", operation_id="uploadModel", status_code=202, openapi_extra=FILE_BODY)
async def upload_model(job_id: int, request: Request, user: Drafter) -> TaskState:
    """Take a STEP file; it is studied, drafted and proved in the background."""
    taken = await take_file(request, file_limit(), "model")
    return await run_in_threadpool(_take, job_id, taken, user.name)


@router.post("/jobs/from-model", operation_id="jobFromModel", status_code=202, openapi_extra=FILE_BODY)
async def job_from_model(request: Request, user: Drafter) -> JobStarted:
    """A new job from a STEP file alone: its number from the file's name, title and unit from the file."""
    taken = await take_file(request, file_limit(), "model")
    return await run_in_threadpool(_start, taken, user.name)


def _start(taken: Taken, author: str) -> JobStarted:
    check_step_file(taken)
    title, unit = label(taken.data)
    stem = PurePath(taken.name).stem.strip()[:60] or "part"
    with open_session() as session:
        like = set(session.scalars(select(Job.number).where(Job.number.startswith(stem, autoescape=True))))
    number = next(n for n in chain([stem], (f"{stem}-{k}" for k in count(2))) if n not in like)
    made = new_job(JobNew(number=number, title=title[:120], unit=unit, style="asme" if unit == "in" else "iso"))
    return JobStarted(id=made, number=number, task=_take(made, taken, author))


def check_step_file(taken: Taken) -> None:
    """Look through the text of a STEP file, in a kernel child; one that is large is looked through when it is read.

    Raises BadInput with one sentence.
    """
    glance(taken.data, taken.name, file_limit())
    if len(taken.data) <= _AT_ONCE:
        kernels.run("check_step", data=taken.data, name=taken.name, limit=file_limit())


def _take(job_id: int, taken: Taken, author: str) -> TaskState:
    with open_session() as session:
        job_or_404(session, job_id)
    check_step_file(taken)
    with open_session() as session:
        job = job_or_404(session, job_id, lock=True)
        model = Model(job_id=job.id, sha256=put_blob(session, taken.data), name=taken.name, state="waiting", error="")
        session.add(model)
        session.flush()
        task = defer(session, job, model, author)
        return TaskState(id=task.id, kind=task.kind, state="waiting", stage=task.stage, error="")


@router.post("/tasks/{task_id}/cancel", operation_id="cancelTask", status_code=204)
def cancel(task_id: int, user: Drafter) -> None:
    """Stop background work."""
    with open_session() as session:
        task = session.get(Task, task_id, with_for_update=True) if 0 < task_id < 2**31 else None
        if task is None:
            raise HTTPException(404, "There is no such task.")
        cancel_task(session, task)
        session.commit()


@router.get("/jobs/{job_id}/events", operation_id="jobEvents")
async def job_events(job_id: int, user: Anyone, asker: Annotated[SignedIn, Depends(signed_in)]) -> EventSourceResponse:
    """Progress as server-sent events: each change of the job's tasks, sheet, source or model as it happens."""

    def there() -> None:
        with open_session() as session:
            job_or_404(session, job_id)

    await run_in_threadpool(there)
    return EventSourceResponse(follow(job_id, asker), ping=15)


def mended_report(session: Session, job: Job, model: Model | None, author: str) -> None:
    """Have a model measured again whose stored measurements are those of another file, and say so."""
    if model is None or model.report is None or belongs(model.report, model.sha256):
        return
    log.error("a model held the measurements of another file", model=model.id)
    model.report, model.meshes, model.state = None, None, "waiting"
    defer(session, job, model, author)
    raise HTTPException(409, "The stored measurements were those of another file; the model is being measured again.")


@router.get("/jobs/{job_id}/solid", operation_id="getSolid")
def get_solid(job_id: int, user: Anyone) -> Response:
    """Measurements, features and the picture of the job's present model."""
    with open_session() as session:
        job = job_or_404(session, job_id)
        model = session.get(Model, job.model_id or 0)
        if model is None or model.report is None:
            raise HTTPException(404, "This job has no model yet; upload a STEP file.")
        mended_report(session, job, model, user.name)
        names = names_on(Station.model_validate(job.station).names, model.report["features"])
        header = header_of(job, session.get_one(DrawingSet, job.set_id))
        try:
            by_note = covered(model.report["features"], str(header.get("default", "")).split(";"), rules_of(header))
        except BadInput:  # a tolerance block that cannot be read is told in the source
            by_note = []
        # The picture goes through as the text that the database has: it is large, and nobody here looks into it.
        meshes = session.scalar(select(Model.meshes).where(Model.id == model.id))
        own = {"report": model.report, "name": model.name, "names": names, "covered": by_note}
        body = json.dumps(own, ensure_ascii=False)[:-1] + ', "meshes": ' + (meshes or "[]") + "}"
        return Response(body.encode(), media_type="application/json")


def _parts(
    session: Session, job_id: int, version: int | None = None, *, lock: bool = False
) -> tuple[Job, Model, SheetVersion]:
    job = job_or_404(session, job_id, lock=lock)
    model = session.get(Model, job.model_id or 0)
    if model is None or job.sheet_head is None:
        raise HTTPException(404, "This job has no sheet yet; upload a STEP file and it is drafted.")
    if version is not None and version != job.sheet_head:
        raise HTTPException(409, "The sheet changed meanwhile; it is loaded again, then make the edit once more.")
    head = session.get_one(SheetVersion, job.sheet_head, options=[undefer(SheetVersion.pages)])
    return job, model, head


def _given(session: Session, job: Job) -> dict[str, Any]:
    """What the source and the job's own materials give to a sheet."""
    return {"spec": source_text(session, job), "station": dict(job.station)}


def _state(session: Session, job: Job, head: SheetVersion, pages: str) -> Response:
    """A SheetState; its pages go through as the text that they are."""
    document = head.document
    redo = session.scalar(
        select(SheetVersion.id).where(SheetVersion.job_id == job.id, SheetVersion.parent == head.id).limit(1)
    )
    columns = (SheetVersion.id, SheetVersion.command, SheetVersion.author, SheetVersion.created)
    rows = session.execute(
        select(*columns).where(SheetVersion.job_id == job.id).order_by(SheetVersion.id.desc()).limit(30)
    )
    log = [{"id": v.id, "command": v.command, "author": v.author, "at": v.created.isoformat()} for v in rows]
    state = SheetState(
        version=head.id, pages=[], can_undo=head.parent is not None, can_redo=redo is not None, style=document["style"],
        projection=document["projection"], unit=document["unit"], datum=document["datum_name"],
        front_reason=document["front_reason"], size=document["pages"][0]["size"], scale=document["pages"][0]["scale"], log=log,
    )  # fmt: skip
    own = state.model_dump_json(exclude={"pages"})
    return Response(own[:-1] + ',"pages":' + pages + "}", media_type="application/json")


@router.get("/jobs/{job_id}/sheet", operation_id="getSheet", response_model=SheetState)
def get_sheet(job_id: int, user: Anyone) -> Response:
    """The present sheet, compiled."""
    with open_session() as session:
        job, model, head = _parts(session, job_id)
        key = pages_key(model.id, job.source_version)
        if head.pages is not None and head.pages_key == key:
            return _state(session, job, head, head.pages)
        arguments = {"model": model_arguments(model), "document": head.document, **_given(session, job)}
    pages = kernels.run("show", **arguments)["pages"]
    with open_session() as session:
        session.execute(update(SheetVersion).where(SheetVersion.id == head.id).values(pages=pages, pages_key=key))
        session.commit()
        return _state(session, job, head, pages)


@router.post("/jobs/{job_id}/sheet/edits", operation_id="editSheet", response_model=SheetState)
def edit_sheet(job_id: int, body: EditRequest, user: Drafter) -> Response:
    """Apply one edit to the present sheet; 409 when somebody changed the same thing since the version it was made on."""
    command = body.command.model_dump(mode="json")
    with turn(job_id):
        for _ in range(_TRIES):
            with open_session() as session:
                job, model, head = _parts(session, job_id)
                _stands_beside(session, job, body)
                key = pages_key(model.id, job.source_version)
                arguments = {"model": model_arguments(model), "document": head.document, **_given(session, job)}
            made = kernels.run("edit", command=command, **arguments)
            with open_session() as session:
                # Nothing is held while the edit is worked out; what another machine stored meanwhile is found out here.
                job, now, present = _parts(session, job_id, lock=True)
                if (now.id, present.id) != (model.id, head.id):
                    continue
                version = SheetVersion(job_id=job.id, parent=head.id, model_id=model.id, document=made["document"], command=command,
                                       author=user.name, pages=made["pages"], pages_key=key)  # fmt: skip
                session.add(version)
                session.flush()
                job.sheet_head = version.id
                session.commit()
                return _state(session, job, version, made["pages"])
    raise HTTPException(503, "Many people edit this sheet just now; make this edit again in a moment.")


def _stands_beside(session: Session, job: Job, body: EditRequest) -> None:
    """409 with who did what, unless the edit changes nothing that was changed since the version it was made on."""
    for row in _since(session, job, body.version):
        try:
            # A version that no edit made is a new draft.
            theirs = read_command(row.command if row is not None else None)
        except BadInput:
            raise HTTPException(
                409, "The sheet was drafted anew or taken back meanwhile; look at it, then make the edit once more."
            ) from None
        if clash(body.command, theirs):
            raise HTTPException(
                409, f"{row.author} {told(theirs)} meanwhile; look at it, then make your edit once more."
            )


def _since(session: Session, job: Job, version: int) -> list[Any]:
    """The versions after one up to the present one; a None among them where the present one does not come from it."""
    if job.sheet_head == version:
        return []
    columns = (SheetVersion.id, SheetVersion.parent, SheetVersion.command, SheetVersion.author)
    later = select(*columns).where(SheetVersion.job_id == job.id, SheetVersion.id > version)
    rows = {row.id: row for row in session.execute(later)}
    out: list[Any] = []
    at = job.sheet_head
    while at is not None and at != version:
        row = rows.get(at)
        if row is None:
            return [None]
        out.append(row)
        at = row.parent
    return out if at == version else [None]


def _step(job_id: int, version: int, forward: bool) -> None:
    with open_session() as session:
        job, _, head = _parts(session, job_id, lock=True)
        if job.sheet_head != version:
            after = next((row for row in _since(session, job, version) if row is not None), None)
            who = f"{after.author} changed" if after is not None else "Somebody changed"
            raise HTTPException(
                409, f"{who} the sheet meanwhile; look at it, then {'redo' if forward else 'undo'} once more."
            )
        if forward:
            query = select(SheetVersion.id).where(SheetVersion.job_id == job.id, SheetVersion.parent == head.id)
            target = session.scalar(query.order_by(SheetVersion.id.desc()).limit(1))
        else:
            target = head.parent
        if target is None:
            raise HTTPException(409, f"There is nothing to {'redo' if forward else 'undo'}.")
        job.sheet_head = target
        session.commit()


@router.post("/jobs/{job_id}/sheet/undo", operation_id="undoSheet", response_model=SheetState)
def undo_sheet(job_id: int, body: StepRequest, user: Drafter) -> Response:
    """Back to the version before the one that is looked at; 409 when that is not the present one."""
    _step(job_id, body.version, forward=False)
    return get_sheet(job_id, user)


@router.post("/jobs/{job_id}/sheet/redo", operation_id="redoSheet", response_model=SheetState)
def redo_sheet(job_id: int, body: StepRequest, user: Drafter) -> Response:
    """Forward to the version that was undone last; 409 when the one looked at is not the present one."""
    _step(job_id, body.version, forward=True)
    return get_sheet(job_id, user)


@router.post("/jobs/{job_id}/sheet/redraft", operation_id="redraftSheet", status_code=202)
def redraft_sheet(job_id: int, body: RedraftRequest, user: Drafter) -> TaskState:
    """Draft anew in the background with another front view, datum, projection, size or scale."""
    with open_session() as session:
        job, model, _ = _parts(session, job_id, body.version, lock=True)
        options = {k: v for k, v in body.model_dump(exclude={"version"}).items() if v is not None}
        task = defer(session, job, model, user.name, redraft=True, options=options)
        return TaskState(id=task.id, kind=task.kind, state="waiting", stage=task.stage, error="")


@router.get("/jobs/{job_id}/proof", operation_id="getProof")
def get_proof(job_id: int, user: Anyone) -> dict[str, Any]:
    """The proof of the present sheet; made when there is none for it yet."""
    with open_session() as session:
        job, model, head = _parts(session, job_id)
        key = {"sheet_id": head.id, "model_id": model.id, "source_version": job.source_version}
        links = dict(job.links)
        stored = session.scalar(select(Proof.result).filter_by(**key))
        if stored is not None:
            return {**stored, "version": head.id, "links": links}
        arguments = {"model": model_arguments(model), "document": head.document, "links": links, **_given(session, job)}
    result = kernels.run("prove", **arguments)
    with open_session() as session:
        session.execute(insert(Proof).values(result=result, **key).on_conflict_do_nothing())
        session.commit()
    return {**result, "version": key["sheet_id"], "links": links}


@router.put("/jobs/{job_id}/links/{number}", operation_id="putLink", status_code=204)
def put_link(job_id: int, number: str, body: LinkRequest, user: Drafter) -> None:
    """Link a characteristic to a statement by hand, to none, or back to the program's own choice."""
    with open_session() as session:
        job = job_or_404(session, job_id, lock=True)
        links = dict(job.links)
        now = links[number] or "none" if number in links else "auto"
        if body.seen is not None and body.seen != now:
            raise HTTPException(409, f"Somebody linked #{number} meanwhile; look at it, then choose once more.")
        if body.statement == "auto":
            links.pop(number, None)
        else:
            links[number] = None if body.statement == "none" else body.statement
        job.links = links
        job.source_version += 1
        session.commit()


_TYPES = {
    "pdf": "application/pdf",
    "svg": "image/svg+xml",
    "csv": "text/csv; charset=utf-8",
    "json": "application/json",
}


@router.get("/jobs/{job_id}/export/{kind}", operation_id="exportSheet", response_class=Response)
def export_sheet(job_id: int, kind: str, user: Anyone, sheet: int = 1) -> Response:
    """A file of the present sheet: pdf, svg, csv or json."""
    if kind not in _TYPES:
        raise HTTPException(404, "Files come as pdf, svg, csv or json.")
    with open_session() as session:
        job, model, head = _parts(session, job_id)
        number = job.number
        arguments = {"model": model_arguments(model), "document": head.document, **_given(session, job)}
    data = kernels.run("export", kind=kind, sheet=sheet, **arguments)
    return download(data, _TYPES[kind], number, f".{kind}")
