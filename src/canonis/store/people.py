"""People: accounts, passwords, sessions."""

import hashlib
import secrets
from datetime import UTC, datetime, timedelta

from pwdlib import PasswordHash
from sqlalchemy import delete, select
from sqlalchemy.orm import Session as OrmSession

from canonis.core.faults import BadInput
from canonis.store.database import open_session
from canonis.store.tables import Session, User

__all__ = [
    "ROLES", "add_user", "change_user", "ensure_administrator", "list_users", "remove_user", "sign_in", "sign_out",
    "user_of",
]  # fmt: skip

ROLES = ("drafter", "checker", "viewer", "administrator")
_LASTS = timedelta(days=14)
_hasher = PasswordHash.recommended()
#: Checked when a name is unknown, so that both refusals take the same time.
_NOBODY = _hasher.hash(secrets.token_hex(8))


def _digest(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def add_user(name: str, password: str, role: str) -> bool:
    """Add an account; False when the name is taken."""
    with open_session() as session:
        if session.scalar(select(User).where(User.name == name)) is not None:
            return False
        session.add(User(name=name, role=role, password_hash=_hasher.hash(password)))
        session.commit()
        return True


def list_users() -> list[User]:
    """All accounts, by name."""
    with open_session() as session:
        return list(session.scalars(select(User).order_by(User.name)))


def _others_administrate(session: OrmSession, user: User) -> bool:
    query = select(User.id).where(User.role == "administrator", User.id != user.id).with_for_update()
    return session.scalar(query.limit(1)) is not None


def change_user(user_id: int, *, role: str | None = None, password: str | None = None) -> User:
    """Change a role or a password; a new password ends the account's sessions.

    Raises BadInput for an unknown account and for the last administrator's role.
    """
    with open_session() as session:
        user = session.get(User, user_id, with_for_update=True)
        if user is None:
            raise BadInput("That account is no longer there; reload the list.")
        if role is not None and role != user.role:
            if user.role == "administrator" and not _others_administrate(session, user):
                raise BadInput("This is the last administrator; make someone else one first.")
            user.role = role
        if password is not None:
            user.password_hash = _hasher.hash(password)
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


def sign_in(name: str, password: str) -> tuple[User, str] | None:
    """A new session for a right password, else None."""
    with open_session() as session:
        user = session.scalar(select(User).where(User.name == name.strip()))
        if not _hasher.verify(password, user.password_hash if user else _NOBODY) or user is None:
            return None
        token = secrets.token_urlsafe(32)
        session.execute(delete(Session).where(Session.expires < datetime.now(UTC)))
        session.add(Session(token_hash=_digest(token), user_id=user.id, expires=datetime.now(UTC) + _LASTS))
        session.commit()
        return user, token


def sign_out(token: str) -> None:
    """End a session."""
    with open_session() as session:
        session.execute(delete(Session).where(Session.token_hash == _digest(token)))
        session.commit()


def user_of(token: str) -> User | None:
    """Who a session token belongs to."""
    with open_session() as session:
        found = session.get(Session, _digest(token))
        if found is None or found.expires < datetime.now(UTC):
            return None
        return session.get(User, found.user_id)
