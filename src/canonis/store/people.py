"""People: their accounts and passwords. No connection is held while a password is hashed."""

import secrets
from collections.abc import Iterable
from functools import lru_cache

from pwdlib import PasswordHash
from sqlalchemy import delete, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session as OrmSession
from zxcvbn import zxcvbn

from canonis.core.faults import BadInput
from canonis.core.plain import look_of
from canonis.store.database import open_session
from canonis.store.tables import Session, User
from canonis.store.workspaces import first_workspace, put_members

__all__ = [
    "ROLES",
    "WrongPassword",
    "add_user",
    "change_password",
    "change_user",
    "ensure_administrator",
    "list_users",
    "remove_user",
    "verify",
]

ROLES = ("drafter", "checker", "viewer", "administrator")
_hasher = PasswordHash.recommended()
#: How hard a password must be to guess: below 10^8 tries (score 2 of 4) it falls to an unthrottled guesser at once.
_LEAST_SCORE = 2
#: The same without its gaps: what is then guessed in a thousand tries is one word said twice, or the name, spread out.
_LEAST_CLOSED = 1
#: Of a longer password this much is judged: the time that it takes grows with the square of the length.
_JUDGED = 64


class WrongPassword(BadInput):
    """The present password that somebody gave is not theirs."""


def check_password(password: str, name: str) -> None:
    """Refuse a password that is guessed at once: common ones, rows of keys, the name itself.

    Raises BadInput with what to do.
    """
    names = [name, look_of(name), "canonis"]
    known = [*names, *("".join(n.split()) for n in names)]
    # Gaps between repeated words, or around the name, make nothing harder to guess.
    for said, least in ((password[:_JUDGED], _LEAST_SCORE), ("".join(password.split())[:_JUDGED], _LEAST_CLOSED)):
        if not said or zxcvbn(said, user_inputs=known)["score"] < least:
            raise BadInput(
                "This password is guessed at once; take a longer one, such as three words that do not belong together."
            )


@lru_cache(maxsize=1)
def _nobody() -> str:
    """Checked when a name is unknown, so that both refusals take the same time."""
    return _hasher.hash(secrets.token_hex(8))


def add_user(name: str, password: str, role: str, workspaces: Iterable[int] | None = None) -> bool:
    """Add an account that works in these workspaces (else in the first one); False when the name is taken.

    Raises BadInput for a workspace that is not there, for a name that cannot be seen and for a password that is guessed at once.
    """
    look = look_of(name)
    if not look:
        raise BadInput("The name has no letter that can be seen; type another.")
    check_password(password, name)
    places = [first_workspace().id] if workspaces is None else list(workspaces)
    with open_session() as session:
        if session.scalar(select(User.id).where(User.look == look)) is not None:
            return False
    hashed = _hasher.hash(password)
    with open_session() as session:
        user = User(name=name, look=look, role=role, password_hash=hashed)
        session.add(user)
        try:
            session.flush()
        except IntegrityError:
            return False
        put_members(session, user.id, places)
        session.commit()
        return True


def list_users() -> list[User]:
    """All accounts, by name."""
    with open_session() as session:
        return list(session.scalars(select(User).order_by(User.name)))


def _others_administrate(session: OrmSession, user: User) -> bool:
    query = select(User.id).where(User.role == "administrator", User.id != user.id).with_for_update()
    return session.scalar(query.limit(1)) is not None


def change_user(
    user_id: int, *, role: str | None = None, password: str | None = None, workspaces: Iterable[int] | None = None
) -> User:
    """Change a role, a password or the workspaces; a new password ends the account's sessions.

    Raises BadInput for an unknown account or workspace, for the last administrator's role and for a password that is
    guessed at once.
    """
    if password is not None:
        with open_session() as session:
            known = session.get(User, user_id)
        check_password(password, "" if known is None else known.name)
    hashed = None if password is None else _hasher.hash(password)
    with open_session() as session:
        user = session.get(User, user_id, with_for_update=True)
        if user is None:
            raise BadInput("That account is no longer there; reload the list.")
        if role is not None and role != user.role:
            if user.role == "administrator" and not _others_administrate(session, user):
                raise BadInput("This is the last administrator; make someone else one first.")
            user.role = role
        if workspaces is not None:
            put_members(session, user.id, workspaces)
        if hashed is not None:
            user.password_hash = hashed
            session.execute(delete(Session).where(Session.user_id == user.id))
        session.commit()
        return user


def remove_user(user_id: int) -> None:
    """Remove an account and its sessions.

    Raises BadInput for an unknown account and for the last administrator.
    """
    with open_session() as session:
        user = session.get(User, user_id, with_for_update=True)
        if user is None:
            raise BadInput("That account is no longer there; reload the list.")
        if user.role == "administrator" and not _others_administrate(session, user):
            raise BadInput("This is the last administrator; make someone else one first.")
        session.delete(user)
        session.commit()


def ensure_administrator() -> str:
    """Make the first administrator on an empty installation; the password, or an empty string."""
    with open_session() as session:
        if session.scalar(select(User.id).limit(1)) is not None:
            return ""
    secret = secrets.token_urlsafe(12)
    add_user("administrator", secret, "administrator")
    return secret


def verify(name: str, password: str) -> User | None:
    """The account when name and password go together; an unknown name takes the same time."""
    with open_session() as session:
        user = session.scalar(select(User).where(User.look == look_of(name)))
    good = _hasher.verify(password, user.password_hash if user else _nobody())
    return user if good else None


def change_password(user_id: int, old: str, new: str, keep: str) -> None:
    """Let somebody change their own password; all their sessions but the one named `keep` (its hash) end.

    Raises WrongPassword when the old password is not theirs, BadInput when the new one is guessed at once.
    """
    with open_session() as session:
        user = session.get(User, user_id)
    if user is None or not _hasher.verify(old, user.password_hash):
        raise WrongPassword("That is not your present password; nothing was changed.")
    check_password(new, user.name)
    hashed = _hasher.hash(new)
    with open_session() as session:
        again = session.get(User, user_id, with_for_update=True)
        if again is None or again.password_hash != user.password_hash:
            raise BadInput("Your password was changed meanwhile; sign in again.")
        again.password_hash = hashed
        session.execute(delete(Session).where(Session.user_id == user_id, Session.token_hash != keep))
        session.commit()
