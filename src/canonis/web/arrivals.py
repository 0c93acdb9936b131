"""Models that arrive: taken, looked through, studied in the background; the work on them, and what was measured."""

import json
from itertools import chain, count
from pathlib import PurePath
from typing import Annotated, Any

import structlog
from fastapi import APIRouter, Depends, HTTPException, Query, Request, Response
from sqlalchemy import select
from sqlalchemy.orm import Session
from sse_starlette.sse import EventSourceResponse
from starlette.concurrency import run_in_threadpool

from canonis.core.faults import BadInput
from canonis.core.solid import glance, label
from canonis.core.source import rules_of
from canonis.core.study import Station, covered, names_on
from canonis.store.database import open_session
from canonis.store.specs import belongs, header_of
from canonis.store.tables import DrawingSet, Job, Model, Task, User
from canonis.web import kernels
from canonis.web.access import job_or_404
from canonis.web.answers.solid import SolidData
from canonis.web.events import follow
from canonis.web.guard import Anyone, Drafter, GuardedRoute, SignedIn, signed_in
from canonis.web.ids import GONE, Id
from canonis.web.jobs import new_job
from canonis.web.models import (
    JobNew,
    JobStarted,
    TaskState,
)
from canonis.web.sets import loose_set
from canonis.web.uploads import FILE_BODY, Taken, file_limit, take_file
from canonis.work.queue import cancel_task, enqueue
from canonis.work.study_tasks import put_blob

__all__ = ["check_step_file", "defer", "mended_report", "router", "start_task"]

log = structlog.get_logger()
#: STEP files up to this many bytes are looked through before they are taken.
_AT_ONCE = 8 * 1024 * 1024
router = APIRouter(tags=["models"], route_class=GuardedRoute)
SetId = Annotated[int | None, Query(gt=0, lt=2**31)]


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
async def upload_model(job_id: Id, request: Request, user: Drafter) -> TaskState:
    """Take a STEP file; it is studied, drafted and proved in the background."""
    taken = await take_file(request, file_limit(), "model")
    return await run_in_threadpool(_take, job_id, taken, user.name)


@router.post("/jobs/from-model", operation_id="jobFromModel", status_code=202, openapi_extra=FILE_BODY)
async def job_from_model(request: Request, user: Drafter, set_id: SetId = None) -> JobStarted:
    """A new job from a STEP file alone: its number from the file's name, title and unit from the file."""
    taken = await take_file(request, file_limit(), "model")
    return await run_in_threadpool(_start, taken, user, set_id)


def _start(taken: Taken, user: User, set_id: int | None) -> JobStarted:
    check_step_file(taken)
    title, unit = label(taken.data)
    stem = PurePath(taken.name).stem.strip()[:60] or "part"
    with open_session() as session:
        like = set(session.scalars(select(Job.number).where(Job.number.startswith(stem, autoescape=True))))
    number = next(n for n in chain([stem], (f"{stem}-{k}" for k in count(2))) if n not in like)
    # Whoever names no set chose none: the part joins nobody else's.
    set_id = loose_set(user) if set_id is None else set_id
    wish = JobNew(number=number, title=title[:120], unit=unit, style="asme" if unit == "in" else "iso", set_id=set_id)
    made = new_job(wish, user)
    return JobStarted(id=made, number=number, task=_take(made, taken, user.name))


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
def cancel(task_id: Id, user: Drafter) -> None:
    """Stop background work."""
    with open_session() as session:
        task = session.get(Task, task_id, with_for_update=True)
        if task is None:
            raise HTTPException(404, GONE["task_id"])
        cancel_task(session, task)
        session.commit()


@router.get("/jobs/{job_id}/events", operation_id="jobEvents")
async def job_events(job_id: Id, user: Anyone, asker: Annotated[SignedIn, Depends(signed_in)]) -> EventSourceResponse:
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


@router.get("/jobs/{job_id}/solid", operation_id="getSolid", response_model=SolidData)
def get_solid(job_id: Id, user: Anyone) -> Response:
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
