"""The queue in PostgreSQL and its worker: models that arrive are studied, drafted and proved in the background, and so
are ledgers, recipes and twins."""

import asyncio
import threading
from functools import lru_cache, partial
from typing import Any

import procrastinate
import structlog
from sqlalchemy import func, select, text, update

from canonis.core.faults import BadInput
from canonis.store.database import database_url, open_session
from canonis.store.specs import spec_text
from canonis.store.tables import DrawingSet, Job, Model, Proof, SheetVersion, Task
from canonis.work.kernel import Cancelled, KernelChild, KernelFault
from canonis.work.study_tasks import model_arguments, study_task

__all__ = ["arrive", "enqueue", "queue", "run_worker"]

log = structlog.get_logger()
queue = procrastinate.App(connector=procrastinate.PsycopgConnector(conninfo=database_url()))
_children: list[KernelChild] = []
_free = threading.Semaphore(0)


@queue.task(name="canonis.arrive", queue="kernel")
async def arrive(task_id: int) -> None:
    """Study a model, draft its first sheet, prove it. Safe to run again after a crash."""
    await asyncio.to_thread(_work, task_id)


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


def _is_cancelled(task_id: int) -> bool:
    with open_session() as session:
        return session.scalar(select(Task.state).where(Task.id == task_id)) in ("cancelled", None)


def _child() -> KernelChild:
    _free.acquire()
    return _children.pop()


def _work(task_id: int) -> None:
    if _is_cancelled(task_id):
        return
    child = _child()
    try:
        _set(task_id, state="running", stage="Starting")
        with open_session() as session:
            kind = session.scalar(select(Task.kind).where(Task.id == task_id))
        if kind == "arrive":
            _arrive(task_id, child)
        else:
            study_task(task_id, str(kind), partial(_in_child, task_id, child))
        _set(task_id, state="done", stage="Done")
    except BadInput as fault:
        _fail(task_id, str(fault))
    except Cancelled:
        _fail(task_id, "Cancelled; start it again to take it up.", "cancelled")
    except KernelFault as fault:
        log.error("kernel fault", task=task_id, trace=str(fault))
        _fail(task_id, "The program failed on this model; the log has the details. Nothing of yours is lost.")
    finally:
        _children.append(child)
        _free.release()


def _in_child(task_id: int, child: KernelChild, name: str, **arguments: Any) -> Any:
    """Run a kernel job for a task, telling its progress and heeding its cancelling."""
    return child.run(
        name, arguments, progress=lambda stage: _set(task_id, stage=stage), cancelled=lambda: _is_cancelled(task_id)
    )


def _fail(task_id: int, message: str, state: str = "failed") -> None:
    with open_session() as session:
        task = session.get(Task, task_id)
        if task is None:
            return
        task.state, task.error, task.stage = state, message, "Stopped"
        model = session.get(Model, task.arguments.get("model", 0))
        job = session.get(Job, task.job_id)
        # A model that was studied is of use although its sheet could not be drafted.
        if model is not None and model.state != "ready":
            model.state, model.error = "refused", message
            if job is not None and job.model_id == model.id:
                # The job goes back to its last good model.
                job.model_id = session.scalar(
                    select(func.max(Model.id)).where(Model.job_id == job.id, Model.state == "ready")
                )
        session.commit()


