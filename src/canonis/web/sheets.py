"""Models, sheets, proofs and files of a job."""

import asyncio
import json
from collections.abc import AsyncIterator
from typing import Any

from fastapi import APIRouter, HTTPException, Request, Response, UploadFile
from sqlalchemy import select, text
from sqlalchemy.orm import Session, undefer
from sse_starlette.sse import EventSourceResponse

from canonis.core.faults import BadInput
from canonis.core.solid.step_text import inspect
from canonis.core.source.specification import rules_of
from canonis.core.study.cover import covered
from canonis.core.study.names import names_on
from canonis.core.study.station import Station
from canonis.store.database import open_session
from canonis.store.specs import header_of, spec_text
from canonis.store.tables import DrawingSet, Job, Model, Proof, SheetVersion, Task
from canonis.web import bench
from canonis.web.access import job_or_404
from canonis.web.guard import Anyone, Drafter
from canonis.web.jobs import tasks_of
from canonis.web.models import EditRequest, LinkRequest, RedraftRequest, SheetState, TaskState
from canonis.web.uploads import file_limit, read_upload
from canonis.work.queue import enqueue
from canonis.work.study_tasks import model_arguments, put_blob

__all__ = ["defer", "router", "start_task"]

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


@router.post("/jobs/{job_id}/models", operation_id="uploadModel", status_code=202)
async def upload_model(job_id: int, file: UploadFile, user: Drafter) -> TaskState:
    """Take a STEP file; it is studied, drafted and proved in the background."""
    data = await read_upload(file)
    return await asyncio.to_thread(_take, job_id, data, file.filename or "model", user.name)


def _take(job_id: int, data: bytes, name: str, author: str) -> TaskState:
    inspect(data, name, file_limit())
    with open_session() as session:
        job = job_or_404(session, job_id, lock=True)
        model = Model(job_id=job.id, sha256=put_blob(session, data), name=name[-120:], state="waiting", error="")
        session.add(model)
        session.flush()
        task = defer(session, job, model, author)
        return TaskState(id=task.id, kind=task.kind, state="waiting", stage=task.stage, error="")


@router.post("/tasks/{task_id}/cancel", operation_id="cancelTask", status_code=204)
def cancel_task(task_id: int, user: Drafter) -> None:
    """Stop background work."""
    with open_session() as session:
        task = session.get(Task, task_id, with_for_update=True) if 0 < task_id < 2**31 else None
        if task is None:
            raise HTTPException(404, "There is no such task.")
        if task.state in ("waiting", "running"):
            task.state = "cancelled"
            task.error = f"Cancelled; {'upload the file' if task.kind == 'arrive' else 'start it'} again to take it up."
            session.commit()


@router.get("/jobs/{job_id}/events", operation_id="jobEvents")
async def job_events(job_id: int, request: Request, user: Anyone) -> EventSourceResponse:
    """Progress as server-sent events: one message whenever the job's tasks, sheet or source change."""

    def snapshot() -> str:
        with open_session() as session:
            job = job_or_404(session, job_id)
            tasks = [t.model_dump() for t in tasks_of(session, job_id)]
            return json.dumps(
                {"tasks": tasks, "sheet": job.sheet_head, "source": job.source_version, "model": job.model_id}
            )

    async def stream() -> AsyncIterator[dict[str, str]]:
        last = ""
        while not await request.is_disconnected():
            try:
                now = await asyncio.to_thread(snapshot)
            except HTTPException:
                return
            except Exception:  # the database is restarting; the stream goes on when it is back
                now = last
            if now != last:
                last = now
                yield {"data": now}
            await asyncio.sleep(0.3)

    return EventSourceResponse(stream(), ping=15)


@router.get("/jobs/{job_id}/solid", operation_id="getSolid")
def get_solid(job_id: int, user: Anyone) -> dict[str, Any]:
    """Measurements, features and the picture of the job's present model."""
    with open_session() as session:
        job = job_or_404(session, job_id)
        model = session.get(Model, job.model_id or 0)
        if model is None or model.report is None:
            raise HTTPException(404, "This job has no model yet; upload a STEP file.")
        names = names_on(Station.model_validate(job.station).names, model.report["features"])
        header = header_of(job, session.get_one(DrawingSet, job.set_id))
        try:
            by_note = covered(model.report["features"], str(header.get("default", "")).split(";"), rules_of(header))
        except BadInput:  # a tolerance block that cannot be read is told in the source
            by_note = []
        return {"report": model.report, "meshes": model.meshes, "name": model.name, "names": names, "covered": by_note}


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


def _pages_key(job: Job, model: Model) -> str:
    return f"{model.id}.{job.source_version}"


