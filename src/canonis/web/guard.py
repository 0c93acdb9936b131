"""Who may use a route."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated

from fastapi import Cookie, Depends, HTTPException

from canonis.store.sessions import who
from canonis.store.tables import User

__all__ = ["COOKIE", "Administrator", "Anyone", "Drafter", "SignedIn", "allow", "signed_in"]

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


def allow(*roles: str) -> Callable[..., User]:
    """A dependency that lets in these roles only."""

    def check(asker: Annotated[SignedIn, Depends(signed_in)]) -> User:
        if asker.user.role not in roles:
            whom = "an administrator" if roles == ("administrator",) else "a drafter"
            raise HTTPException(403, f"A {asker.user.role} may not do this; ask {whom}.")
        return asker.user

    return check


#: Anyone who is signed in.
Anyone = Annotated[User, Depends(allow("drafter", "checker", "viewer", "administrator"))]
#: Those who may change sources, models and sheets.
Drafter = Annotated[User, Depends(allow("drafter", "administrator"))]
#: Those who keep the accounts.
Administrator = Annotated[User, Depends(allow("administrator"))]
