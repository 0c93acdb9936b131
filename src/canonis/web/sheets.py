"""The sheet of a job: looked at, edited, proved, put into files."""

import json
from dataclasses import asdict
from datetime import UTC, datetime, timedelta
from typing import Annotated, Any

from fastapi import APIRouter, HTTPException, Query, Response
from sqlalchemy import delete, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, undefer
from starlette.concurrency import run_in_threadpool

from canonis.core.drafting import SetRevision, clash, read_command
from canonis.core.faults import BadInput
from canonis.core.study import Look, Station, final_check
from canonis.store.database import open_session
from canonis.store.specs import header_of, open_causes, pages_key
from canonis.store.tables import DrawingSet, Job, Model, Proof, SheetVersion, Step, Task, User
from canonis.store.ticks import confirmed_places
from canonis.store.versions import add_version, document_of
from canonis.web import kernels
from canonis.web.access import job_or_404
from canonis.web.answers.proof import Findings, ProofState
from canonis.web.answers.sheet import SheetState
from canonis.web.arrivals import defer, start_task
from canonis.web.downloads import download
from canonis.web.guard import Anyone, Checker, Drafter, GuardedRoute
from canonis.web.ids import Id
from canonis.web.models import (
    EditRequest,
    LinkRequest,
    LookRequest,
    RedraftRequest,
    StepRequest,
    TaskState,
    VersionCard,
    Versions,
)
from canonis.web.pictures import small_picture
from canonis.web.source import source_text
from canonis.web.ticks import with_ticks
from canonis.web.turns import turn
from canonis.work.study_tasks import model_arguments

__all__ = ["router"]

#: How often an edit is worked out anew when another machine was quicker.
_TRIES = 5
#: Steps are known by their tokens this long: nobody sends one again later.
_STEPS_KEPT = timedelta(days=30)
router = APIRouter(tags=["sheets"], route_class=GuardedRoute)


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


def _state(session: Session, job: Job, head: SheetVersion, pages: str, document: dict[str, Any]) -> Response:
    """A SheetState; its pages go through as the text that they are."""
    redo = session.scalar(
        select(SheetVersion.id).where(SheetVersion.job_id == job.id, SheetVersion.parent == head.id).limit(1)
    )
    state = SheetState(
        version=head.id,
        pages=[],
        can_undo=head.parent is not None,
        can_redo=redo is not None,
        style=document["style"],
        projection=document["projection"],
        unit=document["unit"],
        datum=document["datum_name"],
        front_reason=document["front_reason"],
        size=document["pages"][0]["size"],
        scale=document["pages"][0]["scale"],
        revision=document["title"]["revision"],
        revisions=document["title"].get("revisions", []),
        log=_versions(session, job.id, None, 30).versions,
    )
    own = state.model_dump_json(exclude={"pages"})
    return Response(own[:-1] + ',"pages":' + pages + "}", media_type="application/json")


def _pages(job_id: int) -> str:
    """The pages of the present sheet, compiled now where they are not kept."""
    with open_session() as session:
        job, model, head = _parts(session, job_id)
        if head.pages is not None and head.pages_key == pages_key(model.id, job.source_version):
            return head.pages
        arguments = {"model": model_arguments(model), "document": document_of(session, head.id), **_given(session, job)}
    return str(kernels.run("show", **arguments)["pages"])


@router.get("/jobs/{job_id}/sheet", operation_id="getSheet", response_model=SheetState)
def get_sheet(job_id: Id, user: Anyone) -> Response:
    """The present sheet, compiled."""
    with open_session() as session:
        job, model, head = _parts(session, job_id)
        key = pages_key(model.id, job.source_version)
        if head.pages is not None and head.pages_key == key:
            return _state(session, job, head, head.pages, document_of(session, head.id))
        arguments = {"model": model_arguments(model), "document": document_of(session, head.id), **_given(session, job)}
    pages = kernels.run("show", **arguments)["pages"]
    with open_session() as session:
        session.execute(update(SheetVersion).where(SheetVersion.id == head.id).values(pages=pages, pages_key=key))
        session.commit()
        return _state(session, job, head, pages, arguments["document"])


def _versions(session: Session, job_id: int, before: int | None, count: int) -> Versions:
    columns = (SheetVersion.id, SheetVersion.command, SheetVersion.author, SheetVersion.created.label("at"))
    query = select(*columns).where(SheetVersion.job_id == job_id).order_by(SheetVersion.id.desc())
    if before is not None:
        query = query.where(SheetVersion.id < before)
    rows = session.execute(query.limit(count + 1)).all()
    return Versions(
        versions=[VersionCard.model_validate(dict(v._mapping)) for v in rows[:count]], more=len(rows) > count
    )


