"""The Solid station of a job: picks measured, frame, masses, findings, states and their ledger, recipe, twin, names."""

import hashlib
import json
from typing import Any, TypeVar

from fastapi import APIRouter, HTTPException, Request
from pydantic import ValidationError
from sqlalchemy import select
from sqlalchemy.orm import Session, undefer
from starlette.concurrency import run_in_threadpool

from canonis.core.faults import BadInput
from canonis.core.plain import check_plain
from canonis.core.source import add_lines
from canonis.core.study import FrameChoice, Station, names_on
from canonis.store.database import open_session
from canonis.store.tables import Job, Model, State, Task
from canonis.web import kernels
from canonis.web.access import job_or_404
from canonis.web.answers.masses import Masses
from canonis.web.answers.solid import (
    FrameOn,
    LedgerDone,
    MaterialEntry,
    Measured,
    NameOn,
    SolidFinding,
    StationState,
    TwinDone,
)
from canonis.web.arrivals import check_step_file, mended_report, start_task
from canonis.web.guard import Anyone, Drafter, GuardedRoute, takes
from canonis.web.ids import GONE, Id
from canonis.web.models import (
    FramePick,
    NameGiven,
    PickRequest,
    RecipeText,
    StateCard,
    StatePatch,
    StationPatch,
    TaskState,
    ThicknessRequest,
)
from canonis.web.source import source_text, store_source
from canonis.web.uploads import FILE_BODY, Taken, file_limit, take_file
from canonis.work.study_tasks import model_arguments, put_blob

__all__ = ["result_key", "router"]

router = APIRouter(tags=["solid"], route_class=GuardedRoute)
Done = TypeVar("Done", LedgerDone, TwinDone)
#: More states than any part needs; a ledger reads them all.
_MOST_STATES = 200


def _job_model(session: Session, job_id: int) -> tuple[Job, Model]:
    job = job_or_404(session, job_id)
    model = session.get(Model, job.model_id or 0)
    if model is None or model.report is None:
        raise HTTPException(404, "This job has no model yet; upload a STEP file.")
    mended_report(session, job, model, "")
    return job, model


def _station(job: Job) -> Station:
    return Station.model_validate(job.station)


def _states(session: Session, job_id: int) -> list[State]:
    return list(session.scalars(select(State).where(State.job_id == job_id).order_by(State.place, State.id)))


def result_key(session: Session, job: Job, kind: str) -> str:
    """What a result is made from: the states of a ledger or the model of a twin, the source, materials and recipe."""
    made_from = (
        ",".join(s.sha256[:10] + s.name for s in _states(session, job.id)) if kind == "ledger" else str(job.model_id)
    )
    return f"{made_from}|{job.source_version}|{_mark(_station(job))}"


def _mark(kept: Station) -> str:
    """A short mark of what of the station a result depends on."""
    data = json.dumps([kept.materials, kept.recipe], sort_keys=True)
    return hashlib.sha256(data.encode()).hexdigest()[:12]


def _done(session: Session, job: Job, kind: str, model: type[Done]) -> Done | None:
    task = session.scalar(
        select(Task)
        .where(Task.job_id == job.id, Task.kind == kind, Task.state == "done")
        .order_by(Task.id.desc())
        .limit(1)
        .options(undefer(Task.result))
    )
    if task is None or task.result is None:
        return None
    stale = task.arguments.get("key") != result_key(session, job, kind)
    return model.model_validate({"result": task.result, "stale": stale})


def _full(session: Session, job: Job) -> StationState:
    kept = _station(job)
    return StationState(
        frame=FrameOn(**kept.frame.model_dump(mode="json")),
        system=kept.system,
        decimals=kept.decimals,
        materials=[MaterialEntry.model_validate(m) for m in kept.known_materials()],
        solid_materials=kept.solid_materials,
        limits=kept.limits,
        recipe=kept.recipe,
        states=[StateCard(id=s.id, place=s.place, name=s.name, origin=s.origin) for s in _states(session, job.id)],  # type: ignore[arg-type]
        ledger=_done(session, job, "ledger", LedgerDone),
        twin=_done(session, job, "twin", TwinDone),
    )


@router.get("/jobs/{job_id}/station", operation_id="getStation")
def get_station(job_id: Id, user: Anyone) -> StationState:
    """What the job keeps for its solid: frame, units, materials, limits, states, and the last ledger and twin."""
    with open_session() as session:
        return _full(session, job_or_404(session, job_id))


def _keep(job: Job, **changes: Any) -> None:
    try:
        made = Station.model_validate({**_station(job).model_dump(mode="json"), **changes})
    except ValidationError as fault:
        first = fault.errors()[0]
        place = ".".join(str(p) for p in first["loc"])
        raise BadInput(f"The {place} cannot be used: {first['msg'].removeprefix('Value error, ')}.") from None
    job.station = made.model_dump(mode="json")


