"""People: signing in and out, and the administrator's list of accounts."""

import os
from typing import Annotated

from fastapi import APIRouter, Cookie, HTTPException, Response

from canonis.store.people import add_user, change_user, list_users, remove_user, sign_in, sign_out, user_of
from canonis.store.tables import User
from canonis.web.guard import COOKIE, Administrator
from canonis.web.models import Account, Me, Person, PersonNew, PersonPatch, SignIn

__all__ = ["router"]

router = APIRouter(tags=["people"])


def _demo_accounts() -> list[Account]:
    if not os.environ.get("CANONIS_DEMO"):
        return []
    from canonis.demo.load import ACCOUNTS

    return [Account(name=n, password=p, role=r) for n, p, r in ACCOUNTS]


@router.get("/session", operation_id="getSession")
def get_session(canonis_session: Annotated[str | None, Cookie()] = None) -> Me:
    """Who is signed in. Open to anyone."""
    user = user_of(canonis_session) if canonis_session else None
    return Me(name=user.name if user else None, role=user.role if user else None, demo=_demo_accounts())


@router.post("/session", operation_id="signIn")
def post_session(body: SignIn, response: Response) -> Me:
    """Sign in. Open to anyone."""
    found = sign_in(body.name, body.password)
    if found is None:
        raise HTTPException(401, "Name and password do not go together; try again.")
    user, token = found
    response.set_cookie(COOKIE, token, httponly=True, samesite="strict", max_age=14 * 86400,
                        secure=bool(os.environ.get("CANONIS_HTTPS")))  # fmt: skip
    return Me(name=user.name, role=user.role, demo=[])


@router.delete("/session", operation_id="signOut", status_code=204)
def delete_session(response: Response, canonis_session: Annotated[str | None, Cookie()] = None) -> None:
    """Sign out. Open to anyone."""
    if canonis_session:
        sign_out(canonis_session)
    response.delete_cookie(COOKIE)


def _person(user: User) -> Person:
    return Person(id=user.id, name=user.name, role=user.role)  # type: ignore[arg-type]


@router.get("/people", operation_id="listPeople")
def get_people(user: Administrator) -> list[Person]:
    """All accounts."""
    return [_person(u) for u in list_users()]


@router.post("/people", operation_id="addPerson", status_code=201)
def post_person(body: PersonNew, user: Administrator) -> list[Person]:
    """A new account; the list with it."""
    if not add_user(body.name.strip(), body.password, body.role):
        raise HTTPException(409, f"There is already an account named “{body.name.strip()}”; choose another name.")
    return get_people(user)


@router.patch("/people/{person_id}", operation_id="changePerson")
def patch_person(person_id: int, body: PersonPatch, user: Administrator) -> list[Person]:
    """Another role or password; the list after it."""
    change_user(_id(person_id), role=body.role, password=body.password)
    return get_people(user)


@router.delete("/people/{person_id}", operation_id="removePerson")
def delete_person(person_id: int, user: Administrator) -> list[Person]:
    """Remove an account; the list without it."""
    remove_user(_id(person_id))
    return get_people(user)


def _id(value: int) -> int:
    return value if 0 < value < 2**31 else 0