@router.get("/jobs/{job_id}/sheet/picture", operation_id="getPicture", response_class=Response)
def get_picture(job_id: Id, user: Anyone) -> Response:
    """A small picture of the first sheet, as SVG; kept with its version."""
    with open_session() as session:
        _, _, head = _parts(session, job_id)
        picture = session.scalar(select(SheetVersion.picture).where(SheetVersion.id == head.id))
    if picture is None:
        # No connection is held while the pages are compiled.
        picture = small_picture(_pages(job_id))
        with open_session() as session:
            session.execute(update(SheetVersion).where(SheetVersion.id == head.id).values(picture=picture))
            session.commit()
    headers = {
        "Cache-Control": "private, max-age=86400",
        "Content-Security-Policy": "default-src 'none'; style-src 'unsafe-inline'",
    }
    return Response(picture.encode(), media_type="image/svg+xml", headers=headers)


@router.get("/jobs/{job_id}/sheet/versions", operation_id="listVersions")
def list_versions(
    job_id: Id,
    user: Anyone,
    before: Annotated[int | None, Query(gt=0, lt=2**31)] = None,
    count: Annotated[int, Query(ge=1, le=200)] = 50,
) -> Versions:
    """Who changed the sheet and how, the newest first: those before a version, page by page."""
    with open_session() as session:
        job_or_404(session, job_id)
        return _versions(session, job_id, before, count)


@router.post("/jobs/{job_id}/sheet/edits", operation_id="editSheet", response_model=SheetState)
async def edit_sheet(job_id: Id, body: EditRequest, user: Drafter) -> Response:
    """Apply one edit to the present sheet; 409 when somebody changed the same thing since the version it was made on."""
    async with turn(job_id):
        return await run_in_threadpool(_edit, job_id, body, user)


def _edit(job_id: int, body: EditRequest, user: User) -> Response:
    command = body.command.model_dump(mode="json")
    if isinstance(body.command, SetRevision):
        command |= {"by": user.name, "date": datetime.now(UTC).date().isoformat()}
    for _ in range(_TRIES):
        with open_session() as session:
            job, model, head = _parts(session, job_id)
            if _taken(session, job, body.token):
                return get_sheet(job_id, user)
            _stands_beside(session, job, body)
            key = pages_key(model.id, job.source_version)
            arguments = {
                "model": model_arguments(model),
                "document": document_of(session, head.id),
                **_given(session, job),
            }
        made = kernels.run("edit", command=command, **arguments)
        with open_session() as session:
            # Nothing is held while the edit is worked out; what another machine stored meanwhile is found out here.
            job, now, present = _parts(session, job_id, lock=True)
            if (now.id, present.id) != (model.id, head.id):
                continue
            version = add_version(
                session,
                job_id=job.id,
                parent=present,
                before=arguments["document"],
                document=made["document"],
                model_id=model.id,
                command=command,
                author=user.name,
                pages=made["pages"],
                pages_key=key,
                token=body.token or "",
            )
            job.sheet_head = version.id
            session.commit()
            return _state(session, job, version, made["pages"], made["document"])
    raise HTTPException(503, "Many people edit this sheet just now; make this edit again in a moment.")


def _taken(session: Session, job: Job, token: str | None) -> bool:
    """Whether an edit or a step is stored already: the answer to it was lost on its way, and it was sent again."""
    if not token:
        return False
    mine = select(SheetVersion.id).where(SheetVersion.job_id == job.id, SheetVersion.token == token)
    return session.scalar(mine.limit(1)) is not None or session.get(Step, (job.id, token)) is not None


def _stands_beside(session: Session, job: Job, body: EditRequest) -> None:
    """409 with who did what, unless the edit changes nothing that others changed since the version it was made on."""
    for row in _others_since(session, job, body):
        try:
            # A version that no edit made is a new draft.
            theirs = read_command(row.command if row is not None else None)
        except BadInput:
            raise HTTPException(
                409, "The sheet was drafted anew or taken back meanwhile; look at it, then make the edit once more."
            ) from None
        if clash(body.command, theirs):
            raise HTTPException(
                409, f"{row.author} {theirs.told} meanwhile; look at it, then make your edit once more."
            )


