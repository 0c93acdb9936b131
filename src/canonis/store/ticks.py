"""Ticks of a job's lines, as they are stored."""

from sqlalchemy import select
from sqlalchemy.orm import Session

from canonis.store.tables import Tick

__all__ = ["confirmed_places", "ticks_of"]


def ticks_of(session: Session, job_id: int) -> list[Tick]:
    """Every tick of a job."""
    return list(session.scalars(select(Tick).where(Tick.job_id == job_id)))


def confirmed_places(session: Session, job_id: int) -> dict[str, str]:
    """The places that persons confirmed, by the number of the line."""
    return {t.number: str(t.saw["place"]) for t in ticks_of(session, job_id) if t.saw.get("place")}
