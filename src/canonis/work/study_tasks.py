"""Background work of the Solid station: the ledger, a recipe's states, the twin. Each keeps its result with its task."""

import hashlib
from collections.abc import Callable
from typing import Any

from sqlalchemy import delete, func, select

from canonis.core.faults import BadInput
from canonis.core.study import Station
from canonis.store.database import open_session
from canonis.store.specs import spec_text
from canonis.store.tables import Blob, DrawingSet, Job, Model, State, Task

__all__ = ["model_arguments", "put_blob", "study_task"]

Run = Callable[..., Any]
Wanted = Callable[[Any], None]


def model_arguments(model: Model | State) -> dict[str, Any]:
    """What a kernel child needs to open a model; it gets the file from its caller's shelf when it must."""
    return {"name": model.name, "sha256": model.sha256}


def put_blob(session: Any, data: bytes) -> str:
    """Keep bytes by their hash; the hash. They go to the database as they are: as text, 80 MB would hold the interpreter
    for a good part of a second."""
    sha = hashlib.sha256(data).hexdigest()
    if session.scalar(select(Blob.sha256).where(Blob.sha256 == sha)) is None:
        line = session.connection().connection.driver_connection
        line.execute("insert into blobs (sha256, data) values (%s, %b) on conflict do nothing", (sha, data))
    return sha


def study_task(task_id: int, kind: str, run: Run, still_wanted: Wanted) -> None:
    """Do a task of the station; `still_wanted` (given a session) raises when it was cancelled. Safe to run again after
    a crash.

    Raises BadInput with what a person can do about it.
    """
    work = {"ledger": _ledger, "recipe": _recipe, "twin": _twin}[kind]
    with open_session() as session:
        task = session.get_one(Task, task_id)
        job = session.get_one(Job, task.job_id)
        spec = spec_text(job, session.get_one(DrawingSet, job.set_id))
        kept, arguments = dict(job.station), dict(task.arguments)
    result = work(task.job_id, kept, spec, arguments, run, still_wanted)
    with open_session() as session:
        still_wanted(session)
        session.get_one(Task, task_id).result = result
        session.commit()


def _ledger(
    job_id: int, station: dict[str, Any], spec: str, arguments: dict[str, Any], run: Run, still_wanted: Wanted
) -> dict[str, Any]:
    with open_session() as session:
        states = session.scalars(select(State).where(State.job_id == job_id).order_by(State.place, State.id)).all()
        opened = [{**model_arguments(s), "label": s.name, "name": f"{s.name}.step"} for s in states]
    if not opened:
        raise BadInput("There are no states to weigh; upload them in order, or write the recipe that makes them.")
    return dict(run("ledger", states=opened, spec=spec, station=station))


def _recipe(
    job_id: int, station: dict[str, Any], spec: str, arguments: dict[str, Any], run: Run, still_wanted: Wanted
) -> dict[str, Any]:
    """Try a typed recipe; when every step builds it is kept, and on request its states take the ledger's place."""
    checked = run("check_recipe", text=str(arguments["text"]), spec=spec)
    made = run("stages", recipe=checked["recipe"], spec=spec) if arguments.get("states") else []
    with open_session() as session:
        # Cancelled while it was built: nothing of it is kept.
        still_wanted(session)
        job = session.get_one(Job, job_id, with_for_update=True)
        kept = Station.model_validate(job.station)
        job.station = kept.model_copy(update={"recipe": checked["recipe"]}).model_dump(mode="json")
        if made:
            session.execute(delete(State).where(State.job_id == job_id, State.origin == "recipe"))
            last = session.scalar(select(func.max(State.place)).where(State.job_id == job_id)) or 0
            for k, stage in enumerate(made, start=1):
                session.add(
                    State(
                        job_id=job_id,
                        place=last + k,
                        name=stage["name"],
                        sha256=put_blob(session, stage["data"]),
                        origin="recipe",
                    )
                )
        session.commit()
    return {"ledger": checked["ledger"], "states": len(made)}


def _twin(
    job_id: int, station: dict[str, Any], spec: str, arguments: dict[str, Any], run: Run, still_wanted: Wanted
) -> dict[str, Any]:
    recipe = Station.model_validate(station).recipe
    if recipe is None:
        raise BadInput("There is no recipe of the twin yet; write it first.")
    with open_session() as session:
        job = session.get_one(Job, job_id)
        model = session.get(Model, job.model_id or 0)
        if model is None:
            raise BadInput("This job has no model to compare with its twin; upload a STEP file.")
        opened = model_arguments(model)
    return dict(run("twin", model=opened, recipe=recipe, spec=spec))