def _others_since(session: Session, job: Job, body: StepRequest) -> list[Any]:
    """What others made of the sheet since the version that somebody looked at: the versions after it up to the present
    one, without those of their own that were on their way then (`body.mine`). A None stands for a present version that
    does not come from it."""
    if job.sheet_head == body.version:
        return []
    columns = (SheetVersion.id, SheetVersion.parent, SheetVersion.command, SheetVersion.author, SheetVersion.token)
    later = select(*columns).where(SheetVersion.job_id == job.id, SheetVersion.id > body.version)
    rows = {row.id: row for row in session.execute(later)}
    out: list[Any] = []
    at = job.sheet_head
    while at is not None and at != body.version:
        row = rows.get(at)
        if row is None:
            # They went back themselves, behind what they looked at.
            stepped = body.mine and session.scalar(
                select(Step.token).where(Step.job_id == job.id, Step.token.in_(body.mine)).limit(1)
            )
            return [r for r in out if r.token not in body.mine] if stepped else [None]
        out.append(row)
        at = row.parent
    return [r for r in out if r.token not in body.mine] if at == body.version else [None]


def _step(job_id: int, body: StepRequest, forward: bool) -> None:
    word = "redo" if forward else "undo"
    with open_session() as session:
        job, _, head = _parts(session, job_id, lock=True)
        if _taken(session, job, body.token):
            return
        others = _others_since(session, job, body)
        if others:
            who = f"{others[0].author} changed" if others[0] is not None else "Somebody changed"
            raise HTTPException(409, f"{who} the sheet meanwhile; look at it, then {word} once more.")
        if forward:
            query = select(SheetVersion.id).where(SheetVersion.job_id == job.id, SheetVersion.parent == head.id)
            target = session.scalar(query.order_by(SheetVersion.id.desc()).limit(1))
        else:
            target = head.parent
        if target is None:
            raise HTTPException(409, f"There is nothing to {word}.")
        job.sheet_head = target
        if body.token:
            session.add(Step(job_id=job.id, token=body.token))
            session.execute(delete(Step).where(Step.created < datetime.now(UTC) - _STEPS_KEPT))
        session.commit()


@router.post("/jobs/{job_id}/sheet/undo", operation_id="undoSheet", response_model=SheetState)
def undo_sheet(job_id: Id, body: StepRequest, user: Drafter) -> Response:
    """Back to the version before the one that is looked at; 409 when others changed it since."""
    _step(job_id, body, forward=False)
    return get_sheet(job_id, user)


@router.post("/jobs/{job_id}/sheet/redo", operation_id="redoSheet", response_model=SheetState)
def redo_sheet(job_id: Id, body: StepRequest, user: Drafter) -> Response:
    """Forward to the version that was undone last; 409 when others changed the sheet since."""
    _step(job_id, body, forward=True)
    return get_sheet(job_id, user)


@router.post("/jobs/{job_id}/sheet/redraft", operation_id="redraftSheet", status_code=202)
def redraft_sheet(job_id: Id, body: RedraftRequest, user: Drafter) -> TaskState:
    """Draft anew in the background with another front view, datum, projection, size or scale."""
    with open_session() as session:
        job, model, _ = _parts(session, job_id, body.version, lock=True)
        options = {k: v for k, v in body.model_dump(exclude={"version"}).items() if v is not None}
        task = defer(session, job, model, user.name, redraft=True, options=options, head=job.sheet_head)
        return TaskState(id=task.id, kind=task.kind, state="waiting", stage=task.stage, error="")


#: Findings that come with a proof; the others are asked for page by page.
_FIRST_FINDINGS = 100


@router.get("/jobs/{job_id}/proof", operation_id="getProof", response_model=ProofState)
def get_proof(job_id: Id, user: Anyone) -> Response:
    """The proof of the present sheet; made when there is none for it yet."""
    result, version, links = _proof(job_id)
    findings = result["findings"]
    causes = open_causes(result)
    with open_session() as session:
        ledger = with_ticks(session, job_id, result["ledger"])
        job = job_or_404(session, job_id)
        rule = header_of(job, session.get_one(DrawingSet, job.set_id)).get("final-check", "all")
        look, model = Station.model_validate(job.station).look, job.model_id
    looked = (look.by, look.at) if look is not None and (look.version, look.model) == (version, model) else None
    final = asdict(final_check(rule, result["summary"], causes, ledger, looked))
    answer = {
        **result,
        "ledger": ledger,
        "final": final,
        "findings": findings[:_FIRST_FINDINGS],
        "findings_more": max(0, len(findings) - _FIRST_FINDINGS),
        "open": causes,
        "version": version,
        "links": links,
    }
    return Response(json.dumps(answer, ensure_ascii=False).encode(), media_type="application/json")


