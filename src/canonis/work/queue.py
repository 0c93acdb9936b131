"""The queue in PostgreSQL and its worker: models that arrive are studied, drafted and proved in the background, and so
are ledgers, recipes and twins."""

import asyncio
from collections.abc import Callable
from functools import lru_cache, partial
from typing import Any

import procrastinate
import structlog
from procrastinate.exceptions import ConnectorException
from procrastinate.jobs import Job as QueuedJob
from procrastinate.jobs import Status
from procrastinate.retry import BaseRetryStrategy, RetryDecision
from sqlalchemy import func, select, text, update
from sqlalchemy.exc import DBAPIError, DisconnectionError
from sqlalchemy.exc import TimeoutError as PoolTimeout
from sqlalchemy.orm import Session as OrmSession

from canonis.core.faults import BadInput
from canonis.core.plain import cleaned
from canonis.store.database import database_url, open_session
from canonis.store.kept import StoreShelf, sweep_kept
from canonis.store.specs import belongs, open_causes, pages_key, spec_text
from canonis.store.tables import DrawingSet, Job, Model, Proof, SheetVersion, Task
from canonis.store.ticks import confirmed_places
from canonis.store.versions import add_version, document_of
from canonis.work.kernel import Cancelled, KernelFault
from canonis.work.pool import KernelPool
from canonis.work.study_tasks import model_arguments, study_task

__all__ = ["arrive", "cancel_task", "enqueue", "queue", "run_worker"]

log = structlog.get_logger()
queue = procrastinate.App(connector=procrastinate.PsycopgConnector(conninfo=database_url()))
#: Waits between the tries of a task that failed for a reason nobody foresaw, s.
_WAITS = (2, 8)
#: While the database is away a task is no worse than before; it is tried for some minutes.
_AWAY_TRIES, _AWAY_WAIT = 60, 5
#: A task whose worker was lost this often is what kills it.
_MOST_LOST = 12
#: Seconds without a sign of life after which a worker counts as lost.
_SILENT = 6


def _is_away(fault: BaseException) -> bool:
    """Whether a fault says that the database is not to be had."""
    if isinstance(fault, DBAPIError):
        return fault.connection_invalidated or type(fault).__name__ in ("OperationalError", "InterfaceError")
    return isinstance(fault, DisconnectionError | PoolTimeout | ConnectorException)


class _Retry(BaseRetryStrategy):
    """Few tries with growing waits; more while the database is away."""

    def get_retry_decision(self, *, exception: BaseException, job: QueuedJob) -> RetryDecision | None:
        """When to try again, or None."""
        if _is_away(exception):
            return RetryDecision(retry_in={"seconds": _AWAY_WAIT}) if job.attempts < _AWAY_TRIES else None
        return RetryDecision(retry_in={"seconds": _WAITS[job.attempts]}) if job.attempts < len(_WAITS) else None


_retry = _Retry()


@lru_cache(maxsize=1)
def _pool() -> KernelPool:
    """The worker's kernel children; `run_worker` says how many."""
    # What works in the background leaves the cores to what people wait for.
    return KernelPool(_children, nice=12)


_children = 1


@queue.task(name="canonis.arrive", queue="kernel", retry=_retry, pass_context=True)
async def arrive(context: procrastinate.JobContext, task_id: int) -> None:
    """Do a task: study a model, draft its first sheet, prove it, or weigh. Safe to run again after a crash."""
    await asyncio.to_thread(_work, task_id, context.job)


@lru_cache(maxsize=1)
def _sender() -> procrastinate.App:
    """The queue's sending side, for threads without an event loop; opened once a process."""
    sender = procrastinate.App(connector=procrastinate.SyncPsycopgConnector(conninfo=database_url()))
    sender.open()
    return sender


def enqueue(task_id: int) -> None:
    """Put a task on the queue."""
    _sender().configure_task("canonis.arrive", queue="kernel").defer(task_id=task_id)


def _set(task_id: int, **values: Any) -> None:
    with open_session() as session:
        session.execute(update(Task).where(Task.id == task_id).values(changed=func.now(), **values))
        session.commit()


def _go_on(task_id: int, **values: Any) -> bool:
    """Change a task that nobody has ended meanwhile; False when somebody has."""
    with open_session() as session:
        live = update(Task).where(Task.id == task_id, Task.state.in_(("waiting", "running")))
        changed = session.execute(live.values(changed=func.now(), **values)).rowcount  # type: ignore[attr-defined]
        session.commit()
        return bool(changed)


