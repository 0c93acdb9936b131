"""Drawing sets: what their jobs share."""

from fastapi import APIRouter, HTTPException
from sqlalchemy import select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.exc import IntegrityError

from canonis.core.callout import GeneralTolerance
from canonis.core.quantity import Unit
from canonis.store.database import open_session
from canonis.store.tables import DrawingSet, Job, User
from canonis.store.workspaces import list_workspaces, theirs
from canonis.web.guard import Anyone, Drafter, GuardedRoute
from canonis.web.ids import GONE, Id
from canonis.web.models import SetCard, SetIn, SetNew

__all__ = ["first_set", "loose_set", "router"]

router = APIRouter(tags=["sets"], route_class=GuardedRoute)


def _card(shared: DrawingSet) -> SetCard:
    known = {k: v for k, v in shared.shared.items() if k in SetIn.model_fields}
    return SetCard(
        id=shared.id, name=shared.name, workspace_id=shared.workspace_id, workspace=shared.workspace.name, **known
    )


def _values(body: SetIn) -> dict[str, str]:
    """The shared fields, refused in one sentence where a tolerance block cannot be read."""
    GeneralTolerance.read(body.general_mm, Unit.MM)
    GeneralTolerance.read(body.general_inch, Unit.INCH)
    return {k: v.strip() for k, v in body.model_dump(exclude={"name", "workspace_id"}).items()}


def first_set(user: User) -> DrawingSet:
    """The set a job goes to when none is named: the first of one's workspaces'; made when there is none.

    Raises HTTPException for those who work in no workspace.
    """
    with open_session() as session:
        mine = theirs(user.id)
        shared = session.scalar(
            select(DrawingSet).where(DrawingSet.workspace_id.in_(mine)).order_by(DrawingSet.id).limit(1)
        )
        if shared is None:
            shared = DrawingSet(
                name="First set", shared=_values(SetIn(name="First set")), workspace_id=_workspace(user, None)
            )
            session.add(shared)
            session.commit()
        return shared


#: Where parts go that nobody put into a set: its notes, tolerances and owner say nothing that somebody else chose.
_LOOSE = "Loose parts"


def loose_set(user: User) -> int:
    """The set of parts without one in the first of somebody's workspaces, made when there is none; its id.

    Raises HTTPException for those who work in no workspace.
    """
    place = _workspace(user, None)
    with open_session() as session:
        named = select(DrawingSet.id).where(DrawingSet.workspace_id == place, DrawingSet.name == _LOOSE)
        found = session.scalar(named)
        if found is None:
            made = insert(DrawingSet).values(name=_LOOSE, workspace_id=place, shared=_values(SetIn(name=_LOOSE)))
            session.execute(made.on_conflict_do_nothing())
            session.commit()
            found = session.scalar(named)
        return int(found or 0)


def _workspace(user: User, wanted: int | None) -> int:
    """The workspace a set goes to, among those one works in."""
    mine = [w.id for w in list_workspaces(user.id)]
    if not mine:
        raise HTTPException(403, "You work in no workspace yet; ask an administrator.")
    if wanted is not None and wanted not in mine:
        raise HTTPException(404, "There is no such workspace; reload the list.")
    return mine[0] if wanted is None else wanted


@router.get("/sets", operation_id="listSets")
def list_sets(user: Anyone) -> list[SetCard]:
    """The drawing sets of one's workspaces, by name."""
    with open_session() as session:
        query = select(DrawingSet).where(DrawingSet.workspace_id.in_(theirs(user.id)))
        return [_card(s) for s in session.scalars(query.order_by(DrawingSet.name))]


@router.post("/sets", operation_id="createSet", status_code=201)
def create_set(body: SetNew, user: Drafter) -> SetCard:
    """A new drawing set."""
    place = _workspace(user, body.workspace_id)
    with open_session() as session:
        shared = DrawingSet(name=body.name.strip(), shared=_values(body), workspace_id=place)
        session.add(shared)
        try:
            session.commit()
        except IntegrityError:
            raise HTTPException(409, f"There is already a set named “{body.name.strip()}”; choose another.") from None
        return _card(shared)


@router.put("/sets/{set_id}", operation_id="changeSet")
def change_set(set_id: Id, body: SetIn, user: Drafter) -> SetCard:
    """Change what a set shares; its jobs are read and proved anew with it."""
    with open_session() as session:
        shared = session.get(DrawingSet, set_id, with_for_update=True)
        if shared is None:
            raise HTTPException(404, GONE["set_id"])
        shared.name, shared.shared = body.name.strip(), {**shared.shared, **_values(body)}
        try:
            session.execute(update(Job).where(Job.set_id == set_id).values(source_version=Job.source_version + 1))
            session.commit()
        except IntegrityError:
            raise HTTPException(409, f"There is already a set named “{body.name.strip()}”; choose another.") from None
        return _card(shared)
