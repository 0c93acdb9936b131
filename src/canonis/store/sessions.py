"""Sessions: signed-in browsers. A session slides while it is used, up to a bound, and its token is kept hashed."""

import hashlib
import secrets
from datetime import UTC, datetime, timedelta

from sqlalchemy import delete, select

from canonis.core.plain import cleaned
from canonis.store.database import open_session
from canonis.store.tables import Session, User

__all__ = ["LONGEST", "close_session", "digest", "end_others", "open_for", "sessions_of", "who"]

#: A session that is not used for this long ends.
_IDLE = timedelta(days=14)
#: No session lasts longer, however much it is used.
LONGEST = timedelta(days=60)
#: Use is noted this often.
_NOTED = timedelta(minutes=10)


def digest(token: str) -> str:
    """The hash that a token is kept by."""
    return hashlib.sha256(token.encode("utf-8", "replace")).hexdigest()


def open_for(user: User, agent: str = "") -> str:
    """A new session of an account; its token."""
    token = secrets.token_urlsafe(32)
    now = datetime.now(UTC)
    with open_session() as session:
        session.execute(delete(Session).where(Session.expires < now))
        session.add(
            Session(
                token_hash=digest(token),
                user_id=user.id,
                created=now,
                seen=now,
                expires=now + _IDLE,
                agent=cleaned(agent, 160),
            )
        )
        session.commit()
    return token


def who(token: str) -> tuple[User, Session] | None:
    """Whom a token belongs to, and its session; use makes the session last."""
    now = datetime.now(UTC)
    with open_session() as session:
        found = session.get(Session, digest(token))
        if found is None or found.expires < now:
            return None
        user = session.get(User, found.user_id)
        if user is None:
            return None
        if now - found.seen > _NOTED:
            found.seen, found.expires = now, min(now + _IDLE, found.created + LONGEST)
            session.commit()
        return user, found


def close_session(token: str) -> None:
    """End a session."""
    with open_session() as session:
        session.execute(delete(Session).where(Session.token_hash == digest(token)))
        session.commit()


def sessions_of(user_id: int) -> list[Session]:
    """An account's sessions, the last used first."""
    with open_session() as session:
        query = select(Session).where(Session.user_id == user_id, Session.expires > datetime.now(UTC))
        return list(session.scalars(query.order_by(Session.seen.desc())))


def end_others(user_id: int, keep: str) -> None:
    """End all sessions of an account but the one of this hash."""
    with open_session() as session:
        session.execute(delete(Session).where(Session.user_id == user_id, Session.token_hash != keep))
        session.commit()