def _arrive(task_id: int, child: KernelChild) -> None:
    with open_session() as session:
        task = session.get_one(Task, task_id)
        model = session.get(Model, task.arguments["model"])
        job = session.get(Job, task.job_id)
        if model is None or job is None:
            return
        shared = session.get_one(DrawingSet, job.set_id)
        opened = model_arguments(session, model)
        last = session.get(Model, job.model_id or 0)
        before_it = None if last is None or last.id == model.id else model_arguments(session, last)
        spec = spec_text(job, shared)
        options = {"style": job.style, "unit": job.unit, **task.arguments.get("options", {})}
        redraft = bool(task.arguments.get("redraft"))
        author = task.arguments.get("author", "")

    def run(name: str, **arguments: Any) -> Any:
        return _in_child(task_id, child, name, model=opened, spec=spec, **arguments)

    if model.state != "ready":
        study = run("study")
        if before_it is not None:
            study["report"]["changes"] = _in_child(task_id, child, "compare", model=opened, before=before_it)
        with open_session() as session:
            found = session.get_one(Model, model.id)
            found.report, found.meshes, found.state = study["report"], study["meshes"], "ready"
            session.get_one(Job, job.id).model_id = model.id
            session.commit()
    with open_session() as session:
        head = session.get_one(Job, job.id).sheet_head
        before = None if head is None else session.get_one(SheetVersion, head).document
    if head is None or redraft:
        document = run("first_sheet", options=options, before=before)
        with open_session() as session:
            again = session.get_one(Job, job.id, with_for_update=True)
            command = {"op": "redraft", **task.arguments.get("options", {})} if head else {"op": "first draft"}
            version = SheetVersion(job_id=job.id, parent=again.sheet_head, model_id=model.id, document=document,
                                   command=command, author=author)  # fmt: skip
            session.add(version)
            session.flush()
            again.sheet_head = version.id
            session.commit()
    with open_session() as session:
        again = session.get_one(Job, job.id)
        version = session.get_one(SheetVersion, again.sheet_head)
        key = {"sheet_id": version.id, "model_id": model.id, "source_version": again.source_version}
        document, links = version.document, again.links
        spec = spec_text(again, session.get_one(DrawingSet, again.set_id))
    shown = run("show", document=document)
    result = run("prove", document=document, links=links)
    with open_session() as session:
        version = session.get_one(SheetVersion, key["sheet_id"])
        version.pages, version.pages_key = shown["pages"], f"{model.id}.{key['source_version']}"
        if session.scalar(select(Proof.id).filter_by(**key)) is None:
            session.add(Proof(result=result, **key))
        session.commit()


#: Tasks that were noted but never reached the queue (the process died in between).
_FORGOTTEN = text(
    "select id from tasks t where state in ('waiting', 'running') and changed < now() - interval '5 seconds' and not exists "
    "(select 1 from procrastinate_jobs j where j.status in ('todo', 'doing') and (j.args->>'task_id')::int = t.id)"
)


def _send_forgotten() -> None:
    with open_session() as session:
        for task_id in session.scalars(_FORGOTTEN).all():
            log.info("sending a task that was left behind", task=task_id)
            enqueue(task_id)
            session.execute(update(Task).where(Task.id == task_id).values(changed=func.now()))
        session.commit()


async def _rescue() -> None:
    """Give jobs of workers that died back to the queue."""
    while True:
        try:
            for job in await queue.job_manager.get_stalled_jobs(seconds_since_heartbeat=6):
                log.info("taking over a job of a lost worker", job=job.id)
                await queue.job_manager.retry_job(job)
            await asyncio.to_thread(_send_forgotten)
        except Exception as fault:  # the database may be restarting; the next round tries again
            log.warning("rescue waits", reason=str(fault).splitlines()[0])
        await asyncio.sleep(2)


async def _serve(count: int) -> None:
    async with queue.open_async():
        rescue = asyncio.create_task(_rescue())
        try:
            await queue.run_worker_async(queues=["kernel"], concurrency=count, update_heartbeat_interval=2,
                                         stalled_worker_timeout=6, fetch_job_polling_interval=1, delete_jobs="successful")  # fmt: skip
        finally:
            rescue.cancel()


def run_worker(count: int = 2) -> None:
    """Work until told to stop; `count` kernel children, started warm."""
    for _ in range(count):
        child = KernelChild()
        child.warm()
        _children.append(child)
        _free.release()
    try:
        asyncio.run(_serve(count))
    finally:
        for child in _children:
            child.stop()
