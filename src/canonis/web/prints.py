"""Prints of the source: PDF and picture sheets with numbered flags."""

from fastapi import APIRouter, HTTPException, Request, Response
from sqlalchemy import func, select
from sqlalchemy.orm import Session
from starlette.concurrency import run_in_threadpool

from canonis.settings import settings
from canonis.store.database import open_session
from canonis.store.tables import Blob, Job, Print
from canonis.web import kernels
from canonis.web.access import job_or_404, print_or_404
from canonis.web.downloads import download
from canonis.web.guard import Anyone, Drafter, GuardedRoute
from canonis.web.ids import Id
from canonis.web.models import PrintCard, PrintPatch
from canonis.web.source import print_card
from canonis.web.uploads import FILE_BODY, Taken, take_file
from canonis.work.study_tasks import put_blob

__all__ = ["router"]

router = APIRouter(tags=["source"], route_class=GuardedRoute)
_TYPES = {"pdf": "application/pdf", "png": "image/png", "jpeg": "image/jpeg"}
_MOST_PRINTS = 40


def _limit() -> int:
    return settings().max_print_mb * 1048576


@router.post("/jobs/{job_id}/prints", operation_id="uploadPrint", status_code=201, openapi_extra=FILE_BODY)
async def upload_print(job_id: Id, request: Request, user: Drafter) -> PrintCard:
    """Take a print; it is opened under limits first, and stored only when it can be shown."""
    taken = await take_file(request, _limit(), "print")
    return await run_in_threadpool(_take, job_id, taken)


def _room(session: Session, job: Job) -> None:
    count = session.scalar(select(func.count()).select_from(Print).where(Print.job_id == job.id)) or 0
    if count >= _MOST_PRINTS:
        raise HTTPException(422, f"A job keeps at most {_MOST_PRINTS} prints; remove one first.")


def _take(job_id: int, taken: Taken) -> PrintCard:
    with open_session() as session:
        _room(session, job_or_404(session, job_id))
    known = kernels.run("inspect_print", data=taken.data, name=taken.name, limit=_limit())
    with open_session() as session:
        job = job_or_404(session, job_id, lock=True)
        _room(session, job)
        made = Print(
            job_id=job.id,
            sha256=put_blob(session, taken.data),
            name=taken.name,
            kind=known["kind"],
            pages=[{**p, "turn": 0, "mm_per_width": None} for p in known["pages"]],
        )
        session.add(made)
        job.source_version += 1
        session.commit()
        return print_card(made)


@router.get("/jobs/{job_id}/prints/{print_id}/file", operation_id="getPrintFile", response_class=Response)
def get_print_file(job_id: Id, print_id: Id, user: Anyone) -> Response:
    """The print as it came."""
    with open_session() as session:
        found = print_or_404(session, job_id, print_id)
        blob = session.get_one(Blob, found.sha256)
        return Response(
            blob.data,
            media_type=_TYPES[found.kind],
            headers={
                "Cache-Control": "private, max-age=86400, immutable",
                "X-Content-Type-Options": "nosniff",
                "Content-Security-Policy": "sandbox; default-src 'none'; style-src 'unsafe-inline'; img-src 'self'",
            },
        )


@router.patch("/jobs/{job_id}/prints/{print_id}", operation_id="changePrint")
def change_print(job_id: Id, print_id: Id, body: PrintPatch, user: Drafter) -> PrintCard:
    """Turn a page or calibrate it."""
    with open_session() as session:
        job = job_or_404(session, job_id, lock=True)
        found = print_or_404(session, job_id, print_id)
        if body.page > len(found.pages):
            raise HTTPException(422, f"The print has {len(found.pages)} pages; there is no page {body.page}.")
        pages = [dict(p) for p in found.pages]
        page = pages[body.page - 1]
        if body.turn is not None:
            page["turn"] = body.turn
        if body.mm_per_width is not None:
            page["mm_per_width"] = body.mm_per_width
        found.pages = pages
        job.source_version += 1
        session.commit()
        return print_card(found)


@router.delete("/jobs/{job_id}/prints/{print_id}", operation_id="removePrint", status_code=204)
def remove_print(job_id: Id, print_id: Id, user: Drafter) -> None:
    """Remove a print; its lines stay, without their flags on it."""
    with open_session() as session:
        job = job_or_404(session, job_id, lock=True)
        session.delete(print_or_404(session, job_id, print_id))
        lines = [
            {**line, "flag": None, "rev": line["rev"] + 1} if (line["flag"] or {}).get("print_id") == print_id else line
            for line in job.source["lines"]
        ]
        job.source = {**job.source, "lines": lines}
        job.source_version += 1
        session.commit()


def _flags(job: Job, print_id: int) -> list[dict[str, object]]:
    return [
        {"number": line["number"], **line["flag"]}
        for line in job.source["lines"]
        if (line["flag"] or {}).get("print_id") == print_id
    ]


@router.get("/jobs/{job_id}/prints/{print_id}/flagged", operation_id="exportFlagged", response_class=Response)
def export_flagged(job_id: Id, print_id: Id, user: Anyone) -> Response:
    """The print with its numbered flags, and the list of them, as PDF."""
    with open_session() as session:
        job = job_or_404(session, job_id)
        found = print_or_404(session, job_id, print_id)
        data = session.get_one(Blob, found.sha256).data
        kind, pages, flags = found.kind, list(found.pages), _flags(job, print_id)
        number = job.number
    made = kernels.run("flag_print", data=data, kind=kind, pages=pages, flags=flags)
    return download(made, "application/pdf", f"{number}-flagged", ".pdf")
