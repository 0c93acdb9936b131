"""Drawing sets: what their jobs share."""

from fastapi import APIRouter, HTTPException
from sqlalchemy import select, update
from sqlalchemy.exc import IntegrityError

from canonis.core.quantity.units import Unit
from canonis.core.source.rules import GeneralTolerance
from canonis.store.database import open_session
from canonis.store.tables import DrawingSet, Job
from canonis.web.guard import Anyone, Drafter
from canonis.web.models import SetCard, SetIn

__all__ = ["first_set", "router"]

router = APIRouter(tags=["sets"])


def _card(shared: DrawingSet) -> SetCard:
    known = {k: v for k, v in shared.shared.items() if k in SetIn.model_fields}
    return SetCard(id=shared.id, name=shared.name, **known)


def _values(body: SetIn) -> dict[str, str]:
    """The shared fields, refused in one sentence where a tolerance block cannot be read."""
    GeneralTolerance.read(body.general_mm, Unit.MM)
    GeneralTolerance.read(body.general_inch, Unit.INCH)
    return {k: v.strip() for k, v in body.model_dump(exclude={"name"}).items()}


def first_set() -> DrawingSet:
    """The set a job goes to when none is named; made when there is none."""
    with open_session() as session:
        shared = session.scalar(select(DrawingSet).order_by(DrawingSet.id).limit(1))
        if shared is None:
            shared = DrawingSet(name="First set", shared=_values(SetIn(name="First set")))
            session.add(shared)
            session.commit()
        return shared


@router.get("/sets", operation_id="listSets")
def list_sets(user: Anyone) -> list[SetCard]:
    """All drawing sets, by name."""
    first_set()
    with open_session() as session:
        return [_card(s) for s in session.scalars(select(DrawingSet).order_by(DrawingSet.name))]


@router.post("/sets", operation_id="createSet", status_code=201)
def create_set(body: SetIn, user: Drafter) -> SetCard:
    """A new drawing set."""
    with open_session() as session:
        shared = DrawingSet(name=body.name.strip(), shared=_values(body))
        session.add(shared)
        try:
            session.commit()
        except IntegrityError:
            raise HTTPException(409, f"There is already a set named “{body.name.strip()}”; choose another.") from None
        return _card(shared)


@router.put("/sets/{set_id}", operation_id="changeSet")
def change_set(set_id: int, body: SetIn, user: Drafter) -> SetCard:
    """Change what a set shares; its jobs are read and proved anew with it."""
    with open_session() as session:
        shared = session.get(DrawingSet, set_id, with_for_update=True) if 0 < set_id < 2**31 else None
        if shared is None:
            raise HTTPException(404, "There is no such drawing set; reload the list.")
        shared.name, shared.shared = body.name.strip(), {**shared.shared, **_values(body)}
        try:
            session.execute(update(Job).where(Job.set_id == set_id).values(source_version=Job.source_version + 1))
            session.commit()
        except IntegrityError:
            raise HTTPException(409, f"There is already a set named “{body.name.strip()}”; choose another.") from None
        return _card(shared)