@router.put("/jobs/{job_id}/look", operation_id="putLook", status_code=204)
def put_look(job_id: Id, body: LookRequest, user: Checker) -> None:
    """Say that one has looked at every page of the present version; it falls when the sheet changes."""
    with open_session() as session:
        job, _, head = _parts(session, job_id, body.version, lock=True)
        look = Look(version=head.id, model=job.model_id, by=user.name, at=f"{datetime.now(UTC):%Y-%m-%d %H:%M} UTC")
        job.station = {**job.station, "look": look.model_dump()}
        session.commit()


@router.get("/jobs/{job_id}/proof/findings", operation_id="listFindings")
def list_findings(
    job_id: Id,
    user: Anyone,
    start: Annotated[int, Query(ge=0, le=1_000_000)] = 0,
    count: Annotated[int, Query(ge=1, le=500)] = _FIRST_FINDINGS,
) -> Findings:
    """The findings of the proof of the present sheet, page by page."""
    found = _proof(job_id)[0]["findings"]
    return Findings(findings=found[start : start + count], total=len(found))


def _proof(job_id: int) -> tuple[dict[str, Any], int, dict[str, Any]]:
    """The proof of the present sheet, the sheet's version and the links made by hand."""
    with open_session() as session:
        job, model, head = _parts(session, job_id)
        key = {"sheet_id": head.id, "model_id": model.id, "source_version": job.source_version}
        links = dict(job.links)
        stored = session.scalar(select(Proof.result).filter_by(**key))
        if stored is not None:
            return stored, head.id, links
        arguments = {
            "model": model_arguments(model),
            "document": document_of(session, head.id),
            "links": links,
            "ticked": confirmed_places(session, job_id),
            **_given(session, job),
        }
    # Rivals of the places take longer: they are looked for in the background.
    result = kernels.run("prove", rivals=False, **arguments)
    with open_session() as session:
        row = insert(Proof).values(result=result, open=open_causes(result), **key)
        session.execute(row.on_conflict_do_nothing())
        session.commit()
        if not result["asked"]:
            _look_for_rivals(session, job_id)
    return result, key["sheet_id"], links


def _look_for_rivals(session: Session, job_id: int) -> None:
    """Start looking for other places that the lines could mean, unless somebody does already."""
    job = job_or_404(session, job_id, lock=True)
    busy = select(Task.id).where(Task.job_id == job_id, Task.kind == "rivals", Task.state.in_(("waiting", "running")))
    if session.scalar(busy.limit(1)) is None:
        start_task(session, job, "rivals", {})


@router.put("/jobs/{job_id}/links/{number}", operation_id="putLink", status_code=204)
def put_link(job_id: Id, number: str, body: LinkRequest, user: Drafter) -> None:
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
    "png": "image/png",
    "csv": "text/csv; charset=utf-8",
    "json": "application/json",
}


@router.get("/jobs/{job_id}/export/{kind}", operation_id="exportSheet", response_class=Response)
def export_sheet(
    job_id: Id,
    kind: str,
    user: Anyone,
    sheet: Annotated[int, Query(ge=1, le=99)] = 1,
    dpi: float = 200.0,
    look: bool = False,
) -> Response:
    """A file of the present sheet: pdf, svg, png (at `dpi` dots an inch), csv or json; named by number, revision and sheet.

    With `look` it is shown in the browser instead of being saved.
    """
    if kind not in _TYPES:
        raise HTTPException(404, "Files come as pdf, svg, png, csv or json.")
    with open_session() as session:
        job, model, head = _parts(session, job_id)
        document = document_of(session, head.id)
        stem = "-".join(t for t in (job.number, document["title"]["revision"]) if t)
        arguments = {"model": model_arguments(model), "document": document, **_given(session, job)}
    if kind in ("svg", "png"):
        stem = f"{stem}-sheet{sheet}"
    data = kernels.run("export", kind=kind, sheet=sheet, dpi=dpi, **arguments)
    return download(data, _TYPES[kind], stem, f".{kind}", look=look and kind in ("pdf", "png"))
