"""Who may use a route."""

from collections.abc import Callable
from typing import Annotated

from fastapi import Cookie, Depends, HTTPException

from canonis.store.people import user_of
from canonis.store.tables import User

__all__ = ["COOKIE", "Administrator", "Anyone", "Drafter", "allow"]

COOKIE = "canonis_session"


def _user(canonis_session: Annotated[str | None, Cookie()] = None) -> User:
    user = user_of(canonis_session) if canonis_session else None
    if user is None:
        raise HTTPException(401, "Sign in first.")
    return user


def allow(*roles: str) -> Callable[..., User]:
    """A dependency that lets in these roles only."""

    def check(user: Annotated[User, Depends(_user)]) -> User:
        if user.role not in roles:
            whom = "an administrator" if roles == ("administrator",) else "a drafter"
            raise HTTPException(403, f"A {user.role} may not do this; ask {whom}.")
        return user

    return check


#: Anyone who is signed in.
Anyone = Annotated[User, Depends(allow("drafter", "checker", "viewer", "administrator"))]
#: Those who may change sources, models and sheets.
Drafter = Annotated[User, Depends(allow("drafter", "administrator"))]
#: Those who keep the accounts.
Administrator = Annotated[User, Depends(allow("administrator"))]
