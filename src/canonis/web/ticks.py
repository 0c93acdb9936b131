"""Ticks: a person's word, line by line, that the source is proven where the program says."""

from typing import Any

from fastapi import APIRouter, HTTPException
from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from canonis.core.proof import TICKABLE, tick_falls, tick_of
from canonis.core.proof import Tick as Seen
from canonis.store.database import open_session
from canonis.store.tables import Job, Proof, Tick
from canonis.store.ticks import ticks_of
from canonis.web.access import job_or_404
from canonis.web.guard import Checker, GuardedRoute
from canonis.web.ids import Id
from canonis.web.models import TickRequest

__all__ = ["router", "tick_words", "with_ticks"]

router = APIRouter(tags=["ticks"], route_class=GuardedRoute)


def with_ticks(session: Session, job_id: int, ledger: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """The ledger with who ticked which line, and why a tick fell."""
    ticks = {t.number: t for t in ticks_of(session, job_id)}
    out = []
    for row in ledger:
        tick = ticks.get(str(row["number"])) if row["kind"] == "characteristic" else None
        if tick is None:
            out.append(row)
            continue
        fell = tick_falls(Seen(**tick.saw), row)
        told = {"by": tick.author, "at": tick.created.isoformat()}
        out.append({**row, "ticked": None if fell else told, "tick_fell": {**told, "why": fell} if fell else None})
    return out


def _proven(session: Session, job: Job) -> list[dict[str, Any]]:
    """The ledger of the newest proof of the present sheet and source."""
    found = session.scalar(
        select(Proof.result).where(
            Proof.sheet_id == job.sheet_head, Proof.model_id == job.model_id, Proof.source_version == job.source_version
        )
    )
    return [] if found is None else list(found["ledger"])


def tick_words(session: Session, job: Job) -> dict[str, str]:
    """Who ticked which line and when, as the printed list says it; only ticks that hold."""
    ledger = {r["number"]: r for r in _proven(session, job) if r["kind"] == "characteristic"}
    out = {}
    for t in ticks_of(session, job.id):
        row = ledger.get(t.number)
        if row is not None and not tick_falls(Seen(**t.saw), row):
            out[t.number] = f"{t.author}, {t.created:%Y-%m-%d}"
    return out


@router.put("/jobs/{job_id}/ticks/{number}", operation_id="putTick", status_code=204)
def put_tick(job_id: Id, number: str, body: TickRequest, user: Checker) -> None:
    """Say yes to a line as it stands in the present proof; `place` is where it was seen."""
    with open_session() as session:
        job = job_or_404(session, job_id, lock=True)
        row = next((r for r in _proven(session, job) if r["kind"] == "characteristic" and r["number"] == number), None)
        if row is None:
            raise HTTPException(409, f"#{number} is being proved again; look at it once more, then tick it.")
        if row.get("place", "") != body.place:
            raise HTTPException(409, f"#{number} stands elsewhere now; look at its place once more, then tick it.")
        if row["state"] not in TICKABLE:
            raise HTTPException(409, f"#{number} cannot be ticked: it is {row['state'].replace('-', ' ')}.")
        if row["state"] == "ambiguous":
            # Whoever says yes has chosen this place.
            job.links = {**job.links, number: row["place"]}
            job.source_version += 1
        values = {"saw": tick_of(row).as_json(), "author": user.name}
        made = insert(Tick).values(job_id=job_id, number=number, created=func.now(), **values)
        session.execute(
            made.on_conflict_do_update(index_elements=["job_id", "number"], set_={**values, "created": func.now()})
        )
        session.commit()


@router.delete("/jobs/{job_id}/ticks/{number}", operation_id="removeTick", status_code=204)
def remove_tick(job_id: Id, number: str, user: Checker) -> None:
    """Take a tick back."""
    with open_session() as session:
        job_or_404(session, job_id)
        found = session.get(Tick, (job_id, number), with_for_update=True)
        if found is not None:
            session.delete(found)
        session.commit()
