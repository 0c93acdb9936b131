"""Jobs and their source."""

from fastapi import APIRouter, HTTPException, Response
from sqlalchemy import func, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from canonis.core.source.editing import new_source
from canonis.store.database import open_session
from canonis.store.tables import DrawingSet, Job, Model, SheetVersion, Task
from canonis.web.access import job_or_404
from canonis.web.guard import Anyone, Drafter
from canonis.web.models import (
    JobCard,
    JobFull,
    JobNew,
    ModelCard,
    TaskState,
)
from canonis.web.sets import first_set
from canonis.web.source import joined, read_source, source_answer

__all__ = ["new_job", "router", "tasks_of"]

router = APIRouter(tags=["jobs"])


def _task(task: Task) -> TaskState:
    return TaskState(id=task.id, kind=task.kind, state=task.state, stage=task.stage, error=task.error)  # type: ignore[arg-type]


def tasks_of(session: Session, job_id: int) -> list[TaskState]:
    """The last tasks of a job, newest first."""
    rows = session.scalars(select(Task).where(Task.job_id == job_id).order_by(Task.id.desc()).limit(5))
    return [_task(t) for t in rows]


def _full(session: Session, job: Job) -> Response:
    """A JobFull; its source goes through as the text that it is."""
    shared = session.get_one(DrawingSet, job.set_id)
    columns = (Model.id, Model.name, Model.state, Model.error, Model.sha256, Model.created)
    models = session.execute(select(*columns).where(Model.job_id == job.id).order_by(Model.id.desc())).all()
    own = {
        "id": job.id, "number": job.number, "title": job.title, "unit": job.unit, "style": job.style, "set_name": shared.name,
        "shared": dict(shared.shared), "models": [ModelCard.model_validate(m, from_attributes=True).model_dump(mode="json") for m in models],
        "model_id": job.model_id, "sheet_version": job.sheet_head, "tasks": [t.model_dump() for t in tasks_of(session, job.id)],
    }  # fmt: skip
    return source_answer(joined(own, '{"source": ' + read_source(session, job) + "}"))


@router.get("/jobs", operation_id="listJobs")
def list_jobs(user: Anyone) -> list[JobCard]:
    """All jobs, by number."""
    with open_session() as session:
        drawn = (
            select(SheetVersion.job_id, func.max(SheetVersion.created).label("at"))
            .group_by(SheetVersion.job_id)
            .subquery()
        )
        worked = select(Task.job_id, func.max(Task.changed).label("at")).group_by(Task.job_id).subquery()
        head = select(SheetVersion.id, SheetVersion.author).subquery()
        # Neither sources nor sheets are loaded to show a list.
        rows = session.execute(
            select(
                Job.id, Job.number, Job.title, Job.unit, Job.style, Job.model_id.is_not(None).label("has_model"),
                Job.sheet_head.is_not(None).label("has_sheet"), func.jsonb_array_length(Job.source["lines"]).label("lines"),
                DrawingSet.name.label("set_name"), func.greatest(Job.created, drawn.c.at, worked.c.at).label("changed"),
                func.coalesce(head.c.author, "").label("author"),
            )
            .join(DrawingSet, DrawingSet.id == Job.set_id).outerjoin(drawn, drawn.c.job_id == Job.id)
            .outerjoin(worked, worked.c.job_id == Job.id).outerjoin(head, head.c.id == Job.sheet_head).order_by(Job.number)
        )  # fmt: skip
        return [JobCard.model_validate(dict(row._mapping)) for row in rows]


@router.post("/jobs", operation_id="createJob", status_code=201, response_model=JobFull)
def create_job(body: JobNew, user: Drafter) -> Response:
    """A new, empty job in a drawing set."""
    made = new_job(body)
    with open_session() as session:
        answer = _full(session, session.get_one(Job, made))
        answer.status_code = 201
        return answer


def new_job(body: JobNew) -> int:
    """Store a new, empty job; its id.

    Raises HTTPException when there is no such set, or such a number already.
    """
    with open_session() as session:
        wanted = body.set_id if body.set_id is not None else first_set().id
        shared = session.get(DrawingSet, wanted) if 0 < wanted < 2**31 else None
        if shared is None:
            raise HTTPException(404, "There is no such drawing set; choose another.")
        source = new_source()
        source["head"] = {
            "title": body.title.strip(),
            "material": body.material.strip(),
            "unit": body.unit,
            "style": body.style,
        }
        job = Job(set_id=shared.id, number=body.number.strip(), title=body.title.strip(), unit=body.unit, style=body.style,
                  source=source, links={}, source_version=1)  # fmt: skip
        session.add(job)
        try:
            session.commit()
        except IntegrityError:
            raise HTTPException(
                409, f"There is already a job numbered “{body.number}”; choose another number."
            ) from None
        return job.id


@router.get("/jobs/{job_id}", operation_id="getJob", response_model=JobFull)
def get_job(job_id: int, user: Anyone) -> Response:
    """A job with its source as read."""
    with open_session() as session:
        return _full(session, job_or_404(session, job_id))