def _is_cancelled(task_id: int) -> bool:
    with open_session() as session:
        return session.scalar(select(Task.state).where(Task.id == task_id)) in ("cancelled", None)


def _still_wanted(session: OrmSession, task_id: int) -> None:
    """Raise Cancelled when the task was cancelled; until the session commits it cannot be."""
    state = session.scalar(select(Task.state).where(Task.id == task_id).with_for_update())
    if state in ("cancelled", None):
        raise Cancelled


def _work(task_id: int, job: QueuedJob) -> None:
    with open_session() as session:
        kind = session.scalar(select(Task.kind).where(Task.id == task_id))
    if kind is None:
        return
    try:
        if not _go_on(task_id, state="running", stage="Starting"):
            return
        said = ""
        if kind == "arrive":
            said = _arrive(task_id)
        elif kind == "rivals":
            _rivals(task_id)
        else:
            study_task(task_id, kind, partial(_in_child, task_id), partial(_still_wanted, task_id=task_id))
        _go_on(task_id, state="done", stage=said or "Done")
    except BadInput as fault:
        _end(task_id, str(fault))
    except Cancelled:
        _end(task_id, "Cancelled; start it again to take it up.", "cancelled")
    except Exception as fault:
        again = _retry.get_retry_decision(exception=fault, job=job)
        log.error(
            "a task failed",
            task=task_id,
            attempt=job.attempts + 1,
            again=again is not None,
            exc_info=not _is_away(fault),
            reason=cleaned(str(fault), 400),
        )
        if again is not None:
            raise
        _end(task_id, "The program failed on this; the log has the details. Nothing of yours is lost.")


def _in_child(task_id: int, name: str, **arguments: Any) -> Any:
    """Run a kernel job for a task, telling its progress and heeding its cancelling."""
    model = arguments.get("model") or {}
    return _pool().run(
        name,
        arguments,
        subject=str(model.get("sha256", "")),
        shelf=StoreShelf(),
        wait_limit=3600.0,
        progress=lambda stage: _set(task_id, stage=cleaned(stage)),
        cancelled=lambda: _is_cancelled(task_id),
    )


def _end(task_id: int, message: str, state: str = "failed") -> None:
    """End a task that did not come to its end, with one sentence, and its model with it."""
    with open_session() as session:
        task = session.get(Task, task_id, with_for_update=True)
        if task is not None:
            _end_in(session, task, cleaned(message, 1000), state)
            session.commit()


def _end_in(session: OrmSession, task: Task, message: str, state: str) -> None:
    task.state, task.error, task.stage = state, message, "Stopped"
    model = session.get(Model, task.arguments.get("model", 0)) if task.kind == "arrive" else None
    job = session.get(Job, task.job_id)
    # A model that was studied is of use although its sheet could not be drafted.
    if model is not None and model.state != "ready":
        model.state, model.error = "cancelled" if state == "cancelled" else "refused", message
        if job is not None and job.model_id == model.id:
            # The job goes back to its last good model.
            job.model_id = session.scalar(
                select(func.max(Model.id)).where(Model.job_id == job.id, Model.state == "ready")
            )


def cancel_task(session: OrmSession, task: Task) -> None:
    """Cancel a task that waits or runs, and leave its model cancelled too; the caller holds its row and commits."""
    if task.state in ("waiting", "running"):
        again = "upload the file" if task.kind == "arrive" else "start it"
        _end_in(session, task, f"Cancelled; {again} again to take it up.", "cancelled")