@router.patch("/jobs/{job_id}/station", operation_id="patchStation")
def patch_station(job_id: Id, body: StationPatch, user: Drafter) -> StationState:
    """Change units, decimals, own materials, the material of a solid, or the limits of making advice."""
    with open_session() as session:
        job = job_or_404(session, job_id, lock=True)
        _keep(job, **body.model_dump(exclude_none=True))
        if body.materials is not None:
            # The proof and the title block weigh with them.
            job.source_version += 1
        session.commit()
        return _full(session, job)


@router.put("/jobs/{job_id}/frame", operation_id="putFrame")
def put_frame(job_id: Id, body: FramePick, user: Drafter) -> StationState:
    """Choose the frame to measure and weigh in, by picks on the present model."""
    with open_session() as session:
        job, model = _job_model(session, job_id)
        opened = model_arguments(model)
    picks = [p.model_dump(mode="json") for p in body.picks]
    made = kernels.run("frame", model=opened, kind=body.kind, picks=picks, name=body.name)
    with open_session() as session:
        job = job_or_404(session, job_id, lock=True)
        _keep(job, frame=FrameChoice.model_validate(made).model_dump(mode="json"))
        session.commit()
        return _full(session, job)


@router.post("/jobs/{job_id}/measure", operation_id="measurePicks")
def measure_picks(job_id: Id, body: PickRequest, user: Anyone) -> Measured:
    """The sizes of one pick, or everything between two, in the job's frame and unit."""
    with open_session() as session:
        job, model = _job_model(session, job_id)
        arguments = {"model": model_arguments(model), "station": dict(job.station), "unit": job.unit}
    made = kernels.run("measure_picks", picks=[p.model_dump(mode="json") for p in body.picks], **arguments)
    return Measured.model_validate(made)


@router.post("/jobs/{job_id}/thickness", operation_id="measureThickness")
def measure_thickness(job_id: Id, body: ThicknessRequest, user: Anyone) -> float | None:
    """Material behind a point of a face, mm; null where there is no other side."""
    with open_session() as session:
        _, model = _job_model(session, job_id)
        opened = model_arguments(model)
    made = kernels.run("thickness", model=opened, solid=body.solid, face=body.face, at=list(body.at))
    return None if made is None else float(made)


@router.get("/jobs/{job_id}/masses", operation_id="getMasses")
def get_masses(job_id: Id, user: Anyone) -> Masses:
    """Mass properties by solid and together, in the chosen frame, against the source's last checkpoint."""
    with open_session() as session:
        job, model = _job_model(session, job_id)
        arguments = {
            "model": model_arguments(model),
            "spec": source_text(session, job),
            "station": dict(job.station),
            "unit": job.unit,
        }
    return Masses.model_validate(kernels.run("weigh", **arguments))


@router.get("/jobs/{job_id}/findings", operation_id="getSolidFindings")
def get_findings(job_id: Id, user: Anyone) -> list[SolidFinding]:
    """Faults of the solid and making advice, each with where."""
    with open_session() as session:
        job, model = _job_model(session, job_id)
        arguments = {"model": model_arguments(model), "spec": source_text(session, job), "station": dict(job.station)}
    return [SolidFinding.model_validate(f) for f in kernels.run("examine", **arguments)]


@router.put("/jobs/{job_id}/names", operation_id="putName")
def put_name(job_id: Id, body: NameGiven, user: Drafter) -> list[NameOn]:
    """Give a feature a name (the source's own, say), or take it away with an empty one; kept across revisions."""
    with open_session() as session:
        job = job_or_404(session, job_id, lock=True)
        model = session.get(Model, job.model_id or 0)
        if model is None or model.report is None:
            raise HTTPException(404, "This job has no model yet; upload a STEP file.")
        mended_report(session, job, model, user.name)
        features = model.report["features"]
        entry = next((f for f in features if f["id"] == body.id and f.get("solid", 0) == body.solid), None)
        if entry is None:
            raise HTTPException(404, f"There is no feature {body.id} on this model; reload the page.")
        stored = _station(job).names
        placed = names_on(stored, features)
        kept = [s for s, p in zip(stored, placed, strict=True) if not (p["id"] == body.id and p["solid"] == body.solid)]
        if body.name.strip():
            kept.append({"name": body.name.strip(), "entry": {k: v for k, v in entry.items() if k != "faces"}})
        _keep(job, names=kept)
        session.commit()
        return [NameOn.model_validate(n) for n in names_on(kept, features)]


