"""Jobs and their source."""

from typing import Annotated, Any, Literal

from fastapi import APIRouter, Depends, HTTPException, Query, Response
from sqlalchemy import Select, and_, func, or_, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session
from sse_starlette.sse import EventSourceResponse

from canonis.core.plain import check_plain
from canonis.core.source import new_source
from canonis.store.database import open_session
from canonis.store.tables import DrawingSet, Job, Model, Proof, SheetVersion, Task, User, Workspace
from canonis.store.workspaces import may_enter, theirs
from canonis.web.access import job_or_404
from canonis.web.answers.job import JobFull
from canonis.web.events import follow_list
from canonis.web.guard import Anyone, Drafter, GuardedRoute, SignedIn, signed_in
from canonis.web.ids import Id
from canonis.web.models import (
    JobCard,
    JobNew,
    JobPage,
    ModelCard,
    TaskState,
)
from canonis.web.sets import first_set
from canonis.web.source import joined, read_source, source_answer

__all__ = ["new_job", "router", "tasks_of"]

router = APIRouter(tags=["jobs"], route_class=GuardedRoute)


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
        "id": job.id,
        "number": job.number,
        "title": job.title,
        "unit": job.unit,
        "style": job.style,
        "set_name": shared.name,
        "shared": dict(shared.shared),
        "models": [ModelCard.model_validate(m, from_attributes=True).model_dump(mode="json") for m in models],
        "model_id": job.model_id,
        "sheet_version": job.sheet_head,
        "tasks": [t.model_dump() for t in tasks_of(session, job.id)],
    }
    return source_answer(joined(own, '{"source": ' + read_source(session, job) + "}"))


Sort = Literal["number", "title", "set", "changed", "author"]
State = Literal["all", "empty", "drafted", "open"]


@router.get("/jobs", operation_id="listJobs")
def list_jobs(
    user: Anyone,
    words: Annotated[str, Query(max_length=200)] = "",
    state: State = "all",
    set_id: Annotated[int | None, Query(gt=0, lt=2**31)] = None,
    person: Annotated[str, Query(max_length=80)] = "",
    *,
    sort: Sort = "number",
    down: bool = False,
    page: Annotated[int, Query(ge=1, le=10_000)] = 1,
    size: Annotated[int, Query(ge=1, le=500)] = 50,
) -> JobPage:
    """The jobs of one's workspaces that are like this, page by page."""
    check_plain([words, person], "filter")
    columns, query = _listed(user)
    if words.strip():
        like = f"%{words.strip().translate(_LITERAL)}%"
        query = query.where(
            or_(*(columns[name].ilike(like, escape="\\") for name in ("number", "title", "set", "author")))
        )
    if set_id is not None:
        query = query.where(Job.set_id == set_id)
    if person:
        query = query.where(columns["author"] == person)
    if state == "empty":
        query = query.where(Job.model_id.is_(None))
    elif state != "all":
        query = query.where(Job.sheet_head.is_not(None))
    if state == "open":
        query = query.where(Proof.open > 0)
    # Small and large letters stand side by side.
    rank = columns[sort] if sort == "changed" else func.lower(columns[sort])
    key = rank.desc().nulls_last() if down else rank
    with open_session() as session:
        total = session.scalar(select(func.count()).select_from(query.order_by(None).subquery())) or 0
        rows = session.execute(query.order_by(key, Job.id).limit(size).offset((page - 1) * size))
        heads = select(SheetVersion.author).join(Job, Job.sheet_head == SheetVersion.id)
        people = session.scalars(heads.where(Job.workspace_id.in_(theirs(user.id))).distinct())
        cards = [JobCard.model_validate(dict(row._mapping)) for row in rows]
        return JobPage(jobs=cards, total=total, people=sorted(people))


#: What has a meaning in a pattern stands for itself.
_LITERAL = str.maketrans({"%": "\\%", "_": "\\_", "\\": "\\\\"})


