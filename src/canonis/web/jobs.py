"""Jobs and their source."""

from typing import Any

from fastapi import APIRouter, HTTPException
from sqlalchemy import select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from canonis.core.quantity.units import Unit
from canonis.core.source.rules import HouseRules
from canonis.core.source.shorthand import read_line
from canonis.core.source.specification import read_specification
from canonis.store.database import open_session
from canonis.store.specs import spec_text
from canonis.store.tables import DrawingSet, Job, Model, Task
from canonis.web.guard import Anyone, Drafter
from canonis.web.models import (
    JobCard,
    JobFull,
    JobNew,
    JobPatch,
    ModelCard,
    ReadRequest,
    SourceIn,
    SourceRead,
    TaskState,
)
from canonis.web.sets import first_set

__all__ = ["job_or_404", "router"]

router = APIRouter(tags=["jobs"])


def job_or_404(session: Session, job_id: int, *, lock: bool = False) -> Job:
    """The job, or a plain 404."""
    job = session.get(Job, job_id, with_for_update=True if lock else None) if 0 < job_id < 2**31 else None
    if job is None:
        raise HTTPException(404, "There is no such job; go back to the list.")
    return job


def _read(session: Session, job: Job) -> SourceRead:
    spec = read_specification(spec_text(job, session.get_one(DrawingSet, job.set_id)))
    return SourceRead(
        version=job.source_version, characteristics=[c.as_json() for c in spec.characteristics],
        checkpoints=[str(c) for c in job.checkpoints], findings=list(spec.findings),
    )  # fmt: skip


def _task(task: Task) -> TaskState:
    return TaskState(id=task.id, kind=task.kind, state=task.state, stage=task.stage, error=task.error)  # type: ignore[arg-type]


def tasks_of(session: Session, job_id: int) -> list[TaskState]:
    """The last tasks of a job, newest first."""
    rows = session.scalars(select(Task).where(Task.job_id == job_id).order_by(Task.id.desc()).limit(5))
    return [_task(t) for t in rows]


def _full(session: Session, job: Job) -> JobFull:
    shared = session.get_one(DrawingSet, job.set_id)
    models = session.scalars(select(Model).where(Model.job_id == job.id).order_by(Model.id.desc())).all()
    return JobFull(
        id=job.id, number=job.number, title=job.title, unit=job.unit, style=job.style, material=job.material,
        density=job.density, limits=job.limits, set_name=shared.name, shared=dict(shared.shared), source=_read(session, job),
        models=[ModelCard(id=m.id, name=m.name, state=m.state, error=m.error, sha256=m.sha256, created=m.created) for m in models],
        model_id=job.model_id, sheet_version=job.sheet_head, tasks=tasks_of(session, job.id),
    )  # fmt: skip


@router.get("/jobs", operation_id="listJobs")
def list_jobs(user: Anyone) -> list[JobCard]:
    """All jobs, by number."""
    with open_session() as session:
        sets = {s.id: s.name for s in session.scalars(select(DrawingSet))}
        return [
            JobCard(id=j.id, number=j.number, title=j.title, unit=j.unit, style=j.style, has_model=j.model_id is not None,
                    has_sheet=j.sheet_head is not None, lines=len(j.lines), set_name=sets[j.set_id])
            for j in session.scalars(select(Job).order_by(Job.number))
        ]  # fmt: skip


@router.post("/jobs", operation_id="createJob", status_code=201)
def create_job(body: JobNew, user: Drafter) -> JobFull:
    """A new, empty job in a drawing set."""
    with open_session() as session:
        wanted = body.set_id if body.set_id is not None else first_set().id
        shared = session.get(DrawingSet, wanted) if 0 < wanted < 2**31 else None
        if shared is None:
            raise HTTPException(404, "There is no such drawing set; choose another.")
        job = Job(set_id=shared.id, number=body.number.strip(), title=body.title.strip(), unit=body.unit, style=body.style,
                  material=body.material.strip(), lines=[], chains=[], checkpoints=[], links={}, limits="middle", source_version=1)  # fmt: skip
        session.add(job)
        try:
            session.commit()
        except IntegrityError:
            raise HTTPException(
                409, f"There is already a job numbered “{body.number}”; choose another number."
            ) from None
        return _full(session, job)


@router.get("/jobs/{job_id}", operation_id="getJob")
def get_job(job_id: int, user: Anyone) -> JobFull:
    """A job with its source as read."""
    with open_session() as session:
        return _full(session, job_or_404(session, job_id))


@router.patch("/jobs/{job_id}", operation_id="patchJob")
def patch_job(job_id: int, body: JobPatch, user: Drafter) -> JobFull:
    """Change header fields."""
    with open_session() as session:
        job = job_or_404(session, job_id, lock=True)
        for name, value in body.model_dump(exclude_unset=True).items():
            setattr(job, name, value.strip() if isinstance(value, str) else value)
        job.source_version += 1
        session.commit()
        return _full(session, job)


@router.put("/jobs/{job_id}/source", operation_id="putSource")
def put_source(job_id: int, body: SourceIn, user: Drafter) -> SourceRead:
    """Store the list of characteristics; 409 when someone else stored another meanwhile."""
    with open_session() as session:
        job = job_or_404(session, job_id, lock=True)
        if body.version != job.source_version:
            raise HTTPException(
                409, "Someone changed this source meanwhile; reload to see it, your lines are still here."
            )
        job.lines = [line.model_dump() for line in body.lines]
        job.checkpoints = list(body.checkpoints)
        job.source_version += 1
        session.commit()
        return _read(session, job)


@router.post("/read-line", operation_id="readLine")
def preview_line(body: ReadRequest, user: Anyone) -> dict[str, Any]:
    """What a line of shorthand means, without storing it."""
    return read_line(body.text, HouseRules(unit=Unit(body.unit))).as_json()