def _arrive(task_id: int) -> str:
    """Study a model, draft and prove; what is to be said of it beside that it is done."""
    with open_session() as session:
        task = session.get_one(Task, task_id)
        model = session.get(Model, task.arguments["model"])
        job = session.get(Job, task.job_id)
        if model is None or job is None:
            return ""
        shared = session.get_one(DrawingSet, job.set_id)
        opened = model_arguments(model)
        last = session.get(Model, job.model_id or 0)
        before_it = None if last is None or last.id == model.id else model_arguments(last)
        spec, station = spec_text(job, shared), dict(job.station)
        options = {
            "style": job.style,
            "unit": job.unit,
            "author": task.arguments.get("author", ""),
            **task.arguments.get("options", {}),
        }

    def run(name: str, **arguments: Any) -> Any:
        return _in_child(task_id, name, model=opened, spec=spec, station=station, **arguments)

    if model.state != "ready":
        study = run("study")
        if before_it is not None:
            study["report"]["changes"] = _in_child(task_id, "compare", model=opened, before=before_it)
        with open_session() as session:
            _still_wanted(session, task_id)
            found = session.get_one(Model, model.id)
            if not belongs(study["report"], found.sha256):
                raise KernelFault(f"the measurements of another file came back for model {found.id}")
            found.report, found.meshes, found.state, found.error = study["report"], study["meshes"], "ready", ""
            kept = session.get_one(Job, job.id, with_for_update=True)
            # Of two files that came one after the other the later stands, whichever is read first.
            kept.model_id = max(kept.model_id or 0, model.id)
            session.commit()
    said = _drafted(task_id, job.id, model.id, run, options)
    with open_session() as session:
        again = session.get_one(Job, job.id)
        if again.sheet_head is None or again.model_id != model.id:
            return said  # a later model came, and its own task proves the sheet on it
        version = session.get_one(SheetVersion, again.sheet_head)
        key = {"sheet_id": version.id, "model_id": model.id, "source_version": again.source_version}
        document, links = document_of(session, version.id), again.links
        ticked = confirmed_places(session, job.id)
        spec, station = spec_text(again, session.get_one(DrawingSet, again.set_id)), dict(again.station)
    shown = run("show", document=document)
    result = run("prove", document=document, links=links, ticked=ticked)
    with open_session() as session:
        version = session.get_one(SheetVersion, key["sheet_id"])
        version.pages, version.pages_key = shown["pages"], pages_key(model.id, key["source_version"])
        if session.scalar(select(Proof.id).filter_by(**key)) is None:
            session.add(Proof(result=result, open=open_causes(result), **key))
        session.commit()
    return said


#: How often a draft is made anew because the sheet was taken back or drafted by somebody else meanwhile.
_DRAFTS = 3


def _drafted(task_id: int, job_id: int, model_id: int, run: Callable[..., Any], options: dict[str, Any]) -> str:
    """Draft the sheet of a job where it has none, or where the task says so; what is to be said of it, in one sentence.

    A draft is stored once, for the model that is present, and edits made while it was worked out are made on it too.
    """
    for tries in range(_DRAFTS):
        with open_session() as session:
            job, task = session.get_one(Job, job_id), session.get_one(Task, task_id)
            asked = dict(task.arguments)
            # What is done after a new draft was asked for is done to that draft, whenever a worker takes it up.
            head = asked.get("head", job.sheet_head) if tries == 0 else job.sheet_head
            author = str(asked.get("author", ""))
            if _has_drawn(session, job_id, task_id) or not (head is None or asked.get("redraft")):
                return ""
            before, links = None if head is None else document_of(session, head), dict(job.links)
        made = run("first_sheet", options=options, before=before, links=links)
        document = made["document"]
        said = ""
        with open_session() as session:
            steps = _made_since(session, session.get_one(Job, job_id).sheet_head, head)
        if steps is None:
            continue
        if steps:
            replayed = run("replay", document=document, steps=steps)
            document = replayed["document"]
            if replayed["left"]:
                what = "; ".join(replayed["left"])
                said = f"Not carried over to the new draft: somebody {what}. Undo shows the sheet with it."
        with open_session() as session:
            _still_wanted(session, task_id)
            job = session.get_one(Job, job_id, with_for_update=True)
            if _has_drawn(session, job_id, task_id) or job.model_id != model_id or (head is None and job.sheet_head):
                return ""
            if len(_made_since(session, job.sheet_head, head) or ()) != len(steps):
                continue
            command = {"op": "redraft", **asked.get("options", {})} if head else {"op": "first draft"}
            parent = None if job.sheet_head is None else session.get_one(SheetVersion, job.sheet_head)
            version = add_version(
                session,
                job_id=job_id,
                parent=parent,
                before=None,
                document=document,
                model_id=model_id,
                command={**command, "task": task_id},
                author=author,
            )
            job.sheet_head = version.id
            # Links made meanwhile stay as they are.
            job.links = {n: made["links"].get(n, k) if links.get(n) == k else k for n, k in job.links.items()}
            session.commit()
            return said
    raise BadInput("The sheet was changed again and again while it was drafted anew; draft it when nobody edits it.")


def _has_drawn(session: OrmSession, job_id: int, task_id: int) -> bool:
    """Whether a task has stored its draft already, in a try before this one."""
    mine = select(SheetVersion.id).where(SheetVersion.job_id == job_id)
    return session.scalar(mine.where(SheetVersion.command["task"].as_integer() == task_id).limit(1)) is not None