def _listed(user: User) -> tuple[dict[str, Any], Select[Any]]:
    """What can be sorted by, and the query of what is listed; it loads neither sources nor sheets."""
    # Of each job that is listed the newest, by its index: nothing is gathered over what others have.
    drawn = select(func.max(SheetVersion.created)).where(SheetVersion.job_id == Job.id).correlate(Job).scalar_subquery()
    worked = select(func.max(Task.changed)).where(Task.job_id == Job.id).correlate(Job).scalar_subquery()
    changed = func.greatest(Job.created, drawn, worked)
    author = func.coalesce(SheetVersion.author, "")
    query = (
        select(
            Job.id,
            Job.number,
            Job.title,
            Job.unit,
            Job.style,
            Job.model_id.is_not(None).label("has_model"),
            Job.sheet_head.is_not(None).label("has_sheet"),
            func.jsonb_array_length(Job.source["lines"]).label("lines"),
            Proof.open,
            Job.sheet_head.label("sheet"),
            Job.set_id,
            DrawingSet.name.label("set_name"),
            Workspace.name.label("workspace"),
            changed.label("changed"),
            author.label("author"),
        )
        .join(DrawingSet, DrawingSet.id == Job.set_id)
        .join(Workspace, Workspace.id == Job.workspace_id)
        .outerjoin(SheetVersion, SheetVersion.id == Job.sheet_head)
        .outerjoin(
            Proof,
            and_(
                Proof.sheet_id == Job.sheet_head,
                Proof.model_id == Job.model_id,
                Proof.source_version == Job.source_version,
            ),
        )
        .where(Job.workspace_id.in_(theirs(user.id)))
    )
    columns = {"number": Job.number, "title": Job.title, "set": DrawingSet.name, "changed": changed, "author": author}
    return columns, query


@router.get("/job-list/events", operation_id="listEvents")
async def list_events(user: Anyone, asker: Annotated[SignedIn, Depends(signed_in)]) -> EventSourceResponse:
    """A word, as server-sent event, whenever something happened to one of one's jobs."""
    return EventSourceResponse(follow_list(asker), ping=15)


@router.post("/jobs", operation_id="createJob", status_code=201, response_model=JobFull)
def create_job(body: JobNew, user: Drafter) -> Response:
    """A new, empty job in a drawing set."""
    made = new_job(body, user)
    with open_session() as session:
        answer = _full(session, session.get_one(Job, made))
        answer.status_code = 201
        return answer


def new_job(body: JobNew, user: User) -> int:
    """Store a new, empty job of somebody's; its id.

    Raises HTTPException when there is no such set, or such a number already.
    """
    with open_session() as session:
        wanted = body.set_id if body.set_id is not None else first_set(user).id
        shared = (
            session.get(DrawingSet, wanted) if 0 < wanted < 2**31 and may_enter(user.id, drawing_set=wanted) else None
        )
        if shared is None:
            raise HTTPException(404, "There is no such drawing set; choose another.")
        source = new_source()
        source["head"] = {
            "title": body.title.strip(),
            "material": body.material.strip(),
            "unit": body.unit,
            "style": body.style,
        }
        job = Job(
            workspace_id=shared.workspace_id,
            set_id=shared.id,
            number=body.number.strip(),
            title=body.title.strip(),
            unit=body.unit,
            style=body.style,
            source=source,
            links={},
            source_version=1,
        )
        session.add(job)
        try:
            session.commit()
        except IntegrityError:
            raise HTTPException(
                409, f"There is already a job numbered “{body.number}”; choose another number."
            ) from None
        return job.id


@router.get("/jobs/{job_id}", operation_id="getJob", response_model=JobFull)
def get_job(job_id: Id, user: Anyone) -> Response:
    """A job with its source as read."""
    with open_session() as session:
        return _full(session, job_or_404(session, job_id))
