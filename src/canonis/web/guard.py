"""Who may use a route."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated

from fastapi import Cookie, Depends, HTTPException, Request

from canonis.store.sessions import who
from canonis.store.tables import User
from canonis.store.workspaces import may_enter

__all__ = ["COOKIE", "Administrator", "Anyone", "Checker", "Drafter", "SignedIn", "allow", "signed_in"]

COOKIE = "canonis_session"


@dataclass(frozen=True)
class SignedIn:
    """Somebody's browser: the account, the session's hash and when it ends."""

    user: User
    session: str
    expires: datetime


def signed_in(canonis_session: Annotated[str | None, Cookie()] = None) -> SignedIn:
    """Who asks, or a plain 401."""
    found = who(canonis_session) if canonis_session else None
    if found is None:
        raise HTTPException(401, "Sign in first.")
    user, session = found
    return SignedIn(user, session.token_hash, session.expires)


#: What a route's path names, by its parameter, and what is said of one that is not there.
_PLACES = {
    "job_id": ("job", "There is no such job; go back to the list."),
    "set_id": ("drawing_set", "There is no such drawing set; reload the list."),
    "task_id": ("task", "There is no such task."),
}


def _keep_apart(request: Request, user: User) -> None:
    """404 for what is in a workspace that somebody does not work in: it is not told that it is there."""
    for parameter, (what, gone) in _PLACES.items():
        given = request.path_params.get(parameter, "")
        if given.isdecimal() and not (int(given) < 2**31 and may_enter(user.id, **{what: int(given)})):
            raise HTTPException(404, gone)


def allow(*roles: str) -> Callable[..., User]:
    """A dependency that lets in these roles only, and each only to what is in their workspaces."""
    whom = {"administrator": "an administrator", "checker": "a checker"}.get(roles[0], "a drafter")

    def check(request: Request, asker: Annotated[SignedIn, Depends(signed_in)]) -> User:
        if asker.user.role not in roles:
            raise HTTPException(403, f"A {asker.user.role} may not do this; ask {whom}.")
        _keep_apart(request, asker.user)
        return asker.user

    return check


#: Anyone who is signed in.
Anyone = Annotated[User, Depends(allow("drafter", "checker", "viewer", "administrator"))]
#: Those who may say something of a sheet.
Checker = Annotated[User, Depends(allow("checker", "drafter", "administrator"))]
#: Those who may change sources, models and sheets.
Drafter = Annotated[User, Depends(allow("drafter", "administrator"))]
#: Those who keep the accounts, the workspaces and their house rules.
Administrator = Annotated[User, Depends(allow("administrator"))]