def _state(session: Session, job: Job, head: SheetVersion, pages: list[Any]) -> SheetState:
    document = head.document
    redo = session.scalar(
        select(SheetVersion.id).where(SheetVersion.job_id == job.id, SheetVersion.parent == head.id).limit(1)
    )
    rows = session.scalars(
        select(SheetVersion).where(SheetVersion.job_id == job.id).order_by(SheetVersion.id.desc()).limit(30)
    )
    log = [{"id": v.id, "command": v.command, "author": v.author, "at": v.created.isoformat()} for v in rows]
    return SheetState(
        version=head.id, pages=pages, can_undo=head.parent is not None, can_redo=redo is not None, style=document["style"],
        projection=document["projection"], unit=document["unit"], datum=document["datum_name"],
        front_reason=document["front_reason"], size=document["pages"][0]["size"], scale=document["pages"][0]["scale"], log=log,
    )  # fmt: skip


@router.get("/jobs/{job_id}/sheet", operation_id="getSheet")
def get_sheet(job_id: int, user: Anyone) -> SheetState:
    """The present sheet, compiled."""
    with open_session() as session:
        job, model, head = _parts(session, job_id)
        key = _pages_key(job, model)
        if head.pages is None or head.pages_key != key:
            shown = bench.run("show", model=model_arguments(session, model), document=head.document,
                              spec=spec_text(job, session.get_one(DrawingSet, job.set_id)))  # fmt: skip
            head.pages, head.pages_key = shown["pages"], key
            session.commit()
        return _state(session, job, head, head.pages or [])


@router.post("/jobs/{job_id}/sheet/edits", operation_id="editSheet")
def edit_sheet(job_id: int, body: EditRequest, user: Drafter) -> SheetState:
    """Apply one edit; 409 when it was made on a stale version."""
    with open_session() as session:
        job, model, head = _parts(session, job_id, body.version, lock=True)
        command = body.command.model_dump()
        made = bench.run("edit", model=model_arguments(session, model), document=head.document, command=command,
                         spec=spec_text(job, session.get_one(DrawingSet, job.set_id)))  # fmt: skip
        version = SheetVersion(job_id=job.id, parent=head.id, model_id=model.id, document=made["document"], command=command,
                               author=user.name, pages=made["pages"], pages_key=_pages_key(job, model))  # fmt: skip
        session.add(version)
        session.flush()
        job.sheet_head = version.id
        session.commit()
        return _state(session, job, version, made["pages"])


def _step(job_id: int, forward: bool) -> None:
    with open_session() as session:
        job, _, head = _parts(session, job_id, lock=True)
        if forward:
            query = select(SheetVersion.id).where(SheetVersion.job_id == job.id, SheetVersion.parent == head.id)
            target = session.scalar(query.order_by(SheetVersion.id.desc()).limit(1))
        else:
            target = head.parent
        if target is None:
            raise HTTPException(409, f"There is nothing to {'redo' if forward else 'undo'}.")
        job.sheet_head = target
        session.commit()


@router.post("/jobs/{job_id}/sheet/undo", operation_id="undoSheet")
def undo_sheet(job_id: int, user: Drafter) -> SheetState:
    """Back to the version before."""
    _step(job_id, forward=False)
    return get_sheet(job_id, user)


@router.post("/jobs/{job_id}/sheet/redo", operation_id="redoSheet")
def redo_sheet(job_id: int, user: Drafter) -> SheetState:
    """Forward to the version that was undone last."""
    _step(job_id, forward=True)
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
        stored = session.scalar(select(Proof).filter_by(**key))
        if stored is not None:
            return {**stored.result, "version": head.id, "links": job.links}
        arguments = {"model": model_arguments(session, model), "document": head.document, "links": dict(job.links),
                     "spec": spec_text(job, session.get_one(DrawingSet, job.set_id))}  # fmt: skip
        links = dict(job.links)
    result = bench.run("prove", **arguments)
    with open_session() as session:
        if session.scalar(select(Proof.id).filter_by(**key)) is None:
            session.execute(text("select pg_advisory_xact_lock(:k)"), {"k": key["sheet_id"]})
            if session.scalar(select(Proof.id).filter_by(**key)) is None:
                session.add(Proof(result=result, **key))
                session.commit()
    return {**result, "version": key["sheet_id"], "links": links}


@router.put("/jobs/{job_id}/links/{number}", operation_id="putLink", status_code=204)
def put_link(job_id: int, number: str, body: LinkRequest, user: Drafter) -> None:
    """Link a characteristic to a statement by hand, to none, or back to the program's own choice."""
    with open_session() as session:
        job = job_or_404(session, job_id, lock=True)
        links = dict(job.links)
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
        data = bench.run("export", model=model_arguments(session, model), document=head.document, kind=kind, sheet=sheet,
                         spec=spec_text(job, session.get_one(DrawingSet, job.set_id)))  # fmt: skip
        stem = "".join(c if c.isalnum() or c in "-_" else "-" for c in job.number) or "sheet"
    headers = {"Content-Disposition": f'attachment; filename="{stem}.{kind}"'}
    return Response(data, media_type=_TYPES[kind], headers=headers)
