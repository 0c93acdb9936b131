"""Remarks on statements of a sheet: said by whoever checks it, settled by whoever draws."""

from typing import Any

from fastapi import APIRouter, HTTPException
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from canonis.core.sheet import read_document
from canonis.store.database import open_session
from canonis.store.tables import Job, Remark
from canonis.store.versions import document_of
from canonis.web.access import job_or_404
from canonis.web.guard import Anyone, Checker, GuardedRoute
from canonis.web.ids import GONE, Id
from canonis.web.models import RemarkCard, RemarkNew, RemarkPatch

__all__ = ["router"]

router = APIRouter(tags=["remarks"], route_class=GuardedRoute)
#: More than anybody settles.
_MOST = 2000


#: Annotations that draw and say nothing.
_MUTE = ("centre-mark", "centre-line", "symmetry-line", "flat-cross", "hole-table", "datum-mark")


def _statements(session: Session, job: Job) -> list[dict[str, Any]]:
    if job.sheet_head is None:
        return []
    return [a for a in document_of(session, job.sheet_head)["annotations"] if a.get("kind") not in _MUTE]


def _stands_at(remark: Remark, statements: list[dict[str, Any]]) -> str | None:
    """The statement that names what the remarked one named; ids are labels that a new draft may give anew."""
    same = [s["id"] for s in statements if list(s["refs"]) == list(remark.refs)]
    if remark.statement in same or not same:
        return remark.statement if same or not remark.refs else None
    return str(same[0])


def _list(session: Session, job: Job) -> list[RemarkCard]:
    statements = _statements(session, job)
    rows = session.scalars(select(Remark).where(Remark.job_id == job.id).order_by(Remark.id))
    return [
        RemarkCard(
            id=r.id,
            statement=_stands_at(r, statements),
            said=r.said,
            text=r.text,
            author=r.author,
            created=r.created,
            settled_by=r.settled_by,
        )
        for r in rows
    ]


@router.get("/jobs/{job_id}/remarks", operation_id="listRemarks")
def list_remarks(job_id: Id, user: Anyone) -> list[RemarkCard]:
    """The remarks on a job's sheet, the oldest first, each with the statement that it stands at now."""
    with open_session() as session:
        return _list(session, job_or_404(session, job_id))


@router.post("/jobs/{job_id}/remarks", operation_id="addRemark", status_code=201)
def add_remark(job_id: Id, body: RemarkNew, user: Checker) -> list[RemarkCard]:
    """Say something of a statement of the present sheet; the list with it."""
    with open_session() as session:
        job = job_or_404(session, job_id, lock=True)
        if not any(s["id"] == body.statement for s in _statements(session, job)) or job.sheet_head is None:
            raise HTTPException(404, "That statement is not on the sheet any more; look at it again.")
        if (session.scalar(select(func.count()).where(Remark.job_id == job_id)) or 0) >= _MOST:
            raise HTTPException(422, f"A job keeps at most {_MOST} remarks; settle and remove some first.")
        mark = read_document(document_of(session, job.sheet_head)).annotation(body.statement)
        session.add(
            Remark(
                job_id=job_id,
                statement=body.statement,
                refs=list(mark.refs),
                said=mark.text[:400],
                text=body.text.strip(),
                author=user.name,
            )
        )
        session.commit()
        return _list(session, job)


def _remark(session: Session, job_id: int, remark_id: int) -> Remark:
    found = session.get(Remark, remark_id, with_for_update=True)
    if found is None or found.job_id != job_id:
        raise HTTPException(404, GONE["remark_id"])
    return found


@router.patch("/jobs/{job_id}/remarks/{remark_id}", operation_id="settleRemark")
def settle_remark(job_id: Id, remark_id: Id, body: RemarkPatch, user: Checker) -> list[RemarkCard]:
    """Settle a remark, or open it again; the list after it."""
    with open_session() as session:
        job = job_or_404(session, job_id)
        _remark(session, job_id, remark_id).settled_by = user.name if body.settled else ""
        session.commit()
        return _list(session, job)


@router.delete("/jobs/{job_id}/remarks/{remark_id}", operation_id="removeRemark")
def remove_remark(job_id: Id, remark_id: Id, user: Checker) -> list[RemarkCard]:
    """Take back a remark of one's own; the list after it."""
    with open_session() as session:
        job = job_or_404(session, job_id)
        found = _remark(session, job_id, remark_id)
        if found.author != user.name:
            raise HTTPException(403, f"This is a remark of {found.author}'s; settle it instead.")
        session.delete(found)
        session.commit()
        return _list(session, job)
