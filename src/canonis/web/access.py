"""Finding the things a request names, with plain answers where they are not there."""

from fastapi import HTTPException
from sqlalchemy.orm import Session

from canonis.store.tables import Job, Print
from canonis.web.ids import GONE

__all__ = ["job_or_404", "print_or_404"]


def job_or_404(session: Session, job_id: int, *, lock: bool = False) -> Job:
    """The job, or a plain 404."""
    job = session.get(Job, job_id, with_for_update=True if lock else None)
    if job is None:
        raise HTTPException(404, GONE["job_id"])
    return job


def print_or_404(session: Session, job_id: int, print_id: int) -> Print:
    """A print of the job, or a plain 404."""
    found = session.get(Print, print_id)
    if found is None or found.job_id != job_id:
        raise HTTPException(404, GONE["print_id"])
    return found