def _made_since(
    session: OrmSession, now: int | None, head: int | None
) -> list[tuple[dict[str, Any], dict[str, Any]]] | None:
    """The edits that led from a version to the present one, each with the document that it was made on; None where the
    present one does not come from it by edits."""
    out = []
    while now != head:
        row = None if now is None else session.get(SheetVersion, now)
        if row is None or row.parent is None or row.command.get("op") in ("redraft", "first draft"):
            return None
        out.append((row.command, document_of(session, row.parent)))
        now = row.parent
    return out[::-1]


#: How often the sheet may change while rivals are looked for, before the next proof starts another task.
_CHASE = 5


def _rivals(task_id: int) -> None:
    """Look for other places that the lines of the source could mean, for the newest proof of the job."""
    for _ in range(_CHASE):
        with open_session() as session:
            job = session.get_one(Job, session.get_one(Task, task_id).job_id)
            if job.sheet_head is None or job.model_id is None:
                return
            key = {"sheet_id": job.sheet_head, "model_id": job.model_id, "source_version": job.source_version}
            stored = session.scalar(select(Proof.result).filter_by(**key))
            if stored is None or stored.get("asked", True):
                return
            arguments = {
                "model": model_arguments(session.get_one(Model, job.model_id)),
                "document": document_of(session, job.sheet_head),
                "links": dict(job.links),
                "ticked": confirmed_places(session, job.id),
                "station": dict(job.station),
                "spec": spec_text(job, session.get_one(DrawingSet, job.set_id)),
            }
        result = _in_child(task_id, "prove", **arguments)
        with open_session() as session:
            _still_wanted(session, task_id)
            session.execute(update(Proof).filter_by(**key).values(result=result, open=open_causes(result)))
            session.commit()


#: Tasks without a job on the queue: noted but never sent (the process died in between), or lost on the way.
_FORGOTTEN = text(
    "select id, state from tasks t where state in ('waiting', 'running') and changed < now() - interval '5 seconds' and not exists "
    "(select 1 from procrastinate_jobs j where j.status in ('todo', 'doing') and (j.args->>'task_id')::int = t.id)"
)


def _look_after_forgotten() -> None:
    """Send what never reached the queue; what was begun and left it is over, with one sentence."""
    with open_session() as session:
        rows = session.execute(_FORGOTTEN).all()
    for task_id, state in rows:
        if state == "running":
            log.error("a task was lost", task=task_id)
            _end(task_id, "The program lost hold of this; start it again. Nothing of yours is lost.")
            continue
        log.info("sending a task that was left behind", task=task_id)
        enqueue(task_id)
        _set(task_id)


async def _take_over(job: QueuedJob) -> None:
    """Give the job of a lost worker back to the queue, but not for ever."""
    if job.attempts < _MOST_LOST:
        log.info("taking over a job of a lost worker", job=job.id)
        await queue.job_manager.retry_job(job)
        return
    log.error("a job whose worker was lost too often", job=job.id)
    await asyncio.to_thread(
        _end,
        int(str(job.task_kwargs["task_id"])),
        "The program was stopped each time it worked on this; simplify the model. Nothing is lost.",
    )
    await queue.job_manager.finish_job(job, Status.FAILED, delete_job=True)


async def _rescue() -> None:
    """Look after the jobs of workers that died, and after tasks without a job."""
    while True:
        try:
            for job in await queue.job_manager.get_stalled_jobs(seconds_since_heartbeat=_SILENT):
                await _take_over(job)
            await asyncio.to_thread(_look_after_forgotten)
        except Exception as fault:  # the database may be restarting; the next round tries again
            log.warning("rescue waits", reason=cleaned(str(fault), 200))
        await asyncio.sleep(2)


async def _serve(count: int) -> None:
    async with queue.open_async():
        await queue.job_manager.delete_old_jobs(
            nb_hours=0, include_failed=True, include_cancelled=True, include_aborted=True
        )
        rescue = asyncio.create_task(_rescue())
        try:
            await queue.run_worker_async(
                queues=["kernel"],
                concurrency=count,
                update_heartbeat_interval=2,
                stalled_worker_timeout=_SILENT,
                fetch_job_polling_interval=1,
                delete_jobs="always",
            )
        finally:
            rescue.cancel()


def run_worker(count: int = 1) -> None:
    """Work until told to stop; `count` kernel children, started warm."""
    global _children
    _children = count
    pool = _pool()
    pool.warm()
    sweep_kept()
    try:
        asyncio.run(_serve(count))
    finally:
        pool.stop()
