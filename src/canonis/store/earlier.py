"""Sources of a job as they stood before a list was brought in or taken back."""

from sqlalchemy import delete, select
from sqlalchemy.orm import Session, undefer

from canonis.store.tables import EarlierSource, Job

__all__ = ["keep_earlier", "newest_earlier"]

#: Earlier sources kept of a job, the newest.
_MOST = 20


def keep_earlier(session: Session, job: Job, why: str, author: str) -> None:
    """Keep the present source of a job before another takes its place; the caller commits. One without a line or a block
    is not kept: there is nothing to go back to."""
    source = job.source
    if not any(source[block] for block in ("lines", "chains", "workings", "checkpoints")):
        return
    session.add(EarlierSource(job_id=job.id, source=source, why=why[:200], author=author))
    session.flush()
    old = select(EarlierSource.id).where(EarlierSource.job_id == job.id).order_by(EarlierSource.id.desc()).offset(_MOST)
    session.execute(delete(EarlierSource).where(EarlierSource.id.in_(old)))


def newest_earlier(session: Session, job: Job) -> EarlierSource | None:
    """The source before the last list that came, if there is one."""
    query = select(EarlierSource).where(EarlierSource.job_id == job.id).order_by(EarlierSource.id.desc()).limit(1)
    return session.scalar(query.options(undefer(EarlierSource.source)))
