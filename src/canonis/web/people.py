"""People: signing in and out, one's own password and sessions, and the administrator's list of accounts."""

from typing import Annotated

from fastapi import APIRouter, Cookie, Depends, HTTPException, Request, Response
from starlette.concurrency import run_in_threadpool

from canonis.settings import settings
from canonis.store.people import WrongPassword, add_user, change_password, change_user, list_users, remove_user, verify
from canonis.store.sessions import LONGEST, close_session, end_others, open_for, sessions_of, who
from canonis.store.tables import User
from canonis.store.workspaces import list_workspaces, members_of_all
from canonis.web.doorkeeper import Doorkeeper
from canonis.web.guard import COOKIE, Administrator, Anyone, GuardedRoute, SignedIn, open_to_anyone, signed_in
from canonis.web.ids import Id
from canonis.web.people_models import Account, Me, Person, PersonNew, PersonPatch, SessionCard, SignIn, TwoPasswords

__all__ = ["demo_mode", "router"]

router = APIRouter(tags=["people"], route_class=GuardedRoute)
_doorkeeper = Doorkeeper()


def demo_mode() -> bool:
    """Whether the demo's accounts are offered."""
    return settings().demo


def _demo_accounts() -> list[Account]:
    if not demo_mode():
        return []
    from canonis.demo.load import ACCOUNTS

    return [Account(name=n, password=p, role=r) for n, p, r in ACCOUNTS]


@router.get("/session", operation_id="getSession")
@open_to_anyone
def get_session(canonis_session: Annotated[str | None, Cookie()] = None) -> Me:
    """Who is signed in. Open to anyone."""
    found = who(canonis_session) if canonis_session else None
    user = found[0] if found else None
    return Me(name=user.name if user else None, role=user.role if user else None, demo=_demo_accounts())


@router.post("/session", operation_id="signIn")
@open_to_anyone
async def post_session(body: SignIn, request: Request, response: Response) -> Me:
    """Sign in. Open to anyone."""
    address = request.client.host if request.client else ""
    async with _doorkeeper.turn(body.name, address):
        user = await run_in_threadpool(verify, body.name, body.password)
        if user is None:
            _doorkeeper.wrong(body.name, address)
            raise HTTPException(401, "Name and password do not go together; try again.")
        _doorkeeper.right(body.name, address)
    token = await run_in_threadpool(open_for, user, request.headers.get("user-agent", ""))
    response.set_cookie(
        COOKIE, token, httponly=True, samesite="strict", max_age=int(LONGEST.total_seconds()), secure=settings().https
    )
    return Me(name=user.name, role=user.role, demo=[])


@router.delete("/session", operation_id="signOut", status_code=204)
@open_to_anyone
def delete_session(response: Response, canonis_session: Annotated[str | None, Cookie()] = None) -> None:
    """Sign out. Open to anyone."""
    if canonis_session:
        close_session(canonis_session)
    response.delete_cookie(COOKIE)


@router.post("/session/password", operation_id="changeOwnPassword", status_code=204)
async def post_password(body: TwoPasswords, user: Anyone, asker: Annotated[SignedIn, Depends(signed_in)]) -> None:
    """Change one's own password; one's other sessions end."""
    # Whoever sits at somebody's browser guesses no faster than a stranger at the door, and locks nobody out by it.
    lane = f"session {asker.session}"
    async with _doorkeeper.turn(lane, ""):
        try:
            await run_in_threadpool(change_password, user.id, body.old, body.new, asker.session)
        except WrongPassword:
            _doorkeeper.wrong(lane, "")
            raise


@router.get("/sessions", operation_id="listSessions")
def get_sessions(user: Anyone, asker: Annotated[SignedIn, Depends(signed_in)]) -> list[SessionCard]:
    """One's own sessions, the last used first."""
    return [
        SessionCard(
            agent=s.agent, created=s.created, seen=s.seen, expires=s.expires, here=s.token_hash == asker.session
        )
        for s in sessions_of(user.id)
    ]


@router.delete("/sessions", operation_id="endOtherSessions")
def delete_sessions(user: Anyone, asker: Annotated[SignedIn, Depends(signed_in)]) -> list[SessionCard]:
    """End all of one's sessions but this one; the list after it."""
    end_others(user.id, asker.session)
    return get_sessions(user, asker)


def _person(user: User, workspaces: list[int]) -> Person:
    return Person(id=user.id, name=user.name, role=user.role, workspaces=workspaces)  # type: ignore[arg-type]


@router.get("/people", operation_id="listPeople")
def get_people(user: Administrator) -> list[Person]:
    """All accounts."""
    places = members_of_all()
    return [_person(u, places.get(u.id, [])) for u in list_users()]


@router.post("/people", operation_id="addPerson", status_code=201)
def post_person(body: PersonNew, user: Administrator) -> list[Person]:
    """A new account; the list with it."""
    places = [w.id for w in list_workspaces(user.id)] if body.workspaces is None else body.workspaces
    if not add_user(body.name.strip(), body.password, body.role, places):
        raise HTTPException(409, f"There is already an account named “{body.name.strip()}”; choose another name.")
    return get_people(user)


@router.patch("/people/{person_id}", operation_id="changePerson")
def patch_person(person_id: Id, body: PersonPatch, user: Administrator) -> list[Person]:
    """Another role or password, or other workspaces; the list after it."""
    change_user(person_id, role=body.role, password=body.password, workspaces=body.workspaces)
    return get_people(user)


@router.delete("/people/{person_id}", operation_id="removePerson")
def delete_person(person_id: Id, user: Administrator) -> list[Person]:
    """Remove an account; the list without it."""
    remove_user(person_id)
    return get_people(user)