@router.post("/jobs/{job_id}/states", operation_id="addState", status_code=201, openapi_extra=FILE_BODY)
async def add_state(job_id: Id, request: Request, user: Drafter, name: str = "") -> StationState:
    """Add a STEP file as the next state of the part."""
    taken = await take_file(request, file_limit(), "state.step")
    check_plain(name, "name")
    return await run_in_threadpool(_add_state, job_id, taken, name)


def _add_state(job_id: int, taken: Taken, name: str) -> StationState:
    with open_session() as session:
        job_or_404(session, job_id)
    check_step_file(taken)
    with open_session() as session:
        job = job_or_404(session, job_id, lock=True)
        there = _states(session, job_id)
        if len(there) >= _MOST_STATES:
            raise HTTPException(422, f"A job keeps at most {_MOST_STATES} states; remove some first.")
        stem = taken.name.rsplit(".", 1)[0]
        session.add(
            State(
                job_id=job_id,
                place=(there[-1].place if there else 0) + 1,
                name=(name.strip() or stem)[:80],
                sha256=put_blob(session, taken.data),
                origin="file",
            )
        )
        session.commit()
        return _full(session, job)


def _state_or_404(session: Session, job_id: int, state_id: int) -> State:
    found = session.get(State, state_id)
    if found is None or found.job_id != job_id:
        raise HTTPException(404, GONE["state_id"])
    return found


@router.patch("/jobs/{job_id}/states/{state_id}", operation_id="patchState")
def patch_state(job_id: Id, state_id: Id, body: StatePatch, user: Drafter) -> StationState:
    """Rename a state, or move it one place `up` or `down`."""
    with open_session() as session:
        job = job_or_404(session, job_id, lock=True)
        state = _state_or_404(session, job_id, state_id)
        if body.name is not None:
            state.name = body.name.strip()
        if body.move is not None:
            order = _states(session, job_id)
            at = order.index(state)
            to = at + (1 if body.move == "down" else -1)
            if 0 <= to < len(order):
                order[at], order[to] = order[to], order[at]
            for k, one in enumerate(order, start=1):
                one.place = k
        session.commit()
        return _full(session, job)


@router.delete("/jobs/{job_id}/states/{state_id}", operation_id="removeState")
def remove_state(job_id: Id, state_id: Id, user: Drafter) -> StationState:
    """Remove a state from the ledger."""
    with open_session() as session:
        job = job_or_404(session, job_id, lock=True)
        session.delete(_state_or_404(session, job_id, state_id))
        session.commit()
        return _full(session, job)


def _start(session: Session, job: Job, kind: str, **arguments: Any) -> TaskState:
    task = start_task(session, job, kind, {"key": result_key(session, job, kind), **arguments})
    return TaskState(id=task.id, kind=task.kind, state="waiting", stage=task.stage, error="")


@router.post("/jobs/{job_id}/ledger", operation_id="weighStates", status_code=202)
def weigh_states(job_id: Id, user: Drafter) -> TaskState:
    """Weigh every state against the source, in the background."""
    with open_session() as session:
        job = job_or_404(session, job_id)
        if not _states(session, job_id):
            raise BadInput("There are no states to weigh; upload them in order, or write the recipe that makes them.")
        return _start(session, job, "ledger")


@router.put("/jobs/{job_id}/recipe", operation_id="putRecipe", status_code=202)
@takes(kilobytes=2048)
def put_recipe(job_id: Id, body: RecipeText, user: Drafter) -> TaskState:
    """Try a recipe in the background; it is kept when every step builds, and can make the states of the ledger."""
    with open_session() as session:
        job = job_or_404(session, job_id)
        return _start(session, job, "recipe", text=body.text, states=body.states)


@router.post("/jobs/{job_id}/twin", operation_id="compareTwin", status_code=202)
def compare_twin(job_id: Id, user: Drafter) -> TaskState:
    """Compare the model with the twin that the source describes, in the background."""
    with open_session() as session:
        job, _ = _job_model(session, job_id)
        if _station(job).recipe is None:
            raise BadInput("There is no recipe of the twin yet; write it first.")
        return _start(session, job, "twin")


@router.post("/jobs/{job_id}/adopt", operation_id="adoptModel")
def adopt_model(job_id: Id, user: Drafter) -> dict[str, int]:
    """Take the present model for the source: its measurements are added to the list of characteristics."""
    with open_session() as session:
        job, model = _job_model(session, job_id)
        lines = kernels.run("adopt", model=model_arguments(model), unit=job.unit)
    with open_session() as session:
        job = job_or_404(session, job_id, lock=True)
        stated = {(line["where"], line["text"]) for line in job.source["lines"]}
        fresh = [x for x in lines if (x["where"], x["text"]) not in stated]
        store_source(job, add_lines(job.source, fresh, f"m{job.source_version}"))
        session.commit()
        return {"added": len(fresh)}
